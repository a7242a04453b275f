"""What a person decided of the captions, found again among the words of a cut: by places of words, not by their names."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from nimble_quote.core.captions.words import CaptionWord
from nimble_quote.core.document import BreakKind, Captions, CueMark
from nimble_quote.core.talk import Talk
from nimble_quote.core.transcript.words import WordRef


@dataclass(frozen=True, kw_only=True)
class Mark:
    """A mark of a cue on the words `first` up to before `end` of the cut."""

    first: int
    end: int
    mark: CueMark


@dataclass(frozen=True, kw_only=True)
class Fixed:
    """Decisions that hold in a cut: what is said of the place before a word, by how much (ms) cues that begin or end with a word
    are shifted, and marks. A place is that of a word, or piece of one, among those the captions show."""

    breaks: dict[int, BreakKind]
    shifts_in: dict[int, int]
    shifts_out: dict[int, int]
    marks: tuple[Mark, ...]

    @property
    def places(self) -> set[int]:
        """Every place with a decision of its own: before it, or of a cue that begins there."""
        return {*self.breaks, *self.shifts_in, *(place + 1 for place in self.shifts_out)}


def fixed_in(captions: Captions, words: Sequence[CaptionWord], talk: Talk) -> Fixed:
    """The decisions that hold in a cut. One whose words are not kept sleeps."""
    firsts: dict[int, int] = {}
    lasts: dict[int, int] = {}
    for place, word in enumerate(words):
        firsts.setdefault(word.index, place)
        lasts[word.index] = place

    def first_of(ref: WordRef | None) -> int | None:
        word = talk.lasting(ref) if ref is not None else None
        return None if word is None else firsts.get(word.index)

    def last_of(ref: WordRef | None) -> int | None:
        word = talk.lasting(ref) if ref is not None else None
        return None if word is None else lasts.get(word.index)

    breaks: dict[int, BreakKind] = {}
    for one in captions.breaks:
        left, right = last_of(one.left), first_of(one.right)
        if one.kind != "join" and (right is not None or left is not None):
            place = right if right is not None else (left or 0) + 1
            if 0 < place < len(words):
                breaks[place] = one.kind
    for place in _joined(captions, words, talk):
        breaks.setdefault(place, "join")
    return Fixed(
        breaks=breaks,
        shifts_in=_shifts(captions, "in", first_of),
        shifts_out=_shifts(captions, "out", last_of),
        marks=tuple(_marks(captions, words, talk)),
    )


def _joined(captions: Captions, words: Sequence[CaptionWord], talk: Talk) -> Iterator[int]:
    """The places whose word is joined to the one before it: by itself, or by way of words that are struck."""
    following: dict[int, int] = {}
    for one in captions.breaks:
        left, right = (talk.lasting(ref) if ref is not None else None for ref in (one.left, one.right))
        if one.kind == "join" and left is not None and right is not None:
            following[left.index] = right.index
    for place in range(1, len(words)):
        at = words[place - 1].index
        if at not in following:
            continue
        while at < words[place].index and at in following and following[at] > at:
            at = following[at]
        if at == words[place].index:
            yield place


def _shifts(captions: Captions, edge: str, place_of: Callable[[WordRef], int | None]) -> dict[int, int]:
    found = ((place_of(one.word), one.shift_ms) for one in captions.retimed if one.edge == edge)
    return {place: shift for place, shift in found if place is not None}


def _marks(captions: Captions, words: Sequence[CaptionWord], talk: Talk) -> Iterator[Mark]:
    """Each mark on those of its words that are kept."""
    for mark in captions.marked:
        first, last = talk.lasting(mark.first), talk.lasting(mark.last)
        if first is None or last is None:
            continue
        places = [place for place, word in enumerate(words) if first.index <= word.index <= last.index]
        if places:
            yield Mark(first=places[0], end=places[-1] + 1, mark=mark)
