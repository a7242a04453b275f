"""Preparing a recording: a proxy to play, the peaks of its sound, the faces in its picture. Done steps are skipped."""

from nimble_quote.jobs.workshop import Workshop, spaced
from nimble_quote.media.analysis import find_faces, make_peaks, make_proxy
from nimble_quote.media.ffmpeg import MediaFailed, Progress
from nimble_quote.media.files import put_in_place
from nimble_quote.media.probe import SourceFacts, SourceRefused, probe_source
from nimble_quote.store import recordings
from nimble_quote.store.recordings import RecordingRow

PROXY, PEAKS = "proxy.mp4", "peaks.u8"


async def prepare_recording(shop: Workshop, recording_id: int) -> None:
    """Makes what a recording lacks, step by step, and says how far it is. A recording that is gone is passed over."""
    async with shop.pool.connection() as conn:
        recording = await recordings.one(conn, recording_id)
    try:
        facts = await probe_source(shop.media.inside(recording.media_path), recording.file_name)
        with shop.media.scratch(f"prepare-{recording_id}") as scratch:
            peaks = shop.media.derived(recording.content, PEAKS)
            if not peaks.exists():
                await _stage(shop, recording_id, "Drawing the waveform")
                await make_peaks(shop.media.inside(recording.media_path), scratch / PEAKS)
                put_in_place(scratch / PEAKS, peaks)
            proxy = shop.media.derived(recording.content, PROXY)
            if not proxy.exists():
                progress = await _stage(shop, recording_id, "Making a copy that plays smoothly")
                await make_proxy(shop.media.inside(recording.media_path), scratch / PROXY, facts, progress)
                put_in_place(scratch / PROXY, proxy)
        await _faces(shop, recording, facts)
    except (MediaFailed, SourceRefused, OSError) as failed:
        async with shop.pool.connection() as conn:
            await recordings.set_failed(conn, recording_id, str(failed))
        return
    async with shop.pool.connection() as conn:
        await recordings.set_ready(conn, recording_id)


async def _faces(shop: Workshop, recording: RecordingRow, facts: SourceFacts) -> None:
    if not facts.width:
        return
    progress = await _stage(shop, recording.id, "Looking for the speaker's face")
    proxy = shop.media.derived(recording.content, PROXY)
    faces = await find_faces(proxy, shop.face_model, facts, progress)
    async with shop.pool.connection() as conn:
        await recordings.replace_faces(conn, recording.id, faces)


async def _stage(shop: Workshop, recording_id: int, stage: str) -> Progress:
    async with shop.pool.connection() as conn:
        await recordings.set_stage(conn, recording_id, stage)

    async def report(part: float) -> None:
        async with shop.pool.connection() as conn:
            await recordings.set_progress(conn, recording_id, part)

    return spaced(report)
