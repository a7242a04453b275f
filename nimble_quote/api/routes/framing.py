"""How the picture of a quote is framed: what is seen around it, trials, framing taken from elsewhere, light measured."""

import asyncio
from typing import Annotated, Self

from fastapi import APIRouter, Path, Response
from pydantic import BaseModel, Field, TypeAdapter, model_validator

from nimble_quote.api.editing import make_edit
from nimble_quote.api.numbers import Moment, Revision, RowId
from nimble_quote.api.quoting import framed_view, sight_view
from nimble_quote.api.routes.workbench import Person, seen, unchanged
from nimble_quote.api.state import TheConnection, TheServer, loaded
from nimble_quote.api.views.recordings import WorkView
from nimble_quote.api.views.workbench import FramedView, QuoteView, SightView
from nimble_quote.api.work import work_view
from nimble_quote.core.edits import Edit, EditRefused, ExposeFaces, TakeFraming, apply_edit, describe_edit
from nimble_quote.core.framing.exposing import faces_to_measure
from nimble_quote.core.framing.versions import followed_span
from nimble_quote.core.timebase import Span
from nimble_quote.core.transcript.corrections import Name
from nimble_quote.jobs.working import ask_for
from nimble_quote.media.exposure import lumas_of
from nimble_quote.store import quotes, recordings, things, work
from nimble_quote.store.work import Target, on_recording

router = APIRouter(prefix="/api")
Thing = Annotated[int, Path(ge=things.FIRST, le=10_000)]
_FRAMED = TypeAdapter(list[FramedView])


class Taking(BaseModel):
    """The quote whose framing is taken, the revision of one's own that the person saw, and what they call themselves."""

    of: RowId
    on_revision: Revision
    by: Person | None = None


class FramingTrial(BaseModel):
    """An edit of the framing to look at in every version before it is made."""

    edit: Edit


class DrawnBox(BaseModel):
    """A box that a person drew at a moment, in fractions (0..1) of the picture, and what they call what is in it."""

    at_ms: Moment
    x: float = Field(ge=0, lt=1)
    y: float = Field(ge=0, lt=1)
    width: float = Field(ge=0.01, le=1)
    height: float = Field(ge=0.01, le=1)
    name: Name | None = None

    @model_validator(mode="after")
    def _inside(self) -> Self:
        if self.x + self.width > 1.001 or self.y + self.height > 1.001:
            raise ValueError("the box reaches beyond the picture: draw it inside")
        return self


class LookingView(BaseModel):
    """Whether a recording is still being looked at, and a number that counts up whenever more of it has been seen."""

    going_on: bool
    seen: int


class FollowingView(BaseModel):
    """Something that is being followed: its number, and the work."""

    subject: int
    work: WorkView


class Exposing(BaseModel):
    """Whether the faces of one shot are to be exposed well, by a moment in it, or those of all; and on which revision."""

    at_ms: Moment | None = None
    on_revision: Revision
    by: Person | None = None


@router.get("/quotes/{quote_id}/sight")
async def get_sight(quote_id: RowId, server: TheServer) -> SightView:
    """Who and what is followed around a quote, and where they are."""
    async with server.connection() as conn:
        _, _, context = await loaded(conn, server, quote_id)
    return sight_view(context)


@router.post("/quotes/{quote_id}/framing-trial", response_model=list[FramedView])
async def try_framing(quote_id: RowId, trial: FramingTrial, server: TheServer) -> Response:
    """How every version would be framed after an edit, which is not made: what a drag in all shapes shows."""
    async with server.connection() as conn:
        quote, recording, context = await loaded(conn, server, quote_id)

    def framed() -> bytes:
        document = apply_edit(quote.document, trial.edit, context)
        views = [framed_view(one.destination, document, recording, context) for one in document.versions]
        # Written as it is: to have it checked against its own description takes a third of the time of a drag.
        return _FRAMED.dump_json(views)

    return Response(await asyncio.to_thread(framed), media_type="application/json")


@router.post("/quotes/{quote_id}/take-framing")
async def take_framing(quote_id: RowId, taking: Taking, conn: TheConnection, server: TheServer) -> QuoteView:
    """Frames a quote as another of the same recording is framed, where the two show the same shots or set-ups."""
    quote = await unchanged(conn, quote_id, taking.on_revision)
    giver = await quotes.one(conn, taking.of)
    if giver.recording_id != quote.recording_id:
        raise EditRefused("That quote is of another recording. Framing is taken from quotes of the same one.")
    recording = await recordings.one(conn, quote.recording_id)
    spans = quote.document.span, giver.document.span
    both = Span(start_ms=min(one.start_ms for one in spans), end_ms=max(one.end_ms for one in spans))
    context = await server.contexts.around(conn, recording, both)
    edit = TakeFraming(
        title=giver.document.title,
        framing=giver.document.framing,
        treatments={shape: one.framing for shape, one in giver.document.treatments.items()},
    )
    document = apply_edit(quote.document, edit, context)
    await quotes.revise(conn, quote, edit, describe_edit(quote.document, edit, context), document, taking.by)
    return await seen(conn, server, quote_id)


@router.post("/quotes/{quote_id}/follow", status_code=201)
async def follow(quote_id: RowId, drawn: DrawnBox, conn: TheConnection, server: TheServer) -> FollowingView:
    """Has whatever is in a box followed through the shot, as far as the quote reaches, and a little beyond."""
    quote, recording, context = await loaded(conn, server, quote_id)
    within = followed_span(quote.document, context, drawn.at_ms)
    subject = await things.add(conn, recording.id, drawn.name)
    box = drawn.x, drawn.y, drawn.width, drawn.height
    target = Target(name=f"thing {subject} of recording {recording.id}", recording_id=recording.id)
    details = {"subject": subject, "at_ms": drawn.at_ms, "box": box, **within.model_dump()}
    asked = await ask_for(conn, "follow", target, details)
    return FollowingView(subject=subject, work=work_view(await work.one(conn, asked.id)))


@router.post("/quotes/{quote_id}/look-first")
async def look_first(quote_id: RowId, conn: TheConnection, server: TheServer) -> LookingView:
    """Has the stretch of a quote looked at before the rest of its recording, where that is still being looked at."""
    quote, recording, _ = await loaded(conn, server, quote_id)
    span = quote.document.span
    waits = await work.look_first(conn, recording.id, span.start_ms, span.end_ms) if recording.width else None
    if waits == "new":
        # Somebody waits for it now, also where it came by itself.
        await ask_for(conn, "prepare", on_recording(recording.id))
    return LookingView(going_on=waits is not None, seen=recording.picture_version)


@router.post("/recordings/{recording_id}/things/{subject}/remove")
async def remove_thing(recording_id: RowId, subject: Thing, conn: TheConnection) -> None:
    """Has something followed no longer. Where it is shown, the program's own answer is again."""
    await things.set_removed(conn, recording_id, subject, True)


@router.post("/recordings/{recording_id}/things/{subject}/restore")
async def restore_thing(recording_id: RowId, subject: Thing, conn: TheConnection) -> None:
    """Has it followed again."""
    await things.set_removed(conn, recording_id, subject, False)


@router.post("/quotes/{quote_id}/expose-faces")
async def expose_faces(quote_id: RowId, exposing: Exposing, server: TheServer) -> QuoteView:
    """Makes the faces of a shot, or of all shots, as light as they should be: those of one set-up alike."""
    async with server.connection() as conn:
        quote, recording, context = await loaded(conn, server, quote_id)
    faces = await asyncio.to_thread(faces_to_measure, quote.document, context, exposing.at_ms)
    path = server.media.store.local(recording.plays)
    async with server.tools.turn():
        measured = [await lumas_of(path, (recording.width, recording.height), one.faces) for one in faces]
    edit = ExposeFaces(shots=[one.measured(lumas) for one, lumas in zip(faces, measured, strict=True)])
    async with server.connection() as conn:
        quote = await unchanged(conn, quote_id, exposing.on_revision)
        await make_edit(conn, quote, edit, context, exposing.by)
        return await seen(conn, server, quote_id)
