"""A quote cut differently for each destination, and edits of two people at once."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.assembly import assemble, cut_ms
from nimble_quote.core.context import Shot
from nimble_quote.core.cutting.kept import kept_spans, kept_words
from nimble_quote.core.cutting.reading import as_said, only_kept
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.edits import (
    AddVersion,
    CutAsBase,
    Edit,
    EditRefused,
    FineShot,
    FrameShot,
    FramingChange,
    MoveEdgeToWord,
    NudgeEdge,
    NudgeJoin,
    PlaceCaptions,
    PlaceWindow,
    RemoveVersion,
    RenameQuote,
    ResetFraming,
    RestoreWords,
    SetPause,
    SetSpeed,
    SoftenJoins,
    StrikeSpans,
    StrikeWords,
    TreatAlone,
    apply_edit,
    describe_edit,
)
from nimble_quote.core.edits.touching import go_together
from nimble_quote.core.refusal import Refused
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span
from tests.cuts import cut_of
from tests.shipped import DESTINATIONS
from tests.strategies import edits_for
from tests.talks import HD, context_of, talk_of


def two() -> tuple[QuoteDocument, Talk]:
    document, talk = cut_of("one two three four five six seven eight.")
    return apply_edit(document, AddVersion(destination="story-15"), context_of(talk)), talk


def text(document: QuoteDocument, talk: Talk, destination: str | None = None) -> str:
    return " ".join(word.text for word in kept_words(document, talk, destination))


def test_a_version_strikes_more_and_puts_back_and_what_is_changed_in_the_base_reaches_it():
    document, talk = two()
    base = apply_edit(document, StrikeWords(first=1, last=1), context_of(talk))
    own = apply_edit(base, StrikeWords(first=5, last=5, destination="story-15"), context_of(talk))
    own = apply_edit(own, RestoreWords(first=1, last=1, destination="story-15"), context_of(talk))
    assert text(own, talk) == text(own, talk, "tall-60") == "one three four five six seven eight."
    assert text(own, talk, "story-15") == "one two three four five seven eight."
    later = apply_edit(own, StrikeWords(first=3, last=3), context_of(talk))
    assert text(later, talk, "story-15") == "one two three five seven eight."
    shorter = apply_edit(later, StrikeWords(first=6, last=7, destination="story-15"), context_of(talk))
    assert cut_ms(shorter, HD, DESTINATIONS["story-15"]) < cut_ms(shorter, HD) == cut_ms(later, HD)
    again = apply_edit(later, CutAsBase(destination="story-15"), context_of(talk))
    assert text(again, talk, "story-15") == text(again, talk)
    assert (
        describe_edit(base, StrikeWords(first=5, last=5, destination="story-15"), context_of(talk))
        == "Struck “six” in Tall 15"
    )


def test_a_version_is_shorter_at_its_ends_and_never_longer_than_the_quote():
    document, talk = two()
    own = apply_edit(document, MoveEdgeToWord(edge="in", word=2, destination="story-15"), context_of(talk))
    own = apply_edit(own, MoveEdgeToWord(edge="out", word=5, destination="story-15"), context_of(talk))
    assert text(own, talk, "story-15") == "three four five six"
    wider = apply_edit(own, MoveEdgeToWord(edge="in", word=1, destination="story-15"), context_of(talk))
    assert text(wider, talk, "story-15") == "two three four five six"
    assert text(wider, talk) == "one two three four five six seven eight."
    base = apply_edit(document, MoveEdgeToWord(edge="in", word=3), context_of(talk))
    with pytest.raises(EditRefused, match="only be shorter"):
        apply_edit(base, MoveEdgeToWord(edge="in", word=0, destination="story-15"), context_of(talk))


def test_no_version_loses_its_last_word():
    document, talk = two()
    own = apply_edit(document, StrikeWords(first=0, last=5, destination="story-15"), context_of(talk))
    with pytest.raises(EditRefused, match="every word of Tall 15"):
        apply_edit(own, StrikeWords(first=6, last=7), context_of(talk))


def test_a_version_framed_by_itself_leaves_its_shape_alone_and_comes_back_to_it():
    document, talk = cut_of("one two three four five six seven eight.")
    context = context_of(talk)
    own = document.versions[0].destination
    other = next(one.id for one in DESTINATIONS.values() if one.shape == DESTINATIONS[own].shape and one.id != own)
    document = apply_edit(document, AddVersion(destination=other), context)
    document = apply_edit(document, shown(None, layout="one"), context)
    shared = apply_edit(document, placed(own, zoom=2), context)

    def zooms(of: QuoteDocument) -> list[float]:
        framings = [of.treatment(one, DESTINATIONS[own].shape).framing for one in (own, other)]
        return [framing.shots[0].choice.placed[0].rests[0].at.zoom for framing in framings]  # type: ignore[index]

    assert zooms(shared) == [2, 2]
    alone = apply_edit(shared, TreatAlone(destination=own, alone=True), context)
    alone = apply_edit(alone, placed(own, zoom=3), context)
    assert zooms(alone) == [3, 2]
    assert zooms(apply_edit(alone, TreatAlone(destination=own, alone=False), context)) == [2, 2]


def test_a_faster_version_is_shorter_with_its_captions_in_step():
    document, talk = two()
    fast = apply_edit(document, SetSpeed(destination="story-15", speed=1.1), context_of(talk))
    plain, faster = (assemble(one, context_of(talk), HD, DESTINATIONS["story-15"]) for one in (document, fast))
    assert faster.frames == int(plain.sound.speech[0].length_ms / 1.1 * 25 / 1000)
    assert faster.picture[0].source_frames == pytest.approx(plain.picture[0].source_frames, abs=1)
    last = plain.cue_tracks[0].cues[-1].words[-1].first_frame
    assert faster.cue_tracks[0].cues[-1].words[-1].first_frame == pytest.approx(last / 1.1, abs=1)
    assert faster.source_ms(20) == pytest.approx(plain.source_ms(22))


def test_every_other_segment_is_larger_where_jumps_are_eased():
    document, talk = two()
    cut = document
    for word in (1, 3, 5):
        cut = apply_edit(cut, StrikeWords(first=word, last=word), context_of(talk))
    eased = apply_edit(cut, SoftenJoins(destination="story-15", soften="scale"), context_of(talk))
    widths = [
        [
            run.panels[0].keys[0].window.width
            for run in assemble(one, context_of(talk), HD, DESTINATIONS["story-15"]).picture
        ]
        for one in (cut, eased)
    ]
    assert [round(a / b, 6) for a, b in zip(*widths, strict=True)] == [1, 1.06, 1, 1.06]
    still = assemble(eased, context_of(talk), HD, DESTINATIONS["tall-60"])
    assert len({run.panels[0].keys[0].window.width for run in still.picture}) == 1


def test_one_version_is_nudged_at_an_edge_and_the_others_stay():
    document, talk = two()
    moved = apply_edit(document, MoveEdgeToWord(edge="in", word=1, destination="story-15"), context_of(talk))
    before = kept_spans(moved, "story-15")[0].start_ms
    for by_ms in (40, -10):
        moved = apply_edit(moved, NudgeEdge(edge="in", by_ms=by_ms, destination="story-15"), context_of(talk))
    assert kept_spans(moved, "story-15")[0].start_ms == before + 30
    assert kept_spans(moved, "tall-60") == kept_spans(document, "tall-60")
    out = NudgeEdge(edge="out", by_ms=-20, destination="story-15")
    assert describe_edit(moved, out, context_of(talk)) == "Nudged the out point 20 ms earlier in Tall 15"
    assert (
        kept_spans(apply_edit(moved, out, context_of(talk)), "story-15")[-1].end_ms
        == kept_spans(moved, "story-15")[-1].end_ms - 20
    )
    with pytest.raises(EditRefused, match="One version can only be shorter than the others"):
        apply_edit(moved, NudgeEdge(edge="out", by_ms=5000, destination="story-15"), context_of(talk))


def test_a_join_is_nudged_on_one_side():
    talk = talk_of("one two three four", gap_ms=200)
    document, _ = cut_of("one two three four")
    document = apply_edit(
        document.model_copy(update={"span": document.span}), StrikeWords(first=1, last=1), context_of(talk)
    )
    (hole,) = document.struck
    nudged = apply_edit(document, NudgeJoin(side="after", at_ms=hole.end_ms, by_ms=-30), context_of(talk))
    assert [(h.start_ms, h.end_ms) for h in nudged.struck] == [(hole.start_ms, hole.end_ms - 30)]
    with pytest.raises(EditRefused, match="not there any more"):
        apply_edit(nudged, NudgeJoin(side="after", at_ms=hole.end_ms, by_ms=10), context_of(talk))
    with pytest.raises(EditRefused, match="Nothing would be left out"):
        apply_edit(nudged, NudgeJoin(side="before", at_ms=hole.start_ms, by_ms=9000), context_of(talk))


def test_what_was_said_is_read_beside_what_is_kept():
    document, talk = cut_of("<Ada> Keep the [old] wick short. <Ben> [Never.]")
    first, second = as_said(document, talk)
    assert first.words == (("Keep", True), ("the", True), ("old", False), ("wick", True), ("short.", True))
    assert (first.speaker, first.kept) == ("Ada", "Keep the wick short.")
    assert (second.speaker, second.kept) == ("Ben", "")


def test_what_only_one_of_two_cuts_keeps_is_told_in_runs():
    document, talk = two()
    shorter = apply_edit(apply_edit(document, strike(0, 1), context_of(talk)), strike(5, 5), context_of(talk))
    both = kept_words(document, talk), kept_words(shorter, talk)
    assert only_kept(*both) == ["one two", "six"]
    assert only_kept(*reversed(both)) == []


def strike(first: int, last: int) -> Edit:
    return StrikeWords(first=first, last=last)


def placed(destination: str, at_ms: int = 1500, **where: object) -> Edit:
    return PlaceWindow.model_validate({"destination": destination, "at_ms": at_ms, **where})


def shown(destination: str | None, at_ms: int | None = 1500, **change: object) -> Edit:
    return FrameShot(destination=destination, at_ms=at_ms, change=FramingChange.model_validate(change))


HOLE = (Span(start_ms=1000, end_ms=1300),)
OF_A_VERSION: list[Edit] = [
    SetSpeed(destination="tall-60", speed=1.1),
    SoftenJoins(destination="tall-60", soften="scale"),
    placed("tall-60", zoom=2),
    shown("tall-60", closeness=1.2),
    PlaceCaptions(destination="tall-60", height=0.4),
]


@pytest.mark.parametrize(
    ("mine", "theirs", "together"),
    [
        (strike(1, 2), strike(5, 6), True),
        (strike(1, 2), strike(3, 3), False),
        (strike(4, 2), RestoreWords(first=3, last=3), False),
        (strike(1, 2), RenameQuote(title="Another"), True),
        (RenameQuote(title="One"), RenameQuote(title="Another"), False),
        (strike(1, 2), MoveEdgeToWord(edge="in", word=0), False),
        (placed("tall-60", zoom=2), strike(1, 1), True),
        (placed("tall-60", x=0.2), SetSpeed(destination="tall-60", speed=1.1), True),
        (placed("tall-60", x=0.2), placed("tall-60", zoom=2), True),
        (placed("tall-60", x=0.2), placed("story-15", y=0.2), False),
        (placed("tall-60", x=0.2), placed("square-60", x=0.4), True),
        (placed("tall-60", x=0.2), placed("tall-90", at_ms=5000, x=0.4), True),
        (shown("tall-60", closeness=1.2), placed("tall-60", x=0.4), True),
        (shown(None, closeness=1.2), placed("tall-60", zoom=2), False),
        (shown(None, layout="whole"), placed("tall-60", x=0.4), False),
        (shown(None, layout="whole"), shown(None, at_ms=5000, layout="stacked"), True),
        (shown(None, at_ms=None, layout="whole"), shown(None, at_ms=5000, layout="stacked"), False),
        (shown(None, backdrop="colour"), FineShot(at_ms=1500, codes=("nothing",)), False),
        (ResetFraming(at_ms=1500), placed("tall-60", x=0.4), False),
        (ResetFraming(at_ms=1500), placed("tall-60", at_ms=5000, x=0.4), True),
        (placed("tall-60", x=0.2), TreatAlone(destination="tall-60", alone=True), False),
        *((change, RemoveVersion(destination="tall-60"), False) for change in OF_A_VERSION),
        *((change, RemoveVersion(destination="square-60"), True) for change in OF_A_VERSION),
        (SetSpeed(destination="tall-60", speed=1.1), CutAsBase(destination="tall-60"), False),
        (SetSpeed(destination="tall-60", speed=1.1), StrikeSpans(spans=HOLE, destination="tall-60", speed=1.15), False),
        (SetSpeed(destination="story-15", speed=1.1), StrikeSpans(spans=HOLE, destination="tall-60", speed=1.15), True),
        (SetPause(before=9, to_ms=300), RestoreWords(first=5, last=6), False),
        (SetPause(before=9, to_ms=300), RestoreWords(first=12, last=13), True),
    ],
)
def test_edits_go_together_where_they_are_about_other_things(mine: Edit, theirs: Edit, together: bool):
    shots = [Shot(span=Span(start_ms=0, end_ms=3000)), Shot(span=Span(start_ms=3000, end_ms=9000))]
    context = context_of(talk_of("one two"), shots=shots)
    assert go_together(mine.touches(context), theirs.touches(context)) is together
    assert go_together(theirs.touches(context), mine.touches(context)) is together


@given(st.data())
def test_edits_that_go_together_come_out_the_same_in_either_order(data: st.DataObject):
    document, talk = two()
    mine, theirs = (data.draw(edits_for(talk)) for _ in range(2))
    if not go_together(mine.touches(context_of(talk)), theirs.touches(context_of(talk))):
        return
    try:
        one = apply_edit(apply_edit(document, mine, context_of(talk)), theirs, context_of(talk))
        other = apply_edit(apply_edit(document, theirs, context_of(talk)), mine, context_of(talk))
    except Refused:
        return
    assert one.model_copy(update={"accepted": ()}) == other.model_copy(update={"accepted": ()})
