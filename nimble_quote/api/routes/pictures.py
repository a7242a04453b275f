"""What is seen in a recording: its shots, other sudden changes, and the faces in it."""

from fastapi import APIRouter

from nimble_quote.api.numbers import RowId
from nimble_quote.api.place import TheConnection
from nimble_quote.api.views.pictures import PictureView, SeenTrack, ShotView, SuddenChange
from nimble_quote.core.framing.shots import NEAR_MS, HandCut, parted, shots
from nimble_quote.store import pictures, recordings
from nimble_quote.store.database import Connection
from nimble_quote.store.pictures import TrackRow

router = APIRouter(prefix="/api")


@router.get("/recordings/{recording_id}/picture")
async def get_picture(recording_id: RowId, conn: TheConnection) -> PictureView:
    """The shots of a recording and the faces in them."""
    return await _picture(conn, recording_id)


@router.post("/recordings/{recording_id}/cuts")
async def say_of_cut(recording_id: RowId, hand: HandCut, conn: TheConnection) -> PictureView:
    """Sets a cut by hand, or takes one away; it stays so, whatever is found later."""
    await recordings.one(conn, recording_id)
    await pictures.say_of_cut(conn, recording_id, hand, NEAR_MS)
    return await _picture(conn, recording_id)


async def _picture(conn: Connection, recording_id: int) -> PictureView:
    row = await recordings.one(conn, recording_id)
    cuts = await pictures.cuts_of(conn, recording_id)
    by_hand = {hand.at_ms for hand in await pictures.by_hand(conn, recording_id) if hand.there}
    found = shots(cuts, row.duration_ms) if row.width else ()
    return PictureView(
        shots=[ShotView(span=shot, by_hand=shot.start_ms in by_hand) for shot in found],
        changes=[SuddenChange(at_ms=at, kind=kind) for at, kind in await pictures.changes(conn, recording_id)],
        tracks=[piece for track in await pictures.tracks(conn, recording_id) for piece in _pieces(track, cuts)],
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
