"""What a house sets up for every week: its destinations."""

from fastapi import APIRouter
from pydantic import BaseModel

from nimble_quote.api.state import TheConnection
from nimble_quote.core.catalogue import NotInCatalogue
from nimble_quote.core.destinations import Destination, Unfit, Wanted, shape_for
from nimble_quote.core.refusal import Missing
from nimble_quote.store import catalogue
from nimble_quote.store.database import Connection

router = APIRouter(prefix="/api")


class NoDestination(Missing):
    """There is no destination of that id."""

    code = "no-destination"


class Retiring(BaseModel):
    """Whether a destination is offered no more."""

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


async def _one(conn: Connection, id_: str) -> Destination:
    try:
        return (await catalogue.whole(conn)).destination(id_)
    except NotInCatalogue as unknown:
        raise NoDestination(str(unknown)) from unknown
