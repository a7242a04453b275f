"""Music and sounds of the house's, and what is heard of them; covers, end cards and what they are exported as; what people are."""

import io
import subprocess
import wave
from typing import Any

import httpx
import numpy as np
import pytest

from tests.conftest import RunningApp, wait_for
from tests.helpers import edit, keep, resolved

SAID = "Keep the wick short."


def sound(source: str = "sine=f=220:r=44100:d=6", kind: str = "wav") -> bytes:
    """A made sound as a file of some kind."""
    return subprocess.run(
        ["ffmpeg", "-v", "error", "-f", "lavfi", "-i", source, "-f", kind, "-"], capture_output=True, check=True
    ).stdout


def heard(client: httpx.Client, quote: dict[str, Any], **more: object) -> np.ndarray:
    """What is played of a version."""
    destination = quote["document"]["versions"][0]["destination"]
    told = client.get(f"/api/quotes/{quote['id']}/sound.wav", params={"destination": destination, **more})
    assert told.status_code == 200, told.text
    with wave.open(io.BytesIO(told.content)) as read:
        return np.frombuffer(read.readframes(read.getnframes()), "<i2").reshape(-1, 2) / 32768


@pytest.mark.parametrize("kind", ["wav", "flac", "mp3", "ogg"])
def test_a_sound_is_brought_measured_described_and_retired(running: RunningApp, kind: str):
    with running.client as client:
        made = client.post("/api/house/sounds", params={"name": f"Tone {kind}"}, content=sound(kind=kind))
        assert made.status_code == 201, made.text
        one = made.json()
        assert one["duration_ms"] == pytest.approx(6000, abs=60)
        assert one["loudness_lufs"] == pytest.approx(-21, abs=3)
        assert one["loop"] is not None
        said = {"name": "A tone", "licence": "Ours, made for this"}
        assert client.post(f"/api/house/sounds/{one['id']}/describe", json=said).is_success
        told = client.get(f"/api/house/sounds/{one['id']}")
        assert (told.headers["content-type"], told.content[:4]) == ("audio/ogg", b"OggS")
        assert client.post(f"/api/house/sounds/{one['id']}/retire", json={"retired": True}).is_success
        mine = next(each for each in client.get("/api/catalogue").json()["sounds"] if each["id"] == one["id"])
        assert (mine["name"], mine["licence"], mine["retired"]) == ("A tone", "Ours, made for this", True)


def test_a_sound_is_kept_once_and_replaced_wherever_it_is(running: RunningApp, demo: int):
    with running.client as client:
        made = client.post("/api/house/sounds", params={"name": "Hum"}, content=sound("sine=f=330:r=48000:d=5")).json()
        again = client.post(
            "/api/house/sounds", params={"name": "Same"}, content=sound("sine=f=330:r=48000:d=5")
        ).json()
        assert (again["id"], again["name"]) == (made["id"], "Hum")
        quote = edit(
            client,
            keep(client, demo, SAID),
            kind="add-overlay",
            what={"kind": "music", "sound": made["id"], "below_db": -6, "duck_db": 0},
        ).json()
        before = heard(client, quote)
        put = client.put(f"/api/house/sounds/{made['id']}", content=sound("sine=f=990:r=48000:d=5"))
        assert put.json()["revision"] == 2
        after = heard(client, quote)

    def at(samples: np.ndarray, pitch: float) -> float:
        turn = np.exp(2j * np.pi * pitch * np.arange(len(samples)) / 48000)
        return float(abs((samples[:, 0] * turn).mean()))

    assert at(before, 330) > 10 * at(before, 990)
    assert at(after, 990) > 10 * at(after, 330)


@pytest.mark.parametrize(
    ("sent", "why"),
    [
        (b"", "no sound"),
        (b"#EXTM3U\nfile:///etc/passwd", "no sound"),
        (b"RIFF\x00\x00\x00\x00WAVEbroken", "no sound"),
        (sound("anullsrc=r=48000:cl=stereo:d=2"), "silent"),
        (sound("sine=f=100:r=8000:d=1000"), "minutes long"),
    ],
    ids=["nothing", "a playlist", "broken", "silent", "too long"],
)
def test_what_is_no_sound_is_refused(running: RunningApp, sent: bytes, why: str):
    with running.client as client:
        refused = client.post("/api/house/sounds", params={"name": "Odd"}, content=sent)
        assert (refused.status_code, refused.json()["code"]) == (422, "sound-refused")
        assert why in refused.json()["detail"]
        assert client.put("/api/house/sounds/99999", content=sound()).status_code == 404
        assert client.get("/api/house/sounds/99999").status_code == 404


def test_the_voice_is_heard_plain_to_compare(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, SAID)
        before = heard(client, quote)
        quote = edit(client, quote, kind="add-overlay", what={"kind": "speaking-sound", "strength": "firm"}).json()
        cleaned, plain = heard(client, quote), heard(client, quote, plain=True)
    assert len(cleaned) == len(plain) == len(before)
    assert np.array_equal(plain, before)
    assert np.abs(cleaned - plain).max() > 0.01


def test_a_finish_is_taken_along_with_its_music(running: RunningApp, demo: int):
    with running.client as client:
        made = client.post(
            "/api/house/sounds", params={"name": "Along", "licence": "Ours"}, content=sound("sine=f=440:d=5")
        ).json()
        quote = keep(client, demo, SAID)
        quote = edit(client, quote, kind="add-overlay", what={"kind": "music", "sound": made["id"]}).json()
        quote = edit(client, quote, kind="add-overlay", what={"kind": "cover", "shows": {"at_ms": 5000}}).json()
        finish = client.post("/api/finishes", json={"name": "With music", "quote": quote["id"]}).json()
        assert [one["what"]["kind"] for one in finish["items"]] == ["music", "cover"]
        assert finish["items"][1]["what"]["shows"] == {"at_ms": None, "picture": None}
        file = client.get(f"/api/finishes/{finish['id']}/file")
        told = file.json()["sounds"][str(made["id"])]
        assert (told["name"], told["licence"]) == ("Along", "Ours")
        client.post(f"/api/finishes/{finish['id']}/retire", json={"retired": True})
        back = client.post("/api/finishes/file", content=file.content)
        assert back.status_code == 201, back.text
        number = back.json()["items"][0]["what"]["sound"]
        sounds = {one["id"]: one for one in client.get("/api/catalogue").json()["sounds"]}
        assert (sounds[number]["licence"], sounds[number]["duration_ms"]) == ("Ours", 5000)
        broken = {**file.json(), "name": "Broken", "sounds": {str(made["id"]): {"name": "x", "content": "AAAA"}}}
        assert client.post("/api/finishes/file", json=broken).status_code == 422
        without = {**file.json(), "name": "Without", "sounds": {}}
        refused = client.post("/api/finishes/file", json=without)
        assert (refused.status_code, "not in the file" in refused.json()["detail"]) == (422, True)


def test_frames_are_offered_for_a_cover(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, SAID, "burning at dawn.")
        destination = quote["document"]["versions"][0]["destination"]
        offered = client.get(f"/api/quotes/{quote['id']}/cover-frames", params={"destination": destination}).json()
        span = quote["document"]["span"]
        assert 1 <= len(offered) <= 8
        assert all(span["start_ms"] <= one["at_ms"] < span["end_ms"] for one in offered)
        assert all(0 <= one["sharpness"] <= 1 and (one["eyes"] is None or one["eyes"] > 0) for one in offered)
        frame = client.get(f"/api/recordings/{demo}/frame", params={"at_ms": offered[0]["at_ms"]})
        assert (frame.headers["content-type"], frame.content[:3]) == ("image/jpeg", b"\xff\xd8\xff")
        assert client.get(f"/api/recordings/{demo}/frame", params={"at_ms": 90_000_000}).status_code == 404
        refused = client.get(f"/api/quotes/{quote['id']}/cover-frames", params={"destination": "wide-140"})
        assert refused.status_code == 422


def test_an_export_has_its_cover_beside_it_and_tells_what_is_in_it(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, SAID)
        for what in (
            {"kind": "cover"},
            {"kind": "end-card", "text": "More", "length_ms": 800},
            {"kind": "music", "sound": 2},
        ):
            quote = edit(client, quote, kind="add-overlay", what=what).json()
        (version,) = resolved(client, quote)
        (asked,) = client.post(f"/api/quotes/{quote['id']}/exports", json={}).json()

        def made() -> dict[str, Any] | None:
            now = next(one for one in client.get("/api/exports").json() if one["id"] == asked["id"])
            assert now["state"] not in ("failed", "stopped"), now["problem"]
            return dict(now) if now["state"] == "done" else None

        done = wait_for(made, "the clip", 120)
        assert done["facts"]["frames"] == version["assembly"]["frames"]
        assert done["has_cover"]
        assert [one["name"] for one in done["credits"]] == ["Still water"]
        assert "free to use" in done["credits"][0]["licence"]
        for kind, head in (("png", b"\x89PNG"), ("jpg", b"\xff\xd8\xff")):
            cover = client.get(f"/api/exports/{asked['id']}/cover.{kind}")
            assert cover.content.startswith(head)
            assert f".{kind}" in cover.headers["content-disposition"]
        assert client.get("/api/exports/99999/cover.png").status_code == 404


def test_an_end_card_counts_in_the_gauges_the_plan_and_the_shortlist(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, SAID, "burning at dawn.")
        slip = next(
            one
            for one in client.get("/api/shortlist", params={"talk": demo}).json()["slips"]
            if one["id"] == quote["id"]
        )
        carded = edit(
            client, quote, kind="add-overlay", what={"kind": "end-card", "text": "More", "length_ms": 4000}
        ).json()
        longer = [one["length_ms"] for one in carded["gauges"]]
        shorter = [one["length_ms"] for one in quote["gauges"]]
        assert [a - b for a, b in zip(longer, shorter, strict=True)] == pytest.approx([4000] * len(longer), abs=41)
        assert carded["versions"][0]["length_ms"] - quote["versions"][0]["length_ms"] == pytest.approx(4000, abs=41)
        assert carded["cut"]["length_ms"] == quote["cut"]["length_ms"]
        after = next(
            one
            for one in client.get("/api/shortlist", params={"talk": demo}).json()["slips"]
            if one["id"] == quote["id"]
        )
        assert after["length_ms"] - slip["length_ms"] == 4000


def test_what_somebody_is_stands_under_their_name(running: RunningApp, demo: int):
    with running.client as client:
        assert client.put("/api/house/people", json={"name": "Maren Tolley", "role": "Keeper of lamps"}).is_success
        quote = edit(client, keep(client, demo, SAID), kind="add-overlay", what={"kind": "name-strap"}).json()
        lines = [one["lines"] for one in resolved(client, quote)[0]["assembly"]["overlays"]]
        assert lines == [["Maren Tolley"], ["Keeper of lamps"]]
        assert client.put("/api/house/people", json={"name": "Maren Tolley", "role": ""}).is_success
        assert "Maren Tolley" not in client.get("/api/catalogue").json()["roles"]
        assert client.put("/api/house/people", json={"name": " ", "role": "x"}).status_code == 422
