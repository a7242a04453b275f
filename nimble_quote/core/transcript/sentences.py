"""Where sentences end in a run of spoken words."""

import re
from collections.abc import Sequence

from nimble_quote.core.language import NO_LANGUAGE, Language, bare
from nimble_quote.core.transcript.cues import TimedWord
from nimble_quote.core.transcript.words import Sentence

LONGEST_WORDS = 60
PAUSE_MS, ESTIMATED_PAUSE_MS = 500, 900
"""A pause that ends a sentence in a transcript without full stops: between words whose times are known, and between cues."""
_PAUSES = ((500, 2.0), (300, 1.0), (150, 0.0))
"""What a pause of so many ms counts for an end; a shorter one counts against it."""
_OPENS, _GOES_ON, _NO_PAUSE = 1.0, -3.0, -0.5
"""A following word that begins sentences; a word that none ends with; words without a pause between them."""

_ENDS = re.compile(r"[.?!…؟۔।॥。！？｡]+[\"'”’»›」』】》)\]]*$")
_TRAILS_OFF = re.compile(r"(?:\.\.|…)[\"'”’»›)\]]*$")
_QUOTED = re.compile(r"[\"'”’»›」』]$")
_ABBREVIATION = re.compile(
    r"^[(\[“\"]?(?:[A-Z]|Mr|Mrs|Ms|Dr|Rev|Fr|Hon|St|Mt|Prof|Capt|Lt|Col|Gen|Sgt|Sr|Jr|No|Nos|Vol|Fig|vs|etc|approx|ca|cf|e\.g|i\.e)\.$"
)
_NUMBERED = re.compile(r"^[(\[]?\d{1,3}\.$")


def into_sentences(words: Sequence[TimedWord], language: Language = NO_LANGUAGE) -> list[Sentence]:
    """Splits words into sentences.

    A sentence ends at a full stop, question or exclamation mark, of whichever script, and where the speaker changes. Talk
    that carries few such marks is split at long pauses. One that would pass `LONGEST_WORDS` is cut where most speaks for it: at
    a pause, before words that begin sentences, not after words that none ends with, as the language has them. So a page of
    unpunctuated text stays readable.
    """
    if not words:
        return []
    stops, punctuated = _marks(words)
    sentences: list[Sentence] = []
    first = 0
    for index in range(1, len(words)):
        before, after = words[index - 1], words[index]
        ends = stops[index - 1] or after.turn or before.speaker != after.speaker
        if ends or (not punctuated and _pauses(words, index, language)):
            sentences += _not_too_long(words, first, index, language)
            first = index
    return sentences + _not_too_long(words, first, len(words), language)


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


def _pauses(words: Sequence[TimedWord], index: int, language: Language) -> bool:
    """Whether the speaker pauses as between sentences, and not to think of how one goes on."""
    known = "estimated" not in (words[index - 1].timing, words[index].timing)
    least = PAUSE_MS if known else ESTIMATED_PAUSE_MS
    return _pause_ms(words, index) >= least and bare(words[index - 1].word.text) not in language.leading_on


def _evidence(words: Sequence[TimedWord], index: int, language: Language) -> float:
    """How much speaks for a sentence that ends before a word, without regard to marks."""
    before, after = words[index - 1].word, words[index].word
    pause_ms = after.start_ms - before.end_ms
    value = next((counts for least, counts in _PAUSES if pause_ms >= least), _NO_PAUSE)
    if bare(before.text) in language.leading_on:
        value += _GOES_ON
    if bare(after.text) in language.openers:
        value += _OPENS
    return value


def _not_too_long(words: Sequence[TimedWord], first: int, end: int, language: Language) -> list[Sentence]:
    """A run of words as sentences of at most `LONGEST_WORDS`, each cut where most speaks for it within its reach.

    Where all is alike, as where times are only estimated and the language is not known, the place nearest to half of the
    reach is taken.
    """
    sentences: list[Sentence] = []
    least, half = LONGEST_WORDS // 4, LONGEST_WORDS // 2
    while end - first > LONGEST_WORDS:
        # Away from the edges, so that no stub of a few words is left standing alone.
        inner = range(first + least, min(first + LONGEST_WORDS, end - least) + 1)
        cut = max(inner, key=lambda i: (_evidence(words, i, language), _pause_ms(words, i), -abs(i - first - half)))
        sentences.append(Sentence(first=first, end=cut, speaker=words[first].speaker))
        first = cut
    return [*sentences, Sentence(first=first, end=end, speaker=words[first].speaker)]


def _pause_ms(words: Sequence[TimedWord], index: int) -> int:
    return words[index].word.start_ms - words[index - 1].word.end_ms
