"""The workbench: one quote, its edits, undo and redo, and making its versions."""

import asyncio
from typing import Annotated, Any

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, StringConstraints, TypeAdapter, ValidationError

from nimble_quote.api.checking import checked
from nimble_quote.api.editing import make_edit
from nimble_quote.api.exporting import ExpectedSize, ExportRequest, ask_for_all, expected_sizes
from nimble_quote.api.footage import with_footage
from nimble_quote.api.numbers import Revision, RowId
from nimble_quote.api.quoting import quote_view, resolved_view, version_view
from nimble_quote.api.routes.outbox import export_view
from nimble_quote.api.state import ServerState, TheCatalogue, TheConnection, TheServer, loaded
from nimble_quote.api.undoing import take_back
from nimble_quote.api.views.catalogue import CatalogueView
from nimble_quote.api.views.outbox import ExportView
from nimble_quote.api.views.workbench import ChecksView, QuoteView, ResolvedView, VersionChecks, VersionView
from nimble_quote.core.catalogue import NotInCatalogue
from nimble_quote.core.context import Context
from nimble_quote.core.edits import Edit, EditRefused, apply_edit
from nimble_quote.core.edits.touching import go_together
from nimble_quote.core.making import Codec
from nimble_quote.core.ranges import RANGES
from nimble_quote.core.verdicts import holding
from nimble_quote.formats.encodings import ENCODINGS
from nimble_quote.formats.spoken import NAMES
from nimble_quote.formats.transcripts import READERS
from nimble_quote.store import exports, quotes, recordings
from nimble_quote.store.database import Connection
from nimble_quote.store.quotes import QuoteRow, StaleRevision

router = APIRouter(prefix="/api")
_EDIT: TypeAdapter[Edit] = TypeAdapter(Edit)

Person = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]


class Change(BaseModel):
    """An edit, the revision that the person saw when they made it, and what they call themselves."""

    model_config = ConfigDict(
        json_schema_extra={
            "examples": [{"on_revision": 3, "edit": {"kind": "rename", "title": "Keep the wick short"}, "by": "Ada"}]
        }
    )
    on_revision: Revision
    edit: Edit
    by: Person | None = None


class Step(BaseModel):
    """A step back or forward from a revision, and what who takes it calls themselves."""

    on_revision: Revision
    by: Person | None = None


class Trial(BaseModel):
    """An edit to look at before it is made, and the version to look at."""

    edit: Edit
    destination: str


@router.get("/catalogue")
async def get_catalogue(catalogue: TheCatalogue) -> CatalogueView:
    """The destinations, caption styles and faces, also those that are offered no more."""
    return CatalogueView(
        **dict(catalogue), ranges=RANGES, encodings=ENCODINGS, transcripts=sorted(READERS), languages=NAMES
    )


@router.get("/quotes/{quote_id}")
async def get_quote(quote_id: RowId, conn: TheConnection, server: TheServer) -> QuoteView:
    """A quote: how it is cut, and how long its versions run."""
    return await seen(conn, server, quote_id)


@router.get("/quotes/{quote_id}/versions")
async def get_versions(quote_id: RowId, server: TheServer) -> ResolvedView:
    """The versions of a quote resolved and checked: what they look like, and what is wrong with them."""
    async with server.connection() as conn:
        quote, recording, context = await loaded(conn, server, quote_id)
    # In a thread of its own: the next edit is not to wait for what the last one looks like.
    return await asyncio.to_thread(resolved_view, quote, recording, context)


@router.get("/quotes/{quote_id}/checks")
async def get_checks(quote_id: RowId, server: TheServer) -> ChecksView:
    """All that is wrong with the versions of a quote, and whether it holds their export."""
    async with server.connection() as conn:
        quote, recording, context = await loaded(conn, server, quote_id)
    wanted = [version.destination for version in quote.document.versions]
    found = await checked(server.contrasts, quote.document, recording, context, wanted)
    return ChecksView(
        quote_id=quote_id, title=quote.document.title, revision=quote.revision,
        versions=[
            VersionChecks(destination=name, findings=findings, held=bool(holding(findings)))
            for name, findings in found.items()
        ],
    )  # fmt: skip


@router.post("/quotes/{quote_id}/edits")
async def edit_quote(quote_id: RowId, change: Change, conn: TheConnection, server: TheServer) -> QuoteView:
    """Changes a quote. Where it was changed since the revision the edit was made on, the edit is made on top of those
    changes if it is about other things, and refused with 409 if not."""
    quote = await quotes.one(conn, quote_id, lock=True)
    recording = await recordings.one(conn, quote.recording_id)
    context = await server.contexts.around(conn, recording, quote.document.span)
    meanwhile = await _meanwhile(conn, quote, change, context)
    await make_edit(conn, quote, await with_footage(conn, change.edit), context, change.by)
    return quote_view(await quotes.one(conn, quote_id), recording, context, meanwhile)


async def _meanwhile(conn: Connection, quote: QuoteRow, change: Change, context: Context) -> list[str]:
    """What was done since the revision that a change was made on. Raises `StaleRevision` where it does not go together."""
    if quote.revision == change.on_revision:
        return []
    made = await quotes.made_since(conn, quote.id, change.on_revision)
    if not made or not all(_go_together(change.edit, stored, context) for _, stored in made):
        raise StaleRevision(quote.id, change.on_revision, quote.revision, [said for said, _ in made or []])
    return [said for said, _ in made]


def _go_together(mine: Edit, stored: dict[str, Any], context: Context) -> bool:
    """Whether an edit goes with one that is stored. One that can't be read any more touches everything."""
    try:
        return go_together(mine.touches(context), _EDIT.validate_python(stored).touches(context))
    except (ValidationError, NotInCatalogue):
        return False


@router.post("/quotes/{quote_id}/trial")
async def try_edit(quote_id: RowId, trial: Trial, conn: TheConnection, server: TheServer) -> VersionView:
    """A version as it would be after an edit, which is not made: what a drag shows while it goes on."""
    quote, recording, context = await loaded(conn, server, quote_id)
    document = apply_edit(quote.document, await with_footage(conn, trial.edit), context)
    if document.version(trial.destination) is None:
        raise EditRefused("This quote has no version for that destination.")
    return version_view(trial.destination, document, recording, context)


@router.post("/quotes/{quote_id}/undo")
async def undo(quote_id: RowId, step: Step, conn: TheConnection, server: TheServer) -> QuoteView:
    """Takes back the last edit of who asks. What others changed since stays, where it is about other things; where it is
    not, it is refused with 409."""
    quote = await unchanged(conn, quote_id, step.on_revision)
    if quote.undo_by is None or quote.undo_by == step.by:
        await quotes.undo(conn, quote_id)
    else:
        await take_back(conn, server, quote, step.by)
    return await seen(conn, server, quote_id)


@router.post("/quotes/{quote_id}/redo")
async def redo(quote_id: RowId, step: Step, conn: TheConnection, server: TheServer) -> QuoteView:
    """Makes the edit again that was last taken back."""
    await unchanged(conn, quote_id, step.on_revision)
    await quotes.redo(conn, quote_id)
    return await seen(conn, server, quote_id)


@router.post("/quotes/{quote_id}/remove")
async def remove_quote(quote_id: RowId, conn: TheConnection, server: TheServer) -> QuoteView:
    """Takes a quote off the lists."""
    await quotes.set_removed(conn, quote_id, True)
    return await seen(conn, server, quote_id)


@router.post("/quotes/{quote_id}/restore")
async def restore_quote(quote_id: RowId, conn: TheConnection, server: TheServer) -> QuoteView:
    """Puts a removed quote back on the lists."""
    await quotes.set_removed(conn, quote_id, False)
    return await seen(conn, server, quote_id)


@router.get("/quotes/{quote_id}/sizes")
async def get_sizes(quote_id: RowId, destination: str, server: TheServer, codec: Codec = "h264") -> list[ExpectedSize]:
    """How large a version is likely to come at each quality."""
    return await expected_sizes(server, quote_id, destination, codec)


@router.post("/quotes/{quote_id}/exports", status_code=201)
async def export_versions(quote_id: RowId, request: ExportRequest, server: TheServer) -> list[ExportView]:
    """Queues the versions of a quote to be made, and what else is wanted of it; one that is being made already is left as it is, and
    one that is there is used. Refused with 409 where something would spoil a post, and no reason was given why it may."""
    asked = await ask_for_all(server, quote_id, request)
    async with server.connection() as conn:
        return [export_view(await exports.one(conn, one)) for one in asked]


async def unchanged(conn: Connection, quote_id: int, on_revision: int) -> QuoteRow:
    """A quote, locked, as a person saw it. Raises `StaleRevision` where it was changed since."""
    quote = await quotes.one(conn, quote_id, lock=True)
    if quote.revision != on_revision:
        raise StaleRevision(quote_id, on_revision, quote.revision)
    return quote


async def seen(conn: Connection, server: ServerState, quote_id: int) -> QuoteView:
    """A quote as it is now."""
    return quote_view(*await loaded(conn, server, quote_id))
