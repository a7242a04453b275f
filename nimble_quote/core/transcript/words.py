"""The words of a talk: what each says, when, and in which sentence."""

from dataclasses import dataclass

WordRef = int
"""A word for good: a number that no other word of its recording ever had, kept through corrections and new times."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Lineage:
    """What corrections made of words: which ones a word stands for besides itself, and which one it was a part of."""

    joined: tuple[WordRef, ...] = ()
    """Words that were written as one with it: what was said of all of them holds of it."""
    gone: tuple[WordRef, ...] = ()
    """Words that were taken out just after it: what began or ended at one of them does so here."""
    part_of: WordRef | None = None
    """The word that it was split off."""


ALONE = Lineage()


@dataclass(frozen=True, kw_only=True, slots=True)
class Word:
    """One word as it stands in the transcript, `[start_ms, end_ms)` of the source."""

    index: int
    """Its place in the whole talk, counted from 0. It changes when words before it are corrected."""
    text: str
    start_ms: int
    end_ms: int
    lasting: WordRef | None = None
    lineage: Lineage = ALONE

    @property
    def ref(self) -> WordRef:
        """The word for good; in a talk that was never stored, its place."""
        return self.index if self.lasting is None else self.lasting

    @property
    def middle_ms(self) -> float:
        return (self.start_ms + self.end_ms) / 2


@dataclass(frozen=True, kw_only=True, slots=True)
class Sentence:
    """A run of words that belong together: words `first` up to but not including `end`."""

    first: int
    end: int
    speaker: str | None


class WordMissing(LookupError):
    """A word was named that the talk does not have."""

    def __init__(self, index: int) -> None:
        super().__init__(f"the talk has no word number {index + 1}")
        self.index = index
