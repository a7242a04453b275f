"""Where media are kept: a port, and its side for a folder of this machine or one that is mounted there.

What there is is told by the rows of `media_file`, never by looking for a file.
"""

import os
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Protocol

from nimble_quote.media.keys import is_key


class MediaStore(Protocol):
    """Keeps files by their keys (`media/keys.py`)."""

    def stat(self, key: str) -> int | None:
        """The bytes of a file; None where there is none."""

    def local(self, key: str) -> Path:
        """A file on this machine's disk with the same content, for tools that read files. It is not to be changed.

        Raises `ValueError` where the key is none. The file may be missing: then reading it says so.
        """

    def put(self, made: Path, key: str) -> None:
        """Takes a finished file over, from the disk that the store's work folder is on: under its key it is there whole,
        also after the power failed, or not at all. One of the same key is replaced."""

    def remove(self, key: str) -> None:
        """Frees a file; one that is not there is no mistake."""

    def read(self, key: str, first: int = 0, count: int | None = None) -> bytes:
        """The bytes of a file from `first` on, `count` at most. Raises `FileNotFoundError`."""

    def url(self, key: str) -> str | None:
        """An address where a browser gets the file by itself; None where the server has to hand it over."""

    def every_key(self, older_than: float) -> Iterator[str]:
        """The keys of all files that were put there before a time (seconds since 1970)."""


@dataclass(frozen=True)
class FolderStore:
    """Media in a folder."""

    folder: Path

    def stat(self, key: str) -> int | None:
        """See the port."""
        try:
            return self.local(key).stat().st_size
        except FileNotFoundError:
            return None

    def local(self, key: str) -> Path:
        """See the port."""
        path = (self.folder / key).resolve()
        if not path.is_relative_to(self.folder):
            raise ValueError(f"{key!r} is outside the media root")
        return path

    def put(self, made: Path, key: str) -> None:
        """See the port."""
        put_in_place(made, self.local(key))

    def remove(self, key: str) -> None:
        """See the port."""
        path = self.local(key)
        path.unlink(missing_ok=True)
        for folder in path.relative_to(self.folder).parents[:-2]:
            try:
                (self.folder / folder).rmdir()
            except OSError:
                # There is something else in it, or it is gone.
                return

    def read(self, key: str, first: int = 0, count: int | None = None) -> bytes:
        """See the port."""
        with self.local(key).open("rb") as file:
            file.seek(first)
            return file.read(-1 if count is None else count)

    def url(self, key: str) -> str | None:
        """See the port."""
        return None

    def every_key(self, older_than: float) -> Iterator[str]:
        """See the port."""
        for name in ("originals", "derived", "exports"):
            for path in (self.folder / name).rglob("*"):
                key = path.relative_to(self.folder).as_posix()
                # By when its entry was changed: what is brought in keeps the time its owner last wrote to it.
                try:
                    if is_key(key) and path.stat().st_ctime < older_than:
                        yield key
                except FileNotFoundError:
                    # Freed while the others were looked at.
                    continue


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
