"""The table of what was measured."""

import os
from dataclasses import dataclass
from statistics import median


@dataclass(frozen=True, kw_only=True)
class Row:
    """A measurement, its baseline, and what it should be. Values in the row's own unit."""

    what: str
    measured: str
    baseline: str
    aim: str
    met: bool


WIDTHS = (64, 44, 40, 30)


def print_head() -> None:
    """Prints what the columns are."""
    _print("what", "measured", "baseline in the same run", "aim", "met", "busy")


def print_row(row: Row) -> None:
    """Prints a row as it is measured, and how busy the machine was: runnable processes for each core in the last minute."""
    busy = os.getloadavg()[0] / (os.cpu_count() or 1)
    _print(row.what, row.measured, row.baseline, row.aim, "yes" if row.met else "NO", f"{busy:.1f}")


def _print(*cells: str) -> None:
    padded = [cell.ljust(width) for cell, width in zip(cells, WIDTHS, strict=False)]
    print("  ".join([*padded, *cells[len(WIDTHS) :]]).rstrip(), flush=True)


def spread(values: list[float]) -> str:
    """The median and the slowest twentieth of some milliseconds."""
    ordered = sorted(values)
    return f"{median(ordered):.0f} ms (95 %: {ordered[min(len(ordered) - 1, int(len(ordered) * 0.95))]:.0f} ms)"
