"""A house's own names, suggested wherever something sounds like them."""

from collections.abc import Sequence
from dataclasses import dataclass

import jellyfish
from rapidfuzz import fuzz

from nimble_quote.core.transcript.corrections import Place, bare, place_at
from nimble_quote.core.transcript.document import SpokenWord, Transcript

_ALIKE = 84.0
"""How alike the sound codes of two names are that may be one (0..100)."""
_SPELT = 50.0
"""How alike their spelling is at least: the codes leave all vowels out."""
_SPELT_SHORT = 74.0
"""The same for names of one or two consonants, which sound like half the language."""
_SHORT_CODE = 2
MOST = 200


@dataclass(frozen=True, kw_only=True)
class NameSuggestion:
    """A place that sounds like a name of the house but is written otherwise; `alike` is how much, 0..100."""

    name: str
    place: Place
    alike: float


@dataclass(frozen=True, kw_only=True)
class _Sound:
    name: str
    words: int
    spelt: str
    code: str


def suggest_names(transcript: Transcript, names: Sequence[str]) -> list[NameSuggestion]:
    """Places in order of time, the most alike name for each; what is written as a name already is passed over."""
    flat = [word for sentence in transcript.sentences for word in sentence.words]
    sounds = [_sound(name) for name in names]
    known = {part for sound in sounds for part in sound.spelt.split()}
    found: list[NameSuggestion] = []
    taken = 0
    for at in range(len(flat)):
        best = _best(flat, at, sounds, known) if at >= taken else None
        if best is not None:
            found.append(best)
            taken = best.place.last + 1
        if len(found) == MOST:
            break
    return found


def sound_code(text: str) -> str:
    """How a text sounds in English, as consonants (Metaphone)."""
    return "".join(jellyfish.metaphone(part) for part in text.split()).replace(" ", "")


def _sound(name: str) -> _Sound:
    spelt = " ".join(bare(part) for part in name.split())
    return _Sound(name=name, words=len(spelt.split()), spelt=spelt, code=sound_code(spelt))


def _best(flat: Sequence[SpokenWord], at: int, sounds: Sequence[_Sound], known: set[str]) -> NameSuggestion | None:
    best: NameSuggestion | None = None
    for sound in sounds:
        for length in range(max(1, sound.words - 1), sound.words + 2):
            run = [bare(word.text) for word in flat[at : at + length]]
            if len(run) < length or all(word in known for word in run):
                continue
            alike = _alike(" ".join(run), sound)
            if alike and (best is None or alike > best.alike):
                best = NameSuggestion(name=sound.name, place=place_at(flat, at, at + length - 1), alike=alike)
    return best


def _alike(spelt: str, sound: _Sound) -> float:
    """0 where a run does not sound like a name; else how alike both are, sound and spelling together."""
    if not spelt or spelt == sound.spelt or spelt.replace(" ", "") == sound.spelt.replace(" ", ""):
        return 0.0
    code = sound_code(spelt)
    same = fuzz.ratio(code, sound.code) if code else 0.0
    spelling = fuzz.ratio(spelt, sound.spelt)
    short = len(sound.code) <= _SHORT_CODE
    enough = same == 100 and spelling >= _SPELT_SHORT if short else same >= _ALIKE and spelling >= _SPELT
    return (same + spelling) / 2 if enough else 0.0
