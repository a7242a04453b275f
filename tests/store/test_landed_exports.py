"""A house of the version that landed just before opens with its quotes cut and its exports named as they were.

`landed/` holds a dump of its database and what it showed, made by that version itself from the demo.
"""

from typing import Any

from tests.conftest import RunningApp
from tests.helpers import edit

BEFORE = "0025"
Told = dict[str, Any]


def test_exports_are_there_as_they_were_and_called_as_they_were(opened: RunningApp, told: Told):
    with opened.client as client:
        now = {one["id"]: one for one in client.get("/api/exports").json()}
    assert set(now) == {one["id"] for one in told["exports"]}
    for before in told["exports"]:
        for field in ("file_name", "state", "facts", "findings", "destination", "quote_title", "credits"):
            assert now[before["id"]][field] == before[field], field
        assert now[before["id"]]["making"] == {"kind": "clip", "codec": "h264", "quality": "usual", "size_mb": None}
        assert now[before["id"]]["overruled"] == []
        assert not now[before["id"]]["current"], "the quote was renamed since"


def test_a_version_that_played_faster_is_cut_and_timed_as_it_was(opened: RunningApp, told: Told):
    quote = told["quote"]["id"]
    with opened.client as client:
        assert client.get(f"/api/quotes/{quote}").json()["document"]["fast"] == []
        versions = client.get(f"/api/quotes/{quote}/versions").json()["versions"]
    for version, before in zip(versions, told["versions"], strict=True):
        assembly = version["assembly"]
        assert assembly["frames"] == before["frames"]
        assert [
            [run["first_frame"], run["frames"], run["source_frame"], run["step"]] for run in assembly["picture"]
        ] == before["runs"]
        assert [[cue["first_frame"], cue["end_frame"]] for cue in assembly["cue_tracks"][0]["cues"]] == before["cues"]
        assert {one["times"] for one in assembly["sound"]["played"]} == {before["speed"]}


def test_what_is_new_works_on_what_was_there(opened: RunningApp, told: Told):
    with opened.client as client:
        quote = client.get(f"/api/quotes/{told['quote']['id']}").json()
        span = quote["document"]["span"]
        fast = {"start_ms": span["start_ms"] + 3000, "end_ms": span["start_ms"] + 4000}
        shorter = edit(client, quote, kind="play-fast", span=fast, times=4).json()
        assert shorter["cut"]["length_ms"] < quote["cut"]["length_ms"]
        client.post(f"/api/exports/{told['exports'][0]['id']}/remove").raise_for_status()
        assert told["exports"][0]["id"] not in [one["id"] for one in client.get("/api/exports").json()]
        assert client.get("/api/catalogue").json()["copyright"] == ""
        assert not client.get("/api/outbox").json()["paused"]
