"""Edits of single versions: which there are, how each is framed, how fast it plays."""

from typing import Literal

from nimble_quote.core.cutting.kept import kept_spans
from nimble_quote.core.destinations import BUILT_IN
from nimble_quote.core.edits.changing import (
    EditRefused,
    changed,
    first_version,
    in_version,
    named,
    version_of,
    with_version,
)
from nimble_quote.core.framing.placement import first_framing, speakers_face
from nimble_quote.core.model import Frozen
from nimble_quote.core.quote import Fraction01, FramingChange, QuoteDocument, Softening, Speed
from nimble_quote.core.talk import Talk


class AddVersion(Frozen):
    """Makes the quote for one more destination, first framed on the speaker's face."""

    kind: Literal["add-version"] = "add-version"
    destination: str

    def applied(self, document: QuoteDocument, talk: Talk) -> QuoteDocument:
        if self.destination not in BUILT_IN:
            raise EditRefused(f"There is no destination called “{self.destination}”.")
        if document.version(self.destination):
            raise EditRefused(f"This quote has a version for {BUILT_IN[self.destination].name} already.")
        added = (*document.versions, first_version(self.destination, talk, kept_spans(document)))
        order = list(BUILT_IN)
        return changed(document, versions=tuple(sorted(added, key=lambda v: order.index(v.destination))))

    def said(self, document: QuoteDocument, talk: Talk) -> str:
        return f"Added {named(self.destination)}"


class RemoveVersion(Frozen):
    """Drops the version for a destination; a quote is always for one at least."""

    kind: Literal["remove-version"] = "remove-version"
    destination: str

    def applied(self, document: QuoteDocument, talk: Talk) -> QuoteDocument:
        version_of(document, self.destination)
        if len(document.versions) == 1:
            raise EditRefused("A quote needs one destination at least. Add another before you remove this one.")
        return changed(document, versions=tuple(v for v in document.versions if v.destination != self.destination))

    def said(self, document: QuoteDocument, talk: Talk) -> str:
        return f"Removed {named(self.destination)}"


class FrameSpeaker(Frozen):
    """Puts one version's window on the speaker's face again, at the widest."""

    kind: Literal["frame-speaker"] = "frame-speaker"
    destination: str

    def applied(self, document: QuoteDocument, talk: Talk) -> QuoteDocument:
        version = version_of(document, self.destination)
        face = speakers_face(talk.faces, kept_spans(document))
        if face is None:
            raise EditRefused("No face was found in this part of the recording. Place the picture by hand.")
        placed = first_framing(face)
        framing = version.framing.model_copy(update={"layout": "fill", "x": placed.x, "y": placed.y, "zoom": 1.0})
        return with_version(document, self.destination, framing=framing)

    def said(self, document: QuoteDocument, talk: Talk) -> str:
        return f"Put {named(self.destination)} on the speaker"


class SetFraming(Frozen):
    """Places the picture of one version. Only what is told of the framing is changed, so that two changes that were made
    on the same view never undo each other."""

    kind: Literal["set-framing"] = "set-framing"
    destination: str
    framing: FramingChange

    def applied(self, document: QuoteDocument, talk: Talk) -> QuoteDocument:
        told = self.framing.model_dump(exclude_none=True)
        framing = version_of(document, self.destination).framing.model_copy(update=told)
        return with_version(document, self.destination, framing=framing)

    def said(self, document: QuoteDocument, talk: Talk) -> str:
        return f"Framed {named(self.destination)}"


class PlaceCaptions(Frozen):
    """Sets the height of the captions in one version, as a fraction from the top."""

    kind: Literal["place-captions"] = "place-captions"
    destination: str
    height: Fraction01

    def applied(self, document: QuoteDocument, talk: Talk) -> QuoteDocument:
        return with_version(document, self.destination, caption_height=self.height)

    def said(self, document: QuoteDocument, talk: Talk) -> str:
        return f"Moved the captions of {named(self.destination)}"


class SetSpeed(Frozen):
    """Plays one version a little faster or slower than it was said; the pitch is kept."""

    kind: Literal["set-speed"] = "set-speed"
    destination: str
    speed: Speed

    def applied(self, document: QuoteDocument, talk: Talk) -> QuoteDocument:
        return with_version(document, self.destination, speed=self.speed)

    def said(self, document: QuoteDocument, talk: Talk) -> str:
        return f"Set the speed to {self.speed:.2f}{in_version(self.destination)}"


class SoftenJoins(Frozen):
    """Chooses how the picture's jumps at joins are eased in one version."""

    kind: Literal["soften-joins"] = "soften-joins"
    destination: str
    soften: Softening

    def applied(self, document: QuoteDocument, talk: Talk) -> QuoteDocument:
        return with_version(document, self.destination, soften=self.soften)

    def said(self, document: QuoteDocument, talk: Talk) -> str:
        if self.soften == "none":
            return f"Let the picture jump at joins{in_version(self.destination)}"
        return f"Eased the jumps at joins{in_version(self.destination)}"
