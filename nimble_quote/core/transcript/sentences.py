"""Where sentences end in a run of spoken words."""

import re
from collections.abc import Sequence

from nimble_quote.core.transcript.cues import HeardWord
from nimble_quote.core.transcript.words import Sentence

LONGEST_WORDS = 60
PAUSE_MS = 900
"""A pause that ends a sentence in a transcript without full stops."""

_ENDS = re.compile(r"[.?!…][\"'”’)\]]*$")
_ABBREVIATION = re.compile(r"^(?:[A-Z]|Mr|Mrs|Ms|Dr|Rev|St|Prof|Sr|Jr|No|vs|etc|e\.g|i\.e)\.$")


def into_sentences(words: Sequence[HeardWord]) -> list[Sentence]:
    """Splits words into sentences.

    A sentence ends at a full stop, question or exclamation mark (not after an abbreviation), where the speaker
    changes, and at a long pause where the talk carries no such marks. One that would pass `LONGEST_WORDS` is cut
    at its longest pause, so that a page of unpunctuated text stays readable.
    """
    punctuated = sum(1 for w in words if _ENDS.search(w.word.text)) * LONGEST_WORDS >= len(words)
    sentences: list[Sentence] = []
    first = 0
    for place, heard in enumerate(words):
        following = words[place + 1] if place + 1 < len(words) else None
        if following is None or _ends_here(heard, following, punctuated):
            sentences += _not_too_long(words, first, place + 1)
            first = place + 1
    return sentences


def _ends_here(heard: HeardWord, following: HeardWord, punctuated: bool) -> bool:
    if heard.speaker != following.speaker:
        return True
    if punctuated:
        return bool(_ENDS.search(heard.word.text)) and not _ABBREVIATION.match(heard.word.text)
    return following.word.start_ms - heard.word.end_ms >= PAUSE_MS


def _not_too_long(words: Sequence[HeardWord], first: int, end: int) -> list[Sentence]:
    if end - first <= LONGEST_WORDS:
        return [Sentence(first=first, end=end, speaker=words[first].speaker)]
    # Away from the edges, so that no stub of a few words is left standing alone.
    inner = range(first + LONGEST_WORDS // 4, end - LONGEST_WORDS // 4)
    cut = max(inner, key=lambda i: words[i].word.start_ms - words[i - 1].word.end_ms)
    return _not_too_long(words, first, cut) + _not_too_long(words, cut, end)
