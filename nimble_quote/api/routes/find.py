"""Find: measuring a selection, keeping it as a quote."""

from fastapi import APIRouter

from nimble_quote.api.numbers import RowId
from nimble_quote.api.readings import brief
from nimble_quote.api.state import TheConnection, TheServer
from nimble_quote.api.views.quotes import QuoteBrief, Selection, SelectionView
from nimble_quote.core.assembly import clip_ms, cut_ms
from nimble_quote.core.destinations import gauge
from nimble_quote.core.edits import new_quote
from nimble_quote.store import quotes, recordings

router = APIRouter(prefix="/api")


@router.post("/recordings/{recording_id}/selection")
async def measure_selection(
    recording_id: RowId, chosen: Selection, conn: TheConnection, server: TheServer
) -> SelectionView:
    """How long a selection would run as a quote, against every destination."""
    recording = await recordings.one(conn, recording_id)
    context = await server.contexts.of_words(conn, recording, chosen.first, chosen.last)
    document = new_quote(context, chosen.first, chosen.last, recording.series)
    length = cut_ms(document, recording.facts)
    clip = clip_ms(document, context.catalogue, recording.facts)
    gauges = [gauge(clip, destination) for destination in context.catalogue.offered]
    return SelectionView(span=document.span, length_ms=length, gauges=gauges)


@router.post("/recordings/{recording_id}/quotes", status_code=201)
async def keep_quote(recording_id: RowId, chosen: Selection, conn: TheConnection, server: TheServer) -> QuoteBrief:
    """Keeps a selection as a quote."""
    recording = await recordings.one(conn, recording_id)
    context = await server.contexts.of_words(conn, recording, chosen.first, chosen.last)
    document = new_quote(context, chosen.first, chosen.last, recording.series)
    quote_id = await quotes.keep(conn, recording_id, document)
    return brief(await quotes.one(conn, quote_id), recording, context.talk)
