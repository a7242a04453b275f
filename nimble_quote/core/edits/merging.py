"""Whether two people's edits go together: what each is about, and whether that is apart from what the other is about."""

from dataclasses import dataclass

from nimble_quote.core.edits import Edit
from nimble_quote.core.edits.captions import ChooseCaptionStyle, CorrectCaption, ShowCaptions
from nimble_quote.core.edits.cutting import (
    AcceptNote,
    CutAsBase,
    RestoreWords,
    SetPartLines,
    SetPause,
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

_ALL = 1 << 40
_LONGEST_PAUSE_WORDS = 400
"""More words than anybody strikes in one stretch."""


@dataclass(frozen=True, kw_only=True)
class About:
    """A subject, and which words of it, both ends included."""

    subject: str
    first: int = 0
    last: int = _ALL

    def apart(self, other: "About") -> bool:
        """Whether the two have nothing to do with each other; words that touch do."""
        return self.subject != other.subject or self.last + 1 < other.first or other.last + 1 < self.first


def about(edit: Edit) -> tuple[About, ...]:
    """What an edit is about: one subject, or several. Where it may reach far, it is about all of a subject."""
    match edit:
        case StrikeWords() | RestoreWords():
            words = {"first": min(edit.first, edit.last), "last": max(edit.first, edit.last)}
            return About(subject="cut", **words), About(subject="pauses", **words)
        case CorrectCaption():
            return (About(subject="cut", first=min(edit.first, edit.last), last=max(edit.first, edit.last)),)
        case SetPause():
            # It reaches over the struck words before it, as far back as they go.
            pause = About(subject="pauses", first=max(0, edit.before - _LONGEST_PAUSE_WORDS), last=edit.before)
            return About(subject="cut", first=edit.before, last=edit.before), pause
        case FrameSpeaker() | SetFraming() | PlaceCaptions() | SetSpeed() | SoftenJoins():
            return (About(subject=f"version {edit.destination}"),)
        case AddVersion() | RemoveVersion() | CutAsBase():
            return About(subject="cut"), About(subject=f"version {edit.destination}")
        case StrikeSpans() if edit.destination is not None:
            return About(subject="cut"), About(subject=f"version {edit.destination}")
        case AcceptNote():
            return (About(subject=f"note {edit.what}"),)
        case ChooseCaptionStyle() | ShowCaptions():
            return (About(subject="caption style"),)
        case SetPartLines():
            return (About(subject="part lines"),)
        case _:
            return (About(subject=edit.kind if edit.kind == "rename" else "cut"),)


def go_together(mine: Edit, theirs: Edit) -> bool:
    """Whether an edit can be made after another that its maker did not see, with both meaning what they meant."""
    return all(one.apart(other) for one in about(mine) for other in about(theirs))
