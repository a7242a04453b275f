"""Where sentences end in a run of spoken words."""

import re
from collections.abc import Callable, Sequence
from functools import cache
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.language import NO_LANGUAGE, Language, bare
from nimble_quote.core.transcript.cues import TimedWord
from nimble_quote.core.transcript.words import Sentence

LONGEST_WORDS = 60
ESTIMATED_PAUSE_MS = 900
"""A pause between cues, where the times of words are not known, that is one between sentences."""
_PAUSES = ((500, 3.0), (300, 0.0), (150, -1.5))
"""What a known pause of so many ms adds to the log odds of an end."""
_NO_PAUSE = -4.0
_SURELY = 3.0
"""The log odds from which a sentence ends also where a recogniser put no mark."""
_HARDLY = -2.0
"""The log odds of an end where nothing is known of the words around it."""
_OPENS, _LEADS_ON = 1.0, -3.0
"""What is added by a following word that begins sentences, and by a word that none ends with."""

MOST_BY_WORDING = 100_000
"""Of more words (ten hours), the wording is told from the lists alone: what was learned would keep people waiting."""

EndOdds = Callable[[Sequence[str]], NDArray[np.float64]]
"""For each gap between some bare words the log odds of an end there, over 0 where one is, by their wording."""

_ENDS = re.compile(r"[.?!…؟۔।॥。！？｡]+[\"'”’»›」』】》)\]]*$")
"""Marks that end a sentence, of whichever script, with what may close behind them."""
_TRAILS_OFF = re.compile(r"(?:\.\.|…)[\"'”’»›)\]]*$")
_QUOTED = re.compile(r"[\"'”’»›」』]$")
_ABBREVIATION = re.compile(
    r"^[(\[“\"]?(?:[A-Z]|Mr|Mrs|Ms|Dr|Rev|Fr|Hon|St|Mt|Prof|Capt|Lt|Col|Gen|Sgt|Sr|Jr|No|Nos|Vol|Fig|vs|etc|approx|ca|cf|e\.g|i\.e)\.$"
)
_NUMBERED = re.compile(r"^[(\[]?\d{1,3}\.$")


def into_sentences(
    words: Sequence[TimedWord],
    language: Language = NO_LANGUAGE,
    by_wording: EndOdds | None = None,
    marks_by_ear: bool = False,
) -> list[Sentence]:
    """Splits words into sentences.

    A sentence ends at a full stop, question or exclamation mark, of whichever script, and where the speaker changes. In talk
    that carries few such marks it ends where its wording and the pauses between words whose times are known tell so; the
    wording by what was learned of the language, else by its lists. Marks that a recogniser put in (`marks_by_ear`) are taken
    for ends, and others besides where much speaks for them. One that would pass `LONGEST_WORDS` is cut where most speaks
    for it, so that a page of unpunctuated text stays readable.
    """
    if not words:
        return []
    stops, punctuated = _marks(words)
    punctuated = punctuated and not marks_by_ear
    least = _SURELY if marks_by_ear else 0.0
    # Asked for only where marks do not tell, which of most talks is nowhere.
    odds = cache(lambda: _odds(words, language, None if punctuated else by_wording))
    sentences: list[Sentence] = []
    first = 0
    for index in range(1, len(words)):
        before, after = words[index - 1], words[index]
        ends = stops[index - 1] or after.turn or before.speaker != after.speaker
        if ends or (not punctuated and odds()[index - 1] > least):
            sentences += _not_too_long(words, first, index, odds)
            first = index
    return sentences + _not_too_long(words, first, len(words), odds)


def ends_by_mark(text: str) -> bool:
    """Whether a mark at its last word tells that a sentence ends."""
    return bool(_ENDS.search(text))


def is_punctuated(words: Sequence[TimedWord]) -> bool:
    """Whether marks tell where the sentences of a talk end."""
    return _marks(words)[1]


def _marks(words: Sequence[TimedWord]) -> tuple[list[bool], bool]:
    """Which words a mark ends a sentence at, and whether there are as many as a text with marks has."""
    stops = [_is_stop(words, index) for index in range(len(words))]
    return stops, sum(stops) * LONGEST_WORDS >= len(words)


def _is_stop(words: Sequence[TimedWord], index: int) -> bool:
    """Whether a word ends a sentence by its mark.

    Not at an abbreviation or a number that counts (“2. Wait.”), nor where the next word goes on in small letters after a
    quotation (“Is it late?” she asked) or after dots that only hesitate.
    """
    text = words[index].word.text
    if text[-1].isalnum() or not _ENDS.search(text) or _ABBREVIATION.match(text):
        return False
    following = words[index + 1].word.text.lstrip("“\"'([¿¡") if index + 1 < len(words) else ""
    if _NUMBERED.match(text):
        begins = index == 0 or bool(_ENDS.search(words[index - 1].word.text))
        return not (begins and following)
    goes_on = following[:1].islower()
    return not (goes_on and (_QUOTED.search(text) or _TRAILS_OFF.search(text)))


def _odds(words: Sequence[TimedWord], language: Language, by_wording: EndOdds | None) -> NDArray[np.float64]:
    """For each gap between words, the log odds that a sentence ends there, without regard to marks."""
    texts = [bare(one.word.text) for one in words]
    if by_wording is None or len(words) > MOST_BY_WORDING:  # noqa: SIM108 - a line each is read more easily
        by_words = _by_lists(texts, language)
    else:
        by_words = by_wording(texts)
    return np.asarray(by_words + np.array([_by_pause(words, index) for index in range(1, len(words))]))


def _by_lists(texts: Sequence[str], language: Language) -> NDArray[np.float64]:
    """What the word lists of a language tell of each gap."""
    leading, opening = set(language.leading_on), set(language.openers)
    odds = [
        _HARDLY + _LEADS_ON * (before in leading) + _OPENS * (after in opening) for before, after in pairwise(texts)
    ]
    return np.array(odds)


def _by_pause(words: Sequence[TimedWord], index: int) -> float:
    """What the pause before a word adds. Where times are estimated, only one between cues is a pause, and no pause tells
    nothing."""
    pause_ms = _pause_ms(words, index)
    if "estimated" in (words[index - 1].timing, words[index].timing):
        return _PAUSES[0][1] if pause_ms >= ESTIMATED_PAUSE_MS else 0.0
    return next((adds for least, adds in _PAUSES if pause_ms >= least), _NO_PAUSE)


def _not_too_long(
    words: Sequence[TimedWord], first: int, end: int, odds: Callable[[], NDArray[np.float64]]
) -> list[Sentence]:
    """A run of words as sentences of at most `LONGEST_WORDS`, each cut where most speaks for it within its reach.

    Where all is alike, as where times are only estimated and the language is not known, the place nearest to half of the
    reach is taken.
    """
    sentences: list[Sentence] = []
    least, half = LONGEST_WORDS // 4, LONGEST_WORDS // 2
    while end - first > LONGEST_WORDS:
        # Away from the edges, so that no stub of a few words is left standing alone.
        inner = range(first + least, min(first + LONGEST_WORDS, end - least) + 1)
        cut = max(inner, key=lambda i: (odds()[i - 1], _pause_ms(words, i), -abs(i - first - half)))
        sentences.append(Sentence(first=first, end=cut, speaker=words[first].speaker))
        first = cut
    return [*sentences, Sentence(first=first, end=end, speaker=words[first].speaker)]


def _pause_ms(words: Sequence[TimedWord], index: int) -> int:
    return words[index].word.start_ms - words[index - 1].word.end_ms
