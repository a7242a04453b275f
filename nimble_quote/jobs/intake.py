"""Taking a recording in: an upload checked, named by its content, put on the shelf, and queued for preparation.

The demo and the browser come in by the same way.
"""

import asyncio
import re
import shutil
from dataclasses import dataclass
from pathlib import Path

from nimble_quote.core.transcript.cues import timed_words
from nimble_quote.core.transcript.sentences import into_sentences
from nimble_quote.formats.reading.cuetext import clean
from nimble_quote.formats.transcripts import read_transcript
from nimble_quote.jobs.queue import PREPARE, enqueue
from nimble_quote.media.files import MediaRoot, content_of, put_in_place, safe_ending
from nimble_quote.media.probe import probe_source
from nimble_quote.store import recordings, transcripts
from nimble_quote.store.database import Connection


class AlreadyHere(RuntimeError):
    """The same recording is on the shelf."""


@dataclass(frozen=True, kw_only=True)
class Brought:
    """A file that was brought in, and what its owner calls it."""

    path: Path
    name: str


async def take_in(conn: Connection, media: MediaRoot, recording: Brought, transcript: Brought, title: str) -> int:
    """Puts a recording with its transcript on the shelf; its id.

    Everything is checked before anything is kept. Raises `TranscriptUnreadable`, `SourceRefused` or `AlreadyHere`;
    the brought files are left as they were then.
    """
    reading = read_transcript(transcript.name, transcript.path.read_bytes())
    facts = await probe_source(recording.path, recording.name)
    content = await asyncio.to_thread(content_of, recording.path)
    if known := await recordings.with_content(conn, content):
        raise AlreadyHere(f"{recording.name}: this recording is on the shelf already, as “{known[1]}”.")
    words = timed_words(reading.cues)
    final = media.original(content, safe_ending(recording.name))
    recording_id = await recordings.add(
        conn, title=title_from(title or recording.name), file_name=file_name_of(recording.name), content=content,
        media_path=media.relative(final), facts=facts, notes=[*reading.mended, *reading.left_out][:200],
    )  # fmt: skip
    await transcripts.add(conn, recording_id, words, into_sentences(words))
    await enqueue(conn, PREPARE, recording_id=recording_id)
    await asyncio.to_thread(_keep, recording.path, final)
    return recording_id


def file_name_of(name: str) -> str:
    """The last part of a name that came from outside, printable, for showing only."""
    return clean(re.split(r"[/\\]", name)[-1]).strip()[:255] or "recording"


def title_from(text: str) -> str:
    """A title, also from a file name: 'keep-the-wick-short.mp4' reads 'Keep the wick short'."""
    base = file_name_of(text)
    stem = re.sub(r"\.[A-Za-z0-9]{2,4}$", "", base)
    spaced = " ".join(re.sub(r"[-_]+", " ", stem).split()) if stem != base else base
    return (spaced[:1].upper() + spaced[1:])[:200] or "Untitled recording"


def _keep(brought: Path, final: Path) -> None:
    """A rename where both are on one disk, as uploads are; a copy put in place where they are not."""
    aside = final.with_suffix(".part")
    aside.parent.mkdir(parents=True, exist_ok=True)
    shutil.move(brought, aside)
    put_in_place(aside, final)
