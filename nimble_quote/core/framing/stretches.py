"""The stretches of a cut that are framed each by itself: its shots, and where a person parted one; and what was chosen for
each of them."""

from bisect import bisect_right
from collections.abc import Iterable, Sequence
from itertools import pairwise

from nimble_quote.core.document import Choice, Framing, ShotChoice
from nimble_quote.core.timebase import Span

NEAR_MS = 200
"""A choice that ends so near to a cut ends there: cuts are found anew, by a frame or two elsewhere."""


def stretches(shots: Sequence[Span], choices: Iterable[ShotChoice]) -> tuple[Span, ...]:
    """Shots in order, parted where a choice begins or ends inside one."""
    edges = sorted({edge for one in choices for edge in (one.span.start_ms, one.span.end_ms)})
    out: list[Span] = []
    for shot in shots:
        first = bisect_right(edges, shot.start_ms + NEAR_MS)
        inside = [shot.start_ms]
        for edge in edges[first:]:
            if edge >= shot.end_ms - NEAR_MS:
                break
            if edge - inside[-1] > NEAR_MS:
                inside.append(edge)
        out += [Span(start_ms=a, end_ms=b) for a, b in pairwise([*inside, shot.end_ms])]
    return tuple(out)


def choice_for(span: Span, levels: Sequence[Framing]) -> Choice:
    """All that was chosen for a stretch; later levels are nearer, and win field by field."""
    made = Choice()
    for framing in levels:
        made = framing.usual.over(made)
    for framing in levels:
        own = own_choice(span, framing)
        if own is not None:
            made = own.choice.over(made.tone if own.alone else made)
    return made


def own_choice(span: Span, framing: Framing) -> ShotChoice | None:
    """The choice of one level for a stretch: that which shares most with it, of two the narrower. One that shares less than
    half of itself and less than half of the stretch is that of another stretch."""
    best: ShotChoice | None = None
    most = (0, 0)
    for one in framing.shots:
        shared = min(one.span.end_ms, span.end_ms) - max(one.span.start_ms, span.start_ms)
        rank = shared, -one.span.length_ms
        if shared > 0 and rank > most and 2 * shared >= min(one.span.length_ms, span.length_ms):
            best, most = one, rank
    return best


def with_choice(framing: Framing, span: Span, choice: Choice, *, alone: bool = False) -> Framing:
    """A level with the choice for a stretch put in place of the one it had. One that reaches further stays for the others."""
    kept = [one for one in framing.shots if not _same(one.span, span)]
    if choice != Choice() or alone or own_choice(span, Framing(shots=tuple(kept))) is not None:
        kept.append(ShotChoice(span=span, choice=choice, alone=alone))
    kept.sort(key=lambda one: (one.span.start_ms, one.span.end_ms))
    return framing.model_copy(update={"shots": tuple(kept)})


def _same(one: Span, other: Span) -> bool:
    return abs(one.start_ms - other.start_ms) <= NEAR_MS and abs(one.end_ms - other.end_ms) <= NEAR_MS


def pieces_of(span: Span, kept: Sequence[Span]) -> tuple[Span, ...]:
    """What is kept of a stretch."""
    return tuple(
        Span(start_ms=max(one.start_ms, span.start_ms), end_ms=min(one.end_ms, span.end_ms))
        for one in kept
        if min(one.end_ms, span.end_ms) > max(one.start_ms, span.start_ms)
    )
