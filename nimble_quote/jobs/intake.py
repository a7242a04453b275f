"""Taking a recording in: a file checked, named by its content, put on the shelf, and queued for preparation.

The demo, the browser, the command line, the inbox and web addresses all come in by the same way.
"""

import asyncio
import re
import shutil
from collections.abc import AsyncIterator, Callable, Sequence
from contextlib import AbstractAsyncContextManager, asynccontextmanager
from dataclasses import dataclass
from pathlib import Path
from uuid import uuid4

from nimble_quote.core.refusal import Conflict
from nimble_quote.formats.reading.cuetext import clean
from nimble_quote.jobs.reading import ReadWords, read_words
from nimble_quote.jobs.state import WorkerState
from nimble_quote.jobs.working import ask_for
from nimble_quote.media.files import MediaRoot, content_of
from nimble_quote.media.keys import derived_key, original_key, safe_ending
from nimble_quote.media.probe import probe_source
from nimble_quote.processes import Computing
from nimble_quote.store import media_files, pictures, recordings, transcripts
from nimble_quote.store.database import Connection
from nimble_quote.store.work import on_recording


class AlreadyHere(Conflict):
    """The same recording is on the shelf, or was removed from it and can be put back."""

    code = "already-here"

    def __init__(self, message: str, recording_id: int) -> None:
        super().__init__(message)
        self.recording_id = recording_id


@dataclass(frozen=True, kw_only=True)
class Brought:
    """A file that was brought in, what its owner calls it, and its SHA-256 where that is known; of a transcript, the encoding
    that its owner chose."""

    path: Path
    name: str
    content: str | None = None
    encoding: str | None = None


@dataclass(frozen=True, kw_only=True)
class Intake:
    """What taking in needs: connections to the database, the media root, processes to read transcripts in.

    No connection is held while a file is read, summed up or copied.
    """

    connect: Callable[[], AbstractAsyncContextManager[Connection]]
    media: MediaRoot
    computing: Computing


def intake_of(worker: WorkerState) -> Intake:
    """What taking in needs, of a worker."""
    return Intake(connect=worker.pool.connection, media=worker.media, computing=worker.computing)


async def take_in(
    intake: Intake,
    recording: Brought,
    transcript: Brought | None = None,
    title: str = "",
    series: str | None = None,
    *,
    waited: bool = True,
    made: Sequence[Path] = (),
) -> int:
    """Puts a recording on the shelf, with its transcript where it has one; its id. `waited`: whether somebody waits for it.
    `made`: files that preparing would make of it, and that are there already, under the names it would give them.

    Everything is checked before anything is kept. Raises `TranscriptUnreadable`, `SourceRefused`, `AlreadyHere` or
    `DiskFull`; the brought files are left as they were then.
    """
    facts = await probe_source(recording.path, recording.name)
    words = await _words(intake, transcript, facts.duration_ms) if transcript else None
    content = recording.content or str(await asyncio.to_thread(content_of, recording.path))
    key = original_key(content, safe_ending(recording.name))
    async with intake.connect() as conn:
        await _refuse_known(conn, content, recording.name)
    async with _ready(intake.media, recording.path, key) as ready, intake.connect() as conn:
        recording_id = await recordings.add(
            conn, title=title_from(title or recording.name), file_name=file_name_of(recording.name), content=content,
            media_path=key, facts=facts, series=series_from(series),
        )  # fmt: skip
        if recording_id is None:
            await _refuse_known(conn, content, recording.name)
            raise AssertionError("a recording that was not added is there already")
        if words is not None:
            await _keep_words(conn, recording_id, words)
        for one in made:
            await media_files.keep(conn, intake.media, one, derived_key(content, one.name), recording_id=recording_id)
        await ask_for(conn, "prepare", on_recording(recording_id), waited=waited)
        await media_files.keep(conn, intake.media, ready, key, recording_id=recording_id)
    return recording_id


@asynccontextmanager
async def _ready(media: MediaRoot, brought: Path, key: str) -> AsyncIterator[Path]:
    """A brought file on the disk of the store, to be put there in a moment: itself, as uploads are, or a copy.

    It goes back to where it was brought from where the block fails, and leaves there where it does not.
    """
    ready = brought
    if brought.stat().st_dev != media.folder.stat().st_dev:
        media.room.require(brought.stat().st_size)
        ready = media.folder / "scratch" / f"{uuid4().hex}.part"
        await asyncio.to_thread(shutil.copyfile, brought, ready)
    try:
        yield ready
    except BaseException:
        if not ready.exists() and media.store.stat(key) is not None:
            media.store.local(key).replace(ready)
        if ready != brought:
            ready.unlink(missing_ok=True)
        raise
    if ready != brought:
        brought.unlink(missing_ok=True)


class WouldLoseCorrections(Conflict):
    """The transcript that is to be replaced has corrections in it."""

    code = "would-lose-corrections"


async def attach_transcript(
    intake: Intake, recording_id: int, transcript: Brought, losing_corrections: bool = False
) -> None:
    """Gives a recording a transcript, instead of any it had.

    Raises `TranscriptUnreadable`, and `WouldLoseCorrections` where that is not meant to be.
    """
    async with intake.connect() as conn:
        row = await recordings.one(conn, recording_id)
    words = await _words(intake, transcript, row.duration_ms)
    async with intake.connect() as conn:
        head = await transcripts.head(conn, recording_id, lock=True)
        if head.revision and not losing_corrections:
            raise WouldLoseCorrections(
                f"The words of “{row.title}” were corrected here. {transcript.name} would take their place, and the "
                "corrections would be gone."
            )
        await _keep_words(conn, recording_id, words)
        if row.listened and await transcripts.has_estimates(conn, recording_id):
            await ask_for(conn, "align", on_recording(recording_id))


async def _words(intake: Intake, transcript: Brought, duration_ms: int) -> ReadWords:
    return await read_words(intake.computing, transcript.path, transcript.name, duration_ms, transcript.encoding)


async def _keep_words(conn: Connection, recording_id: int, words: ReadWords) -> None:
    await transcripts.keep(conn, recording_id, words.rows)
    await pictures.name_by_turns(conn, recording_id)
    await recordings.set_transcript_facts(
        conn, recording_id, origin="file", rough=words.rough, notes=words.notes, language=words.language
    )


async def _refuse_known(conn: Connection, content: str, name: str) -> None:
    known = await recordings.with_content(conn, content)
    if known is None:
        return
    row = await recordings.one(conn, known[0])
    if row.removed_at is not None:
        raise AlreadyHere(
            f"{name}: this recording was removed from the shelf as “{known[1]}”. Put it back there.", row.id
        )
    raise AlreadyHere(f"{name}: this recording is on the shelf already, as “{known[1]}”.", row.id)


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
