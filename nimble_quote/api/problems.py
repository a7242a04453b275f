"""Errors as the API tells them (RFC 9457, problem+json): what happened, to what, and what to do.

EditRefused, CannotSplit, TooLongToHear, NotSentences, ShortlistUnreadable, CorrectionRefused, TranscriptUnreadable, SourceRefused, FetchRefused, WorkFailed, UploadRefused -> 422
NotFound -> 404        StaleRevision, StaleTranscript, AlreadyHere, WouldLoseCorrections -> 409        UploadBusy -> 423
"""

import errno
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import ValidationError

from nimble_quote.api.sounding import TooLongToHear
from nimble_quote.api.uploads import UploadBusy, UploadOffsetWrong, UploadRefused
from nimble_quote.core.cutting.splitting import CannotSplit
from nimble_quote.core.edits import EditRefused
from nimble_quote.core.soundbites.finder import NotSentences
from nimble_quote.core.transcript.corrections import CorrectionRefused
from nimble_quote.formats.shortlist import ShortlistUnreadable
from nimble_quote.formats.transcripts import TranscriptUnreadable
from nimble_quote.jobs.intake import AlreadyHere, WouldLoseCorrections
from nimble_quote.jobs.working import WorkFailed
from nimble_quote.media.probe import SourceRefused
from nimble_quote.services.fetching import FetchRefused
from nimble_quote.store.database import NotFound
from nimble_quote.store.quotes import StaleRevision
from nimble_quote.store.transcripts import StaleTranscript

_STATUS: dict[type[Exception], int] = {
    EditRefused: 422,
    CannotSplit: 422,
    TooLongToHear: 422,
    NotSentences: 422,
    ShortlistUnreadable: 422,
    CorrectionRefused: 422,
    FetchRefused: 422,
    WorkFailed: 422,
    UploadBusy: 423,
    WouldLoseCorrections: 409,
    UploadOffsetWrong: 409,
    StaleTranscript: 409,
    TranscriptUnreadable: 422,
    SourceRefused: 422,
    UploadRefused: 422,
    NotFound: 404,
    StaleRevision: 409,
    AlreadyHere: 409,
}


def install_problems(app: FastAPI) -> None:
    """Makes the app answer every known error as a problem."""
    for kind in _STATUS:
        app.add_exception_handler(kind, _known)
    app.add_exception_handler(RequestValidationError, _invalid)
    app.add_exception_handler(ValidationError, _invalid)
    app.add_exception_handler(OSError, _disk)


def problem(status: int, detail: str, **more: Any) -> JSONResponse:
    """A problem as a response."""
    body = {"type": "about:blank", "status": status, "detail": detail, **more}
    return JSONResponse(body, status, media_type="application/problem+json")


async def _known(request: Request, error: Exception) -> JSONResponse:
    status = next(code for kind, code in _STATUS.items() if isinstance(error, kind))
    return problem(status, str(error), kind=type(error).__name__)


async def _disk(request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, OSError)
    if error.errno == errno.ENOSPC:
        return problem(
            507, "There is no room left on the disk. Make some, then try again; nothing that was saved is lost."
        )
    return problem(500, f"The server could not use its files ({error.strerror}). Look at its folder for data.")


async def _invalid(request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, RequestValidationError | ValidationError)
    first = error.errors()[0]
    where = ".".join(str(part) for part in first["loc"] if part != "body")
    return problem(422, f"{where}: {first['msg']}" if where else first["msg"], kind="Invalid")
