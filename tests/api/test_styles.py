"""The house's caption styles over the running application: versions that quotes follow or hold, files, faces, palette."""

from io import BytesIO
from typing import Any

import pytest
from fontTools.ttLib import TTFont

from nimble_quote.settings import Settings
from tests.conftest import RunningApp, wait_for
from tests.helpers import edit, keep, resolved

SAID = "Keep the wick short."


def style_of(client: Any, id_: str) -> dict[str, Any]:
    return next(one for one in client.get("/api/catalogue").json()["styles"] if one["id"] == id_)


def wanted(client: Any, name: str, **look: object) -> dict[str, Any]:
    return {"name": name, "said": "for a test", "look": {**style_of(client, "quay")["look"], **look}}


def look_of(client: Any, quote: dict[str, Any]) -> dict[str, Any]:
    return dict(resolved(client, quote)[0]["assembly"]["cue_tracks"][0]["look"])


def test_a_style_of_ones_own_is_made_changed_followed_held_and_retired(running: RunningApp, demo: int):
    with running.client as client:
        made = client.post("/api/styles", json=wanted(client, "Pulpit", size=0.05), params={"by": "Ada"})
        assert made.status_code == 201, made.text
        own = made.json()
        assert (own["version"], own["look"]["size"]) == (1, 0.05)
        follows, holds = (
            edit(client, keep(client, demo, SAID), kind="choose-caption-style", style=own["id"]).json()
            for _ in range(2)
        )
        holds = edit(client, holds, kind="hold-caption-style", held=1).json()
        assert client.get(f"/api/styles/{own['id']}/follows").json() == {"follow": 1, "exported": 0}
        changed = client.put(f"/api/styles/{own['id']}", json=wanted(client, "Pulpit", size=0.06))
        assert (changed.json()["style"]["version"], changed.json()["follow"]) == (2, 1)
        assert look_of(client, follows)["size"] == 0.06
        assert look_of(client, holds)["size"] == 0.05
        same = client.put(f"/api/styles/{own['id']}", json=wanted(client, "Pulpit two", size=0.06)).json()
        assert (same["style"]["version"], same["style"]["name"], same["follow"]) == (2, "Pulpit two", 0)
        assert client.post(f"/api/styles/{own['id']}/retire", json={"retired": True}).json()["retired"]
        assert look_of(client, follows)["size"] == 0.06
        refused = edit(client, keep(client, demo, SAID), kind="choose-caption-style", style=own["id"])
        assert "offered no more" in refused.json()["detail"]


def test_an_exported_quote_holds_the_style_it_was_exported_with(running: RunningApp, demo: int):
    with running.client as client:
        own = client.post("/api/styles", json=wanted(client, "Vestry", size=0.05)).json()
        quote = edit(client, keep(client, demo, SAID), kind="choose-caption-style", style=own["id"]).json()
        (made,) = client.post(
            f"/api/quotes/{quote['id']}/exports", json={"destinations": [quote["versions"][0]["destination"]]}
        ).json()
        wait_for(lambda: _done(client, made["id"]), "the clip", 120)
        changed = client.put(f"/api/styles/{own['id']}", json=wanted(client, "Vestry", size=0.07)).json()
        assert (changed["follow"], changed["held"]) == (0, 1)
        now = client.get(f"/api/quotes/{quote['id']}").json()
        assert now["document"]["captions"]["held"] == 1
        assert now["undo_said"] == "Holds version 1 of Vestry"
        assert look_of(client, now)["size"] == 0.05
        client.post(f"/api/styles/{own['id']}/retire", json={"retired": True})


def _done(client: Any, export_id: int) -> bool:
    return any(one["id"] == export_id and one["state"] == "done" for one in client.get("/api/exports").json())


@pytest.mark.parametrize(
    ("change", "why"),
    [
        ({"name": "Quay"}, "already"),
        ({"look": {"face": "Nobody's Face"}}, "no face called"),
        ({"look": {"size": 9}}, "size"),
        ({"look": {"colour": "red"}}, "colour"),
        ({"look": {"limits": {"lines": 0}}}, "limits"),
        ({"name": "  "}, "name"),
    ],
)
def test_a_style_that_can_t_be_is_refused_with_what_is_wrong(
    running: RunningApp, demo: int, change: dict[str, Any], why: str
):
    with running.client as client:
        body = wanted(client, "Odd")
        look = {**body["look"], **change.pop("look", {})}
        refused = client.post("/api/styles", json={**body, **change, "look": look})
        assert refused.status_code == 422
        assert why in refused.text


def test_a_style_is_saved_as_a_file_and_brought_in_again(running: RunningApp, demo: int):
    with running.client as client:
        file = client.get("/api/styles/quay/file")
        assert "Quay.json" in file.headers["content-disposition"]
        assert file.json()["format"] == "nimble-quote-caption-style"
        assert "already" in client.post("/api/styles/file", content=file.content).json()["detail"]
        renamed = file.text.replace('"name": "Quay"', '"name": "Quay again"')
        brought = client.post("/api/styles/file", content=renamed.encode())
        assert brought.status_code == 201, brought.text
        assert brought.json()["look"] == style_of(client, "quay")["look"]
        client.post(f"/api/styles/{brought.json()['id']}/retire", json={"retired": True})
        for hostile in (
            b"",
            b"\xff\xfe",
            b"[" * 90_000,
            b'{"format": "other"}',
            renamed.replace('"version": 1', '"version": 7').encode(),
        ):
            refused = client.post("/api/styles/file", content=hostile)
            assert refused.status_code == 422, hostile[:20]
        assert client.post("/api/styles/file", content=b" " * 200_000).status_code == 413


def test_a_style_is_seen_before_it_is_there(running: RunningApp, demo: int):
    with running.client as client:
        seen = client.post(
            "/api/styles/sample", json={"style": wanted(client, "New"), "destination": "tall-60", "text": "{\\p1} hi"}
        )
        assert seen.status_code == 200, seen.text
        assert (
            seen.json()["faces"] == ["Atkinson Hyperlegible Bold", "Noto Sans SC Bold"]
            or "Atkinson" in seen.json()["faces"][0]
        )
        assert (seen.json()["width"], seen.json()["height"]) == (1080, 1920)


def own_face(name: str) -> bytes:
    font = TTFont(Settings().fonts / "AtkinsonHyperlegible_700Bold.ttf")
    for record in font["name"].names:
        if record.nameID in (1, 4, 6, 16):
            record.string = name
    out = BytesIO()
    font.save(out)
    return out.getvalue()


def test_a_face_of_the_house_s_own_is_brought_in_used_and_retired(running: RunningApp, demo: int):
    with running.client as client:
        brought = client.post(
            "/api/house/faces", content=own_face("Harbour Sign Bold"), params={"licence": "Bought in 2025."}
        )
        assert brought.status_code == 201, brought.text
        face = brought.json()
        assert (face["name"], face["own"], face["licence"]) == ("Harbour Sign Bold", True, "Bought in 2025.")
        assert client.get(f"/api/house/faces/{face['file']}").content[:4] == b"\x00\x01\x00\x00"
        quote = edit(
            client, keep(client, demo, SAID), kind="change-caption-look", look={"face": "Harbour Sign Bold"}
        ).json()
        version = resolved(client, quote)[0]
        assert "Harbour Sign Bold" in version["faces"]
        assert "glyph" not in {one["check"] for one in version["findings"]}
        client.post("/api/house/faces/Harbour Sign Bold/retire", json={"retired": True})
        assert next(one for one in client.get("/api/catalogue").json()["faces"] if one["name"] == "Harbour Sign Bold")[
            "retired"
        ]
        shipped = client.post("/api/house/faces", content=(Settings().fonts / "Lexend_700Bold.ttf").read_bytes())
        assert "ships with" in shipped.json()["detail"]
        for hostile in (b"", b"no font", b"\x00\x01\x00\x00" + b"\xff" * 500):
            assert client.post("/api/house/faces", content=hostile).status_code == 422
        assert client.post("/api/house/faces/Nobody/retire", json={"retired": True}).status_code == 404
        assert client.get("/api/house/faces/..%2F..%2Fetc").status_code == 404


def test_the_palette_is_the_house_s(running: RunningApp, demo: int):
    with running.client as client:
        before = client.get("/api/catalogue").json()["palette"]
        assert client.put("/api/house/palette", json={"colours": ["#112233", "#112233", "#aabbcc"]}).status_code == 200
        assert client.get("/api/catalogue").json()["palette"] == ["#112233", "#AABBCC"]
        assert client.put("/api/house/palette", json={"colours": ["blue"]}).status_code == 422
        client.put("/api/house/palette", json={"colours": before})
