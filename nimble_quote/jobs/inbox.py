"""The watched folder: a recording that is put into it is brought in, with the transcript of the same name beside it.

What was taken in leaves the folder. What can't be taken stays, whatever is wrong with it, and a text file beside it says
why; the others go on.
"""

import hashlib
import logging
import time
from dataclasses import dataclass, field
from pathlib import Path

import psycopg

from nimble_quote.formats.transcripts import READERS, TranscriptUnreadable
from nimble_quote.jobs.intake import AlreadyHere, Brought, intake_of, take_in
from nimble_quote.jobs.state import WorkerState
from nimble_quote.media.probe import SourceRefused
from nimble_quote.media.room import DiskFull, is_full

SETTLED_S = 4.0
"""A file that has not changed for so long has been copied whole."""
REASON = ".not-taken.txt"
_LONGEST_NAME = 255
"""Bytes, on the usual file systems."""
_log = logging.getLogger(__name__)


@dataclass(frozen=True, kw_only=True)
class Arrival:
    """A recording in the inbox, and its transcript where one has the same name."""

    recording: Path
    transcript: Path | None = field(default=None)


def arrivals(inbox: Path, now: float) -> list[Arrival]:
    """What lies in an inbox, settled, and was not refused before."""
    files = {
        path for path in inbox.iterdir() if not path.name.startswith(".") and (path.is_symlink() or path.is_file())
    }
    words = {path.stem: path for path in sorted(files) if path.suffix.lower() in READERS and not path.is_symlink()}
    found = []
    for path in sorted(files):
        if path.suffix.lower() in READERS or path.name.endswith(REASON):
            continue
        reason, beside = reason_file(path), words.get(path.stem)
        if reason in files and _changed_at(reason) >= _changed_at(path):
            continue
        if all(now - _changed_at(part) >= SETTLED_S for part in (path, *([beside] if beside else []))):
            found.append(Arrival(recording=path, transcript=beside))
    return found


def reason_file(path: Path) -> Path:
    """The file that says why another was not taken; under a name that is short enough, however long the other's is."""
    name = path.name + REASON
    if len(name.encode(errors="surrogateescape")) > _LONGEST_NAME:
        name = f"{path.name[:40]}-{hashlib.sha256(path.name.encode(errors='surrogateescape')).hexdigest()[:12]}{REASON}"
    return path.with_name(name)


def _changed_at(path: Path) -> float:
    """The second at which a file was last changed; one that is gone meanwhile is changing now."""
    try:
        return path.lstat().st_mtime
    except OSError:
        return time.time()


async def take_from_inbox(worker: WorkerState) -> None:
    """Brings in what has arrived. A folder that is not there is made."""
    inbox = worker.settings.inbox
    if inbox is None:
        return
    inbox.mkdir(parents=True, exist_ok=True)
    for one in arrivals(inbox, time.time()):
        try:
            await _take(worker, one)
        except psycopg.OperationalError:
            # Nothing is wrong with the file.
            raise
        except Exception as refused:
            _set_aside(one.recording, _why(refused, worker))


async def _take(worker: WorkerState, one: Arrival) -> None:
    if one.recording.is_symlink():
        raise SourceRefused(f"{one.recording.name}: this is a link to another place. Put the recording itself here.")
    transcript = Brought(path=one.transcript, name=one.transcript.name) if one.transcript else None
    recording = Brought(path=one.recording, name=one.recording.name)
    try:
        await take_in(intake_of(worker), recording, transcript, waited=False)
    except TranscriptUnreadable as refused:
        # A file of the same name may be something else. The recording need not wait for that.
        await take_in(intake_of(worker), recording, waited=False)
        assert one.transcript is not None
        _set_aside(one.transcript, f"{refused} Its recording was brought in without it.")
        return
    if one.transcript:
        one.transcript.unlink(missing_ok=True)


def _why(refused: Exception, worker: WorkerState) -> str:
    if isinstance(refused, SourceRefused | AlreadyHere | DiskFull):
        return str(refused)
    if isinstance(refused, OSError) and is_full(refused):
        return str(worker.media.room.full())
    _log.error("a file in the inbox could not be taken", exc_info=refused)
    return f"It could not be brought in ({type(refused).__name__}); what happened is in the worker's log."


def _set_aside(recording: Path, why: str) -> None:
    try:
        text = f"{why}\nDelete this file to try again.\n"
        reason_file(recording).write_text(text, encoding="utf-8", errors="replace")
    except OSError as unwritable:
        _log.error("the reason could not be written beside a file in the inbox: %s", unwritable)
