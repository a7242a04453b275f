"""Quotes as slips: their words, what they are judged, and the scope of a shortlist."""

from collections.abc import Sequence
from dataclasses import dataclass

from nimble_quote.api.finding import weights_of_house
from nimble_quote.api.searching import Searching
from nimble_quote.api.state import ServerState
from nimble_quote.api.views.shortlist import SlipView
from nimble_quote.core.cutting.kept import kept_words
from nimble_quote.core.destinations import Destination, gauge
from nimble_quote.core.search.query import read_query
from nimble_quote.core.soundbites.finder import NotSentences, Soundbite
from nimble_quote.formats.shortlist import Slip
from nimble_quote.store import quotes, recordings, shortlist
from nimble_quote.store.contexts import talk_to_read
from nimble_quote.store.database import Connection
from nimble_quote.store.shortlist import SlipRow

DEFAULT_LIMITS = ("tall-30", "tall-60")


@dataclass(frozen=True, kw_only=True)
class Scope:
    """Which quotes are on a shortlist: of a talk, of a series, of what a search finds, or all."""

    talk: int | None = None
    series: str | None = None
    q: str | None = None


async def scoped(conn: Connection, server: ServerState, scope: Scope) -> tuple[str, list[SlipRow]]:
    """What a shortlist is called, and its quotes in their order. Raises `NotFound`."""
    if scope.talk is not None:
        talk = await recordings.one(conn, scope.talk)
        return f"Shortlist of {talk.title}", await shortlist.slips(conn, talk=talk.id)
    if scope.series is not None:
        return f"Shortlist of {scope.series}", await shortlist.slips(conn, series=scope.series)
    if scope.q:
        searching = Searching(conn=conn, library=server.library, query=read_query(scope.q), count=100)
        passages, _ = await searching.passages()
        found = [other for one in passages for other in (one, *one.also)]
        spans = await quotes.spans(conn, sorted({one.recording_id for one in found}))
        held = [
            span.id
            for span in spans
            if any(
                one.recording_id == span.recording_id and span.start_ms < one.end_ms and span.end_ms > one.start_ms
                for one in found
            )
        ]
        return f"Shortlist for {scope.q}", await shortlist.of_quotes(conn, held)
    return "Shortlist of all talks", await shortlist.slips(conn)


async def slip_views(conn: Connection, server: ServerState, rows: Sequence[SlipRow]) -> list[SlipView]:
    """Quotes as slips, with as many queries for five hundred as for one."""
    return await server.slips.views(conn, rows, await server.contexts.catalogues.now(conn))


async def judged(
    conn: Connection, server: ServerState, quote_id: int, destinations: Sequence[Destination] | None = None
) -> Soundbite:
    """How the finder judges the sentences that a quote lies in. Raises `NotSentences` where it has no words."""
    quote = await quotes.one(conn, quote_id)
    recording = await recordings.one(conn, quote.recording_id)
    talk = await talk_to_read(conn, recording, quote.document.span)
    words = kept_words(quote.document, talk)
    if not words:
        raise NotSentences("This quote has no words.")
    finder = await server.finders.of(conn, recording)
    first, last = finder.sentences_of(words[0].index, words[-1].index)
    wanted = destinations or await limits_named(conn, server, DEFAULT_LIMITS)
    return finder.judged(first, last, wanted, await weights_of_house(conn, finder))


async def limits_named(conn: Connection, server: ServerState, names: Sequence[str]) -> list[Destination]:
    """Destinations by their ids. Raises `NotInCatalogue`."""
    catalogue = await server.contexts.catalogues.now(conn)
    return [catalogue.destination(name) for name in names]


async def written_slips(
    conn: Connection, server: ServerState, rows: Sequence[SlipRow], limits: Sequence[Destination]
) -> list[Slip]:
    """Slips as they are printed and put in a table."""
    out = []
    for row, view in zip(rows, await slip_views(conn, server, rows), strict=True):
        told: list[str] = []
        if view.lines:
            bite = await judged(conn, server, row.quote_id, limits)
            told = [f"+ {one.name}: {one.text}" for one in bite.best]
            told += [f"– {bite.weak.text}"] if bite.weak else []
        out.append(
            Slip(
                quote=view.id, mark=view.mark, title=view.title, talk=view.recording_title,
                date=view.held_on.isoformat() if view.held_on else "", speaker=", ".join(view.speakers),
                length_ms=view.length_ms, lines=[" ".join(line.words) for line in view.lines],
                limits=[f"{one.name}: {gauge(view.length_ms, one).text}" for one in limits], tags=view.tags, note=view.note,
                told=told,
            )
        )  # fmt: skip
    return out
