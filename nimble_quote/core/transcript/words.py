"""The words of a talk: what each says, when, and in which sentence."""

from dataclasses import dataclass


@dataclass(frozen=True, kw_only=True, slots=True)
class Word:
    """One word as it stands in the transcript, `[start_ms, end_ms)` of the source."""

    index: int
    """Its place in the whole talk, counted from 0."""
    text: str
    start_ms: int
    end_ms: int

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
