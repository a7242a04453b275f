"""Transcript cues as they are read from a file, and the words they hold once every word has a time."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from nimble_quote.core.transcript.words import Word

Timing = Literal["given", "aligned", "estimated"]
"""Where the time of a word comes from: the file, the sound, or the length of the text around it."""

CHARACTERS_A_SECOND = 14
"""The usual speed of speech: about 150 words a minute."""


@dataclass(frozen=True, kw_only=True)
class Token:
    """A word of a cue, with what the file says of it: its times, how sure the recogniser is (0..1), who says it."""

    text: str
    start_ms: int | None = None
    end_ms: int | None = None
    sure: float | None = None
    speaker: str | None = None


@dataclass(frozen=True, kw_only=True)
class TimedCue:
    """One cue or paragraph of a transcript file, `[start_ms, end_ms)` where they are given, its words, its speaker."""

    start_ms: int | None
    end_ms: int | None
    tokens: tuple[Token, ...]
    speaker: str | None = None


@dataclass(frozen=True, kw_only=True)
class Reading:
    """What a reader found: the cues in order of time, and what it mended or left out, each said in a line."""

    cues: tuple[TimedCue, ...]
    mended: tuple[str, ...] = field(default=())
    left_out: tuple[str, ...] = field(default=())


@dataclass(frozen=True, kw_only=True, slots=True)
class HeardWord:
    """A word with its time, its speaker, and where it comes from.

    `heard` is what stood here before a person corrected it: None where nobody did, empty where the correction of
    several words put this one in addition.
    """

    word: Word
    speaker: str | None
    timing: Timing = "given"
    sure: float | None = None
    heard: str | None = None


def timed_words(cues: Iterable[TimedCue], duration_ms: int | None = None) -> list[HeardWord]:
    """Gives every word a start and an end, and numbers them.

    A run of tokens without times shares the time between its timed neighbours (or the cue's edges) by its number
    of characters, the usual estimate of speaking time for a text. Cues without times share what is between their
    neighbours in the same way. Words never overlap and never run backwards.
    """
    out: list[HeardWord] = []
    at = 0
    for cue in _with_edges(list(cues), duration_ms):
        starts, given = _starts(cue)
        for place, token in enumerate(cue.tokens):
            start = max(at, starts[place])
            end = max(start + 1, min(starts[place + 1], token.end_ms or starts[place + 1]))
            word = Word(index=len(out), text=token.text, start_ms=start, end_ms=end)
            timing: Timing = "given" if given[place] else "estimated"
            out.append(HeardWord(word=word, speaker=token.speaker or cue.speaker, timing=timing, sure=token.sure))
            at = end
    return out


def _with_edges(cues: list[TimedCue], duration_ms: int | None) -> list[TimedCue]:
    """The same cues, each with a start and an end."""
    known = [cue.start_ms for cue in cues]
    weights = [sum(len(token.text) + 1 for token in cue.tokens) for cue in cues]
    edged: list[TimedCue] = []
    for place, cue in enumerate(cues):
        start = cue.start_ms
        if start is None:
            start = (edged[-1].end_ms or 0) if edged else 0
        end = cue.end_ms
        if end is None:
            following = next((i for i in range(place + 1, len(cues)) if known[i] is not None), None)
            spoken = start + weights[place] * 1000 // CHARACTERS_A_SECOND
            limit = known[following] if following is not None else duration_ms
            shared = start + _part(max(0, (limit or spoken) - start), weights[place : following or len(cues)])
            # Where each cue has a start, its words need no more than speaking takes; a run without shares all there is.
            end = min(spoken, shared) if following == place + 1 else shared
        edged.append(replace(cue, start_ms=start, end_ms=max(start + 1, end)))
    return edged


def _part(whole_ms: int, weights: Sequence[int]) -> int:
    """The share of the first of several weights."""
    return round(whole_ms * weights[0] / max(1, sum(weights)))


def _starts(cue: TimedCue) -> tuple[list[int], list[bool]]:
    """The start of each token, with the end of the cue as one more, and which of them the file gives."""
    known: list[int | None] = [token.start_ms for token in cue.tokens]
    given = [start is not None for start in known]
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
        filled.append(filled[-1] + _part((known[following] or 0) - filled[-1], weights[place - 1 : following]))
    return filled, given


ROUGH_MS = 20_000
"""Words further than this from a time that a file gives are timed too roughly to be aligned without being heard first."""


def is_rough(cues: Sequence[TimedCue]) -> bool:
    """Whether some stretch of a transcript has no times near enough for an aligner to find its words."""
    if any(cue.start_ms is None for cue in cues):
        return True
    known = sorted(
        ms
        for cue in cues
        for ms in (cue.start_ms, cue.end_ms, *(token.start_ms for token in cue.tokens))
        if ms is not None
    )
    wordy = max((len(cue.tokens) for cue in cues if cue.end_ms is None), default=0) > ROUGH_MS / 1000 * 3
    return wordy or any(
        cue.end_ms is not None
        and cue.start_ms is not None
        and cue.end_ms - cue.start_ms > ROUGH_MS
        and not any(cue.start_ms < ms < cue.end_ms for ms in known)
        for cue in cues
    )
