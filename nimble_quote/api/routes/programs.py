"""Other programs: the tokens they come with, and where they are told what happens."""

from datetime import datetime
from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field, StringConstraints

from nimble_quote.api.numbers import RowId
from nimble_quote.api.state import TheConnection, TheServer
from nimble_quote.core.scopes import Scope
from nimble_quote.services.webhooks import checked_address, new_secret
from nimble_quote.store import tokens, webhooks
from nimble_quote.store.webhooks import Event

router = APIRouter(prefix="/api")
Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]


class TokenWanted(BaseModel):
    """A token for a program: what it is called, and what it may be used for."""

    model_config = ConfigDict(json_schema_extra={"examples": [{"name": "Newsletter", "scopes": ["read", "export"]}]})
    name: Name
    scopes: list[Scope] = Field(min_length=1, max_length=4)


class TokenView(BaseModel):
    """A token as it is listed."""

    id: int
    name: str
    scopes: list[Scope]
    created_at: datetime
    last_used_at: datetime | None


class MadeToken(BaseModel):
    """A token as it is told once."""

    token: str
    tokens: list[TokenView]


class WebhookWanted(BaseModel):
    """Where a program is told, and of what."""

    model_config = ConfigDict(
        json_schema_extra={
            "examples": [{"address": "https://example.org/clips", "events": ["clip.ready", "post.posted"]}]
        }
    )
    address: str = Field(max_length=2000)
    events: list[Event] = Field(min_length=1, max_length=2)


class WebhookView(BaseModel):
    """A program that is told, and how that goes."""

    id: int
    address: str
    events: list[Event]
    created_at: datetime
    waiting: int
    last_delivered_at: datetime | None
    problem: str | None


class MadeWebhook(BaseModel):
    """A webhook with the secret that what it is told is signed by, which is told once."""

    secret: str
    webhooks: list[WebhookView]


@router.get("/tokens")
async def list_tokens(conn: TheConnection) -> list[TokenView]:
    """The tokens that programs can come with."""
    return [TokenView(**vars(row)) for row in await tokens.every(conn)]


@router.post("/tokens", status_code=201)
async def make_token(wanted: TokenWanted, conn: TheConnection) -> MadeToken:
    """Makes a token."""
    token = await tokens.make(conn, wanted.name, sorted(set(wanted.scopes)))
    return MadeToken(token=token, tokens=await list_tokens(conn))


@router.delete("/tokens/{token_id}", status_code=204)
async def revoke_token(token_id: RowId, conn: TheConnection) -> None:
    """Revokes a token."""
    await tokens.revoke(conn, token_id)


@router.get("/webhooks")
async def list_webhooks(conn: TheConnection) -> list[WebhookView]:
    """The programs that are told what happens."""
    return [WebhookView(**vars(row)) for row in await webhooks.every(conn)]


@router.post("/webhooks", status_code=201)
async def add_webhook(wanted: WebhookWanted, conn: TheConnection, server: TheServer) -> MadeWebhook:
    """Has a program told of events from now on, at an address, signed by a secret."""
    secret = new_secret()
    await webhooks.add(conn, server.sealing, checked_address(wanted.address), sorted(set(wanted.events)), secret)
    return MadeWebhook(secret=secret, webhooks=await list_webhooks(conn))


@router.delete("/webhooks/{webhook_id}", status_code=204)
async def remove_webhook(webhook_id: RowId, conn: TheConnection) -> None:
    """Tells a program nothing more."""
    await webhooks.remove(conn, webhook_id)
