"""How errors are told: by kind, in words for people, with nothing of the inside showing."""

import errno
from pathlib import Path

import httpx
import jsonschema_rs
import psycopg
import pytest
from fastapi import FastAPI
from pydantic import ValidationError

from nimble_quote.api.app import make_app
from nimble_quote.api.guard import Guard
from nimble_quote.api.problems import Problem, install_problems
from nimble_quote.api.uploads import UploadRefused
from nimble_quote.core.edits import EditRefused
from nimble_quote.core.refusal import Refusal
from nimble_quote.formats.transcripts import TranscriptUnreadable
from nimble_quote.jobs.intake import AlreadyHere
from nimble_quote.media.ffmpeg import MediaFailed
from nimble_quote.media.probe import SourceRefused
from nimble_quote.media.room import Room
from nimble_quote.settings import Settings
from nimble_quote.store.database import NotFound
from nimble_quote.store.quotes import StaleRevision

pytestmark = pytest.mark.anyio


def ours() -> ValidationError:
    """A view of ours that does not fit what it is to show: no fault of who asked."""
    with pytest.raises(ValidationError) as failed:
        Problem.model_validate({"status": "/data"})
    return failed.value


CASES: list[tuple[Exception, int, str]] = [
    (EditRefused("Keep at least one."), 422, "Keep at least one."),
    (TranscriptUnreadable("a.srt: no cue"), 422, "a.srt: no cue"),
    (SourceRefused("a.mp4: no sound"), 422, "a.mp4: no sound"),
    (UploadRefused("Choose the file again."), 422, "Choose the file again."),
    (NotFound("There is no such quote."), 404, "There is no such quote."),
    (StaleRevision(1, 2, 3), 409, "This quote was changed elsewhere in the meantime."),
    (AlreadyHere("a.mp4: on the shelf", 1), 409, "a.mp4: on the shelf"),
    (OSError(errno.ENOSPC, "No space left on device"), 507, "The disk is full:"),
    (psycopg.errors.DiskFull("could not extend file"), 507, "1000000000.0 GB is kept in reserve so that your work can"),
    (MediaFailed(["ffmpeg", "/data/x.mp4"], "x.mp4: No space left on device"), 507, "The disk is full:"),
    (MediaFailed(["ffmpeg", "/data/x.mp4"], "x.mp4: Invalid data found"), 422, "The recording can't be decoded there"),
    (
        psycopg.OperationalError("server closed the connection"),
        503,
        "is being restarted. Everything you saved is safe.",
    ),
    (PermissionError(errno.EACCES, "Permission denied", "/data/x.mp4"), 500, "one of its files (Permission denied)"),
    (ours(), 500, "Something unforeseen went wrong (ValidationError)"),
    (psycopg.errors.NumericValueOutOfRange("integer out of range"), 422, "beyond what can be stored"),
]


SHORT = Room(folder=Path("/"), reserve_bytes=10**18)


async def answer(error: Exception, room: Room = SHORT) -> httpx.Response:
    app = FastAPI()
    app.add_middleware(Guard, port=8320)
    install_problems(app, room)

    @app.get("/")
    async def fail() -> None:
        raise error

    # As a server does, which answers before it hands an unforeseen error on to its log.
    transport = httpx.ASGITransport(app, raise_app_exceptions=False)
    async with httpx.AsyncClient(transport=transport, base_url="http://127.0.0.1:8320") as client:
        return await client.get("/")


@pytest.mark.parametrize(("error", "status", "says"), CASES, ids=[type(case[0]).__name__ for case in CASES])
async def test_a_known_error_is_told_as_a_problem(error: Exception, status: int, says: str):
    told = await answer(error)
    assert told.status_code == status
    assert told.headers["content-type"] == "application/problem+json"
    assert says in told.json()["detail"]
    assert "/data" not in told.text, "where files are on the server is nobody's business"
    assert told.headers["x-content-type-options"] == "nosniff"


def test_every_code_is_told_in_the_description_of_the_api_and_means_one_thing(tmp_path: Path):
    def kinds(of: type[Refusal]) -> list[type[Refusal]]:
        return [of, *(kind for one in of.__subclasses__() for kind in kinds(one))]

    described = make_app(Settings(media_root=tmp_path)).openapi()
    told = described["components"]["schemas"]["Problem"]["properties"]["code"]["enum"]
    named = [kind.code for kind in kinds(Refusal)]
    assert len(set(named)) == len(named), "each refusal has a code of its own"
    assert set(named) < set(told)
    assert {"edit-refused", "stale-revision", "not-found", "too-busy", "invalid"} < set(told)


def test_the_description_says_how_programs_come_in_and_shows_what_to_send():
    described = make_app(Settings(media_root=Path("/nonexistent"))).openapi()
    assert described["components"]["securitySchemes"]["token"] == {
        "type": "http", "scheme": "bearer", "description": "A token made in House. On this machine none is needed.",
    }  # fmt: skip
    schemas = described["components"]["schemas"]
    shown = {name: one["examples"] for name, one in schemas.items() if "examples" in one}
    assert {"Selection", "Change", "ExportRequest", "Planned", "TokenWanted", "WebhookWanted"} <= set(shown)
    for name, examples in shown.items():
        schema = {"$ref": f"#/components/schemas/{name}", "components": {"schemas": schemas}}
        for one in examples:
            jsonschema_rs.validator_for(schema).validate(one)
