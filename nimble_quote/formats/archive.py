"""Zip files (APPNOTE 6.3.9) that are made while they are sent: nothing is packed closer, so that their length is known before, and no
more of them is held than a block."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path

from zipstream import ZipStream


@dataclass(frozen=True, kw_only=True)
class Packed:
    """What goes into an archive, by the names it has there: files, and texts."""

    files: Mapping[str, Path] = field(default_factory=dict)
    texts: Mapping[str, bytes] = field(default_factory=dict)


def zip_of(packed: Sequence[Packed]) -> ZipStream:
    """An archive to be iterated over once, whose `len` is its length in bytes. A name that comes twice is told apart by a number."""
    archive = ZipStream(sized=True)
    taken: set[str] = set()
    for one in packed:
        for name, path in one.files.items():
            archive.add_path(path, _own(name, taken))
        for name, text in one.texts.items():
            archive.add(text, _own(name, taken))
    return archive


def _own(name: str, taken: set[str]) -> str:
    stem, dot, ending = name.rpartition(".")
    chosen, number = name, 2
    while chosen.casefold() in taken:
        chosen, number = f"{stem} ({number}){dot}{ending}", number + 1
    taken.add(chosen.casefold())
    return chosen
