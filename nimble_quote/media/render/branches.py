"""The runs of a pass as branches of the graph: neighbours of one layout and one size share one, since each branch costs.

frames of a pass -> split -> trim, layout -> concat
                          -> trim, layout ->
"""

from collections.abc import Sequence
from dataclasses import dataclass

from nimble_quote.core.assembly import Panel, PictureRun

MOST_BRANCHES = 16
"""More than so many cost more than windows that change their size inside a branch."""
_SAME = 1e-9


@dataclass(frozen=True)
class Branch:
    """Runs that are drawn by the same filters."""

    runs: tuple[PictureRun, ...]

    @property
    def first_frame(self) -> int:
        return self.runs[0].first_frame

    @property
    def end_frame(self) -> int:
        return self.runs[-1].end_frame


def branches_of(runs: Sequence[PictureRun]) -> list[Branch]:
    """The branches of runs that follow one another: by layout and size, or by layout alone where that makes too many."""
    fine = _grouped(runs, sizes=True)
    return fine if len(fine) <= MOST_BRANCHES else _grouped(runs, sizes=False)


def _grouped(runs: Sequence[PictureRun], *, sizes: bool) -> list[Branch]:
    groups: list[Branch] = []
    for run in runs:
        if groups and _alike(groups[-1].runs[-1], run, sizes=sizes):
            groups[-1] = Branch((*groups[-1].runs, run))
        else:
            groups.append(Branch((run,)))
    return groups


def _lit(panel: Panel) -> tuple[float, int, int] | None:
    """How a panel is lit, wherever the light goes."""
    return None if panel.light is None else (panel.light.strength, panel.light.width_px, panel.light.height_px)


def _alike(one: PictureRun, other: PictureRun, *, sizes: bool) -> bool:
    if [panel.box for panel in one.panels] != [panel.box for panel in other.panels] or one.behind != other.behind:
        return False
    if one.tone != other.tone or [_lit(panel) for panel in one.panels] != [_lit(panel) for panel in other.panels]:
        return False
    return not sizes or all(
        abs(a - b) < _SAME
        for mine, theirs in zip(one.panels, other.panels, strict=True)
        for a, b in (
            (mine.keys[0].window.width, theirs.keys[0].window.width),
            (mine.keys[-1].window.width, theirs.keys[-1].window.width),
        )
    )
