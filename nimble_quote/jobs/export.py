"""Making a clip: rendered aside, measured, given its name, and only then called done."""

import asyncio
from uuid import UUID, uuid4

from nimble_quote.core.assembly import RECORDING
from nimble_quote.core.captions.timing import WrittenCue
from nimble_quote.core.preflight import judge_file
from nimble_quote.jobs.queue import enqueue_export
from nimble_quote.jobs.working import MOST_TRIES, WorkFailed, for_people, gave_up, in_the_log
from nimble_quote.jobs.workshop import Workshop, spaced
from nimble_quote.media.ffmpeg import MediaFailed
from nimble_quote.media.files import put_in_place
from nimble_quote.media.measure import measure_clip
from nimble_quote.media.render import Source, render
from nimble_quote.media.room import DiskFull
from nimble_quote.store import exports, recordings
from nimble_quote.store.exports import AttemptLost, CancelRequested, ExportRow, MadeClip
from nimble_quote.store.recordings import RecordingRow

_MEASURING = 0.99
_BYTES_A_MS = 2000
"""The most that a clip takes while it is made: its picture at the encoder's highest rate, its sound twice as WAV."""


async def export_clip(shop: Workshop, export_id: int) -> None:
    """Makes the clip of an export. May be killed at any moment and run again: the next try begins afresh."""
    attempt = uuid4()
    async with shop.pool.connection() as conn:
        if not await exports.begin(conn, export_id, attempt):
            await exports.set_cancelled(conn, export_id)
            return
        row = await exports.one(conn, export_id)
    try:
        if row.tries > MOST_TRIES:
            raise WorkFailed(gave_up(row.tries - 1))
        await _make(shop, row, attempt)
    except AttemptLost:
        return
    except asyncio.CancelledError:
        await asyncio.shield(_hand_back(shop, export_id, attempt))
        raise
    except CancelRequested:
        async with shop.pool.connection() as conn:
            await exports.set_cancelled(conn, export_id)
    except (MediaFailed, DiskFull, WorkFailed, OSError) as failed:
        async with shop.pool.connection() as conn:
            await exports.fail(conn, export_id, attempt, for_people(failed, shop.media.room, "export it again"))
    except Exception as unforeseen:
        async with shop.pool.connection() as conn:
            await exports.fail(conn, export_id, attempt, in_the_log(unforeseen, "export it again"))
        raise


async def _make(shop: Workshop, row: ExportRow, attempt: UUID) -> None:
    """Renders, measures and keeps a clip. Raises `AttemptLost`, also at the very end: then nothing of it is kept."""
    async with shop.pool.connection() as conn:
        recording = await recordings.one(conn, row.recording_id)
        assembly = await shop.contexts.assembly_of(conn, row.quote_id, row.revision, row.destination)

    async def report(part: float) -> None:
        shop.media.room.require()
        async with shop.pool.connection() as conn:
            await exports.report(conn, row.id, attempt, min(part, _MEASURING))

    shop.media.room.require(round(assembly.length_ms * _BYTES_A_MS))
    final = shop.media.clips(row.id) / f"{attempt}.mp4"
    with shop.media.scratch(f"export-{row.id}") as scratch:
        clip = await render(assembly, {RECORDING: _source(shop, recording)}, shop.fonts, scratch, spaced(report))
        facts = await measure_clip(clip)
        await report(_MEASURING)
        await asyncio.to_thread(put_in_place, clip, final)
    try:
        async with shop.pool.connection() as conn:
            cues = tuple(WrittenCue.of(cue) for track in assembly.cue_tracks for cue in track.cues)
            made = MadeClip(
                file_path=shop.media.relative(final), frames=assembly.frames, facts=facts,
                findings=judge_file(facts, assembly), cues=cues,
            )  # fmt: skip
            await exports.finish(conn, row.id, attempt, made)
    except AttemptLost:
        # Only then: after anything else the row may have been committed, and a clip that it names must stay.
        final.unlink(missing_ok=True)
        raise


def _source(shop: Workshop, recording: RecordingRow) -> Source:
    return Source(
        path=shop.media.inside(recording.media_path),
        sound_track=recording.sound_track if recording.sound_tracks else None,
    )


async def _hand_back(shop: Workshop, export_id: int, attempt: UUID) -> None:
    async with shop.pool.connection() as conn:
        if await exports.hand_back(conn, export_id, attempt):
            await enqueue_export(conn, export_id)
