"""Edits of what stands over the picture: each thing is named by its number in the quote, and stands at words or at the clip."""

from typing import Literal

from pydantic import Field

from nimble_quote.core.assembly.overlays.texts import look_of_text
from nimble_quote.core.captions.placing import look_of
from nimble_quote.core.context import Context
from nimble_quote.core.document import (
    At,
    Cover,
    EndCard,
    Lines,
    Music,
    NameStrap,
    Overlay,
    QuoteDocument,
    Shape,
    TimeLeft,
    TitleLines,
    What,
    When,
    Wish,
)
from nimble_quote.core.document.overlays import ALONE, FROM_FINISH, MOST_OVERLAYS, free_number
from nimble_quote.core.edits.captions import look_changes
from nimble_quote.core.edits.changing import EditRefused, Index, changed, ordered
from nimble_quote.core.edits.touching import Touch, Touches, subject
from nimble_quote.core.finishes import pictures_in
from nimble_quote.core.model import Frozen

NAMES = {
    "lines": "text", "title": "title", "name-strap": "name strap", "time-left": "time left", "progress": "progress line",
    "sound-wave": "sound wave", "logo": "logo", "insert": "picture", "mark": "mark",
    "end-card": "end card", "cover": "cover", "music": "music", "speaking-sound": "speaking sound",
}  # fmt: skip
"""What each kind is called in the history."""


class Shows(Frozen):
    """When something shows, as a person says it: words by their indexes."""

    kind: Literal["whole", "start", "end", "words"] = "whole"
    offset_ms: int = Field(default=0, ge=0, le=600_000)
    length_ms: int | None = Field(default=None, ge=100, le=600_000)
    first: Index | None = None
    last: Index | None = None

    def kept(self, context: Context) -> When:
        """When it shows, with words named for good. Raises `EditRefused` where words are missing, or not wanted."""
        if (self.kind == "words") != (self.first is not None and self.last is not None):
            raise EditRefused("Select the words that it is to show with.")
        refs: dict[str, int] = {}
        if self.first is not None and self.last is not None:
            low, high = ordered(self.first, self.last, context)
            refs = {"first": context.talk.word(low).ref, "last": context.talk.word(high).ref}
        return When(kind=self.kind, offset_ms=self.offset_ms, length_ms=self.length_ms, **refs)


class AddOverlay(Frozen):
    """Puts something over the picture."""

    kind: Literal["add-overlay"] = "add-overlay"
    what: What
    shows: Shows = Shows()
    wish: Wish | None = None

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        if len(document.overlays) >= MOST_OVERLAYS:
            raise EditRefused(f"A quote has {MOST_OVERLAYS} items over its picture at most. Remove one first.")
        if self.what.kind in ALONE and context.catalogue.alone(document, self.what.kind):
            raise EditRefused(
                f"This clip already has its {NAMES[self.what.kind]}. Change that one, or remove it first."
            )
        number = free_number(document.overlays)
        what = _checked(self.what, document, context)
        made = Overlay(id=number, when=self.shows.kept(context), what=what, wish=self.wish)
        return changed(document, overlays=(*document.overlays, made))

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Added {_called(self.what)}"

    def touches(self, context: Context) -> Touches:
        return subject("overlay order")


class _OfOne(Frozen):
    """What edits of one overlay have in common."""

    id: int = Field(ge=1)

    def touches(self, context: Context) -> Touches:
        # Numbers beside one another have nothing to do with each other, as words would.
        return (Touch(subject="overlays", first=2 * self.id, last=2 * self.id),)

    def _with(self, document: QuoteDocument, context: Context, **fields: object) -> QuoteDocument:
        """The document with it otherwise. What came from the finish is from then on the quote's."""
        made = Overlay.model_validate({**dict(_one(document, self.id, context)), **fields})
        own = tuple(made if one.id == self.id else one for one in document.overlays)
        return changed(document, overlays=own if made in own else (*own, made))


class ChangeOverlay(_OfOne):
    """Says anew what something is: its text, its look, its colours. It stays of its kind."""

    kind: Literal["change-overlay"] = "change-overlay"
    what: What

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        if _one(document, self.id, context).what.kind != self.what.kind:
            raise EditRefused(f"This is no {NAMES[self.what.kind]}. Remove it, and add one.")
        return self._with(document, context, what=_checked(self.what, document, context))

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Changed {_called(self.what)}"


class TimeOverlay(_OfOne):
    """Has something show at another time."""

    kind: Literal["time-overlay"] = "time-overlay"
    shows: Shows

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        return self._with(document, context, when=self.shows.kept(context))

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Timed {_called(_one(document, self.id, context).what)}"


class PlaceOverlay(_OfOne):
    """Says where something should stand in all shapes, or puts it somewhere in one; without a place it is found again."""

    kind: Literal["place-overlay"] = "place-overlay"
    shape: Shape | None = None
    at: At | None = None
    wish: Wish | None = None

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        one = _one(document, self.id, context)
        if self.shape is None:
            # A wish is for every shape: what was put by hand before gives way to it.
            return self._with(document, context, wish=self.wish, placed={})
        others = {shape: at for shape, at in one.placed.items() if shape != self.shape}
        return self._with(document, context, placed=others if self.at is None else {**others, self.shape: self.at})

    def said(self, document: QuoteDocument, context: Context) -> str:
        where = f" in {self.shape}" if self.shape else ""
        return f"Placed {_called(_one(document, self.id, context).what)}{where}"


class HideOverlay(_OfOne):
    """Leaves something out, or shows it again."""

    kind: Literal["hide-overlay"] = "hide-overlay"
    hidden: bool

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        return self._with(document, context, hidden=self.hidden)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"{'Hid' if self.hidden else 'Showed'} {_called(_one(document, self.id, context).what)}"


class OrderOverlay(_OfOne):
    """Has something stand in front of, or behind, others: `to` is its place among the quote's own, 0 the furthest behind."""

    kind: Literal["order-overlay"] = "order-overlay"
    to: int = Field(ge=0, le=MOST_OVERLAYS)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        one = _one(document, self.id, context)
        if one.id > FROM_FINISH:
            raise EditRefused("The finish says what of it stands in front.")
        # What the quote has otherwise than its finish stands where the finish has it.
        otherwise = [other for other in document.overlays if other.id > FROM_FINISH]
        own = [other for other in document.overlays if other.id < FROM_FINISH and other.id != self.id]
        own.insert(min(self.to, len(own)), one)
        return changed(document, overlays=(*otherwise, *own))

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Reordered {_called(_one(document, self.id, context).what)}"

    def touches(self, context: Context) -> Touches:
        return subject("overlay order") + super().touches(context)


class RemoveOverlay(_OfOne):
    """Takes something off the picture."""

    kind: Literal["remove-overlay"] = "remove-overlay"

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        if _one(document, self.id, context).id > FROM_FINISH:
            return self._with(document, context, hidden=True)
        return changed(document, overlays=tuple(one for one in document.overlays if one.id != self.id))

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Removed {_called(_one(document, self.id, context).what)}"

    def touches(self, context: Context) -> Touches:
        return subject("overlay order") + super().touches(context)


class ResetOverlay(_OfOne):
    """Has something be as the finish says again."""

    kind: Literal["reset-overlay"] = "reset-overlay"

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        if _one(document, self.id, context).id <= FROM_FINISH:
            raise EditRefused("This is of no finish.")
        return changed(document, overlays=tuple(one for one in document.overlays if one.id != self.id))

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Reset {_called(_one(document, self.id, context).what)}"


class ChooseFinish(Frozen):
    """Has the quote follow a finish of the house, or none. What it had otherwise than another finish is let go; `instead` lets go
    as well of all it has of its own that stands at the clip, where the finish was made of that."""

    kind: Literal["choose-finish"] = "choose-finish"
    finish: str | None
    instead: bool = False

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        if self.finish is not None and context.catalogue.finish(self.finish).retired:
            raise EditRefused(f"The finish {context.catalogue.finish(self.finish).name} is offered no more.")
        own = (
            one
            for one in document.overlays
            if one.id < FROM_FINISH and not (self.instead and one.when.kind != "words" and not one.hidden)
        )
        return changed(document, finish=self.finish, finish_held=None, overlays=tuple(own))

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Chose the finish {context.catalogue.finish(self.finish).name}" if self.finish else "Chose no finish"

    def touches(self, context: Context) -> Touches:
        return subject("finish") + subject("overlays") + subject("overlay order")


class HoldFinish(Frozen):
    """Has the quote keep its finish as it is, or follow what becomes of it."""

    kind: Literal["hold-finish"] = "hold-finish"
    held: int | None = Field(ge=1)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        if document.finish is None:
            raise EditRefused("This quote follows no finish.")
        finish = context.catalogue.finish(document.finish, self.held)
        if self.held is not None and finish.version != self.held:
            raise EditRefused(f"The finish {finish.name} has no version {self.held}.")
        return changed(document, finish_held=self.held)

    def said(self, document: QuoteDocument, context: Context) -> str:
        name = context.catalogue.finish(document.finish).name if document.finish else "the finish"
        return f"Holds version {self.held} of {name}" if self.held else f"Follows {name} again"

    def touches(self, context: Context) -> Touches:
        return subject("finish") + subject("overlays")


def _one(document: QuoteDocument, number: int, context: Context) -> Overlay:
    found = next((one for one in context.catalogue.overlays(document) if one.id == number), None)
    if found is None:
        raise EditRefused("That is no longer over the picture.")
    return found


def _checked(what: What, document: QuoteDocument, context: Context) -> What:
    """What is to stand over the picture, as it is kept. Raises `EditRefused` where it can't be like that."""
    for number in pictures_in(what):
        context.catalogue.picture(number)
    if isinstance(what, Music):
        context.catalogue.sound(what.sound)
    if isinstance(what, Lines | TitleLines | NameStrap | TimeLeft | EndCard | Cover):
        plain = what.model_copy(update={"look": {}}) if not isinstance(what, EndCard | Cover) else TitleLines(text="…")
        look = look_changes(what.look, look_of_text(plain, look_of(document, context.catalogue)), context)
        return what.model_copy(update={"look": look})
    return what


def _called(what: What) -> str:
    """What something is called: by its text, where it has one."""
    text = getattr(what, "text", "") or getattr(what, "name", "")
    name = f"the {NAMES[what.kind]}"
    if not text:
        return name
    return f"{name} “{text if len(text) <= 40 else f'{text[:39]}…'}”"
