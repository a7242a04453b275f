"""Making a clip: rendered aside, measured, given its name, and only then called done."""

from collections.abc import Mapping

from nimble_quote.core.assembly import RECORDING, Assembly
from nimble_quote.core.captions.cues import WrittenCue
from nimble_quote.core.credits import credits_of
from nimble_quote.core.preflight import judge_file
from nimble_quote.core.verdicts import Overruled
from nimble_quote.jobs.state import WorkerState
from nimble_quote.jobs.working import Attempt, WorkFailed, ask_for
from nimble_quote.media.keys import clip_key, cover_key
from nimble_quote.media.measure import measure_clip
from nimble_quote.media.render import Source, render, render_cover
from nimble_quote.media.sound import decoded
from nimble_quote.store import exports, house, house_sounds, media_files, recordings, work
from nimble_quote.store.database import Connection
from nimble_quote.store.exports import MadeClip
from nimble_quote.store.recordings import RecordingRow
from nimble_quote.store.work import AttemptLost, Target

_MEASURING = 0.99
_BYTES_A_MS = 2000
"""The most that a clip takes while it is made: its picture at the encoder's highest rate, its sound twice as WAV."""


async def ask_for_export(
    conn: Connection, quote_id: int, revision: int, assembly: Assembly, overruled: tuple[Overruled, ...] = ()
) -> int | None:
    """Asks for the clip of a version, in the connection's transaction; the id of its export, or None where just this is
    being made already.

    `overruled` are stops that it is exported with all the same. One of an older revision that nobody has begun gives way to it; one that is being made is made to its end.
    """
    destination = assembly.destination.id
    for older in await exports.older_waiting(conn, quote_id, destination, revision):
        await work.request_stop(conn, older)
    export_id = await exports.add(conn, quote_id, revision, assembly, overruled)
    target = Target(name=f"quote {quote_id} {destination} {revision}", export_id=export_id)
    if (await ask_for(conn, "export", target)).new:
        return export_id
    await exports.drop(conn, export_id)
    return None


async def export_clip(attempt: Attempt) -> None:
    """Renders, measures and keeps the clip of an export, afresh at each attempt. Where the attempt is lost, also at the very
    end, nothing of it is kept."""
    worker = attempt.worker
    async with worker.pool.connection() as conn:
        row = await exports.one(conn, attempt.export_id)
        recording = await recordings.one(conn, row.recording_id)
        assembly = await worker.contexts.assembly_of(conn, row.quote_id, row.revision, row.destination)
        pictures = await house.pictures(conn, assembly.house_pictures)
        kept = await house_sounds.contents(conn, assembly.house_sounds)
        catalogue = await worker.contexts.catalogues.now(conn)
        others = await recordings.many(conn, sorted({one.recording for one in assembly.footage}))
        faces = await worker.contexts.lettering_now(conn)
    worker.media.room.require(round(assembly.length_ms * _BYTES_A_MS))
    key = clip_key(row.id, attempt.token)
    with worker.media.scratch(f"export-{row.id}") as scratch:
        progress = await attempt.stage("Making the clip", 0.0, _MEASURING)
        sources = {RECORDING: _source(worker, recording), **_footage(worker, assembly, others)}
        sounds = {number: await decoded(content) for number, content in kept.items()}
        clip = await render(assembly, sources, faces, scratch, progress, pictures, sounds)
        cover = await render_cover(assembly, sources, faces, scratch, pictures)
        await attempt.stage("Checking the clip", _MEASURING)
        facts = await measure_clip(clip)
        made = MadeClip(
            file_path=key,
            frames=assembly.frames,
            facts=facts,
            findings=judge_file(facts, assembly),
            cues=tuple(WrittenCue.of(cue) for track in assembly.cue_tracks for cue in track.cues),
            credits=credits_of(assembly, catalogue),
        )
        files = {key: clip} | {cover_key(key, one.suffix[1:]): one for one in cover or ()}
        try:
            async with attempt.ending() as conn:
                for name, made_file in files.items():
                    await media_files.keep(conn, worker.media, made_file, name, export_id=row.id)
                await exports.keep_clip(conn, row.id, made)
        except AttemptLost:
            # Only then: after anything else the rows may have been committed, and a clip that they name must stay.
            for name in files:
                worker.media.store.remove(name)
            raise


def _footage(worker: WorkerState, assembly: Assembly, others: Mapping[int, RecordingRow]) -> dict[str, Source]:
    """The other recordings that a clip shows pieces of, by what they are called in it. Raises `WorkFailed` where one is gone."""
    for one in assembly.footage:
        if one.recording not in others:
            raise WorkFailed(
                "The recording that footage is shown of was removed. Choose another in Finish, or remove it."
            )
    return {one.source: _source(worker, others[one.recording]) for one in assembly.footage}


def _source(worker: WorkerState, recording: RecordingRow) -> Source:
    return Source(
        path=worker.media.store.local(recording.media_path),
        sound_track=recording.sound_track if recording.sound_tracks else None,
    )
