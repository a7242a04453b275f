"""Reading a transcript file, in a process of its own: a file may hold forty hours of talk, or be made to take for ever."""

import gc
from dataclasses import dataclass
from pathlib import Path

from nimble_quote.core.transcript.cues import is_rough, timed_words
from nimble_quote.core.transcript.document import transcript_of
from nimble_quote.formats.languages import language
from nimble_quote.formats.spoken import language_of
from nimble_quote.formats.transcripts import LARGEST_BYTES, TranscriptUnreadable, read_transcript
from nimble_quote.media.likelihoods import ends_by_wording
from nimble_quote.processes import Computing, TookTooLong
from nimble_quote.store.transcripts import WordRows, rows_of

LONGEST_S = 30.0
"""Several times what the longest transcript takes that may be brought."""
_MOST_NOTES = 200


@dataclass(frozen=True, kw_only=True)
class ReadWords:
    """A transcript that was read, ready to be kept: its words, what was mended or left out, whether stretches of it have no
    times of their own, and the language it is in."""

    rows: WordRows
    notes: list[str]
    rough: bool
    language: str


async def read_words(
    computing: Computing, path: Path, name: str, duration_ms: int, encoding: str | None = None
) -> ReadWords:
    """Reads a transcript file that was called `name`, of a recording of a length, in the encoding that was chosen for it if
    one was. Raises `TranscriptUnreadable`."""
    if path.stat().st_size > LARGEST_BYTES:
        raise TranscriptUnreadable(f"{name}: over {LARGEST_BYTES // 1_000_000} MB, which no transcript is.")
    try:
        return await computing.compute(_read, path, name, duration_ms, encoding, within_s=LONGEST_S)
    except TookTooLong:
        raise TranscriptUnreadable(
            f"{name}: it could not be read within {LONGEST_S:.0f} seconds. Is it a transcript? Bring it in parts if it is."
        ) from None


def _read(path: Path, name: str, duration_ms: int, encoding: str | None) -> ReadWords:
    # All that is made lives until the end: looking for what could be let go of takes longer than reading.
    gc.disable()
    try:
        reading = read_transcript(name, path.read_bytes(), encoding)
        code = language_of([token.text for cue in reading.cues for token in cue.tokens])
        transcript = transcript_of(timed_words(reading.cues, duration_ms), language(code), ends_by_wording(code))
        notes = [*reading.mended, *reading.left_out][:_MOST_NOTES]
        return ReadWords(rows=rows_of(transcript), notes=notes, rough=is_rough(reading.cues), language=code)
    finally:
        gc.enable()
