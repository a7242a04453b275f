"""Links for phones: opened only where the house let phones in, to one quote, for a while, and nothing else answers there."""

import re
import time
from collections.abc import Iterator
from typing import Any

import httpx
import psycopg
import pytest

from tests.conftest import RunningApp, answers, wait_for
from tests.helpers import keep

SAID = "Keep the wick short."
Told = dict[str, Any]


def let_in(client: httpx.Client, phones: bool) -> Told:
    told = client.get("/api/house/posting").json()
    body = {name: told[name] for name in ("pattern", "time_zone", "usual_time")}
    answer = client.put("/api/house/posting", json={**body, "phones": phones})
    answer.raise_for_status()
    return dict(answer.json())


@pytest.fixture
def phones(running: RunningApp) -> Iterator[httpx.Client]:
    """The application, with phones let in; the client is a browser of the house's own."""
    with running.client as client:
        told = let_in(client, True)
        assert told["phone_address"] == f"127.0.0.1:{running.settings.phone_port}", told["phone_problem"]
        yield client
        let_in(client, False)


@pytest.fixture(scope="module")
def quote(running: RunningApp, demo: int) -> Told:
    """A quote with a clip."""
    with running.client as client:
        made = keep(client, demo, SAID)
        (asked, *_) = client.post(f"/api/quotes/{made['id']}/exports", json={"quality": "small"}).json()
        ids = [asked["id"]]
        wait_for(
            lambda: all(one["state"] == "done" for one in client.get("/api/exports").json() if one["id"] in ids),
            "the clip",
            120,
        )
        return {**made, "export": asked["id"]}


def link_to(client: httpx.Client, quote: Told, **how: int) -> Told:
    made = client.post(f"/api/quotes/{quote['id']}/phone", json=how)
    assert made.status_code == 201, made.text
    return dict(made.json())


def test_the_door_is_closed_until_it_is_opened_and_closes_again(running: RunningApp, quote: Told):
    door = f"http://127.0.0.1:{running.settings.phone_port}/"
    with running.client as client:
        refused = client.post(f"/api/quotes/{quote['id']}/phone", json={})
        assert (refused.status_code, refused.json()["code"]) == (409, "phones-off")
        with pytest.raises(httpx.ConnectError):
            httpx.get(door)
        let_in(client, True)
        assert httpx.get(door).status_code == 404
        let_in(client, False)
        wait_for(lambda: not _open(door), "the door to close", 10)


def _open(address: str) -> bool:
    try:
        httpx.get(address)
    except httpx.TransportError:
        return False
    return True


def test_a_link_shows_plays_and_saves_the_clips_of_its_quote_with_their_text(phones: httpx.Client, quote: Told):
    link = link_to(phones, quote)
    assert link["code"].startswith("data:image/svg+xml")
    page = httpx.get(link["address"])
    assert page.status_code == 200
    assert SAID in page.text
    assert "Copy the text" in page.text
    assert page.headers["cache-control"] == "no-store"
    nonce = re.search(r"script-src 'nonce-([\w-]+)'", page.headers["content-security-policy"])
    assert nonce is not None
    assert f'<script nonce="{nonce[1]}">' in page.text
    assert nonce[1] not in httpx.get(link["address"]).text, "it is another each time"

    clip = f"{link['address']}/{quote['export']}.mp4"
    whole = httpx.get(clip)
    assert whole.headers["content-type"] == "video/mp4"
    part = httpx.get(clip, headers={"range": "bytes=100-199"})
    assert (part.status_code, part.content) == (206, whole.content[100:200])
    saved = httpx.get(clip, params={"save": "1"}).headers["content-disposition"]
    assert saved.startswith("attachment")
    assert httpx.get(f"{link['address']}/{quote['export']}.jpg").content[:2] == b"\xff\xd8"


def test_nothing_else_answers_there(phones: httpx.Client, running: RunningApp, quote: Told, demo: int):
    link = link_to(phones, quote)
    door = f"http://127.0.0.1:{running.settings.phone_port}"
    for path in ("/", "/api/recordings", "/api/openapi.json", "/outbox", "/get/", "/get/made-up", "/get/../api/quotes/1",
                 f"/get/made-up/{quote['export']}.mp4", f"{link['address'].removeprefix(door)}/{10**6}.mp4",
                 f"{link['address'].removeprefix(door)}/{10**30}.mp4", f"{link['address'].removeprefix(door)}/{quote['export']}.txt"):  # fmt: skip
        assert httpx.get(door + path).status_code == 404, path
    assert httpx.post(link["address"]).status_code == 404
    # A clip of another quote is not told by this link.
    other = keep(phones, demo, "It blackens the glass,")
    with psycopg.connect(running.settings.database_url) as conn:
        conn.execute("update export set quote_id = %s where id = %s", [other["id"], quote["export"]])
        conn.commit()
        try:
            assert httpx.get(f"{link['address']}/{quote['export']}.mp4").status_code == 404
            assert "Nothing of this quote is exported yet" in httpx.get(link["address"]).text
        finally:
            conn.execute("update export set quote_id = %s where id = %s", [quote["id"], quote["export"]])
            conn.commit()
    # The house's own address does not answer a link, nor takes a name of the network for its own.
    assert phones.get(link["address"].removeprefix(door)).headers["content-type"].startswith("text/html")
    assert "Copy the text" not in phones.get(link["address"].removeprefix(door)).text


def test_a_link_ends_with_its_time_its_quote_and_when_it_is_taken_back(
    phones: httpx.Client, running: RunningApp, quote: Told
):
    first, second, third = (link_to(phones, quote, minutes=15) for _ in range(3))
    listed = phones.get(f"/api/quotes/{quote['id']}/phone").json()
    assert {one["id"] for one in (first, second, third)} <= {one["id"] for one in listed}
    assert all("address" not in one for one in listed)
    phones.delete(f"/api/quotes/{quote['id']}/phone/{first['id']}").raise_for_status()
    assert phones.delete(f"/api/quotes/{quote['id']}/phone/{first['id']}").status_code == 404
    with psycopg.connect(running.settings.database_url, autocommit=True) as conn:
        conn.execute("update phone_link set expires_at = now() where id = %s", [second["id"]])
        kept = conn.execute("select address_hash from phone_link").fetchall()
        assert all(third["address"].rsplit("/", 1)[1].encode() not in bytes(one[0]) for one in kept)
    for gone in (first, second):
        page = httpx.get(gone["address"])
        assert (page.status_code, "Ask for a new one" in page.text) == (404, True)
        assert httpx.get(f"{gone['address']}/{quote['export']}.mp4").status_code == 404
    assert httpx.get(third["address"]).status_code == 200
    phones.post(f"/api/quotes/{quote['id']}/remove").raise_for_status()
    assert httpx.get(third["address"]).status_code == 404
    phones.post(f"/api/quotes/{quote['id']}/restore").raise_for_status()
    assert httpx.get(third["address"]).status_code == 200
    for minutes in (0, 100_000):
        assert phones.post(f"/api/quotes/{quote['id']}/phone", json={"minutes": minutes}).status_code == 422


def test_where_the_door_can_not_be_opened_that_is_told(running: RunningApp, quote: Told):
    import socket

    with running.client as client, socket.socket() as taken:
        taken.bind(("127.0.0.1", running.settings.phone_port))
        taken.listen()
        told = let_in(client, True)
        assert told["phone_address"] is None
        assert "Is another program there?" in told["phone_problem"]
        refused = client.post(f"/api/quotes/{quote['id']}/phone", json={})
        assert "Is another program there?" in refused.json()["detail"]
        taken.close()
        # It opens by itself once it can.
        wait_for(lambda: client.get("/api/house/posting").json()["phone_address"], "the door to open", 10)
        let_in(client, False)
        time.sleep(0.1)
        assert not answers(f"http://127.0.0.1:{running.settings.phone_port}/")
