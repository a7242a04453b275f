"""Transcript cues as they are read from a file, and the words they hold once every word has a time."""

from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Literal

from nimble_quote.core.transcript.words import Word

Timing = Literal["given", "aligned", "estimated"]
"""Where the time of a word comes from: the file, the sound, or the length of the text around it."""

CHARACTERS_A_SECOND = 14
"""The usual speed of speech: about 150 words a minute."""
SLOWEST = 1.6
"""So many times as long as is usual, slow speech takes."""


@dataclass(unsafe_hash=True, kw_only=True, slots=True)
class Token:
    """A word of a cue, with what the file says of it: its times, how sure the recogniser is (0..1), who says it.

    Never changed, but not frozen: there are hundreds of thousands in a long transcript, and a frozen one takes more than
    twice as long to make.
    """

    text: str
    start_ms: int | None = None
    end_ms: int | None = None
    sure: float | None = None
    speaker: str | None = None
    """Who says it where it is another than the cue's; empty where that is not told."""
    turn: bool = False
    """Whether somebody else begins to speak with it."""


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


@dataclass(unsafe_hash=True, kw_only=True, slots=True)
class TimedWord:
    """A word with its time, its speaker, and where it comes from. Never changed; not frozen, as `Token` is not.

    `heard` is what stood here before a person corrected it: None where nobody did, empty where the correction of
    several words put this one in addition.
    """

    word: Word
    speaker: str | None
    timing: Timing = "given"
    sure: float | None = None
    heard: str | None = None
    turn: bool = False


def timed_words(cues: Iterable[TimedCue], duration_ms: int | None = None) -> list[TimedWord]:
    """Gives every word a start and an end, and numbers them.

    A run of tokens without times shares the time between its timed neighbours (or the cue's edges) by its number
    of characters, the usual estimate of speaking time for a text. Cues without times share what is between their
    neighbours in the same way. Words never overlap and never run backwards.
    """
    out: list[TimedWord] = []
    at = 0
    for cue, (first_ms, last_ms) in _with_edges(list(cues), duration_ms):
        starts, given = _starts(cue.tokens, first_ms, last_ms)
        for token, (first, following), told in zip(cue.tokens, pairwise(starts), given, strict=True):
            start = first if first > at else at
            end = token.end_ms if token.end_ms and token.end_ms < following else following
            at = end if end > start else start + 1
            word = Word(index=len(out), text=token.text, start_ms=start, end_ms=at)
            timing: Timing = "given" if told else "estimated"
            speaker = cue.speaker if token.speaker is None else token.speaker or None
            out.append(TimedWord(word=word, speaker=speaker, timing=timing, sure=token.sure, turn=token.turn))
    return out


def _with_edges(cues: Sequence[TimedCue], duration_ms: int | None) -> Iterator[tuple[TimedCue, tuple[int, int]]]:
    """Each cue, with the start and the end of its words."""
    weights = [sum([len(token.text) + 1 for token in cue.tokens]) for cue in cues]
    at = 0
    for run in _runs([cue.start_ms is not None for cue in cues]):
        limit = cues[run.stop].start_ms if run.stop < len(cues) else duration_ms
        left = sum(weights[run.start : run.stop])
        for index in run:
            cue, weight = cues[index], weights[index]
            start = at if cue.start_ms is None else cue.start_ms
            end = cue.end_ms
            if end is None:
                spoken = start + weight * 1000 // CHARACTERS_A_SECOND
                # Where nothing tells the end of the talk, each needs what speaking takes.
                shared = spoken if limit is None else start + _share(max(0, limit - start), weight, left)
                # Who speaks slowly leaves no pause: only where far more time is left than speaking takes is there one.
                paused = index + 1 == run.stop < len(cues) and shared - start > SLOWEST * (spoken - start)
                end = spoken if paused else shared
            at = max(start + 1, end)
            left -= weight
            yield cue, (start, at)


def _starts(tokens: Sequence[Token], first_ms: int, last_ms: int) -> tuple[list[int], list[bool]]:
    """The start of each token between the edges of their cue, with its end as one more, and which the file gives."""
    given = [token.start_ms is not None for token in tokens]
    weights = [len(token.text) + 1 for token in tokens]
    starts: list[int] = []
    for run in _runs(given):
        told, following = tokens[run.start].start_ms, tokens[run.stop].start_ms if run.stop < len(tokens) else last_ms
        at, until, left = first_ms if told is None else told, following or 0, sum(weights[run.start : run.stop])
        starts.append(at)
        for before in range(run.start, run.stop - 1):
            ended = tokens[before].end_ms
            at = at + round((until - at) * weights[before] / left) if ended is None else ended
            left -= weights[before]
            starts.append(at)
    starts.append(last_ms)
    return starts, given


def _runs(known: Sequence[bool]) -> list[range]:
    """Places in runs that each begin where something is known, but for the first, and hold what is not after it."""
    firsts = [index for index, told in enumerate(known) if told or index == 0]
    return [range(first, end) for first, end in pairwise([*firsts, len(known)])]


def _share(whole_ms: int, weight: int, of: int) -> int:
    """The share that one of several weights has."""
    return round(whole_ms * weight / max(1, of))


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
        and bisect_right(known, cue.start_ms) == bisect_left(known, cue.end_ms)
        for cue in cues
    )
