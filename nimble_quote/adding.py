"""Bringing files in from the command line, through the running application's own door: its uploads go on where they broke."""

import sys
from base64 import b64encode
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import httpx

from nimble_quote.formats.transcripts import READERS, TranscriptUnreadable

_BLOCK = 8 << 20
_TIMEOUT_S = 120


class NotAdded(RuntimeError):
    """A file that was not brought in; the message says why, the code tells programs."""

    def __init__(self, message: str, code: str = "") -> None:
        super().__init__(message)
        self.code = code


@dataclass(frozen=True, kw_only=True)
class _Door:
    """The running application."""

    port: int

    def ask(self, method: str, path: str, **more: Any) -> httpx.Response:
        """The answer of the application. Raises `NotAdded` with what it said where it refused."""
        try:
            answer = httpx.request(method, f"http://127.0.0.1:{self.port}{path}", timeout=_TIMEOUT_S, **more)
        except httpx.HTTPError as away:
            raise NotAdded(f"Nimble Quote does not answer on port {self.port} ({away}). Is ./run going?") from away
        if not answer.is_success:
            raise NotAdded(*_why(answer))
        return answer


def add_files(files: list[Path], transcript: Path | None, series: str | None, port: int) -> int:
    """Brings files in, one after another, and says how each went; 1 where one was not brought in."""
    media = [file for file in files if file.suffix.lower() not in READERS]
    words = {file.stem: file for file in files if file.suffix.lower() in READERS}
    if transcript is not None and len(media) != 1:
        print("--transcript goes with one recording only.", file=sys.stderr)
        return 1
    failed = 0
    for file in media:
        beside = [file.with_suffix(ending) for ending in READERS]
        found = words.get(file.stem) or next((path for path in beside if path.is_file()), None)
        try:
            print(
                f"{file}: {_added(_Door(port=port), file, transcript or found, series, named=transcript is not None)}"
            )
        except NotAdded as why:
            failed = 1
            print(f"{file}: {why}", file=sys.stderr)
    return failed


def _added(door: _Door, file: Path, transcript: Path | None, series: str | None, *, named: bool) -> str:
    """How a recording went onto the shelf. A file that was only found beside it may be something else: then it goes on
    without. Raises `NotAdded`."""
    media = {"upload": _send(door, file), "name": file.name}
    try:
        title = _add(door, media, transcript, series)
        return f"on the shelf as “{title}”{f', with {transcript.name}' if transcript else ''}"
    except NotAdded as why:
        if named or transcript is None or why.code != TranscriptUnreadable.code:
            raise
        return f"on the shelf as “{_add(door, media, None, series)}”, without a transcript ({why})"


def _add(door: _Door, media: dict[str, str], transcript: Path | None, series: str | None) -> str:
    """Puts an upload on the shelf; its title there."""
    body: dict[str, Any] = {"series": series, "recording": media}
    if transcript is not None:
        body["transcript"] = {"upload": _send(door, transcript), "name": transcript.name}
    return str(door.ask("POST", "/api/recordings", json=body).json()["title"])


def _send(door: _Door, file: Path) -> str:
    """Sends a file, from where an earlier try broke off; the id of its upload."""
    try:
        told = file.stat()
    except OSError as missing:
        raise NotAdded(f"it can't be read ({missing.strerror}).") from missing
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


def _why(answer: httpx.Response) -> tuple[str, str]:
    """What a refusal says, and its code."""
    try:
        problem = answer.json()
        return str(problem["detail"]), str(problem.get("code", ""))
    except (ValueError, KeyError):
        return f"the application answered {answer.status_code}.", ""
