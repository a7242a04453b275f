"""Links for phones: made, told as a code to point a camera at, and taken back."""

from datetime import datetime, timedelta

import segno
from fastapi import APIRouter
from pydantic import BaseModel, Field

from nimble_quote.api.numbers import RowId
from nimble_quote.api.phones import GET
from nimble_quote.api.state import TheConnection, TheServer
from nimble_quote.core.refusal import Conflict
from nimble_quote.store import house_posting, phone_links, quotes

router = APIRouter(prefix="/api/quotes/{quote_id}/phone")


class PhonesOff(Conflict):
    """Phones are not let in."""

    code = "phones-off"


class PhoneAsked(BaseModel):
    """For how many minutes the link can be opened."""

    minutes: int = Field(default=15, ge=1, le=240)


class PhoneLinkView(BaseModel):
    """A link that can be opened."""

    id: int
    expires_at: datetime


class MadePhoneLink(PhoneLinkView):
    """A link as it is told once: its address, and that as a QR code (a picture as a data address)."""

    address: str
    code: str


@router.get("")
async def list_phone_links(quote_id: RowId, conn: TheConnection) -> list[PhoneLinkView]:
    """The links to a quote that can be opened now."""
    return [PhoneLinkView(id=row.id, expires_at=row.expires_at) for row in await phone_links.open_of(conn, quote_id)]


@router.post("", status_code=201)
async def make_phone_link(quote_id: RowId, asked: PhoneAsked, conn: TheConnection, server: TheServer) -> MadePhoneLink:
    """Makes a link for a phone to the clips of a quote. Its address is told once."""
    if not (await house_posting.now(conn)).phones:
        raise PhonesOff(
            "Phones are not let in. Switch that on in House, under Posting, if everybody in this network may reach it."
        )
    await server.phones.look()
    if server.phones.where is None:
        raise PhonesOff(server.phones.problem or "Phones can't be served just now. Try again in a moment.")
    await quotes.one(conn, quote_id)
    row, secret = await phone_links.make(conn, quote_id, timedelta(minutes=asked.minutes))
    address = f"http://{server.phones.where}{GET}{secret}"
    code = segno.make(address, error="m", micro=False).svg_data_uri(scale=6, border=2, dark="#1C2330", light="#FFFFFF")
    return MadePhoneLink(id=row.id, expires_at=row.expires_at, address=address, code=code)


@router.delete("/{link_id}", status_code=204)
async def revoke_phone_link(quote_id: RowId, link_id: RowId, conn: TheConnection) -> None:
    """Takes a link back: it opens nothing any more."""
    await phone_links.revoke(conn, quote_id, link_id)
