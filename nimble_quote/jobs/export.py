"""Making a clip: rendered aside, measured, given its name, and only then called done."""

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

from nimble_quote.core.assembly import RECORDING, Assembly
from nimble_quote.core.assembly.captions import caption_words, speakers_of
from nimble_quote.core.captions.cues import Cue, WrittenCue
from nimble_quote.core.chapters import Chapter, chapters_of
from nimble_quote.core.context import Context
from nimble_quote.core.credits import Credit, credits_of
from nimble_quote.core.cutting.mixing import Samples
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.making import Making
from nimble_quote.core.preflight import FileFacts, judge_file
from nimble_quote.jobs.state import WorkerState
from nimble_quote.jobs.working import Attempt, WorkFailed, ask_for
from nimble_quote.lettering.shaping import Faces
from nimble_quote.media.burned import cues_not_shown
from nimble_quote.media.ffmpeg import Progress, together
from nimble_quote.media.keys import clip_key, clip_still_key, cover_key
from nimble_quote.media.measure import measure_clip, measure_sound, measure_still
from nimble_quote.media.render import Source, render, render_cover, render_first, render_sound
from nimble_quote.media.sound import decoded
from nimble_quote.media.stills import still_of_clip
from nimble_quote.media.tags import Tags
from nimble_quote.store import exports, house, house_sounds, media_files, recordings, webhooks, work
from nimble_quote.store.database import Connection
from nimble_quote.store.exports import ExportRow, MadeClip, NewExport
from nimble_quote.store.recordings import RecordingRow
from nimble_quote.store.work import AttemptLost, Target

_MEASURING = 0.97
_RENDERED_AS = "1"
"""Counts up when the same would be rendered otherwise."""
_BYTES_A_MS = 2000
"""The most that a clip takes while it is made: its picture at the encoder's highest rate, its sound twice as WAV."""


async def ask_for_export(conn: Connection, new: NewExport) -> int | None:
    """Asks for a file of a version, in the connection's transaction; the id of its export, or None where just this is being made
    already. One that was made of the same before is that one.

    One of an older revision that nobody has begun gives way to it; one that is being made is made to its end.
    """
    if new.made_of and (before := await exports.made_before(conn, new.quote_id, new.made_of)):
        return before
    destination, as_ = new.assembly.destination.id, _as(new.making)
    for older in await exports.older_waiting(conn, new.quote_id, destination, new.revision, new.making):
        await work.request_stop(conn, older)
    export_id = await exports.add(conn, new)
    target = Target(name=f"quote {new.quote_id} {destination} {new.revision}{as_}", export_id=export_id)
    if (await ask_for(conn, "export", target)).new:
        return export_id
    await exports.drop(conn, export_id)
    return None


def _as(making: Making) -> str:
    """How a file is told apart from others of the same version; that which is usual is told by nothing."""
    told = making.model_dump(exclude_defaults=True)
    return "".join(f" {value}" for value in told.values())


def made_of(assembly: Assembly, making: Making, content: str, tags: Tags) -> str:
    """A digest of all that goes into a file: what it shows and says, how it is coded, the recording, and what is written into it."""
    told = (assembly.model_dump_json(), making.model_dump_json(), content, repr(tags), _RENDERED_AS)
    return hashlib.sha256("\n".join(told).encode()).hexdigest()


def tags_of(document: QuoteDocument, recording: RecordingRow, context: Context) -> Tags:
    """What is written into the files of a quote."""
    return Tags(
        title=document.title,
        artist=", ".join(name for name in speakers_of(context.talk, document) if name),
        date=recording.held_on.isoformat() if recording.held_on else "",
        copyright=context.catalogue.copyright,
    )


@dataclass(frozen=True, kw_only=True)
class _Wanted:
    """All that an export is made of."""

    row: ExportRow
    making: Making
    assembly: Assembly
    sources: dict[str, Source]
    faces: Faces
    pictures: Mapping[int, bytes]
    sounds: Mapping[int, Samples]
    tags: Tags
    chapters: tuple[Chapter, ...]
    credits: tuple[Credit, ...]


async def _wanted(worker: WorkerState, export_id: int) -> _Wanted:
    async with worker.pool.connection() as conn:
        row = await exports.one(conn, export_id)
        recording = await recordings.one(conn, row.recording_id)
        assembly, context, document = await worker.contexts.for_export(
            conn, row.quote_id, row.revision, row.destination
        )
        pictures = await house.pictures(conn, assembly.house_pictures)
        kept = await house_sounds.contents(conn, assembly.house_sounds)
        others = await recordings.many(conn, sorted({one.recording for one in assembly.footage}))
        faces = await worker.contexts.lettering_now(conn)
    words = caption_words(document, context.talk, assembly.sound.played)
    return _Wanted(
        row=row, making=Making.model_validate(row.making), assembly=assembly, faces=faces, pictures=pictures,
        sources={RECORDING: _source(worker, recording), **_footage(worker, assembly, others)},
        sounds={number: await decoded(content) for number, content in kept.items()},
        tags=tags_of(document, recording, context), chapters=chapters_of(words, context.talk, assembly.length_ms),
        credits=credits_of(assembly, context.catalogue),
    )  # fmt: skip


async def export_clip(attempt: Attempt) -> None:
    """Renders, measures and keeps the file of an export, afresh at each attempt. Where the attempt is lost, also at the very
    end, nothing of it is kept."""
    worker = attempt.worker
    wanted = await _wanted(worker, attempt.export_id)
    row, assembly = wanted.row, wanted.assembly
    worker.media.room.require(round(assembly.length_ms * _BYTES_A_MS))
    with worker.exporting(row.id), worker.media.scratch(f"export-{row.id}") as scratch:
        progress = await attempt.stage("Making the clip", 0.0, _MEASURING)
        clip, cover = await _rendered(wanted, scratch, progress)
        await attempt.stage("Checking the clip", _MEASURING)
        still = scratch / "still.jpg"
        shown = next((one for one in cover if one.suffix == ".jpg"), clip)
        facts, missing, _ = await together(
            _measured(wanted, clip),
            _not_shown(wanted, clip, scratch),
            still_of_clip(shown, 0 if shown != clip else assembly.length_ms / 3, still),
        )
        key = clip_key(row.id, attempt.token, wanted.making.ending)
        made = MadeClip(
            file_path=key,
            frames=assembly.frames,
            facts=facts,
            findings=judge_file(facts, assembly, wanted.making, missing),
            cues=tuple(WrittenCue.of(cue) for track in assembly.cue_tracks for cue in track.cues),
            credits=wanted.credits,
        )
        files = {key: clip, clip_still_key(key): still} | {cover_key(key, one.suffix[1:]): one for one in cover}
        try:
            async with attempt.ending() as conn:
                for name, made_file in files.items():
                    await media_files.keep(conn, worker.media, made_file, name, export_id=row.id)
                await exports.keep_clip(conn, row.id, made)
                await webhooks.tell_clip_ready(conn, await exports.one(conn, row.id))
        except AttemptLost:
            # Only then: after anything else the rows may have been committed, and a clip that they name must stay.
            for name in files:
                worker.media.store.remove(name)
            raise


async def _rendered(wanted: _Wanted, scratch: Path, progress: Progress) -> tuple[Path, tuple[Path, ...]]:
    """The file of an export, and the pictures of its cover."""
    assembly, sources, faces, pictures = wanted.assembly, wanted.sources, wanted.faces, wanted.pictures
    making = wanted.making
    if making.kind in ("clip", "cut"):
        clip = await render(assembly, sources, faces, scratch, progress, pictures, wanted.sounds, making, wanted.tags)
        return clip, await render_cover(assembly, sources, faces, scratch, pictures) or ()
    cover = await render_cover(assembly, sources, faces, scratch, pictures)
    first = cover or await render_first(assembly, sources, faces, scratch, pictures)
    if making.kind == "still":
        return first[0], first[1:]
    shown = first[1]
    kind: Literal["m4a", "mp3"] = "m4a" if making.kind == "m4a" else "mp3"
    # What it shows is the still of it, too.
    sound = await render_sound(assembly, sources, scratch, wanted.sounds, kind, wanted.tags, wanted.chapters, shown)
    return sound, cover or (shown,)


async def _measured(wanted: _Wanted, clip: Path) -> FileFacts:
    """What is measured of a file."""
    if wanted.making.sound_only:
        return await measure_sound(clip)
    return await (measure_still(clip) if wanted.making.kind == "still" else measure_clip(clip))


async def _not_shown(wanted: _Wanted, clip: Path, scratch: Path) -> list[Cue]:
    """The captions that a file does not show as planned, where it shows any."""
    if wanted.making.sound_only or wanted.making.kind == "still":
        return []
    return await cues_not_shown(clip, wanted.assembly, scratch)


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
