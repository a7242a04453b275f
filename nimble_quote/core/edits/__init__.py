"""Every change a person can make to a quote, as a command: `(document, edit, context) -> document`.

To add one: a class with a new `kind` in the module of what it changes, listed in `Edit`, with `applied` (the new
document; raise `EditRefused` where it makes no sense), `said` (what the history calls it) and `touches` (what it is about,
by which two people's edits are merged). Everything else follows: storing, undo, the API.
"""

from collections.abc import Callable
from typing import Annotated, Literal, TypeVar

from pydantic import Field, ValidationError

from nimble_quote.core.catalogue import NotInCatalogue
from nimble_quote.core.context import Context
from nimble_quote.core.cutting.edges import around_words
from nimble_quote.core.cutting.kept import text_of
from nimble_quote.core.document import QuoteDocument, Title, Version
from nimble_quote.core.edits.captions import (
    ChangeCaptionLook,
    ChooseCaptionStyle,
    CorrectCaption,
    HoldCaptionStyle,
    ReplaceInCaptions,
    ShowCaptions,
    ShowTranslation,
    TakeTranslation,
    TranslateCaption,
)
from nimble_quote.core.edits.changing import (
    EditRefused,
    changed,
    ordered,
)
from nimble_quote.core.edits.cues import (
    AddCaption,
    ChangeAddedCaption,
    ChangeCueLook,
    EmphasiseWords,
    HideCaption,
    JoinCaptions,
    LetGoCaptions,
    MoveBreak,
    PartCaption,
    PlaceCaption,
    RemoveAddedCaption,
    TimeCaption,
)
from nimble_quote.core.edits.cutting import (
    AcceptNote,
    CutAsBase,
    MoveEdgeToWord,
    NudgeEdge,
    NudgeJoin,
    PlayFast,
    RestoreWords,
    SetPartLines,
    SetPause,
    StrikeByRule,
    StrikeSpans,
    StrikeWords,
)
from nimble_quote.core.edits.finishing import (
    AddOverlay,
    ChangeOverlay,
    ChooseFinish,
    HideOverlay,
    HoldFinish,
    OrderOverlay,
    PlaceOverlay,
    RemoveOverlay,
    ResetOverlay,
    Shows,
    TimeOverlay,
)
from nimble_quote.core.edits.framing import (
    AddRest,
    ExposeFaces,
    FineShot,
    FrameShot,
    FramingChange,
    JoinShot,
    PartShot,
    PlaceWindow,
    RemoveRest,
    ResetFraming,
    ShowFollowed,
    TimeRest,
)
from nimble_quote.core.edits.giving import GiveFraming, ShareFraming, TakeFraming
from nimble_quote.core.edits.posting import WritePosting
from nimble_quote.core.edits.taking import TakeCaptions
from nimble_quote.core.edits.touching import Touches, subject
from nimble_quote.core.edits.versions import (
    AddVersion,
    PlaceCaptions,
    RemoveVersion,
    SetSpeed,
    SoftenJoins,
    TreatAlone,
)
from nimble_quote.core.model import Frozen
from nimble_quote.core.transcript.words import WordMissing

__all__ = [
    "AcceptNote",
    "AddCaption",
    "AddOverlay",
    "AddRest",
    "AddVersion",
    "ChangeAddedCaption",
    "ChangeCaptionLook",
    "ChangeCueLook",
    "ChangeOverlay",
    "ChooseCaptionStyle",
    "ChooseFinish",
    "CorrectCaption",
    "CutAsBase",
    "Edit",
    "EditRefused",
    "EmphasiseWords",
    "ExposeFaces",
    "FineShot",
    "FrameShot",
    "FramingChange",
    "GiveFraming",
    "HideCaption",
    "HideOverlay",
    "HoldCaptionStyle",
    "HoldFinish",
    "JoinCaptions",
    "JoinShot",
    "LetGoCaptions",
    "MoveBreak",
    "MoveEdgeToWord",
    "NudgeEdge",
    "NudgeJoin",
    "OrderOverlay",
    "PartCaption",
    "PartShot",
    "PlaceCaption",
    "PlaceCaptions",
    "PlaceOverlay",
    "PlaceWindow",
    "PlayFast",
    "RemoveAddedCaption",
    "RemoveOverlay",
    "RemoveRest",
    "RemoveVersion",
    "RenameQuote",
    "ReplaceInCaptions",
    "ResetFraming",
    "ResetOverlay",
    "RestoreWords",
    "SetPartLines",
    "SetPause",
    "SetSpeed",
    "ShareFraming",
    "ShowCaptions",
    "ShowFollowed",
    "ShowTranslation",
    "Shows",
    "SoftenJoins",
    "StrikeByRule",
    "StrikeSpans",
    "StrikeWords",
    "TakeCaptions",
    "TakeFraming",
    "TakeTranslation",
    "TimeCaption",
    "TimeOverlay",
    "TimeRest",
    "TranslateCaption",
    "TreatAlone",
    "WritePosting",
    "apply_edit",
    "describe_edit",
    "new_quote",
]

T = TypeVar("T")


class RenameQuote(Frozen):
    """Gives the quote another title."""

    kind: Literal["rename"] = "rename"
    title: Title

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        return changed(document, title=self.title)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Renamed to “{self.title}”"

    def touches(self, context: Context) -> Touches:
        return subject("title")


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
    | PlayFast
    | SetSpeed
    | SoftenJoins
    | CutAsBase
    | AcceptNote
    | SetPartLines
    | AddVersion
    | RemoveVersion
    | FrameShot
    | PlaceWindow
    | AddRest
    | RemoveRest
    | TimeRest
    | PartShot
    | JoinShot
    | ResetFraming
    | FineShot
    | ShowFollowed
    | ExposeFaces
    | GiveFraming
    | ShareFraming
    | TakeFraming
    | TreatAlone
    | PlaceCaptions
    | ChooseCaptionStyle
    | ShowCaptions
    | CorrectCaption
    | ChangeCaptionLook
    | HoldCaptionStyle
    | ReplaceInCaptions
    | ShowTranslation
    | TakeTranslation
    | TakeCaptions
    | TranslateCaption
    | AddCaption
    | ChangeAddedCaption
    | ChangeCueLook
    | EmphasiseWords
    | HideCaption
    | JoinCaptions
    | LetGoCaptions
    | MoveBreak
    | PartCaption
    | PlaceCaption
    | RemoveAddedCaption
    | TimeCaption
    | AddOverlay
    | ChangeOverlay
    | TimeOverlay
    | PlaceOverlay
    | HideOverlay
    | OrderOverlay
    | RemoveOverlay
    | ResetOverlay
    | ChooseFinish
    | HoldFinish
    | WritePosting,
    Field(discriminator="kind"),
]


def apply_edit(document: QuoteDocument, edit: Edit, context: Context) -> QuoteDocument:
    """The document after an edit. Raises `EditRefused` where it makes no sense or names a word there is not."""
    return or_refused(lambda: edit.applied(document, context))


def describe_edit(document: QuoteDocument, edit: Edit, context: Context) -> str:
    """What the history calls an edit made on this document: 'Struck “you know”'."""
    return or_refused(lambda: edit.said(document, context))


def new_quote(context: Context, first: int, last: int, series: str | None = None) -> QuoteDocument:
    """The quote that keeps words `first` to `last`, titled with how it opens, for the first tall place it fits, with the finish of
    its recording's series."""
    span = or_refused(lambda: around_words(context.talk, *ordered(first, last, context)))
    words = context.talk.between(span.start_ms, span.end_ms)
    tall = sorted((d for d in context.catalogue.offered if d.shape == "tall"), key=lambda d: d.limit_ms)
    offered = tall or list(context.catalogue.offered)
    destination = next((d for d in offered if d.limit_ms >= span.length_ms), offered[-1])
    return QuoteDocument(
        title=text_of(words, most=48) or "Untitled",
        span=span,
        versions=(Version(destination=destination.id),),
        finish=context.catalogue.finish_for(series),
    )


def or_refused(step: Callable[[], T]) -> T:
    try:
        return step()
    except WordMissing as missing:
        raise EditRefused(f"{str(missing).capitalize()} near this quote.") from missing
    except NotInCatalogue as unknown:
        raise EditRefused(str(unknown)) from unknown
    except ValidationError as impossible:
        raise EditRefused(f"A quote can't be like that: {impossible.errors()[0]['msg']}.") from impossible
