"""Recordings as the API tells them."""

from collections.abc import Sequence

from nimble_quote.api.state import brief
from nimble_quote.api.views.quotes import QuoteBrief, QuotePlace
from nimble_quote.api.views.recordings import RecordingView, ShelfRecording, SoundTrackView
from nimble_quote.api.work import work_view
from nimble_quote.store import quotes, work
from nimble_quote.store.contexts import talks_to_read
from nimble_quote.store.database import Connection
from nimble_quote.store.recordings import RecordingRow
from nimble_quote.store.work import WorkRow


async def recording_view(conn: Connection, row: RecordingRow) -> RecordingView:
    """A recording with the quotes kept from it."""
    shown = shelf_recording(row, await work.of_recording(conn, row.id), [])
    return RecordingView(**{**dict(shown), "quotes": await quote_briefs(conn, row)})


async def quote_briefs(conn: Connection, recording: RecordingRow) -> list[QuoteBrief]:
    """The quotes kept from a recording, in order of time."""
    rows = await quotes.of_recording(conn, recording.id)
    talks = await talks_to_read(conn, [(recording, row.document.span) for row in rows])
    return [brief(row, recording, talk) for row, talk in zip(rows, talks, strict=True)]


def shelf_recording(row: RecordingRow, works: Sequence[WorkRow], places: Sequence[QuotePlace]) -> ShelfRecording:
    """A recording as the shelf shows it."""
    return ShelfRecording(
        id=row.id,
        title=row.title,
        series=row.series,
        held_on=row.held_on,
        notes=row.notes,
        file_name=row.file_name,
        duration_ms=row.duration_ms,
        width=row.width,
        height=row.height,
        rate=row.rate_num / row.rate_den,
        rate_num=row.rate_num,
        rate_den=row.rate_den,
        video_codec=row.video_codec,
        audio_codec=row.audio_codec,
        sound_tracks=[SoundTrackView.model_validate(track) for track in row.sound_tracks],
        sound_track=row.sound_track,
        loudness_lufs=row.loudness_lufs,
        size_bytes=row.size_bytes,
        transcript_notes=row.transcript_notes,
        transcript_origin=row.transcript_origin,
        words=row.words,
        speakers=row.speakers,
        work=[work_view(one) for one in works],
        quotes=list(places),
        removed_at=row.removed_at,
        created_at=row.created_at,
    )
