"""The face that stands for a stretch: whom a still is about."""

from collections.abc import Sequence
from statistics import median

from nimble_quote.core.model import Frozen
from nimble_quote.core.timebase import Span


class FaceSample(Frozen):
    """A face found in one frame of the source; its box in fractions of the frame."""

    at_ms: int
    x: float
    y: float
    width: float
    height: float
    score: float

    @property
    def middle(self) -> tuple[float, float]:
        return self.x + self.width / 2, self.y + self.height / 2


def speakers_face(samples: Sequence[FaceSample], spans: Sequence[Span]) -> FaceSample | None:
    """The face to frame over some spans: of the best face of each moment, the median box.

    The best of a moment is the largest for its certainty. The median holds against single false finds. Moments
    outside the spans are used where none lies inside.
    """
    inside = [s for s in samples if any(span.holds(s.at_ms) for span in spans)] or list(samples)
    best: dict[int, FaceSample] = {}
    for sample in inside:
        rival = best.get(sample.at_ms)
        if rival is None or sample.height * sample.score > rival.height * rival.score:
            best[sample.at_ms] = sample
    if not best:
        return None
    chosen = _one_of_them(list(best.values()))
    return FaceSample(
        at_ms=chosen[0].at_ms,
        x=median(s.x for s in chosen),
        y=median(s.y for s in chosen),
        width=median(s.width for s in chosen),
        height=median(s.height for s in chosen),
        score=median(s.score for s in chosen),
    )


def _one_of_them(faces: list[FaceSample]) -> list[FaceSample]:
    """Those at one place: where two people are as large by turns, a median over both would show neither.

    Faces that are less than one of them apart are taken for one that moved; the place seen most often is kept.
    """
    groups: list[list[FaceSample]] = []
    for face in sorted(faces, key=lambda one: one.middle[0]):
        if groups and face.middle[0] - groups[-1][-1].middle[0] < face.width:
            groups[-1].append(face)
        else:
            groups.append([face])
    return max(groups, key=len)
