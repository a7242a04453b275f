"""Errors as the API tells them (RFC 9457, problem+json): what happened, to what, and what to do."""

import logging
from typing import Any

import psycopg
from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel
from starlette.exceptions import HTTPException

from nimble_quote.api.bodies import BodyRefused
from nimble_quote.api.uploads import UploadBusy
from nimble_quote.core.refusal import Busy, Conflict, Missing, Refusal, Refused, codes
from nimble_quote.media.ffmpeg import MediaFailed
from nimble_quote.media.room import DiskFull, Room, is_full
from nimble_quote.store.database import DatabaseAway, StoredDamaged

_STATUS: dict[type[Refusal], int] = {
    UploadBusy: 423,
    DiskFull: 507,
    Missing: 404,
    Conflict: 409,
    Refused: 422,
    Busy: 503,
}
"""The first that an error is counts."""
_RETRY_AFTER_S = "2"
_OTHER_CODES = ("invalid", "media-failed", "mistake", "stored-damaged")
_log = logging.getLogger(__name__)


class Problem(BaseModel):
    """What went wrong (RFC 9457). `code` names it for programs, where it is one that they may treat of its own."""

    type: str = "about:blank"
    status: int
    detail: str
    code: str | None = None


_MAY_ANSWER = {
    "400": "The body of the request can't be read.",
    "404": "There is no such thing.",
    "405": "This address is not for that.",
    "409": "It does not go with what was changed meanwhile, or with what is there already.",
    "422": "What was sent can't be used.",
    "5XX": "It can't be done now: too much is going on, no database, no room on the disk, or a mistake of ours.",
}


def with_problems(described: dict[str, Any]) -> dict[str, Any]:
    """The description of the API with the errors that every route may answer with."""
    content = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}}
    told = {status: {"description": says, "content": content} for status, says in _MAY_ANSWER.items()}
    for methods in described["paths"].values():
        for route in methods.values():
            route["responses"] |= told
    described["components"]["securitySchemes"] = {
        "token": {
            "type": "http",
            "scheme": "bearer",
            "description": "A token made in House. On this machine none is needed.",
        }
    }
    described["security"] = [{"token": []}, {}]
    schemas = described["components"]["schemas"]
    for of_the_framework in ("HTTPValidationError", "ValidationError"):
        schemas.pop(of_the_framework, None)
    told_codes = sorted({*codes(), *_OTHER_CODES})
    schemas["Problem"] = Problem.model_json_schema()
    schemas["Problem"]["properties"]["code"] = {"enum": [*told_codes, None], "title": "Code", "default": None}
    return described


def install_problems(app: FastAPI, room: Room) -> None:
    """Makes the app answer every known error as a problem; `room` is that of the disk that everything is kept on."""
    telling = _Telling(room)
    app.add_exception_handler(Refusal, telling.known)
    app.add_exception_handler(RequestValidationError, telling.invalid)
    app.add_exception_handler(BodyRefused, telling.body)
    app.add_exception_handler(HTTPException, telling.of_the_framework)
    app.add_exception_handler(MediaFailed, telling.media)
    app.add_exception_handler(OSError, telling.disk)
    app.add_exception_handler(psycopg.OperationalError, telling.database)
    app.add_exception_handler(psycopg.InterfaceError, telling.database)
    app.add_exception_handler(psycopg.DataError, telling.unfit)
    app.add_exception_handler(UnicodeEncodeError, telling.unfit)
    app.add_exception_handler(StoredDamaged, telling.damaged)
    app.add_exception_handler(Exception, telling.mistake)


def problem(status: int, detail: str, headers: dict[str, str] | None = None, **more: Any) -> JSONResponse:
    """A problem as a response."""
    body = {"type": "about:blank", "status": status, "detail": detail, **more}
    headers = {"retry-after": _RETRY_AFTER_S} if status == 503 else headers
    return JSONResponse(body, status, headers, media_type="application/problem+json")


class _Telling:
    """How each kind of error is told."""

    def __init__(self, room: Room) -> None:
        self._room = room

    async def known(self, request: Request, error: Exception) -> JSONResponse:
        if isinstance(error, DatabaseAway) and self._room.is_gone:
            # Without room to write the database can't be started either.
            error = self._room.full()
        assert isinstance(error, Refusal)
        status = next(status for kind, status in _STATUS.items() if isinstance(error, kind))
        return problem(status, str(error), code=error.code)

    async def body(self, request: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, BodyRefused)
        return problem(error.status, str(error), code=error.code)

    async def of_the_framework(self, request: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, HTTPException)
        says = {
            400: "The body of this request can't be read: it is not JSON in UTF-8.",
            404: "There is nothing at this address.",
            405: f"This address is not for {request.method}.",
        }.get(error.status_code, str(error.detail))
        return problem(error.status_code, says, dict(error.headers or {}), code="invalid")

    async def media(self, request: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, MediaFailed)
        _log.error("%s", error)
        if error.disk_full:
            return await self.known(request, self._room.full())
        return problem(422, f"{error.cause[:1].upper()}{error.cause[1:]}.", code="media-failed")

    async def disk(self, request: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, OSError)
        if is_full(error):
            return await self.known(request, self._room.full())
        _log.exception("a file could not be used", exc_info=error)
        return problem(
            500, f"The server could not use one of its files ({error.strerror}). Check the disk of its data."
        )

    async def database(self, request: Request, error: Exception) -> JSONResponse:
        if isinstance(error, psycopg.errors.DiskFull) or self._room.is_gone:
            return await self.known(request, self._room.full())
        _log.error("the database failed: %s", error)
        return await self.known(request, DatabaseAway())

    async def unfit(self, request: Request, error: Exception) -> JSONResponse:
        _log.error("the database could not take a value: %s", error)
        return problem(422, "A number or text in this request is beyond what can be stored.", code="invalid")

    async def damaged(self, request: Request, error: Exception) -> JSONResponse:
        _log.exception("stored data can't be read", exc_info=error)
        return problem(500, f"{error} What happened is in the server's log.", code="stored-damaged")

    async def mistake(self, request: Request, error: Exception) -> JSONResponse:
        # The framework logs it, with where it happened; it answers outside of all that adds headers.
        says = f"Something unforeseen went wrong ({type(error).__name__}); what happened is in the server's log."
        return problem(500, says, {"x-content-type-options": "nosniff"}, code="mistake")

    async def invalid(self, request: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, RequestValidationError)
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"] if part != "body")
        return problem(422, f"{where}: {first['msg']}" if where else first["msg"], code="invalid")
