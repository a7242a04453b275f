"""A house made by the version that landed before opens with everything in it: its quotes and their history, what was
exported and approved; and all of it can be worked on.

`landed/` holds a dump of its database and what it showed, made by that version itself from the demo.
"""

import gzip
import json
import shutil
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx
import psycopg
import pytest

from nimble_quote.demo.load import joined
from nimble_quote.store.cluster import Cluster
from tests.conftest import RunningApp, make_media, new_database, start_app, wait_for
from tests.helpers import edit
from tests.store.conftest import LANDED, restore

BEFORE = "0008"
Told = dict[str, Any]


@pytest.fixture(scope="module")
def told() -> Told:
    return dict(json.loads(gzip.decompress((LANDED / f"{BEFORE}.json.gz").read_bytes())))


@pytest.fixture(scope="module")
def opened(cluster: Cluster, tmp_path_factory: pytest.TempPathFactory) -> Iterator[RunningApp]:
    """The running, opened by this version, with a worker."""
    folder = tmp_path_factory.mktemp("landed")
    url = new_database(cluster, "landed_before")
    restore(url, gzip.decompress((LANDED / f"{BEFORE}.sql.gz").read_bytes()).decode())
    _put_media(url, folder / "media", folder)
    running = start_app(cluster, folder, "landed_before", keep=True, search_by_meaning=True)
    yield running
    running.kill(running.workers)
    running.kill(running.servers)


def _put_media(url: str, media: Path, scratch: Path) -> None:
    """The files of the house: the recording, something to hear, and the clips that were made."""
    with psycopg.connect(url) as conn:
        paths = conn.execute("select media_path, width > 0 from recording order by id").fetchall()
        clips = conn.execute("select file_path from export where file_path is not null").fetchall()
    talk = joined("keep-the-wick-short", "original.mp4", scratch / "talk.mp4")
    for path, seen in paths:
        (media / path).parent.mkdir(parents=True, exist_ok=True)
        if seen:
            shutil.copy(talk, media / path)
        else:
            make_media(media / path, "sine=f=300:r=48000:d=10", options=("-c:a", "aac"))
    for (path,) in clips:
        (media / path).parent.mkdir(parents=True, exist_ok=True)
        (media / path).write_bytes(b"a clip")


def of(client: httpx.Client, quote: str) -> Told:
    return dict(client.get(f"/api/quotes/{quote}").json())


def test_every_quote_is_there_as_long_and_as_cut_as_it_was(opened: RunningApp, told: Told):
    with opened.client as client:
        for number, before in told["quotes"].items():
            now = of(client, number)
            for field in ("revision", "undo_said", "redo_said", "part_of"):
                assert now[field] == before[field], (number, field)
            gauges = [{**one, "text": one["said"]} for one in before["gauges"]]
            assert now["gauges"] == [{name: value for name, value in one.items() if name != "said"} for one in gauges]
            for field in ("title", "span", "struck", "hushed"):
                assert now["document"][field] == before["document"][field]
            cuts = [
                {field: one[field] for field in ("destination", "struck", "restored", "speed", "soften")}
                for one in now["document"]["versions"]
            ]
            assert cuts == [{field: one[field] for field in cuts[0]} for one in before["document"]["versions"]]


def test_every_version_shows_the_same_picture_and_the_same_captions(opened: RunningApp, told: Told):
    with opened.client as client:
        for number, before in told["cuts"].items():
            now = client.get(f"/api/quotes/{number}/versions").json()["versions"]
            for one, was in zip(now, before, strict=True):
                assembly = one["assembly"]
                assert (one["destination"], assembly["frames"]) == (was["destination"], was["frames"])
                run = assembly["picture"][0]
                if was["window"] is None:
                    assert (run["source"], run["behind"]["colour"]) == (None, "#7A3B2E")
                else:
                    (panel,) = run["panels"]
                    window, box = was["window"]["window"], was["window"]
                    assert panel["keys"][0]["window"] == pytest.approx(window)
                    assert [panel[side] for side in ("x_px", "y_px", "width_px", "height_px")] == [
                        box[side] for side in ("x_px", "y_px", "width_px", "height_px")
                    ]
                # Where nobody said how, cues are made anew, and better: what they say, corrections and all, is the same.
                cues = [cue for track in assembly["cue_tracks"] for cue in track["cues"]]
                texts = [w["text"] for cue in cues for line in cue["lines"] for w in line]
                assert " ".join(texts).split() == " ".join(cue[2] for cue in was["cues"]).split()
                assert all(abs(a - b) <= 3 for a, b in zip(
                    (cues[0]["first_frame"], cues[-1]["end_frame"]), (was["cues"][0][0], was["cues"][-1][1]), strict=True
                )) if cues else not was["cues"]  # fmt: skip
                assert [one["lines"] for one in assembly["overlays"]] == [
                    one["lines"] for one in was["standing"] if any(one["lines"])
                ]


def test_recordings_of_before_are_english_until_somebody_says_otherwise(opened: RunningApp):
    with opened.client as client:
        assert {one["language"] for one in client.get("/api/recordings").json()} == {"en"}


def test_history_and_approvals_are_there(opened: RunningApp, told: Told):
    with opened.client as client:
        for number, before in told["history"].items():
            assert client.get(f"/api/quotes/{number}/history").json() == before
        assert client.get("/api/quotes/1/approvals").json() == told["approvals"]
        assert {one["answer"] for one in told["approvals"]} == {"approved", None}


def test_a_correction_and_a_note_of_before_still_hold(opened: RunningApp):
    with opened.client as client:
        version = client.get("/api/quotes/1/versions").json()["versions"][1]
        words = [
            w["text"] for cue in version["assembly"]["cue_tracks"][0]["cues"] for line in cue["lines"] for w in line
        ]
        assert "RIGHT" in words
        assert [one["accepted"] for one in version["unfair"]] == ["The speaker agreed on the phone."]
        assert [one["accepted"] for one in version["findings"] if one["check"] == "fairness"] == [
            "The speaker agreed on the phone."
        ]


def test_the_outbox_shows_what_was_made_and_makes_what_waited(opened: RunningApp, told: Told):
    with opened.client as client:
        now = {one["id"]: one for one in client.get("/api/exports").json()}
        for before in told["exports"]:
            shown = now[before["id"]]
            for field in ("quote_title", "recording_title", "planned_ms", "planned_frames", "file_name", "created_at"):
                assert shown[field] == before[field]
            for field in ("id", "name", "width", "height", "limit_ms"):
                assert shown["destination"][field] == before["destination"][field]
            if before["state"] == "done":
                assert shown["facts"] == before["facts"]
                was = before["findings"]
                assert [{field: one[field] for field in was[0]} for one in shown["findings"]] == was if was else True
                sidecar = client.get(f"/api/exports/{before['id']}/captions.srt")
                assert sidecar.text.startswith("1\n00:00:0")
                assert "put RIGHT here" in sidecar.text.replace("\n", " ")
        waiting = next(one["id"] for one in told["exports"] if one["state"] == "queued")
        made = wait_for(lambda: _ended(client, waiting), "the clip that waited", 120)
        assert (made["state"], made["findings"]) == ("done", []), made


def _word_at(client: httpx.Client, recording_id: int, ms: int) -> int:
    sentences = client.get(f"/api/recordings/{recording_id}/transcript").json()["sentences"]
    starts = [start for one in sentences for start in one["starts_ms"]]
    return next(word for word, start in enumerate(starts) if start >= ms)


def _ended(client: httpx.Client, export_id: int) -> Told | None:
    found: Told = next(one for one in client.get("/api/exports").json() if one["id"] == export_id)
    return found if found["state"] in ("done", "failed") else None


def test_quotes_are_edited_undone_compared_and_gone_back_to_over_the_change_of_schema(opened: RunningApp, told: Told):
    with opened.client as client:
        before = of(client, "1")
        changed = edit(
            client, before, kind="frame-shot", destination="square-60", change={"layout": "one", "closeness": 1.2}
        )
        assert changed.status_code == 200, changed.text
        now = changed.json()
        assert now["document"]["treatments"]["square"]["framing"]["usual"]["layout"] == "one"
        compared = client.get("/api/quotes/1/history/compare", params={"a": 2, "b": now["revision"]}).json()
        assert {"framing", "what stands over the picture"} & set(compared["differs"]) == {"framing"}
        undone = client.post("/api/quotes/1/undo", json={"on_revision": now["revision"]}).json()
        assert undone["document"] == before["document"]
        first = client.post("/api/quotes/1/history/go", json={"on_revision": undone["revision"], "to": 1}).json()
        assert first["document"]["struck"] == []
        back = client.post("/api/quotes/1/history/go", json={"on_revision": 1, "to": before["revision"]}).json()
        assert back["document"] == before["document"]


def test_corrections_of_words_of_before_are_undone_and_made_again(opened: RunningApp):
    with opened.client as client:
        talk = of(client, "1")["recording_id"]

        def words() -> str:
            sentences = client.get(f"/api/recordings/{talk}/transcript").json()["sentences"]
            return " ".join(word for one in sentences for word in one["words"])

        now = words()
        assert "joined" in now
        revision = client.get(f"/api/recordings/{talk}/transcript").json()["revision"]
        undone = client.post(f"/api/recordings/{talk}/corrections/undo", json={"on_revision": revision}).json()
        assert "small pair" in words().split("scissors.")[1]
        client.post(f"/api/recordings/{talk}/corrections/redo", json={"on_revision": undone["revision"]})
        assert words() == now


def test_a_destination_that_is_retired_still_loads_shows_and_exports(opened: RunningApp):
    with psycopg.connect(opened.settings.database_url, autocommit=True) as conn, opened.client as client:
        conn.execute("update destination set retired_at = now() where id = 'portrait-60'")
        conn.execute("update caption_style set retired_at = now() where id = 'slate'")
        try:
            quote = of(client, "1")
            assert "portrait-60" in [one["destination"] for one in quote["gauges"]]
            assert "portrait-60" not in [one["destination"] for one in of(client, "2")["gauges"]]
            shown = client.get("/api/quotes/1/versions").json()["versions"]
            assert {track["style"] for one in shown for track in one["assembly"]["cue_tracks"]} == {"slate"}
            refused = edit(client, of(client, "2"), kind="add-version", destination="portrait-60")
            assert (refused.status_code, refused.json()["detail"]) == (422, "Portrait 60 is offered no more.")
            # Five seconds of it: what is tried here is not how long a clip takes.
            last = _word_at(client, quote["recording_id"], quote["document"]["span"]["start_ms"] + 5_000)
            short = edit(client, quote, kind="move-edge-to-word", edge="out", word=last)
            assert short.status_code == 200, short.text
            (made,) = client.post("/api/quotes/1/exports", json={"destinations": ["portrait-60"]}).json()
            done = wait_for(lambda: _ended(client, made["id"]), "a clip for a retired destination", 120)
            assert done["state"] == "done", done
        finally:
            conn.execute("update destination set retired_at = null")
            conn.execute("update caption_style set retired_at = null")


def test_the_talks_that_were_there_can_be_searched_by_meaning(opened: RunningApp):
    with opened.client as client:

        def close() -> list[Told]:
            found = client.get("/api/search", params={"q": "refusing to seek assistance from others"}).json()
            return [one for one in found["passages"] if one["by_meaning"]]

        assert "never asks" in str(wait_for(close, "the talks to be read for their meaning")[0]["lines"]).replace(
            "', '", " "
        )


def test_the_styles_of_before_look_as_they_did_and_have_a_version(opened: RunningApp):
    with opened.client as client:
        styles = {one["id"]: one for one in client.get("/api/catalogue").json()["styles"]}
    assert {one["version"] for one in styles.values()} == {1}
    lamplight, slate, quay = (styles[name]["look"] for name in ("lamplight", "slate", "quay"))
    assert (lamplight["face"], lamplight["size"], lamplight["spoken"]) == (
        "Lexend Bold", 0.072, {"mark": "colour", "colour": "#F0B429"},
    )  # fmt: skip
    assert lamplight["outline"] == {"colour": "#161A22", "width": pytest.approx(0.0065 / 0.072, abs=1e-4)}
    assert lamplight["plate"] is None
    assert (slate["plate"]["colour"], slate["plate"]["opacity"], slate["outline"]) == ("#161A22", 1.0, None)
    assert slate["plate"]["across"] == pytest.approx(0.014 / 0.058, abs=1e-4)
    assert quay["spoken"]["mark"] == "bar"
    assert slate["limits"] == {
        "line_characters": 26, "lines": 2, "shortest_ms": 1000, "longest_ms": 6000, "fastest_cps": 20.0,
    }  # fmt: skip
