"""Where a cut falls in the gap between two words: where it is quietest, clear of both words and of a breath.

Words of a transcript end a little early (the last consonant rings on) and start a little late, so each edge gets
some room. A gap is shared between a cut after the word before it and a cut before the word after it; the first
never lies behind the second, so that both neighbours stay whole whichever of them is struck:

        said        |   there    |   tail  quiet    breath  quiet  |   is   |
        cut after                     TAIL ^                  LEAD ^
                                        (quietest)             (quietest)

A breath belongs to neither side: the cut after a word falls before it, and the cut before a word falls after it where
there is room, so that a join never has two.
"""

from dataclasses import dataclass

from nimble_quote.core.talk import LEVEL_MS, Talk
from nimble_quote.core.timebase import Span

LEAD_MS = 80
TAIL_MS = 160
_BREATH_MS = (60, 700)
"""How long a breath between words is."""
_ABOVE_FLOOR = (1.5, 6)
"""What is louder than the quietest of a gap by this factor, and this much more, is no room tone."""
_NEAR = 8
"""A quiet point is the quietest of so many steps on either side."""
_FAR = 0.08
"""How many levels a place may be louder for each millisecond that it is nearer to where a cut usually falls."""


@dataclass(frozen=True, kw_only=True)
class GapCuts:
    """The two places to cut in a gap: after the word before it, and before the word after it."""

    after_ms: int
    before_ms: int


def gap_cuts(talk: Talk, start_ms: int, end_ms: int) -> GapCuts:
    """Where to cut in the gap between a word that ends at `start_ms` and one that begins at `end_ms`."""
    gap = max(0, end_ms - start_ms)
    after, before = start_ms + min(TAIL_MS, gap // 2), start_ms + gap - min(LEAD_MS, gap // 2)
    levels = talk.levels.between(start_ms, start_ms + gap)
    first = -(-start_ms // LEVEL_MS) * LEVEL_MS
    if len(levels) < 2:
        return GapCuts(after_ms=after, before_ms=before)
    breath = _breath(levels)
    if breath:
        parting, resuming = first + breath[0] * LEVEL_MS, first + breath[1] * LEVEL_MS
    else:
        parting = resuming = _quietest(levels, first, (start_ms, start_ms + gap), (after + before) // 2)
    return GapCuts(
        after_ms=_quietest(levels, first, (start_ms, min(parting, start_ms + 2 * TAIL_MS)), min(after, parting)),
        before_ms=_quietest(levels, first, (max(resuming, before - LEAD_MS), start_ms + gap), max(before, resuming)),
    )


def quiet_points(levels: bytes, from_ms: int) -> tuple[int, ...]:
    """The moments where the sound is quietest among what is near, and quiet for the stretch: where a cut is heard least."""
    if not levels:
        return ()
    most = _quiet_below(levels)
    return tuple(
        from_ms + index * LEVEL_MS
        for index in range(1, len(levels))
        if (here := max(levels[index - 1 : index + 1])) <= most
        and here
        == min(max(levels[i - 1 : i + 1]) for i in range(max(1, index - _NEAR), min(len(levels), index + _NEAR + 1)))
    )


def _quiet_below(levels: bytes) -> float:
    factor, more = _ABOVE_FLOOR
    return factor * min(levels) + more


def _breath(levels: bytes) -> tuple[int, int] | None:
    """The steps of the last rise in a gap that is neither the tail of one word nor the beginning of the next."""
    most = _quiet_below(levels)
    quiet = [level <= most for level in levels]
    runs, at = [], 0
    while at < len(quiet):
        end = next((i for i in range(at, len(quiet)) if quiet[i] != quiet[at]), len(quiet))
        if not quiet[at] and at > 0 and end < len(quiet):
            runs.append((at, end))
        at = end
    low, high = _BREATH_MS
    return next(((a, b) for a, b in reversed(runs) if low <= (b - a) * LEVEL_MS <= high), None)


def _quietest(levels: bytes, first_ms: int, within: tuple[int, int], usual_ms: int) -> int:
    """The quietest step's edge in a stretch, nearer to the usual place where several are about as quiet."""
    indexes = [
        (max(levels[i - 1 : i + 1]) + _FAR * abs(first_ms + i * LEVEL_MS - usual_ms), first_ms + i * LEVEL_MS)
        for i in range(1, len(levels))
        if within[0] <= first_ms + i * LEVEL_MS <= within[1]
    ]
    return min(indexes)[1] if indexes else usual_ms


def cut_before(talk: Talk, index: int) -> int:
    """The moment to start at so that a word is heard whole, in milliseconds of the source."""
    word, previous = talk.word(index), talk.before(index)
    return gap_cuts(talk, previous.end_ms if previous else max(0, word.start_ms - 2 * LEAD_MS), word.start_ms).before_ms


def cut_after(talk: Talk, index: int) -> int:
    """The moment to end at so that a word is heard whole, in milliseconds of the source."""
    word, following = talk.word(index), talk.after(index)
    return gap_cuts(talk, word.end_ms, following.start_ms if following else talk.duration_ms).after_ms


def around_words(talk: Talk, first: int, last: int) -> Span:
    """The span that holds words `first` to `last` (both included) whole, with a little air at both ends."""
    return Span(start_ms=cut_before(talk, first), end_ms=cut_after(talk, last))


def with_air_ms(start_ms: int, end_ms: int) -> int:
    """About how long words from one moment to another run as a quote, with air at both ends, before it is cut."""
    return end_ms - start_ms + LEAD_MS + TAIL_MS


def instead_of_words(talk: Talk, first: int, last: int) -> Span:
    """The span to leave out so that words `first` to `last` go and both their neighbours stay whole."""
    previous, following = talk.before(first), talk.after(last)
    start = cut_after(talk, previous.index) if previous else 0
    end = cut_before(talk, following.index) if following else talk.duration_ms
    return Span(start_ms=start, end_ms=max(end, start + 1))
