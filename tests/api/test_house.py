"""A house's own destinations: made, changed, retired; and what no clip could be made for is refused with what would do."""

import subprocess
from typing import Any

import pytest

from tests.conftest import RunningApp
from tests.helpers import edit, keep, resolved

WANTED: dict[str, Any] = {
    "name": "Lobby screen", "width": 1200, "height": 1600, "limit_ms": 45_000, "largest_mb": 60,
    "covered": [{"x": 0, "y": 0.9, "width": 1, "height": 0.1, "name": "ticker"}],
    "rate": "30", "file_name": "{destination}: {quote}",
}  # fmt: skip
SAID = "Keep the wick short."


def catalogue(running: RunningApp) -> dict[str, dict[str, Any]]:
    with running.client as client:
        return {one["name"]: one for one in client.get("/api/catalogue").json()["destinations"]}


def test_a_destination_of_ones_own_is_made_used_changed_and_retired(running: RunningApp, demo: int):
    with running.client as client:
        made = client.post("/api/destinations", json=WANTED)
        assert made.status_code == 201, made.text
        own = made.json()
        assert (own["shape"], own["rate"], own["retired"]) == ("r3x4", "30", False)
        quote = edit(client, keep(client, demo, SAID), kind="add-version", destination=own["id"]).json()
        version = next(one for one in resolved(client, quote) if one["destination"] == own["id"])
        assert version["assembly"]["rate"] == "30"
        gauge = next(one for one in quote["gauges"] if one["destination"] == own["id"])
        assert gauge["limit_ms"] == 45_000
        assert gauge["length_ms"] == pytest.approx(version["assembly"]["frames"] * 1000 / 30, abs=1)
        (panel,) = version["assembly"]["picture"][0]["panels"]
        assert (panel["width_px"], panel["height_px"]) == (1200, 1600)

        changed = client.put(
            f"/api/destinations/{own['id']}", json={**WANTED, "width": 1080, "height": 1920, "rate": None}
        )
        assert (changed.json()["shape"], changed.json()["rate"]) == ("tall", None)
        assert resolved(client, quote)[-1]["assembly"]["rate"] == "25"

        gone = client.post(f"/api/destinations/{own['id']}/retire", json={"retired": True})
        assert gone.json()["retired"]
        assert [one for one in quote["gauges"] if one["destination"] == own["id"]]
        refused = edit(client, keep(client, demo, SAID), kind="add-version", destination=own["id"])
        assert (refused.status_code, "offered no more" in refused.json()["detail"]) == (422, True)
        client.post(f"/api/destinations/{own['id']}/retire", json={"retired": False})
        assert not catalogue(running)["Lobby screen"]["retired"]
        # The other tests know what is offered.
        client.post(f"/api/destinations/{own['id']}/retire", json={"retired": True})


@pytest.mark.parametrize(
    ("change", "why"),
    [
        ({"width": 1081}, "The nearest is 1082 × 1600"),
        ({"height": 1599}, "The nearest is 1200 × 1600"),
        ({"width": 80}, "160 to 4096 pixels"),
        ({"width": 400, "height": 1800}, "at most 4 times"),
        ({"limit_ms": 10}, "between 1 second and 6 hours"),
        ({"largest_mb": 0}, "between 1 and 100,000 MB"),
        ({"rate": "12"}, "no standard rate"),
        ({"name": "tall 60"}, "the name of another destination"),
        ({"name": "  "}, "at least 1 character"),
        ({"file_name": "{secret}"}, "in braces, and no others"),
        ({"file_name": "{quote"}, "in braces, and no others"),
        ({"covered": [{"x": 0.5, "y": 0, "width": 0.6, "height": 1, "name": "bar"}]}, "inside the picture"),
        ({"covered": [{"x": -1, "y": 0, "width": 0.6, "height": 1, "name": "bar"}]}, "greater than or equal to 0"),
    ],
)
def test_a_destination_that_no_clip_could_be_made_for_is_refused(running: RunningApp, change: dict[str, Any], why: str):
    with running.client as client:
        before = client.get("/api/catalogue").json()["destinations"]
        answer = client.post("/api/destinations", json={**WANTED, "name": "Another", **change})
        assert answer.status_code == 422
        assert why in answer.json()["detail"]
        assert client.get("/api/catalogue").json()["destinations"] == before
        assert client.put("/api/destinations/none-such", json=WANTED).status_code == 404


def test_a_framing_is_taken_from_another_quote_of_the_recording_and_from_no_other(
    running: RunningApp, demo: int, ferry: int
):
    with running.client as client:
        giver, taker = keep(client, demo, SAID), keep(client, demo, "They were not pretty.")
        change = {"layout": "one", "closeness": 1.4}
        giver = edit(
            client, giver, kind="frame-shot", at_ms=giver["document"]["span"]["start_ms"] + 100, change=change
        ).json()
        taken = client.post(
            f"/api/quotes/{taker['id']}/take-framing", json={"of": giver["id"], "on_revision": taker["revision"]}
        )
        assert taken.status_code == 200, taken.text
        now = taken.json()
        assert now["undo_said"] == f"Took the framing of “{giver['document']['title']}”"
        assert resolved(client, now)[0]["framing"][0]["closeness"] == pytest.approx(1.4, abs=0.02)
        undone = client.post(f"/api/quotes/{taker['id']}/undo", json={"on_revision": now["revision"]}).json()
        assert undone["document"] == taker["document"]
        stale = client.post(f"/api/quotes/{taker['id']}/take-framing", json={"of": giver["id"], "on_revision": 99})
        assert stale.status_code == 409
        other = client.post(f"/api/recordings/{ferry}/quotes", json={"first": 0, "last": 5}).json()
        body = {"of": other["id"], "on_revision": undone["revision"]}
        refused = client.post(f"/api/quotes/{taker['id']}/take-framing", json=body)
        assert (refused.status_code, "another recording" in refused.json()["detail"]) == (422, True)


def picture(size: str = "640x480", kind: str = "png") -> bytes:
    """A made picture as a file of some kind."""
    codec = {"png": "png", "jpeg": "mjpeg", "webp": "libwebp", "gif": "gif"}[kind]
    return subprocess.run(
        ["ffmpeg", "-v", "error", "-f", "lavfi", "-i", f"testsrc=s={size}", "-frames:v", "1", "-c:v", codec, "-f",
         "webp" if kind == "webp" else "gif" if kind == "gif" else "image2pipe", "-"],
        capture_output=True, check=True,
    ).stdout  # fmt: skip


@pytest.mark.parametrize("kind", ["png", "jpeg", "webp"])
def test_a_picture_is_brought_written_anew_and_retired(running: RunningApp, kind: str):
    with running.client as client:
        made = client.post("/api/house/pictures", params={"name": "Harbour"}, content=picture("2560x1440", kind))
        assert made.status_code == 201, made.text
        assert (made.json()["width"], made.json()["height"]) == (1920, 1080)
        told = client.get(f"/api/house/pictures/{made.json()['id']}")
        assert told.headers["content-type"] == "image/jpeg"
        assert told.content[:3] == b"\xff\xd8\xff"
        address = f"/api/house/pictures/{made.json()['id']}/retire"
        assert client.post(address, json={"retired": True}).is_success
        mine = [one for one in client.get("/api/catalogue").json()["pictures"] if one["id"] == made.json()["id"]]
        assert [one["retired"] for one in mine] == [True]


@pytest.mark.parametrize(
    ("sent", "why"),
    [
        (b"", "no picture"),
        (b"#EXTM3U\nfile:///etc/passwd", "no picture"),
        (b"\x89PNG\r\n\x1a\n" + b"broken" * 20, "no picture"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'><script/></svg>", "script"),
    ],
)
def test_what_is_no_picture_is_refused(running: RunningApp, sent: bytes, why: str):
    with running.client as client:
        refused = client.post("/api/house/pictures", params={"name": "Odd"}, content=sent)
    assert refused.status_code == 422
    assert why in refused.json()["detail"]


LAMP = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 50 100"><circle cx="25" cy="50" r="24" fill="#%s"/></svg>'


def test_a_logo_is_seen_through_kept_once_and_replaced_wherever_it_is(running: RunningApp, demo: int):
    with running.client as client:
        made = client.post("/api/house/pictures", params={"name": "Lamp"}, content=LAMP % b"0B5454").json()
        assert (made["width"], made["height"], made["see_through"]) == (960, 1920, True)
        again = client.post("/api/house/pictures", params={"name": "Same"}, content=LAMP % b"0B5454").json()
        assert (again["id"], again["name"]) == (made["id"], "Lamp")
        scaled = client.get(f"/api/house/pictures/{made['id']}/60x120.png", params={"revision": 1})
        assert scaled.content[16:24] == (60).to_bytes(4, "big") + (120).to_bytes(4, "big")
        quote = keep(client, demo, "Keep the wick short.")
        logo = edit(client, quote, kind="add-overlay", what={"kind": "logo", "picture": made["id"], "size": 0.2})
        assert logo.status_code == 200, logo.text
        before = resolved(client, logo.json())[0]["assembly"]["overlays"][0]
        assert (before["width_px"], before["height_px"], before["revision"]) == (108, 216, 1)
        wide = client.put(f"/api/house/pictures/{made['id']}", content=picture("400x100")).json()
        assert (wide["id"], wide["revision"], wide["see_through"]) == (made["id"], 2, False)
        after = resolved(client, logo.json())[0]["assembly"]["overlays"][0]
        assert (after["width_px"], after["height_px"], after["revision"]) == (216, 54, 2)
        told = {"name": "Lamp mark", "licence": "Our own"}
        assert client.post(f"/api/house/pictures/{made['id']}/describe", json=told).is_success
        mine = next(one for one in client.get("/api/catalogue").json()["pictures"] if one["id"] == made["id"])
        assert (mine["name"], mine["licence"]) == ("Lamp mark", "Our own")
        assert client.put("/api/house/pictures/99999", content=picture()).status_code == 404
        assert edit(client, logo.json(), kind="add-overlay", what={"kind": "logo", "picture": 99999}).status_code == 422


def test_a_gif_or_a_huge_picture_is_refused(running: RunningApp):
    with running.client as client:
        assert (
            client.post("/api/house/pictures", params={"name": "Gif"}, content=picture(kind="gif")).status_code == 422
        )
        huge = client.post("/api/house/pictures", params={"name": "Huge"}, content=picture("9000x7000"))
        assert "Make it smaller" in huge.json()["detail"]
        assert client.post("/api/house/pictures", params={"name": "Long"}, content=b"x" * 20_000_001).status_code == 413


def test_the_house_has_a_colour(running: RunningApp):
    with running.client as client:
        before = client.get("/api/catalogue").json()["colour"]
        assert client.put("/api/house/colour", json={"colour": "#0B5454"}).is_success
        assert client.get("/api/catalogue").json()["colour"] == "#0B5454"
        assert client.put("/api/house/colour", json={"colour": "teal"}).status_code == 422
        client.put("/api/house/colour", json={"colour": before})
