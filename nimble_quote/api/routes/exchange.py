"""Cuts for other programs, and from them."""

from typing import Annotated, Literal
from urllib.parse import quote

from fastapi import APIRouter, Query, Request, Response
from pydantic import BaseModel

from nimble_quote.api.bodies import whole_body
from nimble_quote.api.numbers import RowId
from nimble_quote.api.readings import brief
from nimble_quote.api.routes.house import ANY_BODY
from nimble_quote.api.state import TheServer, loaded
from nimble_quote.api.views.quotes import QuoteBrief
from nimble_quote.core.assembly import assemble
from nimble_quote.core.assembly.resolving import clip_rate
from nimble_quote.core.edits import EditRefused
from nimble_quote.core.exchange import NotACut, Stretch, events_of, quotes_of
from nimble_quote.formats.timelines import MOST_BYTES, Cut, ReadCut, TimelineUnreadable
from nimble_quote.formats.timelines.edl import read_edl, write_edl
from nimble_quote.formats.timelines.otio import read_otio, write_otio
from nimble_quote.media.files import download_name
from nimble_quote.store import quotes, recordings
from nimble_quote.store.recordings import RecordingRow

router = APIRouter(prefix="/api")
TimelineKind = Literal["otio", "edl"]
_WRITERS = {"otio": write_otio, "edl": write_edl}
_TYPES = {"otio": "application/json", "edl": "text/plain"}


class ImportedView(BaseModel):
    """The quotes that came of a cut, and what of it was left out."""

    quotes: list[QuoteBrief]
    left_out: list[str]


@router.get("/quotes/{quote_id}/timeline.{kind}", response_class=Response)
async def get_timeline(quote_id: RowId, kind: TimelineKind, destination: str, server: TheServer) -> Response:
    """The cut of a version for another program: OpenTimelineIO, with captions as markers and the framing as metadata, or an edit
    decision list."""
    async with server.connection() as conn:
        row, recording, context = await loaded(conn, server, quote_id)
    if row.document.version(destination) is None:
        raise EditRefused("This quote has no version for that destination.")
    place = context.catalogue.destination(destination)
    assembly = assemble(row.document, context, recording.facts, place)
    cut = Cut(
        title=f"{row.document.title} - {place.name}", media=recording.file_name, rate=assembly.rate,
        media_frames=int(recording.duration_ms * assembly.rate / 1000), events=events_of(assembly),
        picture=recording.facts.has_picture, sound=bool(recording.sound_tracks),
        cues=[cue for track in assembly.cue_tracks for cue in track.cues], runs=assembly.cut_picture, size=place.size,
    )  # fmt: skip
    name = download_name(recording.title, row.document.title, place.name, ending=f".{kind}")
    return Response(
        _WRITERS[kind](cut).encode(), media_type=_TYPES[kind],
        headers={"content-disposition": f"attachment; filename*=utf-8''{quote(name)}"},
    )  # fmt: skip


@router.post("/recordings/{recording_id}/timeline", status_code=201, openapi_extra=ANY_BODY)
async def import_timeline(
    recording_id: RowId, kind: Annotated[TimelineKind, Query()], request: Request, server: TheServer
) -> ImportedView:
    """Keeps a cut of a recording from another program as a quote, or as several where it steps back in the recording. Its media must
    be called as the recording's file or title is. Refused with 422 where it can't be read, or is of another recording."""
    body = await whole_body(request, MOST_BYTES)
    async with server.connection() as conn:
        recording = await recordings.one(conn, recording_id)
        read = _read(kind, body, recording)
        mine = [one for one in read.stretches if _is_of(one, recording)]
        if not mine:
            named = ", ".join(sorted({f"“{one.media[:60]}”" for one in read.stretches})[:3])
            raise NotACut(
                f"This cut is of {named or 'nothing'}, and not of “{recording.file_name}”. Import it at that recording."
            )
        catalogue = await server.contexts.catalogues.now(conn)
        offered = sorted((one for one in catalogue.offered if one.shape == "tall"), key=lambda one: one.limit_ms)
        place = (offered or list(catalogue.offered))[-1]
        made = []
        for document in quotes_of(read.title, mine, recording.duration_ms, place.id):
            quote_id = await quotes.keep(conn, recording_id, document, f"Imported “{document.title}”")
            context = await server.contexts.around(conn, recording, document.span)
            made.append(brief(await quotes.one(conn, quote_id), recording, context.talk))
    others = sorted({one.media for one in read.stretches if not _is_of(one, recording)})
    return ImportedView(quotes=made, left_out=[*read.left_out, *(f"what is of “{name}”" for name in others)])


def _read(kind: TimelineKind, body: bytes, recording: RecordingRow) -> ReadCut:
    try:
        text = body.decode("utf-8-sig")
    except UnicodeDecodeError as wrong:
        raise TimelineUnreadable("This file is not text in UTF-8. Export it again.") from wrong
    return read_otio(text) if kind == "otio" else read_edl(text, clip_rate(recording.facts, None))


def _is_of(one: Stretch, recording: RecordingRow) -> bool:
    """Whether a stretch is of a recording: of its file, with or without how its name ends, or of its title."""
    known = {
        recording.file_name.casefold(),
        recording.file_name.rpartition(".")[0].casefold(),
        recording.title.casefold(),
    }
    return one.media.strip().casefold() in known
