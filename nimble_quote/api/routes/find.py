"""Find: measuring a selection, keeping it as a quote."""

from fastapi import APIRouter

from nimble_quote.api.place import TheConnection, brief
from nimble_quote.api.views import QuoteBrief, Selection, SelectionView
from nimble_quote.core.assembly import cut_ms
from nimble_quote.core.destinations import BUILT_IN, gauge
from nimble_quote.core.edits import EditRefused, new_quote
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span
from nimble_quote.store import pictures, quotes, recordings, transcripts
from nimble_quote.store.database import Connection
from nimble_quote.store.recordings import RecordingRow

router = APIRouter(prefix="/api")


@router.post("/recordings/{recording_id}/selection")
async def measure_selection(recording_id: int, chosen: Selection, conn: TheConnection) -> SelectionView:
    """How long a selection would run as a quote, against every destination."""
    recording = await recordings.one(conn, recording_id)
    document = new_quote(await talk_of_words(conn, recording, chosen.first, chosen.last), chosen.first, chosen.last)
    length = cut_ms(document, recording.facts)
    gauges = [gauge(length, destination) for destination in BUILT_IN.values()]
    return SelectionView(span=document.span, length_ms=length, gauges=gauges)


@router.post("/recordings/{recording_id}/quotes", status_code=201)
async def keep_quote(recording_id: int, chosen: Selection, conn: TheConnection) -> QuoteBrief:
    """Keeps a selection as a quote."""
    recording = await recordings.one(conn, recording_id)
    talk = await talk_of_words(conn, recording, chosen.first, chosen.last)
    document = new_quote(talk, chosen.first, chosen.last)
    quote_id = await quotes.keep(conn, recording_id, document)
    return brief(await quotes.one(conn, quote_id), recording, talk)


async def talk_of_words(conn: Connection, recording: RecordingRow, *chosen: int) -> Talk:
    """The words chosen by the first and last of them and their neighbours, with the faces seen there."""
    first, last = sorted(chosen)
    words = await transcripts.words_between(conn, recording.id, first, last)
    if not words:
        raise EditRefused("Those words are not in this recording.")
    around = Span(start_ms=words[0].start_ms, end_ms=words[-1].end_ms)
    faces = await pictures.faces_in(conn, recording.id, around)
    return Talk(words=words, duration_ms=recording.duration_ms, faces=faces)
