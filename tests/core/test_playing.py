"""Stretches that are played fast: every moment of the source at one moment of the output, in length, picture, sound and words."""

from fractions import Fraction
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from nimble_quote.core.assembly import Assembly, assemble, cut_ms
from nimble_quote.core.caption_checks import Checked
from nimble_quote.core.cutting.kept import kept_spans
from nimble_quote.core.cutting.plans import fit_plan
from nimble_quote.core.cutting.playing import Played, length_of, played, played_in, same_pace, source_at
from nimble_quote.core.cutting.reading import joins
from nimble_quote.core.cutting.ways import parts_of
from nimble_quote.core.document import Fast, QuoteDocument
from nimble_quote.core.edits import (
    AddVersion,
    EditRefused,
    PlayFast,
    SetSpeed,
    SoftenJoins,
    StrikeWords,
    apply_edit,
    new_quote,
)
from nimble_quote.core.preflight import preflight
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span, total_ms
from tests.shipped import DESTINATIONS
from tests.strategies import spans
from tests.talks import HD, context_of, talk_of

TALL = DESTINATIONS["tall-60"]
RATES = [Fraction(25), Fraction(30000, 1001), Fraction(60)]


def span(start: int, end: int) -> Span:
    return Span(start_ms=start, end_ms=end)


def quote() -> tuple[QuoteDocument, Talk]:
    talk = talk_of("Watch what this does now. | There it is, all by itself.")
    document = new_quote(context_of(talk), 0, len(talk.words) - 1)
    return apply_edit(document, AddVersion(destination=TALL.id), context_of(talk)), talk


def gap(talk: Talk) -> Span:
    """What is between the two sentences."""
    return span(talk.word(4).end_ms, talk.word(5).start_ms)


def made(document: QuoteDocument, talk: Talk) -> Assembly:
    return assemble(document, context_of(talk), HD, TALL)


def test_a_cut_is_parted_where_it_is_played_faster():
    kept = [span(1000, 3000), span(5000, 6000)]
    parts = played(kept, [Fast(span=span(2000, 5500), times=2.0)])
    assert [(p.source_ms, p.length_ms, p.out_ms, p.times, p.goes_on) for p in parts] == [
        (1000, 1000, 0, 1, False), (2000, 1000, 1000, 2, True), (5000, 500, 1500, 2, False), (5500, 500, 1750, 1, True),
    ]  # fmt: skip
    assert length_of(parts) == 2250
    assert [(j.before_ms, j.after_ms, j.out_ms) for j in joins(parts)] == [(3000, 5000, 1500)], "no join but the cut"
    assert [source_at(parts, ms) for ms in (0, 1000, 1250, 1500, 2249, 2250)] == [1000, 2000, 2500, 5000, 5999, None]


def test_stretches_of_one_pace_are_heard_as_one():
    parts = played([span(0, 1000), span(2000, 4000)], [Fast(span=span(3000, 4000), times=2.0, silent=True)])
    assert [len(group) for group in same_pace(parts)] == [2, 1]


@given(
    st.lists(spans(30_000), min_size=1, max_size=8), st.lists(spans(60_000), max_size=3),
    st.floats(1.25, 4), st.sampled_from([0.95, 1.0, 1.15]),
)  # fmt: skip
def test_what_is_played_tiles_the_output_and_loses_nothing(kept, fast, times, speed):
    kept = [span(one.start_ms + 100_000 * n, one.end_ms + 100_000 * n) for n, one in enumerate(kept)]
    quick = [
        Fast(span=span(one.start_ms + 100_000 * n, one.end_ms + 100_000 * n), times=times) for n, one in enumerate(fast)
    ]
    parts = played(kept, quick, speed)
    assert sum(part.length_ms for part in parts) == total_ms(kept)
    assert parts[0].out_ms == 0
    for one, other in pairwise(parts):
        assert one.out_end_ms == other.out_ms
        assert other.goes_on == (one.source_end_ms == other.source_ms)
    at_once = total_ms(kept) / speed
    assert at_once / times - 0.001 <= length_of(parts) <= at_once + 0.001


@given(st.sampled_from(RATES), st.floats(1.25, 4), st.integers(200, 1500))
def test_picture_and_sound_stay_together_through_a_fast_stretch(rate: Fraction, times: float, from_ms: int):
    document, talk = quote()
    document = apply_edit(document, PlayFast(span=span(from_ms, from_ms + 800), times=times), context_of(talk))
    assembly = assemble(document, context_of(talk), HD.model_copy(update={"rate": rate}), TALL)
    frame_ms = float(1000 / assembly.rate)
    for frame in range(0, assembly.frames - 2, 7):
        heard = source_at(assembly.sound.played, (frame + 0.5) * frame_ms)
        if heard is not None:
            assert abs(assembly.source_ms(frame) + frame_ms / 2 - heard) <= 2 * times * frame_ms


def test_a_fast_stretch_makes_the_clip_shorter_and_the_words_after_it_sooner():
    document, talk = quote()
    before = made(document, talk)
    edit = PlayFast(span=gap(talk), times=4.0)
    fast = apply_edit(document, edit, context_of(talk))
    after = made(fast, talk)
    gained = gap(talk).length_ms * 3 / 4
    assert cut_ms(document, HD) - cut_ms(fast, HD) == pytest.approx(gained, abs=40)
    assert before.cue_tracks[0].cues[0].text == after.cue_tracks[0].cues[0].text
    was, now = (one.cue_tracks[0].cues[1].said_from_ms for one in (before, after))
    assert was - now == pytest.approx(gained)
    steps = [run.step for run in after.picture]
    assert steps == [1, 4, 1]
    assert edit.said(document, context_of(talk)) == f"Played {gap(talk).length_ms / 1000:.1f} s 4 times as fast"


def test_a_speed_of_the_version_comes_on_top():
    document, talk = quote()
    document = apply_edit(document, PlayFast(span=gap(talk), times=2.0), context_of(talk))
    document = apply_edit(document, SetSpeed(destination=TALL.id, speed=1.1), context_of(talk))
    assert [one.times for one in played_in(document, TALL.id)] == pytest.approx([1.1, 2.2, 1.1])
    assert [one.times for one in played_in(document)] == [1, 2, 1]


def test_played_as_it_was_again_in_part_or_whole():
    document, talk = quote()
    context = context_of(talk)
    fast = apply_edit(document, PlayFast(span=span(1000, 3000), times=2.0, silent=True), context)
    fast = apply_edit(fast, PlayFast(span=span(1500, 2000), times=4.0), context)
    assert [(one.span.start_ms, one.span.end_ms, one.times, one.silent) for one in fast.fast] == [
        (1000, 1500, 2, True), (1500, 2000, 4, False), (2000, 3000, 2, True),
    ]  # fmt: skip
    again = apply_edit(fast, PlayFast(span=document.span, times=None), context)
    assert again.fast == ()
    assert PlayFast(span=span(0, 1000), times=None).said(fast, context) == "Played 1.0 s at the speed it was again"


def test_bad_stretches_are_refused():
    document, talk = quote()
    with pytest.raises(EditRefused):
        apply_edit(document, PlayFast(span=span(900_000, 901_000), times=2.0), context_of(talk))
    for times in (1.0, 4.5, float("nan")):
        with pytest.raises(ValidationError):
            PlayFast(span=span(0, 1000), times=times)
    with pytest.raises(ValidationError, match="apart from each other"):
        QuoteDocument.model_validate(
            {**dict(document), "fast": (Fast(span=span(0, 900), times=2), Fast(span=span(800, 1500), times=2))}
        )


def test_a_join_is_eased_and_a_change_of_pace_is_none():
    document, talk = quote()
    context = context_of(talk)
    document = apply_edit(document, StrikeWords(first=2, last=3), context)
    document = apply_edit(document, PlayFast(span=gap(talk), times=3.0), context)
    document = apply_edit(document, SoftenJoins(destination=TALL.id, soften="scale"), context)
    widths = [run.panels[0].keys[0].window.width for run in made(document, talk).picture]
    assert widths[0] > widths[1], "closer after the join"
    assert widths[1:] == [widths[1]] * (len(widths) - 1), "and no other change of size"


def test_words_said_where_it_is_fast_are_found_and_can_be_mended():
    document, talk = quote()
    context = context_of(talk)
    for silent, says in ((False, "nobody can follow it"), (True, "nobody hears it")):
        edit = PlayFast(span=span(gap(talk).start_ms, talk.word(6).end_ms), times=3.0, silent=silent)
        fast = apply_edit(document, edit, context)
        (found,) = [
            one for one in preflight(made(fast, talk), (), Checked(context=context)) if one.check == "said-fast"
        ]
        assert "There it" in found.says
        assert says in found.says
        assert found.mend is not None
        mended = apply_edit(fast, found.mend, context)
        assert [one.span for one in mended.fast] == [gap(talk)], "what is not said stays fast"
        assert not [
            one for one in preflight(made(mended, talk), (), Checked(context=context)) if one.check == "said-fast"
        ]


def test_a_plan_to_fit_counts_a_fast_pause_as_it_is_played():
    document, talk = quote()
    fast = apply_edit(document, PlayFast(span=gap(talk), times=4.0), context_of(talk))
    parts = parts_of(fast, talk, TALL.id, {})
    whole = length_of(played(kept_spans(fast), fast.fast))
    assert sum(one.whole_ms + one.gap_ms for one in parts) == pytest.approx(whole, abs=4)
    plan = fit_plan(parts, round(whole), round(whole))
    assert plan.pieces == ()


def test_a_stretch_knows_its_moments():
    one = Played(source_ms=1000, length_ms=2000, out_ms=500, out_end_ms=1500, times=2)
    assert one.source_end_ms == 3000
    assert [one.out_at(ms) for ms in (1000, 2000, 3000)] == [500, 1000, 1500]
