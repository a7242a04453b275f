"""Telling another program of an event, as the Standard Webhooks specification says: its id, the time, and a signature over both and
the body (HMAC-SHA256) go along as headers, so that it can tell that we said it, and that it was not said before."""

import base64
import hashlib
import hmac
import json
import secrets
import time
from datetime import datetime
from typing import Any
from urllib.parse import urlsplit

import httpx

from nimble_quote.core.refusal import Refused

_WAITS_S = 10.0
_PREFIX = "whsec_"


class WebhookRefused(Refused):
    """An address that nothing can be told to."""

    code = "webhook-refused"


class NotTaken(RuntimeError):
    """The program did not take it: it is away, or answered otherwise than it should."""

    def __init__(self, message: str, answered: int | None = None) -> None:
        super().__init__(message)
        self.answered = answered


def new_secret() -> str:
    """A secret to sign by."""
    return _PREFIX + base64.b64encode(secrets.token_bytes(24)).decode()


def checked_address(address: str) -> str:
    """An address that can be told something. Raises `WebhookRefused`."""
    try:
        parts = urlsplit(address.strip())
        named = parts.hostname and (parts.port or True)
    except ValueError:
        named = None
    if not named or parts.scheme not in ("http", "https") or parts.username or parts.password:
        raise WebhookRefused(f"“{address[:80]}” is not a web address that begins with http:// or https://.")
    return parts.geturl()


def signature(secret: str, id_: str, at: int, body: bytes) -> str:
    """What proves that a body was sent by us at a time."""
    key = base64.b64decode(secret.removeprefix(_PREFIX))
    signed = hmac.new(key, f"{id_}.{at}.".encode() + body, hashlib.sha256).digest()
    return f"v1,{base64.b64encode(signed).decode()}"


async def deliver_to(
    address: str, secret: str, id_: str, event: str, happened: datetime, data: dict[str, Any],
    transport: httpx.AsyncBaseTransport | None = None,
) -> int:  # fmt: skip
    """Tells a program of an event; what it answered. Raises `NotTaken`."""
    body = json.dumps({"type": event, "timestamp": happened.isoformat(), "data": data}).encode()
    at = int(time.time())
    headers = {
        "content-type": "application/json", "user-agent": "nimble-quote", "webhook-id": id_, "webhook-timestamp": str(at),
        "webhook-signature": signature(secret, id_, at, body),
    }  # fmt: skip
    try:
        async with httpx.AsyncClient(timeout=_WAITS_S, transport=transport, follow_redirects=False) as client:
            answer = await client.post(address, content=body, headers=headers)
    except (httpx.HTTPError, httpx.InvalidURL) as away:
        raise NotTaken(f"It can't be reached ({type(away).__name__}).") from away
    if not answer.is_success:
        raise NotTaken(f"It answered {answer.status_code}.", answer.status_code)
    return answer.status_code
