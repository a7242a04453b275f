"""Finding when each word of a text was said: what of it can be reckoned without hearing.

The text is cut into windows short enough to align surely, at pauses that its rough times point to. Where there are no rough
times, a recogniser's words give them: the same words in the same order are anchors for the rest.
"""

from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from rapidfuzz.distance import Levenshtein

from nimble_quote.core.timebase import Span
from nimble_quote.core.transcript.corrections import bare
from nimble_quote.core.transcript.document import SpokenSentence, SpokenWord, Transcript

_AROUND = ".,;:!?…"
"""Marks that a recogniser may put around a word."""
LONGEST_WINDOW_MS = 15_000
_SHORTEST_PAUSE_MS = 180
_OFF_MS = 700
"""How far rough times may be off for a pause to be theirs."""
_MOST_MISHEARD = 3
_FAR_MS = 1500
"""No more of a long pause than this is taken into a window."""
_EDGE_MS = 250
"""Sound taken in before and after a window whose edges are no pauses."""


@dataclass(frozen=True, kw_only=True)
class AlignedWord:
    """When a word of a window was said, from the start of the window; None where the aligner could not tell."""

    start_ms: int
    end_ms: int


@dataclass(frozen=True, kw_only=True)
class Window:
    """Words `first` up to `end` of the talk, and the stretch of sound they are said in."""

    first: int
    end: int
    span: Span


def windows(
    words: Sequence[SpokenWord], sentences: Collection[int], speech: Sequence[Span], duration_ms: int
) -> list[Window]:
    """Cuts roughly timed words into windows, each ending in a pause of the speech where one is near.

    `sentences` are the words that begin one: rough times are surest there, so a window rather ends before such a word.
    """
    pauses = _pauses(speech, duration_ms)
    found: list[Window] = []
    first, start = 0, _before(words[0].start_ms, pauses) if words else 0
    while first < len(words):
        end, stop, following = _window_end(words, sentences, first, start, pauses, duration_ms)
        found.append(Window(first=first, end=end, span=Span(start_ms=start, end_ms=max(start + 1, stop))))
        first, start = end, max(start + 1, following)
    return found


def _window_end(
    words: Sequence[SpokenWord],
    sentences: Collection[int],
    first: int,
    start: int,
    pauses: Sequence[Span],
    duration_ms: int,
) -> tuple[int, int, int]:
    """The word after a window's last, where its sound ends, and where that of the next begins: at a pause within its
    longest, or else a little over the edge of the words on both sides."""
    limit = start + LONGEST_WINDOW_MS
    best: tuple[bool, int, int] | None = None
    at = first + 1
    while at < len(words) and words[at].start_ms < limit:
        pause = _pause_near(words[at - 1].end_ms, words[at].start_ms, pauses)
        if pause is not None and start < pause <= limit:
            best = max(best or (False, 0, 0), (at in sentences, at, pause))
        at += 1
    if at == len(words) and words[-1].end_ms <= limit:
        return at, _after(words[-1].end_ms, pauses, duration_ms), duration_ms
    if best is not None:
        return best[1], best[2], best[2]
    following = words[at].start_ms - _EDGE_MS if at < len(words) else duration_ms
    return at, min(duration_ms, words[at - 1].end_ms + _EDGE_MS), max(0, following)


def _pauses(speech: Sequence[Span], duration_ms: int) -> list[Span]:
    edges = [0, *(edge for span in speech for edge in (span.start_ms, span.end_ms)), duration_ms]
    pairs = zip(edges[0::2], edges[1::2], strict=True)
    return [Span(start_ms=a, end_ms=b) for a, b in pairs if b - a >= _SHORTEST_PAUSE_MS]


def _pause_near(end_ms: int, start_ms: int, pauses: Sequence[Span]) -> int | None:
    """The middle of the pause between two words, where there is one near enough to be theirs and no nearer rival."""
    wanted = (end_ms + start_ms) / 2
    near = [p for p in pauses if p.start_ms - _OFF_MS <= wanted <= p.end_ms + _OFF_MS]
    if not near or (start_ms - end_ms < 40 and not any(p.start_ms <= wanted <= p.end_ms for p in near)):
        return None
    best = min(near, key=lambda p: abs((p.start_ms + p.end_ms) / 2 - wanted))
    return min(max((best.start_ms + best.end_ms) // 2, start_ms - _FAR_MS), end_ms + _FAR_MS)


def _before(ms: int, pauses: Sequence[Span]) -> int:
    inside = [p for p in pauses if p.start_ms <= ms <= p.end_ms + _OFF_MS]
    middle = (inside[-1].start_ms + inside[-1].end_ms) // 2 if inside else ms - _EDGE_MS
    return max(0, ms - _FAR_MS, min(ms, middle))


def _after(ms: int, pauses: Sequence[Span], duration_ms: int) -> int:
    following = [p for p in pauses if p.end_ms >= ms]
    middle = (following[0].start_ms + following[0].end_ms) // 2 if following else duration_ms
    return min(duration_ms, ms + _FAR_MS, max(ms, middle))


def anchored(words: Sequence[SpokenWord], recognised: Sequence[SpokenWord]) -> list[SpokenWord]:
    """Roughly timed words for a text, from the words that a recogniser heard.

    Words that are the same in both take its times; runs between them share what time is left by their lengths. The
    shortest list of differences decides which are the same, so that a phrase said twice is not taken for the other.
    """
    same: dict[int, SpokenWord] = {}
    plan = Levenshtein.opcodes([bare(word.text) for word in words], [bare(word.text) for word in recognised])
    if all(code.tag != "equal" for code in plan):
        return list(words)
    for code in plan:
        # A few words misheard for as many stand where those were heard.
        count = code.src_end - code.src_start
        misheard = code.tag == "replace" and count == code.dest_end - code.dest_start <= _MOST_MISHEARD
        for index in range(count if code.tag == "equal" or misheard else 0):
            same[code.src_start + index] = recognised[code.dest_start + index]
    out: list[SpokenWord] = []
    for index, word in enumerate(words):
        told = same.get(index)
        out.append(replace(word, start_ms=told.start_ms, end_ms=told.end_ms, timing="e") if told else word)
    return _filled(out, sorted(same), recognised[-1].end_ms)


def marked(words: Sequence[SpokenWord], recognised: Sequence[SpokenWord]) -> list[SpokenWord]:
    """Words without marks and capitals, with those of what a recogniser heard where it heard the same words; what the words
    are stays as given."""
    out = list(words)
    for code in Levenshtein.opcodes([bare(word.text) for word in words], [bare(word.text) for word in recognised]):
        if code.tag != "equal":
            continue
        for step in range(code.src_end - code.src_start):
            given, heard = out[code.src_start + step], recognised[code.dest_start + step].text
            # What it heard has marks of its own only where it is written with the same letters.
            if heard.strip(_AROUND).lower() == given.text.lower():
                out[code.src_start + step] = replace(given, text=heard)
    return out


def _filled(words: list[SpokenWord], known: Sequence[int], last_ms: int) -> list[SpokenWord]:
    """Runs of words without an anchor, spread between those that have one."""
    edges = [-1, *known, len(words)]
    for before, after in pairwise(edges):
        run = range(before + 1, after)
        if not run:
            continue
        low = words[before].end_ms if before >= 0 else 0
        high = words[after].start_ms if after < len(words) else max(last_ms, low)
        spread(words, run, low, high)
    return words


def spread(words: list[SpokenWord], run: range, low: int, high: int) -> None:
    """Times for a run of words, in place, that share a stretch by their lengths."""
    weights = [len(words[i].text) + 1 for i in run]
    total, at = sum(weights), 0
    for i, weight in zip(run, weights, strict=True):
        start = low + (high - low) * at // total
        at += weight
        end = max(start + 1, low + (high - low) * at // total)
        words[i] = replace(words[i], start_ms=start, end_ms=end, timing="e")


def retimed(
    words: Sequence[SpokenWord], found: Sequence[tuple[Window, Sequence[AlignedWord | None]]]
) -> list[SpokenWord]:
    """Words with the times that aligning their windows found; what it could not tell is spread between its neighbours.

    Words never run backwards: a time before the word ahead of it ends is moved up.
    """
    out = list(words)
    for window, times in found:
        known = [index for index, told in enumerate(times) if told is not None]
        for index in known:
            told = times[index]
            assert told is not None
            out[window.first + index] = replace(
                out[window.first + index],
                start_ms=window.span.start_ms + told.start_ms,
                end_ms=window.span.start_ms + told.end_ms,
                timing="a",
            )
        for before, after in zip([-1, *known], [*known, len(times)], strict=True):
            run = range(window.first + before + 1, window.first + after)
            if not run or not known:
                continue
            low = out[window.first + before].end_ms if before >= 0 else window.span.start_ms
            high = out[window.first + after].start_ms if after < len(times) else window.span.end_ms
            spread(out, run, low, max(low + len(run), high))
    return forwards(out)


def forwards(words: Sequence[SpokenWord]) -> list[SpokenWord]:
    """The same words, none beginning before the one ahead of it ends, each at least a millisecond long."""
    out: list[SpokenWord] = []
    at = 0
    for word in words:
        start = max(at, word.start_ms)
        end = max(start + 1, word.end_ms)
        out.append(word if (start, end) == (word.start_ms, word.end_ms) else replace(word, start_ms=start, end_ms=end))
        at = end
    return out


def with_words(transcript: Transcript, words: Sequence[SpokenWord]) -> Transcript:
    """A transcript with other words in its sentences, as many as it has."""
    sentences, at = [], 0
    for sentence in transcript.sentences:
        end = at + len(sentence.words)
        sentences.append(SpokenSentence(words=tuple(words[at:end]), speaker=sentence.speaker))
        at = end
    return replace(transcript, sentences=tuple(sentences))
