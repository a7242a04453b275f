"""Bringing files in from the command line, through the running application's own door: its uploads go on where they broke."""

import sys
from base64 import b64encode
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from nimble_quote.asking import Door, NotDone
from nimble_quote.formats.transcripts import READERS, TranscriptUnreadable

_BLOCK = 8 << 20


@dataclass(frozen=True, kw_only=True)
class Added:
    """How a file went: the recording that it is, or why it was not brought in."""

    file: str
    recording: int | None = None
    title: str | None = None
    note: str = ""
    problem: str | None = None

    @property
    def said(self) -> str:
        return f"{self.file}: " + (self.problem or f"on the shelf as “{self.title}”{self.note}")


def add_files(files: list[Path], transcript: Path | None, series: str | None, door: Door) -> list[Added]:
    """Brings files in, one after another. Raises `NotDone` where the files don't go together."""
    media = [file for file in files if file.suffix.lower() not in READERS]
    words = {file.stem: file for file in files if file.suffix.lower() in READERS}
    if transcript is not None and len(media) != 1:
        raise NotDone("--transcript goes with one recording only.")
    out = []
    for file in media:
        beside = [file.with_suffix(ending) for ending in READERS]
        found = words.get(file.stem) or next((path for path in beside if path.is_file()), None)
        try:
            out.append(_added(door, file, transcript or found, series, named=transcript is not None))
        except NotDone as why:
            out.append(Added(file=str(file), problem=str(why)))
    return out


def _added(door: Door, file: Path, transcript: Path | None, series: str | None, *, named: bool) -> Added:
    """How a recording went onto the shelf. A file that was only found beside it may be something else: then it goes on
    without. Raises `NotDone`."""
    media = {"upload": _send(door, file), "name": file.name}
    try:
        made = _add(door, media, transcript, series)
        note = f", with {transcript.name}" if transcript else ""
    except NotDone as why:
        if named or transcript is None or why.code != TranscriptUnreadable.code:
            raise
        made, note = _add(door, media, None, series), f", without a transcript ({why})"
    return Added(file=str(file), recording=int(made["id"]), title=str(made["title"]), note=note)


def _add(door: Door, media: dict[str, str], transcript: Path | None, series: str | None) -> dict[str, Any]:
    """Puts an upload on the shelf; the recording that it is there."""
    body: dict[str, Any] = {"series": series, "recording": media}
    if transcript is not None:
        body["transcript"] = {"upload": _send(door, transcript), "name": transcript.name}
    return dict(door.ask("POST", "/api/recordings", json=body).json())


def _send(door: Door, file: Path) -> str:
    """Sends a file, from where an earlier try broke off; the id of its upload."""
    try:
        told = file.stat()
    except OSError as missing:
        raise NotDone(f"it can't be read ({missing.strerror}).") from missing
    fingerprint = f"{file.name}:{told.st_size}:{int(told.st_mtime * 1000)}"
    begun = next((u for u in door.ask("GET", "/api/uploads").json() if u["fingerprint"] == fingerprint), None)
    if begun:
        upload, offset = str(begun["id"]), int(begun["offset"])
    else:
        told_of = f"filename {_coded(file.name)},fingerprint {_coded(fingerprint)}"
        headers = {"Upload-Length": str(told.st_size), "Upload-Metadata": told_of}
        made = door.ask("POST", "/api/uploads", headers=headers)
        upload, offset = made.headers["location"].rsplit("/", 1)[1], 0
    with file.open("rb") as source:
        source.seek(offset)
        while offset < told.st_size:
            block = source.read(_BLOCK)
            headers = {"Content-Type": "application/offset+octet-stream", "Upload-Offset": str(offset)}
            door.ask("PATCH", f"/api/uploads/{upload}", content=block, headers=headers)
            offset += len(block)
            if sys.stderr.isatty():
                print(f"\r{file.name}: {offset * 100 // told.st_size} %", end="", file=sys.stderr)
    if sys.stderr.isatty():
        print("\r\033[K", end="", file=sys.stderr)
    return upload


def _coded(text: str) -> str:
    return b64encode(text.encode()).decode()
