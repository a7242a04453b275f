"""What a quote is posted with: a title, a description, tags, and what its picture shows for those who can't see it."""

import unicodedata
from typing import Annotated

from pydantic import AfterValidator, Field, StringConstraints

from nimble_quote.core.model import Frozen


def _printable(text: str) -> str:
    """Text without what no reader sees: control characters but the end of a line, and halves of pairs."""
    return "".join(one for one in text if one == "\n" or unicodedata.category(one) not in ("Cc", "Cs"))


Line = Annotated[
    str, StringConstraints(max_length=300), AfterValidator(lambda text: _printable(text).replace("\n", " "))
]
Lines = Annotated[str, AfterValidator(_printable)]
Tag = Annotated[Line, StringConstraints(strip_whitespace=True, min_length=1, max_length=100)]


class PostText(Frozen):
    """The texts of a post. Names in braces stand for what is known of the quote (`core/posting/filling.py`)."""

    title: Line = ""
    description: Annotated[Lines, Field(max_length=10_000)] = ""
    tags: tuple[Tag, ...] = Field(default=(), max_length=60)
    alt: Annotated[Lines, Field(max_length=2000)] = ""


class Posting(Frozen):
    """What a person wrote to post a quote with, for all destinations or for one; the draft stands where there is nothing."""

    text: PostText | None = None
    own: dict[str, PostText] = Field(default_factory=dict, max_length=40)

    def written(self, destination: str | None = None) -> PostText | None:
        """What was written for a destination, or for all."""
        return (self.own.get(destination) if destination else None) or self.text
