"""Fit plans against trying everything, and on a talk of sentences."""

import itertools
import math
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nimble_quote.core.assembly import cut_ms
from nimble_quote.core.cutting.kept import kept_spans, kept_words
from nimble_quote.core.cutting.plans import SPEEDS, STEP_MS, FitPlan, Wishes, _speed_loss, fit_plan
from nimble_quote.core.cutting.ways import (
    JOIN_LOSS,
    LANDING_LOSS,
    OPENING_LOSS,
    CutSentence,
    Option,
    Piece,
    Worth,
    parts_of,
)
from nimble_quote.core.edits import SetSpeed, StrikeSpans, apply_edit
from nimble_quote.core.timebase import Span, total_ms
from nimble_quote.core.transcript.words import Sentence, Word
from tests.cuts import cut_of
from tests.shipped import DESTINATIONS
from tests.talks import HD, context_of

steps = st.integers(0, 30).map(lambda n: n * STEP_MS)
losses = st.integers(0, 40).map(lambda n: n / 16)
shares = st.integers(0, 8).map(lambda n: n / 8)


@st.composite
def options(draw: st.DrawFn, number: int, place: int) -> tuple[Option, ...]:
    out = [Option(pieces=(), gain_ms=0, loss=0.0)]
    for one in range(draw(st.integers(0, 2))):
        gain, loss = draw(steps), draw(losses)
        piece = Piece(
            id=f"small:{number}-{place}-{one}", kind="filler", text="um", first=number, last=number,
            spans=(Span(start_ms=number * 10_000 + place * 1000, end_ms=number * 10_000 + place * 1000 + max(1, gain)),),
            gain_ms=gain, loss=loss,
        )  # fmt: skip
        out.append(Option(pieces=(piece,), gain_ms=gain, loss=loss))
    return tuple(out)


@st.composite
def cuts(draw: st.DrawFn) -> list[CutSentence]:
    out = []
    for number in range(draw(st.integers(1, 4))):
        start = number * 10_000
        out.append(
            CutSentence(
                sentence=Sentence(first=number, end=number + 1, speaker=None),
                words=(Word(index=number, text="word.", start_ms=start, end_ms=start + 500),),
                start_ms=start, end_ms=start + 9000, whole_ms=draw(steps) + 300, gap_ms=draw(steps) if number else 0,
                worth=Worth(opens=draw(shares), lands=draw(shares), tells=draw(shares)), drops=draw(losses),
                hangs=draw(losses), inside=tuple(draw(options(number, place)) for place in range(draw(st.integers(0, 2)))),
                before=draw(options(number, 9)) if number else (Option(pieces=(), gain_ms=0, loss=0.0),),
            )
        )  # fmt: skip
    return out


def cheapest_by_trying(parts: list[CutSentence], kept_ms: int, limit_ms: int) -> float:
    """The least loss of everything that could be done, sentence by sentence and piece by piece."""
    best = math.inf
    for heard in itertools.product([True, False], repeat=len(parts)):
        places = [i for i, one in enumerate(heard) if one]
        if not places:
            continue
        gain, loss, choices = 0, 0.0, []
        for i, part in enumerate(parts):
            if heard[i]:
                choices += list(part.inside)
                if i and heard[i - 1]:
                    choices.append(part.before)
                elif i and i != places[0]:
                    loss += part.hangs
            else:
                loss += part.drops
                gain += part.whole_ms
                joined = places[0] < i < places[-1]
                if joined and heard[i - 1]:
                    loss += 2 * JOIN_LOSS
        # A gap is heard where both sentences beside it are.
        gain += sum(part.gap_ms for i, part in enumerate(parts) if i and not (heard[i] and heard[i - 1]))
        loss += OPENING_LOSS * (1 - parts[places[0]].worth.opens) if places[0] else 0.0
        loss += LANDING_LOSS * (1 - parts[places[-1]].worth.lands) if places[-1] < len(parts) - 1 else 0.0
        for taken in itertools.product(*choices):
            more, price = sum(one.gain_ms for one in taken), sum(one.loss for one in taken)
            for speed in SPEEDS:
                if kept_ms - gain - more <= int(limit_ms * speed):
                    best = min(best, loss + price + _speed_loss(speed, 1.0))
    return best


@settings(max_examples=80, deadline=None)
@given(cuts(), st.integers(0, 100))
def test_a_plan_is_as_good_as_the_best_of_everything_that_could_be_tried(parts: list[CutSentence], percent: int):
    kept = sum(part.whole_ms + part.gap_ms for part in parts)
    limit = kept * percent // 100 // STEP_MS * STEP_MS
    plan = fit_plan(parts, kept, limit)
    best = cheapest_by_trying(parts, kept, limit)
    assert plan.reached == (best < math.inf)
    if plan.reached:
        assert plan.loss == pytest.approx(best, abs=1e-3)
        left = kept - sum(piece.gain_ms for piece in plan.pieces if piece.kind != "speed")
        assert left <= limit * plan.speed


@settings(max_examples=60, deadline=None)
@given(cuts(), st.integers(20, 90), st.data())
def test_what_is_refused_stays_and_what_is_locked_goes(parts: list[CutSentence], percent: int, data: st.DataObject):
    kept = sum(part.whole_ms + part.gap_ms for part in parts)
    first = fit_plan(parts, kept, kept * percent // 100)
    ids = [piece.id for piece in first.pieces]
    if not ids:
        return
    refused = data.draw(st.sampled_from(ids))
    again = fit_plan(parts, kept, kept * percent // 100, Wishes(refused=frozenset([refused])))
    assert refused not in [piece.id for piece in again.pieces]
    assert again.loss >= first.loss - 1e-6 or not again.reached
    others = [one for one in ids if one != "speed"]
    if others:
        locked = data.draw(st.sampled_from(others))
        held = fit_plan(parts, kept, kept * percent // 100, Wishes(locked=frozenset([locked])))
        assert not held.reached or locked in [piece.id for piece in held.pieces]


TALK = (
    "A lamp asks for three things and it asks for them every day. So, um, the first is oil, as you know, clean oil. "
    "You know, the second is air. {1} My aunt had a cat that slept beside the stove in the winter. "
    "And the third is a short wick, because a long wick makes smoke and not light. That is all there is to it."
)


def planned(limit_ms: int, *, refused: str = "", worth: dict[int, Worth] | None = None) -> tuple[FitPlan, str]:
    document, talk = cut_of(TALK)
    parts = parts_of(document, talk, "tall-60", worth or {})
    kept = total_ms(kept_spans(document, "tall-60"))
    plan = fit_plan(parts, kept, limit_ms, Wishes(refused=frozenset(refused.split())))
    cut = apply_edit(document, StrikeSpans(spans=plan.spans, speed=plan.speed, destination="tall-60"), context_of(talk))
    assert cut_ms(cut, HD, DESTINATIONS["tall-60"]) <= limit_ms
    return plan, " ".join(word.text for word in kept_words(cut, talk, "tall-60"))


def test_a_little_too_long_costs_pauses_and_fillers():
    document, _ = cut_of(TALK)
    plan, text = planned(total_ms(kept_spans(document)) - 1200)
    assert {piece.kind for piece in plan.pieces} <= {"pause", "filler"}
    assert "My aunt" in text


def test_far_too_long_costs_the_sentence_that_tells_least():
    tells = {one: Worth(opens=0.9, lands=0.9, tells=0.9) for one in range(200)}
    _, talk = cut_of(TALK)
    aunt = next(s for s in talk.sentences if talk.word(s.first).text == "My")
    tells[aunt.first] = replace(tells[aunt.first], tells=0.05)
    document, _ = cut_of(TALK)
    plan, text = planned(total_ms(kept_spans(document)) - 6500, worth=tells)
    assert [piece.text for piece in plan.pieces if piece.kind == "sentence"] == [
        "My aunt had a cat that slept beside the stove in the winter."
    ]
    assert "cat" not in text
    assert "short wick" in text
    refused = next(piece.id for piece in plan.pieces if piece.kind == "sentence")
    again, text = planned(total_ms(kept_spans(document)) - 6500, refused=refused, worth=tells)
    assert "cat" in text
    assert again.loss > plan.loss


def test_a_quote_that_fits_needs_no_plan():
    document, talk = cut_of(TALK)
    kept = total_ms(kept_spans(document))
    plan = fit_plan(parts_of(document, talk, "tall-60", {}), kept, kept)
    assert (plan.pieces, plan.speed, plan.loss, plan.reached) == ((), 1.0, 0.0, True)
    assert {way.kind for way in plan.ways} >= {"pause", "filler", "sentence", "start-later", "end-sooner", "speed"}


def test_what_cannot_be_reached_is_said_and_comes_as_near_as_it_gets():
    document, talk = cut_of("A single sentence that nobody can make very short. ")
    kept = total_ms(kept_spans(document))
    plan = fit_plan(parts_of(document, talk, "tall-60", {}), kept, 300)
    assert not plan.reached
    assert plan.speed == SPEEDS[-1]


@pytest.mark.parametrize("now", [0.95, 1.05])
def test_a_plan_begins_at_the_speed_that_a_version_has(now: float):
    document, talk = cut_of(TALK)
    document = apply_edit(document, SetSpeed(destination="tall-60", speed=now), context_of(talk))
    kept = total_ms(kept_spans(document, "tall-60"))
    limit = int(kept / now) - 1500
    plan = fit_plan(parts_of(document, talk, "tall-60", {}), kept, limit, now=now)
    assert plan.over_ms == pytest.approx(1500, abs=1)
    assert plan.speed >= now
    faster = plan.speed if any(piece.kind == "speed" for piece in plan.pieces) else None
    fitted = apply_edit(document, StrikeSpans(spans=plan.spans, speed=faster, destination="tall-60"), context_of(talk))
    assert cut_ms(fitted, HD, DESTINATIONS["tall-60"]) <= limit
