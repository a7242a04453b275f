"""The JSON that speech recognisers commonly write: segments with words, each with start, end and probability.

    {"segments": [{"start": 0.5, "end": 2.1, "text": "Keep it short.", "speaker": "Ann",
                   "words": [{"word": "Keep", "start": 0.5, "end": 0.8, "probability": 0.97}, …]}, …]}

Times are seconds. A list of segments alone, or of words alone, is read too; and the names that are in use for the same
things: `text` or `word`, `probability`, `confidence` or `score`.
"""

import json
import math
from collections.abc import Iterator
from typing import Any

from nimble_quote.core.transcript.cues import Reading, TimedCue, Token
from nimble_quote.formats.reading.cuetext import clean, speaker_name
from nimble_quote.formats.reading.problems import TranscriptUnreadable

LONGEST_S = 24 * 3600
_SURE = ("probability", "confidence", "score", "conf")


def read_recogniser(text: str) -> Reading:
    """The segments of a recogniser's JSON. Words without times take their segment's; segments need times or words."""
    try:
        found = json.loads(text)
    except (ValueError, RecursionError) as broken:
        why = "is nested too deep" if isinstance(broken, RecursionError) else f"is not JSON ({broken})"
        raise TranscriptUnreadable(f"it {why}.") from broken
    cues: list[TimedCue] = []
    left_out: list[str] = []
    for number, segment in enumerate(_segments(found), start=1):
        cue = _segment(segment)
        if cue is None:
            left_out.append(f"Segment {number} has no words, or no time that can be read.")
        else:
            cues.append(cue)
    return Reading(cues=tuple(cues), left_out=tuple(left_out))


def _segments(found: Any) -> Iterator[dict[str, Any]]:
    if isinstance(found, dict):
        for key in ("segments", "words", "word_segments", "results", "result"):
            if isinstance(found.get(key), list):
                found = found[key]
                break
    if not isinstance(found, list):
        raise TranscriptUnreadable("there are no segments or words in it.")
    yield from (one for one in found if isinstance(one, dict))


def _segment(segment: dict[str, Any]) -> TimedCue | None:
    words = segment.get("words")
    tokens = [t for word in words if isinstance(word, dict) for t in _tokens(word)] if isinstance(words, list) else []
    if not tokens:
        # A word that stands alone has its own times; a segment's are for its whole text.
        tokens = list(_tokens(segment, timed="word" in segment))
    timed = [token for token in tokens if token.start_ms is not None]
    start, end = _ms(segment.get("start")), _ms(segment.get("end"))
    start = start if start is not None else (timed[0].start_ms if timed else None)
    if end is None or (start is not None and end <= start):
        end = next((t.end_ms or (t.start_ms or 0) + 1 for t in reversed(tokens) if t.start_ms is not None), None)
    if start is None or not tokens:
        return None
    return TimedCue(
        start_ms=start,
        end_ms=max(start + 1, end) if end is not None else None,
        tokens=tuple(tokens),
        speaker=_speaker(segment),
    )


def _tokens(word: dict[str, Any], timed: bool = True) -> Iterator[Token]:
    """A word's own token; several where its text has spaces, the time going to the first."""
    text = next((word[key] for key in ("word", "text", "punctuated_word") if isinstance(word.get(key), str)), "")
    start, end = (_ms(word.get("start")), _ms(word.get("end"))) if timed else (None, None)
    sure = next((_share(word[key]) for key in _SURE if key in word), None) if timed else None
    parts = clean(text).split()
    for index, part in enumerate(parts):
        last = index == len(parts) - 1
        yield Token(
            text=part,
            start_ms=start if index == 0 else None,
            end_ms=end if last and start is not None and end is not None and end > start else None,
            sure=sure,
            speaker=_speaker(word) if timed else None,
        )


def _speaker(one: dict[str, Any]) -> str | None:
    name = one.get("speaker", one.get("speaker_name"))
    return speaker_name(str(name)) if isinstance(name, str | int) and not isinstance(name, bool) else None


def _ms(value: Any) -> int | None:
    number = _number(value)
    return round(number * 1000) if number is not None and 0 <= number < LONGEST_S else None


def _share(value: Any) -> float | None:
    number = _number(value)
    return number if number is not None and 0 <= number <= 1 else None


def _number(value: Any) -> float | None:
    if isinstance(value, bool) or not isinstance(value, int | float | str):
        return None
    try:
        number = float(value)
    except (ValueError, OverflowError):
        return None
    return number if math.isfinite(number) else None
