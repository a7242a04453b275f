"""Searching all talks and one, and the searches that are kept."""

from collections.abc import Iterable, Sequence
from typing import Annotated, Literal

from fastapi import APIRouter, Query
from pydantic import BaseModel, Field

from nimble_quote.api.numbers import RowId
from nimble_quote.api.recordings import quote_span
from nimble_quote.api.searching import Searching
from nimble_quote.api.state import TheConnection, TheSearchingConnection, TheServer
from nimble_quote.api.views.quotes import QuoteSpan, SpokenLine
from nimble_quote.api.views.search import Asked, Mark, MarkedWords, PassageView, SearchChoices, SearchView, TalkMarks
from nimble_quote.core.cutting.edges import with_air_ms
from nimble_quote.core.destinations import Destination, fits_said
from nimble_quote.core.search.passages import Passage
from nimble_quote.core.search.query import LONGEST, plain_search, read_query
from nimble_quote.store import quotes, recordings, search
from nimble_quote.store.database import Connection

router = APIRouter(prefix="/api")

Typed = Annotated[str, Query(max_length=2000)]


class SearchAsked(BaseModel):
    """A search to keep."""

    typed: str = Field(min_length=1, max_length=LONGEST)


@router.get("/search")
async def find(
    q: Typed,
    conn: TheSearchingConnection,
    server: TheServer,
    order: Literal["best", "newest"] = "best",
    count: Annotated[int, Query(ge=1, le=100)] = 20,
) -> SearchView:
    """The passages of all talks that answer a search."""
    query = read_query(q)
    searching = Searching(conn=conn, library=server.library, query=query, newest=order == "newest", count=count)
    passages, notes = await searching.passages()
    tell = _Telling(conn, (await server.contexts.catalogues.now(conn)).offered)
    await tell.load(one.recording_id for passage in passages for one in (passage, *passage.also))
    views = [tell.view(one) for one in passages]
    if query.used is not None:
        views = [one for one in views if bool(one.quotes) is query.used]
    asked = Asked(
        bare=query.bare, by=query.by, series=query.series, after=query.after, before=query.before, used=query.used,
        wide=query.wide, by_meaning=query.by_meaning,
    )  # fmt: skip
    return SearchView(asked=asked, passages=views[:count], notes=notes, more=len(views) > count)


@router.get("/recordings/{recording_id}/search")
async def find_in_talk(recording_id: RowId, q: Typed, conn: TheSearchingConnection, server: TheServer) -> TalkMarks:
    """Where in one talk a search is answered."""
    searching = Searching(conn=conn, library=server.library, query=read_query(q), recording_id=recording_id)
    places, notes = await searching.places()
    return TalkMarks(marks=[MarkedWords(first=a, last=b - 1, start_ms=ms) for a, b, ms in places], notes=notes)


@router.get("/searches")
async def list_searches(conn: TheConnection) -> SearchChoices:
    """What searches can be narrowed to, and those kept."""
    kept = await search.kept_searches(conn)
    return SearchChoices(
        speakers=await search.speakers(conn),
        series=await recordings.series_names(conn),
        saved=sorted(typed for typed, saved in kept if saved),
        recent=[typed for typed, saved in kept if not saved],
    )


@router.post("/searches", status_code=204)
async def remember_search(asked: SearchAsked, conn: TheConnection) -> None:
    """Keeps a search among the recent ones."""
    await search.remember(conn, plain_search(asked.typed))


@router.post("/searches/save", status_code=204)
async def save_search(asked: SearchAsked, conn: TheConnection) -> None:
    """Saves a search."""
    await search.set_saved(conn, plain_search(asked.typed), True)


@router.post("/searches/forget", status_code=204)
async def forget_search(asked: SearchAsked, conn: TheConnection) -> None:
    """Drops a saved or recent search."""
    await search.forget(conn, plain_search(asked.typed))


class _Telling:
    """Passages told with their talks and the quotes taken there."""

    def __init__(self, conn: Connection, destinations: Sequence[Destination]) -> None:
        self._conn = conn
        self._destinations = destinations
        self._titles: dict[int, recordings.TitleRow] = {}
        self._quotes: dict[int, list[QuoteSpan]] = {}

    async def load(self, recording_ids: Iterable[int]) -> None:
        wanted = sorted(set(recording_ids))
        self._titles = await recordings.titles(self._conn, wanted)
        for place in await quotes.spans(self._conn, wanted):
            self._quotes.setdefault(place.recording_id, []).append(quote_span(place))

    def view(self, passage: Passage) -> PassageView:
        title = self._titles[passage.recording_id]
        taken = [
            one
            for one in self._quotes.get(passage.recording_id, [])
            if one.span.start_ms < passage.end_ms and one.span.end_ms > passage.start_ms
        ]
        length = with_air_ms(passage.start_ms, passage.end_ms)
        return PassageView(
            recording_id=passage.recording_id, title=title.title, series=title.series, held_on=title.held_on,
            lines=[SpokenLine(speaker=one.speaker, words=list(one.words)) for one in passage.sentences],
            marks=[Mark(first=a, end=b) for a, b in passage.marks], first_word=passage.first_word,
            last_word=passage.last_word, start_ms=passage.start_ms, end_ms=passage.end_ms, length_ms=length,
            fits=fits_said(length, self._destinations), missing=list(passage.missing),
            by_meaning=passage.by_meaning, quotes=taken,
            also=[self.view(one) for one in passage.also],
        )  # fmt: skip
