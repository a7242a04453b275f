"""How long texts may be where they are posted, and how long they are by the way that is counted there."""

import re
from typing import Literal

from pydantic import Field
from uniseg.graphemecluster import grapheme_clusters

from nimble_quote.core.document.posting import PostText
from nimble_quote.core.model import Frozen

Unit = Literal["graphemes", "code points", "UTF-16 units", "bytes"]
LINK = re.compile(r"https?://[^\s<>\"“”]*[^\s<>\"“”.,;:!?)\]]")
"""A web address in a text, without the full stop after it."""


class TextLimits(Frozen):
    """The longest texts that a place takes, in its own unit. Where a link counts as a fixed length, however long it is, that is
    `link_length`. Where tags stand at the end of the description, they count with it."""

    title: int = Field(default=100, ge=0, le=10_000)
    description: int = Field(default=2000, ge=0, le=100_000)
    tags: int = Field(default=10, ge=0, le=60)
    alt: int = Field(default=1000, ge=0, le=10_000)
    unit: Unit = "graphemes"
    link_length: int | None = Field(default=None, ge=1, le=2000)
    tags_in_description: bool = True


class Counted(Frozen):
    """How long a text is against the longest it may be."""

    what: Literal["title", "description", "tags", "alt"]
    length: int
    most: int

    @property
    def over(self) -> int:
        return max(0, self.length - self.most)


def length_of(text: str, limits: TextLimits) -> int:
    """How long a text is as a place counts it: a grapheme is what a reader takes for one character (Unicode Standard Annex 29)."""
    if limits.link_length is None:
        return _units(text, limits.unit)
    links = len(LINK.findall(text))
    return _units(LINK.sub("", text), limits.unit) + links * limits.link_length


def _units(text: str, unit: Unit) -> int:
    if unit == "graphemes":
        # Plain letters, which most texts are, are one each; a return before a line's end is the one pair that is not.
        return len(text) if text.isascii() and "\r" not in text else sum(1 for _ in grapheme_clusters(text))
    if unit == "code points":
        return len(text)
    return len(text.encode("utf-16-le")) // 2 if unit == "UTF-16 units" else len(text.encode())


def counted(text: PostText, limits: TextLimits) -> tuple[Counted, ...]:
    """How long each text of a post is."""
    described = sent_description(text, limits)
    return (
        Counted(what="title", length=length_of(text.title, limits), most=limits.title),
        Counted(what="description", length=length_of(described, limits), most=limits.description),
        Counted(what="tags", length=len(text.tags), most=limits.tags),
        Counted(what="alt", length=length_of(text.alt, limits), most=limits.alt),
    )


def sent_description(text: PostText, limits: TextLimits) -> str:
    """The description as it is sent: with the tags at its end where they belong there."""
    tags = " ".join(tag_written(tag) for tag in text.tags) if limits.tags_in_description else ""
    return "\n\n".join(part for part in (text.description.strip(), tags) if part)


def written_post(text: PostText) -> str:
    """All that a clip is posted with, as a text to copy from."""
    tags = " ".join(tag_written(tag) for tag in text.tags)
    alt = f"Alt text: {text.alt}" if text.alt else ""
    return "\n\n".join(part for part in (text.title, text.description, tags, alt) if part) + "\n"


def tag_written(tag: str) -> str:
    """A tag as one word behind a hash: '#LampOil' for 'lamp oil'."""
    words = re.findall(r"[^\W_]+", tag.lstrip("#"))
    return (
        "#" + (words[0] if len(words) == 1 else "".join(word[:1].upper() + word[1:] for word in words)) if words else ""
    )


def tighter(one: TextLimits, other: TextLimits) -> TextLimits:
    """The limits that keep to both, as far as they count alike: counted as the second does."""
    return other.model_copy(
        update={name: min(getattr(one, name), getattr(other, name)) for name in ("title", "description", "tags", "alt")}
    )
