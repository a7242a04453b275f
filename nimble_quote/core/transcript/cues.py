"""Transcript cues as they are read from a file, and the words they hold once every word has a time."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

from nimble_quote.core.transcript.words import Word


@dataclass(frozen=True, kw_only=True)
class Token:
    """A word of a cue, with the times at which it starts and ends where the file gives them."""

    text: str
    start_ms: int | None = None
    end_ms: int | None = None


@dataclass(frozen=True, kw_only=True)
class TimedCue:
    """One cue of a transcript file, `[start_ms, end_ms)`, its words, and who says it where that is given."""

    start_ms: int
    end_ms: int
    tokens: tuple[Token, ...]
    speaker: str | None = None


@dataclass(frozen=True, kw_only=True)
class Reading:
    """What a reader found: the cues in order of time, and what it mended or left out, each said in a line."""

    cues: tuple[TimedCue, ...]
    mended: tuple[str, ...] = field(default=())
    left_out: tuple[str, ...] = field(default=())


@dataclass(frozen=True, kw_only=True)
class HeardWord:
    """A word with its time and its speaker."""

    word: Word
    speaker: str | None


def timed_words(cues: Iterable[TimedCue]) -> list[HeardWord]:
    """Gives every word a start and an end, and numbers them.

    A run of tokens without times shares the time between its timed neighbours (or the cue's edges) by its number
    of characters, the usual estimate of speaking time for a text. Words never overlap and never run backwards.
    """
    out: list[HeardWord] = []
    at = 0
    for cue in cues:
        starts = _starts(cue)
        for place, token in enumerate(cue.tokens):
            start = max(at, starts[place])
            end = max(start + 1, min(starts[place + 1], token.end_ms or starts[place + 1]))
            word = Word(index=len(out), text=token.text, start_ms=start, end_ms=end)
            out.append(HeardWord(word=word, speaker=cue.speaker))
            at = end
    return out


def _starts(cue: TimedCue) -> list[int]:
    """The start of each token, and the end of the cue as one more."""
    known: list[int | None] = [token.start_ms for token in cue.tokens]
    if known:
        known[0] = cue.start_ms if known[0] is None else known[0]
    known.append(cue.end_ms)
    weights = [len(token.text) + 1 for token in cue.tokens]
    filled: list[int] = []
    for place, value in enumerate(known):
        if value is not None:
            filled.append(value)
            continue
        if (ended := cue.tokens[place - 1].end_ms) is not None:
            filled.append(ended)
            continue
        following = next(i for i in range(place, len(known)) if known[i] is not None)
        filled.append(_shared(filled[-1], known[following] or 0, weights[place - 1 : following]))
    return filled


def _shared(before_ms: int, after_ms: int, weights: Sequence[int]) -> int:
    """Where the second of several words starts, when they share the time by weight."""
    return before_ms + round((after_ms - before_ms) * weights[0] / sum(weights))
