"""Making a transcript where there is none: by the offline recogniser, or by a transcription service."""

import json
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

from nimble_quote.core.timebase import Span
from nimble_quote.core.transcript.cues import TimedCue, Token, timed_words
from nimble_quote.core.transcript.document import Transcript, transcript_of
from nimble_quote.formats.spoken import code_of_track, language_of, name_of
from nimble_quote.jobs.working import Attempt, WorkFailed, ask_for
from nimble_quote.media.ffmpeg import Progress
from nimble_quote.media.keys import SOUND, SPEECH
from nimble_quote.media.listening import read_speech, samples_of
from nimble_quote.media.recogniser import language_heard, languages_known, model_folder, recognise
from nimble_quote.media.store import put_in_place
from nimble_quote.services.transcription import TranscriptionService
from nimble_quote.store import pictures, recordings, transcripts
from nimble_quote.store.recordings import RecordingRow

_BLOCK_MS = 90_000
"""Speech recognised at a time; kept when it is, so that a killed worker goes on from there."""


async def transcribe(attempt: Attempt) -> None:
    """Makes the transcript of a recording by the way that was asked for (`by` in the work's details)."""
    worker, by = attempt.worker, attempt.row.details.get("by")
    async with worker.pool.connection() as conn:
        recording = await recordings.one(conn, attempt.recording_id)
    if not recording.listened:
        raise WorkFailed("The recording has not been listened to yet, or has no sound. Try again when it has.")
    if by == "service":
        made, notes = await _by_service(attempt, worker.media.store.local(recording.derived(SOUND)))
        spoken = language_of([word.text for one in made.sentences for word in one.words])
    else:
        speech = read_speech(worker.media.store.local(recording.derived(SPEECH))).speech
        spoken = await spoken_in(attempt, recording, speech)
        progress = await attempt.stage("Recognising the words", 0.0, 0.98)
        made, notes = await recognised(attempt, recording, speech, progress, spoken), []
    if not made.sentences:
        raise WorkFailed("No words were heard in this recording.")
    async with attempt.ending() as conn:
        head = await transcripts.head(conn, recording.id, lock=True)
        since = await recordings.one(conn, recording.id)
        if head.revision or since.words_version != recording.words_version:
            raise WorkFailed("The transcript was changed in the meantime, so it was not replaced.")
        await transcripts.keep(conn, recording.id, transcripts.rows_of(made))
        await pictures.name_by_turns(conn, recording.id)
        origin = "service" if by == "service" else "recogniser"
        await recordings.set_transcript_facts(
            conn, recording.id, origin=origin, rough=False, notes=notes, language=spoken
        )
        # A recogniser's times are some 90 ms off; aligned, they are good enough to cut by.
        await ask_for(conn, "align", attempt.target, waited=attempt.row.waited)


async def _by_service(attempt: Attempt, sound: Path) -> tuple[Transcript, list[str]]:
    settings = attempt.worker.settings
    if not settings.transcription_url:
        raise WorkFailed(
            "No transcription service is set up. Set NIMBLE_QUOTE_TRANSCRIPTION_URL, or use the recogniser."
        )
    service = TranscriptionService(url=settings.transcription_url, key=settings.transcription_key)
    await attempt.stage("Sending the sound to the service")
    work = await service.begin(sound)
    reading = await service.follow(work, await attempt.stage("The service is writing", 0.05, 0.98))
    return _estimated(transcript_of(timed_words(reading.cues))), [*reading.mended, *reading.left_out][:200]


async def spoken_in(attempt: Attempt, recording: RecordingRow, speech: Sequence[Span]) -> str:
    """The language that a recording is recognised in: as a person chose, as its sound track names it, or as it is heard.
    Raises `WorkFailed` where the model does not know it."""
    weights = await attempt.worker.computing.compute(model_folder, attempt.worker.settings.recogniser_model)
    track = recording.sound_tracks[recording.sound_track] if recording.sound_tracks else {}
    told = recording.language if recording.language_chosen else code_of_track(track.get("language"))
    if told is None:
        sound = attempt.worker.media.store.local(recording.derived(SOUND))
        samples = await samples_of(sound, speech_blocks(speech)[0]) if speech else None
        return "en" if samples is None else await attempt.worker.computing.compute(language_heard, samples, weights)
    if told not in await attempt.worker.computing.compute(languages_known, weights):
        raise WorkFailed(
            f"The recogniser's model does not know {name_of(told)}, which is spoken here. Set NIMBLE_QUOTE_RECOGNISER_MODEL to "
            "a model that does, or use the transcription service. If another language is spoken, set it under the recording's "
            "details."
        )
    return told


async def recognised(
    attempt: Attempt, recording: RecordingRow, speech: Sequence[Span], progress: Progress, spoken: str
) -> Transcript:
    """What the offline recogniser hears in a language, a block of speech at a time."""
    weights = await attempt.worker.computing.compute(model_folder, attempt.worker.settings.recogniser_model)
    media = attempt.worker.media
    sound = media.store.local(recording.derived(SOUND))
    folder = media.working(recording.content, "recognising")
    folder.mkdir(parents=True, exist_ok=True)
    cues: list[TimedCue] = []
    blocks = speech_blocks(speech)
    for number, block in enumerate(blocks):
        kept = folder / f"{spoken}-{block.start_ms}-{block.end_ms}.json"
        if not kept.exists():
            heard_cues = await attempt.worker.computing.compute(
                recognise, await samples_of(sound, block), weights, spoken
            )
            kept.with_suffix(".part").write_text(json.dumps([_plain(cue) for cue in heard_cues]))
            put_in_place(kept.with_suffix(".part"), kept)
        cues += [_cue(stored, block.start_ms) for stored in json.loads(kept.read_text())]
        await progress((number + 1) / len(blocks))
    return _estimated(transcript_of(timed_words(cues)))


def speech_blocks(speech: Sequence[Span]) -> list[Span]:
    """The speech in blocks of about `_BLOCK_MS` that begin and end in pauses."""
    found: list[Span] = []
    for span in speech:
        if found and span.end_ms - found[-1].start_ms <= _BLOCK_MS:
            found[-1] = Span(start_ms=found[-1].start_ms, end_ms=span.end_ms + 200)
        else:
            found.append(Span(start_ms=max(0, span.start_ms - 200), end_ms=span.end_ms + 200))
    return found


def _estimated(transcript: Transcript) -> Transcript:
    """A recogniser's times are its guess, and are marked so until they are aligned."""
    return transcript.with_sentences(
        replace(sentence, words=tuple(replace(word, timing="e") for word in sentence.words))
        for sentence in transcript.sentences
    )


def _plain(cue: TimedCue) -> list[object]:
    return [cue.start_ms, cue.end_ms, [[t.text, t.start_ms, t.end_ms, t.sure] for t in cue.tokens]]


def _cue(stored: list[object], shift_ms: int) -> TimedCue:
    start, end, tokens = stored
    assert isinstance(tokens, list)
    return TimedCue(
        start_ms=int(str(start)) + shift_ms,
        end_ms=int(str(end)) + shift_ms,
        tokens=tuple(
            Token(text=text, start_ms=first + shift_ms, end_ms=last + shift_ms, sure=sure)
            for text, first, last, sure in tokens
        ),
    )
