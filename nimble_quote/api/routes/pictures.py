"""What is seen in a recording: its shots, other sudden changes, and the faces in it."""

from typing import Annotated

from fastapi import APIRouter, Path
from fastapi.responses import FileResponse
from pydantic import BaseModel

from nimble_quote.api.numbers import Moment, RowId
from nimble_quote.api.recordings import recording_view
from nimble_quote.api.state import TheConnection, TheServer
from nimble_quote.api.stills import still_in, whole_still_in
from nimble_quote.api.views.pictures import PictureView, SeenTrack, ShotView, SubjectName, SuddenChange
from nimble_quote.api.views.recordings import RecordingView
from nimble_quote.core.framing.shots import NEAR_MS, HandCut, parted, shots
from nimble_quote.core.transcript.corrections import Name
from nimble_quote.jobs.working import WorkFailed, ask_for
from nimble_quote.store import pictures, recordings
from nimble_quote.store.database import Connection, NotFound
from nimble_quote.store.pictures import TrackRow
from nimble_quote.store.work import on_recording

router = APIRouter(prefix="/api")
Subject = Annotated[int, Path(ge=0, le=10_000)]


class FaceName(BaseModel):
    """Who a face is; None takes a name away that was given by hand."""

    name: Name | None


@router.get("/recordings/{recording_id}/picture")
async def get_picture(recording_id: RowId, conn: TheConnection) -> PictureView:
    """The shots of a recording and the faces in them."""
    return await _picture(conn, recording_id)


@router.post("/recordings/{recording_id}/look-again")
async def look_again(recording_id: RowId, conn: TheConnection) -> RecordingView:
    """Has the picture looked at by this version of the program. What was framed, named and set by hand stays."""
    row = await recordings.one(conn, recording_id)
    if not row.width:
        raise WorkFailed("There is no picture in this recording, so there is nothing to look at.")
    await ask_for(conn, "prepare", on_recording(recording_id))
    return await recording_view(conn, await recordings.one(conn, recording_id))


@router.post("/recordings/{recording_id}/cuts")
async def say_of_cut(recording_id: RowId, hand: HandCut, conn: TheConnection) -> PictureView:
    """Sets a cut by hand, or takes one away; it stays so, whatever is found later."""
    await recordings.one(conn, recording_id)
    await pictures.say_of_cut(conn, recording_id, hand, NEAR_MS)
    return await _picture(conn, recording_id)


@router.post("/recordings/{recording_id}/subjects/{subject}/name")
async def name_subject(recording_id: RowId, subject: Subject, named: FaceName, conn: TheConnection) -> PictureView:
    """Says who a face is; without a name it is again whom words and faces agree on."""
    await recordings.one(conn, recording_id)
    await pictures.name_subject(conn, recording_id, subject, named.name)
    await pictures.name_by_turns(conn, recording_id)
    return await _picture(conn, recording_id)


@router.get("/recordings/{recording_id}/shots/{at_ms}/still", response_class=FileResponse)
async def get_shot_still(recording_id: RowId, at_ms: Moment, server: TheServer, whole: bool = False) -> FileResponse:
    """A still of the shot that a moment lies in: of the face in it, or of the whole picture."""
    async with server.connection() as conn:
        row = await recordings.one(conn, recording_id)
        found = shots(await pictures.cuts_of(conn, recording_id), row.duration_ms)
        shot = next((one for one in found if one.holds(at_ms)), None)
        if shot is None:
            raise NotFound("The recording has no such moment.")
        faces = await pictures.faces_in(conn, recording_id, shot)
    return await (whole_still_in(server, row, shot) if whole else still_in(server, row, shot, faces))


async def _picture(conn: Connection, recording_id: int) -> PictureView:
    row = await recordings.one(conn, recording_id)
    cuts = await pictures.cuts_of(conn, recording_id)
    by_hand = {hand.at_ms for hand in await pictures.by_hand(conn, recording_id) if hand.there}
    found = shots(cuts, row.duration_ms) if row.width else ()
    return PictureView(
        shots=[ShotView(span=shot, by_hand=shot.start_ms in by_hand) for shot in found],
        changes=[SuddenChange(at_ms=at, kind=kind) for at, kind in await pictures.changes(conn, recording_id)],
        tracks=[piece for track in await pictures.tracks(conn, recording_id) for piece in _pieces(track, cuts)],
        names=[
            SubjectName(subject=subject, name=name, by_hand=hand)
            for subject, name, hand in await pictures.names_of_subjects(conn, recording_id)
        ],
    )


def _pieces(track: TrackRow, cuts: tuple[int, ...]) -> list[SeenTrack]:
    """A track in pieces where cuts were set in it by hand, each at its place in the middle of its time."""
    return [
        SeenTrack(
            subject=track.subject, start_ms=track.at_ms[run[0]], end_ms=track.at_ms[run[-1]],
            x=track.x[run[len(run) // 2]], y=track.y[run[len(run) // 2]], width=track.width[run[len(run) // 2]],
            height=track.height[run[len(run) // 2]], turn=sum(track.turn[run[0] : run[-1] + 1]) / len(run),
        )
        for run in parted(track.at_ms, cuts)
    ]  # fmt: skip
