"""Edits of single versions: which there are, how the picture of each is treated, how fast it plays."""

from typing import Literal

from nimble_quote.core.context import Context
from nimble_quote.core.cutting.kept import kept_spans
from nimble_quote.core.document import (
    Backdrop,
    Colour,
    Fraction01,
    Framing,
    Hold,
    QuoteDocument,
    Single,
    Softening,
    Speed,
    Version,
    View,
    Whole,
    Zoom,
)
from nimble_quote.core.edits.changing import (
    EditRefused,
    changed,
    in_version,
    named,
    shape_of,
    treatment_of,
    version_of,
    with_first_treatment,
    with_treatment,
    with_version,
)
from nimble_quote.core.edits.touching import CUT, Touches, treated, version_of_cut
from nimble_quote.core.framing.placement import speakers_face, speakers_view
from nimble_quote.core.framing.views import view_of
from nimble_quote.core.model import Frozen


class AddVersion(Frozen):
    """Makes the quote for one more destination, treated as others of its shape; the first of a shape is framed on the
    speaker's face."""

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
        return with_first_treatment(changed(document, versions=versions), self.destination, context)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Added {named(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        shape = shape_of(self.destination, context)
        return (*CUT, *version_of_cut(self.destination), *treated(shape, self.destination))


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
        shape = shape_of(self.destination, context)
        return (*CUT, *version_of_cut(self.destination), *treated(shape, self.destination))


class FrameSpeaker(Frozen):
    """Puts the window of a shape, or of one version that is treated by itself, on the speaker's face again, at the widest."""

    kind: Literal["frame-speaker"] = "frame-speaker"
    destination: str

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        version_of(document, self.destination)
        face = speakers_face(context.sight.faces, kept_spans(document))
        if face is None:
            raise EditRefused("No face was found in this part of the recording. Place the picture by hand.")
        framing = treatment_of(document, self.destination, context).framing
        on_face = framing.model_copy(update={"usual": Single(camera=Hold(at=speakers_view(face)))})
        return with_treatment(document, self.destination, context, framing=on_face)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Centred {named(self.destination, context)} on the speaker"

    def touches(self, context: Context) -> Touches:
        return treated(shape_of(self.destination, context), self.destination, ("layout", "place", "zoom"))


class FramingChange(Frozen):
    """What of a framing is to change; what is not told stays as it is."""

    layout: Literal["fill", "fit"] | None = None
    x: Fraction01 | None = None
    y: Fraction01 | None = None
    zoom: Zoom | None = None
    backdrop: Backdrop | None = None
    colour: Colour | None = None

    def made(self, framing: Framing) -> Framing:
        """A framing with the change."""
        behind = self.model_dump(include={"backdrop", "colour"}, exclude_none=True)
        told = self.model_dump(include={"x", "y", "zoom"}, exclude_none=True)
        usual = framing.usual
        if told or self.layout is not None:
            view = View.model_validate({**dict(view_of(usual)), **told})
            whole = usual.kind == "whole" if self.layout is None else self.layout == "fit"
            usual = Whole(at=view) if whole else Single(camera=Hold(at=view))
        return framing.model_copy(update={**behind, "usual": usual})

    @property
    def fields(self) -> tuple[str, ...]:
        """What of a treatment it changes."""
        of = {"layout": "layout", "x": "place", "y": "place", "zoom": "zoom", "backdrop": "behind", "colour": "behind"}
        return tuple(dict.fromkeys(of[name] for name in self.model_dump(exclude_none=True)))


class SetFraming(Frozen):
    """Places the picture of a shape, or of one version that is treated by itself. Only what is told of the framing is
    changed, so that two changes that were made on the same view never undo each other."""

    kind: Literal["set-framing"] = "set-framing"
    destination: str
    framing: FramingChange

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        framing = treatment_of(document, self.destination, context).framing
        return with_treatment(document, self.destination, context, framing=self.framing.made(framing))

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Framed {named(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        return treated(shape_of(self.destination, context), self.destination, self.framing.fields)


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
