"""How errors are told: by kind, in words for people, with nothing of the inside showing."""

import errno

import httpx
import pytest
from fastapi import FastAPI

from nimble_quote.api.guard import Guard
from nimble_quote.api.problems import UploadRefused, install_problems
from nimble_quote.core.edits import EditRefused
from nimble_quote.formats.transcripts import TranscriptUnreadable
from nimble_quote.jobs.intake import AlreadyHere
from nimble_quote.media.probe import SourceRefused
from nimble_quote.store.database import NotFound
from nimble_quote.store.quotes import StaleRevision

pytestmark = pytest.mark.anyio

CASES: list[tuple[Exception, int, str]] = [
    (EditRefused("Keep at least one."), 422, "Keep at least one."),
    (TranscriptUnreadable("a.srt: no cue"), 422, "a.srt: no cue"),
    (SourceRefused("a.mp4: no sound"), 422, "a.mp4: no sound"),
    (UploadRefused("Choose the file again."), 422, "Choose the file again."),
    (NotFound("There is no such quote."), 404, "There is no such quote."),
    (StaleRevision(1, 2, 3), 409, "This quote was changed elsewhere in the meantime."),
    (AlreadyHere("a.mp4: on the shelf", 1), 409, "a.mp4: on the shelf"),
    (OSError(errno.ENOSPC, "No space left on device"), 507, "There is no room left on the disk."),
    (PermissionError(errno.EACCES, "Permission denied"), 500, "could not use its files (Permission denied)"),
]


async def answer(error: Exception) -> httpx.Response:
    app = FastAPI()
    app.add_middleware(Guard, port=8320)
    install_problems(app)

    @app.get("/")
    async def fail() -> None:
        raise error

    async with httpx.AsyncClient(transport=httpx.ASGITransport(app), base_url="http://127.0.0.1:8320") as client:
        return await client.get("/")


@pytest.mark.parametrize(("error", "status", "says"), CASES, ids=[type(case[0]).__name__ for case in CASES])
async def test_a_known_error_is_told_as_a_problem(error: Exception, status: int, says: str):
    told = await answer(error)
    assert told.status_code == status
    assert told.headers["content-type"] == "application/problem+json"
    assert says in told.json()["detail"]
    assert told.headers["x-content-type-options"] == "nosniff"
