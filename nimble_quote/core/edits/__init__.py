"""Every change a person can make to a quote, as a command: `(document, edit, talk) -> document`.

To add one: a class with a new `kind` in the module of what it changes, listed in `Edit`, with `applied` (the new
document; raise `EditRefused` where it makes no sense) and `said` (what the history calls it). Everything else follows:
storing, undo, the API.
"""

from collections.abc import Callable
from typing import Annotated, Literal, TypeVar

from pydantic import Field

from nimble_quote.core.cutting.edges import around_words
from nimble_quote.core.cutting.kept import text_of
from nimble_quote.core.destinations import BUILT_IN
from nimble_quote.core.edits.captions import ChooseCaptionStyle, CorrectCaption, ShowCaptions
from nimble_quote.core.edits.changing import (
    EditRefused,
    changed,
    first_version,
    ordered,
)
from nimble_quote.core.edits.cutting import (
    AcceptNote,
    CutAsBase,
    MoveEdgeToWord,
    NudgeEdge,
    NudgeJoin,
    RestoreWords,
    SetPartLines,
    SetPause,
    StrikeByRule,
    StrikeSpans,
    StrikeWords,
)
from nimble_quote.core.edits.versions import (
    AddVersion,
    FrameSpeaker,
    PlaceCaptions,
    RemoveVersion,
    SetFraming,
    SetSpeed,
    SoftenJoins,
)
from nimble_quote.core.model import Frozen
from nimble_quote.core.quote import QuoteDocument, Title
from nimble_quote.core.talk import Talk
from nimble_quote.core.transcript.words import WordMissing

__all__ = [
    "AcceptNote",
    "AddVersion",
    "ChooseCaptionStyle",
    "CorrectCaption",
    "CutAsBase",
    "Edit",
    "EditRefused",
    "FrameSpeaker",
    "MoveEdgeToWord",
    "NudgeEdge",
    "NudgeJoin",
    "PlaceCaptions",
    "RemoveVersion",
    "RenameQuote",
    "RestoreWords",
    "SetFraming",
    "SetPartLines",
    "SetPause",
    "SetSpeed",
    "ShowCaptions",
    "SoftenJoins",
    "StrikeByRule",
    "StrikeSpans",
    "StrikeWords",
    "apply_edit",
    "describe_edit",
    "new_quote",
]

T = TypeVar("T")


_TALL = sorted((d for d in BUILT_IN.values() if d.height > 1.5 * d.width), key=lambda d: d.limit_ms)


class RenameQuote(Frozen):
    """Gives the quote another title."""

    kind: Literal["rename"] = "rename"
    title: Title

    def applied(self, document: QuoteDocument, talk: Talk) -> QuoteDocument:
        return changed(document, title=self.title)

    def said(self, document: QuoteDocument, talk: Talk) -> str:
        return f"Renamed to “{self.title}”"


Edit = Annotated[
    RenameQuote
    | MoveEdgeToWord
    | NudgeEdge
    | NudgeJoin
    | StrikeWords
    | RestoreWords
    | SetPause
    | StrikeByRule
    | StrikeSpans
    | SetSpeed
    | SoftenJoins
    | CutAsBase
    | AcceptNote
    | SetPartLines
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
    return or_refused(lambda: edit.applied(document, talk))


def describe_edit(document: QuoteDocument, edit: Edit, talk: Talk) -> str:
    """What the history calls an edit made on this document: 'Struck “you know”'."""
    return or_refused(lambda: edit.said(document, talk))


def new_quote(talk: Talk, first: int, last: int) -> QuoteDocument:
    """The quote that keeps words `first` to `last`, titled with how it opens, for the first tall place it fits."""
    span = or_refused(lambda: around_words(talk, *ordered(first, last, talk)))
    words = talk.between(span.start_ms, span.end_ms)
    fitting = (d for d in _TALL if d.limit_ms >= span.length_ms)
    destination = next(fitting, _TALL[-1])
    return QuoteDocument(
        title=text_of(words, most=48) or "Untitled",
        span=span,
        versions=(first_version(destination.id, talk, (span,)),),
    )


def or_refused(step: Callable[[], T]) -> T:
    try:
        return step()
    except WordMissing as missing:
        raise EditRefused(f"{str(missing).capitalize()} near this quote.") from missing
