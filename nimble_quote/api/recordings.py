"""Recordings as the API tells them."""

from collections.abc import Sequence
from typing import NamedTuple, TypeVar

from pydantic import TypeAdapter

from nimble_quote.api.long_lists import Written
from nimble_quote.api.readings import brief
from nimble_quote.api.views.quotes import QuoteBrief, QuoteSpan
from nimble_quote.api.views.recordings import RecordingView, ShelfRecording, SoundTrackView, WorkView
from nimble_quote.api.work import work_view
from nimble_quote.media.keys import SEEN
from nimble_quote.media.seen import VERSION
from nimble_quote.store import quotes, recordings, work
from nimble_quote.store.contexts import talks_to_read
from nimble_quote.store.database import Connection
from nimble_quote.store.quotes import QuoteSpanRow
from nimble_quote.store.recordings import RecordingRow


async def recording_view(conn: Connection, row: RecordingRow) -> RecordingView:
    """A recording with the quotes kept from it."""
    shown = shelf_recording(row, [work_view(one) for one in await work.of_recording(conn, row.id)], [])
    return RecordingView(**{**dict(shown), "quotes": await quote_briefs(conn, row)})


async def quote_briefs(conn: Connection, recording: RecordingRow) -> list[QuoteBrief]:
    """The quotes kept from a recording, in order of time."""
    rows = await quotes.of_recording(conn, recording.id)
    talks = await talks_to_read(conn, [(recording, row.document.span) for row in rows])
    return [brief(row, recording, talk) for row, talk in zip(rows, talks, strict=True)]


class Shelf:
    """The list of all recordings."""

    def __init__(self) -> None:
        self._written = Written(TypeAdapter(ShelfRecording), most=20_000)

    async def listed(self, conn: Connection, removed: bool) -> bytes:
        """The recordings as JSON, with four queries however many they are."""
        order = await recordings.shelf(conn, removed)
        works = _by_recording([work_view(row) for row in await work.unfinished(conn)])
        spans = _by_recording(await quotes.spans(conn))
        keys = [
            ShelfKey(recording_id, version, tuple(works.get(recording_id, ())), tuple(spans.get(recording_id, ())))
            for recording_id, version in order
        ]
        rows = await recordings.many(conn, [key.recording_id for key in keys if not self._written.has(key)])
        # One that was removed for good meanwhile is on no list any more.
        there = [key for key in keys if self._written.has(key) or key.recording_id in rows]
        return self._written.list_of(
            there,
            lambda key: shelf_recording(rows[key.recording_id], key.works, [quote_span(one) for one in key.spans]),
        )


class ShelfKey(NamedTuple):
    """All that a line of the shelf is made of."""

    recording_id: int
    version: str
    works: tuple[WorkView, ...]
    spans: tuple[QuoteSpanRow, ...]


R = TypeVar("R", WorkView, QuoteSpanRow)


def _by_recording(rows: Sequence[R]) -> dict[int | None, list[R]]:
    found: dict[int | None, list[R]] = {}
    for row in rows:
        found.setdefault(row.recording_id, []).append(row)
    return found


def quote_span(row: QuoteSpanRow) -> QuoteSpan:
    """Where a quote was taken."""
    return QuoteSpan(id=row.id, title=row.title, span=row.span, made=row.made, posted=row.posted)


def shelf_recording(row: RecordingRow, works: Sequence[WorkView], spans: Sequence[QuoteSpan]) -> ShelfRecording:
    """A recording as the shelf shows it."""
    return ShelfRecording(
        id=row.id,
        title=row.title,
        series=row.series,
        held_on=row.held_on,
        notes=row.notes,
        link=row.link,
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
        language=row.language,
        words=row.words,
        speakers=row.speakers,
        seen_by_older=SEEN in row.made and row.seen_version < VERSION,
        work=list(works),
        quotes=list(spans),
        removed_at=row.removed_at,
        created_at=row.created_at,
    )
