"""Cues as they are shown: words in lines, and when each shows, in frames of the output."""

from typing import Any

from pydantic import Field, computed_field, model_validator

from nimble_quote.core.captions.lettering import characters
from nimble_quote.core.captions.words import joined
from nimble_quote.core.document import LookChanges
from nimble_quote.core.model import Frozen


class CueWord(Frozen):
    """A word of a cue and the frames `[first_frame, end_frame)` in which it counts as the spoken one; `index` is that of the
    transcript, -1 for what was put in by hand."""

    text: str
    index: int
    first_frame: int
    end_frame: int
    glued: bool = False
    emphasised: bool = False


Line = tuple[CueWord, ...]


class Cue(Frozen):
    """One caption, shown in frames `[first_frame, end_frame)`, as lines of words."""

    first_frame: int
    end_frame: int
    lines: tuple[Line, ...]
    said_from_ms: float = 0.0
    said_to_ms: float = 0.0
    """When its first word begins and its last one ends, in ms of the output: what times by hand are counted from."""
    speaker: int = 0
    """Who says it: 0 for the first of the quote, 1 for the second …"""
    lead: str = ""
    """What stands before the words, where another person begins to speak and the style marks it so."""
    height: float | None = None
    """The height of its middle from the top, where it stands elsewhere than the others."""
    look: LookChanges = Field(default_factory=dict)
    """What of its look is otherwise."""
    added: int | None = None
    """The number of a cue that was put in by hand."""
    fixed: bool = False
    """Whether a person decided anything of it."""
    below: tuple[str, ...] = ()
    """The lines of a translation that stand under it."""
    translated: str = ""
    """What it says in the translation that is worked on, also where that is not shown."""
    instead: tuple[str, ...] = ()
    """The lines of a translation that stand instead of its words."""

    @model_validator(mode="before")
    @classmethod
    def _counted_anew(cls, told: Any) -> Any:
        """What is counted from the lines is told for others, and not taken from them."""
        if isinstance(told, dict):
            return {field: value for field, value in told.items() if field not in cls.model_computed_fields}
        return told

    @property
    def words(self) -> tuple[CueWord, ...]:
        return tuple(word for line in self.lines for word in line)

    @property
    def line_texts(self) -> tuple[str, ...]:
        """The lines of what is said."""
        said = [line_text(line) for line in self.lines]
        return (self.lead + said[0], *said[1:]) if said else ()

    @property
    def shown_texts(self) -> tuple[str, ...]:
        """The lines as they are shown."""
        return (*(self.instead or self.line_texts), *self.below)

    @computed_field  # type: ignore[prop-decorator]
    @property
    def characters(self) -> int:
        """How many characters are to be read."""
        return sum(characters(text) for text in self.shown_texts)

    @computed_field  # type: ignore[prop-decorator]
    @property
    def longest(self) -> int:
        """How many its longest line has."""
        return max((characters(text) for text in self.shown_texts), default=0)

    @property
    def text(self) -> str:
        """The cue as running text."""
        return joined([(word.text, word.glued) for word in self.words])


class WrittenCue(Frozen):
    """A caption as it was burned in: its frames and the text of its lines."""

    first_frame: int
    end_frame: int
    lines: tuple[str, ...]

    @classmethod
    def of(cls, cue: Cue) -> "WrittenCue":
        """What is written of a cue."""
        return cls(first_frame=cue.first_frame, end_frame=cue.end_frame, lines=cue.shown_texts)


def line_text(line: Line) -> str:
    """A line as text."""
    return joined([(word.text, word.glued) for word in line])
