"""A file that pictures and sound are read from."""

from dataclasses import dataclass
from pathlib import Path


@dataclass(frozen=True, kw_only=True)
class Source:
    """A file to read pictures from, and which of its sound tracks is heard; None where it has none."""

    path: Path
    sound_track: int | None = 0
