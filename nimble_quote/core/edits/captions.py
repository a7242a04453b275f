"""Edits of the captions, which all versions share."""

from typing import Literal

from pydantic import Field

from nimble_quote.core.captions.words import corrected
from nimble_quote.core.context import Context
from nimble_quote.core.cutting.kept import kept_words
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.edits.changing import (
    EditRefused,
    changed,
    ordered,
)
from nimble_quote.core.edits.touching import Touches, subject, words_of_cut
from nimble_quote.core.model import Frozen


class ChooseCaptionStyle(Frozen):
    """Styles the captions of the whole quote."""

    kind: Literal["choose-caption-style"] = "choose-caption-style"
    style: str

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        style = context.catalogue.style(self.style)
        if style.retired:
            raise EditRefused(f"The caption style {style.name} is offered no more.")
        captions = document.captions.model_copy(update={"style": self.style})
        return changed(document, captions=captions)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Chose the caption style {context.catalogue.style(self.style).name}"

    def touches(self, context: Context) -> Touches:
        return subject("caption style")


class ShowCaptions(Frozen):
    """Burns captions in, or leaves them out."""

    kind: Literal["show-captions"] = "show-captions"
    shown: bool

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        return changed(document, captions=document.captions.model_copy(update={"shown": self.shown}))

    def said(self, document: QuoteDocument, context: Context) -> str:
        return "Showed the captions" if self.shown else "Hid the captions"

    def touches(self, context: Context) -> Touches:
        return subject("caption style")


class CorrectCaption(Frozen):
    """Rewrites what the captions say for the words `first` to `last` that are kept."""

    kind: Literal["correct-caption"] = "correct-caption"
    first: int = Field(ge=0)
    last: int = Field(ge=0)
    text: str = Field(max_length=1000)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        first, last = ordered(self.first, self.last, context)
        words = [word for word in kept_words(document, context.talk) if first <= word.index <= last]
        if not words:
            raise EditRefused("Those words are not in the cut, so no caption shows them.")
        fixed = corrected(words, self.text, document.captions.corrections, context.talk)
        return changed(document, captions=document.captions.model_copy(update={"corrections": fixed}))

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Corrected a caption to “{self.text.strip()[:60]}”"

    def touches(self, context: Context) -> Touches:
        return words_of_cut(self.first, self.last)
