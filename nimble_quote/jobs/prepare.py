"""Preparing a recording: what is heard and seen in it, and a proxy to play. What was done before is not done again.

derived / peaks-10.u8 …    the waveform at several zooms
          speech.json      where somebody speaks, and how loud it is
          sound.m4a        the sound of the proxy
          proxy.mp4        the proxy, where the original does not serve
          seen.json        cuts, faces and looks
working / looking / …      unfinished chunks of looking at the picture, gone when all is there
"""

import asyncio
import math
import shutil
from pathlib import Path

from nimble_quote.core.framing.shots import LOOK
from nimble_quote.core.talk import LEVEL_MS
from nimble_quote.core.timebase import Span, output_rate
from nimble_quote.jobs.working import Attempt, ask_for
from nimble_quote.media.coding import coding_of
from nimble_quote.media.keys import LISTENED, PROXY, SEEN, SOUND, SPEECH
from nimble_quote.media.listening import listen, peaks_name, read_speech, write_speech
from nimble_quote.media.probe import SourceFacts, probe_source
from nimble_quote.media.scanning import First, PictureScan
from nimble_quote.media.seen import VERSION, Heard, Seen, read_seen, seen_by, watched, write_seen
from nimble_quote.store import media_files, pictures, recordings, transcripts, work
from nimble_quote.store.database import Connection
from nimble_quote.store.recordings import RecordingRow

_LOOKING_FOLDER = "looking"
_SOUND_BYTES_S, _PROXY_BYTES_S = 20_000, 250_000
"""What a second of them takes, the picture twice: in chunks, and joined."""
_LISTENING, _LOOKING, _JOINED = 0.1, 0.88, 0.9
"""How far the whole work is when these are done."""


async def prepare(attempt: Attempt) -> None:
    """Makes what a recording lacks: the sound first, so that reading and cutting can begin before the rest is there."""
    recording = await _now(attempt)
    source = attempt.worker.media.store.local(recording.media_path)
    facts = await probe_source(source, recording.file_name)
    attempt.worker.media.room.require(_needed_bytes(recording, facts))
    with attempt.worker.media.scratch(f"prepare-{recording.id}") as scratch:
        if facts.sound_tracks:
            await _listen(attempt, recording, source, facts, scratch)
        if facts.width:
            await _look(attempt, await _now(attempt), source, facts, scratch)
        elif not facts.serves:
            await _sound_is_proxy(attempt, await _now(attempt), scratch)


async def _now(attempt: Attempt) -> RecordingRow:
    async with attempt.worker.pool.connection() as conn:
        return await recordings.one(conn, attempt.recording_id)


def _needed_bytes(recording: RecordingRow, facts: SourceFacts) -> int:
    """About what preparing will take on the disk: the proxy, and until it is done, the thumbnails of every frame."""
    seconds = facts.duration_ms / 1000
    sound = 0 if recording.listened else round(seconds * _SOUND_BYTES_S)
    if not facts.width:
        return sound
    proxy = 0 if facts.serves or PROXY in recording.made else round(seconds * _PROXY_BYTES_S)
    return sound + proxy + round(seconds * output_rate(facts.rate) * math.prod(LOOK))


async def _listen(attempt: Attempt, recording: RecordingRow, source: Path, facts: SourceFacts, scratch: Path) -> None:
    media = attempt.worker.media
    if not recording.listened:
        progress = await attempt.stage("Listening", 0.0, _LISTENING)
        found = await listen(source, recording.sound_track, facts.duration_ms, scratch, progress)
        write_speech(found, scratch / SPEECH)
        async with attempt.worker.pool.connection() as conn:
            for name in LISTENED:
                await _keep(conn, attempt, recording, scratch / name)
    async with attempt.worker.pool.connection() as conn:
        found = read_speech(media.store.local(recording.derived(SPEECH)))
        await recordings.set_loudness(conn, recording.id, found.loudness_lufs)
        if await transcripts.has_estimates(conn, recording.id):
            await ask_for(conn, "align", attempt.target, waited=attempt.row.waited)


async def _keep(conn: Connection, attempt: Attempt, recording: RecordingRow, made: Path) -> None:
    key = recording.derived(made.name)
    await media_files.keep(conn, attempt.worker.media, made, key, recording_id=recording.id)


async def _look(attempt: Attempt, recording: RecordingRow, source: Path, facts: SourceFacts, scratch: Path) -> None:
    # A proxy that is there is looked at instead of the original: it decodes several times as fast.
    proxied = facts.serves or PROXY in recording.made
    if proxied and (seen := _seen_before(attempt, recording)):
        await _keep_seen(attempt, recording, seen)
        return
    media = attempt.worker.media
    looked_at = media.store.local(recording.plays)
    scan = PictureScan(
        source=looked_at,
        facts=facts,
        model=attempt.worker.settings.face_model,
        folder=media.working(recording.content, _LOOKING_FOLDER),
        proxied=proxied,
        coding=await coding_of(looked_at),
        chunk_s=attempt.worker.settings.chunk_s,
    )
    progress = await attempt.stage("Looking for cuts and faces", _LISTENING, _LOOKING)
    await scan.scan(scratch, progress, _first(attempt, recording, scan))
    await attempt.stage("Putting it together", _LOOKING, _JOINED)
    if not proxied:
        sound = media.store.local(recording.derived(SOUND)) if facts.sound_tracks else None
        await scan.join_proxy(sound, scratch / PROXY, scratch)
    seen = await asyncio.to_thread(seen_by, scan, recording.duration_ms)
    seen = await watched(
        seen, recording.duration_ms, _heard(attempt, recording, facts), looked_at if proxied else scratch / PROXY, facts,
        attempt.worker.settings.face_mesh, await attempt.stage("Following who turns away, and who speaks", _JOINED),
    )  # fmt: skip
    write_seen(seen, scratch / SEEN)
    await _keep_seen(attempt, recording, seen, *([] if proxied else [scratch / PROXY]), scratch / SEEN)
    shutil.rmtree(scan.folder, ignore_errors=True)


def _first(attempt: Attempt, recording: RecordingRow, scan: PictureScan) -> First:
    """The stretch of the quote that somebody opened meanwhile: it is looked at before the rest, and what is seen in it is told
    at once. It is looked at again, and better, with the whole."""

    async def wanted() -> Span | None:
        async with attempt.worker.pool.connection() as conn:
            details = (await work.one(conn, attempt.row.id)).details
        first = details.get("first")
        return Span(start_ms=first[0], end_ms=first[1]) if first else None

    async def made(chunks: range) -> None:
        if SEEN in recording.made:
            # What is known of all of it stays until there is more.
            return
        seen = await asyncio.to_thread(seen_by, scan, recording.duration_ms, chunks)
        async with attempt.worker.pool.connection() as conn:
            await pictures.replace_found(conn, recording.id, seen.changes, seen.tracks)
            await pictures.replace_looks(conn, recording.id, seen.looks)
            await pictures.name_by_turns(conn, recording.id)

    return First(wanted=wanted, made=made)


def _heard(attempt: Attempt, recording: RecordingRow, facts: SourceFacts) -> Heard | None:
    """What is heard in a recording; None where it has no sound."""
    if not facts.sound_tracks:
        return None
    store = attempt.worker.media.store
    peaks = store.local(recording.derived(peaks_name(LEVEL_MS))).read_bytes()
    return Heard(speech=tuple(read_speech(store.local(recording.derived(SPEECH))).speech), peaks=peaks)


def _seen_before(attempt: Attempt, recording: RecordingRow) -> Seen | None:
    if SEEN not in recording.made:
        return None
    return read_seen(attempt.worker.media.store.local(recording.derived(SEEN)))


async def _keep_seen(attempt: Attempt, recording: RecordingRow, seen: Seen, *made: Path) -> None:
    """Ends the attempt with what was seen, and the files that were made meanwhile."""
    async with attempt.ending() as conn:
        for one in made:
            await _keep(conn, attempt, recording, one)
        await pictures.replace_found(conn, recording.id, seen.changes, seen.tracks)
        await recordings.set_seen_version(conn, recording.id, VERSION)
        await pictures.replace_looks(conn, recording.id, seen.looks)
        await pictures.replace_graphics(conn, recording.id, seen.graphics)
        await pictures.name_by_turns(conn, recording.id)


async def _sound_is_proxy(attempt: Attempt, recording: RecordingRow, scratch: Path) -> None:
    """A recording without picture plays from its proxied sound alone."""
    if PROXY not in recording.made:
        shutil.copyfile(attempt.worker.media.store.local(recording.derived(SOUND)), scratch / PROXY)
        async with attempt.worker.pool.connection() as conn:
            await _keep(conn, attempt, recording, scratch / PROXY)
