"""Taking a recording in: a file checked, named by its content, put on the shelf, and queued for preparation.

The demo, the browser, the command line, the inbox and web addresses all come in by the same way.
"""

import asyncio
import re
import shutil
from dataclasses import dataclass
from pathlib import Path

from nimble_quote.core.transcript.cues import Reading, is_rough, timed_words
from nimble_quote.core.transcript.document import transcript_of
from nimble_quote.formats.reading.cuetext import clean
from nimble_quote.formats.transcripts import read_transcript
from nimble_quote.jobs.prepare import heard
from nimble_quote.jobs.working import ask_for
from nimble_quote.media.files import MediaRoot, content_of, put_in_place, safe_ending
from nimble_quote.media.probe import probe_source
from nimble_quote.store import recordings, transcripts
from nimble_quote.store.database import Connection


class AlreadyHere(RuntimeError):
    """The same recording is on the shelf, or was removed from it and can be put back."""

    def __init__(self, message: str, recording_id: int) -> None:
        super().__init__(message)
        self.recording_id = recording_id


@dataclass(frozen=True, kw_only=True)
class Brought:
    """A file that was brought in, what its owner calls it, and its SHA-256 where that is known."""

    path: Path
    name: str
    content: str | None = None


async def take_in(
    conn: Connection,
    media: MediaRoot,
    recording: Brought,
    transcript: Brought | None = None,
    title: str = "",
    series: str | None = None,
) -> int:
    """Puts a recording on the shelf, with its transcript where it has one; its id.

    Everything is checked before anything is kept. Raises `TranscriptUnreadable`, `SourceRefused` or `AlreadyHere`;
    the brought files are left as they were then.
    """
    reading = read_transcript(transcript.name, transcript.path.read_bytes()) if transcript else None
    facts = await probe_source(recording.path, recording.name)
    content = recording.content or str(await asyncio.to_thread(content_of, recording.path))
    final = media.original(content, safe_ending(recording.name))
    recording_id = await recordings.add(
        conn, title=title_from(title or recording.name), file_name=file_name_of(recording.name), content=content,
        media_path=media.relative(final), facts=facts, series=series_from(series),
    )  # fmt: skip
    if recording_id is None:
        raise await _already_here(conn, content, recording.name)
    if reading is not None:
        await _keep_words(conn, recording_id, reading, facts.duration_ms)
    await ask_for(conn, "prepare", recording_id)
    await asyncio.to_thread(_keep, recording.path, final)
    return recording_id


class WouldLoseCorrections(RuntimeError):
    """The transcript that is to be replaced has corrections in it."""


async def attach_transcript(
    conn: Connection, media: MediaRoot, recording_id: int, transcript: Brought, losing_corrections: bool = False
) -> None:
    """Gives a recording a transcript, instead of any it had.

    Raises `TranscriptUnreadable`, and `WouldLoseCorrections` where that is not meant to be.
    """
    row = await recordings.one(conn, recording_id)
    head = await transcripts.head(conn, recording_id, lock=True)
    if head.revision and not losing_corrections:
        raise WouldLoseCorrections(
            f"The words of “{row.title}” were corrected here. {transcript.name} would take their place, and the "
            "corrections would be gone."
        )
    reading = read_transcript(transcript.name, transcript.path.read_bytes())
    await _keep_words(conn, recording_id, reading, row.duration_ms)
    if heard(media, row.content) and await transcripts.has_estimates(conn, recording_id):
        await ask_for(conn, "align", recording_id)


async def _keep_words(conn: Connection, recording_id: int, reading: Reading, duration_ms: int) -> None:
    await transcripts.keep(conn, recording_id, transcript_of(timed_words(reading.cues, duration_ms)))
    notes = [*reading.mended, *reading.left_out][:200]
    await recordings.set_transcript_facts(conn, recording_id, origin="file", rough=is_rough(reading.cues), notes=notes)


async def _already_here(conn: Connection, content: str, name: str) -> AlreadyHere:
    known = await recordings.with_content(conn, content)
    assert known is not None
    row = await recordings.one(conn, known[0])
    if row.removed_at is not None:
        return AlreadyHere(
            f"{name}: this recording was removed from the shelf as “{known[1]}”. Put it back there.", row.id
        )
    return AlreadyHere(f"{name}: this recording is on the shelf already, as “{known[1]}”.", row.id)


def file_name_of(name: str) -> str:
    """The last part of a name that came from outside, printable, for showing only."""
    return clean(re.split(r"[/\\]", name)[-1]).strip()[:255] or "recording"


def title_from(text: str) -> str:
    """A title, also from a file name: 'keep-the-wick-short.mp4' reads 'Keep the wick short'."""
    base = file_name_of(text)
    stem = re.sub(r"\.[A-Za-z0-9]{2,4}$", "", base)
    spaced = " ".join(re.sub(r"[-_]+", " ", stem).split()) if stem != base else base
    return (spaced[:1].upper() + spaced[1:])[:200] or "Untitled recording"


def series_from(text: str | None) -> str | None:
    """The name of a series as typed, tidied; None where nothing is left."""
    return " ".join(clean(text or "").split())[:120] or None


def _keep(brought: Path, final: Path) -> None:
    """A rename where both are on one disk, as uploads are; a copy put in place where they are not."""
    aside = final.with_suffix(".part")
    aside.parent.mkdir(parents=True, exist_ok=True)
    shutil.move(brought, aside)
    put_in_place(aside, final)
