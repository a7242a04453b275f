"""Quotes as packages, to another house and from it; and what a clip says, for other programs."""

from typing import Annotated, Literal
from urllib.parse import quote

from fastapi import APIRouter, Query, Request, Response
from fastapi.responses import StreamingResponse

from nimble_quote.api.bodies import whole_body
from nimble_quote.api.numbers import RowId
from nimble_quote.api.packaging import looked_at, packed, taken_in
from nimble_quote.api.routes.house import ANY_BODY
from nimble_quote.api.saying import said_in
from nimble_quote.api.state import TheConnection, TheServer, loaded
from nimble_quote.api.views.packages import PackageView, TakenInView
from nimble_quote.core.assembly import assemble
from nimble_quote.core.chapters import chapters_of
from nimble_quote.core.edits import EditRefused
from nimble_quote.formats.archive import zip_of
from nimble_quote.formats.package import MOST_BYTES, read_package
from nimble_quote.formats.said import write_chapters_json, write_chapters_webvtt, write_words
from nimble_quote.media.files import download_name
from nimble_quote.store import quotes

router = APIRouter(prefix="/api")
SaidKind = Literal["words.json", "chapters.vtt", "chapters.json"]


@router.get("/packages.zip", response_class=StreamingResponse)
async def get_package(
    ids: Annotated[list[RowId], Query(min_length=1, max_length=100)],
    conn: TheConnection,
    server: TheServer,
    clips: bool = False,
) -> StreamingResponse:
    """Quotes as a package for another house, or for other programs: documents, captions, words, stills, and what of the house's own
    they show; with the newest clips where they are wanted."""
    rows = [await quotes.one(conn, one) for one in dict.fromkeys(ids)]
    title = rows[0].document.title if len(rows) == 1 else f"{len(rows)} quotes"
    archive = zip_of([await packed(conn, server, [row.id for row in rows], title, clips=clips)])
    name = download_name(title, ending=".quotes.zip")
    return StreamingResponse(
        archive, media_type="application/zip",
        headers={"content-length": str(len(archive)), "content-disposition": f"attachment; filename*=utf-8''{quote(name)}"},
    )  # fmt: skip


@router.post("/packages/look", openapi_extra=ANY_BODY)
async def look_at_package(request: Request, server: TheServer) -> PackageView:
    """What a package (as the body) would become here, and what is missing for it. Nothing is kept."""
    package = read_package(await whole_body(request, MOST_BYTES))
    async with server.connection() as conn:
        return await looked_at(conn, server, package)


@router.post("/packages", status_code=201, openapi_extra=ANY_BODY)
async def take_package_in(request: Request, server: TheServer) -> TakenInView:
    """Keeps the quotes of a package (as the body) whose recordings are here, with what of the other house they show."""
    return await taken_in(server, read_package(await whole_body(request, MOST_BYTES)))


@router.get("/quotes/{quote_id}/said/{kind}", response_class=Response)
async def get_said(
    quote_id: RowId, kind: SaidKind, destination: str, conn: TheConnection, server: TheServer
) -> Response:
    """What a version says, for other programs: its words one by one, or its chapters."""
    row, recording, context = await loaded(conn, server, quote_id)
    if row.document.version(destination) is None:
        raise EditRefused("This quote has no version for that destination.")
    place = context.catalogue.destination(destination)
    assembly = assemble(row.document, context, recording.facts, place)
    said = said_in(row.document, context, recording, assembly)
    if kind == "words.json":
        text = write_words(said, context.talk)
    else:
        chapters = chapters_of(said.words, context.talk, assembly.length_ms)
        text = (
            write_chapters_webvtt(chapters)
            if kind.endswith("vtt")
            else write_chapters_json(chapters, row.document.title)
        )
    name = download_name(recording.title, row.document.title, place.name, ending=f".{kind}")
    return Response(
        text.encode(), media_type="text/vtt" if kind.endswith("vtt") else "application/json",
        headers={"content-disposition": f"attachment; filename*=utf-8''{quote(name)}"},
    )  # fmt: skip
