"""Slow senders, many at once, and transcripts as large as they may be: nobody else is kept waiting by them."""

import asyncio
import json
import socket
import threading
import time
from collections.abc import Callable
from contextlib import ExitStack
from pathlib import Path

import httpx
import pytest

from tests.conftest import RunningApp, bring_in, make_media, send
from tests.helpers import keep

pytestmark = pytest.mark.anyio

SECRET = "Keep the wick short."


@pytest.fixture
def speakers_page(running: RunningApp, demo: int) -> str:
    """The path of a speaker's page that can be answered."""
    with running.client as client:
        quote = keep(client, demo, SECRET)
        address = client.post(f"/api/quotes/{quote['id']}/approvals", json={}).json()["address"]
    return "/approve/" + address.rsplit("/", 1)[1]


def begun(running: RunningApp, path: str, head: str, body: bytes) -> socket.socket:
    """A connection that has sent the beginning of a request, and no more."""
    sender = socket.create_connection(("127.0.0.1", running.settings.port))
    sender.sendall(f"POST {path} HTTP/1.1\r\nHost: 127.0.0.1:{running.settings.port}\r\n{head}\r\n".encode() + body)
    return sender


def longest_s(running: RunningApp, path: str, while_: Callable[[], None]) -> tuple[float, int]:
    """The longest that a request takes while something goes on, and how many were made."""
    going = threading.Thread(target=while_)
    times: list[float] = []
    with running.client as client:
        client.get(path)
        going.start()
        while going.is_alive():
            began = time.monotonic()
            assert client.get(path).status_code == 200
            times.append(time.monotonic() - began)
            time.sleep(0.02)
    going.join()
    return max(times), len(times)


def test_slow_answers_of_speakers_hold_neither_a_connection_nor_each_other(running: RunningApp, speakers_page: str):
    form = "Content-Type: application/x-www-form-urlencoded\r\nContent-Length: 500\r\n"
    table = "Content-Type: text/csv\r\nContent-Length: 500\r\n"
    with ExitStack() as open_, running.client as client:
        for path, head in [(speakers_page, form)] * 15 + [("/api/shortlist/read-back", table)] * 15:
            open_.callback(begun(running, path, head, b"answer=appr").close)
        time.sleep(0.5)
        began = time.monotonic()
        assert client.get("/api/recordings").status_code == 200
        assert client.post(speakers_page, content=b"answer=approved&by=Maren").status_code == 200
        assert time.monotonic() - began < 3


@pytest.mark.parametrize(
    ("body", "status", "says"),
    [
        (b"&".join(b"f%d=1" % i for i in range(11)), 400, "This is not what the form of this page sends."),
        (b"note=" + b"x" * 21_000, 413, "This is too long: 20 kB can be sent at most."),
        (b"answer=approved&by=Maren&" + b"&".join(b"f%d=1" % i for i in range(8)), 200, "Maren approved this"),
    ],
)
def test_an_answer_that_no_form_sends_is_refused_in_words(
    running: RunningApp, speakers_page: str, body: bytes, status: int, says: str
):
    with running.client as client:
        answer = client.post(speakers_page, content=body)
    assert answer.status_code == status
    assert says in answer.text


async def test_a_hundred_loupes_at_once_are_all_answered_and_keep_nobody_waiting(running: RunningApp, demo: int):
    async with httpx.AsyncClient(base_url=running.url, timeout=60) as client:
        asked = [
            asyncio.create_task(client.get(f"/api/recordings/{demo}/loupe", params={"at_ms": 5000 + 700 * i}))
            for i in range(100)
        ]
        await asyncio.sleep(0.3)
        began = time.monotonic()
        assert (await client.get(f"/api/recordings/{demo}")).status_code == 200
        assert time.monotonic() - began < 3
        answers = await asyncio.gather(*asked)
    # None fails; what waits too long is told so, to be asked again.
    statuses = {answer.status_code for answer in answers}
    assert statuses <= {200, 503}
    assert all(answer.json()["code"] == "too-busy" for answer in answers if answer.status_code == 503)
    assert sum(answer.status_code == 200 for answer in answers) >= 50


async def test_two_hundred_searches_at_once_keep_nobody_else_waiting(running: RunningApp, demo: int):
    # An idle connection is let go of before the server does: one taken up just then would break.
    async with httpx.AsyncClient(
        base_url=running.url, timeout=60, limits=httpx.Limits(max_connections=300, keepalive_expiry=1)
    ) as client:
        asked = [
            asyncio.create_task(client.get("/api/search", params={"q": f"lamp wick harbour light {i}"}))
            for i in range(200)
        ]
        await asyncio.sleep(0.3)
        waited = []
        while not all(task.done() for task in asked):
            began = time.monotonic()
            assert (await client.get("/api/recordings")).status_code == 200
            waited.append(time.monotonic() - began)
        answers = await asyncio.gather(*asked)
    assert max(waited, default=0) < 5
    assert {answer.status_code for answer in answers} <= {200, 503}


def test_a_transcript_of_many_hours_is_read_while_others_work(running: RunningApp, tmp_path: Path):
    media = make_media(tmp_path / "many-hours.wav", "sine=f=240:d=3")
    words = b"WEBVTT\n\n00:00.000 --> 08:00.000\n" + b"lamp oil wick " * 20_000
    with running.client as client:
        talk = bring_in(client, media, None).json()["id"]
        upload = send(client, words, "evening.vtt")
    told: list[httpx.Response] = []

    def attach() -> None:
        with running.client as client:
            body = {"upload": upload, "name": "evening.vtt"}
            told.append(client.post(f"/api/recordings/{talk}/transcript", json=body))

    longest, count = longest_s(running, "/api/catalogue", attach)
    assert told[0].status_code == 200, told[0].text
    assert told[0].json()["words"] == 60_000
    assert count > 3
    assert longest < 1, "read on the server's own loop, nothing would be answered meanwhile"


def test_a_transcript_that_takes_for_ever_is_given_up_in_words(running: RunningApp, tmp_path: Path):
    """A file over the size that is read is not even looked into."""
    with running.client as client:
        media = make_media(tmp_path / "few-hours.wav", "sine=f=250:d=3")
        talk = bring_in(client, media, None).json()["id"]
        upload = send(client, b"lamp " * 4_100_000, "evening.txt")
        refused = client.post(f"/api/recordings/{talk}/transcript", json={"upload": upload, "name": "evening.txt"})
    assert refused.status_code == 422
    assert refused.json()["detail"] == "evening.txt: over 20 MB, which no transcript is."


def test_what_came_before_an_upload_broke_is_kept_to_the_byte(running: RunningApp):
    with running.client as client:
        headers = {"Upload-Length": "900000", "Tus-Resumable": "1.0.0"}
        place = client.post("/api/uploads", headers=headers).headers["location"]
        head = (
            "Upload-Offset: 0\r\nContent-Type: application/offset+octet-stream\r\nContent-Length: 900000\r\n"
            "Tus-Resumable: 1.0.0\r\n"
        )
        sender = socket.create_connection(("127.0.0.1", running.settings.port))
        sender.sendall(f"PATCH {place} HTTP/1.1\r\nHost: 127.0.0.1:{running.settings.port}\r\n{head}\r\n".encode())
        sender.sendall(b"x" * 300_000)
        time.sleep(0.5)
        sender.close()
        for _ in range(50):
            if (offset := client.head(place).headers["upload-offset"]) == "300000":
                break
            time.sleep(0.1)
        assert offset == "300000"
        client.delete(place)


def _values(schema: dict, too_much: int) -> object:
    """A value for a schema, with every number in it far too large."""
    kind = schema.get("type") or next((one.get("type") for one in schema.get("anyOf", []) if "type" in one), "object")
    return {"integer": too_much, "number": 1.0, "boolean": False, "array": [], "string": "a"}.get(kind, {})


@pytest.mark.parametrize("too_much", [2**31, 2**63, 10**40])
def test_no_number_is_too_large_to_be_told_so(running: RunningApp, too_much: int):
    """Every route, with numbers that no database holds in its path, query and body."""
    with running.client as client:
        described = client.get("/api/openapi.json").json()
        schemas = described["components"]["schemas"]
        asked = 0
        for path, methods in described["paths"].items():
            for method, route in methods.items():
                numbers = [p for p in route.get("parameters", []) if p["schema"].get("type") == "integer"]
                named = {p["name"]: _values(p["schema"], too_much) for p in route.get("parameters", [])}
                reference = (
                    route.get("requestBody", {}).get("content", {}).get("application/json", {}).get("schema", {})
                )
                body_schema = schemas.get(reference.get("$ref", "").rsplit("/", 1)[-1], {})
                body = {name: _values(one, too_much) for name, one in body_schema.get("properties", {}).items()}
                if path == "/api/changes" or not (numbers or too_much in body.values()):
                    continue
                query = (
                    {p["name"]: named[p["name"]] for p in route["parameters"] if p["in"] == "query"} if numbers else {}
                )
                answer = client.request(method, path.format(**named), params=query, json=body or None)
                assert answer.status_code < 500, (method, path, answer.text)
                asked += 1
    assert asked > 40


@pytest.mark.parametrize(
    "edit",
    [
        {"kind": "strike-words", "first": 2**63, "last": 2**70},
        {"kind": "set-edge", "edge": "in", "to_ms": 2**63},
        {"kind": "set-edge", "edge": "in", "word": 10**40},
    ],
)
def test_no_number_in_an_edit_is_too_large_to_be_told_so(running: RunningApp, demo: int, edit: dict):
    with running.client as client:
        quote = keep(client, demo, SECRET)
        body = {"on_revision": quote["revision"], "edit": edit}
        assert client.post(f"/api/quotes/{quote['id']}/edits", json=body).status_code in (409, 422)
        assert client.post(f"/api/recordings/{demo}/cuts", json={"at_ms": 2**40, "there": True}).status_code == 422
        assert client.post(f"/api/recordings/{demo}/quotes", json={"first": 2**63, "last": 2**63}).status_code == 422


def test_another_method_than_an_address_takes_is_told_as_that(running: RunningApp):
    with running.client as client:
        refused = client.get("/api/quotes/1/edits")
        assert (refused.status_code, refused.headers["allow"]) == (405, "POST")
        assert refused.json()["detail"] == "This address takes POST only."
        assert client.get("/api/nothing").status_code == 404
        assert client.post("/api/recordings/1").status_code == 405


def test_the_api_describes_its_errors(running: RunningApp):
    with running.client as client:
        described = client.get("/api/openapi.json").json()
    for path, methods in described["paths"].items():
        for method, route in methods.items():
            for status in ("404", "409", "422", "5XX"):
                content = route["responses"][status]["content"]
                assert list(content) == ["application/problem+json"], (method, path, status)
                assert content["application/problem+json"]["schema"] == {"$ref": "#/components/schemas/Problem"}
    assert {"type", "status", "detail", "code"} == set(described["components"]["schemas"]["Problem"]["properties"])
    assert "HTTPValidationError" not in json.dumps(described)


def test_the_printed_shortlist_runs_nothing(running: RunningApp, demo: int):
    with running.client as client:
        printed = client.get("/api/shortlist.html", params={"talk": demo})
    assert printed.headers["content-security-policy"].startswith("default-src 'none'; style-src 'unsafe-inline'")


def test_a_speakers_page_is_gone_with_its_quote(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, SECRET)
        page = client.post(f"/api/quotes/{quote['id']}/approvals", json={}).json()["address"]
        assert client.get(page).status_code == 200
        client.post(f"/api/quotes/{quote['id']}/remove")
        assert client.get(page).status_code == 404
        assert client.post(page, content=b"answer=approved&by=Maren").status_code == 404
        client.post(f"/api/quotes/{quote['id']}/restore")
        assert client.get(page).status_code == 200
