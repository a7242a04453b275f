"""The workbench: one quote, its edits, undo and redo, and making its versions."""

from fastapi import APIRouter
from pydantic import BaseModel

from nimble_quote.api.place import TheConnection, quote_view, version_view
from nimble_quote.api.routes.outbox import export_view
from nimble_quote.api.talks import talk_around
from nimble_quote.api.views import Catalogue, ExportView, QuoteView, VersionView
from nimble_quote.core.assembly import assemble
from nimble_quote.core.captions.styles import STYLES
from nimble_quote.core.destinations import BUILT_IN
from nimble_quote.core.edits import Edit, EditRefused, apply_edit, describe_edit
from nimble_quote.core.framing.window import SOFT_BELOW
from nimble_quote.jobs.queue import EXPORT, enqueue
from nimble_quote.store import exports, quotes, recordings
from nimble_quote.store.database import Connection
from nimble_quote.store.quotes import QuoteRow, StaleRevision

router = APIRouter(prefix="/api")


class Change(BaseModel):
    """An edit, and the revision that the person saw when they made it."""

    on_revision: int
    edit: Edit


class Step(BaseModel):
    """A step back or forward from a revision."""

    on_revision: int


class Trial(BaseModel):
    """An edit to look at before it is made, and the version to look at."""

    edit: Edit
    destination: str


class ExportRequest(BaseModel):
    """Which versions to make; all of them where none is named."""

    destinations: list[str] = []


@router.get("/catalogue")
async def get_catalogue() -> Catalogue:
    """The destinations and caption styles that ship."""
    return Catalogue(destinations=list(BUILT_IN.values()), styles=list(STYLES.values()), soft_below=SOFT_BELOW)


@router.get("/quotes/{quote_id}")
async def get_quote(quote_id: int, conn: TheConnection) -> QuoteView:
    """A quote with its versions resolved."""
    return await _view(conn, quote_id)


@router.post("/quotes/{quote_id}/edits")
async def edit_quote(quote_id: int, change: Change, conn: TheConnection) -> QuoteView:
    """Changes a quote. Refused with 409 where it was changed since the revision the edit was made on."""
    quote = await _unchanged(conn, quote_id, change.on_revision)
    recording = await recordings.one(conn, quote.recording_id)
    talk = await talk_around(conn, recording, quote.document.span)
    document = apply_edit(quote.document, change.edit, talk)
    if document != quote.document:
        said = describe_edit(quote.document, change.edit, talk)
        await quotes.revise(conn, quote, change.edit, said, document)
    return quote_view(await quotes.one(conn, quote_id), recording, talk)


@router.post("/quotes/{quote_id}/trial")
async def try_edit(quote_id: int, trial: Trial, conn: TheConnection) -> VersionView:
    """A version as it would be after an edit, which is not made: what a drag shows while it goes on."""
    quote = await quotes.one(conn, quote_id)
    recording = await recordings.one(conn, quote.recording_id)
    talk = await talk_around(conn, recording, quote.document.span)
    document = apply_edit(quote.document, trial.edit, talk)
    if document.version(trial.destination) is None:
        raise EditRefused("This quote has no version for that destination.")
    return version_view(trial.destination, document, recording, talk)


@router.post("/quotes/{quote_id}/undo")
async def undo(quote_id: int, step: Step, conn: TheConnection) -> QuoteView:
    """Takes the last edit back."""
    await _unchanged(conn, quote_id, step.on_revision)
    await quotes.undo(conn, quote_id)
    return await _view(conn, quote_id)


@router.post("/quotes/{quote_id}/redo")
async def redo(quote_id: int, step: Step, conn: TheConnection) -> QuoteView:
    """Makes the edit again that was last taken back."""
    await _unchanged(conn, quote_id, step.on_revision)
    await quotes.redo(conn, quote_id)
    return await _view(conn, quote_id)


@router.post("/quotes/{quote_id}/remove")
async def remove_quote(quote_id: int, conn: TheConnection) -> QuoteView:
    """Takes a quote off the lists."""
    await quotes.set_removed(conn, quote_id, True)
    return await _view(conn, quote_id)


@router.post("/quotes/{quote_id}/restore")
async def restore_quote(quote_id: int, conn: TheConnection) -> QuoteView:
    """Puts a removed quote back on the lists."""
    await quotes.set_removed(conn, quote_id, False)
    return await _view(conn, quote_id)


@router.post("/quotes/{quote_id}/exports", status_code=201)
async def export_versions(quote_id: int, request: ExportRequest, conn: TheConnection) -> list[ExportView]:
    """Queues the versions of a quote to be made; one that is being made already is left as it is."""
    quote = await quotes.one(conn, quote_id)
    recording = await recordings.one(conn, quote.recording_id)
    talk = await talk_around(conn, recording, quote.document.span)
    wanted = request.destinations or [version.destination for version in quote.document.versions]
    made = []
    for destination in wanted:
        if quote.document.version(destination) is None:
            raise EditRefused("This quote has no version for that destination.")
        assembly = assemble(quote.document, talk, recording.facts, BUILT_IN[destination])
        export_id = await exports.queue(conn, quote_id, quote.revision, assembly)
        if export_id is not None:
            await enqueue(conn, EXPORT, export_id=export_id)
            made.append(export_view(await exports.one(conn, export_id)))
    return made


async def _unchanged(conn: Connection, quote_id: int, on_revision: int) -> QuoteRow:
    quote = await quotes.one(conn, quote_id, lock=True)
    if quote.revision != on_revision:
        raise StaleRevision(quote_id, on_revision, quote.revision)
    return quote


async def _view(conn: Connection, quote_id: int) -> QuoteView:
    quote = await quotes.one(conn, quote_id)
    recording = await recordings.one(conn, quote.recording_id)
    return quote_view(quote, recording, await talk_around(conn, recording, quote.document.span))
