"""Music and sounds of the house's."""

from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from pydantic import BaseModel, StringConstraints

from nimble_quote.api.bodies import whole_body
from nimble_quote.api.numbers import RowId
from nimble_quote.api.routes.house import ANY_BODY, FOR_EVER, Retiring
from nimble_quote.api.state import TheConnection, TheServer
from nimble_quote.core.catalogue import HouseSound
from nimble_quote.media.house_sounds import MEDIA_TYPE, MOST_BYTES, house_sound
from nimble_quote.store import house_sounds

router = APIRouter(prefix="/api/house/sounds")
Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]
Licence = Annotated[str, StringConstraints(strip_whitespace=True, max_length=500)]


class SoundSaid(BaseModel):
    """What a sound is called, and what is noted of its licence."""

    name: Name
    licence: Licence = ""


@router.post("", status_code=201, openapi_extra=ANY_BODY)
async def add_house_sound(
    request: Request,
    server: TheServer,
    name: Annotated[str, Query(min_length=1, max_length=80)],
    licence: Annotated[str, Query(max_length=500)] = "",
) -> HouseSound:
    """Brings music or a sound (a sound file, as the body). One that is there already is not kept twice."""
    sent = await whole_body(request, MOST_BYTES)
    async with server.tools.turn():
        made = await house_sound(sent)
    async with server.connection() as conn:
        return await house_sounds.add(conn, name, made, licence)


@router.put("/{sound}", openapi_extra=ANY_BODY)
async def replace_house_sound(sound: RowId, request: Request, server: TheServer) -> HouseSound:
    """Puts another sound (as the body) in the place of one, wherever that is used and not yet exported."""
    sent = await whole_body(request, MOST_BYTES)
    async with server.tools.turn():
        made = await house_sound(sent)
    async with server.connection() as conn:
        return await house_sounds.replace(conn, sound, made)


@router.post("/{sound}/describe")
async def describe_house_sound(sound: RowId, said: SoundSaid, conn: TheConnection) -> None:
    """Names a sound, and notes its licence."""
    await house_sounds.describe(conn, sound, said.name, said.licence)


@router.get("/{sound}", response_class=Response)
async def get_house_sound(sound: RowId, conn: TheConnection, revision: int | None = None) -> Response:
    """A sound of the house's, to listen to. Its address with its revision is good for ever."""
    content = (await house_sounds.contents(conn, [sound]))[sound]
    kept = FOR_EVER if revision is not None else "no-cache"
    return Response(content, media_type=MEDIA_TYPE, headers={"cache-control": kept})


@router.post("/{sound}/retire")
async def retire_house_sound(sound: RowId, retiring: Retiring, conn: TheConnection) -> None:
    """Offers a sound no more, or again. Where it was chosen it stays."""
    await house_sounds.retire(conn, sound, retiring.retired)
