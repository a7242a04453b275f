"""Fetching by web address: only from where it is allowed, never more than a file, and on from where it broke."""

from pathlib import Path

import pytest
from fastapi import FastAPI
from hypothesis import given
from hypothesis import strategies as st
from starlette.responses import Response

from nimble_quote.media.room import Room
from nimble_quote.services.fetching import FetchRefused, checked, fetch
from nimble_quote.standins.mediahost import make_host
from tests.services import transport

pytestmark = pytest.mark.anyio

ROOM = Room(folder=Path("/"), reserve_bytes=0)
ALLOWED = frozenset({"media.example", "media.example:8080"})


async def no_progress(part: float) -> None:
    assert 0 <= part <= 1


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    shelf = tmp_path / "host"
    shelf.mkdir()
    (shelf / "talk.mp4").write_bytes(bytes(range(256)) * 1000)
    (shelf / "notes.txt").write_text("no recording")
    return shelf


async def test_a_file_is_fetched_with_its_name(folder: Path, tmp_path: Path):
    got = await fetch(
        "http://media.example/talk.mp4", ALLOWED, tmp_path / "f", no_progress, ROOM, transport(make_host(folder))
    )
    assert (got.name, got.path.read_bytes()) == ("talk.mp4", (folder / "talk.mp4").read_bytes())


async def test_a_fetch_that_broke_off_goes_on_where_it_was(folder: Path, tmp_path: Path):
    whole = (folder / "talk.mp4").read_bytes()
    (tmp_path / "f").write_bytes(whole[:100_000])
    asked: list[str | None] = []
    host = make_host(folder)

    @host.middleware("http")
    async def note(request, call_next):  # type: ignore[no-untyped-def]
        asked.append(request.headers.get("range"))
        return await call_next(request)

    got = await fetch("http://media.example/talk.mp4", ALLOWED, tmp_path / "f", no_progress, ROOM, transport(host))
    assert (asked, got.path.read_bytes()) == (["bytes=100000-"], whole)


@pytest.mark.parametrize(
    ("path", "why"),
    [
        ("nothing.mp4", "answered 404. Check the address"),
        ("page/talk.mp4", "“text/html”, not a video or sound file"),
        ("notes.txt", "“text/plain”, not a video or sound file"),
        ("elsewhere/talk.mp4", "elsewhere.invalid is not among the hosts"),
        ("round/talk.mp4", "leads from one place to another without end"),
        ("broken/talk.mp4", "could not be read|broke off"),
    ],
)
async def test_what_is_no_recording_there_is_refused(path: str, why: str, folder: Path, tmp_path: Path):
    with pytest.raises(FetchRefused, match=why):
        await fetch(
            f"http://media.example/{path}", ALLOWED, tmp_path / "f", no_progress, ROOM, transport(make_host(folder))
        )


async def test_more_than_may_be_is_never_taken(tmp_path: Path, monkeypatch: pytest.MonkeyPatch):
    from nimble_quote.services import fetching

    monkeypatch.setattr(fetching, "LARGEST_BYTES", 1000)
    app = FastAPI()

    @app.get("/told")
    async def told() -> Response:
        return Response(b"x" * 2000, media_type="video/mp4")

    @app.get("/untold")
    async def untold() -> Response:
        from fastapi.responses import StreamingResponse

        return StreamingResponse(iter([b"x" * 600] * 3), media_type="video/mp4")

    for path in ("told", "untold"):
        with pytest.raises(FetchRefused, match=r"more than|over 0 GB"):
            await fetch(f"http://media.example/{path}", ALLOWED, tmp_path / path, no_progress, ROOM, transport(app))
        assert not (tmp_path / path).exists() or (tmp_path / path).stat().st_size <= 1000


@pytest.mark.parametrize(
    "address",
    ["", "talk.mp4", "file:///etc/passwd", "ftp://media.example/a", "http://", "http://user:pw@media.example/a",
     "http://media.example.evil/a", "http://127.0.0.1/a", "http://media.example:22/a", "http://[::1]/a", "http://media.example:x/",
     "http://evil@media.example@evil.example/", "javascript:alert(1)", "http://MEDIA.example:99999/"],
)  # fmt: skip
def test_addresses_that_lead_elsewhere_are_refused(address: str):
    with pytest.raises(FetchRefused):
        checked(address, ALLOWED)


@given(st.text(max_size=60))
def test_no_text_is_an_address_but_of_an_allowed_host(text: str):
    try:
        address = checked(text, ALLOWED)
    except FetchRefused:
        return
    assert address.lower().startswith(("http://media.example", "https://media.example"))
