"""Taking captions from a file: their texts, breaks and times, in one edit."""

from itertools import pairwise
from typing import Literal

from pydantic import Field

from nimble_quote.core.captions.words import corrected
from nimble_quote.core.context import Context
from nimble_quote.core.cutting.kept import kept_words
from nimble_quote.core.document import Break, QuoteDocument, Retimed
from nimble_quote.core.edits.captions import shown_only, with_captions
from nimble_quote.core.edits.changing import EditRefused
from nimble_quote.core.edits.touching import CUT, Touches
from nimble_quote.core.model import Frozen


class CueTaken(Frozen):
    """A cue of words `first` to `last`: what it says, and by how much (ms of the source) it shows later than they are said."""

    first: int = Field(ge=0)
    last: int = Field(ge=0)
    text: str = Field(max_length=1000)
    shift_in_ms: int | None = Field(default=None, ge=-5000, le=5000)
    shift_out_ms: int | None = Field(default=None, ge=-5000, le=5000)


class TakeCaptions(Frozen):
    """Has the captions say, break and show as those of a file; what was fixed of these words before is let go."""

    kind: Literal["take-captions"] = "take-captions"
    cues: tuple[CueTaken, ...] = Field(min_length=1, max_length=4000)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        words = kept_words(document, context.talk)
        low, high = self.cues[0].first, self.cues[-1].last
        inside = [word for word in words if low <= word.index <= high]
        refs = {word.ref for word in inside}
        captions = document.captions
        breaks = [one for one in captions.breaks if one.left not in refs and one.right not in refs]
        retimed = [one for one in captions.retimed if one.word not in refs]
        corrections = captions.corrections
        for cue in self.cues:
            run = [word for word in inside if cue.first <= word.index <= cue.last]
            if not run:
                raise EditRefused("Those words are not in the cut, so no caption shows them.")
            corrections = corrected(run, shown_only(cue.text), corrections, context.talk)
            place = words.index(run[0])
            if place:
                breaks.append(Break(left=words[place - 1].ref, right=run[0].ref, kind="cue"))
            breaks += [Break(left=a.ref, right=b.ref, kind="join") for a, b in pairwise(run)]
            if cue.shift_in_ms is not None:
                retimed.append(Retimed(word=run[0].ref, edge="in", shift_ms=cue.shift_in_ms))
            if cue.shift_out_ms is not None:
                retimed.append(Retimed(word=run[-1].ref, edge="out", shift_ms=cue.shift_out_ms))
        return with_captions(document, breaks=tuple(breaks), retimed=tuple(retimed), corrections=corrections)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Brought in captions: {len(self.cues)} of a file"

    def touches(self, context: Context) -> Touches:
        return CUT
