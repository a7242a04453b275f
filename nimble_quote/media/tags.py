"""What is written into files of what they are: a title, who speaks, when, and whose it is. Nothing else: no names of files, people
or programs of this machine."""

import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass

from nimble_quote.core.chapters import Chapter

_LONGEST = 200


@dataclass(frozen=True, kw_only=True)
class Tags:
    """What is told of a clip; what is empty is not told."""

    title: str = ""
    artist: str = ""
    date: str = ""
    copyright: str = ""

    @property
    def options(self) -> list[str]:
        """As options of ffmpeg, which write these and nothing of the sources or of the program."""
        told = {"title": self.title, "artist": self.artist, "date": self.date, "copyright": self.copyright}
        written = [
            part
            for name, value in told.items()
            if (clean := _clean(value))
            for part in ("-metadata", f"{name}={clean}")
        ]
        return ["-map_metadata:g", "-1", "-map_metadata:s", "-1", "-fflags", "+bitexact", *written]


def chapters_file(chapters: Sequence[Chapter]) -> str:
    """Chapters as a file of metadata that ffmpeg reads."""
    parts = [
        f"[CHAPTER]\nTIMEBASE=1/1000\nSTART={one.start_ms}\nEND={one.end_ms}\ntitle={_escaped(_clean(one.title))}\n"
        for one in chapters
    ]
    return ";FFMETADATA1\n" + "".join(parts)


def _clean(text: str) -> str:
    kept = "".join(" " if unicodedata.category(c)[0] == "C" else c for c in text)
    return " ".join(kept.split())[:_LONGEST]


def _escaped(text: str) -> str:
    return "".join(f"\\{c}" if c in "=;#\\\n" else c for c in text)
