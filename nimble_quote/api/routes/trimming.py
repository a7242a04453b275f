"""Trim: what a rule would strike, fit plans, parts, the sound of a cut, and a close look at an edge."""

from math import ceil
from pathlib import Path
from typing import Annotated
from uuid import uuid4

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field

from nimble_quote.api.numbers import Moment, RowId
from nimble_quote.api.readings import brief
from nimble_quote.api.sources import sources_of
from nimble_quote.api.state import ServerState, TheConnection, TheServer, loaded
from nimble_quote.api.views.quotes import QuoteBrief
from nimble_quote.api.views.workbench import LoupeView, PlanView
from nimble_quote.core.assembly import assemble, cut_ms
from nimble_quote.core.assembly.bookends import added_ms
from nimble_quote.core.context import Context
from nimble_quote.core.cutting.edges import quiet_points
from nimble_quote.core.cutting.kept import kept_spans
from nimble_quote.core.cutting.plans import Wishes, fit_plan
from nimble_quote.core.cutting.playing import length_of, played
from nimble_quote.core.cutting.splitting import PlannedPart, as_quotes, split
from nimble_quote.core.cutting.strikes import Rule, Strike, strikes
from nimble_quote.core.cutting.ways import CutSentence, Worth, parts_of
from nimble_quote.core.destinations import Destination
from nimble_quote.core.edits import EditRefused
from nimble_quote.core.soundbites.finder import NotSentences
from nimble_quote.core.talk import LEVEL_MS, Talk
from nimble_quote.core.timebase import Span
from nimble_quote.media.sound import closely
from nimble_quote.store import house_sounds, quotes, recordings
from nimble_quote.store.database import Connection, NotFound
from nimble_quote.store.quotes import QuoteRow
from nimble_quote.store.recordings import RecordingRow

router = APIRouter(prefix="/api")

LOUPE_MS = 1500
"""How much a loupe shows."""
_LOUPE_STEP_MS = 2
Ids = Annotated[list[Annotated[str, Field(max_length=60)]], Field(max_length=2000)]


class RuleAsked(BaseModel):
    """A rule to try on the cut of a version, or of the base where none is named."""

    rule: Rule
    destination: str | None = None


class PlanAsked(BaseModel):
    """A version to make fit; pieces that are not to go, and pieces that are to."""

    destination: str
    refused: Ids = []
    locked: Ids = []


class SplitAsked(BaseModel):
    """A version to split in parts that fit its limit: as few as can be, or so many. `make`: keep them as quotes."""

    destination: str
    count: int | None = Field(default=None, ge=2, le=12)
    make: bool = False
    recap: str = Field(default="", max_length=120)
    end_line: str = Field(default="", max_length=120)


class SplitView(BaseModel):
    """The parts, and the quotes that were made of them."""

    parts: list[PlannedPart]
    made: list[QuoteBrief]


@router.post("/quotes/{quote_id}/strikes")
async def find_strikes(quote_id: RowId, asked: RuleAsked, conn: TheConnection, server: TheServer) -> list[Strike]:
    """What a rule would strike, place by place."""
    quote, _, context = await loaded(conn, server, quote_id)
    return list(strikes(quote.document, context.talk, asked.rule, asked.destination))


@router.post("/quotes/{quote_id}/plan")
async def plan_fit(quote_id: RowId, asked: PlanAsked, conn: TheConnection, server: TheServer) -> PlanView:
    """The way to make a version fit that loses least."""
    quote, recording, context = await loaded(conn, server, quote_id)
    limit = _limit(quote, recording, context, asked.destination)
    sentences = await _sentences(conn, server, quote, recording, context.talk, asked.destination)
    kept = ceil(length_of(played(kept_spans(quote.document, asked.destination), quote.document.fast)))
    wishes = Wishes(refused=frozenset(asked.refused), locked=frozenset(asked.locked))
    version = quote.document.version(asked.destination)
    now = version.speed if version else 1.0
    plan = fit_plan(sentences, kept, limit, wishes, now)
    return PlanView(**dict(plan), length_ms=round(kept / now) - plan.gain_ms, limit_ms=limit)


@router.post("/quotes/{quote_id}/split")
async def split_quote(quote_id: RowId, asked: SplitAsked, conn: TheConnection, server: TheServer) -> SplitView:
    """Splits a version in parts at its best turning points, and keeps them as quotes of their own where asked."""
    quote, recording, context = await loaded(conn, server, quote_id)
    limit = _limit(quote, recording, context, asked.destination)
    sentences = await _sentences(conn, server, quote, recording, context.talk, asked.destination)
    version = quote.document.version(asked.destination)
    planned = split(sentences, limit, asked.count, version.speed if version else 1.0)
    made: list[QuoteBrief] = []
    if asked.make:
        spans = [one.span for one in planned]
        for document in as_quotes(quote.document, spans, asked.destination, recap=asked.recap, end_line=asked.end_line):
            part = await quotes.keep(
                conn, recording.id, document, f"Split off “{quote.document.title}”", part_of=quote_id
            )
            made.append(brief(await quotes.one(conn, part), recording, context.talk))
    return SplitView(parts=list(planned), made=made)


@router.get("/quotes/{quote_id}/sound.wav")
async def get_sound(quote_id: RowId, destination: str, server: TheServer, plain: bool = False) -> Response:
    """The sound of a version as it will be: cut, crossfaded and at its speed, with its music, at the level it was recorded with.
    `plain` is without anything that is done to the voice, to compare."""
    async with server.connection() as conn:
        quote, recording, context = await loaded(conn, server, quote_id)
        _sound(server, recording)
        assembly = assemble(quote.document, context, recording.facts, _version(quote, context, destination))
        held = server.sounds.held(assembly)
        sources = await sources_of(conn, server, recording, assembly)
        contents = await house_sounds.contents(conn, assembly.house_sounds - set(held))
    async with server.tools.turn():
        music = held | await server.sounds.taken(assembly, contents)
        with server.media.scratch(f"sound-{uuid4().hex}") as scratch:
            wav = await server.sounds.wav(assembly, recording.content, sources, scratch, music, plain=plain)
    return Response(wav, media_type="audio/wav", headers={"cache-control": "no-store"})


@router.get("/recordings/{recording_id}/loupe")
async def look_closely(recording_id: RowId, at_ms: Moment, server: TheServer) -> LoupeView:
    """The sound around a moment, closely."""
    async with server.connection() as conn:
        recording = await recordings.one(conn, recording_id)
    start = max(0, at_ms - LOUPE_MS // 2) // LEVEL_MS * LEVEL_MS
    span = Span(start_ms=start, end_ms=start + LOUPE_MS)
    source = _sound(server, recording)
    if start >= recording.duration_ms:
        return LoupeView(from_ms=start, step_ms=_LOUPE_STEP_MS, peaks=[], quiet_ms=[])
    async with server.tools.turn():
        peaks = await closely(source, recording.sound_track, span, _LOUPE_STEP_MS)
    each = LEVEL_MS // _LOUPE_STEP_MS
    levels = bytes(max(peaks[i : i + each]) for i in range(0, len(peaks), each))
    return LoupeView(from_ms=start, step_ms=_LOUPE_STEP_MS, peaks=peaks, quiet_ms=list(quiet_points(levels, start)))


def _sound(server: ServerState, recording: RecordingRow) -> Path:
    """The file that a recording is heard from. Raises `NotFound` where there is none."""
    source = server.media.store.local(recording.media_path)
    if not recording.sound_tracks or not source.exists():
        raise NotFound("There is no sound of this recording to be heard.")
    return source


def _version(quote: QuoteRow, context: Context, destination: str) -> Destination:
    if quote.document.version(destination) is None:
        raise EditRefused("This quote has no version for that destination.")
    return context.catalogue.destination(destination)


def _limit(quote: QuoteRow, recording: RecordingRow, context: Context, destination: str) -> int:
    """How long the cut of a version may be, so that its clip keeps the limit."""
    place = _version(quote, context, destination)
    length = cut_ms(quote.document, recording.facts, place)
    return max(1000, place.limit_ms - added_ms(quote.document, context.catalogue, length))


async def _sentences(
    conn: Connection, server: ServerState, quote: QuoteRow, recording: RecordingRow, talk: Talk, destination: str
) -> tuple[CutSentence, ...]:
    """The sentences of a version with what they are worth, by the finder."""
    try:
        finder = await server.finders.of(conn, recording)
    except NotSentences:
        return parts_of(quote.document, talk, destination, {})
    columns = zip(finder.facts.opens, finder.facts.lands, finder.facts.telling, strict=True)
    known = {
        one.first_word: Worth(opens=float(opens), lands=float(lands), tells=float(tells))
        for one, (opens, lands, tells) in zip(finder.talk.sentences, columns, strict=True)
    }
    return parts_of(quote.document, talk, destination, known)
