"""Find: searching, measuring a selection, keeping it as a quote."""

from fastapi import APIRouter

from nimble_quote.api.place import TheConnection, brief
from nimble_quote.api.views import Hit, Mark, QuoteBrief, SearchView, Selection, SelectionView
from nimble_quote.core.assembly import cut_ms
from nimble_quote.core.destinations import BUILT_IN, gauge
from nimble_quote.core.edits import EditRefused, new_quote
from nimble_quote.core.search.query import marks, plain_search, read_query
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span
from nimble_quote.store import pictures, quotes, recordings, search, transcripts
from nimble_quote.store.database import Connection
from nimble_quote.store.recordings import RecordingRow

router = APIRouter(prefix="/api")


@router.get("/search")
async def find(q: str, conn: TheConnection, recording: int | None = None) -> SearchView:
    """The sentences that answer a search, in one recording or in all."""
    query = read_query(q)
    stems = await search.stems(conn, query)
    if query.parts and not any(any(part) for part in stems):
        return SearchView(hits=[], note="These words are too common to search for. Add a rarer one.")
    found = await search.find(conn, plain_search(q), recording)
    note = f"Only the first {search.MOST} sentences are shown." if len(found) == search.MOST else None
    hits = [
        Hit(
            recording_id=one.recording_id, title=one.title, speaker=one.speaker, first_word=one.first_word,
            words=one.words, start_ms=one.start_ms, end_ms=one.end_ms, marks=[Mark(first=first, end=end) for first, end in marks(one.stems, stems)],
        )
        for one in found
    ]  # fmt: skip
    return SearchView(hits=hits, note=note)


@router.post("/recordings/{recording_id}/selection")
async def measure_selection(recording_id: int, chosen: Selection, conn: TheConnection) -> SelectionView:
    """How long a selection would run as a quote, against every destination."""
    recording = await recordings.one(conn, recording_id)
    document = new_quote(await _talk_of(conn, recording, chosen), chosen.first, chosen.last)
    length = cut_ms(document, recording.facts)
    gauges = [gauge(length, destination) for destination in BUILT_IN.values()]
    return SelectionView(span=document.span, length_ms=length, gauges=gauges)


@router.post("/recordings/{recording_id}/quotes", status_code=201)
async def keep_quote(recording_id: int, chosen: Selection, conn: TheConnection) -> QuoteBrief:
    """Keeps a selection as a quote."""
    recording = await recordings.one(conn, recording_id)
    talk = await _talk_of(conn, recording, chosen)
    document = new_quote(talk, chosen.first, chosen.last)
    quote_id = await quotes.keep(conn, recording_id, document)
    return brief(await quotes.one(conn, quote_id), recording, talk)


async def _talk_of(conn: Connection, recording: RecordingRow, chosen: Selection) -> Talk:
    first, last = sorted((chosen.first, chosen.last))
    words = await transcripts.words_between(conn, recording.id, first, last)
    if not words:
        raise EditRefused("Those words are not in this recording.")
    around = Span(start_ms=words[0].start_ms, end_ms=words[-1].end_ms)
    faces = await pictures.faces_in(conn, recording.id, around)
    return Talk(words=words, duration_ms=recording.duration_ms, faces=faces)
