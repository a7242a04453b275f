"""The media root: where each file of a recording or an export stands, and how a file comes to be there whole.

media root / originals / ab / ab12….mp4      the recording, named by its content
             derived   / ab / ab12…/…        its proxy and peaks
             exports   / 17 / <attempt>.mp4  a finished clip, of the attempt that was counted
             scratch   / …                   unfinished work, never shown
"""

import hashlib
import os
import re
import shutil
import tempfile
import unicodedata
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from nimble_quote.media.room import Room

_HASH = re.compile(r"^[0-9a-f]{64}$")
_ENDING = re.compile(r"^\.[a-z0-9]{1,5}$")


class MediaRoot:
    """Paths under one folder. Nothing here is made from a name that came from outside."""

    def __init__(self, folder: Path, reserve_bytes: int = 0) -> None:
        self.folder = folder.resolve()
        self.room = Room(folder=self.folder, reserve_bytes=reserve_bytes)

    def prepare(self) -> None:
        """Makes the folders."""
        for name in ("originals", "derived", "exports", "scratch"):
            (self.folder / name).mkdir(parents=True, exist_ok=True)

    def original(self, content: str, ending: str) -> Path:
        """Where the recording with this SHA-256 stands."""
        if not _HASH.match(content) or not _ENDING.match(ending):
            raise ValueError("not a content hash and file ending")
        return self.folder / "originals" / content[:2] / f"{content}{ending}"

    def derived(self, content: str, name: str) -> Path:
        """Where something made from that recording stands."""
        if not _HASH.match(content):
            raise ValueError("not a content hash")
        return self.folder / "derived" / content[:2] / content / name

    def clips(self, export_id: int) -> Path:
        """Where the finished clip of an export stands, under the name of its attempt: one that was taken for dead and
        comes to its end all the same can't take the place of another's."""
        return self.folder / "exports" / str(int(export_id))

    def relative(self, path: Path) -> str:
        """A path as the database keeps it."""
        return path.relative_to(self.folder).as_posix()

    def inside(self, relative: str) -> Path:
        """A path from the database; raises `ValueError` where it would leave the root."""
        path = (self.folder / relative).resolve()
        if not path.is_relative_to(self.folder):
            raise ValueError(f"{relative!r} is outside the media root")
        return path

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


def put_in_place(made: Path, final: Path) -> None:
    """Gives a finished file its final name: flushed to disk first, then renamed, so that it is there whole or not."""
    final.parent.mkdir(parents=True, exist_ok=True)
    with made.open("rb") as file:
        os.fsync(file.fileno())
    made.replace(final)
    folder = os.open(final.parent, os.O_RDONLY)
    try:
        os.fsync(folder)
    finally:
        os.close(folder)


def content_of(path: Path) -> str:
    """The SHA-256 of a file, in hex."""
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def safe_ending(name: str) -> str:
    """The ending of a name that came from outside, in lower case, or `.bin` where it is odd."""
    ending = Path(name).suffix.lower()
    return ending if _ENDING.match(ending) else ".bin"


def download_name(*parts: str, ending: str) -> str:
    """A file name for people, from titles: 'Talk - quote - shape.mp4', without what file systems refuse."""
    text = " - ".join(_nameable(part) for part in parts)
    return f"{text[:150].rstrip(' .')}{ending}"


def _nameable(part: str) -> str:
    kept = "".join(" " if c in '/\\:*?"<>|' or unicodedata.category(c)[0] == "C" else c for c in part)
    return " ".join(kept.split())[:70].strip(" .…") or "Untitled"
