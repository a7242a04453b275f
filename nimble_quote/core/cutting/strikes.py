"""Striking by rule: what a rule would leave out of a cut, each place by itself, so that it can be counted and excepted.

To add a rule: a function from a cut to `Strike`s, listed in `RULES`.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from nimble_quote.core.cutting.edges import instead_of_words
from nimble_quote.core.cutting.kept import kept_words, text_of
from nimble_quote.core.cutting.pauses import pauses, tightened
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.language import bare
from nimble_quote.core.model import Frozen
from nimble_quote.core.ranges import RANGES
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span
from nimble_quote.core.transcript.words import Word

RuleName = Literal["fillers", "repeats", "stammers", "pauses", "interjections"]
_SET_OFF_MS = 120
"""A pause this long sets a phrase off from its sentence as a comma does."""
_LONGEST_RESTART = 4
_LONGEST_INTERJECTION = 5


class Rule(Frozen):
    """A rule, and its numbers: `over_ms` and `to_ms` are for pauses, `speaker` is for interjections."""

    name: RuleName
    over_ms: Annotated[int, Field(ge=RANGES.pause_over_ms.least, le=RANGES.pause_over_ms.most)] = 600
    to_ms: Annotated[int, Field(ge=RANGES.pause_to_ms.least, le=RANGES.pause_to_ms.most)] = 350
    speaker: str | None = None


class Strike(Frozen):
    """One place that a rule would leave out: words `first` to `last`, or the part of a pause before word `first`."""

    id: str
    rule: RuleName
    first: int
    last: int
    text: str
    span: Span
    gain_ms: int


@dataclass(frozen=True, kw_only=True)
class _Cut:
    document: QuoteDocument
    talk: Talk
    destination: str | None
    words: Sequence[Word]

    def bare(self) -> list[str]:
        return [bare(word.text) for word in self.words]


def strikes(document: QuoteDocument, talk: Talk, rule: Rule, destination: str | None = None) -> tuple[Strike, ...]:
    """What a rule would leave out of the cut of a version, or of the base, in order."""
    cut = _Cut(document=document, talk=talk, destination=destination, words=kept_words(document, talk, destination))
    return tuple(RULES[rule.name](cut, rule)) if cut.words else ()


def _struck(cut: _Cut, rule: RuleName, first: int, last: int) -> Strike:
    """Words of the cut, by their places in it. They follow one another in the talk."""
    a, b = cut.words[first], cut.words[last]
    hole = instead_of_words(cut.talk, a.index, b.index)
    start, end = max(hole.start_ms, cut.document.span.start_ms), min(hole.end_ms, cut.document.span.end_ms)
    return Strike(
        id=f"{rule}:{a.index}-{b.index}", rule=rule, first=a.index, last=b.index,
        text=text_of(cut.words[first : last + 1]), span=Span(start_ms=start, end_ms=end), gain_ms=end - start,
    )  # fmt: skip


def _fillers(cut: _Cut, rule: Rule) -> Iterator[Strike]:
    said, at, language = cut.bare(), 0, cut.talk.language
    while at < len(said):
        found = language.opening(said[at:], "fillers") if language.may_open(said[at], "fillers") else None
        last = at + len(found.split()) - 1 if found else at
        if found and _in_a_row(cut, at, last) and (_always(found) or _set_off(cut, at, last)):
            yield _struck(cut, "fillers", at, last)
        at = last + 1


def _always(filler: str) -> bool:
    """Whether a filler is one wherever it stands: a sound and not a word."""
    return len(filler) <= 4 and " " not in filler


def _set_off(cut: _Cut, first: int, last: int) -> bool:
    """Whether some words stand by themselves in their sentence, as fillers do: "you know" in "do you know" does not."""
    before, after = (cut.words[first - 1] if first else None), cut.words[last + 1 : last + 2]
    opened = before is None or before.text[-1] in ",.?!;:—" or cut.words[first].start_ms - before.end_ms >= _SET_OFF_MS
    closing = cut.words[last].text[-1] in ",.?!;:—"
    closed = closing or not after or after[0].start_ms - cut.words[last].end_ms >= _SET_OFF_MS
    return opened and closed


def _stammers(cut: _Cut, rule: Rule) -> Iterator[Strike]:
    said = cut.bare()
    for at in range(len(said) - 1):
        if said[at] and said[at] == said[at + 1] and _in_a_row(cut, at, at + 1):
            on_purpose = said[at] in cut.talk.language.doubled or cut.words[at].text[-1] in ".?!"
            if not on_purpose:
                yield _struck(cut, "stammers", at, at)
        elif cut.words[at].text.endswith(("-", "–", "—")) and said[at + 1].startswith(said[at]) and said[at]:
            yield _struck(cut, "stammers", at, at)


def _repeats(cut: _Cut, rule: Rule) -> Iterator[Strike]:
    """Starts of a sentence that are said again at once: "I went to, I went to the harbour"."""
    said, at = cut.bare(), 0
    while at < len(said):
        length = next(
            (
                n
                for n in range(_LONGEST_RESTART, 1, -1)
                if said[at : at + n] == said[at + n : at + 2 * n] and len(said[at : at + n]) == n
            ),
            0,
        )
        ended = any(word.text[-1] in ".?!" for word in cut.words[at : at + length])
        if length and not ended and _in_a_row(cut, at, at + length):
            yield _struck(cut, "repeats", at, at + length - 1)
        at += max(1, length)


def _pauses(cut: _Cut, rule: Rule) -> Iterator[Strike]:
    for pause, made in tightened(pauses(cut.document, cut.talk, cut.destination), rule.over_ms, rule.to_ms, cut.talk):
        for hole in made.struck:
            gain = pause.kept_ms - (pause.said_ms - hole.length_ms)
            if gain > 0:
                yield Strike(
                    id=f"pauses:{pause.before}", rule="pauses", first=pause.before, last=pause.before,
                    text=f"{pause.kept_ms / 1000:.1f} s before “{cut.talk.word(pause.before).text}”",
                    span=hole, gain_ms=gain,
                )  # fmt: skip


def _interjections(cut: _Cut, rule: Rule) -> Iterator[Strike]:
    """What a speaker throws in: whole sentences of a few words."""
    indexes = {word.index: index for index, word in enumerate(cut.words)}
    for sentence in cut.talk.sentences:
        if sentence.speaker != rule.speaker or sentence.end - sentence.first > _LONGEST_INTERJECTION:
            continue
        if all(word in indexes for word in range(sentence.first, sentence.end)):
            yield _struck(cut, "interjections", indexes[sentence.first], indexes[sentence.end - 1])


def _in_a_row(cut: _Cut, first: int, last: int) -> bool:
    """Whether words that follow one another in the cut did so in the talk."""
    last = min(last, len(cut.words) - 1)
    return cut.words[last].index - cut.words[first].index == last - first


RULES: dict[RuleName, Callable[[_Cut, Rule], Iterator[Strike]]] = {
    "fillers": _fillers,
    "repeats": _repeats,
    "stammers": _stammers,
    "pauses": _pauses,
    "interjections": _interjections,
}
