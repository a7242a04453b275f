"""What stands over the picture, and when.

To add a kind: a class with a new `kind` in the union of `Overlay.what`; the Assembly resolves where it stands.
"""

from typing import Annotated, Literal, Self

from pydantic import Field, StringConstraints, model_validator

from nimble_quote.core.model import Frozen
from nimble_quote.core.transcript.words import WordRef


class When(Frozen):
    """When an overlay shows: all the time, at the start or the end of the clip, or while some words are said.

    `offset_ms` puts it later (from the start, or from the first word) or earlier (before the end). Without a length it
    shows until the end of the clip, or of the words.
    """

    kind: Literal["whole", "start", "end", "words"]
    offset_ms: int = Field(default=0, ge=0, le=600_000)
    length_ms: int | None = Field(default=None, ge=100, le=600_000)
    first: WordRef | None = None
    last: WordRef | None = None

    @model_validator(mode="after")
    def _has_its_words(self) -> Self:
        if (self.kind == "words") != (self.first is not None and self.last is not None):
            raise ValueError("an overlay names its first and last word if, and only if, it stands at words")
        return self


class Lines(Frozen):
    """Lines of text, broken so that they fit."""

    kind: Literal["lines"] = "lines"
    text: Annotated[str, StringConstraints(min_length=1, max_length=120)]


class Overlay(Frozen):
    """One thing that stands over the picture; `id` names it in its quote."""

    id: int = Field(ge=1)
    when: When
    what: Lines
