"""The store against the real database: rules that the schema keeps, and what each statement gives back."""

import hashlib
from fractions import Fraction
from typing import Any
from uuid import uuid4

import psycopg
import pytest

from nimble_quote.core.assembly import assemble
from nimble_quote.core.captions.cues import WrittenCue
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.edits import RenameQuote, StrikeWords, apply_edit, new_quote
from nimble_quote.core.making import Making
from nimble_quote.core.timebase import Span
from nimble_quote.core.transcript.cues import TimedCue, Token, timed_words
from nimble_quote.core.transcript.document import transcript_of
from nimble_quote.media.probe import SoundTrack, SourceFacts
from nimble_quote.store import catalogue, exports, quotes, recordings, transcripts, work
from nimble_quote.store.catalogue import Catalogues
from nimble_quote.store.database import MIGRATIONS, Connection, NotFound, StoredDamaged, migrate
from nimble_quote.store.exports import MadeClip
from nimble_quote.store.work import AttemptLost, StopRequested, Target
from tests.core.test_preflight import GOOD
from tests.shipped import CATALOGUE, DESTINATIONS
from tests.talks import HD, context_of, talk_of

pytestmark = pytest.mark.anyio

FACTS = SourceFacts(
    duration_ms=60_000,
    width=1920,
    height=1080,
    rate=Fraction(25),
    video_codec="h264",
    sound_tracks=(SoundTrack(codec="aac", channels=2, language=None, title=None),),
    size_bytes=9,
)
MADE = MadeClip(
    file_path="exports/1/clip.mp4",
    frames=9,
    facts=GOOD,
    findings=(),
    cues=(WrittenCue(first_frame=0, end_frame=9, lines=("a",)),),
)
LINES = [
    "Keep the wick short.",
    "A long wick smokes.",
    "Robert'); drop table quote; -- said the lamps.",
    "Don't stop, it's late.",
]


async def a_recording(conn: Connection, lines: list[str] = LINES, title: str = "A talk") -> int:
    content = hashlib.sha256(title.encode()).hexdigest()
    recording_id = await recordings.add(
        conn,
        title=title,
        file_name="a.mp4",
        content=content,
        media_path=f"originals/{content}.mp4",
        facts=FACTS,
    )
    assert recording_id is not None
    cues = [
        TimedCue(
            start_ms=i * 5000, end_ms=i * 5000 + 3000, speaker="Ann", tokens=tuple(Token(text=t) for t in line.split())
        )
        for i, line in enumerate(lines)
    ]
    await transcripts.keep(conn, recording_id, transcripts.rows_of(transcript_of(timed_words(cues))))
    return recording_id


async def a_quote(conn: Connection, title: str = "A talk") -> tuple[int, QuoteDocument]:
    recording_id = await a_recording(conn, title=title)
    document = new_quote(context_of(talk_of(" ".join(LINES))), 0, 7)
    return await quotes.keep(conn, recording_id, document), document


async def test_migrating_twice_changes_nothing(database_url: str):
    migrate(database_url)
    with psycopg.connect(database_url) as conn:
        applied = conn.execute("select migration_id from _yoyo_migration order by 1").fetchall()
    assert [row[0] for row in applied] == sorted(path.stem for path in MIGRATIONS.glob("*.sql"))


def test_applied_migrations_are_frozen():
    """A migration that was applied anywhere must not be edited: write a new one, and add its sum here."""
    sums = {path.name: hashlib.sha256(path.read_bytes()).hexdigest()[:16] for path in sorted(MIGRATIONS.glob("*.sql"))}
    assert sums == {
        "0001.task-queue.sql": "7907f213ad1c1ec3",
        "0002.recordings-quotes-exports.sql": "9d0421cb10579982",
        "0003.bringing-in.sql": "b6c58d7ccadd2fd4",
        "0004.find-and-shortlist.sql": "24011e05bf0b6d36",
        "0005.trimming.sql": "dfc7e0e55b7fcdbd",
        "0006.quote-news.sql": "898fad5236fc5378",
        "0007.taken-up-again.sql": "53cc41d982d4931a",
        "0008.newer-exports.sql": "c3c9d533453c0b96",
        "0009.lasting-words.sql": "d8aff60142857f1b",
        "0010.catalogue.sql": "53a3bcae15641148",
        "0011.exports-by-themselves.sql": "24b33ed525a555bb",
        "0012.one-kind-of-work.sql": "c7ceb1be5c692e95",
        "0013.media-files.sql": "201600395afcaf8f",
        "0014.lists.sql": "7713b9eda0271a49",
        "0015.calm-captions.sql": "b5c8ff5923943dbf",
        "0016.spoken-language.sql": "29c394f9c9ec5a82",
        "0017.meaning.sql": "285ce944b847034d",
        "0018.framing.sql": "52a6eb11a150c59b",
        "0019.following.sql": "c23951b7d7af0963",
        "0020.house-pictures.sql": "2f10867e0e21d9a3",
        "0021.graphics.sql": "2c599ea82b2b9e37",
        "0022.caption-styles.sql": "703becb95480c94b",
        "0023.logos.sql": "f42d314f9b8a2f1a",
        "0024.finishes.sql": "9bf2849a0d358efc",
        "0025.sounds.sql": "7a08ad88d708bc0e",
        "0026.exports-as-wanted.sql": "f19ee57b87730f35",
        "0027.posting.sql": "201660c3fa30bf79",
    }


async def test_the_catalogue_begins_as_it_ships_and_counts_its_changes(conn: Connection):
    shipped = await catalogue.whole(conn)
    assert shipped.model_copy(update={"version": 0}) == CATALOGUE
    kept = Catalogues()
    assert (await kept.now(conn)).destination("tall-60").name == "Tall 60"
    await conn.execute("update destination set name = 'Tall sixty' where id = 'tall-60'")
    assert (await kept.now(conn)).destination("tall-60").name == "Tall sixty"
    assert await catalogue.version(conn) > shipped.version


async def test_words_are_numbered_on_when_another_transcript_takes_their_place(conn: Connection):
    recording_id = await a_recording(conn)
    before = [word.ref for word in transcripts.words_of(await transcripts.whole(conn, recording_id))]
    assert before == list(range(len(before)))
    await transcripts.keep(conn, recording_id, transcripts.rows_of(await transcripts.load(conn, recording_id)))
    after = [word.ref for word in transcripts.words_of(await transcripts.whole(conn, recording_id))]
    assert after == [number + len(before) for number in before]
    assert (await transcripts.load(conn, recording_id)).next_id == 2 * len(before)


async def test_words_come_back_with_their_places_and_times(conn: Connection):
    recording_id = await a_recording(conn)
    rows = await transcripts.whole(conn, recording_id)
    assert [" ".join(row.words) for row in rows][:2] == LINES[:2]
    words = transcripts.words_of(rows)
    assert [w.index for w in words] == list(range(len(words)))
    near = transcripts.words_of(await transcripts.sentences_between(conn, recording_id, 5, 5, beside=1))
    assert [w.index for w in near] == [w.index for w in words if w.start_ms < 13_000]
    around = transcripts.words_of(await transcripts.sentences_in(conn, recording_id, Span(start_ms=5000, end_ms=6000)))
    assert [w.text for w in around] == LINES[1].split()
    row = await recordings.one(conn, recording_id)
    assert (row.words, row.speakers, row.quotes) == (len(words), ["Ann"], 0)


async def test_the_schema_refuses_what_the_code_should_never_write(conn: Connection):
    recording_id = await a_recording(conn)
    for statement in (
        "update recording set media_path = '../escape' where id = %s",
        "update recording set width = 0 where id = %s",
        "insert into work (kind, recording_id, state) values ('align', %s, 'failed')",
        "insert into work (kind, recording_id, progress) values ('align', %s, 1.5)",
        "update sentence set starts_ms = '{1}' where recording_id = %s",
        "insert into quote (recording_id, head) values (%s, 1); set constraints all immediate",
    ):
        with pytest.raises(psycopg.errors.IntegrityError):
            async with conn.transaction():
                await conn.execute(statement.split(";")[0].encode(), [recording_id])
                await conn.execute("set constraints all immediate")


async def test_undo_and_redo_walk_the_revisions_and_a_new_edit_forgets_the_redo(conn: Connection):
    quote_id, document = await a_quote(conn)
    talk = talk_of(" ".join(LINES))

    async def edit(change: StrikeWords | RenameQuote) -> None:
        quote = await quotes.one(conn, quote_id, lock=True)
        await quotes.revise(
            conn,
            quote,
            change,
            change.said(quote.document, context_of(talk)),
            apply_edit(quote.document, change, context_of(talk)),
        )

    await edit(RenameQuote(title="One"))
    await edit(RenameQuote(title="Two"))
    await quotes.undo(conn, quote_id)
    quote = await quotes.one(conn, quote_id)
    assert (quote.document.title, quote.undo_said, quote.redo_said) == ("One", "Renamed to “One”", "Renamed to “Two”")
    await quotes.redo(conn, quote_id)
    assert (await quotes.one(conn, quote_id)).document.title == "Two"
    await quotes.redo(conn, quote_id)
    assert (await quotes.one(conn, quote_id)).document.title == "Two"
    for _ in range(3):
        await quotes.undo(conn, quote_id)
    assert (await quotes.one(conn, quote_id)).document == document
    await edit(StrikeWords(first=1, last=1))
    quote = await quotes.one(conn, quote_id)
    assert (quote.revision, quote.undo_said, quote.redo_said) == (4, "Struck “the”", None)


async def test_removed_quotes_leave_the_list_and_come_back_whole(conn: Connection):
    quote_id, document = await a_quote(conn)
    recording_id = (await quotes.one(conn, quote_id)).recording_id
    await quotes.set_removed(conn, quote_id, True)
    assert await quotes.of_recording(conn, recording_id) == []
    await quotes.set_removed(conn, quote_id, False)
    assert [q.document for q in await quotes.of_recording(conn, recording_id)] == [document]


async def an_export(conn: Connection, title: str = "A talk", **more: Any) -> int:
    quote_id, document = await a_quote(conn, title)
    assembly = assemble(document, context_of(talk_of(" ".join(LINES))), HD, DESTINATIONS["tall-60"])
    export_id = await exports.add(conn, exports.NewExport(quote_id=quote_id, revision=1, assembly=assembly, **more))
    await work.ask(conn, "export", Target(name=f"clip {export_id}", export_id=export_id))
    return export_id


async def finished(conn: Connection, export_id: int) -> None:
    work_id = (await exports.one(conn, export_id)).work_id
    token = uuid4()
    await work.begin(conn, work_id, token)
    await exports.keep_clip(conn, export_id, MADE)
    await work.finish(conn, work_id, token)


async def test_files_of_exports_are_called_so_that_no_two_are_the_same(conn: Connection):
    named = {
        "pattern": "{recording} {shape} {date}",
        "names": {"recording": "A/B: talk", "shape": "tall", "date": "2026-05-01"},
    }
    names = [(await exports.one(conn, await an_export(conn, title, **named))).file_name for title in ("A", "B", "C")]
    assert names == [
        "A B talk tall 2026-05-01.mp4",
        "A B talk tall 2026-05-01 (2).mp4",
        "A B talk tall 2026-05-01 (3).mp4",
    ]
    numbered = await an_export(conn, "D", pattern="{number} {destination}", making=Making(kind="mp3"))
    assert (await exports.one(conn, numbered)).file_name == f"{numbered} Tall 60.mp3"
    hostile = await an_export(conn, "E", pattern="../{quote}", names={"quote": "{recording}\x00/../x"})
    name = (await exports.one(conn, hostile)).file_name or ""
    assert not set(name) & set('/\\:*?"<>|\x00')
    assert not name.startswith(".")


async def test_what_was_made_of_the_same_is_found_until_it_is_removed(conn: Connection):
    digest = "ab" * 32
    export_id = await an_export(conn, made_of=digest)
    quote_id = (await exports.one(conn, export_id)).quote_id
    assert await exports.made_before(conn, quote_id, digest) is None, "it is not made yet"
    await finished(conn, export_id)
    assert await exports.made_before(conn, quote_id, digest) == export_id
    await exports.remove(conn, export_id)
    assert await exports.made_before(conn, quote_id, digest) is None
    assert export_id not in [one.id for one in await exports.newest(conn)]
    with pytest.raises(NotFound):
        await exports.remove(conn, export_id)


async def test_what_is_made_of_an_export_that_was_removed_meanwhile_is_not_kept(conn: Connection):
    export_id = await an_export(conn)
    await exports.remove(conn, export_id)
    with pytest.raises(AttemptLost):
        await exports.keep_clip(conn, export_id, MADE)


async def test_old_exports_are_cleared_but_for_the_newest_of_each_version(conn: Connection):
    first = await an_export(conn)
    quote_id = (await exports.one(conn, first)).quote_id
    await finished(conn, first)
    row = await exports.one(conn, first)
    await conn.execute("update export set made_at = now() - interval '40 days' where id = %s", [first])
    assert await exports.clear(conn, 30, but_newest=True) == 0, "there is no newer one"
    document = await quotes.document_at(conn, quote_id, row.revision)
    assembly = assemble(document, context_of(talk_of(" ".join(LINES))), HD, DESTINATIONS["tall-60"])
    newer = await exports.add(conn, exports.NewExport(quote_id=quote_id, revision=1, assembly=assembly))
    await work.ask(conn, "export", Target(name="another", export_id=newer))
    await finished(conn, newer)
    assert await exports.clear(conn, 30, but_newest=True) == 1
    assert [one.id for one in await exports.newest(conn) if one.quote_id == quote_id] == [newer]
    assert await exports.clear(conn, 0, but_newest=False) == 0, "made this very moment"


async def test_the_pace_of_exports_is_what_they_took_of_late(conn: Connection):
    assert await exports.pace(conn) is None
    export_id = await an_export(conn)
    await finished(conn, export_id)
    row = await exports.one(conn, export_id)
    await conn.execute(
        "update work set started_at = now() - interval '20 seconds', finished_at = now() where export_id = %s",
        [export_id],
    )
    pixels = row.planned_frames * row.width * row.height / 1e6
    assert await exports.pace(conn) == pytest.approx(20 / pixels, rel=0.01)


async def test_work_taken_over_can_only_be_finished_by_its_new_worker(conn: Connection):
    export_id = await an_export(conn)
    work_id = (await exports.one(conn, export_id)).work_id
    first, second = uuid4(), uuid4()
    assert await work.begin(conn, work_id, first)
    await work.report(conn, work_id, first, "Making the clip", 0.4)
    assert await work.begin(conn, work_id, second)
    with pytest.raises(AttemptLost):
        await work.report(conn, work_id, first, "Making the clip", 0.5)
    with pytest.raises(AttemptLost):
        await work.finish(conn, work_id, first)
    await work.fail(conn, work_id, first, "too late to matter")
    await exports.keep_clip(conn, export_id, MADE)
    await work.finish(conn, work_id, second)
    row = await exports.one(conn, export_id)
    assert (row.state, row.progress, row.problem, row.file_path) == ("done", 1.0, None, MADE.file_path)
    assert not await work.begin(conn, work_id, uuid4())


async def test_work_that_waits_is_stopped_at_once_and_what_goes_on_when_it_next_reports(conn: Connection):
    going_on = (await exports.one(conn, await an_export(conn))).work_id
    token = uuid4()
    await work.begin(conn, going_on, token)
    await work.request_stop(conn, going_on)
    with pytest.raises(StopRequested):
        await work.report(conn, going_on, token, "Making the clip", 0.2)
    await work.set_stopped(conn, going_on)
    assert (await work.one(conn, going_on)).state == "stopped"
    await work.resume(conn, going_on)
    await work.request_stop(conn, going_on)
    assert (await work.one(conn, going_on)).state == "stopped"


async def test_the_time_left_is_told_from_where_an_export_begins_afresh(conn: Connection):
    work_id = (await exports.one(conn, await an_export(conn))).work_id
    for part in (0.8, 0.1):
        token = uuid4()
        await work.begin(conn, work_id, token)
        await work.report(conn, work_id, token, "Making the clip", part)
    row = await work.one(conn, work_id)
    assert (row.progress, row.progressed_from) == (pytest.approx(0.1), pytest.approx(0.1))


async def test_a_stored_quote_that_is_damaged_is_no_fault_of_who_opens_it(conn: Connection):
    quote_id, _ = await a_quote(conn)
    await conn.execute("update quote_revision set document = document - 'span' where quote_id = %s", [quote_id])
    with pytest.raises(StoredDamaged, match=f"Quote {quote_id} can't be opened: what is stored of it is damaged"):
        await quotes.one(conn, quote_id)


async def test_what_is_not_there_is_told(conn: Connection):
    for missing in (recordings.one(conn, 0), quotes.one(conn, 0), exports.one(conn, 0)):
        with pytest.raises(NotFound, match="There is no such"):
            await missing
