"""What searches stand on: the words of the house counted, what they may be meant for, stretches, searches kept."""

import itertools

import psycopg
import pytest

from nimble_quote.core.soundbites.taste import Choice
from nimble_quote.core.timebase import Span
from nimble_quote.store import quotes, search, shortlist, soundbites, transcripts
from nimble_quote.store.database import Connection
from tests.store.test_store import LINES, a_quote, a_recording

pytestmark = pytest.mark.anyio


async def uses(conn: Connection, form: str) -> int:
    cursor = await conn.execute("select uses from term where form = %s", [form])
    row = await cursor.fetchone()
    return int(str(row[0])) if row else 0


async def test_words_are_counted_as_talks_come_and_go(conn: Connection):
    first = await a_recording(conn)
    await a_recording(conn, ["Another WICK.", "Café—naïve."], "Second")
    assert (await uses(conn, "wick"), await uses(conn, "cafe-naive") + await uses(conn, "cafe—naive")) == (3, 1)
    await conn.execute("delete from recording where id = %s", [first])
    assert (await uses(conn, "wick"), await uses(conn, "smokes")) == (1, 0)


async def test_the_words_of_a_sentence_are_not_changed_past_the_count(conn: Connection):
    recording_id = await a_recording(conn)
    with pytest.raises(psycopg.errors.RaiseException, match="not updated in place"):
        async with conn.transaction():
            await conn.execute("update sentence set words = '{Keep,the,oil,short.}' where recording_id = %s and number = 0", [recording_id])  # fmt: skip


async def test_what_a_misspelt_or_misheard_word_may_stand_for(conn: Connection):
    await a_recording(conn, ["The harbour lamp of Maren Tully.", "Nothing alike."])
    assert [one.form for one in await search.spelt_alike(conn, "harber")] == ["harbour"]
    assert [one.form for one in await search.spelt_alike(conn, "lammp")] == ["lamp"]
    assert [one.form for one in await search.sounding_alike(conn, "Tolley")] == ["tully"]
    assert await search.spelt_alike(conn, "xqzzq") == []


async def test_beginnings_find_forms_and_their_signs_are_letters(conn: Connection):
    await a_recording(conn, ["Lamps, lamplight and 100%_sure."])
    assert {one.form for one in await search.beginning(conn, "lamp")} == {"lamps", "lamplight"}
    assert await search.beginning(conn, "la%p") == []
    assert [one.form for one in await search.beginning(conn, "100%_")] == ["100%_sure"]


async def test_stretches_overlap_so_that_near_words_are_in_one(conn: Connection):
    await a_recording(conn, [f"Sentence number {i} has a few more words in it here." for i in range(40)])
    cursor = await conn.execute("select first_sentence, last_sentence from stretch order by number")
    stretches = await cursor.fetchall()
    assert stretches[0][0] == 0
    assert stretches[-1][1] == 39
    assert all(int(str(b[0])) <= int(str(a[1])) for a, b in itertools.pairwise(stretches))


async def test_a_talk_without_words_has_nothing_to_search(conn: Connection):
    recording_id = await a_recording(conn)
    await transcripts.keep(conn, recording_id, transcripts.rows_of(transcripts.Transcript(sentences=())))
    assert await search.stretches(conn, "'wick'", talks=[recording_id]) == []
    assert await uses(conn, "wick") == 0


async def test_searches_are_kept_the_last_first_and_saved_ones_stay(conn: Connection):
    for number in range(20):
        await search.remember(conn, f"search {number}")
        await conn.execute("update search set asked_at = asked_at - interval '1 minute'")
        if number == 0:
            await search.set_saved(conn, "search 0", True)
    kept = await search.kept_searches(conn)
    assert kept[0] == ("search 19", False)
    assert ("search 0", True) in kept
    assert len(kept) == 13
    await search.forget(conn, "search 0")
    assert ("search 0", True) not in await search.kept_searches(conn)


async def test_a_choice_is_kept_changed_and_taken_back(conn: Connection):
    recording_id = await a_recording(conn)
    span = Span(start_ms=0, end_ms=3000)
    await soundbites.decide(conn, recording_id, span, "parked", {"lands": 0.5})
    await soundbites.decide(conn, recording_id, span, "unlike", {"lands": 0.4})
    (row,) = await soundbites.choices(conn)
    assert (row.span, row.choice) == (span, Choice(verdict="unlike", features={"lands": 0.4}))
    await soundbites.take_back(conn, recording_id, span)
    assert await soundbites.choices(conn) == []


async def test_what_judging_reads_has_lexemes_and_the_library(conn: Connection):
    recording_id = await a_recording(conn)
    await a_recording(conn, ["A wick, a lamp."], "Second")
    first = (await soundbites.sentences(conn, recording_id))[0]
    assert list(first.lexemes) == ["keep", None, "wick", "short"]
    counts, words = await soundbites.library(conn, recording_id)
    assert (counts["wick"], counts["lamp"], words) == (3, 2, sum(len(line.split()) for line in LINES) + 4 - 1)


async def test_quotes_share_out_their_places_and_keep_what_is_said_of_them(conn: Connection):
    ids = [(await a_quote(conn))[0]]
    recording_id = (await quotes.one(conn, ids[0])).recording_id
    document = (await quotes.one(conn, ids[0])).document
    ids += [await quotes.keep(conn, recording_id, document) for _ in range(3)]
    await shortlist.order(conn, [ids[3], ids[1], 999_999])
    assert [row.quote_id for row in await shortlist.slips(conn, talk=recording_id)] == [ids[0], ids[3], ids[2], ids[1]]
    await shortlist.say_of(conn, ids[2], "picked", ["storm"], None)
    await shortlist.say_of(conn, ids[2], None, None, "Ask")
    (row,) = await shortlist.of_quotes(conn, [ids[2], 999_999])
    assert (row.mark, row.tags, row.note) == ("picked", ["storm"], "Ask")
    assert await shortlist.slips(conn, series="None such") == []
