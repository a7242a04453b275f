"""The running application by its API: what it does, what it refuses, and what survives when it is killed."""

import json
import signal
import subprocess
import sys
import threading
from pathlib import Path
from statistics import median
from typing import Any

import httpx
import psycopg
import pytest

from nimble_quote.demo.load import MEDIA
from tests.conftest import (
    CODED,
    VTT,
    RunningApp,
    bring_in,
    find_words,
    free_port,
    make_media,
    send,
    start_app,
    wait_for,
    wait_until_prepared,
    words_of,
)
from tests.helpers import edit, keep, resolved
from tests.truth import face_at, truth_of

SECRET = "So people ask me, what is the secret? You know, there is no secret. Keep the wick short."


def test_the_demo_talk_is_on_the_shelf_with_its_facts(running: RunningApp, demo: int):
    with running.client as client:
        talk = client.get(f"/api/recordings/{demo}").json()
    assert (talk["width"], talk["height"], talk["rate"], talk["words"]) == (1920, 1080, 25.0, 1132)
    assert talk["speakers"] == ["Maren Tolley"]
    assert talk["duration_ms"] >= 6 * 60_000


def test_a_selection_is_measured_against_every_destination(running: RunningApp, demo: int):
    with running.client as client:
        first, last = find_words(words_of(client, demo), SECRET)
        measured = client.post(f"/api/recordings/{demo}/selection", json={"first": last, "last": first}).json()
    assert [gauge["destination"] for gauge in measured["gauges"]] == [
        "story-15", "tall-30", "tall-60", "tall-90", "square-60", "portrait-60", "wide-140",
    ]  # fmt: skip
    assert {gauge["length_ms"] for gauge in measured["gauges"]} == {measured["length_ms"]}
    assert 7_000 < measured["length_ms"] < 15_000


def test_search_marks_words_in_this_talk_and_says_when_words_are_too_common(running: RunningApp, demo: int):
    with running.client as client:
        address = f"/api/recordings/{demo}/search"
        marks = client.get(address, params={"q": '"keep the wick short"'}).json()["marks"]
        words = [
            w for one in client.get(f"/api/recordings/{demo}/transcript").json()["sentences"] for w in one["words"]
        ]
        common = client.get(address, params={"q": "the of"}).json()
        odd = client.get("/api/search", params={"q": 'wi\x00ck "ke\x00ep" \'); drop table quote; --'})
    assert [" ".join(words[one["first"] : one["last"] + 1]).lower() for one in marks] == [
        "keep the wick short."] * 2 + ["keep the wick short,"]  # fmt: skip
    assert common == {"marks": [], "notes": ["These words are too common to search for. Add a rarer one."]}
    assert odd.status_code == 200


def test_an_edit_on_an_old_revision_is_refused_and_changes_nothing(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, SECRET)
        first = edit(client, quote, kind="rename", title="First")
        second = edit(client, quote, kind="rename", title="Second")
        assert (first.status_code, second.status_code) == (200, 409)
        assert second.headers["content-type"] == "application/problem+json"
        assert "changed elsewhere" in second.json()["detail"]
        assert client.get(f"/api/quotes/{quote['id']}").json()["document"]["title"] == "First"


def test_two_edits_at_the_same_moment_never_both_pass(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, SECRET)
    answers: list[int] = []

    def rename(title: str) -> None:
        with running.client as own:
            answers.append(edit(own, quote, kind="rename", title=title).status_code)

    threads = [threading.Thread(target=rename, args=(str(i),)) for i in range(6)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(answers) == [200] + [409] * 5


def first_window(version: dict[str, Any]) -> dict[str, float]:
    """The window that a version begins with."""
    window: dict[str, float] = version["assembly"]["picture"][0]["panels"][0]["keys"][0]["window"]
    return window


def test_a_trial_shows_and_keeps_nothing(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, SECRET)
        version = quote["document"]["versions"][0]
        moment = quote["document"]["span"]["start_ms"] + 500
        change = {"kind": "place-window", "destination": version["destination"], "at_ms": moment, "x": 0.1}
        tried = client.post(
            f"/api/quotes/{quote['id']}/trial", json={"edit": change, "destination": version["destination"]}
        ).json()
        assert first_window(tried)["x"] == 0
        assert client.get(f"/api/quotes/{quote['id']}").json() == quote


def test_a_new_version_stands_on_the_speaker(running: RunningApp, demo: int):
    with running.client as client:
        quote = edit(client, keep(client, demo, SECRET), kind="add-version", destination="square-60").json()
        versions = resolved(client, quote)
    span = quote["document"]["span"]
    drawn = [
        face_at(truth_of("keep-the-wick-short"), "Maren Tolley", at)
        for at in range(span["start_ms"], span["end_ms"], 200)
    ]
    middle = median(box[0] + box[2] / 2 for box in drawn if box) / 1920
    assert len(versions) == 2
    for version in versions:
        window = first_window(version)
        assert window["x"] < middle - 0.05
        assert window["x"] + window["width"] > middle + 0.05
        assert version["findings"] == [f for f in version["findings"] if f["check"] != "face"]


@pytest.mark.parametrize(
    ("change", "why"),
    [
        ({"kind": "strike-words", "first": 0, "last": 1}, "outside the quote"),
        ({"kind": "strike-words", "first": 999_999, "last": 999_999}, "no word number 1000000"),
        ({"kind": "rename", "title": "  "}, "at least 1 character"),
        ({"kind": "dance"}, "does not match any of the expected tags"),
        ({"kind": "place-window", "destination": "tall-30", "at_ms": 0, "zoom": 99}, "less than or equal to 8"),
        ({"kind": "add-version", "destination": "../../etc"}, "no destination called"),
    ],
)
def test_a_bad_edit_is_refused_with_a_reason(running: RunningApp, demo: int, change: dict, why: str):
    with running.client as client:
        quote = keep(client, demo, SECRET)
        answer = edit(client, quote, **change)
        assert answer.status_code == 422
        assert why in answer.json()["detail"]


def test_a_recording_is_brought_in_and_read_at_once(running: RunningApp, clip: Path):
    with running.client as client:
        brought = bring_in(client, clip)
        assert brought.status_code == 201, brought.text
        talk = brought.json()
        assert (talk["title"], talk["words"], talk["speakers"]) == ("Clip", 40, ["Ann"])
        assert words_of(client, talk["id"])[:4] == ["Sentence", "number", "1", "is"]
        wait_until_prepared(client, talk["id"])
        for zoom, length in ((10, 1000), (100, 100), (1000, 10)):
            peaks = client.get(f"/api/recordings/{talk['id']}/peaks", params={"zoom": zoom}).content
            assert len(peaks) == pytest.approx(length, abs=5 if zoom == 10 else 1)
        part = client.get(f"/api/recordings/{talk['id']}/media", headers={"range": "bytes=0-99"})
        assert (part.status_code, len(part.content)) == (206, 100)
        again = bring_in(client, clip)
        assert again.status_code == 409
        assert again.json()["detail"] == "clip.mp4: this recording is on the shelf already, as “Clip”."


@pytest.mark.parametrize(
    ("media", "transcript", "name", "why"),
    [
        (b"not a film", VTT, "talk.vtt", "film.mp4: this is not a recording that can be read"),
        (None, b"hello", "talk.vtt", "not “WEBVTT”"),
        (None, b"hello", "talk.srt", "talk.srt: no cue with times and words"),
        (None, VTT, "talk.exe", "talk.exe: this kind of transcript can't be read"),
    ],
)
def test_what_cannot_be_read_is_refused_by_name_and_reason(
    running: RunningApp, clip: Path, tmp_path: Path, media: bytes | None, transcript: bytes, name: str, why: str
):
    file = tmp_path / "film.mp4"
    file.write_bytes(media if media is not None else clip.read_bytes() + b"x")
    with running.client as client:
        before = client.get("/api/recordings").json()
        refused = bring_in(client, file, transcript, name)
        assert refused.status_code == 422
        assert why in refused.json()["detail"]
        assert client.get("/api/recordings").json() == before


def test_hostile_names_stay_names(running: RunningApp, tmp_path: Path):
    file = make_media(tmp_path / "x.mp4", "testsrc=s=64x64:d=2", "sine=d=2", options=CODED)
    with running.client as client:
        sent, words = send(client, file.read_bytes()), send(client, VTT)
        body = {
            "title": "<img src=x onerror=alert(1)>",
            "recording": {"upload": sent, "name": "../../../../tmp/evil\u202e;$(touch pwned).mp4/../../x.M P4"},
            "transcript": {"upload": words, "name": "../talk.vtt"},
        }
        talk = client.post("/api/recordings", json=body).json()
        assert talk["file_name"] == "x.M P4"
        assert talk["title"] == "<img src=x onerror=alert(1)>"
        for upload in ("../" * 8 + "etc/passwd", "..", "", "a" * 30):
            named = {"upload": upload, "name": "a.mp4"}
            assert client.post("/api/recordings", json={"recording": named, "transcript": named}).status_code == 422
    stored = [path for path in (running.settings.media_root / "originals").rglob("*") if path.is_file()]
    assert all(len(path.stem) == 64 for path in stored)


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({}, 201),
        ({"origin": "http://evil.example"}, 403),
        ({"origin": "null"}, 403),
        ({"host": "evil.example"}, 403),
        ({"host": "127.0.0.1:1"}, 403),
        ({"sec-fetch-site": "cross-site"}, 403),
    ],
)
def test_only_our_own_pages_can_change_things(running: RunningApp, headers: dict[str, str], status: int):
    with running.client as client:
        assert client.post("/api/uploads", headers={"upload-length": "1", **headers}).status_code == status


def test_unknown_addresses_are_told_and_pages_are_one_page(running: RunningApp):
    with running.client as client:
        assert client.get("/api/nothing").status_code == 404
        assert client.get("/api/recordings/999999").json()["detail"] == "There is no such recording."
        assert client.get("/api/recordings/one").status_code == 422
        assert client.get("/api/exports/999999/clip").status_code == 404
        page = client.get("/quote/1/frame")
        assert page.text.startswith("<!doctype html>")
        assert page.headers["x-frame-options"] == "DENY"
        assert client.get("/fonts/../../../etc/passwd").text.startswith("<!doctype html>")


def test_news_of_changes_reaches_a_listener(running: RunningApp, demo: int):
    with running.client as client, client.stream("GET", "/api/changes") as stream:
        lines = stream.iter_lines()
        with running.client as other, psycopg.connect(running.settings.database_url) as conn:
            other.get("/api/catalogue")
            conn.execute("update recording set title = title where id = %s", [demo])
            conn.commit()
        told = (json.loads(line.removeprefix("data:")) for line in lines if line.startswith("data:"))
        # Work on a recording that is still going on may be told of first.
        assert next(news for news in told if news == {"kind": "recording", "id": demo})


def export(client: httpx.Client, quote: dict) -> list[dict]:
    made = client.post(f"/api/quotes/{quote['id']}/exports", json={})
    assert made.status_code == 201, made.text
    return made.json()


def state_of(client: httpx.Client, export_id: int) -> dict:
    return next(one for one in client.get("/api/exports").json() if one["id"] == export_id)


def test_an_export_is_made_measured_and_named(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, "You do not have to mend the whole harbour.")
        quote = edit(client, quote, kind="rename", title='The "biggest" bit / part 1').json()
        (made,) = export(client, quote)
        assert export(client, quote) == [], "one that is being made is not made twice"
        done = wait_for(lambda: (s := state_of(client, made["id"]))["state"] == "done" and s, "the export", 120)
        assert done["findings"] == []
        assert done["file_name"] == "Keep the wick short - The biggest bit part 1 - Tall 15.mp4"
        assert done["facts"]["frames"] == done["planned_frames"]
        saved = client.get(f"/api/exports/{made['id']}/clip", params={"download": True})
        assert "attachment" in saved.headers["content-disposition"]
        assert len(saved.content) == done["facts"]["size_bytes"]
        srt = client.get(f"/api/exports/{made['id']}/captions.srt").text
        assert srt.startswith("1\n00:00:0")
        assert "mend" in srt
        assert client.get(f"/api/exports/{made['id']}/captions.vtt").text.startswith("WEBVTT\n")
        assert client.get(f"/api/exports/{made['id']}/captions.exe").status_code == 422


def test_an_export_is_cancelled_and_made_again(running: RunningApp, demo: int):
    with running.client as client:
        (made,) = export(client, keep(client, demo, "Let me tell you about the winter of the long storm."))
        wait_for(lambda: state_of(client, made["id"])["state"] == "running", "the export to begin")
        assert client.post(f"/api/work/{made['work_id']}/stop").is_success
        wait_for(lambda: state_of(client, made["id"])["state"] == "stopped", "the export to be stopped", 20)
        assert not (running.settings.media_root / "exports" / str(made["id"])).exists()
        assert client.post(f"/api/work/{made['work_id']}/resume").json()["state"] == "queued"
        wait_for(lambda: state_of(client, made["id"])["state"] == "done", "the second try", 120)


@pytest.fixture
def own_app(cluster, tmp_path: Path):  # type: ignore[no-untyped-def]
    """An application that a test may kill."""
    running = start_app(cluster, tmp_path, "own_app")
    yield running
    running.kill(running.workers)
    running.kill(running.servers)


def test_a_killed_server_loses_no_acknowledged_edit(own_app: RunningApp, clip: Path):
    with own_app.client as client:
        talk = bring_in(client, clip).json()
        quote = keep(client, talk["id"], "Sentence number 1 is here. Sentence number 2 is here.")
    told = quote
    stop = threading.Event()

    def edit_on() -> None:
        nonlocal told
        with own_app.client as own:
            number = 0
            while not stop.is_set():
                number += 1
                try:
                    answer = edit(own, told, kind="rename", title=f"Title {number}")
                except httpx.TransportError:
                    return
                if answer.is_success:
                    told = answer.json()

    editing = threading.Thread(target=edit_on)
    editing.start()
    wait_for(lambda: told["revision"] > 10, "some edits")
    own_app.kill(own_app.servers)
    stop.set()
    editing.join()
    own_app.start_server()
    with own_app.client as client:
        after = client.get(f"/api/quotes/{quote['id']}").json()
    # One more may have been kept whose answer was lost on the way.
    assert after["revision"] in (told["revision"], told["revision"] + 1)
    assert after["undo_said"].startswith("Renamed to “Title")


def alive(command: str) -> list[str]:
    """The running processes whose command line holds a text."""
    listed = subprocess.run(["ps", "-ewwo", "args"], capture_output=True, text=True, check=True).stdout.splitlines()
    return [line for line in listed if command in line]


def test_ctrl_c_stops_the_start_command_and_leaves_no_process(open_folder: Path):
    data = open_folder / "var"
    port = str(free_port())
    command = [sys.executable, "-m", "nimble_quote.cli", "serve", "--no-demo", "--port", port, "--data", str(data)]
    started = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
    assert started.stdout
    assert started.stdout.readline() == f"Nimble Quote is at http://127.0.0.1:{port}  (Ctrl-C stops it)\n"
    assert len(alive("nimble_quote.cli work")) >= 1
    children = alive(port) + alive(str(data))
    assert len(children) >= 2
    started.send_signal(signal.SIGINT)
    assert started.wait(30) in (0, -signal.SIGINT)
    assert alive(port) == []
    started.stdout.close()


def test_the_shipped_transcript_has_the_mistakes_of_a_recogniser():
    text = (MEDIA / "keep-the-wick-short" / "transcript.vtt").read_text()
    assert "Tully," in text
    assert "Tolley, and" not in text


def test_the_commands_say_in_one_line_why_they_cannot_start(tmp_path: Path, running: RunningApp):
    def said(*options: str, path: str | None = None) -> str:
        done = subprocess.run(
            [sys.executable, "-m", "nimble_quote.cli", "serve", *options],
            capture_output=True, text=True, timeout=60, env={"PATH": path} if path else None, check=False,
        )  # fmt: skip
        assert done.returncode != 0
        return done.stderr.strip()

    assert "ffmpeg is not installed" in said("--data", str(tmp_path), path="/nowhere")
    assert "can't be written to" in said("--data", "/proc/nothing", "--port", "0")
