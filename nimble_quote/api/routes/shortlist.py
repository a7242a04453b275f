"""The shortlist: quotes as slips, put in order, marked, compared, chosen from on paper; and a week of posts out of them."""

import json
from typing import Annotated
from urllib.parse import quote as quote_url

from fastapi import APIRouter, Depends, Query, Request, Response
from fastapi.responses import FileResponse, HTMLResponse
from pydantic import BaseModel, Field

from nimble_quote.api.bodies import whole_body
from nimble_quote.api.guard import STRICT_PAGE
from nimble_quote.api.long_lists import as_json
from nimble_quote.api.numbers import MOST_DESTINATIONS, RowId
from nimble_quote.api.readings import spoken_lines
from nimble_quote.api.shortlist import (
    DEFAULT_LIMITS,
    Scope,
    judged,
    limits_named,
    scoped,
    slip_views,
    written_slips,
)
from nimble_quote.api.state import ServerState, TheConnection, TheServer
from nimble_quote.api.stills import still_in
from nimble_quote.api.views.shortlist import ComparedQuote, ReadBack, ShortlistView, SlipView, WeekPost
from nimble_quote.core.cutting.kept import kept_words
from nimble_quote.core.ranges import RANGES
from nimble_quote.core.shortlist.compare import shared_words
from nimble_quote.core.shortlist.week import Candidate, suggest_week
from nimble_quote.core.soundbites.finder import Soundbite
from nimble_quote.formats.shortlist import (
    LARGEST,
    ReadChoice,
    SlipMark,
    read_csv,
    write_csv,
    write_page,
)
from nimble_quote.media.files import download_name
from nimble_quote.store import pictures, quotes, recordings, search, shortlist
from nimble_quote.store.contexts import talk_to_read
from nimble_quote.store.database import Connection, NotFound
from nimble_quote.store.shortlist import SlipRow

router = APIRouter(prefix="/api")


def _scope(
    talk: RowId | None = None, series: str | None = None, q: Annotated[str | None, Query(max_length=2000)] = None
) -> Scope:
    return Scope(talk=talk, series=series, q=q)


_DEFAULT = list(DEFAULT_LIMITS)
Limits = Annotated[list[str], Query(max_length=10)]
TheScope = Annotated[Scope, Depends(_scope)]
Tag = Annotated[str, Field(min_length=1, max_length=60)]


class Said(BaseModel):
    """What a person says of a quote; what is not given stays as it is."""

    mark: SlipMark | None = None
    tags: list[Tag] | None = Field(default=None, max_length=20)
    note: str | None = Field(default=None, max_length=2000)


class Order(BaseModel):
    """Quotes in the order they are to have."""

    quotes: list[int] = Field(max_length=5000)


class WeekAsked(BaseModel):
    """A week to suggest: so many posts, to some destinations, out of some quotes; what was posted in the last `days`."""

    quotes: list[int] = Field(max_length=500)
    posts: int = Field(ge=round(RANGES.posts.least), le=round(RANGES.posts.most))
    destinations: list[str] = Field(min_length=1, max_length=MOST_DESTINATIONS)
    days: int = Field(default=14, ge=0, le=365)


@router.get("/shortlist", response_model=ShortlistView)
async def get_shortlist(scope: TheScope, conn: TheConnection, server: TheServer) -> Response:
    """The quotes of a talk, a series, a search or all talks, in their order."""
    title, rows = await scoped(conn, server, scope)
    slips = await server.slips.written(conn, rows, await server.contexts.catalogues.now(conn))
    return as_json(b'{"title":%s,"slips":%s}' % (json.dumps(title).encode(), slips))


@router.post("/quotes/{quote_id}/slip")
async def say_of_quote(quote_id: RowId, said: Said, conn: TheConnection, server: TheServer) -> SlipView:
    """Marks, tags or notes a quote."""
    await quotes.one(conn, quote_id)
    tags = list(dict.fromkeys(tag.strip() for tag in said.tags if tag.strip())) if said.tags is not None else None
    await shortlist.say_of(
        conn, quote_id, said.mark, tags, said.note.replace("\x00", "") if said.note is not None else None
    )
    (view,) = await slip_views(conn, server, [await _row(conn, quote_id)])
    return view


@router.put("/shortlist/order", status_code=204)
async def order_shortlist(wanted: Order, conn: TheConnection) -> None:
    """Puts quotes in an order."""
    await shortlist.order(conn, wanted.quotes)


@router.get("/quotes/{quote_id}/judged")
async def judge_quote(quote_id: RowId, conn: TheConnection, server: TheServer) -> Soundbite:
    """How the sentences that a quote lies in are judged."""
    return await judged(conn, server, quote_id)


@router.get("/quotes/{quote_id}/still", response_class=FileResponse)
async def get_still(quote_id: RowId, server: TheServer) -> FileResponse:
    """A still of the speaker in a quote."""
    async with server.connection() as conn:
        quote = await quotes.one(conn, quote_id)
        row = await recordings.one(conn, quote.recording_id)
        faces = await pictures.faces_in(conn, row.id, quote.document.span)
    return await still_in(server, row, quote.document.span, faces)


@router.get("/shortlist/compare")
async def compare_quotes(a: int, b: int, conn: TheConnection) -> list[ComparedQuote]:
    """Two quotes in full, the words that both have marked."""
    told = []
    for quote_id in (a, b):
        quote = await quotes.one(conn, quote_id)
        recording = await recordings.one(conn, quote.recording_id)
        talk = await talk_to_read(conn, recording, quote.document.span)
        told.append((quote_id, spoken_lines(talk, kept_words(quote.document, talk))))
    texts = [[word for line in lines for word in line.words] for _, lines in told]
    known = await search.lexemes(conn, {word for text in texts for word in text})
    first, second = ([known.get(word) for word in text] for text in texts)
    return [
        ComparedQuote(quote_id=quote_id, lines=lines, shared=shared)
        for (quote_id, lines), shared in zip(told, shared_words(first, second), strict=True)
    ]


@router.get("/shortlist.csv", response_class=Response)
async def get_table(scope: TheScope, conn: TheConnection, server: TheServer) -> Response:
    """The shortlist as a table, to choose from and be read back."""
    title, rows = await scoped(conn, server, scope)
    name = download_name(title, ending=".csv")
    table = write_csv(await written_slips(conn, server, rows, await limits_named(conn, server, DEFAULT_LIMITS)))
    return Response(
        table,
        media_type="text/csv; charset=utf-8",
        headers={"content-disposition": f"attachment; filename*=UTF-8''{quote_url(name)}"},
    )


@router.get("/shortlist.html", response_class=HTMLResponse)
async def get_page(
    scope: TheScope,
    conn: TheConnection,
    server: TheServer,
    limits: Limits = _DEFAULT,
) -> HTMLResponse:
    """The shortlist as a plain page, to print or to save."""
    title, rows = await scoped(conn, server, scope)
    page = write_page(title, await written_slips(conn, server, rows, await limits_named(conn, server, limits)))
    return HTMLResponse(page, headers={"content-security-policy": STRICT_PAGE})


async def _table(request: Request) -> bytes:
    return await whole_body(request, LARGEST)


@router.post("/shortlist/read-back")
async def read_back(table: Annotated[bytes, Depends(_table)], conn: TheConnection, apply: bool = False) -> ReadBack:
    """What a table says of the quotes; kept only with `apply`."""
    choices, problems = read_csv(table)
    rows = {row.quote_id: row for row in await shortlist.of_quotes(conn, [one.quote for one in choices])}
    problems += [f"Row {one.row}: there is no quote {one.quote} here." for one in choices if one.quote not in rows]
    known = [one for one in choices if one.quote in rows]
    kept = await quotes.many(conn, list(rows))
    changes = [f"“{kept[one.quote].document.title}”: {said}" for one in known if (said := _said(one, rows[one.quote]))]
    ranked = [
        one.quote for one in sorted((one for one in known if one.rank is not None), key=lambda one: one.rank or 0)
    ]
    moved = ranked != sorted(ranked, key=lambda quote: (rows[quote].place, quote))
    changes += ["The order is that of the ranks."] if moved else []
    if apply:
        for one in known:
            await shortlist.say_of(conn, one.quote, one.mark, one.tags, one.note)
        await shortlist.order(conn, ranked)
    return ReadBack(changes=changes, problems=problems)


@router.post("/shortlist/week")
async def suggest(asked: WeekAsked, conn: TheConnection, server: TheServer) -> list[WeekPost]:
    """A balanced week of posts, each with its reason and what it could be swapped for."""
    listed = await shortlist.of_quotes(conn, asked.quotes)
    rows = [row for row in listed if row.mark in ("candidate", "picked") and not row.posted]
    lately = await shortlist.talks_posted(conn, asked.days)
    views = await slip_views(conn, server, rows)
    candidates = [await _candidate(conn, server, row, view, lately) for row, view in zip(rows, views, strict=True)]
    week = suggest_week(candidates, asked.posts, await limits_named(conn, server, asked.destinations))
    return [
        WeekPost(quote_id=one.quote, destination=one.destination, reason=one.reason, instead=list(one.instead))
        for one in week
    ]


async def _candidate(
    conn: Connection, server: ServerState, row: SlipRow, view: SlipView, lately: set[int]
) -> Candidate:
    bite = await judged(conn, server, row.quote_id) if view.lines else None
    return Candidate(
        quote=row.quote_id, title=view.title, talk=row.recording_id, talk_title=view.recording_title,
        topic=bite.topic if bite else -1, speaker=view.speakers[0] if view.speakers else "",
        length_ms=view.length_ms, merit=bite.merit if bite else 0.3, picked=row.mark == "picked",
        posted_lately=row.recording_id in lately,
    )  # fmt: skip


def _said(one: ReadChoice, row: SlipRow) -> str:
    parts = [f"{row.mark} becomes {one.mark}"] if one.mark and one.mark != row.mark else []
    if one.tags is not None and list(one.tags) != row.tags:
        parts.append(f"tags become {', '.join(one.tags) or 'none'}")
    if one.note is not None and one.note != row.note:
        parts.append("its note changes")
    return ", ".join(parts)


async def _row(conn: Connection, quote_id: int) -> SlipRow:
    found = await shortlist.of_quotes(conn, [quote_id])
    if not found:
        raise NotFound("There is no such quote.")
    return found[0]
