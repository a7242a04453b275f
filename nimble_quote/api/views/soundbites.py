"""Soundbites, topics and taste, as the API tells them."""

from pydantic import BaseModel

from nimble_quote.api.views.quotes import QuoteBrief, QuoteSpan
from nimble_quote.core.soundbites.finder import Soundbite
from nimble_quote.core.soundbites.taste import Verdict
from nimble_quote.core.timebase import Span


class SoundbiteView(Soundbite):
    """A soundbite that is offered, the quotes that are taken there already, and the quote that it was just kept as."""

    overlaps: list[QuoteSpan]
    kept: QuoteBrief | None


class Decided(BaseModel):
    """A soundbite that was parked or not liked."""

    bite: SoundbiteView
    verdict: Verdict


class TopicView(BaseModel):
    """A stretch of a talk that is about one thing, and the words it has more than the rest."""

    first_word: int
    span: Span
    phrases: list[str]


class TasteShift(BaseModel):
    """How many times as much a feature counts for this house as it did when it began."""

    feature: str
    times: float


class TasteView(BaseModel):
    """What the finder learned from how many choices."""

    choices: int
    shifts: list[TasteShift]


class OfferView(BaseModel):
    """The soundbites of a talk, best first, those passed over before, and its topics. `gap`: see `Offer`. `unjudged` says what
    can't be judged of it, `least` is the probability of being kept under which nothing is offered."""

    soundbites: list[SoundbiteView]
    passed: list[Decided]
    topics: list[TopicView]
    gap: float
    unjudged: str | None
    least: float
    taste: TasteView
