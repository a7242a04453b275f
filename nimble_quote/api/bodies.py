"""Reading what a request brings where that is no JSON: whole, of a limited size, within a limited time."""

import asyncio

from fastapi import Request
from starlette.requests import ClientDisconnect

from nimble_quote.core.refusal import Refused

_WITHIN_S = 20.0


class BodyRefused(Refused):
    """What was sent was not taken; `status` is how HTTP says why."""

    code = "body-refused"

    def __init__(self, status: int, message: str) -> None:
        super().__init__(message)
        self.status = status


async def whole_body(request: Request, most_bytes: int) -> bytes:
    """The body of a request. Raises `BodyRefused` where it is too long, comes too slowly, or breaks off.

    Call it before a connection to the database is taken: whoever sends slowly would hold that too.
    """
    body = bytearray()
    try:
        async with asyncio.timeout(_WITHIN_S):
            async for piece in request.stream():
                body += piece
                if len(body) > most_bytes:
                    raise BodyRefused(413, f"This is too long: {most_bytes // 1000} kB can be sent at most.")
    except TimeoutError:
        raise BodyRefused(408, "This did not arrive in time. Send it again.") from None
    except ClientDisconnect:
        raise BodyRefused(400, "The connection was lost. Send it again.") from None
    return bytes(body)
