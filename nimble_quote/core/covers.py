"""Which moments of a quote a cover can be made of: a face that is seen clearly, from the front, large, and not just after a cut.

The core ranks by what is known of the faces; how sharp a picture is, and whether eyes are open, is seen by looking at it
(`media/covering.py`), and the two together make the order that is offered.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from nimble_quote.core.context import Sight
from nimble_quote.core.document import CoverPicture
from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.timebase import Span

_APART_MS = 700
"""Two moments nearer to each other than this look the same."""
_FROM_CUT_MS = 300
"""A picture just after a cut, or before one, is often a blend, or soft."""
_LARGE = 0.35
"""A face of this part of the picture's height is as good as a larger one."""
_TURNED = 0.7
"""How much less a face is worth that is seen from the side."""
_OPEN = 0.17
"""Eyes open by this part of their width are open; a blink goes below half of it."""


@dataclass(frozen=True, kw_only=True)
class CoverMoment:
    """A moment with a face, and how good it looks, 0 to 1, by what is known of the face."""

    face: FaceSample
    worth: float

    @property
    def at_ms(self) -> int:
        return self.face.at_ms


@dataclass(frozen=True, kw_only=True)
class CoverLook:
    """What was seen in the picture of a moment: how sharp the face is (the variance of its edges), and how far its eyes are open,
    in widths of them; None where they can't be seen."""

    sharpness: float
    eyes: float | None


def cover_moments(sight: Sight, kept: Sequence[Span], most: int) -> list[CoverMoment]:
    """The best moments of what is kept, best first, none near another."""
    found = sorted(_rated(sight, kept), key=lambda one: -one.worth)
    out: list[CoverMoment] = []
    for one in found:
        if len(out) == most:
            break
        if all(abs(one.at_ms - other.at_ms) >= _APART_MS for other in out):
            out.append(one)
    return out


def cover_moment(shows: CoverPicture, sight: Sight, kept: Sequence[Span]) -> int:
    """The moment of the recording that a cover shows: the one chosen, or else the best by what is known; without a face, one a
    third into the first of what is kept."""
    if shows.at_ms is not None:
        return shows.at_ms
    best = cover_moments(sight, kept, 1)
    return best[0].at_ms if best else kept[0].start_ms + kept[0].length_ms // 3


def in_order(moments: Sequence[CoverMoment], looks: Sequence[CoverLook]) -> list[tuple[CoverMoment, CoverLook]]:
    """Moments with what was seen of them, best first: sharp for this talk, eyes open, a clear face."""
    sharpest = max((look.sharpness for look in looks), default=0.0) or 1.0

    def worth(pair: tuple[CoverMoment, CoverLook]) -> float:
        moment, look = pair
        eyes = 0.8 if look.eyes is None else min(1.0, look.eyes / _OPEN)
        return moment.worth * float((look.sharpness / sharpest) ** 0.5) * eyes**2

    return sorted(zip(moments, looks, strict=True), key=worth, reverse=True)


def _rated(sight: Sight, kept: Sequence[Span]) -> list[CoverMoment]:
    edges = [shot.span.start_ms for shot in sight.shots]
    out = []
    for track in sight.tracks:
        if track.thing:
            continue
        columns = (track.at_ms, track.x, track.y, track.width, track.height, track.score, track.turn)
        for at, x, y, width, height, score, turn in zip(*(each.tolist() for each in columns), strict=True):
            if not any(span.holds(at) for span in kept) or any(abs(at - edge) < _FROM_CUT_MS for edge in edges):
                continue
            face = FaceSample(at_ms=int(at), x=x, y=y, width=width, height=height, score=score)
            inside = x > 0.01 and y > 0.01 and x + width < 0.99 and y + height < 0.99
            large = min(1.0, height / _LARGE)
            worth = score * (0.4 + 0.6 * large) * (1 - _TURNED * min(1.0, abs(turn))) * (1.0 if inside else 0.5)
            out.append(CoverMoment(face=face, worth=max(0.0, worth)))
    return out
