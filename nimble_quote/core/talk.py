"""What an edit and an Assembly need to know of a recording."""

from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import dataclass

from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.transcript.words import Word, WordMissing


@dataclass(frozen=True, kw_only=True)
class Talk:
    """A run of a recording's words, in order of time, its length, and the faces found in it."""

    words: Sequence[Word]
    duration_ms: int
    faces: Sequence[FaceSample] = ()

    def word(self, index: int) -> Word:
        """The word with this index. Raises `WordMissing` where the talk has no such word here."""
        place = index - self.words[0].index if self.words else -1
        if not 0 <= place < len(self.words):
            raise WordMissing(index)
        return self.words[place]

    def before(self, index: int) -> Word | None:
        """The word just before the one with this index."""
        return self._at(index - 1)

    def after(self, index: int) -> Word | None:
        """The word just after the one with this index."""
        return self._at(index + 1)

    def between(self, start_ms: int, end_ms: int) -> Sequence[Word]:
        """The words whose middle lies in `[start_ms, end_ms)`."""
        first = bisect_left(self.words, float(start_ms), key=lambda w: w.middle_ms)
        end = bisect_left(self.words, float(end_ms), key=lambda w: w.middle_ms)
        return self.words[first:end]

    def _at(self, index: int) -> Word | None:
        try:
            return self.word(index)
        except WordMissing:
            return None
