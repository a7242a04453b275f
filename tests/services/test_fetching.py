"""Fetching by web address: only from where it is allowed, never more than a file, and on from where it broke."""

import asyncio
import time
from collections.abc import AsyncIterator, Awaitable, Callable
from contextlib import asynccontextmanager, suppress
from pathlib import Path

import pytest
from fastapi import FastAPI
from hypothesis import given
from hypothesis import strategies as st
from starlette.responses import Response

from nimble_quote.media.room import DiskFull, Room
from nimble_quote.services import fetching
from nimble_quote.services.fetching import Fetched, FetchRefused, checked, fetch
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


@asynccontextmanager
async def host_that(answer: Callable[[str, asyncio.StreamWriter], Awaitable[None]]) -> AsyncIterator[str]:
    """A host of its own on loopback: `answer` gets what was asked and writes what it likes."""

    async def serve(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        asked = (await reader.readuntil(b"\r\n\r\n")).decode()
        with suppress(ConnectionError, asyncio.CancelledError):
            await answer(asked, writer)
        writer.close()

    server = await asyncio.start_server(serve, "127.0.0.1", 0)
    async with server:
        yield f"127.0.0.1:{server.sockets[0].getsockname()[1]}"


def head(status: str, **headers: object) -> bytes:
    told = "".join(f"{name.replace('_', '-')}: {value}\r\n" for name, value in headers.items())
    return f"HTTP/1.1 {status}\r\ncontent-type: video/mp4\r\n{told}\r\n".encode()


async def fetched(host: str, target: Path, progress=no_progress) -> Fetched:  # type: ignore[no-untyped-def]
    return await fetch(f"http://{host}/talk.mp4", frozenset({host}), target, progress, ROOM)


class Stopped(Exception):
    """Whoever asked wants it no more."""


async def test_a_silent_host_does_not_keep_it_from_being_stopped(tmp_path: Path):
    async def answer(asked: str, writer: asyncio.StreamWriter) -> None:
        writer.write(head("200 OK", content_length=1_000_000) + b"x" * 1000)
        await asyncio.sleep(60)

    async def stop(part: float) -> None:
        if part > 0:
            raise Stopped

    async with host_that(answer) as host:
        began = time.monotonic()
        with pytest.raises(Stopped):
            await fetched(host, tmp_path / "f", stop)
        assert time.monotonic() - began < 5
        assert (tmp_path / "f").stat().st_size == 1000, "and what had come is kept"


async def test_a_host_that_sends_next_to_nothing_is_given_up(tmp_path: Path, monkeypatch: pytest.MonkeyPatch):
    monkeypatch.setattr(fetching, "_SILENT_S", 1.0)

    async def answer(asked: str, writer: asyncio.StreamWriter) -> None:
        writer.write(head("200 OK", content_length=1_000_000))
        while True:
            writer.write(b"x")
            await writer.drain()
            await asyncio.sleep(0.1)

    async with host_that(answer) as host:
        with pytest.raises(FetchRefused, match=r"The host is sending almost nothing\. Try again later"):
            await fetched(host, tmp_path / "f")


async def test_a_fetch_that_breaks_off_early_goes_on_with_what_little_came(tmp_path: Path):
    asked_from: list[str] = []

    async def answer(asked: str, writer: asyncio.StreamWriter) -> None:
        begin = asked.lower().partition("range: bytes=")[2].partition("-")[0]
        asked_from.append(begin)
        if begin:
            writer.write(head("206 Partial Content", content_length=5000 - int(begin)) + b"b" * (5000 - int(begin)))
        else:
            writer.write(head("200 OK", content_length=5000) + b"a" * 700)
        await writer.drain()

    async with host_that(answer) as host:
        with pytest.raises(FetchRefused, match="Try again"):
            await fetched(host, tmp_path / "f")
        await fetched(host, tmp_path / "f")
    assert asked_from == ["", "700"]
    assert (tmp_path / "f").read_bytes() == b"a" * 700 + b"b" * 4300


@pytest.mark.parametrize(("length", "again"), [(700, False), (300, True)])
async def test_nothing_more_after_what_is_here_is_the_end_or_another_file(length: int, again: bool, tmp_path: Path):
    (tmp_path / "f").write_bytes(b"a" * 700)

    async def answer(asked: str, writer: asyncio.StreamWriter) -> None:
        if "range:" in asked.lower():
            writer.write(head("416 Range Not Satisfiable", content_range=f"bytes */{length}", content_length=0))
        else:
            writer.write(head("200 OK", content_length=length) + b"b" * length)
        await writer.drain()

    async with host_that(answer) as host:
        await fetched(host, tmp_path / "f")
    assert (tmp_path / "f").read_bytes() == (b"b" * length if again else b"a" * 700)


async def test_a_host_that_refuses_every_range_is_told_by_its_answer(tmp_path: Path):
    async def answer(asked: str, writer: asyncio.StreamWriter) -> None:
        writer.write(head("416 Range Not Satisfiable", content_length=0))
        await writer.drain()

    async with host_that(answer) as host:
        with pytest.raises(FetchRefused, match=r"answered 416\. Check the address"):
            await fetched(host, tmp_path / "f")


async def test_a_file_that_has_no_room_is_not_begun(tmp_path: Path):
    async def answer(asked: str, writer: asyncio.StreamWriter) -> None:
        writer.write(head("200 OK", content_length=15_000_000_000))
        await writer.drain()

    full = Room(folder=Path("/"), reserve_bytes=10**15)
    async with host_that(answer) as host:
        with pytest.raises(DiskFull, match=r"15\.0 GB more is needed"):
            await fetch(f"http://{host}/a.mp4", frozenset({host}), tmp_path / "f", no_progress, full)
    assert not (tmp_path / "f").exists()
