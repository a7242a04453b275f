"""How closely two words belong together: what it costs to part them at the end of a line, or of a cue.

The prices were found with an independent part-of-speech tagger on talks (`tests/bench/captions.py`): a line may end with
a sentence or a clause, and hardly between an article and its noun, a first name and a surname, a number and its unit.
"""

from collections.abc import Mapping, Sequence
from itertools import pairwise

from nimble_quote.core.captions.words import CaptionWord
from nimble_quote.core.language import Language

SENTENCE_END, CLAUSE_END = ".?!…。！？।", ",;:—،、，；："
_CLOSING = "\"'”’»)]"
_ENDS_SENTENCE, _ENDS_CLAUSE, _INSIDE = -1.2, -0.55, 0.35
_LEANS: dict[str, float] = {
    "determiner": 0.65, "possessive": 0.65, "preposition": 0.65, "to": 0.65,
    "auxiliary": 0.5, "be": 0.5, "subject": 0.5, "pronoun": 0.45, "shortened": 0.5, "conjunction": 0.5,
    "subordinating": 0.5, "question": 0.4, "negation": 0.5,
}  # fmt: skip
"""What a word of a kind adds that stands last before a break."""
_NAMES, _NUMBER, _COMPOUND = 0.6, 0.4, 0.3
_OPENS = ("preposition", "conjunction", "subordinating", "to", "question", "subject")
_OPENER = -0.35
"""A phrase begins with such a word: a good place to break before."""
_CLINGS: dict[str, float] = {"object": 0.5, "be": 0.35, "auxiliary": 0.3, "negation": 0.3, "past": 0.15, "verb": 0.15}
"""What a word of a kind adds that would stand first after a break: it belongs to what is before it."""
_LONGEST_PAUSE, _PAUSE_MS, _MOST_PAUSE_MS = -0.6, 120, 700
OTHER_SPEAKER = -9.0


def bindings(words: Sequence[CaptionWord], language: Language) -> list[float]:
    """What it costs to break after each word but the last: below 0 is a good place."""
    kinds = language.kinds or dict.fromkeys((*language.unfinished, *language.leading_on), "determiner")
    return [_binding(a, b, kinds) for a, b in pairwise(words)]


def _binding(word: CaptionWord, following: CaptionWord, kinds: Mapping[str, str]) -> float:
    if following.speaker != word.speaker:
        return OTHER_SPEAKER
    text = word.text.rstrip(_CLOSING)
    pause = following.start_ms - word.end_ms
    paused = _LONGEST_PAUSE * min(1.0, max(0.0, (pause - _PAUSE_MS) / (_MOST_PAUSE_MS - _PAUSE_MS)))
    if text[-1:] in SENTENCE_END and not _abbreviated(text, following.text):
        return _ENDS_SENTENCE + paused
    if text[-1:] in CLAUSE_END:
        return _ENDS_CLAUSE + paused
    if following.glued:
        return _INSIDE + paused
    return _INSIDE + _leaning(text, following.text, kinds) + _opening(following.text, kinds) + paused


def _leaning(text: str, following: str, kinds: Mapping[str, str]) -> float:
    small = _plain(text)
    kind = kinds.get(small, "")
    more = _LEANS.get(kind, 0.0)
    if small and kind in ("", "number") and _capital(text) and _capital(following):
        more += _NAMES
    elif any(one.isdigit() for one in text) or kind == "number":
        more += _NUMBER
    elif kind == "adverb" and len(small) <= 5:
        more += _COMPOUND
    return more


def _opening(following: str, kinds: Mapping[str, str]) -> float:
    kind = kinds.get(_plain(following), "")
    return _OPENER if kind in _OPENS else _CLINGS.get(kind, 0.0)


def _plain(text: str) -> str:
    return text.strip("\"'“”‘’«»()[]¿¡").lower().replace("’", "'")


def _capital(text: str) -> bool:
    letters = text.lstrip("\"'“‘«([")
    return letters[:1].isupper() and letters not in ("I", "I'm", "I’m")


def _abbreviated(text: str, following: str) -> bool:
    """Whether a full stop ends no sentence: what follows is small, or it is one letter."""
    return text.endswith(".") and (following[:1].islower() or (len(text) == 2 and text[0].isupper()))
