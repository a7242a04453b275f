"""Covers: the frames that are offered, and any frame of a recording as a picture."""

from fastapi import APIRouter, Response

from nimble_quote.api.covering import CoverFrame
from nimble_quote.api.numbers import Moment, RowId
from nimble_quote.api.state import TheServer, loaded
from nimble_quote.api.stills import frame_at
from nimble_quote.core.edits import EditRefused
from nimble_quote.store import recordings

router = APIRouter(prefix="/api")


@router.get("/quotes/{quote_id}/cover-frames")
async def get_cover_frames(quote_id: RowId, destination: str, server: TheServer) -> list[CoverFrame]:
    """The frames of a version that a cover may show: sharp, with open eyes and a clear face; best first."""
    async with server.connection() as conn:
        quote, recording, context = await loaded(conn, server, quote_id)
    if quote.document.version(destination) is None:
        raise EditRefused("This quote has no version for that destination.")
    if not recording.facts.has_picture:
        return []
    async with server.tools.turn():
        return await server.covers.offered(quote.document, recording, context, destination)


@router.get("/recordings/{recording_id}/frame", response_class=Response)
async def get_frame(recording_id: RowId, at_ms: Moment, server: TheServer) -> Response:
    """The picture of a recording at a moment, as large as it plays."""
    async with server.connection() as conn:
        row = await recordings.one(conn, recording_id)
    picture = await frame_at(server, row, at_ms)
    return Response(picture, media_type="image/jpeg", headers={"cache-control": "max-age=3600"})
