"""A house's own names, suggested wherever something sounds like them."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import jellyfish
from rapidfuzz import fuzz

from nimble_quote.core.transcript.corrections import Occurrence, bare, occurrence_at
from nimble_quote.core.transcript.document import Transcript

_ALIKE = 84.0
"""How alike the sound codes of two names are that may be one (0..100)."""
_SPELT = 50.0
"""How alike their spelling is at least: the codes leave all vowels out."""
_SPELT_SHORT = 74.0
"""The same for names of one or two consonants, which sound like half the language."""
_SHORT_CODE = 2
MOST = 200
_OWNING = re.compile(r"['’]s$")


@dataclass(frozen=True, kw_only=True)
class NameSuggestion:
    """A place that sounds like a name of the house but is written otherwise; `alike` is how much, 0..100."""

    name: str
    place: Occurrence
    alike: float


@dataclass(frozen=True, kw_only=True)
class _Sound:
    name: str
    words: int
    spelt: str
    code: str


def suggest_names(transcript: Transcript, names: Sequence[str]) -> list[NameSuggestion]:
    """Places in order of time; where several overlap, the most alike. What is written as a name is passed over."""
    flat = [word for sentence in transcript.sentences for word in sentence.words]
    spelt = [_OWNING.sub("", bare(word.text)) for word in flat]
    codes = [sound_code(word) for word in spelt]
    found: list[tuple[float, int, int, str]] = []
    for sound in (_sound(name) for name in names):
        for length in range(max(1, sound.words - 1), sound.words + 2):
            for at in range(len(flat) - length + 1):
                code = "".join(codes[at : at + length])
                if abs(len(code) - len(sound.code)) * 3 > len(sound.code):
                    continue
                if alike := _alike(" ".join(spelt[at : at + length]), code, sound):
                    found.append((-alike, at, at + length - 1, sound.name))
    return [
        NameSuggestion(name=name, place=occurrence_at(flat, first, last), alike=-against)
        for against, first, last, name in _apart(sorted(found), _written(spelt, names))
    ]


def _apart(found: Sequence[tuple[float, int, int, str]], written: set[int]) -> list[tuple[float, int, int, str]]:
    """The best of those that overlap, in order of time, none on words that are a name as it should be."""
    taken, kept = set(written), []
    for one in found:
        if taken.isdisjoint(range(one[1], one[2] + 1)):
            taken.update(range(one[1], one[2] + 1))
            kept.append(one)
    return sorted(kept, key=lambda one: one[1])[:MOST]


def _written(spelt: Sequence[str], names: Sequence[str]) -> set[int]:
    """The words that are part of a name, written as it should be."""
    places: set[int] = set()
    for name in names:
        wanted = [bare(part) for part in name.split()]
        for at in range(len(spelt) - len(wanted) + 1):
            if list(spelt[at : at + len(wanted)]) == wanted:
                places.update(range(at, at + len(wanted)))
    return places


@lru_cache(maxsize=50_000)
def sound_code(text: str) -> str:
    """How a text sounds in English, as consonants (Metaphone)."""
    return "".join(jellyfish.metaphone(part) for part in text.split()).replace(" ", "")


def _sound(name: str) -> _Sound:
    spelt = " ".join(bare(part) for part in name.split())
    return _Sound(name=name, words=len(spelt.split()), spelt=spelt, code=sound_code(spelt))


def _alike(spelt: str, code: str, sound: _Sound) -> float:
    """0 where a run does not sound like a name; else how alike both are, sound and spelling together."""
    if spelt.replace(" ", "") == sound.spelt.replace(" ", ""):
        return 0.0
    same = fuzz.ratio(code, sound.code, score_cutoff=_ALIKE)
    if not same:
        return 0.0
    spelling = fuzz.ratio(spelt, sound.spelt)
    short = len(sound.code) <= _SHORT_CODE
    enough = same == 100 and spelling >= _SPELT_SHORT if short else spelling >= _SPELT
    return (same + spelling) / 2 if enough else 0.0
