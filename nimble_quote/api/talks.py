"""Loading of a talk what an edit and an Assembly need to know of it."""

from collections.abc import Sequence

from nimble_quote.core.edits import EditRefused
from nimble_quote.core.talk import LEVEL_MS, Levels, Talk
from nimble_quote.core.timebase import Span
from nimble_quote.formats.languages import language
from nimble_quote.media.files import MediaRoot
from nimble_quote.media.listening import ZOOMS_MS, peaks_name
from nimble_quote.store import pictures, transcripts
from nimble_quote.store.database import Connection
from nimble_quote.store.recordings import RecordingRow
from nimble_quote.store.transcripts import SentenceRow

LANGUAGE = "en"
MARGIN_MS = 10 * 60_000
"""How far beyond a quote its words are loaded: no single edit reaches further."""
FACES_MARGIN_MS = 15_000
"""The same for faces: framing looks only at those of the cut."""


async def talk_around(conn: Connection, recording: RecordingRow, span: Span, media: MediaRoot | None = None) -> Talk:
    """The words and faces near a quote, enough for what is made of it; with the media also the waveform, by which an
    edit places its cuts."""
    rows = await transcripts.sentences_in(conn, recording.id, _around(span, MARGIN_MS))
    return await _talk(conn, recording, rows, _around(span, FACES_MARGIN_MS), media)


async def talk_of_words(conn: Connection, recording: RecordingRow, media: MediaRoot, *chosen: int) -> Talk:
    """The sentences that words are chosen from by the first and last of them, with one more at either side.

    Raises `EditRefused` where the recording does not have the words.
    """
    first, last = sorted(chosen)
    rows = await transcripts.sentences_between(conn, recording.id, first, last, beside=1)
    if not rows:
        raise EditRefused("Those words are not in this recording.")
    seen = Span(start_ms=rows[0].starts_ms[0], end_ms=max(rows[-1].ends_ms[-1], rows[0].starts_ms[0] + 1))
    return await _talk(conn, recording, rows, seen, media)


async def _talk(
    conn: Connection, recording: RecordingRow, rows: Sequence[SentenceRow], seen: Span, media: MediaRoot | None
) -> Talk:
    words = transcripts.words_of(rows)
    return Talk(
        words=words,
        sentences=transcripts.bounds_of(rows),
        duration_ms=recording.duration_ms,
        faces=await pictures.faces_in(conn, recording.id, seen),
        levels=_levels(media, recording, words[0].start_ms, words[-1].end_ms) if media and words else Levels(),
        language=language(LANGUAGE),
    )


def _levels(media: MediaRoot, recording: RecordingRow, start_ms: int, end_ms: int) -> Levels:
    """The waveform of a stretch, and of a little beyond; none where the recording has not been listened to."""
    peaks = media.derived(recording.content, peaks_name(ZOOMS_MS[0]))
    first = max(0, start_ms // LEVEL_MS - 100)
    try:
        with peaks.open("rb") as levels:
            levels.seek(first)
            return Levels(from_ms=first * LEVEL_MS, values=levels.read(end_ms // LEVEL_MS + 300 - first))
    except FileNotFoundError:
        return Levels()


def _around(span: Span, margin_ms: int) -> Span:
    return Span(start_ms=max(0, span.start_ms - margin_ms), end_ms=span.end_ms + margin_ms)
