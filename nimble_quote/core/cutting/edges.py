"""Where a cut falls beside a word: before its first sound, after its last has died away.

Words of a transcript end a little early (the last consonant rings on) and start a little late, so each edge gets
some room, but never more than half of the gap to the neighbour, which may be kept or struck on its own:

        said        |   there    |        gap         |   is   |
        cut after                 ^ + up to TAIL
        cut before                              LEAD up to ^
"""

from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span

LEAD_MS = 80
TAIL_MS = 160


def cut_before(talk: Talk, index: int) -> int:
    """The moment to start at so that a word is heard whole, in milliseconds of the source."""
    word = talk.word(index)
    previous = talk.before(index)
    room = word.start_ms - (previous.end_ms if previous else 0)
    return word.start_ms - min(LEAD_MS, max(0, room) // 2)


def cut_after(talk: Talk, index: int) -> int:
    """The moment to end at so that a word is heard whole, in milliseconds of the source."""
    word = talk.word(index)
    following = talk.after(index)
    room = (following.start_ms if following else talk.duration_ms) - word.end_ms
    return word.end_ms + min(TAIL_MS, max(0, room) // 2)


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
