"""What a house sets up for every week: its destinations, its pictures and its colour."""

from typing import Annotated, Any

from fastapi import APIRouter, Path, Query, Request, Response
from pydantic import BaseModel, StringConstraints

from nimble_quote.api.bodies import whole_body
from nimble_quote.api.numbers import RowId
from nimble_quote.api.state import TheConnection, TheServer
from nimble_quote.core.catalogue import NotInCatalogue, Picture
from nimble_quote.core.destinations import LARGEST_PX, Destination, Unfit, Wanted, shape_for
from nimble_quote.core.document import Colour
from nimble_quote.core.refusal import Missing
from nimble_quote.media.house_pictures import MOST_BYTES, house_picture, scaled_picture
from nimble_quote.store import catalogue, house
from nimble_quote.store.database import Connection

router = APIRouter(prefix="/api")
FOR_EVER = "max-age=31536000, immutable"
ANY_BODY: dict[str, Any] = {
    "requestBody": {
        "required": True,
        "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
    }
}


class NoDestination(Missing):
    """There is no destination of that id."""

    code = "no-destination"


class HouseColour(BaseModel):
    """The house's colour."""

    colour: Colour


class HouseCopyright(BaseModel):
    """Whose the house's clips are; nothing is written where it is empty."""

    copyright: Annotated[str, StringConstraints(strip_whitespace=True, max_length=200)]


class PictureSaid(BaseModel):
    """What a picture is called, and what is noted of its licence."""

    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]
    licence: Annotated[str, StringConstraints(strip_whitespace=True, max_length=500)] = ""


class PersonSaid(BaseModel):
    """What somebody is who speaks; an empty role says nothing any more."""

    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
    role: Annotated[str, StringConstraints(strip_whitespace=True, max_length=120)]


class Retiring(BaseModel):
    """Whether something is offered no more."""

    retired: bool


@router.post("/destinations", status_code=201)
async def add_destination(wanted: Wanted, conn: TheConnection) -> Destination:
    """Adds a destination of the house's own."""
    others = (await catalogue.whole(conn)).destinations
    wanted.checked(others)
    id_ = await catalogue.add_destination(conn, wanted, shape_for(wanted.width, wanted.height, others))
    return await _one(conn, id_)


@router.put("/destinations/{destination}")
async def change_destination(destination: str, wanted: Wanted, conn: TheConnection) -> Destination:
    """Sets what a destination is from now on."""
    await _one(conn, destination)
    others = [one for one in (await catalogue.whole(conn)).destinations if one.id != destination]
    wanted.checked(others)
    await catalogue.change_destination(conn, destination, wanted, shape_for(wanted.width, wanted.height, others))
    return await _one(conn, destination)


@router.post("/destinations/{destination}/retire")
async def retire_destination(destination: str, retiring: Retiring, conn: TheConnection) -> Destination:
    """Offers a destination no more, or again. Quotes that have a version for it keep it."""
    await _one(conn, destination)
    offered = (await catalogue.whole(conn)).offered
    if retiring.retired and [one.id for one in offered] == [destination]:
        raise Unfit("This is the last destination that is offered. Add another before you retire it.")
    await catalogue.retire_destination(conn, destination, retiring.retired)
    return await _one(conn, destination)


@router.post("/house/pictures", status_code=201, openapi_extra=ANY_BODY)
async def add_house_picture(
    request: Request, server: TheServer, name: Annotated[str, Query(min_length=1, max_length=80)]
) -> Picture:
    """Brings a picture (JPEG, PNG, WebP or SVG, as the body) to stand behind others or over them. One that is there already is not
    kept twice."""
    sent = await whole_body(request, MOST_BYTES)
    async with server.tools.turn():
        made = await house_picture(sent)
    async with server.connection() as conn:
        return await house.add_picture(conn, name, made)


@router.put("/house/pictures/{picture}", openapi_extra=ANY_BODY)
async def replace_house_picture(picture: RowId, request: Request, server: TheServer) -> Picture:
    """Puts another picture (as the body) in the place of one, wherever that is used and not yet exported."""
    sent = await whole_body(request, MOST_BYTES)
    async with server.tools.turn():
        made = await house_picture(sent)
    async with server.connection() as conn:
        return await house.replace_picture(conn, picture, made)


@router.post("/house/pictures/{picture}/describe")
async def describe_house_picture(picture: RowId, said: PictureSaid, conn: TheConnection) -> None:
    """Names a picture, and notes its licence."""
    await house.describe_picture(conn, picture, said.name, said.licence)


@router.get("/house/pictures/{picture}", response_class=Response)
async def get_house_picture(picture: RowId, conn: TheConnection, revision: int | None = None) -> Response:
    """A picture of the house's as it is now. Its address with its revision is good for ever."""
    content, media_type = await house.picture(conn, picture)
    kept = FOR_EVER if revision is not None else "no-cache"
    return Response(content, media_type=media_type, headers={"cache-control": kept})


@router.get("/house/pictures/{picture}/{width}x{height}.png", response_class=Response)
async def get_scaled_picture(
    picture: RowId,
    width: Annotated[int, Path(ge=2, le=LARGEST_PX)],
    height: Annotated[int, Path(ge=2, le=LARGEST_PX)],
    revision: int,
    server: TheServer,
    round_: Annotated[bool, Query(alias="round")] = False,
) -> Response:
    """A picture of the house's as it is drawn in a clip: of a size, which it covers, or as an oval. The revision is there for its address to
    change with it."""
    async with server.connection() as conn:
        content, _ = await house.picture(conn, picture)
    async with server.tools.turn():
        made = await scaled_picture(content, width, height, round_=round_)
    return Response(made, media_type="image/png", headers={"cache-control": FOR_EVER})


@router.post("/house/pictures/{picture}/retire")
async def retire_house_picture(picture: RowId, retiring: Retiring, conn: TheConnection) -> None:
    """Offers a picture no more, or again. Where it was chosen it stays."""
    await house.retire_picture(conn, picture, retiring.retired)


@router.put("/house/people")
async def set_role(person: PersonSaid, conn: TheConnection) -> None:
    """Says what somebody is: what a name strap without a role of its own says under their name."""
    await house.set_role(conn, person.name, person.role)


@router.put("/house/copyright")
async def set_house_copyright(wanted: HouseCopyright, conn: TheConnection) -> None:
    """Sets what is written into each file that is exported from now on as whose it is."""
    await house.set_copyright(conn, wanted.copyright)


@router.put("/house/colour")
async def set_house_colour(wanted: HouseColour, conn: TheConnection) -> None:
    """Sets the house's colour."""
    await house.set_colour(conn, wanted.colour)


async def _one(conn: Connection, id_: str) -> Destination:
    try:
        return (await catalogue.whole(conn)).destination(id_)
    except NotInCatalogue as unknown:
        raise NoDestination(str(unknown)) from unknown
