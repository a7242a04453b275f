"""What an edit touches, and whether two people's edits go together: those that touch nothing in common do.

Each edit says it itself (`touches`). Where it may reach far, it touches all of a subject.
"""

from collections.abc import Sequence
from dataclasses import dataclass

_ALL = 1 << 40
_LONGEST_PAUSE_WORDS = 400
"""More words than anybody strikes in one stretch."""
TREATED = ("layout", "place", "closeness", "moves", "behind", "tone", "captions")
"""What of a treatment can be changed without touching the rest of it."""


@dataclass(frozen=True, kw_only=True)
class Touch:
    """A subject, and which words, or moments, of it, both ends included."""

    subject: str
    first: int = 0
    last: int = _ALL

    def apart(self, other: "Touch") -> bool:
        """Whether the two have nothing to do with each other; words that touch do."""
        return self.subject != other.subject or self.last + 1 < other.first or other.last + 1 < self.first


Touches = tuple[Touch, ...]
CUT: Touches = (Touch(subject="cut"),)
"""All of the cut, of every version."""


def words_of_cut(first: int, last: int) -> Touches:
    """Some words of the cut."""
    return (Touch(subject="cut", first=min(first, last), last=max(first, last)),)


def words_and_pauses(first: int, last: int) -> Touches:
    """Some words of the cut, and the pauses beside them."""
    low, high = min(first, last), max(first, last)
    return (*words_of_cut(low, high), Touch(subject="pauses", first=low, last=high))


def pause_before(word: int) -> Touches:
    """The pause before a word: it reaches over the struck words before it, as far back as they go."""
    pause = Touch(subject="pauses", first=max(0, word - _LONGEST_PAUSE_WORDS), last=word)
    return (*words_of_cut(word, word), pause)


def version_of_cut(destination: str) -> Touches:
    """A version as such: that there is one, how fast it plays, how its joins are eased."""
    return (Touch(subject=f"version {destination}"),)


def treated(shape: str, destination: str, what: Sequence[str] = TREATED, first: int = 0, last: int = _ALL) -> Touches:
    """Some of how a shape is treated, in all of the recording or between two moments; and one version of it, which must
    still be there."""
    return tuple(
        Touch(subject=f"{of} of {whose}", first=first, last=last)
        for of in what
        for whose in (shape, f"version {destination}")
    )


def version_treated(destination: str) -> Touches:
    """One version, as far as it may be treated by itself."""
    return tuple(Touch(subject=f"{of} of version {destination}") for of in TREATED)


def treated_everywhere(shapes: Sequence[str], what: Sequence[str], first: int = 0, last: int = _ALL) -> Touches:
    """The same of every shape, and of every version that is treated by itself."""
    return tuple(Touch(subject=f"{of} of {shape}", first=first, last=last) for of in what for shape in shapes)


def subject(name: str) -> Touches:
    """All of something that has a name."""
    return (Touch(subject=name),)


def go_together(mine: Touches, theirs: Touches) -> bool:
    """Whether an edit can be made after another that its maker did not see, with both meaning what they meant."""
    return all(one.apart(other) for one in mine for other in theirs)
