"""What is said in a recording, and how it sounds."""

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from nimble_quote.core.language import NO_LANGUAGE, Language
from nimble_quote.core.transcript.words import Sentence, Word, WordMissing, WordRef

LEVEL_MS = 10
"""A level stands for this much sound."""


@dataclass(frozen=True, kw_only=True)
class Levels:
    """The waveform of a stretch that begins at `from_ms`, a multiple of `LEVEL_MS`: the loudest sample of each step,
    0..255 on a square-root scale. Empty where it is not known."""

    from_ms: int = 0
    values: bytes = b""

    def between(self, start_ms: int, end_ms: int) -> bytes:
        """The levels of the steps that lie whole in a stretch; empty where any of them is not known."""
        first = -(-(start_ms - self.from_ms) // LEVEL_MS)
        end = (end_ms - self.from_ms) // LEVEL_MS
        return self.values[first:end] if 0 <= first <= end <= len(self.values) else b""


@dataclass(frozen=True, kw_only=True)
class Talk:
    """A run of a recording's words in order of time, the sentences they make, and what is heard around them."""

    words: Sequence[Word]
    duration_ms: int
    sentences: Sequence[Sentence] = ()
    levels: Levels = Levels()
    language: Language = NO_LANGUAGE

    def word(self, index: int) -> Word:
        """The word with this index. Raises `WordMissing` where the talk has no such word here."""
        index = index - self.words[0].index if self.words else -1
        if not 0 <= index < len(self.words):
            raise WordMissing(index)
        return self.words[index]

    def lasting(self, ref: WordRef) -> Word | None:
        """The word that is named for good, or the one that stands for it now; None where the talk has neither here."""
        return self._by_ref.get(ref)

    @cached_property
    def _by_ref(self) -> dict[WordRef, Word]:
        found: dict[WordRef, Word] = {}
        for word in self.words:
            for ref in (*word.lineage.joined, *word.lineage.gone):
                found.setdefault(ref, word)
        return found | {word.ref: word for word in self.words}

    def parts_of(self, ref: WordRef) -> list[Word]:
        """The words that were split off one."""
        return [word for word in self.words if word.lineage.part_of == ref]

    def before(self, index: int) -> Word | None:
        """The word just before the one with this index."""
        return self._at(index - 1)

    def after(self, index: int) -> Word | None:
        """The word just after the one with this index."""
        return self._at(index + 1)

    def between(self, start_ms: int, end_ms: int) -> Sequence[Word]:
        """The words whose middle lies in `[start_ms, end_ms)`."""
        return self.words[bisect_left(self._middles, start_ms) : bisect_left(self._middles, end_ms)]

    @cached_property
    def _middles(self) -> list[float]:
        """The middle of each word, in order: asked for thousands of times while a quote is looked at."""
        return [word.middle_ms for word in self.words]

    def sentence_of(self, index: int) -> Sentence | None:
        """The sentence that a word stands in."""
        index = bisect_right(self.sentences, index, key=lambda one: one.first) - 1
        return self.sentences[index] if index >= 0 and index < self.sentences[index].end else None

    def words_of(self, sentence: Sentence) -> Sequence[Word]:
        """The words of one of the talk's sentences."""
        first = sentence.first - self.words[0].index if self.words else 0
        return self.words[max(0, first) : max(0, first + sentence.end - sentence.first)]

    def _at(self, index: int) -> Word | None:
        try:
            return self.word(index)
        except WordMissing:
            return None
