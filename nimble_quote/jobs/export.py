"""Making a clip: rendered aside, measured, given its name, and only then called done."""

from uuid import uuid4

from nimble_quote.core.assembly import Assembly
from nimble_quote.core.preflight import judge_file
from nimble_quote.jobs.working import in_the_log
from nimble_quote.jobs.workshop import Workshop, spaced
from nimble_quote.media.ffmpeg import MediaFailed
from nimble_quote.media.files import put_in_place
from nimble_quote.media.measure import measure_clip
from nimble_quote.media.renderer import Source, render
from nimble_quote.store import exports, recordings
from nimble_quote.store.exports import AttemptLost, CancelRequested

_MEASURING = 0.99


async def export_clip(shop: Workshop, export_id: int) -> None:
    """Makes the clip of an export. May be killed at any moment and run again: the next try begins afresh."""
    attempt = uuid4()
    async with shop.pool.connection() as conn:
        if not await exports.begin(conn, export_id, attempt):
            await exports.set_cancelled(conn, export_id)
            return
        row = await exports.one(conn, export_id)
        recording = await recordings.one(conn, row.recording_id)
    assembly = Assembly.model_validate(row.assembly)
    source = Source(
        path=shop.media.inside(recording.media_path),
        width=recording.width,
        height=recording.height,
        sound_track=recording.sound_track if recording.sound_tracks else None,
    )

    async def report(part: float) -> None:
        async with shop.pool.connection() as conn:
            await exports.report(conn, export_id, attempt, min(part, _MEASURING))

    try:
        with shop.media.scratch(f"export-{export_id}") as scratch:
            clip = await render(assembly, source, shop.fonts, scratch, spaced(report))
            facts = await measure_clip(clip)
            await report(_MEASURING)
            final = shop.media.export(export_id)
            put_in_place(clip, final)
        async with shop.pool.connection() as conn:
            findings = judge_file(facts, assembly)
            await exports.finish(conn, export_id, attempt, shop.media.relative(final), facts, findings)
    except AttemptLost:
        return
    except CancelRequested:
        async with shop.pool.connection() as conn:
            await exports.set_cancelled(conn, export_id)
    except (MediaFailed, OSError) as failed:
        async with shop.pool.connection() as conn:
            await exports.fail(conn, export_id, attempt, _for_people(failed))
    except Exception as unforeseen:
        async with shop.pool.connection() as conn:
            await exports.fail(conn, export_id, attempt, in_the_log(unforeseen, "export it again"))
        raise


def _for_people(failed: Exception) -> str:
    if isinstance(failed, OSError) and failed.strerror:
        return f"{failed.strerror}. Make room on the disk, then export again."
    return f"{failed} Export it again; if it fails again, the recording may be damaged at this place."
