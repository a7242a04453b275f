"""Where sentences end in a run of spoken words."""

import re
from collections.abc import Sequence
from itertools import pairwise

from nimble_quote.core.transcript.cues import TimedWord
from nimble_quote.core.transcript.words import Sentence

LONGEST_WORDS = 60
PAUSE_MS = 900
"""A pause that ends a sentence in a transcript without full stops."""

_ENDS = re.compile(r"[.?!…][\"'”’)\]]*$")
_ABBREVIATION = re.compile(r"^(?:[A-Z]|Mr|Mrs|Ms|Dr|Rev|St|Prof|Sr|Jr|No|vs|etc|e\.g|i\.e)\.$")


def into_sentences(words: Sequence[TimedWord]) -> list[Sentence]:
    """Splits words into sentences.

    A sentence ends at a full stop, question or exclamation mark (not after an abbreviation), where the speaker
    changes, and at a long pause where the talk carries no such marks. One that would pass `LONGEST_WORDS` is cut
    at its long pauses, so that a page of unpunctuated text stays readable.
    """
    stops = {
        index for index, timed in enumerate(words) if not timed.word.text[-1].isalnum() and _is_stop(timed.word.text)
    }
    punctuated = len(stops) * LONGEST_WORDS >= len(words)
    sentences: list[Sentence] = []
    first = 0
    for index, (timed, following) in enumerate(pairwise(words), start=1):
        ends = index - 1 in stops if punctuated else following.word.start_ms - timed.word.end_ms >= PAUSE_MS
        if ends or following.turn or timed.speaker != following.speaker:
            sentences += _not_too_long(words, first, index)
            first = index
    return sentences + _not_too_long(words, first, len(words)) if words else []


def _is_stop(text: str) -> bool:
    return bool(_ENDS.search(text)) and not _ABBREVIATION.match(text)


def _not_too_long(words: Sequence[TimedWord], first: int, end: int) -> list[Sentence]:
    """A run of words as sentences of at most `LONGEST_WORDS`, each cut at the longest pause within its reach.

    Of pauses that are alike, as where times are only estimated, the one nearest to half of the reach is taken.
    """
    sentences: list[Sentence] = []
    least, half = LONGEST_WORDS // 4, LONGEST_WORDS // 2
    while end - first > LONGEST_WORDS:
        # Away from the edges, so that no stub of a few words is left standing alone.
        inner = range(first + least, min(first + LONGEST_WORDS, end - least) + 1)
        cut = max(inner, key=lambda i: (words[i].word.start_ms - words[i - 1].word.end_ms, -abs(i - first - half)))
        sentences.append(Sentence(first=first, end=cut, speaker=words[first].speaker))
        first = cut
    return [*sentences, Sentence(first=first, end=end, speaker=words[first].speaker)]
