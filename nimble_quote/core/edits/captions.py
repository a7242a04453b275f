"""Edits of the captions as a whole, which all versions share: their style and look, their words, their translations."""

from typing import Literal

from pydantic import Field

from nimble_quote.core.captions.replacing import occurrences, replaced
from nimble_quote.core.captions.words import corrected
from nimble_quote.core.context import Context
from nimble_quote.core.cutting.kept import kept_words
from nimble_quote.core.document import (
    CaptionLook,
    Captions,
    LookChanges,
    QuoteDocument,
    TranslatedText,
    Translation,
    TranslationShown,
    checked_changes,
    with_change,
)
from nimble_quote.core.document.looks import LanguageCode
from nimble_quote.core.edits.changing import EditRefused, changed, ordered
from nimble_quote.core.edits.touching import CUT, Touches, subject, words_of_cut
from nimble_quote.core.model import Frozen
from nimble_quote.core.transcript.words import Word


def with_captions(document: QuoteDocument, **fields: object) -> QuoteDocument:
    """The document with some of its captions otherwise. Decisions are kept in an order that does not tell which was made first, so
    that two people's come out the same."""
    captions = Captions.model_validate({**dict(document.captions), **fields})
    ordered_lists = {
        "breaks": tuple(sorted(captions.breaks, key=lambda one: (one.left or 0, one.right or 0, one.kind))),
        "retimed": tuple(sorted(captions.retimed, key=lambda one: (one.word, one.edge))),
        "marked": tuple(sorted(captions.marked, key=lambda one: (one.first, one.last))),
        "emphasised": tuple(sorted(set(captions.emphasised))),
        "translations": tuple(sorted(captions.translations, key=lambda one: one.language)),
    }
    return changed(document, captions=captions.model_copy(update=ordered_lists))


class ChooseCaptionStyle(Frozen):
    """Styles the captions of the whole quote: what was otherwise than the style before is let go."""

    kind: Literal["choose-caption-style"] = "choose-caption-style"
    style: str

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        style = context.catalogue.style(self.style)
        if style.retired:
            raise EditRefused(f"The caption style {style.name} is offered no more.")
        return with_captions(document, style=self.style, held=None, look={})

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Chose the caption style {context.catalogue.style(self.style).name}"

    def touches(self, context: Context) -> Touches:
        return subject("caption style")


class HoldCaptionStyle(Frozen):
    """Has the quote keep its style as it is now, or follow what becomes of it."""

    kind: Literal["hold-caption-style"] = "hold-caption-style"
    held: int | None = Field(ge=1)
    """The version to hold; None follows the newest."""

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        style = context.catalogue.style(document.captions.style, self.held)
        if self.held is not None and style.version != self.held:
            raise EditRefused(f"The caption style {style.name} has no version {self.held}.")
        return with_captions(document, held=self.held)

    def said(self, document: QuoteDocument, context: Context) -> str:
        name = context.catalogue.style(document.captions.style).name
        return f"Holds version {self.held} of {name}" if self.held else f"Follows {name} again"

    def touches(self, context: Context) -> Touches:
        return subject("caption style")


class ChangeCaptionLook(Frozen):
    """Has the captions of this quote look otherwise than their style says; what is to be reset is as it says again."""

    kind: Literal["change-caption-look"] = "change-caption-look"
    look: LookChanges = Field(default_factory=dict, max_length=40)
    reset: tuple[str, ...] = Field(default=(), max_length=40)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        style = context.catalogue.style(document.captions.style, document.captions.held)
        own = {field: value for field, value in document.captions.look.items() if field not in self.reset}
        wanted = with_change(own, self.look, style.look)
        return with_captions(document, look=look_changes(wanted, style.look, context))

    def said(self, document: QuoteDocument, context: Context) -> str:
        return "Changed the look of the captions" if self.look else "Reset the look of the captions"

    def touches(self, context: Context) -> Touches:
        return subject("caption style")


def look_changes(wanted: LookChanges, look: CaptionLook, context: Context) -> LookChanges:
    """Changes of a look that are possible. Raises `EditRefused`."""
    try:
        found = checked_changes(wanted, look)
    except ValueError as impossible:
        first = str(impossible).splitlines()
        raise EditRefused(f"Captions can't look like that: {' '.join(first[1:3] or first)}.") from impossible
    if "face" in found and not context.catalogue.has_face(str(found["face"])):
        raise EditRefused(f"There is no face called “{found['face']}”.")
    return found


class ShowCaptions(Frozen):
    """Burns captions in, or leaves them out."""

    kind: Literal["show-captions"] = "show-captions"
    shown: bool

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        return with_captions(document, shown=self.shown)

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
        words = words_between(document, self.first, self.last, context)
        fixed = corrected(words, shown_only(self.text), document.captions.corrections, context.talk)
        return with_captions(document, corrections=fixed)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Corrected a caption to “{self.text.strip()[:60]}”"

    def touches(self, context: Context) -> Touches:
        return words_of_cut(self.first, self.last)


class ReplaceInCaptions(Frozen):
    """Replaces a text wherever the captions of this quote say it, or only at some of the words at which it begins."""

    kind: Literal["replace-in-captions"] = "replace-in-captions"
    find: str = Field(min_length=1, max_length=200)
    to: str = Field(max_length=200)
    at: tuple[int, ...] | None = Field(default=None, max_length=2000)
    match_case: bool = False

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        words = kept_words(document, context.talk)
        found = occurrences(words, document.captions.corrections, self.find, match_case=self.match_case)
        chosen = [one for one in found if self.at is None or one.first in self.at]
        if not chosen:
            raise EditRefused(f"The captions say “{self.find.strip()}” nowhere.")
        fixed = replaced(words, document.captions.corrections, chosen, shown_only(self.to), context.talk)
        return with_captions(document, corrections=fixed)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Replaced “{self.find.strip()[:40]}” with “{self.to.strip()[:40]}” in the captions"

    def touches(self, context: Context) -> Touches:
        return CUT


class TranslateCaption(Frozen):
    """Says what some words are in another language; nothing takes it away again."""

    kind: Literal["translate-caption"] = "translate-caption"
    language: LanguageCode
    first: int = Field(ge=0)
    last: int = Field(ge=0)
    text: str = Field(max_length=1000)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        words = words_between(document, self.first, self.last, context)
        return with_translated(document, self.language, [(words, self.text)], context)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Translated a caption: “{self.text.strip()[:60]}”"

    def touches(self, context: Context) -> Touches:
        return (*subject(f"translation {self.language}"), *words_of_cut(self.first, self.last))


class TranslatedWords(Frozen):
    """What words `first` to `last` say in another language."""

    first: int = Field(ge=0)
    last: int = Field(ge=0)
    text: str = Field(max_length=1000)


class TakeTranslation(Frozen):
    """Takes a whole translation, as it was read from a file: it stands instead of what was there in that language."""

    kind: Literal["take-translation"] = "take-translation"
    language: LanguageCode
    texts: tuple[TranslatedWords, ...] = Field(max_length=4000)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        others = tuple(one for one in document.captions.translations if one.language != self.language)
        told = [(words_between(document, one.first, one.last, context), one.text) for one in self.texts]
        return with_translated(with_captions(document, translations=others), self.language, told, context)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Brought in a translation ({self.language})"

    def touches(self, context: Context) -> Touches:
        return (*subject(f"translation {self.language}"), *CUT)


class ShowTranslation(Frozen):
    """Burns a translation in, below the words or instead of them, or none."""

    kind: Literal["show-translation"] = "show-translation"
    language: LanguageCode | None = None
    shown: TranslationShown

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        known = [one.language for one in document.captions.translations]
        if self.shown != "none" and self.language not in known:
            raise EditRefused("Translate a caption into that language first.")
        return with_captions(document, translation=self.language, translation_shown=self.shown)

    def said(self, document: QuoteDocument, context: Context) -> str:
        if self.shown == "none":
            return "Burned no translation in"
        return f"Burned the translation in ({self.language}), {'below' if self.shown == 'below' else 'instead'}"

    def touches(self, context: Context) -> Touches:
        return subject("caption style")


def words_between(document: QuoteDocument, first: int, last: int, context: Context) -> list[Word]:
    """The words that are kept between two, both included. Raises `EditRefused` where there are none."""
    low, high = ordered(first, last, context)
    words = [word for word in kept_words(document, context.talk) if low <= word.index <= high]
    if not words:
        raise EditRefused("Those words are not in the cut, so no caption shows them.")
    return words


def with_translated(
    document: QuoteDocument, language: str, told: list[tuple[list[Word], str]], context: Context
) -> QuoteDocument:
    """The document with what some words say in a language; an empty text takes away what they said."""
    captions = document.captions
    before = next((one for one in captions.translations if one.language == language), Translation(language=language))
    texts = list(before.texts)
    for words, text in told:
        covered = {word.ref for word in words}
        texts = [one for one in texts if one.first not in covered]
        if shown_only(text):
            texts.append(TranslatedText(first=words[0].ref, last=words[-1].ref, text=shown_only(text)))
    others = [one for one in captions.translations if one.language != language]
    kept = (
        [*others, Translation(language=language, texts=tuple(sorted(texts, key=lambda one: one.first)))]
        if texts
        else others
    )
    fields: dict[str, object] = {"translations": tuple(kept), "translation": captions.translation or language}
    if not texts and captions.translation == language:
        fields |= {"translation": None, "translation_shown": "none"}
    return with_captions(document, **fields)


def shown_only(text: str) -> str:
    """A text without what shows nothing: control characters go, runs of spaces are one."""
    return " ".join("".join(one if one.isprintable() or one in _JOINERS else " " for one in text).split())


_JOINERS = "\u200c\u200d\u200e\u200f"
"""Characters that show nothing by themselves and shape or order what is beside them."""
