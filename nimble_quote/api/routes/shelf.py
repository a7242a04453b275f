"""The shelf: recordings, what a person tells of them, and what there is to play of them."""

from datetime import date
from enum import IntEnum
from typing import Annotated

from fastapi import APIRouter, Response
from fastapi.responses import FileResponse
from pydantic import AfterValidator, BaseModel, Field

from nimble_quote.api.long_lists import as_json
from nimble_quote.api.numbers import RowId
from nimble_quote.api.recordings import quote_briefs, recording_view
from nimble_quote.api.state import TheConnection, TheServer
from nimble_quote.api.stills import still_in
from nimble_quote.api.views.quotes import QuoteBrief
from nimble_quote.api.views.recordings import GoesWith, RecordingView, ShelfRecording
from nimble_quote.core.document import Title
from nimble_quote.core.timebase import Span
from nimble_quote.formats.spoken import NAMES
from nimble_quote.jobs.intake import series_from
from nimble_quote.jobs.sentencing import keep_in_sentences
from nimble_quote.jobs.working import WorkFailed, ask_for
from nimble_quote.media.keys import LISTENED, PROXY
from nimble_quote.media.listening import peaks_name
from nimble_quote.store import media_files, pictures, recordings, transcripts
from nimble_quote.store.database import Connection, NotFound
from nimble_quote.store.work import on_recording

router = APIRouter(prefix="/api")
_OPENING_MS = 60_000


def _is_web_address(text: str) -> str:
    text = text.strip()
    if text and (any(one.isspace() for one in text) or not text.startswith(("http://", "https://"))):
        raise ValueError("a link begins with http:// or https://, and has no spaces")
    return text


WebAddress = Annotated[str, Field(max_length=2000), AfterValidator(_is_web_address)]


class Description(BaseModel):
    """What a person tells of a recording."""

    title: Title
    series: str | None = Field(default=None, max_length=500)
    held_on: date | None = None
    notes: str = Field(default="", max_length=20_000)
    link: WebAddress | None = None
    """Where the whole of it can be seen; stays as it is where it is not told."""


def _known(code: str) -> str:
    if code not in NAMES:
        raise ValueError("this language is not known here")
    return code


class SpokenLanguage(BaseModel):
    """The language that is spoken in a recording, as a code of the catalogue."""

    language: Annotated[str, AfterValidator(_known)]


class Zoom(IntEnum):
    """Milliseconds for each byte of a waveform."""

    FINE = 10
    COARSE = 100
    WHOLE = 1000


class SoundChoice(BaseModel):
    """One of a recording's sound tracks, counted from 0."""

    track: int = Field(ge=0)


@router.get("/recordings/{recording_id}/still", response_class=FileResponse)
async def get_recording_still(recording_id: RowId, server: TheServer) -> FileResponse:
    """A still of who is seen first in a recording."""
    async with server.connection() as conn:
        row = await recordings.one(conn, recording_id)
        opening = Span(start_ms=0, end_ms=min(row.duration_ms, _OPENING_MS))
        faces = await pictures.faces_in(conn, row.id, opening)
    return await still_in(server, row, opening, faces)


@router.get("/recordings", response_model=list[ShelfRecording])
async def list_recordings(conn: TheConnection, server: TheServer, removed: bool = False) -> Response:
    """All recordings, newest first: those on the shelf, or those removed that can still be put back."""
    return as_json(await server.shelf.listed(conn, removed))


@router.get("/series")
async def list_series(conn: TheConnection) -> list[str]:
    """The names of all series."""
    return await recordings.series_names(conn)


@router.get("/recordings/{recording_id}")
async def get_recording(recording_id: RowId, conn: TheConnection) -> RecordingView:
    """One recording with the quotes kept from it."""
    return await _view(conn, recording_id)


@router.put("/recordings/{recording_id}/description")
async def describe(recording_id: RowId, told: Description, conn: TheConnection) -> RecordingView:
    """Keeps what a person tells of a recording."""
    await recordings.one(conn, recording_id)
    series = series_from(told.series)
    await recordings.describe(
        conn,
        recording_id,
        title=told.title,
        series=series,
        held_on=told.held_on,
        notes=told.notes.replace("\x00", ""),
        link=told.link,
    )
    return await _view(conn, recording_id)


@router.put("/recordings/{recording_id}/language")
async def choose_language(recording_id: RowId, told: SpokenLanguage, conn: TheConnection) -> RecordingView:
    """Takes a language as that of a recording. Words without marks are cut into sentences anew."""
    await transcripts.head(conn, recording_id, lock=True)
    await recordings.choose_language(conn, recording_id, told.language)
    await keep_in_sentences(conn, recording_id, await transcripts.load(conn, recording_id))
    return await _view(conn, recording_id)


@router.put("/recordings/{recording_id}/sound")
async def choose_sound(
    recording_id: RowId, choice: SoundChoice, conn: TheConnection, server: TheServer
) -> RecordingView:
    """Takes another of a recording's sound tracks; what is made from the sound is made anew."""
    row = await recordings.one(conn, recording_id)
    if choice.track >= len(row.sound_tracks):
        raise NotFound("The recording has no such sound track.")
    if choice.track != row.sound_track:
        await recordings.choose_sound(conn, recording_id, choice.track)
        if not (await ask_for(conn, "prepare", on_recording(recording_id))).new:
            raise WorkFailed("The recording is still being prepared. Choose the sound when it is done.")
        # The proxy has the sound in it.
        await media_files.let_go(conn, [row.derived(name) for name in (*LISTENED, PROXY)])
    return await _view(conn, recording_id)


@router.get("/recordings/{recording_id}/goes-with")
async def goes_with(recording_id: RowId, conn: TheConnection) -> GoesWith:
    """What would go with a recording if it were removed."""
    count, clips = await recordings.what_goes_with(conn, recording_id)
    return GoesWith(quotes=count, clips=clips, days=recordings.KEPT_DAYS)


@router.post("/recordings/{recording_id}/remove", status_code=204)
async def remove_recording(recording_id: RowId, conn: TheConnection) -> None:
    """Takes a recording off the shelf; it can be put back for a day."""
    await recordings.one(conn, recording_id)
    await recordings.set_removed(conn, recording_id, True)


@router.post("/recordings/{recording_id}/restore")
async def restore_recording(recording_id: RowId, conn: TheConnection) -> RecordingView:
    """Puts a removed recording back."""
    await recordings.one(conn, recording_id)
    await recordings.set_removed(conn, recording_id, False)
    return await _view(conn, recording_id)


@router.get("/recordings/{recording_id}/media", response_class=FileResponse)
async def get_media(recording_id: RowId, conn: TheConnection, server: TheServer) -> FileResponse:
    """The picture and sound to play: the proxy, or the original until there is one."""
    row = await recordings.one(conn, recording_id)
    return FileResponse(server.media.store.local(row.plays))


@router.head("/recordings/{recording_id}/media", include_in_schema=False)
async def head_media(recording_id: RowId, conn: TheConnection) -> Response:
    """Whether there is something to play."""
    await recordings.one(conn, recording_id)
    return Response()


@router.get("/recordings/{recording_id}/peaks", response_class=FileResponse)
async def get_peaks(
    recording_id: RowId, conn: TheConnection, server: TheServer, zoom: Zoom = Zoom.FINE
) -> FileResponse:
    """The waveform: a byte for each `zoom` milliseconds."""
    row = await recordings.one(conn, recording_id)
    if peaks_name(zoom) not in row.made:
        raise NotFound("The waveform is not drawn yet.")
    peaks = server.media.store.local(row.derived(peaks_name(zoom)))
    return FileResponse(peaks, media_type="application/octet-stream")


@router.get("/recordings/{recording_id}/quotes")
async def list_quotes(recording_id: RowId, conn: TheConnection) -> list[QuoteBrief]:
    """The quotes kept from a recording, in order of time."""
    return await quote_briefs(conn, await recordings.one(conn, recording_id))


async def _view(conn: Connection, recording_id: int) -> RecordingView:
    return await recording_view(conn, await recordings.one(conn, recording_id))
