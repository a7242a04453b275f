"""What people change while long work goes on is never undone by it."""

from dataclasses import replace
from pathlib import Path
from uuid import uuid4

import pytest

from nimble_quote.core.transcript.document import SpokenWord, Transcript
from nimble_quote.jobs import align as module
from nimble_quote.jobs import transcribe as transcribing
from nimble_quote.jobs.align import align_words
from nimble_quote.jobs.intake import Brought, attach_transcript, intake_of, take_in
from nimble_quote.jobs.state import WorkerState
from nimble_quote.jobs.tasks import DOING
from nimble_quote.jobs.working import Attempt, WorkFailed, ask_for, do_work
from nimble_quote.media.listening import SoundAnalysis
from nimble_quote.store import recordings, transcripts, work
from nimble_quote.store.work import on_recording
from tests.jobs.conftest import brought_in

pytestmark = pytest.mark.anyio


def typed(tmp_path: Path, text: str) -> Brought:
    path = tmp_path / "typed.txt"
    path.write_text(text)
    return Brought(path=path, name=path.name)


async def words_of(worker: WorkerState, recording_id: int) -> list[SpokenWord]:
    async with worker.pool.connection() as conn:
        found = await transcripts.load(conn, recording_id)
    return [word for sentence in found.sentences for word in sentence.words]


def timed(transcript: Transcript, second: int) -> list[SpokenWord]:
    """Words that were found in the sound, one in each second from a second on."""
    words = [word for sentence in transcript.sentences for word in sentence.words]
    return [
        SpokenWord(text=w.text, start_ms=(second + i) * 1000, end_ms=(second + i) * 1000 + 500, timing="a")
        for i, w in enumerate(words)
    ]


async def aligned(worker: WorkerState, recording_id: int) -> work.WorkRow:
    async with worker.pool.connection() as conn:
        work_id = (await ask_for(conn, "align", on_recording(recording_id))).id
    await do_work(worker, work_id, {**DOING, "align": align_words})
    async with worker.pool.connection() as conn:
        return await work.one(conn, work_id)


async def transcribed(worker: WorkerState, recording_id: int, monkeypatch: pytest.MonkeyPatch) -> work.WorkRow:
    """What came of having the offline recogniser write a recording's words."""
    monkeypatch.setattr(recordings.RecordingRow, "listened", True)
    monkeypatch.setattr(transcribing, "read_speech", lambda *_: SoundAnalysis(speech=(), loudness_lufs=None))
    async with worker.pool.connection() as conn:
        work_id = (await ask_for(conn, "transcribe", on_recording(recording_id), {"by": "recogniser"})).id
    await do_work(worker, work_id, DOING)
    async with worker.pool.connection() as conn:
        return await work.one(conn, work_id)


@pytest.mark.parametrize("fails", [False, True])
async def test_a_transcript_replaced_while_another_is_aligned_gets_its_own_times(
    worker: WorkerState, clip: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, fails: bool
):
    copy = tmp_path / "talk.mp4"
    copy.write_bytes(clip.read_bytes())
    recording_id = await take_in(
        intake_of(worker), Brought(path=copy, name="talk.mp4"), typed(tmp_path, "The old words are seven here.")
    )
    seen: list[str] = []

    async def found(attempt: Attempt, recording: object, transcript: Transcript) -> list[SpokenWord]:
        seen.append(transcript.sentences[0].text)
        if len(seen) == 1:
            # As many words, so that their number does not give it away.
            await attach_transcript(intake_of(worker), recording_id, typed(tmp_path, "And new words stand there now."))
            if fails:
                raise WorkFailed("Most of the words are not heard where they should be.")
            return timed(transcript, 1)
        return timed(transcript, 3)

    monkeypatch.setattr(module, "_times_of", found)
    row = await aligned(worker, recording_id)
    assert (row.state, row.problem) == ("done", None)
    assert seen == ["The old words are seven here.", "And new words stand there now."]
    assert [(w.text, w.start_ms) for w in await words_of(worker, recording_id)][:2] == [("And", 3000), ("new", 4000)]


async def test_another_sound_track_chosen_while_words_are_aligned_has_them_aligned_to_it(
    worker: WorkerState, clip: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
):
    recording_id = await brought_in(worker, clip, tmp_path)
    async with worker.pool.connection() as conn:
        await conn.execute("update sentence set timing = repeat('e', cardinality(words))")
    heard: list[int] = []

    async def found(attempt: Attempt, recording: recordings.RecordingRow, transcript: Transcript) -> list[SpokenWord]:
        heard.append(recording.sound_track)
        async with worker.pool.connection() as conn:
            await recordings.choose_sound(conn, recording_id, 1)
        return timed(transcript, 1)

    monkeypatch.setattr(module, "_times_of", found)
    await aligned(worker, recording_id)
    assert heard == [0, 1]


async def test_an_attempt_at_aligning_that_was_taken_for_dead_writes_nothing(
    worker: WorkerState, clip: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
):
    recording_id = await brought_in(worker, clip, tmp_path)
    before = await words_of(worker, recording_id)

    async def found(attempt: Attempt, recording: object, transcript: Transcript) -> list[SpokenWord]:
        async with worker.pool.connection() as conn:
            assert await work.begin(conn, attempt.row.id, uuid4()), "another has taken it over"
        return timed(transcript, 3)

    monkeypatch.setattr(module, "_times_of", found)
    assert (await aligned(worker, recording_id)).state == "running"
    assert await words_of(worker, recording_id) == before


async def test_a_transcript_with_times_of_its_own_ends_the_aligning_of_the_one_before(
    worker: WorkerState, clip: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
):
    recording_id = await brought_in(worker, clip, tmp_path)
    exact = tmp_path / "exact.ctm"
    exact.write_text("talk 1 0.50 0.30 Given\ntalk 1 0.90 0.40 words.\n")

    async def found(attempt: Attempt, recording: object, transcript: Transcript) -> list[SpokenWord]:
        await attach_transcript(intake_of(worker), recording_id, Brought(path=exact, name=exact.name))
        return timed(transcript, 1)

    monkeypatch.setattr(module, "_times_of", found)
    assert (await aligned(worker, recording_id)).state == "done"
    assert [(w.text, w.start_ms, w.timing) for w in await words_of(worker, recording_id)] == [
        ("Given", 500, "g"), ("words.", 900, "g")]  # fmt: skip


async def test_a_transcript_attached_while_another_is_written_stays(
    worker: WorkerState, clip: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
):
    recording_id = await brought_in(worker, clip, tmp_path)

    async def recognised(attempt: Attempt, *more: object) -> Transcript:
        await attach_transcript(intake_of(worker), recording_id, typed(tmp_path, "The words of the running."))
        async with worker.pool.connection() as conn:
            return await transcripts.load(conn, recording_id)

    monkeypatch.setattr(transcribing, "recognised", recognised)
    row = await transcribed(worker, recording_id, monkeypatch)
    assert row.problem == "The transcript was changed in the meantime, so it was not replaced."
    assert " ".join(word.text for word in await words_of(worker, recording_id)) == "The words of the running."


async def test_the_offline_recogniser_refuses_a_language_that_its_model_does_not_know(
    worker: WorkerState, clip: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
):
    recording_id = await brought_in(worker, clip, tmp_path)
    async with worker.pool.connection() as conn:
        assert (await recordings.one(conn, recording_id)).language == "en"
        await recordings.choose_language(conn, recording_id, "de")
    row = await transcribed(worker, recording_id, monkeypatch)
    assert str(row.problem).startswith("The recogniser's model does not know German, which is spoken here.")


async def test_words_of_another_language_are_not_aligned_as_english(
    worker: WorkerState, clip: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
):
    recording_id = await brought_in(worker, clip, tmp_path)
    german = "Die Lampen brennen die ganze Nacht hindurch und wir warten am Hafen bis der Morgen kommt weil niemand allein ist"
    await attach_transcript(intake_of(worker), recording_id, typed(tmp_path, german))
    async with worker.pool.connection() as conn:
        assert (await recordings.one(conn, recording_id)).language == "de"
    monkeypatch.setattr(recordings.RecordingRow, "listened", True)
    row = await aligned(worker, recording_id)
    assert (row.state, str(row.problem)[:62]) == (
        "failed", "Only English can be aligned yet, and these words are German. T")  # fmt: skip
    async with worker.pool.connection() as conn:
        await recordings.choose_language(conn, recording_id, "fr")
    await attach_transcript(intake_of(worker), recording_id, typed(tmp_path, german))
    async with worker.pool.connection() as conn:
        assert (await recordings.one(conn, recording_id)).language == "fr", "what a person chose stays"


async def test_marks_that_are_heard_are_kept_in_words_that_had_none(
    worker: WorkerState, clip: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
):
    recording_id = await brought_in(worker, clip, tmp_path)
    await attach_transcript(intake_of(worker), recording_id, typed(tmp_path, "we lit the lamps then we slept"))

    async def found(attempt: Attempt, recording: object, transcript: Transcript) -> list[SpokenWord]:
        heard = [replace(word, text=text) for word, text in zip(
            timed(transcript, 1), "We lit the lamps. Then we slept.".split(), strict=True)]  # fmt: skip
        return heard

    monkeypatch.setattr(module, "_times_of", found)
    assert (await aligned(worker, recording_id)).state == "done"
    async with worker.pool.connection() as conn:
        kept = await transcripts.load(conn, recording_id)
    assert [one.text for one in kept.sentences] == ["We lit the lamps.", "Then we slept."]
