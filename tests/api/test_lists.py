"""The shelf and the shortlist: as many queries for many as for few, and never what was true a moment ago."""

import json
from typing import Any

import psycopg
import pytest

from nimble_quote.api.readings import Readings
from nimble_quote.api.recordings import Shelf
from nimble_quote.api.slips import Slips
from nimble_quote.core.edits import RenameQuote, apply_edit
from nimble_quote.core.transcript.corrections import CorrectWords
from nimble_quote.store import quotes, recordings, shortlist, work
from nimble_quote.store.catalogue import Catalogues
from nimble_quote.store.database import Connection
from nimble_quote.store.work import on_recording
from tests.store.test_bringing_in import corrected
from tests.store.test_store import a_quote, a_recording
from tests.talks import context_of, talk_of

pytestmark = pytest.mark.anyio


class Counting:
    """How many statements are run."""

    def __init__(self, monkeypatch: pytest.MonkeyPatch) -> None:
        self.count = 0
        run = psycopg.AsyncCursor.execute

        async def counted(cursor: Any, *args: Any, **named: Any) -> Any:
            self.count += 1
            return await run(cursor, *args, **named)

        monkeypatch.setattr(psycopg.AsyncCursor, "execute", counted)

    async def of(self, asking: Any) -> int:
        before = self.count
        await asking
        return self.count - before


async def slips_of(conn: Connection, slips: Slips) -> list[dict[str, Any]]:
    catalogue = await Catalogues().now(conn)
    return json.loads(await slips.written(conn, await shortlist.slips(conn), catalogue))


async def test_lists_take_as_many_queries_for_many_as_for_few(conn: Connection, monkeypatch: pytest.MonkeyPatch):
    counting = Counting(monkeypatch)
    counts = []
    for more in (2, 6):
        for number in range(more):
            await a_quote(conn, title=f"Talk {more}-{number}")
        shelf, slips = Shelf(), Slips(Readings())
        cold = await counting.of(shelf.listed(conn, False)), await counting.of(slips_of(conn, slips))
        warm = await counting.of(shelf.listed(conn, False)), await counting.of(slips_of(conn, slips))
        counts.append((cold, warm))
    assert counts[0] == counts[1]
    assert max(counts[0][0]) <= 13


async def test_the_shelf_shows_what_changed_and_only_that_is_made_anew(
    conn: Connection, monkeypatch: pytest.MonkeyPatch
):
    shelf = Shelf()
    first, second = await a_recording(conn, title="First"), await a_recording(conn, title="Second")

    async def shown() -> dict[int, dict[str, Any]]:
        return {one["id"]: one for one in json.loads(await shelf.listed(conn, False))}

    before = await shown()
    assert (before[first]["words"], before[first]["speakers"], before[first]["work"]) == (20, ["Ann"], [])
    read: list[int] = []
    many = recordings.many

    async def watched(conn: Connection, ids: list[int]) -> Any:
        read.extend(ids)
        return await many(conn, ids)

    monkeypatch.setattr(recordings, "many", watched)
    await recordings.describe(conn, first, title="Renamed", series="Evenings", held_on=None, notes="")
    await work.ask(conn, "prepare", on_recording(first))
    quote_id, _ = await a_quote(conn, title="Third")
    after = await shown()
    assert (after[first]["title"], after[first]["work"][0]["state"]) == ("Renamed", "queued")
    assert after[second] == before[second]
    third = next(one for one in after.values() if one["title"] == "Third")
    assert [one["id"] for one in third["quotes"]] == [quote_id]
    assert sorted(read) == sorted([first, third["id"]])
    await recordings.set_removed(conn, first, True)
    assert first not in await shown()


async def test_a_slip_shows_what_changed_of_its_quote_its_words_and_what_is_said_of_it(conn: Connection):
    slips = Slips(Readings())
    quote_id, document = await a_quote(conn)

    async def shown() -> dict[str, Any]:
        return next(one for one in await slips_of(conn, slips) if one["id"] == quote_id)

    before = await shown()
    assert (before["mark"], before["made"], before["lines"][0]["words"][0]) == ("candidate", False, "the")
    await shortlist.say_of(conn, quote_id, "picked", ["harbour"], "For Sunday")
    said = await shown()
    assert (said["mark"], said["tags"], said["note"]) == ("picked", ["harbour"], "For Sunday")
    edit = RenameQuote(title="Another title")
    quote = await quotes.one(conn, quote_id)
    await quotes.revise(conn, quote, edit, "Renamed", apply_edit(document, edit, context_of(talk_of("Keep it."))))
    assert (await shown())["title"] == "Another title"
    await corrected(conn, before["recording_id"], CorrectWords(first=1, last=1, text="Trim"))
    assert (await shown())["lines"][0]["words"][0] == "Trim"


async def test_a_quote_changed_while_a_list_is_read_is_shown_rightly_when_that_is_undone(conn: Connection):
    slips = Slips(Readings())
    quote_id, document = await a_quote(conn)
    rows, catalogue = await shortlist.slips(conn), await Catalogues().now(conn)
    edit = RenameQuote(title="Another title")
    quote = await quotes.one(conn, quote_id)
    await quotes.revise(conn, quote, edit, "Renamed", apply_edit(document, edit, context_of(talk_of("Keep it."))))
    # The rows were read before the change, the readings are after it.
    await slips.written(conn, rows, catalogue)
    await quotes.undo(conn, quote_id)
    (shown,) = (one for one in await slips_of(conn, slips) if one["id"] == quote_id)
    assert shown["title"] == document.title
