"""Stills of recordings, made when they are first asked for and kept beside what else is derived from the recording."""

from collections.abc import Awaitable, Callable, Sequence
from pathlib import Path
from uuid import uuid4

from fastapi.responses import FileResponse

from nimble_quote.api.state import ServerState
from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.timebase import Span
from nimble_quote.media.keys import STILL
from nimble_quote.media.stills import frame_of, make_still, make_whole_still
from nimble_quote.store import media_files
from nimble_quote.store.database import NotFound
from nimble_quote.store.recordings import RecordingRow

_MOST_LINES = 540
_NEAR_MS = 2000


async def still_in(server: ServerState, row: RecordingRow, span: Span, faces: Sequence[FaceSample]) -> FileResponse:
    """A square still from near the middle of a stretch, on the face that is seen there; of the picture where none is.

    Call without a connection to the database: it may have to be made. Raises `NotFound` where there is no picture.
    """
    if not row.width:
        raise NotFound("This recording has no picture.")
    middle = (span.start_ms + span.end_ms) // 2
    face = min(faces, key=lambda one: (abs(one.at_ms - middle) // _NEAR_MS, -one.height * one.score), default=None)
    at_ms = face.at_ms if face else middle
    size = _displayed(row.width, row.height)
    name = f"{STILL}{at_ms}{'-face' if face else ''}.jpg"
    return await _once(server, row, name, lambda source, target: make_still(source, at_ms, size, face, target))


async def whole_still_in(server: ServerState, row: RecordingRow, span: Span) -> FileResponse:
    """A still of the whole picture from the middle of a stretch; otherwise as `still_in`."""
    if not row.width:
        raise NotFound("This recording has no picture.")
    at_ms = (span.start_ms + span.end_ms) // 2
    name = f"{STILL}{at_ms}-whole.jpg"
    return await _once(server, row, name, lambda source, target: make_whole_still(source, at_ms, target))


async def frame_at(server: ServerState, row: RecordingRow, at_ms: int) -> bytes:
    """The whole picture at a moment as JPEG, as large as it plays. It is not kept: a talk has too many. Raises `NotFound`."""
    if not row.width or at_ms >= row.duration_ms:
        raise NotFound("The recording has no picture at that moment.")
    async with server.tools.turn():
        return await frame_of(server.media.store.local(row.plays), at_ms)


async def _once(
    server: ServerState, row: RecordingRow, name: str, make: Callable[[Path, Path], Awaitable[None]]
) -> FileResponse:
    """A still that was made before, or is made now."""
    key = row.derived(name)
    async with server.connection() as conn:
        there = await media_files.has(conn, key)
    if not there:
        with server.media.scratch(f"still-{uuid4().hex}") as scratch:
            async with server.tools.turn():
                await make(server.media.store.local(row.plays), scratch / "still.jpg")
            async with server.connection() as conn:
                await media_files.keep(conn, server.media, scratch / "still.jpg", key, recording_id=row.id)
    return FileResponse(server.media.store.local(key), media_type="image/jpeg", headers={"cache-control": "no-cache"})


def _displayed(width: int, height: int) -> tuple[int, int]:
    """The size a still is cut from: that of the picture, at most 540 lines."""
    lines = min(height, _MOST_LINES)
    return round(width * lines / height / 2) * 2, lines // 2 * 2
