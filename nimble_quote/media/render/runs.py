"""The runs of an Assembly as passes over its sources, and the frames of each as a stream in the order of the output.

A pass reads one source once, forwards; another source, or a step back in the same one, begins another pass:

        runs      | a 0-50 | a 80-120 | b 0-90 | a 10-40 |
        passes    |==== first pass ===|= second =|= third =|

In a pass the frames that are shown are selected and told when they are shown first; a frame that is shown longer stands.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from nimble_quote.core.assembly import PictureRun
from nimble_quote.media.reach import Reach
from nimble_quote.media.render.graph import Filter, Leaf, any_of, by_moment, node, quoted

_OVERLAP = 3
"""Runs that are cut to the millisecond may share a frame or two of the source at a join."""


@dataclass(frozen=True)
class Pass:
    """Runs that one reading of a source shows, one after another; `source` is None where nothing is read."""

    source: str | None
    runs: tuple[PictureRun, ...]

    @property
    def frames(self) -> int:
        return sum(run.frames for run in self.runs)


@dataclass(frozen=True)
class _Taken:
    """What a run takes of the source's frames: those from `first` to before `end`. The first of them is shown at `shown`
    frames after the run's own first."""

    run: PictureRun
    first: int
    end: int


def passes_of(runs: Sequence[PictureRun]) -> list[Pass]:
    """The passes that show some runs, in order."""
    passes: list[Pass] = []
    for run in runs:
        before = passes[-1].runs[-1] if passes else None
        if before is not None and _goes_on(before, run):
            passes[-1] = Pass(run.source, (*passes[-1].runs, run))
        else:
            passes.append(Pass(run.source, (run,)))
    return passes


def _goes_on(before: PictureRun, run: PictureRun) -> bool:
    if run.source is None or before.source is None:
        return run.source == before.source and run.behind == before.behind
    forward = run.source_frame >= before.source_frame + before.source_frames - _OVERLAP
    return run.source == before.source and forward and run.source_frame >= before.source_frame


def shown_frames(one: Pass, reach: Reach) -> list[Filter]:
    """The filters that make of what is decoded the frames that a pass shows, numbered from 0, at the output's rate.

    The last frame stands where the picture ends before the sound.
    """
    rate = rate_of(reach.rate)
    taken = _taken(one.runs)
    kept = [f"between(n,{of.first - reach.first_frame},{of.end - 1 - reach.first_frame})" for of in taken]
    filters = [
        node("fps", rate, start_time=0),
        # As long as what is decoded at most: one that ends at its first frame needs so many more.
        node("tpad", stop=reach.frames, stop_mode="clone"),
        node("select", quoted(any_of(kept))),
    ]
    if all(of.run.step == 1 and of.end - of.first == of.run.frames for of in taken):
        return [*filters, node("setpts", at_frame("N", reach.rate))]
    filters += [
        node("setpts", quoted(at_frame(_shown_at(taken, one.runs[0].first_frame), reach.rate))),
        node("fps", rate, start_time=0),
        node("tpad", stop=one.frames, stop_mode="clone"),
        node("trim", end_frame=one.frames),
    ]
    return filters


def at_frame(number: str, rate: Fraction) -> str:
    """The time of a frame, by an expression of its number, for `setpts`: what is a hair under a whole number would be
    cut down to the one before, so it is given a tenth of a frame more."""
    return f"(({number})+0.1)/({rate_of(rate)})/TB"


def rate_of(rate: Fraction) -> str:
    """A frame rate as ffmpeg writes it."""
    return f"{rate.numerator}/{rate.denominator}"


def _taken(runs: Sequence[PictureRun]) -> list[_Taken]:
    """What runs take of the source, none of it twice: a frame that two show stands from the first to the second."""
    out: list[_Taken] = []
    at = 0
    for run in runs:
        first, end = max(at, run.source_frame), run.source_frame + run.source_frames
        if end > first:
            out.append(_Taken(run, first, end))
            at = end
    return out


def _shown_at(taken: Sequence[_Taken], first_frame: int) -> str:
    """When each selected frame, by its number `N`, is first shown, in frames of the output."""
    leaves, number = [], 0
    for of in taken:
        step = of.run.step
        # The first output frame k with floor(k * step) at this frame of the source is ceil(frame / step).
        since = f"(N-{number}+{of.first - of.run.source_frame})"
        value = f"{of.run.first_frame - first_frame}+ceil({since}*{step.denominator}/{step.numerator}-0.0001)"
        leaves.append(Leaf(start=number, value=value))
        number += of.end - of.first
    return by_moment("N", leaves)
