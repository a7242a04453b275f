"""Cuts that go to other programs and come back: exact to the frame at every rate, or refused with what and where."""

import json
from fractions import Fraction

import opentimelineio as otio
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nimble_quote.core.assembly import assemble
from nimble_quote.core.assembly.runs import lay_out
from nimble_quote.core.cutting.playing import played, played_in
from nimble_quote.core.document import Fast
from nimble_quote.core.edits import PlayFast, StrikeWords, apply_edit, new_quote
from nimble_quote.core.exchange import Event, NotACut, Stretch, events_of, quotes_of
from nimble_quote.core.timebase import STANDARD_RATES, Span
from nimble_quote.formats.timelines import Cut, ReadCut, TimelineUnreadable
from nimble_quote.formats.timelines.edl import read_edl, write_edl
from nimble_quote.formats.timelines.otio import read_otio, write_otio
from nimble_quote.formats.timelines.timecode import drops, frame_of, timecode
from tests.shipped import DESTINATIONS
from tests.talks import HD, context_of, talk_of

HOUR_MS = 3 * 3_600_000
GAPS = st.lists(st.tuples(st.integers(40, 400_000), st.integers(200, 20_000)), min_size=1, max_size=40)


def events(kept: list[Span], rate: Fraction, fast: tuple[Fast, ...] = ()) -> list[Event]:
    return [
        Event(
            source_first=one.source_frame, source_end=one.source_frame + max(1, round(one.frames * one.step)),
            first=one.first_frame, frames=one.frames, step=one.step,
        )
        for one in lay_out(played(kept, fast), rate)
    ]  # fmt: skip


def cut_of(made: list[Event], rate: Fraction, media: str = "my talk (1).mp4") -> Cut:
    return Cut(
        title="Keep it",
        media=media,
        rate=rate,
        media_frames=int(HOUR_MS * rate / 1000),
        events=made,
        picture=True,
        sound=True,
    )


def there_and_back(cut: Cut, kind: str) -> ReadCut:
    return read_otio(write_otio(cut)) if kind == "otio" else read_edl(write_edl(cut), cut.rate)


@settings(max_examples=60, deadline=None)
@given(GAPS, st.sampled_from(STANDARD_RATES), st.sampled_from(["otio", "edl"]))
def test_a_cut_comes_back_exact_to_the_frame_at_every_rate(gaps: list[tuple[int, int]], rate: Fraction, kind: str):
    kept, at = [], 0
    for gap, length in gaps:
        kept.append(Span(start_ms=at + gap, end_ms=at + gap + length))
        at += gap + length
    made = events(kept, rate)
    read = there_and_back(cut_of(made, rate), kind)
    assert {one.media for one in read.stretches} == {"my talk (1).mp4"}
    assert [(one.first, one.end) for one in read.stretches] == [(one.source_first, one.source_end) for one in made]
    (document,) = quotes_of(read.title, read.stretches, at + 10_000, "tall-60")
    again = lay_out(played_in(document), rate)
    assert [(one.source_frame, one.frames, one.first_frame) for one in again] == [
        (one.source_first, one.frames, one.first) for one in made
    ]


@pytest.mark.parametrize("kind", ["otio", "edl"])
@pytest.mark.parametrize("rate", STANDARD_RATES)
def test_a_fast_stretch_comes_back_as_one(kind: str, rate: Fraction):
    fast = (Fast(span=Span(start_ms=2000, end_ms=4000), times=2.0),)
    made = events([Span(start_ms=1000, end_ms=5000)], rate, fast)
    read = there_and_back(cut_of(made, rate), kind)
    (document,) = quotes_of(read.title, read.stretches, 10_000, "tall-60")
    (again,) = document.fast
    assert again.times == 2
    assert abs(again.span.start_ms - 2000) <= 1000 / rate
    assert abs(again.span.end_ms - 4000) <= 2 * 1000 / rate


def test_a_timeline_tells_the_media_the_captions_and_the_framing():
    talk = talk_of("So people ask me | you know | there is no secret.")
    context = context_of(talk)
    document = apply_edit(new_quote(context, 0, 9), StrikeWords(first=4, last=5), context)
    document = apply_edit(
        document, PlayFast(span=Span(start_ms=talk.word(3).end_ms, end_ms=talk.word(3).end_ms + 400), times=4), context
    )
    assembly = assemble(document, context, HD, DESTINATIONS["tall-60"])
    cues = assembly.cue_tracks[0].cues
    cut = Cut(
        title="No secret", media="talk.mp4", rate=assembly.rate, media_frames=1000, events=events_of(assembly), picture=True,
        sound=True, cues=cues, runs=assembly.cut_picture, size=(1080, 1920),
    )  # fmt: skip
    timeline = otio.adapters.read_from_string(write_otio(cut), "otio_json")
    assert [track.kind for track in timeline.tracks] == ["Video", "Audio"]
    assert [marker.name for marker in timeline.tracks.markers] == [cue.text for cue in cues]
    picture = timeline.tracks[0]
    assert [effect.time_scalar for clip in picture for effect in clip.effects] == [4.0]
    framing = [one for clip in picture for one in clip.metadata["nimble_quote"]["framing"]]
    assert framing
    assert all(
        0 <= key["x"] <= 1 and panel["box"][2] > 0
        for one in framing
        for panel in one["panels"]
        for key in panel["keys"]
    )
    assert picture[0].media_reference.available_range.duration.value == 1000


def test_a_cut_that_steps_back_is_several_quotes_and_one_of_another_recording_none():
    rate = Fraction(25)
    some = [Stretch(media="a", first=a, end=b, rate=rate) for a, b in ((100, 200), (300, 400), (50, 90))]
    first, second = quotes_of("Both", some, 60_000, "tall-60")
    assert (first.title, first.span, len(first.struck)) == ("Both 1", Span(start_ms=4000, end_ms=16_000), 1)
    assert second.span == Span(start_ms=2000, end_ms=3600)
    with pytest.raises(NotACut, match="reaches beyond the end"):
        quotes_of("Both", some, 10_000, "tall-60")
    with pytest.raises(NotACut, match="nothing of this recording"):
        quotes_of("None", [], 10_000, "tall-60")


@given(st.integers(0, 24 * 3600 * 60 - 1), st.sampled_from(STANDARD_RATES), st.booleans())
def test_timecode_names_each_frame_once(frame: int, rate: Fraction, drop: bool):
    frame = min(frame, int(23 * 3600 * rate))
    assert frame_of(timecode(frame, rate, drop=drop), rate, drop=drop) == frame
    if drops(rate) and drop:
        assert timecode(frame, rate, drop=True) == otio.opentime.to_timecode(
            otio.opentime.RationalTime(frame, float(rate)), float(rate), True
        )


def test_drop_frame_keeps_with_the_clock():
    assert timecode(1800, Fraction(30000, 1001), drop=True) == "00:01:00;02"
    assert timecode(107_892, Fraction(30000, 1001), drop=True) == "01:00:00;00"
    assert timecode(1800, Fraction(30000, 1001), drop=False) == "00:01:00:00"


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "has no event"),
        ("hello", "has no event"),
        ("001  AX V C 00:00:00:00 00:00:99:00 00:00:00:00 00:00:01:00", "Line 1: “00:00:99:00” is no timecode"),
        ("001  AX V C 00:00:02:00 00:00:01:00 00:00:00:00 00:00:01:00", "Line 1 ends before it begins"),
        ("001  AX V C rubbish", "Line 1 is no event"),
        ("001  AX V C 00:00:00:00 00:00:01:00 00:00:00:00 00:00:01:00\nM2 AX -025.0 00:00:00:00", "plays backwards"),
    ],
)
def test_lists_that_can_not_be_read_say_which_line(text: str, says: str):
    with pytest.raises(TimelineUnreadable, match=says.replace("(", r"\(")):
        read_edl(text, Fraction(25))


def test_lists_of_others_are_read_with_what_is_left_out_told():
    text = (
        "TITLE: Sunday\nFCM: NON-DROP FRAME\n\n001  TAPE1    V     C        00:00:10:00 00:00:12:00 01:00:00:00 01:00:02:00\n"
        "* FROM CLIP NAME: talk.mp4\n001  TAPE1    A     C        00:00:10:00 00:00:12:00 01:00:00:00 01:00:02:00\n* FROM CLIP NAME: talk.mp4\n"
        "002  TAPE1    V     D    012 00:00:20:00 00:00:21:00 01:00:02:00 01:00:03:00\n* FROM CLIP NAME: talk.mp4\n* COMMENT: none\n"
    )
    read = read_edl(text, Fraction(25))
    assert [(one.media, one.first, one.end) for one in read.stretches] == [
        ("talk.mp4", 250, 300),
        ("talk.mp4", 500, 525),
    ]
    assert (read.title, read.left_out) == ("Sunday", ("line 8: a transition, taken as a cut",))


@pytest.mark.parametrize(
    "text", ["", "{", "[]", "{}", '{"OTIO_SCHEMA": "Clip.1", "name": "x"}', '{"OTIO_SCHEMA": "Nothing.1"}', "[" * 5000]
)
def test_files_that_are_no_timeline_are_refused(text: str):
    with pytest.raises(TimelineUnreadable):
        read_otio(text)


def test_hostile_timelines_are_refused_with_a_reason():
    good = json.loads(write_otio(cut_of(events([Span(start_ms=1000, end_ms=3000)], Fraction(25)), Fraction(25))))

    def changed(**range_: float) -> str:
        told = json.loads(json.dumps(good))
        clip = told["tracks"]["children"][0]["children"][0]
        clip["source_range"]["start_time"]["value"] = range_.get("start", 25.0)
        clip["source_range"]["start_time"]["rate"] = range_.get("rate", 25.0)
        clip["source_range"]["duration"]["value"] = range_.get("length", 50.0)
        return json.dumps(told)

    for wrong in (changed(start=-5), changed(length=0), changed(start=1e18), changed(rate=0)):
        with pytest.raises(TimelineUnreadable):
            read_otio(wrong)
    still = json.loads(json.dumps(good))
    still["tracks"]["children"][0]["children"][0]["effects"] = [
        {"OTIO_SCHEMA": "LinearTimeWarp.1", "time_scalar": 0.0, "name": "", "effect_name": "", "metadata": {}}
    ]
    with pytest.raises(TimelineUnreadable, match="stands still"):
        read_otio(json.dumps(still))


def test_a_dissolve_is_two_events_of_which_one_shows_nothing():
    read = read_edl(
        "TITLE: Lamps\nFCM: NON-DROP FRAME\n"
        "001  A V C 01:00:04:05 01:00:04:14 01:00:00:00 01:00:00:09\n* FROM CLIP NAME: One\n"
        "002  A V C 01:00:04:14 01:00:04:14 01:00:00:09 01:00:00:09\n"
        "002  B V D 010 01:00:08:08 01:00:08:18 01:00:00:09 01:00:00:19\n* FROM CLIP NAME: One\n* TO CLIP NAME: Two\n",
        Fraction(24),
    )
    assert [(one.media, one.end - one.first) for one in read.stretches] == [("One", 9), ("Two", 10)]
    assert read.left_out == ("line 6: a transition, taken as a cut",)
    with pytest.raises(TimelineUnreadable, match="shows anything"):
        read_edl("001  A V C 01:00:04:14 01:00:04:14 01:00:00:09 01:00:00:09", Fraction(24))


def test_a_stretch_that_comes_twice_in_the_cut_is_two():
    event = "00{0}  A V C 00:00:04:00 00:00:05:00 00:00:0{1}:00 00:00:0{2}:00\n"
    read = read_edl(event.format(1, 0, 1) + event.format(2, 1, 2), Fraction(25))
    assert [(one.first, one.end) for one in read.stretches] == [(100, 125), (100, 125)]
    # Picture and sound of one place of the cut are one.
    both = event.format(1, 0, 1) + event.format(2, 0, 1).replace(" V ", " A ")
    assert len(read_edl(both, Fraction(25)).stretches) == 1
