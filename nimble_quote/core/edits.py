"""Every change a person can make to a quote, as a command: `(document, edit, talk) -> document`.

To add one: a class with a new `kind` here, listed in `Edit`, with `applied` (the new document; raise `EditRefused`
where it makes no sense) and `said` (what the history calls it). Everything else follows: storing, undo, the API.
"""

from collections.abc import Callable, Sequence
from typing import Annotated, Literal, TypeVar

from pydantic import Field

from nimble_quote.core.captions.styles import STYLES
from nimble_quote.core.captions.words import corrected
from nimble_quote.core.cutting.edges import around_words, cut_after, cut_before, instead_of_words
from nimble_quote.core.cutting.kept import kept_spans, kept_words, text_of
from nimble_quote.core.destinations import BUILT_IN
from nimble_quote.core.framing.placement import first_framing, speakers_face
from nimble_quote.core.model import Frozen
from nimble_quote.core.quote import Fraction01, Framing, QuoteDocument, Title, Version
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span, merged, without
from nimble_quote.core.transcript.words import WordMissing

SHORTEST_MS = 200
"""The shortest a quote may be: below this there is no word left in it."""

_TALL = sorted((d for d in BUILT_IN.values() if d.height > 1.5 * d.width), key=lambda d: d.limit_ms)

Edge = Literal["in", "out"]
T = TypeVar("T")


class EditRefused(ValueError):
    """A change that makes no sense on this document; the message says why, for the person who asked for it."""


class RenameQuote(Frozen):
    """Gives the quote another title."""

    kind: Literal["rename"] = "rename"
    title: Title

    def applied(self, document: QuoteDocument, talk: Talk) -> QuoteDocument:
        return _changed(document, title=self.title)

    def said(self, document: QuoteDocument, talk: Talk) -> str:
        return f"Renamed to “{self.title}”"


class MoveEdgeToWord(Frozen):
    """Starts the quote with a word, or ends it with one."""

    kind: Literal["move-edge-to-word"] = "move-edge-to-word"
    edge: Edge
    word: int = Field(ge=0)

    def applied(self, document: QuoteDocument, talk: Talk) -> QuoteDocument:
        to_ms = cut_before(talk, self.word) if self.edge == "in" else cut_after(talk, self.word)
        return _with_edge(document, self.edge, to_ms, talk)

    def said(self, document: QuoteDocument, talk: Talk) -> str:
        return f"Moved the {self.edge} point to “{talk.word(self.word).text}”"


class NudgeEdge(Frozen):
    """Moves an edge of the quote by a few milliseconds, later (positive) or earlier."""

    kind: Literal["nudge-edge"] = "nudge-edge"
    edge: Edge
    by_ms: int = Field(ge=-10_000, le=10_000)

    def applied(self, document: QuoteDocument, talk: Talk) -> QuoteDocument:
        at = document.span.start_ms if self.edge == "in" else document.span.end_ms
        return _with_edge(document, self.edge, at + self.by_ms, talk)

    def said(self, document: QuoteDocument, talk: Talk) -> str:
        return f"Nudged the {self.edge} point {abs(self.by_ms)} ms {'later' if self.by_ms > 0 else 'earlier'}"


class StrikeWords(Frozen):
    """Leaves words out of the cut; they stay on the page, struck."""

    kind: Literal["strike-words"] = "strike-words"
    first: int = Field(ge=0)
    last: int = Field(ge=0)

    def applied(self, document: QuoteDocument, talk: Talk) -> QuoteDocument:
        hole = _inside(document, instead_of_words(talk, *_ordered(self.first, self.last, talk)))
        struck = merged((*document.struck, hole))
        left = without(document.span, struck)
        if not any(talk.between(s.start_ms, s.end_ms) for s in left):
            raise EditRefused("That would strike every word of the quote. Keep at least one.")
        return _changed(document, struck=struck)

    def said(self, document: QuoteDocument, talk: Talk) -> str:
        return f"Struck “{_words_said(talk, self.first, self.last)}”"


class RestoreWords(Frozen):
    """Puts struck words back."""

    kind: Literal["restore-words"] = "restore-words"
    first: int = Field(ge=0)
    last: int = Field(ge=0)

    def applied(self, document: QuoteDocument, talk: Talk) -> QuoteDocument:
        back = instead_of_words(talk, *_ordered(self.first, self.last, talk))
        struck = tuple(piece for hole in document.struck for piece in without(hole, (back,)))
        return _changed(document, struck=tuple(s for s in struck if talk.between(s.start_ms, s.end_ms)))

    def said(self, document: QuoteDocument, talk: Talk) -> str:
        return f"Put back “{_words_said(talk, self.first, self.last)}”"


class AddVersion(Frozen):
    """Makes the quote for one more destination, first framed on the speaker's face."""

    kind: Literal["add-version"] = "add-version"
    destination: str

    def applied(self, document: QuoteDocument, talk: Talk) -> QuoteDocument:
        if self.destination not in BUILT_IN:
            raise EditRefused(f"There is no destination called “{self.destination}”.")
        if document.version(self.destination):
            raise EditRefused(f"This quote has a version for {BUILT_IN[self.destination].name} already.")
        added = (*document.versions, _first_version(self.destination, talk, kept_spans(document)))
        order = list(BUILT_IN)
        return _changed(document, versions=tuple(sorted(added, key=lambda v: order.index(v.destination))))

    def said(self, document: QuoteDocument, talk: Talk) -> str:
        return f"Added {_named(self.destination)}"


class RemoveVersion(Frozen):
    """Drops the version for a destination; a quote is always for one at least."""

    kind: Literal["remove-version"] = "remove-version"
    destination: str

    def applied(self, document: QuoteDocument, talk: Talk) -> QuoteDocument:
        _version(document, self.destination)
        if len(document.versions) == 1:
            raise EditRefused("A quote needs one destination at least. Add another before you remove this one.")
        return _changed(document, versions=tuple(v for v in document.versions if v.destination != self.destination))

    def said(self, document: QuoteDocument, talk: Talk) -> str:
        return f"Removed {_named(self.destination)}"


class FrameSpeaker(Frozen):
    """Puts one version's window on the speaker's face again, at the widest."""

    kind: Literal["frame-speaker"] = "frame-speaker"
    destination: str

    def applied(self, document: QuoteDocument, talk: Talk) -> QuoteDocument:
        version = _version(document, self.destination)
        face = speakers_face(talk.faces, kept_spans(document))
        if face is None:
            raise EditRefused("No face was found in this part of the recording. Place the picture by hand.")
        placed = first_framing(face)
        framing = version.framing.model_copy(update={"layout": "fill", "x": placed.x, "y": placed.y, "zoom": 1.0})
        return _with_version(document, self.destination, framing=framing)

    def said(self, document: QuoteDocument, talk: Talk) -> str:
        return f"Put {_named(self.destination)} on the speaker"


class SetFraming(Frozen):
    """Places the picture of one version."""

    kind: Literal["set-framing"] = "set-framing"
    destination: str
    framing: Framing

    def applied(self, document: QuoteDocument, talk: Talk) -> QuoteDocument:
        return _with_version(document, self.destination, framing=self.framing)

    def said(self, document: QuoteDocument, talk: Talk) -> str:
        return f"Framed {_named(self.destination)}"


class PlaceCaptions(Frozen):
    """Sets the height of the captions in one version, as a fraction from the top."""

    kind: Literal["place-captions"] = "place-captions"
    destination: str
    height: Fraction01

    def applied(self, document: QuoteDocument, talk: Talk) -> QuoteDocument:
        return _with_version(document, self.destination, caption_height=self.height)

    def said(self, document: QuoteDocument, talk: Talk) -> str:
        return f"Moved the captions of {_named(self.destination)}"


class ChooseCaptionStyle(Frozen):
    """Styles the captions of the whole quote."""

    kind: Literal["choose-caption-style"] = "choose-caption-style"
    style: str

    def applied(self, document: QuoteDocument, talk: Talk) -> QuoteDocument:
        if self.style not in STYLES:
            raise EditRefused(f"There is no caption style called “{self.style}”.")
        captions = document.captions.model_copy(update={"style": self.style})
        return _changed(document, captions=captions)

    def said(self, document: QuoteDocument, talk: Talk) -> str:
        return f"Chose the caption style {STYLES[self.style].name}"


class ShowCaptions(Frozen):
    """Burns captions in, or leaves them out."""

    kind: Literal["show-captions"] = "show-captions"
    shown: bool

    def applied(self, document: QuoteDocument, talk: Talk) -> QuoteDocument:
        return _changed(document, captions=document.captions.model_copy(update={"shown": self.shown}))

    def said(self, document: QuoteDocument, talk: Talk) -> str:
        return "Showed the captions" if self.shown else "Hid the captions"


class CorrectCaption(Frozen):
    """Rewrites what the captions say for the words `first` to `last` that are kept."""

    kind: Literal["correct-caption"] = "correct-caption"
    first: int = Field(ge=0)
    last: int = Field(ge=0)
    text: str = Field(max_length=1000)

    def applied(self, document: QuoteDocument, talk: Talk) -> QuoteDocument:
        first, last = _ordered(self.first, self.last, talk)
        words = [word for word in kept_words(document, talk) if first <= word.index <= last]
        if not words:
            raise EditRefused("Those words are not in the cut, so no caption shows them.")
        fixed = corrected(words, self.text, document.captions.corrections)
        return _changed(document, captions=document.captions.model_copy(update={"corrections": fixed}))

    def said(self, document: QuoteDocument, talk: Talk) -> str:
        return f"Corrected a caption to “{self.text.strip()[:60]}”"


Edit = Annotated[
    RenameQuote
    | MoveEdgeToWord
    | NudgeEdge
    | StrikeWords
    | RestoreWords
    | AddVersion
    | RemoveVersion
    | FrameSpeaker
    | SetFraming
    | PlaceCaptions
    | ChooseCaptionStyle
    | ShowCaptions
    | CorrectCaption,
    Field(discriminator="kind"),
]


def apply_edit(document: QuoteDocument, edit: Edit, talk: Talk) -> QuoteDocument:
    """The document after an edit. Raises `EditRefused` where it makes no sense or names a word there is not."""
    return _or_refused(lambda: edit.applied(document, talk))


def describe_edit(document: QuoteDocument, edit: Edit, talk: Talk) -> str:
    """What the history calls an edit made on this document: 'Struck “you know”'."""
    return _or_refused(lambda: edit.said(document, talk))


def new_quote(talk: Talk, first: int, last: int) -> QuoteDocument:
    """The quote that keeps words `first` to `last`, titled with how it opens, for the first tall place it fits."""
    span = _or_refused(lambda: around_words(talk, *_ordered(first, last, talk)))
    words = talk.between(span.start_ms, span.end_ms)
    fitting = (d for d in _TALL if d.limit_ms >= span.length_ms)
    destination = next(fitting, _TALL[-1])
    return QuoteDocument(
        title=text_of(words, most=48) or "Untitled",
        span=span,
        versions=(_first_version(destination.id, talk, (span,)),),
    )


def _first_version(destination: str, talk: Talk, spans: Sequence[Span]) -> Version:
    return Version(destination=destination, framing=first_framing(speakers_face(talk.faces, spans)))


def _or_refused(step: Callable[[], T]) -> T:
    try:
        return step()
    except WordMissing as missing:
        raise EditRefused(f"{str(missing).capitalize()} near this quote.") from missing


def _changed(document: QuoteDocument, **fields: object) -> QuoteDocument:
    """A validated copy: `model_copy` alone would let a broken document through."""
    return QuoteDocument.model_validate({**dict(document), **fields})


def _with_edge(document: QuoteDocument, edge: Edge, to_ms: int, talk: Talk) -> QuoteDocument:
    start, end = document.span.start_ms, document.span.end_ms
    start, end = (to_ms, end) if edge == "in" else (start, to_ms)
    start, end = max(0, start), min(end, talk.duration_ms)
    if end - start < SHORTEST_MS:
        raise EditRefused("The in point must stay before the out point.")
    span = Span(start_ms=start, end_ms=end)
    left = without(span, document.struck)
    if not left:
        raise EditRefused("Nothing would be left of the quote: all of it there is struck.")
    return _changed(document, span=span, struck=without(span, left))


def _with_version(document: QuoteDocument, destination: str, **fields: object) -> QuoteDocument:
    changed = _version(document, destination).model_copy(update=fields)
    versions = tuple(changed if v.destination == destination else v for v in document.versions)
    return _changed(document, versions=versions)


def _version(document: QuoteDocument, destination: str) -> Version:
    version = document.version(destination)
    if version is None:
        raise EditRefused(f"This quote has no version for {_named(destination)}.")
    return version


def _inside(document: QuoteDocument, hole: Span) -> Span:
    start = max(hole.start_ms, document.span.start_ms)
    end = min(hole.end_ms, document.span.end_ms)
    if end <= start:
        raise EditRefused("Those words are outside the quote. Move the in or out point to take them in first.")
    return Span(start_ms=start, end_ms=end)


def _ordered(first: int, last: int, talk: Talk) -> tuple[int, int]:
    low, high = min(first, last), max(first, last)
    talk.word(low), talk.word(high)
    return low, high


def _words_said(talk: Talk, first: int, last: int) -> str:
    low, high = _ordered(first, last, talk)
    return text_of([talk.word(i) for i in range(low, high + 1)])


def _named(destination: str) -> str:
    known = BUILT_IN.get(destination)
    return known.name if known else destination
