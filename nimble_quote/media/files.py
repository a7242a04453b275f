"""The media root of this machine: the store, the disk it is on, and room for unfinished work.

media root / originals, derived, exports     the store, by key (`media/keys.py`)
             working   / ab / ab12…/…        parts of long work that are whole, to go on from after a kill
             uploads   / …                   what is being sent
             scratch   / …                   unfinished work, never shown
"""

import hashlib
import shutil
import tempfile
import unicodedata
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from nimble_quote.media.room import Room
from nimble_quote.media.store import FolderStore, MediaStore


class MediaRoot:
    """The folder that everything is kept under."""

    def __init__(self, folder: Path, reserve_bytes: int = 0) -> None:
        self.folder = folder.resolve()
        self.room = Room(folder=self.folder, reserve_bytes=reserve_bytes)
        self.store: MediaStore = FolderStore(self.folder)

    def prepare(self) -> None:
        """Makes the folders."""
        for name in ("originals", "derived", "exports", "working", "uploads", "scratch"):
            (self.folder / name).mkdir(parents=True, exist_ok=True)

    def working(self, content: str, name: str) -> Path:
        """A folder for the parts of long work on the recording with this SHA-256."""
        return self.folder / "working" / content[:2] / content / name

    @contextmanager
    def scratch(self, label: str) -> Iterator[Path]:
        """A folder for unfinished work, gone afterwards; leftovers of an earlier try under this label go first."""
        for old in (self.folder / "scratch").glob(f"{label}-*"):
            shutil.rmtree(old, ignore_errors=True)
        folder = Path(tempfile.mkdtemp(prefix=f"{label}-", dir=self.folder / "scratch"))
        try:
            yield folder
        finally:
            shutil.rmtree(folder, ignore_errors=True)


def content_of(path: Path) -> str:
    """The SHA-256 of a file, in hex."""
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def download_name(*parts: str, ending: str) -> str:
    """A file name for people, from titles: 'Talk - quote - shape.mp4', without what file systems refuse."""
    return named_by(" - ".join("{}" for _ in parts), ending, *parts)


def named_by(pattern: str, ending: str, *parts: str, **named: str) -> str:
    """The same, by a pattern with braces where each title goes; what the pattern itself says is made fit as well."""
    bare = "".join(" " if c in _REFUSED or unicodedata.category(c)[0] == "C" else c for c in pattern)
    text = bare.format(*map(_nameable, parts), **{name: _nameable(part) for name, part in named.items()})
    return f"{text[:150].strip(' .') or 'Untitled'}{ending}"


_REFUSED = '/\\:*?"<>|'


def _nameable(part: str) -> str:
    kept = "".join(" " if c in _REFUSED or unicodedata.category(c)[0] == "C" else c for c in part)
    return " ".join(kept.split())[:70].strip(" .…") or "Untitled"
