"""Which words make a cue: the cheapest way to divide the words of a cut, found exactly by dynamic programming."""

from collections.abc import Sequence

from nimble_quote.core.captions.linebreak import break_lines, width
from nimble_quote.core.captions.styles import Limits
from nimble_quote.core.captions.words import CaptionWord

PAUSE_MS = 350
"""A pause the eye would notice: a good place to change the cue."""
LONG_PAUSE_MS = 1000
"""A silence that a cue should not reach over, or it tells too soon what is said after."""

_SENTENCE_END = ".?!…"
_CLAUSE_END = ",;:—"


def segment(words: Sequence[CaptionWord], limits: Limits) -> list[tuple[int, int]]:
    """Divides words into cues, as half-open ranges of their places.

    Every cue keeps the limits on lines, characters and longest time (a single word too long for them stands alone).
    Among the ways that do, the sum of prices is least: each cue costs something, more when it ends in the middle of a
    clause, holds the end of one sentence and the start of another, is over too quickly, or is one word by itself.
    """
    best: list[tuple[float, int]] = [(0.0, 0)]
    for end in range(1, len(words) + 1):
        choices = []
        for start in range(end - 1, -1, -1):
            if end - start > 1 and not _allowed(words[start:end], limits):
                break
            choices.append((best[start][0] + _price(words, start, end, limits), start))
        best.append(min(choices))
    ranges: list[tuple[int, int]] = []
    end = len(words)
    while end:
        start = best[end][1]
        ranges.append((start, end))
        end = start
    return ranges[::-1]


def _allowed(words: Sequence[CaptionWord], limits: Limits) -> bool:
    if words[-1].end_ms - words[0].start_ms > limits.longest_ms:
        return False
    texts = [word.text for word in words]
    if width(texts) > limits.line_characters * limits.lines + limits.lines - 1:
        return False
    return break_lines(texts, limits.line_characters, limits.lines) is not None


def _price(words: Sequence[CaptionWord], start: int, end: int, limits: Limits) -> float:
    price = 10.0
    last, following = words[end - 1], words[end] if end < len(words) else None
    if following is not None:
        price += _break_price(last, following)
    price += sum(25 for word in words[start : end - 1] if word.text[-1:] in _SENTENCE_END)
    price += sum(12 for word in words[start + 1 : end] if word.after_join)
    price += sum(15 for i in range(start + 1, end) if words[i].start_ms - words[i - 1].end_ms >= LONG_PAUSE_MS)
    length = following.start_ms - words[start].start_ms if following else limits.shortest_ms
    if length < limits.shortest_ms:
        price += 20 * (1 - length / limits.shortest_ms) + 10
    if end - start == 1 and last.text[-1:] not in _SENTENCE_END:
        price += 8
    return price


def _break_price(last: CaptionWord, following: CaptionWord) -> float:
    if last.text[-1:] in _SENTENCE_END:
        return -10
    pause = following.start_ms - last.end_ms
    if last.text[-1:] in _CLAUSE_END:
        return -4 if pause >= PAUSE_MS else 0
    return 2 if pause >= PAUSE_MS else 9
