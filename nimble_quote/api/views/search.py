"""Searches and what they found, as the API tells them."""

from datetime import date

from pydantic import BaseModel

from nimble_quote.api.views.quotes import QuoteSpan, SpokenLine


class Mark(BaseModel):
    """A half-open range of a sentence's words."""

    first: int
    end: int


class PassageView(BaseModel):
    """A run of whole sentences that answers a search: it can be played, opened and kept.

    `marks` are counted from its first word; `missing` are parts of the search that it does not have;
    `by_meaning`: it was found by what it means, not by its words; `also` are
    passages of other talks that tell the same story.
    """

    recording_id: int
    title: str
    series: str | None
    held_on: date | None
    lines: list[SpokenLine]
    marks: list[Mark]
    first_word: int
    last_word: int
    start_ms: int
    end_ms: int
    length_ms: int
    fits: str
    missing: list[str]
    by_meaning: bool
    quotes: list[QuoteSpan]
    also: list["PassageView"]


class Asked(BaseModel):
    """A search as it was understood: the words without the filters, and each filter."""

    bare: str
    by: str | None
    series: str | None
    after: str | None
    before: str | None
    used: bool | None
    wide: bool
    by_meaning: bool


class SearchView(BaseModel):
    """What a search found in all talks, and what is to be said of it. `more`: there are others, not shown."""

    asked: Asked
    passages: list[PassageView]
    notes: list[str]
    more: bool


class MarkedWords(BaseModel):
    """Words of a talk that answer a search, first and last included."""

    first: int
    last: int
    start_ms: int


class TalkMarks(BaseModel):
    """What a search found in one talk, in order of time, and what is to be said of it."""

    marks: list[MarkedWords]
    notes: list[str]


class SearchChoices(BaseModel):
    """What searches can be narrowed to, and those kept."""

    speakers: list[str]
    series: list[str]
    saved: list[str]
    recent: list[str]
