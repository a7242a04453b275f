from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.assembly import Assembly, assemble, cut_ms, frames_of
from nimble_quote.core.assembly.runs import lay_out
from nimble_quote.core.cutting.playing import played
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.edits import AddVersion, PlaceCaptions, ShowCaptions, StrikeWords, apply_edit, new_quote
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span, total_ms
from tests.shipped import DESTINATIONS
from tests.strategies import spans
from tests.talks import HD, context_of, talk_of

TALL = DESTINATIONS["story-15"]


def quote(text: str = "So people ask me, | you know, | there is no secret.") -> tuple[QuoteDocument, Talk]:
    talk = talk_of(text)
    return new_quote(context_of(talk), 0, len(talk.words) - 1), talk


def test_the_picture_lies_end_to_end_on_the_frame_grid_under_its_sound():
    segments = lay_out(played((Span(start_ms=1000, end_ms=2010), Span(start_ms=3030, end_ms=3050))), Fraction(25))
    # 1030 ms make 25 whole frames; the second span would begin at 1010 ms, nearest to the end of them.
    assert [(s.source_frame, s.frames, s.first_frame) for s in segments] == [(25, 25, 0)]


@given(st.lists(spans(), min_size=1, max_size=12), st.sampled_from([Fraction(25), Fraction(30000, 1001), Fraction(60)]))
def test_picture_and_sound_are_never_more_than_half_a_frame_apart(some: list[Span], rate: Fraction):
    frame_ms = float(1000 / rate)
    starts = [total_ms(some[:place]) for place in range(len(some))]
    for segment in lay_out(played(some), rate):
        for frame in (segment.first_frame, segment.first_frame + segment.frames - 1):
            # What is heard in the middle of the frame is what it shows, but where it has a join inside.
            middle = (frame + 0.5) * frame_ms
            place = max((i for i, start in enumerate(starts) if start <= middle), default=0)
            heard = some[place].start_ms + middle - starts[place]
            if middle - starts[place] > frame_ms and starts[place] + some[place].length_ms - middle > frame_ms:
                shown = (segment.source_frame + frame - segment.first_frame + 0.5) * frame_ms
                assert abs(shown - heard) <= frame_ms / 2 + 1


@given(st.lists(spans(), min_size=1, max_size=12), st.sampled_from([Fraction(25), Fraction(30000, 1001), Fraction(60)]))
def test_a_cut_is_no_longer_than_its_spans_and_loses_less_than_a_frame(some: list[Span], rate: Fraction):
    made = float(frames_of(played(some), rate) * 1000 / rate)
    if total_ms(some) > 1000 / rate:
        assert total_ms(some) - float(1000 / rate) < made <= total_ms(some) + 0.1
        assert sum(segment.frames for segment in lay_out(played(some), rate)) == frames_of(played(some), rate)


def test_captions_follow_the_cut():
    document, talk = quote()
    cut = apply_edit(document, StrikeWords(first=4, last=5), context_of(talk))
    assembly = assemble(cut, context_of(talk), HD, TALL)
    (track,) = assembly.cue_tracks
    assert [cue.text for cue in track.cues] == ["So people ask me,", "there is no secret."]
    join = assembly.picture[1]
    second = track.cues[1]
    assert second.first_frame >= join.first_frame
    assert assembly.source_ms(second.first_frame) == pytest.approx(talk.word(6).start_ms, abs=40)


def test_the_gauge_and_the_file_agree_on_the_length():
    document, talk = quote()
    cut = apply_edit(document, StrikeWords(first=4, last=5), context_of(talk))
    assembly = assemble(cut, context_of(talk), HD, TALL)
    assert cut_ms(cut, HD) == assembly.length_ms
    assert 0 <= total_ms((cut.span,)) - total_ms(cut.struck) - assembly.length_ms < 40


def test_captions_are_held_inside_the_picture():
    document, talk = quote()
    low = apply_edit(document, PlaceCaptions(destination=TALL.id, height=1.0), context_of(talk))
    (track,) = assemble(low, context_of(talk), HD, TALL).cue_tracks
    assert 0.85 < track.height < 0.96


def test_captions_that_are_not_shown_are_not_there():
    document, talk = quote()
    hidden = apply_edit(document, ShowCaptions(shown=False), context_of(talk))
    assert assemble(hidden, context_of(talk), HD, TALL).cue_tracks == ()


def test_a_recording_without_picture_is_assembled_without_one():
    document, talk = quote()
    assembly = assemble(document, context_of(talk), HD.model_copy(update={"width": 0, "height": 0}), TALL)
    (run,) = assembly.picture
    assert (run.source, run.panels, run.frames, run.behind.kind) == (None, (), assembly.frames, "colour")
    assert assembly.sharpness is None


def test_an_assembly_comes_back_from_json_as_it_was():
    document, talk = quote()
    document = apply_edit(document, AddVersion(destination="wide-140"), context_of(talk))
    facts = HD.model_copy(update={"rate": Fraction(30000, 1001)})
    assembly = assemble(document, context_of(talk), facts, DESTINATIONS["wide-140"])
    assert Assembly.model_validate_json(assembly.model_dump_json()) == assembly
