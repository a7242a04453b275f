"""Exports as they are wanted: other kinds, sizes told before, the line and its order, what is there already, archives, clearing."""

import io
import zipfile
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import httpx
import pytest

from tests.conftest import RunningApp, wait_for
from tests.helpers import edit, keep

SAID = "Keep the wick short."
Told = dict[str, Any]


def asked(client: httpx.Client, quote: Told, **how: object) -> list[Told]:
    made = client.post(f"/api/quotes/{quote['id']}/exports", json=how)
    assert made.status_code == 201, made.text
    return list(made.json())


def export_of(client: httpx.Client, export_id: int) -> Told:
    return next(one for one in client.get("/api/exports").json() if one["id"] == export_id)


def finished(client: httpx.Client, several: list[Told]) -> list[Told]:
    ids = [one["id"] for one in several]

    def done() -> bool:
        now = [export_of(client, one) for one in ids]
        assert not [one["problem"] for one in now if one["state"] == "failed"]
        return all(one["state"] == "done" for one in now)

    wait_for(done, "the files", 240)
    return [export_of(client, one) for one in ids]


@pytest.fixture
def quote(running: RunningApp, demo: int) -> Told:
    with running.client as client:
        return keep(client, demo, SAID)


def test_a_quote_is_exported_in_every_kind_and_what_is_there_is_used(running: RunningApp, quote: Told):
    with running.client as client:
        client.put("/api/house/copyright", json={"copyright": "The hall"}).raise_for_status()
        every = ["cut", "m4a", "mp3", "still"]
        made = finished(client, asked(client, quote, also=every, quality="small"))
        kinds = {one["making"]["kind"]: one for one in made}
        assert set(kinds) == {"clip", *every}
        assert len({one["file_name"].lower() for one in made}) == 5
        still, shape = kinds["still"], kinds["clip"]["destination"]
        assert still["destination"]["name"] == f"{shape['name']} still"
        assert (still["facts"]["width"], still["facts"]["height"]) == (shape["width"], shape["height"])
        assert client.get(f"/api/exports/{still['id']}/clip").content.startswith(b"\x89PNG")
        assert all(one["findings"] == [] for one in made), [one["findings"] for one in made]
        assert (kinds["cut"]["facts"]["width"], kinds["cut"]["facts"]["height"]) == (1920, 1080)
        assert kinds["mp3"]["facts"]["audio_codec"] == "mp3"
        for kind, media_type in (("clip", "video/mp4"), ("m4a", "audio/mp4"), ("mp3", "audio/mpeg")):
            answer = client.get(f"/api/exports/{kinds[kind]['id']}/clip", params={"download": True})
            assert answer.headers["content-type"] == media_type
            assert kinds[kind]["file_name"].endswith("mp4" if kind == "clip" else kind)
        assert b"The hall" in client.get(f"/api/exports/{kinds['clip']['id']}/clip").content
        assert client.get(f"/api/exports/{kinds['clip']['id']}/still.jpg").content[:2] == b"\xff\xd8"

        # Asked for again: the same files. Otherwise coded, or changed: others.
        again = asked(client, quote, also=every, quality="small")
        assert [one["id"] for one in again] == [one["id"] for one in made]
        assert {one["state"] for one in again} == {"done"}
        (other,) = asked(client, quote)
        assert other["id"] not in [one["id"] for one in made]
        client.post(f"/api/work/{other['work_id']}/stop")
        assert export_of(client, made[0]["id"])["current"]
        edit(client, quote, kind="rename", title="The wick")
        assert not export_of(client, made[0]["id"])["current"]
        assert client.get(f"/api/exports/{made[0]['id']}/changes").json() == ["Renamed to “The wick”"]

        # As one archive, exactly as long as it says.
        ids = [one["id"] for one in made]
        answer = client.get("/api/exports.zip", params={"ids": ids})
        assert int(answer.headers["content-length"]) == len(answer.content)
        with zipfile.ZipFile(io.BytesIO(answer.content)) as archive:
            assert archive.testzip() is None
            names = archive.namelist()
        assert {one["file_name"] for one in made} <= set(names)
        assert sum(name.endswith(".srt") for name in names) >= 1
        assert sum(name.endswith(".post.txt") for name in names) == 1
        assert client.get("/api/exports.zip", params={"ids": [99_999_999]}).status_code == 404

        # Removed: its files are gone, and it is made anew where it is asked for again.
        client.post(f"/api/exports/{ids[0]}/remove").raise_for_status()
        assert ids[0] not in [one["id"] for one in client.get("/api/exports").json()]
        assert client.post(f"/api/exports/{ids[0]}/remove").status_code == 404


def test_sizes_are_told_before_and_met(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, "So people ask me, what is the secret? You know, there is no secret.")
        destination = quote["versions"][0]["destination"]
        address = f"/api/quotes/{quote['id']}/sizes"
        told = client.get(address, params={"destination": destination}).json()
        sizes = {one["quality"]: one["bytes"] for one in told}
        assert sizes["small"] < sizes["usual"] < sizes["crisp"]
        assert client.get(address, params={"destination": "nowhere"}).status_code == 422
        wanted = round((sizes["small"] + sizes["usual"]) / 2e6, 2)
        (made,) = finished(client, asked(client, quote, sizes_mb={destination: wanted}))
        assert made["facts"]["size_bytes"] == pytest.approx(wanted * 1e6, rel=0.02)
        refused = client.post(f"/api/quotes/{quote['id']}/exports", json={"sizes_mb": {destination: 0.06}})
        assert (refused.status_code, refused.json()["code"]) == (422, "size-too-small")
        for wrong in ({"codec": "vp9"}, {"sizes_mb": {destination: -1}}, {"also": ["exe"]}):
            assert client.post(f"/api/quotes/{quote['id']}/exports", json=wrong).status_code == 422


def test_two_people_are_told_sizes_of_one_quote_at_once(running: RunningApp, quote: Told):
    with running.client as client:
        quote = edit(client, quote, kind="add-version", destination="square-60").json()
        places = [one["destination"] for one in quote["versions"]]
        with ThreadPoolExecutor(2) as people:
            told = people.map(
                lambda place: client.get(f"/api/quotes/{quote['id']}/sizes", params={"destination": place}), places
            )
        assert [answer.status_code for answer in told] == [200, 200]


def test_the_line_is_paused_put_in_order_and_let_go_on(running: RunningApp, quote: Told):
    with running.client as client:
        for destination in ("square-60", "portrait-60"):
            quote = edit(client, quote, kind="add-version", destination=destination).json()
        client.put("/api/outbox/paused", json={"paused": True}).raise_for_status()
        try:
            assert client.get("/api/outbox").json()["paused"]
            line = [one["id"] for one in asked(client, quote)]
            waits = {one["id"]: one["waits"] for one in client.get("/api/exports").json()}
            assert [waits[one] for one in line] == [0, 1, 2]
            turned = [line[2], line[0], line[1]]
            client.put("/api/exports/order", json={"exports": turned}).raise_for_status()
            waits = {one["id"]: one["waits"] for one in client.get("/api/exports").json()}
            assert [waits[one] for one in turned] == [0, 1, 2]
            assert {export_of(client, one)["state"] for one in line} == {"queued"}
        finally:
            client.put("/api/outbox/paused", json={"paused": False}).raise_for_status()
        made = finished(client, [{"id": one} for one in turned])
        facts = client.get("/api/outbox").json()
        assert facts["files"] >= len(made)
        assert facts["bytes"] >= sum(one["facts"]["size_bytes"] for one in made)
        assert "h264" in facts["codecs"]
        assert client.post("/api/outbox/clear", json={"older_than_days": 1}).json() == 0
        assert client.post("/api/outbox/clear", json={"older_than_days": -1}).status_code == 422


def test_several_quotes_are_exported_at_once_and_those_that_would_spoil_a_post_are_held(running: RunningApp, demo: int):
    with running.client as client:
        good, bad = keep(client, demo, SAID), keep(client, demo, SAID)
        edit(client, bad, kind="change-caption-look", look={"plate": None, "colour": "#2E6A66"})
        answer = client.post("/api/exports", json={"quotes": [good["id"], bad["id"]]})
        assert answer.status_code == 201
        assert [one["quote_id"] for one in answer.json()["exports"]] == [good["id"]]
        (held,) = answer.json()["held"]
        assert held["quote_id"] == bad["id"]
        assert "say in Check why" in held["why"]
        for one in answer.json()["exports"]:
            client.post(f"/api/exports/{one['id']}/remove").raise_for_status()
        assert client.post("/api/exports", json={"quotes": []}).status_code == 422
        assert client.post("/api/exports", json={"quotes": [99_999_999]}).status_code == 404
