"""The caption styles of a house, the faces it brought, and its palette."""

import asyncio
import hashlib
from typing import Annotated
from urllib.parse import quote

from fastapi import APIRouter, Query, Request, Response
from pydantic import BaseModel, Field

from nimble_quote.api.bodies import whole_body
from nimble_quote.api.routes.house import ANY_BODY, Retiring
from nimble_quote.api.samples import SAMPLE_FACTS, sample_talk
from nimble_quote.api.state import TheCatalogue, TheConnection, TheServer
from nimble_quote.core.assembly import assemble
from nimble_quote.core.captions.styles import CaptionStyle, Face, StyleWanted
from nimble_quote.core.catalogue import Catalogue, NotInCatalogue
from nimble_quote.core.context import Context
from nimble_quote.core.document import Colour
from nimble_quote.core.edits import ChangeCaptionLook, HoldCaptionStyle, apply_edit, describe_edit, new_quote
from nimble_quote.core.refusal import Missing, Refused
from nimble_quote.formats.ass import faces_in, write_ass
from nimble_quote.formats.style_file import MOST_BYTES, read_style, write_style
from nimble_quote.lettering import fitting
from nimble_quote.lettering.fitting import UnfitFace
from nimble_quote.media.files import download_name
from nimble_quote.store import catalogue, quotes, styles
from nimble_quote.store.database import Connection

router = APIRouter(prefix="/api")


class NoSuchStyle(Missing):
    """There is no caption style of that id."""

    code = "no-style"


class FaceRefused(Refused):
    """A file can't be brought in as a face; says why."""

    code = "no-face"


class StyleChanged(BaseModel):
    """A style after a change, and how many quotes look otherwise by it: those that follow it; those of which clips were made as they
    are hold the version before."""

    style: CaptionStyle
    follow: int
    held: int


class Follows(BaseModel):
    """How many quotes a change of a style would reach, and how many would hold what it is now."""

    follow: int
    exported: int


class Palette(BaseModel):
    """The house's colours, to choose from."""

    colours: Annotated[list[Colour], Field(max_length=24)]


class SampleWanted(BaseModel):
    """A style to be seen: on some words, in a destination."""

    style: StyleWanted
    destination: str
    text: Annotated[str, Field(max_length=300)] = ""


class SampleView(BaseModel):
    """A style as it looks: the script of some words, for how many seconds, and the faces that it names."""

    script: str
    seconds: float
    width: int
    height: int
    faces: list[str]


@router.post("/styles", status_code=201)
async def add_style(wanted: StyleWanted, conn: TheConnection, now: TheCatalogue, by: str | None = None) -> CaptionStyle:
    """Adds a caption style of the house's own."""
    _checked(wanted, now)
    id_ = await styles.add(conn, wanted, _name(by))
    return await _style(conn, id_)


@router.put("/styles/{style}")
async def change_style(
    style: str, wanted: StyleWanted, conn: TheConnection, server: TheServer, now: TheCatalogue, by: str | None = None
) -> StyleChanged:
    """Sets what a style is from now on: quotes that follow it look so at once. Those of which a clip was made as they are hold what it
    was."""
    before = await _style(conn, style)
    _checked(wanted, now, besides=style)
    follow, exported = await styles.following(conn, style)
    version = await styles.change(conn, style, wanted, _name(by))
    if version == before.version:
        return StyleChanged(style=await _style(conn, style), follow=0, held=0)
    after = await catalogue.whole(conn)
    lettering = await server.contexts.lettering(conn, after)
    # Neither the words of a quote nor its picture matter for what style it holds.
    context = Context(talk=sample_talk(""), catalogue=after, lettering=lettering)
    for quote_id in exported:
        await _hold(conn, quote_id, before.version, context)
    return StyleChanged(style=after.style(style), follow=len(follow), held=len(exported))


async def _hold(conn: Connection, quote_id: int, version: int, context: Context) -> None:
    """Has a quote hold the version of its style that it was exported with."""
    held = await quotes.one(conn, quote_id, lock=True)
    edit = HoldCaptionStyle(held=version)
    document = apply_edit(held.document, edit, context)
    await quotes.revise(conn, held, edit, describe_edit(held.document, edit, context), document)


@router.get("/styles/{style}/follows")
async def get_follows(style: str, conn: TheConnection) -> Follows:
    """How many quotes a change of a style would reach."""
    await _style(conn, style)
    follow, exported = await styles.following(conn, style)
    return Follows(follow=len(follow), exported=len(exported))


@router.post("/styles/{style}/retire")
async def retire_style(style: str, retiring: Retiring, conn: TheConnection, now: TheCatalogue) -> CaptionStyle:
    """Offers a style no more, or again. Quotes that have it keep it."""
    await _style(conn, style)
    offered = [one.id for one in now.styles if not one.retired]
    if retiring.retired and offered == [style]:
        raise Refused("This is the last caption style that is offered. Add another before you retire it.")
    await styles.retire(conn, style, retiring.retired)
    return await _style(conn, style)


@router.get("/styles/{style}/file", response_class=Response)
async def get_style_file(style: str, conn: TheConnection) -> Response:
    """A style as a JSON file."""
    found = await _style(conn, style)
    name = download_name(found.name, ending=".json")
    return Response(
        write_style(found), media_type="application/json",
        headers={"content-disposition": f"attachment; filename*=UTF-8''{quote(name)}"},
    )  # fmt: skip


@router.post("/styles/file", status_code=201, openapi_extra=ANY_BODY)
async def bring_style(request: Request, server: TheServer, by: str | None = None) -> CaptionStyle:
    """Adds the style in a JSON file (as the body)."""
    wanted = read_style(await whole_body(request, MOST_BYTES))
    async with server.connection() as conn:
        now = await catalogue.whole(conn)
        _checked(wanted, now)
        return await _style(conn, await styles.add(conn, wanted, _name(by)))


@router.post("/styles/sample")
async def get_sample(wanted: SampleWanted, conn: TheConnection, server: TheServer, now: TheCatalogue) -> SampleView:
    """What a style looks like that need not be there yet."""
    _known_face(wanted.style, now)
    lettering = await server.contexts.lettering(conn, now)
    context = Context(talk=sample_talk(wanted.text), catalogue=now, lettering=lettering)
    document = new_quote(context, 0, len(context.talk.words) - 1)
    edit = ChangeCaptionLook(look=wanted.style.look.model_dump(mode="json"))
    assembly = assemble(apply_edit(document, edit, context), context, SAMPLE_FACTS, now.destination(wanted.destination))
    script = write_ass(assembly, lettering)
    return SampleView(
        script=script, seconds=assembly.length_ms / 1000, width=assembly.destination.width, height=assembly.destination.height,
        faces=sorted(faces_in(script)),
    )  # fmt: skip


@router.post("/house/faces", status_code=201, openapi_extra=ANY_BODY)
async def add_face(request: Request, server: TheServer, licence: Annotated[str, Query(max_length=500)] = "") -> Face:
    """Brings a face (TTF or OTF, as the body), with a note of its licence."""
    sent = await whole_body(request, fitting.MOST_BYTES)
    try:
        async with server.tools.turn():
            name, content = await asyncio.to_thread(_fitted, sent)
    except UnfitFace as unfit:
        raise FaceRefused(str(unfit)) from unfit
    file = f"own-{hashlib.sha256(content).hexdigest()[:16]}.{'otf' if content[:4] == b'OTTO' else 'ttf'}"
    async with server.connection() as conn:
        shipped = [one for one in (await catalogue.whole(conn)).faces if one.name == name and not one.own]
        if shipped:
            raise FaceRefused(f"“{name}” ships with Nimble Quote already.")
        await styles.add_face(conn, name, file, licence.strip(), content)
        await server.contexts.lettering_now(conn)
    return Face(name=name, file=file, own=True, licence=licence.strip())


def _fitted(sent: bytes) -> tuple[str, bytes]:
    fitting.check(sent)
    return fitting.name_of(sent), fitting.fitted(sent)


@router.get("/house/faces/{file}", response_class=Response)
async def get_face(file: str, conn: TheConnection) -> Response:
    """A face of the house's."""
    content = await styles.face(conn, file)
    return Response(content, media_type="font/ttf", headers={"cache-control": "max-age=31536000, immutable"})


@router.post("/house/faces/{name}/retire")
async def retire_face(name: str, retiring: Retiring, conn: TheConnection) -> None:
    """Offers a face of the house's no more, or again. Where it was chosen it stays."""
    await styles.retire_face(conn, name, retiring.retired)


@router.put("/house/palette")
async def set_palette(palette: Palette, conn: TheConnection) -> None:
    """Sets the house's colours to choose from."""
    await styles.set_palette(conn, list(dict.fromkeys(palette.colours)))


async def _style(conn: Connection, id_: str) -> CaptionStyle:
    try:
        return (await catalogue.whole(conn)).style(id_)
    except NotInCatalogue as unknown:
        raise NoSuchStyle(str(unknown)) from unknown


def _checked(wanted: StyleWanted, now: Catalogue, besides: str | None = None) -> None:
    _known_face(wanted, now)
    if any(one.name.casefold() == wanted.name.casefold() and one.id != besides for one in now.styles):
        raise Refused(f"There is a caption style called “{wanted.name}” already. Give this one another name.")


def _known_face(wanted: StyleWanted, now: Catalogue) -> None:
    if not now.has_face(wanted.look.face):
        raise Refused(f"There is no face called “{wanted.look.face}” here. Bring it in first, or choose another.")


def _name(by: str | None) -> str | None:
    return by.strip()[:80] or None if by else None
