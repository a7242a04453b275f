"""Which words make a cue: the cheapest way to divide the words of a cut, found exactly by dynamic programming."""

from collections.abc import Sequence

from nimble_quote.core.captions.linebreak import break_lines
from nimble_quote.core.captions.styles import Limits
from nimble_quote.core.captions.words import CaptionWord

PAUSE_MS = 350
"""A pause the eye would notice: a good place to change the cue."""
LONG_PAUSE_MS = 1000
"""A silence that a cue should not reach over, or it tells too soon what is said after."""

_CUE_PRICE = 10.0
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
        after = _end_price(words, end)
        choices = []
        inner, characters = 0.0, -1
        for start in range(end - 1, -1, -1):
            characters += len(words[start].text) + 1
            if end - start > 1:
                inner += _inner_price(words[start], words[start + 1])
                if not _allowed(words, start, end, characters, limits):
                    break
            price = best[start][0] + after + inner + _shape_price(words, start, end, limits)
            choices.append((price, start))
        best.append(min(choices))
    ranges: list[tuple[int, int]] = []
    end = len(words)
    while end:
        start = best[end][1]
        ranges.append((start, end))
        end = start
    return ranges[::-1]


def _allowed(words: Sequence[CaptionWord], start: int, end: int, characters: int, limits: Limits) -> bool:
    """Whether words, which take so many characters on one line, keep the limits as one cue."""
    if words[end - 1].end_ms - words[start].start_ms > limits.longest_ms:
        return False
    if characters > limits.line_characters * limits.lines + limits.lines - 1:
        return False
    if characters <= limits.line_characters:
        return True
    texts = [word.text for word in words[start:end]]
    return break_lines(texts, limits.line_characters, limits.lines) is not None


def _end_price(words: Sequence[CaptionWord], end: int) -> float:
    """What a cue costs, and what it costs to end one here."""
    return _CUE_PRICE + (_break_price(words[end - 1], words[end]) if end < len(words) else 0)


def _inner_price(word: CaptionWord, following: CaptionWord) -> float:
    """What it costs to have these two words in one cue."""
    price = 25.0 if word.text[-1:] in _SENTENCE_END else 0.0
    if following.after_join:
        price += 12
    return price + (15 if following.start_ms - word.end_ms >= LONG_PAUSE_MS else 0)


def _shape_price(words: Sequence[CaptionWord], start: int, end: int, limits: Limits) -> float:
    """What it costs to be over too quickly, or to be one word by itself."""
    price = 0.0
    length = words[end].start_ms - words[start].start_ms if end < len(words) else limits.shortest_ms
    if length < limits.shortest_ms:
        price += 20 * (1 - length / limits.shortest_ms) + 10
    if end - start == 1 and words[start].text[-1:] not in _SENTENCE_END:
        price += 8
    return price


def _break_price(last: CaptionWord, following: CaptionWord) -> float:
    if last.text[-1:] in _SENTENCE_END:
        return -10
    pause = following.start_ms - last.end_ms
    if last.text[-1:] in _CLAUSE_END:
        return -4 if pause >= PAUSE_MS else 0
    return 2 if pause >= PAUSE_MS else 9
