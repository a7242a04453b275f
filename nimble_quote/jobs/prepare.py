"""Preparing a recording: what is heard and seen in it, and a proxy to play. What was done before is not done again.

derived / …/ peaks-10.u8 …    the waveform at several zooms
             speech.json      where somebody speaks, and how loud it is
             sound.m4a        the sound of the proxy
             proxy.mp4        the proxy, where the original does not serve
             looking / …      unfinished chunks of looking at the picture, gone when all is there
"""

import asyncio
import math
import shutil
from pathlib import Path

from nimble_quote.core.framing.shots import LOOK, find_changes, looks_of_shots, shots
from nimble_quote.core.framing.subjects import Track, find_tracks
from nimble_quote.core.timebase import frame_at, ms_at, output_rate
from nimble_quote.jobs.working import Attempt, ask_for
from nimble_quote.media.coding import coding_of
from nimble_quote.media.files import MediaRoot, put_in_place
from nimble_quote.media.listening import ZOOMS_MS, listen, peaks_name, read_speech, write_speech
from nimble_quote.media.looking import Looker
from nimble_quote.media.probe import SourceFacts, probe_source
from nimble_quote.store import pictures, recordings, transcripts
from nimble_quote.store.recordings import RecordingRow

PROXY, SOUND, SPEECH, LOOKING = "proxy.mp4", "sound.m4a", "speech.json", "looking"
_HEARD = (SOUND, *(peaks_name(zoom) for zoom in ZOOMS_MS), SPEECH)
"""What listening makes; the last is put in place last."""
_SOUND_BYTES_S, _PROXY_BYTES_S = 20_000, 250_000
"""What a second of them takes, the picture twice: in chunks, and joined."""
_LISTENING, _LOOKING = 0.1, 0.97
"""How far the whole work is when these are done."""


async def prepare(attempt: Attempt) -> None:
    """Makes what a recording lacks: the sound first, so that reading and cutting can begin before the rest is there."""
    async with attempt.worker.pool.connection() as conn:
        recording = await recordings.one(conn, attempt.recording_id)
    source = attempt.worker.media.inside(recording.media_path)
    facts = await probe_source(source, recording.file_name)
    attempt.worker.media.room.require(_needed_bytes(attempt.worker.media, recording.content, facts))
    with attempt.worker.media.scratch(f"prepare-{recording.id}") as scratch:
        if facts.sound_tracks:
            await _listen(attempt, recording, source, facts, scratch)
        if facts.width:
            await _look(attempt, recording, source, facts, scratch)
        elif not facts.serves:
            _sound_is_proxy(attempt.worker.media, recording.content)


def _needed_bytes(media: MediaRoot, content: str, facts: SourceFacts) -> int:
    """About what preparing will take on the disk: the proxy, and until it is done, the thumbnails of every frame."""
    seconds = facts.duration_ms / 1000
    sound = 0 if heard(media, content) else round(seconds * _SOUND_BYTES_S)
    if not facts.width:
        return sound
    proxy = 0 if facts.serves or media.derived(content, PROXY).exists() else round(seconds * _PROXY_BYTES_S)
    return sound + proxy + round(seconds * output_rate(facts.rate) * math.prod(LOOK))


def heard(media: MediaRoot, content: str) -> bool:
    """Whether a recording has been listened to."""
    return media.derived(content, SPEECH).exists()


def forget_sound(media: MediaRoot, content: str) -> None:
    """Drops what was made from a recording's sound, to be made anew from another track."""
    for name in (*reversed(_HEARD), PROXY):
        media.derived(content, name).unlink(missing_ok=True)


async def _listen(attempt: Attempt, recording: RecordingRow, source: Path, facts: SourceFacts, scratch: Path) -> None:
    media = attempt.worker.media
    if not heard(media, recording.content):
        progress = await attempt.stage("Listening", 0.0, _LISTENING)
        found = await listen(source, recording.sound_track, facts.duration_ms, scratch, progress)
        write_speech(found, scratch / SPEECH)
        for name in _HEARD:
            put_in_place(scratch / name, media.derived(recording.content, name))
    async with attempt.worker.pool.connection() as conn:
        found = read_speech(media.derived(recording.content, SPEECH))
        await recordings.set_loudness(conn, recording.id, found.loudness_lufs)
        if await transcripts.has_estimates(conn, recording.id):
            await ask_for(conn, "align", attempt.target, waited=attempt.row.waited)


async def _look(attempt: Attempt, recording: RecordingRow, source: Path, facts: SourceFacts, scratch: Path) -> None:
    media = attempt.worker.media
    proxy = media.derived(recording.content, PROXY)
    # A proxy that is there is looked at instead of the original: it decodes several times as fast.
    proxied = proxy.exists() or facts.serves
    looked_at = proxy if proxy.exists() else source
    looker = Looker(
        source=looked_at,
        facts=facts,
        model=attempt.worker.settings.face_model,
        folder=media.derived(recording.content, LOOKING),
        proxied=proxied,
        coding=await coding_of(looked_at),
    )
    await looker.look(scratch, await attempt.stage("Looking for cuts and faces", _LISTENING, _LOOKING))
    await attempt.stage("Putting it together", _LOOKING)
    if not proxied:
        sound = media.derived(recording.content, SOUND) if facts.sound_tracks else None
        await looker.join_proxy(sound, scratch / PROXY, scratch)
        put_in_place(scratch / PROXY, proxy)
    changes, tracks, looks = await asyncio.to_thread(_found, looker, recording.duration_ms)
    async with attempt.worker.pool.connection() as conn:
        await pictures.replace_found(conn, recording.id, changes, tracks)
        await pictures.replace_looks(conn, recording.id, looks)
        await pictures.name_by_turns(conn, recording.id)
    shutil.rmtree(looker.folder, ignore_errors=True)


def _found(looker: Looker, duration_ms: int) -> tuple[list[tuple[int, str]], list[Track], list[tuple[int, bytes]]]:
    """The sudden changes, the tracks of faces, and the looks of shots by where each begins."""
    rate = looker.plan.rate
    changes = [(round(ms_at(change.frame, rate)), str(change.kind)) for change in find_changes(looker.looks())]
    cuts_ms = [at for at, kind in changes if kind == "cut"]
    spans = shots(cuts_ms, duration_ms)
    looks = looks_of_shots(looker.looks(), [frame_at(span.start_ms, rate) for span in spans])
    return (
        changes,
        find_tracks(looker.faces(), cuts_ms),
        [(span.start_ms, look) for span, look in zip(spans, looks, strict=True)],
    )


def _sound_is_proxy(media: MediaRoot, content: str) -> None:
    """A recording without picture plays from its proxied sound alone."""
    proxy = media.derived(content, PROXY)
    if not proxy.exists():
        shutil.copyfile(media.derived(content, SOUND), proxy.with_suffix(".part"))
        put_in_place(proxy.with_suffix(".part"), proxy)
