"""The table of what was measured."""

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


def print_table(rows: list[Row]) -> None:
    """Prints the rows under one another."""
    cells = [("what", "measured", "baseline in the same run", "aim", "met")]
    cells += [(row.what, row.measured, row.baseline, row.aim, "yes" if row.met else "NO") for row in rows]
    widths = [max(len(row[i]) for row in cells) for i in range(5)]
    for row in cells:
        print("  ".join(cell.ljust(width) for cell, width in zip(row, widths, strict=True)).rstrip())


def spread(values: list[float]) -> str:
    """The median and the slowest twentieth of some milliseconds."""
    ordered = sorted(values)
    return f"{median(ordered):.0f} ms (95 %: {ordered[min(len(ordered) - 1, int(len(ordered) * 0.95))]:.0f} ms)"
