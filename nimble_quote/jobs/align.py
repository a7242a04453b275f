"""Aligning a transcript to the sound, where its words have no times of their own."""

from dataclasses import replace
from pathlib import Path

from nimble_quote.core.timebase import Span
from nimble_quote.core.transcript.aligning import AlignedWord, Window, anchored, marked, retimed, windows, with_words
from nimble_quote.core.transcript.document import SpokenWord, Transcript, has_marks
from nimble_quote.formats.spoken import name_of
from nimble_quote.jobs.sentencing import keep_in_sentences
from nimble_quote.jobs.transcribe import recognised
from nimble_quote.jobs.working import Attempt, WorkFailed
from nimble_quote.media.aligner import align, known_share
from nimble_quote.media.keys import SOUND, SPEECH
from nimble_quote.media.listening import read_speech, samples_of
from nimble_quote.media.recogniser import RecogniserMissing
from nimble_quote.store import pictures, recordings, transcripts
from nimble_quote.store.database import Connection
from nimble_quote.store.recordings import RecordingRow

_LEAST_FOUND = 0.5
_LEAST_KNOWN = 0.6
"""The part of the words that the English dictionary holds, under which a text is taken to be another language."""


async def align_words(attempt: Attempt) -> None:
    """Finds when each word was said. Words whose times are given stay as they are.

    Where the words or the sound were changed meanwhile, what was found is of no use: it begins again with the new ones.
    """
    while True:
        async with attempt.worker.pool.connection() as conn:
            recording, transcript = await _now(conn, attempt.recording_id)
        try:
            aligned: list[SpokenWord] | WorkFailed = await _times_of(attempt, recording, transcript)
        except WorkFailed as failed:
            aligned = failed
        async with attempt.worker.pool.connection() as conn:
            since, words = await _now(conn, attempt.recording_id)
            if since.sound_track == recording.sound_track and _flat(words) == _flat(transcript):
                if isinstance(aligned, WorkFailed):
                    raise aligned
                found = with_words(words, aligned)
                by_ear = not has_marks(words) and has_marks(found)
                if not await keep_in_sentences(conn, recording.id, found, by_ear):
                    await transcripts.retime(conn, recording.id, found)
                await pictures.name_by_turns(conn, recording.id)
                await attempt.finish(conn)
                return
            if not await transcripts.has_estimates(conn, recording.id):
                return


async def _now(conn: Connection, recording_id: int) -> tuple[RecordingRow, Transcript]:
    """A recording and its words, with the transcript locked, so that both are of the same moment."""
    await transcripts.head(conn, recording_id, lock=True)
    return await recordings.one(conn, recording_id), await transcripts.load(conn, recording_id)


async def _times_of(attempt: Attempt, recording: RecordingRow, transcript: Transcript) -> list[SpokenWord]:
    """The words of a transcript with the times at which they were said. Raises `WorkFailed` where they can't be found."""
    worker = attempt.worker
    if not recording.listened:
        raise WorkFailed("The recording has not been listened to yet. Align the words when it has.")
    words = _flat(transcript)
    if recording.language != "en":
        raise WorkFailed(
            f"Only English can be aligned yet, and these words are {name_of(recording.language)}. They keep the times "
            "estimated from the text. If they are English, set that under the recording's details."
        )
    if await worker.computing.compute(known_share, [word.text for word in words]) < _LEAST_KNOWN:
        raise WorkFailed("Only English can be aligned yet; the words keep the times estimated from the text.")
    sound = worker.media.store.local(recording.derived(SOUND))
    speech = read_speech(worker.media.store.local(recording.derived(SPEECH))).speech
    if not speech:
        raise WorkFailed("No speech was heard in this recording, so its words can't be aligned to it.")
    low, heard = 0.0, None
    if recording.transcript_rough or not has_marks(transcript):
        heard = await _heard(attempt, recording, speech)
        low = 0.7 if heard else 0.0
    if recording.transcript_rough:
        words = anchored(words, heard or [])
    found = await _aligned(attempt, sound, words, transcript, speech, recording.duration_ms, low)
    told = [time for _, times in found for time in times]
    if sum(time is not None for time in told) < _LEAST_FOUND * len(told):
        raise WorkFailed(
            "Most of the words are not heard where they should be. Is this the transcript of this recording?"
        )
    given = _flat(transcript) if has_marks(transcript) else marked(_flat(transcript), heard or [])
    return [
        old if old.timing == "g" and not recording.transcript_rough else replace(new, text=old.text)
        for old, new in zip(given, retimed(words, found), strict=True)
    ]


async def _heard(attempt: Attempt, recording: RecordingRow, speech: tuple[Span, ...]) -> list[SpokenWord]:
    """What the recogniser hears: where the words are, roughly, and the marks between them; nothing where there is no recogniser
    and the words have rough times of their own."""
    try:
        rough = recording.transcript_rough
        told = "Hearing where the words are, roughly" if rough else "Hearing where sentences end"
        progress = await attempt.stage(told, 0.0, 0.7)
        return _flat(await recognised(attempt, recording, speech, progress, recording.language))
    except RecogniserMissing:
        if recording.transcript_rough:
            raise
        return []


async def _aligned(
    attempt: Attempt,
    sound: Path,
    words: list[SpokenWord],
    transcript: Transcript,
    speech: tuple[Span, ...],
    duration_ms: int,
    low: float,
) -> list[tuple[Window, list[AlignedWord | None]]]:
    progress = await attempt.stage("Aligning the words to the sound", low, 1.0)
    found: list[tuple[Window, list[AlignedWord | None]]] = []
    for window in windows(words, _firsts(transcript), speech, duration_ms):
        run = words[window.first : window.end]
        if all(word.timing == "g" for word in run):
            continue
        samples = await samples_of(sound, window.span)
        found.append((window, await attempt.worker.computing.compute(align, samples, [word.text for word in run])))
        await progress(window.end / len(words))
    return found


def _firsts(transcript: Transcript) -> set[int]:
    firsts, at = set(), 0
    for sentence in transcript.sentences:
        firsts.add(at)
        at += len(sentence.words)
    return firsts


def _flat(transcript: Transcript) -> list[SpokenWord]:
    return [word for sentence in transcript.sentences for word in sentence.words]
