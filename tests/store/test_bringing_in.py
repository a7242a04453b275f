"""What the store keeps of recordings that come in: words and their corrections, pictures, work, what is removed."""

import json
from dataclasses import replace
from uuid import uuid4

import numpy as np
import psycopg
import pytest
from yoyo import get_backend, read_migrations

from nimble_quote.core.framing.shots import HandCut
from nimble_quote.core.framing.subjects import SeenFace, Track
from nimble_quote.core.timebase import Span
from nimble_quote.core.transcript.aligning import with_words
from nimble_quote.core.transcript.corrections import (
    AssignSpeaker,
    Correction,
    CorrectWords,
    EndSentence,
    JoinSentences,
    RenameSpeaker,
    correct,
)
from nimble_quote.core.transcript.sentences import ends_by_mark
from nimble_quote.jobs.sentencing import keep_in_sentences
from nimble_quote.store import pictures, recordings, search, transcripts, work
from nimble_quote.store.cluster import Cluster
from nimble_quote.store.database import MIGRATIONS, Connection, NotFound, migrate
from nimble_quote.store.work import Asked, AttemptLost, StopRequested, on_recording
from tests.conftest import new_database
from tests.store.test_store import a_recording
from tests.talks import face_at

pytestmark = pytest.mark.anyio


async def corrected(conn: Connection, recording_id: int, correction: Correction) -> None:
    head = await transcripts.head(conn, recording_id, lock=True)
    before = await transcripts.load(conn, recording_id)
    after, said = correct(before, correction)
    await transcripts.revise(conn, recording_id, head.revision, before, after, said)


async def texts(conn: Connection, recording_id: int) -> list[tuple[int, str | None, str]]:
    return [(row.first_word, row.speaker, " ".join(row.words)) for row in await transcripts.whole(conn, recording_id)]


async def test_corrections_are_kept_found_undone_and_redone(conn: Connection):
    recording_id = await a_recording(conn)
    before = await transcripts.load(conn, recording_id)
    told = await texts(conn, recording_id)
    await corrected(conn, recording_id, CorrectWords(first=1, last=2, text="every lamp's wick"))
    await corrected(conn, recording_id, AssignSpeaker(first=0, last=1, speaker="Bo"))
    await corrected(conn, recording_id, RenameSpeaker(name="Ann", to="Anna"))
    assert (await texts(conn, recording_id))[:4] == [
        (0, "Bo", "Keep every"), (2, "Anna", "lamp's wick short."), (5, "Anna", "A long wick smokes."),
        (9, "Anna", "Robert'); drop table quote; -- said the lamps."),
    ]  # fmt: skip
    stretches = await search.stretches(conn, "'everi' & 'lamp'", talks=[recording_id])
    assert [(one.first_sentence, one.last_sentence) for one in stretches] == [(0, 4)]
    assert await search.stretches(conn, "'vanish'", talks=[recording_id]) == []
    assert [
        word.text
        for word in transcripts.words_of(await transcripts.sentences_between(conn, recording_id, 2, 2, beside=1))
    ][:3] == [
        "Keep",
        "every",
        "lamp's",
    ]
    after = await texts(conn, recording_id)
    head = await transcripts.head(conn, recording_id)
    assert (head.revision, head.undo_said, head.redo_said) == (3, "Renamed Ann to Anna", None)
    for _ in range(3):
        await transcripts.undo(conn, recording_id)
    assert await texts(conn, recording_id) == told
    assert (await transcripts.load(conn, recording_id)).sentences == before.sentences
    for _ in range(4):
        await transcripts.redo(conn, recording_id)
    assert await texts(conn, recording_id) == after
    await transcripts.undo(conn, recording_id)
    await corrected(conn, recording_id, CorrectWords(first=0, last=0, text="Kept"))
    assert (await transcripts.head(conn, recording_id)).redo_said is None, "a new correction forgets the redo"


async def test_new_times_leave_words_and_corrections_as_they_are(conn: Connection):
    recording_id = await a_recording(conn)
    await corrected(conn, recording_id, CorrectWords(first=0, last=0, text="Kept"))
    transcript = await transcripts.load(conn, recording_id)
    assert await transcripts.has_estimates(conn, recording_id)
    moved = transcript.with_sentences(
        type(one)(
            words=tuple(
                type(w)(text="never written", start_ms=w.start_ms + 7, end_ms=w.end_ms + 7, timing="a")
                for w in one.words
            ),
            speaker=one.speaker,
        )
        for one in transcript.sentences
    )
    await transcripts.retime(conn, recording_id, moved)
    after = await transcripts.load(conn, recording_id)
    assert not await transcripts.has_estimates(conn, recording_id)
    assert after.sentences[0].words[0].heard == "Keep"
    assert [w.start_ms for w in after.sentences[0].words] == [w.start_ms + 7 for w in transcript.sentences[0].words]


async def test_words_without_marks_get_the_sentences_that_their_times_tell_of(conn: Connection):
    recording_id = await a_recording(conn, ["we keep the lamp low now the tide comes back and we wait"])
    before = await transcripts.load(conn, recording_id)
    (one,) = before.sentences
    starts = [0, 300, 600, 900, 1200, 2400, 2700, 3000, 3300, 3600, 5000, 5300, 5600]
    words = [replace(w, start_ms=at, end_ms=at + 250, timing="a") for w, at in zip(one.words, starts, strict=True)]
    timed = with_words(before, words)
    await keep_in_sentences(conn, recording_id, timed)
    after = await transcripts.load(conn, recording_id)
    assert [sentence.text for sentence in after.sentences] == [
        "we keep the lamp low", "now the tide comes back", "and we wait",
    ]  # fmt: skip
    kept = [(w.id, w.text, w.start_ms) for sentence in after.sentences for w in sentence.words]
    assert kept == [(w.id, w.text, at) for w, at in zip(one.words, starts, strict=True)], "each under its number"
    assert (await transcripts.head(conn, recording_id)).revision == 0, "nobody corrected anything"


async def test_corrected_words_get_them_as_well_and_ends_set_by_hand_stay(conn: Connection):
    recording_id = await a_recording(conn, ["we keep the lamp low now the tide comes back and we wait"])
    await corrected(conn, recording_id, CorrectWords(first=3, last=3, text="light"))
    await corrected(conn, recording_id, EndSentence(after=1))
    await corrected(conn, recording_id, EndSentence(after=9))
    await corrected(conn, recording_id, JoinSentences(after=9))
    await corrected(conn, recording_id, EndSentence(after=11))
    await transcripts.undo(conn, recording_id)
    before = await transcripts.load(conn, recording_id)
    starts = [0, 300, 600, 900, 1200, 2400, 2700, 3000, 3300, 3600, 5000, 5300, 5600]
    said = [word for sentence in before.sentences for word in sentence.words]
    words = [replace(w, start_ms=at, end_ms=at + 250, timing="a") for w, at in zip(said, starts, strict=True)]
    assert await transcripts.ends_set_by_hand(conn, recording_id) == {said[1].id: True, said[9].id: False}
    await keep_in_sentences(conn, recording_id, with_words(before, words))
    after = await transcripts.load(conn, recording_id)
    assert [one.text for one in after.sentences] == [
        "we keep", "the light low", "now the tide comes back and we wait",
    ], "the first end and the last join are a person's, the end between is a pause"  # fmt: skip
    kept = [(w.id, w.start_ms) for one in after.sentences for w in one.words]
    assert kept == [(w.id, at) for w, at in zip(said, starts, strict=True)]
    assert (await transcripts.head(conn, recording_id)).undo_said == "Found where sentences end"
    await keep_in_sentences(conn, recording_id, after)
    assert (await transcripts.load(conn, recording_id)).sentences == after.sentences, "what was found is not by hand"
    await transcripts.undo(conn, recording_id)
    undone = await transcripts.load(conn, recording_id)
    assert [one.text for one in undone.sentences] == [one.text for one in before.sentences]
    assert undone.sentences[0].words[0].timing == "a", "the times are not taken back"


async def test_the_database_calls_an_end_doubtful_where_the_core_does(conn: Connection):
    ends = [
        "so",
        "so.",
        "so?",
        "so!”",
        "so…",
        "so.)",
        "so,",
        "so:",
        "نعم؟",
        "है।",
        "はい。」",
        "5.",
        "so.'",
        "so .",
        "”",
    ]
    recording_id = await a_recording(conn, [f"{number} {end}" for number, end in enumerate(ends)])
    told = json.loads(await transcripts.whole_as_json(conn, recording_id))
    assert {one["words"][-1]: one["doubtful_end"] for one in told} == {
        text: not ends_by_mark(text) for text in {one["words"][-1] for one in told}
    }
    assert {one["doubtful_end"] for one in told} == {True, False}


async def test_a_transcript_that_comes_later_takes_the_place_of_the_first(conn: Connection):
    recording_id, other = await a_recording(conn), await a_recording(conn, ["Only this."], "Another")
    await corrected(conn, recording_id, CorrectWords(first=0, last=0, text="Kept"))
    await transcripts.keep(conn, recording_id, transcripts.rows_of(await transcripts.load(conn, other)))
    assert [text for _, _, text in await texts(conn, recording_id)] == ["Only this."]
    assert (await transcripts.head(conn, recording_id)).revision == 0


async def test_names_of_the_house_are_kept_once(conn: Connection):
    for name in ("Skerry Sound", "Maren Tolley", "Skerry Sound"):
        await transcripts.add_name(conn, name)
    await transcripts.drop_name(conn, "Maren Tolley")
    assert await transcripts.names(conn) == ["Skerry Sound"]


async def test_cuts_said_by_hand_outlast_what_is_found_anew(conn: Connection):
    recording_id = await a_recording(conn)
    await pictures.replace_found(conn, recording_id, [(1000, "cut"), (5000, "cut"), (7000, "flash")], [])
    await pictures.say_of_cut(conn, recording_id, HandCut(at_ms=5040, there=False), 120)
    await pictures.say_of_cut(conn, recording_id, HandCut(at_ms=9000, there=True), 120)
    await pictures.replace_found(conn, recording_id, [(1000, "cut"), (5000, "cut")], [])
    assert await pictures.cuts_of(conn, recording_id) == (1000, 9000)
    await pictures.say_of_cut(conn, recording_id, HandCut(at_ms=5000, there=True), 120)
    assert await pictures.cuts_of(conn, recording_id) == (1000, 5000, 9000)


async def test_faces_are_read_thinned_by_span(conn: Connection):
    recording_id = await a_recording(conn)
    faces = [
        SeenFace(sample=face_at(t, 0.1 + t / 1e5), turn=0.2, colours=np.zeros(12, np.float32))
        for t in range(0, 6000, 200)
    ]
    await pictures.replace_found(conn, recording_id, [], [Track(faces=tuple(faces), subject=0)])
    found = await pictures.faces_in(conn, recording_id, Span(start_ms=900, end_ms=3100))
    assert [(f.at_ms, round(f.x, 3)) for f in found] == [(1000, 0.11), (2000, 0.12), (3000, 0.13)]
    (track,) = await pictures.tracks(conn, recording_id)
    assert (track.subject, len(track.at_ms), round(track.turn[0], 2)) == (0, 30, 0.2)


async def test_subjects_keep_their_numbers_and_names_when_they_are_looked_for_again(conn: Connection):
    recording_id = await a_recording(conn)

    def track(subject: int, x: float) -> Track:
        faces = [
            SeenFace(sample=face_at(t, x), turn=0.0, colours=np.zeros(12, np.float32)) for t in range(0, 6000, 200)
        ]
        return Track(faces=tuple(faces), subject=subject)

    await pictures.replace_found(conn, recording_id, [], [track(0, 0.2), track(1, 0.7)])
    await pictures.name_subject(conn, recording_id, 1, "Sanna Quill")
    before = (await recordings.one(conn, recording_id)).picture_version
    await pictures.replace_found(conn, recording_id, [], [track(0, 0.7), track(1, 0.2), track(2, 0.45)])
    sight = await pictures.sight_in(conn, recording_id, (1920, 1080), Span(start_ms=0, end_ms=9000))
    assert {one.subject: round(float(one.x[0]), 2) for one in sight.tracks} == {0: 0.2, 1: 0.7, 2: 0.45}
    assert sight.names == {1: "Sanna Quill"}
    assert (await recordings.one(conn, recording_id)).picture_version > before


async def test_graphics_are_kept_instead_of_those_before(conn: Connection):
    recording_id = await a_recording(conn)
    whole = Span(start_ms=0, end_ms=9000)
    await pictures.replace_graphics(conn, recording_id, [(0.5, 0.25, 0.125, 0.5), (0.5, 0.25, 0.25, 0.5)])
    assert len((await pictures.sight_in(conn, recording_id, (1920, 1080), whole)).graphics) == 1
    await pictures.replace_graphics(conn, recording_id, [(0.75, 0.0, 0.125, 0.25)])
    sight = await pictures.sight_in(conn, recording_id, (1920, 1080), whole)
    assert sight.graphics == [(0.75, 0.0, 0.125, 0.25)]


async def test_work_is_asked_for_once_taken_over_stopped_and_gone_on_with(conn: Connection):
    recording_id = await a_recording(conn)
    first_asked = await work.ask(conn, "prepare", on_recording(recording_id), waited=False)
    asked = first_asked.id
    assert (first_asked.new, (await work.one(conn, asked)).waited) == (True, False)
    assert await work.ask(conn, "prepare", on_recording(recording_id)) == Asked(id=asked, new=False)
    assert (await work.one(conn, asked)).waited, "somebody waits for it now"
    first, second = uuid4(), uuid4()
    assert await work.begin(conn, asked, first)
    await work.report(conn, asked, first, "Listening", 0.4)
    assert await work.begin(conn, asked, second), "a worker was taken for dead"
    with pytest.raises(AttemptLost):
        await work.report(conn, asked, first, "Listening", 0.5)
    with pytest.raises(AttemptLost):
        await work.finish(conn, asked, first)
    assert (await work.one(conn, asked)).state == "running"
    await work.request_stop(conn, asked)
    with pytest.raises(StopRequested):
        await work.report(conn, asked, second, "Looking", 0.5)
    await work.set_stopped(conn, asked)
    assert not await work.begin(conn, asked, first)
    assert await work.resume(conn, asked)
    assert [row.id for row in await work.unattended(conn)] == [asked], "it waits, and no job in the queue will do it"
    assert await work.begin(conn, asked, first)
    row = await work.one(conn, asked)
    assert (row.state, row.progressed_from) == ("running", 0.5)
    await work.fail(conn, asked, first, "No room")
    assert [(one.state, one.problem) for one in await work.of_recording(conn, recording_id)] == [("failed", "No room")]


async def test_what_was_removed_over_a_day_ago_is_gone_with_all_that_hangs_on_it(conn: Connection):
    recording_id, kept = await a_recording(conn), await a_recording(conn, title="Kept")
    await pictures.replace_found(conn, recording_id, [(1000, "cut")], [])
    await corrected(conn, recording_id, CorrectWords(first=0, last=0, text="Kept"))
    await recordings.set_removed(conn, recording_id, True)
    await recordings.set_removed(conn, kept, True)
    assert await recordings.purge(conn) == []
    await recordings.set_removed(conn, kept, False)
    await conn.execute("update recording set removed_at = now() - interval '25 hours' where id = %s", [recording_id])
    (content,) = await recordings.purge(conn)
    assert len(content) == 64
    with pytest.raises(NotFound):
        await recordings.one(conn, recording_id)
    assert [number for number, _ in await recordings.shelf(conn)] == [kept]


@pytest.mark.parametrize(
    "statement",
    [
        "update sentence set timing = 'gx' || timing where number = 0",
        "update sentence set timing = repeat('x', cardinality(words)) where number = 0",
        "update sentence set sure = array[1]::smallint[] where number = 0",
        "update sentence set speaker = 'Nobody' where number = 0",
        "update recording set series = ' padded '",
        "insert into work (kind) values ('prepare')",
    ],
)
async def test_the_schema_refuses_what_makes_no_sense(conn: Connection, statement: str):
    await a_recording(conn)
    with pytest.raises(psycopg.IntegrityError):
        await conn.execute(statement)  # type: ignore[arg-type]


def test_a_shelf_from_before_is_brought_up_to_date_with_its_words(cluster: Cluster):
    url = brought_up_to(cluster, "older", "0003")
    with psycopg.connect(url, autocommit=True) as conn:
        conn.execute(
            """insert into recording (title, file_name, content, media_path, duration_ms, width, height, rate_num, rate_den,
                   video_codec, audio_codec, size_bytes, state, stage) values
               ('Old', 'a.mp4', %s, 'originals/a.mp4', 1000, 64, 64, 25, 1, 'h264', 'aac', 9, 'ready', 'Ready')""",
            ["a" * 64],
        )
        conn.execute(
            """insert into sentence (recording_id, number, first_word, speaker, words, starts_ms, ends_ms, body)
               values (1, 0, 0, ' Ann ', '{Keep,it}', '{0,5}', '{4,9}', 'Keep it'), (1, 1, 2, null, '{so}', '{10}', '{11}', 'so')"""
        )
    migrate(url)
    with psycopg.connect(url) as conn:
        assert conn.execute("select speaker, timing from sentence order by number").fetchall() == [
            ("Ann", "gg"),
            (None, "g"),
        ]
        assert conn.execute("select name, colour from speaker").fetchall() == [("Ann", 0)]
        assert conn.execute("select kind::text, state::text from work").fetchall() == [("prepare", "queued")]


def test_work_and_exports_from_before_are_counted_from_none(cluster: Cluster):
    url = brought_up_to(cluster, "before_lanes", "0007")
    with psycopg.connect(url, autocommit=True) as conn:
        a_quote_of_before(conn)
        conn.execute(
            """insert into work (recording_id, kind, state, attempt, started_at)
               values (1, 'prepare', 'running', gen_random_uuid(), now());
               insert into export (quote_id, revision, destination, assembly, state, attempt)
               values (1, 1, 'tall-60', '{}', 'running', gen_random_uuid());"""
        )
    migrate(url)
    with psycopg.connect(url) as conn:
        assert conn.execute("select kind::text, state::text, tries from work order by id").fetchall() == [
            ("prepare", "running", 0),
            ("export", "running", 0),
        ]


def test_exports_of_before_become_work_as_they_stood(cluster: Cluster):
    url = brought_up_to(cluster, "before_one_work", "0012")
    with psycopg.connect(url, autocommit=True) as conn:
        a_quote_of_before(conn)
        conn.execute(
            """insert into work (kind, details) values ('fetch', '{}'), ('fetch', '{}');
               insert into export (quote_id, revision, destination, destination_name, width, height, limit_ms, largest_mb,
                       rate_num, rate_den, planned_frames, state, attempt, progress, finished_at, file_path, facts, findings,
                       problem, tries)
                   select 1, 1, destination, 'Any', 2, 2, 1, 1, 25, 1, 1, state::export_state, attempt::uuid, progress,
                       finished_at::timestamptz, file_path, facts::jsonb, findings::jsonb, problem, tries
                   from (values
                       ('a', 'queued', null, 0, null, null, null, null, null, 0),
                       ('b', 'running', gen_random_uuid()::text, 0.4, null, null, null, null, null, 2),
                       ('c', 'done', gen_random_uuid()::text, 1, '2026-01-02', 'exports/3/x.mp4', '{}', '[]', null, 1),
                       ('d', 'failed', gen_random_uuid()::text, 0.2, '2026-01-03', null, null, null, 'No room', 5),
                       ('e', 'cancelled', null, 0, '2026-01-04', null, null, null, null, 0)
                   ) as told (destination, state, attempt, progress, finished_at, file_path, facts, findings, problem, tries)"""
        )
        conn.execute("insert into procrastinate_jobs (queue_name, task_name) values ('render', 'export-clip')")
    migrate(url)
    with psycopg.connect(url) as conn:
        rows = conn.execute(
            """select target, state::text, progress, problem, tries, finished_at is not null from work
               where kind = 'export' order by id"""
        ).fetchall()
        assert rows == [
            ("quote 1 a 1", "queued", 0, None, 0, False),
            ("quote 1 b 1", "running", pytest.approx(0.4), None, 2, False),
            ("quote 1 c 1", "done", 1, None, 1, True),
            ("quote 1 d 1", "failed", pytest.approx(0.2), "No room", 5, True),
            ("quote 1 e 1", "stopped", 0, None, 0, True),
        ]
        assert conn.execute("select destination from export where made_at = '2026-01-02'").fetchall() == [("c",)]
        assert conn.execute("select count(*) from work where kind = 'fetch'").fetchone() == (2,)
        assert conn.execute("select from procrastinate_jobs").fetchall() == []


def brought_up_to(cluster: Cluster, name: str, first_left: str) -> str:
    """A database of the versions before a migration."""
    url = new_database(cluster, name)
    migrations = read_migrations(str(MIGRATIONS))
    backend = get_backend(url.replace("postgresql://", "postgresql+psycopg://", 1))
    older = type(migrations)([one for one in migrations if one.id < first_left])
    with backend.lock():
        backend.apply_migrations(backend.to_apply(older))
    backend.connection.close()
    return url


def a_quote_of_before(conn: "psycopg.Connection[object]") -> None:
    conn.execute(
        """insert into recording (title, file_name, content, media_path, duration_ms, width, height, rate_num, rate_den,
               video_codec, audio_codec, size_bytes) values
           ('Old', 'a.mp4', repeat('a', 64), 'originals/a.mp4', 1000, 64, 64, 25, 1, 'h264', 'aac', 9);
           with kept as (insert into quote (recording_id, head) values (1, 1) returning id)
           insert into quote_revision (quote_id, number, said, document) select id, 1, 'Kept', '{}' from kept;"""
    )
