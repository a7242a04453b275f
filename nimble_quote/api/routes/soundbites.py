"""The soundbites of a talk: offered, judged as they are grown or shrunk, kept, parked; the house's taste; topics."""

import asyncio
from typing import Annotated, Literal

from fastapi import APIRouter, Query
from pydantic import BaseModel, Field

from nimble_quote.api.finding import weights_of_house
from nimble_quote.api.numbers import MOST_DESTINATIONS, RowId
from nimble_quote.api.readings import brief
from nimble_quote.api.recordings import quote_span
from nimble_quote.api.state import TheConnection, TheServer
from nimble_quote.api.views.quotes import QuoteSpan
from nimble_quote.api.views.soundbites import Decided, OfferView, SoundbiteView, TasteShift, TasteView, TopicView
from nimble_quote.core.destinations import Destination
from nimble_quote.core.edits import EditRefused, new_quote, or_refused
from nimble_quote.core.soundbites.finder import Finder, Soundbite
from nimble_quote.core.soundbites.taste import Verdict, learned, shifts
from nimble_quote.core.timebase import Span
from nimble_quote.store import quotes, recordings, soundbites
from nimble_quote.store.database import Connection
from nimble_quote.store.soundbites import ChoiceRow

router = APIRouter(prefix="/api")

_DEFAULT = ["tall-30", "tall-60"]
Wanted = Annotated[list[str], Query(max_length=MOST_DESTINATIONS)]


class Sentences(BaseModel):
    """A span of whole sentences, first and last included, and the destinations it is judged for."""

    first: int = Field(ge=0)
    last: int = Field(ge=0)
    destinations: list[str] = Field(default=_DEFAULT, max_length=MOST_DESTINATIONS)


class Decision(Sentences):
    """What was decided of a soundbite; None takes back what was decided before."""

    verdict: Verdict | None


@router.get("/recordings/{recording_id}/soundbites")
async def offer_soundbites(
    recording_id: RowId,
    conn: TheConnection,
    server: TheServer,
    destinations: Wanted = _DEFAULT,
    count: Annotated[int, Query(ge=1, le=300)] = 10,
    topic: int | None = None,
    length: Literal["any", "under-20", "20-40", "over-40"] = "any",
    weaker: bool = False,
) -> OfferView:
    """The best soundbites of a talk for some destinations, and its topics; also those that an editor would hardly keep where
    they are asked for."""
    finder, chosen = await _ready(conn, server, recording_id, destinations)
    choices = await soundbites.choices(conn)
    weighed = learned(finder.model.weights, [one.choice for one in choices])
    decided = [one for one in choices if one.recording_id == recording_id]
    passed = [one for one in decided if one.verdict != "kept"]
    offer = await asyncio.to_thread(
        finder.offer, chosen, weighed, count, [one.span for one in passed], topic, _LENGTHS[length], weaker
    )
    used = await _used(conn, recording_id)
    return OfferView(
        soundbites=[_view(one, used) for one in offer.soundbites],
        passed=[
            Decided(bite=_view(_again(finder, one, chosen), used), verdict=one.verdict)
            for one in passed
            if _holds(finder, one)
        ],
        topics=_topics(finder),
        gap=offer.gap,
        unjudged=finder.unjudged,
        least=weighed.threshold,
        taste=TasteView(
            choices=len(choices),
            shifts=[TasteShift(feature=one.feature, times=one.times) for one in shifts(finder.model.weights, weighed)],
        ),
    )


_LENGTHS = {"any": (0, 10**9), "under-20": (0, 20_000), "20-40": (20_000, 40_000), "over-40": (40_000, 10**9)}


@router.post("/recordings/{recording_id}/soundbites/judge")
async def judge_soundbite(
    recording_id: RowId, asked: Sentences, conn: TheConnection, server: TheServer
) -> SoundbiteView:
    """A span of whole sentences, judged."""
    finder, chosen = await _ready(conn, server, recording_id, asked.destinations)
    bite = finder.judged(asked.first, asked.last, chosen, await weights_of_house(conn, finder))
    return _view(bite, await _used(conn, recording_id))


@router.post("/recordings/{recording_id}/soundbites/decide")
async def decide_soundbite(
    recording_id: RowId, asked: Decision, conn: TheConnection, server: TheServer
) -> SoundbiteView:
    """Keeps a soundbite as a quote, parks it, or says that this is not what the house posts; or takes that back."""
    finder, chosen = await _ready(conn, server, recording_id, asked.destinations)
    bite = finder.judged(asked.first, asked.last, chosen, await weights_of_house(conn, finder))
    if asked.verdict is None:
        await soundbites.take_back(conn, recording_id, bite.span)
    else:
        await soundbites.decide(conn, recording_id, bite.span, asked.verdict, bite.features)
    if asked.verdict != "kept":
        return _view(bite, await _used(conn, recording_id))
    recording = await recordings.one(conn, recording_id)
    context = await server.contexts.of_words(conn, recording, bite.first_word, bite.last_word)
    document = new_quote(context, bite.first_word, bite.last_word, recording.series)
    quote_id = await quotes.keep(conn, recording_id, document)
    kept = brief(await quotes.one(conn, quote_id), recording, context.talk)
    return _view(bite, await _used(conn, recording_id)).model_copy(update={"kept": kept})


@router.post("/taste/forget", status_code=204)
async def forget_taste(conn: TheConnection) -> None:
    """Forgets the choices that the finder learned from. Quotes stay."""
    await soundbites.forget_taste(conn)


@router.get("/recordings/{recording_id}/topics")
async def list_topics(recording_id: RowId, conn: TheConnection, server: TheServer) -> list[TopicView]:
    """The topics of a talk in order; none where it has no words."""
    recording = await recordings.one(conn, recording_id)
    if not recording.words:
        return []
    return _topics(await server.finders.of(conn, recording))


async def _ready(
    conn: Connection, server: TheServer, recording_id: int, names: list[str]
) -> tuple[Finder, list[Destination]]:
    catalogue = await server.contexts.catalogues.now(conn)
    if not names:
        raise EditRefused("Choose a destination.")
    chosen = or_refused(lambda: [catalogue.destination(name) for name in names])
    finder = await server.finders.of(conn, await recordings.one(conn, recording_id))
    return finder, chosen


def _holds(finder: Finder, one: ChoiceRow) -> bool:
    """Whether a choice still is whole sentences of the talk: corrections may have changed them since."""
    starts = [sentence.start_ms for sentence in finder.talk.sentences]
    ends = [sentence.end_ms for sentence in finder.talk.sentences]
    return one.start_ms in starts and one.end_ms in ends


def _again(finder: Finder, one: ChoiceRow, chosen: list[Destination]) -> Soundbite:
    first = next(i for i, sentence in enumerate(finder.talk.sentences) if sentence.start_ms == one.start_ms)
    last = next(i for i, sentence in enumerate(finder.talk.sentences) if sentence.end_ms == one.end_ms)
    return finder.judged(first, last, chosen, finder.model.weights)


async def _used(conn: Connection, recording_id: int) -> list[QuoteSpan]:
    return [quote_span(one) for one in await quotes.spans(conn, [recording_id])]


def _view(bite: Soundbite, used: list[QuoteSpan]) -> SoundbiteView:
    over = [one for one in used if one.span.start_ms < bite.span.end_ms and one.span.end_ms > bite.span.start_ms]
    return SoundbiteView(**dict(bite), overlaps=over, kept=None)


def _topics(finder: Finder) -> list[TopicView]:
    said = finder.talk.sentences
    return [
        TopicView(
            first_word=said[one.first].first_word,
            span=Span(start_ms=said[one.first].start_ms, end_ms=said[one.last].end_ms),
            phrases=list(one.phrases),
        )
        for one in finder.topics
    ]
