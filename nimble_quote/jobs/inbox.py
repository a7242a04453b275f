"""The watched folder: a recording that is put into it is brought in, with the transcript of the same name beside it.

What was taken in leaves the folder. What can't be taken stays, and a text file beside it says why.
"""

import time
from dataclasses import dataclass, field
from pathlib import Path

from nimble_quote.formats.transcripts import READERS, TranscriptUnreadable
from nimble_quote.jobs.intake import AlreadyHere, Brought, take_in
from nimble_quote.jobs.workshop import Workshop
from nimble_quote.media.probe import SourceRefused

SETTLED_S = 4.0
"""A file that has not changed for so long has been copied whole."""
REASON = ".not-taken.txt"


@dataclass(frozen=True, kw_only=True)
class Arrival:
    """A recording in the inbox, and its transcript where one has the same name."""

    recording: Path
    transcript: Path | None = field(default=None)


def arrivals(inbox: Path, now: float) -> list[Arrival]:
    """What lies in an inbox, settled, and was not refused before."""
    files = {path for path in inbox.iterdir() if path.is_file() and not path.name.startswith(".")}
    words = {path.stem: path for path in sorted(files) if path.suffix.lower() in READERS}
    found = []
    for path in sorted(files):
        refused = path.with_name(path.name + REASON)
        if path.suffix.lower() in READERS or path.name.endswith(REASON):
            continue
        if refused in files and refused.stat().st_mtime >= path.stat().st_mtime:
            continue
        parts = [path, *([words[path.stem]] if path.stem in words else [])]
        if all(now - part.stat().st_mtime >= SETTLED_S for part in parts):
            found.append(Arrival(recording=path, transcript=words.get(path.stem)))
    return found


async def take_from_inbox(shop: Workshop) -> None:
    """Brings in what has arrived. A folder that is not there is made."""
    inbox = shop.settings.inbox
    if inbox is None:
        return
    inbox.mkdir(parents=True, exist_ok=True)
    for one in arrivals(inbox, time.time()):
        transcript = Brought(path=one.transcript, name=one.transcript.name) if one.transcript else None
        try:
            async with shop.pool.connection() as conn:
                await take_in(conn, shop.media, Brought(path=one.recording, name=one.recording.name), transcript)
        except (TranscriptUnreadable, SourceRefused, AlreadyHere) as refused:
            one.recording.with_name(one.recording.name + REASON).write_text(f"{refused}\n", encoding="utf-8")
            continue
        if one.transcript:
            one.transcript.unlink(missing_ok=True)
