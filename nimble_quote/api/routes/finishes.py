"""The finishes of a house: made of a quote, applied to many, changed for all that follow them, taken along as files."""

from typing import Annotated
from urllib.parse import quote as quoted

from fastapi import APIRouter, Request, Response
from pydantic import BaseModel, Field, StringConstraints

from nimble_quote.api.bodies import whole_body
from nimble_quote.api.routes.house import ANY_BODY, Retiring
from nimble_quote.api.samples import sample_talk
from nimble_quote.api.state import ServerState, TheCatalogue, TheConnection, TheServer, loaded
from nimble_quote.core.catalogue import Catalogue, NotInCatalogue
from nimble_quote.core.context import Context
from nimble_quote.core.edits import ChooseFinish, Edit, HoldFinish, apply_edit, describe_edit
from nimble_quote.core.finishes import Finish, FinishWanted, Name, items_of
from nimble_quote.core.refusal import Missing, Refused
from nimble_quote.formats.finish_file import (
    MOST_BYTES,
    assets_of,
    pictures_of,
    read_finish,
    sounds_of,
    write_finish,
)
from nimble_quote.media.files import download_name
from nimble_quote.media.house_pictures import house_picture
from nimble_quote.media.house_sounds import house_sound
from nimble_quote.store import catalogue, finishes, house, house_sounds, quotes
from nimble_quote.store.database import Connection

router = APIRouter(prefix="/api")


class NoSuchFinish(Missing):
    """There is no finish of that id."""

    code = "no-finish"


class FinishOf(BaseModel):
    """A finish that is made of what stands over the picture of a quote."""

    name: Name
    said: Annotated[str, Field(max_length=120)] = ""
    quote: int


class FinishChanged(BaseModel):
    """A finish after a change, and how many quotes look otherwise by it: those that follow it; those of which clips were made as they
    are hold the version before."""

    finish: Finish
    follow: int
    held: int


class FinishFollows(BaseModel):
    """How many quotes a change of a finish would reach, and how many would hold what it is now."""

    follow: int
    exported: int


class Applying(BaseModel):
    """The quotes that are to follow a finish, and what who asks calls themselves."""

    quotes: Annotated[list[int], Field(max_length=500)]
    by: Annotated[str, Field(max_length=80)] | None = None


class SeriesFinish(BaseModel):
    """The finish that new quotes of a series are to follow; none where it is null."""

    series: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
    finish: str | None


class Applied(BaseModel):
    """How many quotes follow a finish now that did not before."""

    changed: int


@router.post("/finishes", status_code=201)
async def add_finish(wanted: FinishOf, conn: TheConnection, server: TheServer, now: TheCatalogue) -> Finish:
    """Makes a finish of what stands over the picture of a quote at the clip; what stands at words is the quote's alone."""
    made = await _made_of(conn, server, wanted)
    _free_name(made.name, now)
    return await _finish(conn, await finishes.add(conn, made, None))


@router.put("/finishes/{finish}")
async def change_finish(
    finish: str, wanted: FinishOf, conn: TheConnection, server: TheServer, now: TheCatalogue
) -> FinishChanged:
    """Sets what a finish is from now on: as a quote has it. Quotes that follow it look so at once; those of which a clip was made as
    they are hold what it was."""
    before = await _finish(conn, finish)
    made = await _made_of(conn, server, wanted)
    _free_name(made.name, now, besides=finish)
    follow, exported = await finishes.following(conn, finish)
    version = await finishes.change(conn, finish, made, None)
    if version == before.version:
        return FinishChanged(finish=await _finish(conn, finish), follow=0, held=0)
    held = [one for one in exported if one != wanted.quote]
    await _each(conn, server, held, HoldFinish(held=before.version))
    return FinishChanged(finish=await _finish(conn, finish), follow=len(follow), held=len(held))


@router.get("/finishes/{finish}/follows")
async def get_finish_follows(finish: str, conn: TheConnection) -> FinishFollows:
    """How many quotes a change of a finish would reach."""
    await _finish(conn, finish)
    follow, exported = await finishes.following(conn, finish)
    return FinishFollows(follow=len(follow), exported=len(exported))


@router.post("/finishes/{finish}/apply")
async def apply_finish(finish: str, applying: Applying, conn: TheConnection, server: TheServer) -> Applied:
    """Has quotes follow a finish; those that do already stay as they are."""
    await _finish(conn, finish)
    return Applied(
        changed=await _each(conn, server, applying.quotes, ChooseFinish(finish=finish), applying.by, besides=finish)
    )


@router.put("/series-finish")
async def set_series_finish(wanted: SeriesFinish, conn: TheConnection) -> None:
    """Sets which finish new quotes of a series follow; quotes that are there stay as they are."""
    if wanted.finish is not None:
        await _finish(conn, wanted.finish)
    await finishes.set_for_series(conn, wanted.series, wanted.finish)


@router.post("/finishes/{finish}/retire")
async def retire_finish(finish: str, retiring: Retiring, conn: TheConnection) -> Finish:
    """Offers a finish no more, or again. Quotes that follow it keep it."""
    await finishes.retire(conn, (await _finish(conn, finish)).id, retiring.retired)
    return await _finish(conn, finish)


@router.get("/finishes/{finish}/file", response_class=Response)
async def get_finish_file(finish: str, conn: TheConnection, now: TheCatalogue) -> Response:
    """A finish as a JSON file, with its pictures and sounds in it."""
    found = await _finish(conn, finish)
    pictures = await house.pictures(conn, pictures_of(found))
    sounds = await house_sounds.contents(conn, sounds_of(found))
    name = download_name(found.name, ending=".json")
    return Response(
        write_finish(found, assets_of(pictures, now.picture), assets_of(sounds, now.sound)), media_type="application/json",
        headers={"content-disposition": f"attachment; filename*=UTF-8''{quoted(name)}"},
    )  # fmt: skip


@router.post("/finishes/file", status_code=201, openapi_extra=ANY_BODY)
async def bring_finish(request: Request, server: TheServer) -> Finish:
    """Adds the finish in a JSON file (as the body), and the pictures and sounds in it that the house does not have yet."""
    read = read_finish(await whole_body(request, MOST_BYTES))
    # Looked at before anything of it is kept.
    wanted = read.with_numbers(dict.fromkeys(read.pictures, 1), dict.fromkeys(read.sounds, 1))
    async with server.tools.turn():
        pictures = {number: await house_picture(one.content) for number, one in read.pictures.items()}
    async with server.tools.turn():
        sounds = {number: await house_sound(one.content) for number, one in read.sounds.items()}
    async with server.connection() as conn:
        _free_name(wanted.name, await catalogue.whole(conn))
        shown = {
            number: (await house.add_picture(conn, read.pictures[number].name, made, read.pictures[number].licence)).id
            for number, made in pictures.items()
        }
        heard = {
            number: (await house_sounds.add(conn, read.sounds[number].name, made, read.sounds[number].licence)).id
            for number, made in sounds.items()
        }
        return await _finish(conn, await finishes.add(conn, read.with_numbers(shown, heard), None))


async def _made_of(conn: Connection, server: ServerState, wanted: FinishOf) -> FinishWanted:
    quote, _, context = await loaded(conn, server, wanted.quote)
    items = items_of(context.catalogue.overlays(quote.document))
    if not items:
        raise Refused(
            "Everything over this quote's picture is tied to its words, so there is nothing to make a finish of."
        )
    return FinishWanted(name=wanted.name, said=wanted.said, items=items)


async def _each(
    conn: Connection,
    server: ServerState,
    chosen: list[int],
    edit: Edit,
    by: str | None = None,
    besides: str | None = None,
) -> int:
    """Makes one edit of several quotes; how many it changed."""
    after = await catalogue.whole(conn)
    # Neither the words of a quote nor its picture matter for what finish it follows.
    context = Context(talk=sample_talk(""), catalogue=after, lettering=await server.contexts.lettering(conn, after))
    changed = 0
    for quote_id in dict.fromkeys(chosen):
        quote = await quotes.one(conn, quote_id, lock=True)
        if besides is not None and quote.document.finish == besides:
            continue
        document = apply_edit(quote.document, edit, context)
        await quotes.revise(conn, quote, edit, describe_edit(quote.document, edit, context), document, by)
        changed += 1
    return changed


async def _finish(conn: Connection, id_: str) -> Finish:
    try:
        return (await catalogue.whole(conn)).finish(id_)
    except NotInCatalogue as unknown:
        raise NoSuchFinish(str(unknown)) from unknown


def _free_name(name: str, now: Catalogue, besides: str | None = None) -> None:
    if any(one.name.casefold() == name.casefold() and one.id != besides and not one.retired for one in now.finishes):
        raise Refused(f"There is a finish called “{name}” already. Give this one another name.")
