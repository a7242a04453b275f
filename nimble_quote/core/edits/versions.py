"""Edits of single versions: which there are, how the picture of each is treated, how fast it plays."""

from typing import Literal

from nimble_quote.core.context import Context
from nimble_quote.core.document import Fraction01, QuoteDocument, Softening, Speed, Version
from nimble_quote.core.edits.changing import (
    EditRefused,
    changed,
    in_version,
    named,
    shape_of,
    treatment_of,
    version_of,
    with_treatment,
    with_version,
)
from nimble_quote.core.edits.touching import CUT, Touches, treated, version_of_cut, version_treated
from nimble_quote.core.model import Frozen


class AddVersion(Frozen):
    """Makes the quote for one more destination, treated as others of its shape."""

    kind: Literal["add-version"] = "add-version"
    destination: str

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        destination = context.catalogue.destination(self.destination)
        if document.version(self.destination):
            raise EditRefused(f"This quote has a version for {destination.name} already.")
        if destination.retired:
            raise EditRefused(f"{destination.name} is offered no more.")
        added = (*document.versions, Version(destination=self.destination))
        versions = tuple(sorted(added, key=lambda one: context.catalogue.position(one.destination)))
        return changed(document, versions=versions)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Added {named(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        return (*CUT, *version_of_cut(self.destination), *version_treated(self.destination))


class RemoveVersion(Frozen):
    """Drops the version for a destination; a quote is always for one at least."""

    kind: Literal["remove-version"] = "remove-version"
    destination: str

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        version_of(document, self.destination)
        if len(document.versions) == 1:
            raise EditRefused("A quote needs one destination at least. Add another before you remove this one.")
        return changed(document, versions=tuple(v for v in document.versions if v.destination != self.destination))

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Removed {named(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        return (*CUT, *version_of_cut(self.destination), *version_treated(self.destination))


class PlaceCaptions(Frozen):
    """Sets the height of the captions in a shape, or in one version that is treated by itself, as a fraction from the top."""

    kind: Literal["place-captions"] = "place-captions"
    destination: str
    height: Fraction01

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        return with_treatment(document, self.destination, context, caption_height=self.height)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Moved the captions of {named(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        return treated(shape_of(self.destination, context), self.destination, ("captions",))


class TreatAlone(Frozen):
    """Treats one version by itself from now on, beginning as its shape is; or as its shape again."""

    kind: Literal["treat-alone"] = "treat-alone"
    destination: str
    alone: bool

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        own = treatment_of(document, self.destination, context) if self.alone else None
        return with_version(document, self.destination, treatment=own)

    def said(self, document: QuoteDocument, context: Context) -> str:
        name = named(self.destination, context)
        return f"Framed {name} by itself" if self.alone else f"Framed {name} as others of its shape"

    def touches(self, context: Context) -> Touches:
        return treated(shape_of(self.destination, context), self.destination)


class SetSpeed(Frozen):
    """Plays one version a little faster or slower than it was said; the pitch is kept."""

    kind: Literal["set-speed"] = "set-speed"
    destination: str
    speed: Speed

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        return with_version(document, self.destination, speed=self.speed)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Set the speed to {self.speed:.2f}{in_version(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        return version_of_cut(self.destination)


class SoftenJoins(Frozen):
    """Chooses how the picture's jumps at joins are eased in one version."""

    kind: Literal["soften-joins"] = "soften-joins"
    destination: str
    soften: Softening

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        return with_version(document, self.destination, soften=self.soften)

    def said(self, document: QuoteDocument, context: Context) -> str:
        if self.soften == "none":
            return f"Let the picture jump at joins{in_version(self.destination, context)}"
        return f"Eased the jumps at joins{in_version(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        return version_of_cut(self.destination)
