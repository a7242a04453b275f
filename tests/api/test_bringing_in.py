"""Bringing recordings in to the running application: uploads that survive anything, the other doors, and what follows."""

import json
import os
import subprocess
import sys
import threading
from base64 import b64encode
from collections.abc import Iterator
from pathlib import Path

import httpx
import pytest

from nimble_quote.demo.load import DEMO, joined
from nimble_quote.jobs.inbox import REASON
from nimble_quote.settings import PROJECT
from tests.conftest import (
    CODED,
    TONE,
    VTT,
    RunningApp,
    bring_in,
    free_port,
    is_live,
    make_media,
    send,
    start_app,
    three_scenes,
    wait_for,
    wait_until_prepared,
    words_of,
)
from tests.truth import truth_of

CHUNK = {"Content-Type": "application/offset+octet-stream"}


def begin(client: httpx.Client, length: int, name: str = "talk.mp4", fingerprint: str = "") -> str:
    told = f"filename {b64encode(name.encode()).decode()},fingerprint {b64encode(fingerprint.encode()).decode()}"
    made = client.post("/api/uploads", headers={"Upload-Length": str(length), "Upload-Metadata": told.strip()})
    assert made.status_code == 201, made.text
    return str(made.headers["location"])


def offset(client: httpx.Client, place: str) -> int:
    return int(client.head(place).headers["upload-offset"])


@pytest.fixture(scope="module")
def standins(tmp_path_factory: pytest.TempPathFactory) -> Iterator[dict[str, str]]:
    """The stand-ins running, as settings."""
    folder = tmp_path_factory.mktemp("host")
    ferry = next(one for one in DEMO if one.name == "night-ferry-notes")
    joined(ferry.name, ferry.original, folder / "ferry.m4a")
    (folder / "page.html").write_text("<p>no</p>")
    ports = free_port(), free_port()
    run = [sys.executable, "-m"]
    started = [
        subprocess.Popen([*run, "nimble_quote.standins.transcription", "--port", str(ports[0])], cwd=PROJECT),
        subprocess.Popen([*run, "nimble_quote.standins.mediahost", "--port", str(ports[1]), str(folder)], cwd=PROJECT),
    ]
    for port, path in zip(ports, ("/transcriptions/none", "/none"), strict=True):
        wait_for(lambda port=port, path=path: _up(f"http://127.0.0.1:{port}{path}"), "a stand-in")
    yield {"transcription_url": f"http://127.0.0.1:{ports[0]}", "fetch_hosts": f"127.0.0.1:{ports[1]}"}
    for process in started:
        process.terminate()
        process.wait()


def _up(url: str) -> bool:
    try:
        return httpx.get(url).status_code == 404
    except httpx.TransportError:
        return False


@pytest.fixture(scope="module")
def own_app(cluster, standins: dict[str, str], tmp_path_factory: pytest.TempPathFactory) -> Iterator[RunningApp]:  # type: ignore[no-untyped-def]
    """An application with stand-ins, which tests may kill."""
    running = start_app(cluster, tmp_path_factory.mktemp("own"), "bringing_in", chunk_s=12, **standins)
    yield running
    running.kill(running.workers)
    running.kill(running.servers)


def test_an_upload_goes_on_after_the_server_was_killed_in_the_middle(own_app: RunningApp, clip: Path):
    data = clip.read_bytes()
    data += os.urandom(6_000_000)
    with own_app.client as client:
        place = begin(client, len(data), fingerprint="clip:1:2")

    def slowly() -> Iterator[bytes]:
        for i in range(0, len(data), 100_000):
            threading.Event().wait(0.02)
            yield data[i : i + 100_000]

    def sending() -> None:
        with own_app.client as own:
            try:
                own.patch(place, content=slowly(), headers={**CHUNK, "Upload-Offset": "0"})
            except httpx.TransportError:
                return

    thread = threading.Thread(target=sending)
    thread.start()
    with own_app.client as client:
        wait_for(lambda: offset(client, place) > 1_500_000, "some of it")
    own_app.kill(own_app.servers)
    thread.join()
    own_app.start_server()
    with own_app.client as client:
        here = offset(client, place)
        assert 1_500_000 <= here < len(data)
        (begun,) = client.get("/api/uploads").json()
        assert (begun["fingerprint"], begun["offset"], begun["length"]) == ("clip:1:2", here, len(data))
        wrong = client.patch(place, content=b"x", headers={**CHUNK, "Upload-Offset": str(here - 1)})
        assert wrong.status_code == 409
        sent = client.patch(place, content=data[here:], headers={**CHUNK, "Upload-Offset": str(here)})
        assert (sent.status_code, sent.headers["upload-offset"]) == (204, str(len(data)))
        assert "upload-expires" in sent.headers
        stored = own_app.settings.media_root / "uploads" / place.rsplit("/", 1)[1]
        assert stored.read_bytes() == data
        assert client.get("/api/uploads").json() == []
        assert client.delete(place).status_code == 204
        assert client.head(place).status_code == 404


@pytest.mark.parametrize(
    ("headers", "status", "why"),
    [
        ({}, 422, "must say how long it is"),
        ({"Upload-Length": "-1"}, 422, "must say how long it is"),
        ({"Upload-Length": "30000000000"}, 422, "over 20 GB"),
        ({"Upload-Length": "10", "Upload-Metadata": "filename !!!, , fingerprint"}, 201, ""),
    ],
)
def test_uploads_that_make_no_sense_are_refused(running: RunningApp, headers: dict[str, str], status: int, why: str):
    with running.client as client:
        answer = client.post("/api/uploads", headers=headers)
        assert answer.status_code == status
        assert why in answer.text
        if status == 201:
            client.delete(answer.headers["location"])


def test_no_more_is_taken_than_was_said_and_no_upload_is_used_before_it_is_whole(running: RunningApp):
    with running.client as client:
        place = begin(client, 10, "../../evil.mp4")
        named = {"upload": place.rsplit("/", 1)[1], "name": "evil.mp4"}
        assert client.patch(place, content=b"x" * 5, headers={"Upload-Offset": "0"}).status_code == 415
        assert client.patch(place, content=b"x" * 5, headers={**CHUNK, "Upload-Offset": "zero"}).status_code == 422
        assert client.patch(place, content=b"x" * 11, headers={**CHUNK, "Upload-Offset": "0"}).status_code == 422
        assert offset(client, place) == 0
        half = client.post("/api/recordings", json={"recording": named})
        assert (half.status_code, half.json()["detail"]) == (422, "evil.mp4: not all of it has come in yet.")
        assert client.options("/api/uploads").headers["tus-extension"] == "creation,expiration,termination"
        client.delete(place)
        for odd in ("..%2f..%2fetc", "a" * 30, "x"):
            assert client.head(f"/api/uploads/{odd}").status_code in (404, 405)


def test_two_files_come_in_at_once_and_the_same_content_is_noticed(running: RunningApp, tmp_path: Path):
    media = make_media(tmp_path / "same.wav", TONE)
    answers: list[httpx.Response] = []

    def bring() -> None:
        with running.client as own:
            answers.append(bring_in(own, media, None))

    threads = [threading.Thread(target=bring) for _ in range(3)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(answer.status_code for answer in answers) == [201, 409, 409]
    assert "on the shelf already, as “Same”" in next(a for a in answers if a.status_code == 409).json()["detail"]


def test_a_recording_is_told_of_removed_and_put_back(running: RunningApp, tmp_path: Path):
    media = make_media(tmp_path / "evening.mp3", "sine=f=410:d=5")
    with running.client as client:
        talk = bring_in(client, media, series="  Chapel   evenings ").json()
        assert (talk["series"], talk["width"], talk["words"]) == ("Chapel evenings", 0, 40)
        told = {
            "title": "An <b>evening</b>",
            "series": "Chapel evenings",
            "held_on": "2026-10-03",
            "notes": "Cold.\nFull.",
        }
        kept = client.put(f"/api/recordings/{talk['id']}/description", json=told).json()
        assert {key: kept[key] for key in told} == told
        for wrong in ({**told, "title": " "}, {**told, "held_on": "yesterday"}, {**told, "notes": "x" * 20_001}):
            assert client.put(f"/api/recordings/{talk['id']}/description", json=wrong).status_code == 422
        assert "Chapel evenings" in client.get("/api/series").json()
        quote = client.post(f"/api/recordings/{talk['id']}/quotes", json={"first": 0, "last": 4}).json()
        assert client.get(f"/api/recordings/{talk['id']}/goes-with").json() == {"quotes": 1, "clips": 0, "days": 1}
        assert client.post(f"/api/recordings/{talk['id']}/remove").status_code == 204
        shelf = [one["id"] for one in client.get("/api/recordings").json()]
        removed = [one["id"] for one in client.get("/api/recordings", params={"removed": True}).json()]
        assert (talk["id"] in shelf, talk["id"] in removed) == (False, True)
        assert "was removed from the shelf" in bring_in(client, media, None).json()["detail"]
        back = client.post(f"/api/recordings/{talk['id']}/restore").json()
        assert [one["id"] for one in back["quotes"]] == [quote["id"]]
        (listed,) = [one for one in client.get("/api/recordings").json() if one["id"] == talk["id"]]
        told = {"id": quote["id"], "title": quote["title"], "span": quote["span"], "made": False, "posted": ""}
        assert listed["quotes"] == [told]


def test_words_are_corrected_and_quotes_follow_but_for_what_they_say_themselves(running: RunningApp, tmp_path: Path):
    media = make_media(tmp_path / "fix.mp4", "testsrc2=s=320x180:d=10", "sine=f=321:d=10", options=CODED)
    with running.client as client:
        talk = bring_in(client, media).json()["id"]
        quote = client.post(f"/api/recordings/{talk}/quotes", json={"first": 0, "last": 9}).json()["id"]
        own = {"kind": "correct-caption", "first": 1, "last": 1, "text": "NUMBER"}
        assert client.post(f"/api/quotes/{quote}/edits", json={"on_revision": 1, "edit": own}).is_success

        def correct(revision: int, **correction: object) -> httpx.Response:
            body = {"on_revision": revision, "correction": correction}
            return client.post(f"/api/recordings/{talk}/corrections", json=body)

        first = correct(0, kind="correct-words", first=0, last=1, text="Phrase numeral").json()
        assert (first["revision"], first["undo_said"]) == (1, "Corrected “Sentence number” to “Phrase numeral”")
        assert [(piece["at"], piece["removed"], piece["added"][0]["words"][:2]) for piece in first["pieces"]] == [
            (0, 1, ["Phrase", "numeral"])]  # fmt: skip
        assert first["pieces"][0]["added"][0]["heard"] == ["Sentence", "number", None, None, None]
        version = client.get(f"/api/quotes/{quote}/versions").json()["versions"][0]
        assert "Phrase" in version["script"], "the quote follows the correction"
        assert "NUMBER" in version["script"], "but for what it says itself"
        assert "numeral" not in version["script"]
        stale = correct(0, kind="correct-words", first=0, last=0, text="x")
        assert (stale.status_code, "changed elsewhere" in stale.json()["detail"]) == (409, True)
        places = client.get(f"/api/recordings/{talk}/places", params={"find": "sentence"}).json()
        assert len(places) == 7
        replaced = correct(1, kind="replace-all", find="sentence", text="Line", places=[p["first"] for p in places[:2]])
        assert len(replaced.json()["pieces"]) == 2
        named = correct(2, kind="assign-speaker", first=0, last=4, speaker="Bo").json()
        assert named["speakers"] == [{"name": "Ann", "colour": 0}, {"name": "Bo", "colour": 1}]
        assert correct(3, kind="recolour-speaker", name="Bo", colour=9).status_code == 422
        assert correct(3, kind="correct-words", first=999, last=999, text="x").status_code == 422
        for revision in (3, 2, 1):
            client.post(f"/api/recordings/{talk}/corrections/undo", json={"on_revision": revision})
        assert words_of(client, talk)[:2] == ["Sentence", "number"]
        again = client.post(f"/api/recordings/{talk}/corrections/redo", json={"on_revision": 0}).json()
        assert (again["revision"], words_of(client, talk)[0]) == (1, "Phrase")


def test_names_of_the_house_are_suggested_where_something_sounds_like_them(running: RunningApp, demo: int):
    with running.client as client:
        client.post("/api/names", json={"name": "  Maren   Tolley "})
        found = client.get(f"/api/recordings/{demo}/name-suggestions").json()
        assert ("Maren Tolley", "Maren Tully,") in [(one["name"], one["place"]["text"]) for one in found]
        assert "Maren Tolley" in client.get("/api/names").json()
        assert "Maren Tolley" not in client.post("/api/names/drop", json={"name": "Maren Tolley"}).json()
        assert client.post("/api/names", json={"name": " "}).status_code == 422


def test_a_transcript_is_taken_away_in_every_format(running: RunningApp, demo: int):
    begins = {
        "vtt": "WEBVTT\n",
        "srt": "1\n00:00:01",
        "ttml": "<?xml",
        "json": "{",
        "txt": "[0:00:01] Maren Tolley: Good",
    }
    with running.client as client:
        for kind, text in begins.items():
            answer = client.get(f"/api/recordings/{demo}/transcript.{kind}")
            assert answer.text.startswith(text)
            assert f'filename="Keep the wick short.{kind}"' in answer.headers["content-disposition"]
        told = json.loads(client.get(f"/api/recordings/{demo}/transcript.json").text)
        assert sum(len(one["words"]) for one in told["segments"]) == 1132
        assert client.get(f"/api/recordings/{demo}/transcript.exe").status_code == 422


def test_shots_are_told_and_cuts_set_right_by_hand(running: RunningApp, tmp_path: Path):
    media = three_scenes(tmp_path / "scenes.mp4")
    with running.client as client:
        talk = bring_in(client, media).json()["id"]
        wait_until_prepared(client, talk)

        def starts(answer: httpx.Response, by_hand: bool | None = None) -> list[int]:
            shots = answer.json()["shots"]
            return [shot["span"]["start_ms"] for shot in shots if by_hand in (None, shot["by_hand"])]

        def say(at_ms: int, there: bool) -> httpx.Response:
            return client.post(f"/api/recordings/{talk}/cuts", json={"at_ms": at_ms, "there": there})

        assert starts(client.get(f"/api/recordings/{talk}/picture")) == [0, 3000, 6000]
        assert starts(say(3020, False)) == [0, 6000]
        more = say(7000, True)
        assert (starts(more), starts(more, True)) == ([0, 6000, 7000], [7000])
        assert starts(say(3000, True)) == [0, 3000, 6000, 7000]
        assert starts(say(7040, False)) == [0, 3000, 6000]
        assert say(-5, True).status_code == 422


def test_a_typed_transcript_is_aligned_to_the_sound(running: RunningApp, ferry: int):
    words = truth_of("night-ferry-notes")["words"]
    with running.client as client:
        sentences = client.get(f"/api/recordings/{ferry}/transcript").json()["sentences"]
    starts = [ms for sentence in sentences for ms in sentence["starts_ms"]]
    errors = sorted(abs(a - w["start_ms"]) for a, w in zip(starts, words, strict=True))
    assert errors[len(errors) // 2] < 40
    assert errors[int(len(errors) * 0.95)] < 150
    assert set("".join(sentence["timing"] for sentence in sentences)) == {"a"}


def test_another_sound_track_is_heard_when_it_is_chosen(running: RunningApp, tmp_path: Path):
    quiet, loud = "sine=f=300:d=6,volume=0.02", "sine=f=900:d=6"
    media = make_media(tmp_path / "two.mkv", quiet, loud, options=("-map", "0", "-map", "1", "-c:a", "flac"))
    with running.client as client:
        talk = bring_in(client, media, None).json()["id"]
        before = wait_until_prepared(client, talk)
        assert [track["codec"] for track in before["sound_tracks"]] == ["flac", "flac"]
        peaks = client.get(f"/api/recordings/{talk}/peaks").content
        assert client.put(f"/api/recordings/{talk}/sound", json={"track": 2}).status_code == 404
        assert client.put(f"/api/recordings/{talk}/sound", json={"track": 1}).is_success
        after = wait_until_prepared(client, talk)
        assert after["loudness_lufs"] > before["loudness_lufs"] + 20
        assert max(client.get(f"/api/recordings/{talk}/peaks").content) > max(peaks)


def test_a_recording_without_sound_is_cut_and_exported_in_silence(running: RunningApp, tmp_path: Path):
    media = make_media(tmp_path / "mute.mp4", "smptebars=s=640x360:r=25:d=10", options=CODED[:4])
    with running.client as client:
        talk = bring_in(client, media).json()
        assert (talk["audio_codec"], talk["sound_tracks"]) == (None, [])
        wait_until_prepared(client, talk["id"])
        quote = client.post(f"/api/recordings/{talk['id']}/quotes", json={"first": 0, "last": 4}).json()["id"]
        (made,) = client.post(f"/api/quotes/{quote}/exports", json={}).json()

        def done() -> dict | None:
            one = next(e for e in client.get("/api/exports").json() if e["id"] == made["id"])
            assert one["state"] != "failed", one["problem"]
            return one if one["state"] == "done" else None

        assert wait_for(done, "the export")["facts"]["frames"] == made["planned_frames"]
        refused = client.post(f"/api/recordings/{talk['id']}/transcribe", json={"by": "recogniser"})
        assert "no sound in this recording" in refused.json()["detail"]


def newest(client: httpx.Client, talk: int, kind: str) -> dict:
    return next(one for one in client.get(f"/api/recordings/{talk}").json()["work"] if one["kind"] == kind)


def test_a_killed_worker_goes_on_with_a_recording_and_stopped_work_is_gone_on_with(own_app: RunningApp, tmp_path: Path):
    media = make_media(tmp_path / "long.mp4", "testsrc2=s=160x90:r=12:d=50", "sine=f=350:d=50", options=CODED)
    with own_app.client as client:
        talk = bring_in(client, media).json()["id"]
        looking = own_app.settings.media_root / "working"
        wait_for(lambda: list(looking.rglob("looking/00000.json")), "the first chunk", 120)
        own_app.kill(own_app.workers)
        (first,) = looking.rglob("looking/00000.json")
        made = first.stat().st_mtime_ns
        own_app.start_worker()
        wait_for(lambda: list(looking.rglob("looking/00001.json")), "the second chunk", 120)
        assert first.stat().st_mtime_ns == made, "what was done is not done again"
        work = newest(client, talk, "prepare")
        assert work["state"] == "running"
        client.post(f"/api/work/{work['id']}/stop")
        # What the killed worker had begun may have ended by itself: then the stop waits for the work to be taken up.
        wait_for(lambda: newest(client, talk, "prepare")["state"] == "stopped", "the stop", 120)
        client.post(f"/api/work/{work['id']}/resume")
        prepared = wait_until_prepared(client, talk, 180)
        assert newest(client, talk, "prepare")["state"] == "done"
        assert prepared["width"] == 160
        wait_for(lambda: not list(looking.rglob("looking/*")), "the chunks to go when all is together", 10)
        media_there = client.get(f"/api/recordings/{talk}/media", headers={"range": "bytes=0-9"})
        assert media_there.status_code == 206


@pytest.mark.parametrize("by", ["recogniser", "service"])
def test_a_transcript_is_made_where_there_is_none(own_app: RunningApp, tmp_path: Path, by: str):
    sound = joined("night-ferry-notes", "original.m4a", tmp_path / "ferry.m4a")
    part = tmp_path / f"{by}.m4a"
    subprocess.run(["ffmpeg", "-v", "error", "-i", str(sound), "-t", "26", str(part)], check=True)
    part.write_bytes(part.read_bytes() + by.encode())
    with own_app.client as client:
        talk = bring_in(client, part, None).json()
        assert (talk["words"], talk["transcript_origin"]) == (0, None)
        wait_until_prepared(client, talk["id"])
        client.post(f"/api/recordings/{talk['id']}/transcribe", json={"by": by})
        made = wait_until_prepared(client, talk["id"], 120)
        assert made["transcript_origin"] == by
        assert "upper deck" in " ".join(words_of(client, talk["id"]))
        sentences = client.get(f"/api/recordings/{talk['id']}/transcript").json()["sentences"]
        assert {letter for sentence in sentences for letter in sentence["timing"]} == {"a"}
        assert any(sentence["sure"] for sentence in sentences)


def test_a_transcript_is_attached_later_and_the_wrong_one_is_told(own_app: RunningApp, tmp_path: Path):
    sound = joined("night-ferry-notes", "original.m4a", tmp_path / "ferry.m4a")
    part = tmp_path / "later.m4a"
    subprocess.run(["ffmpeg", "-v", "error", "-i", str(sound), "-t", "20", str(part)], check=True)
    with own_app.client as client:
        talk = bring_in(client, part, None).json()["id"]
        wait_until_prepared(client, talk)
        bad = {"upload": send(client, b"no cues"), "name": "later.srt"}
        assert client.post(f"/api/recordings/{talk}/transcript", json=bad).status_code == 422
        text = "It is ten to midnight, and I am the only one on the upper deck."
        good = {"upload": send(client, f"1\n00:00:01,000 --> 00:00:05,500\n{text}\n".encode()), "name": "later.srt"}
        assert client.post(f"/api/recordings/{talk}/transcript", json=good).json()["words"] == 15
        wait_until_prepared(client, talk)
        other = "viimeinen lautta ei ole vene vaan tapa josta kaupunki ei ole vielä luopunut"
        foreign = {"upload": send(client, f"1\n00:00:01,000 --> 00:00:05,500\n{other}\n".encode()), "name": "fi.srt"}
        client.post(f"/api/recordings/{talk}/transcript", json=foreign)
        told = wait_until_prepared(client, talk)
        assert any("Only English can be aligned" in (work["problem"] or "") for work in told["work"])
        assert words_of(client, talk)[0] == "viimeinen", "the words can be read all the same"
        fix = {"kind": "correct-words", "first": 0, "last": 0, "text": "Viimeinen"}
        client.post(f"/api/recordings/{talk}/corrections", json={"on_revision": 0, "correction": fix})
        again = {"upload": send(client, VTT), "name": "again.vtt"}
        lost = client.post(f"/api/recordings/{talk}/transcript", json=again)
        assert (lost.status_code, lost.json()["code"]) == (409, "would-lose-corrections")
        assert words_of(client, talk)[0] == "Viimeinen"
        meant = client.post(f"/api/recordings/{talk}/transcript", json={**again, "losing_corrections": True})
        assert meant.json()["words"] == 40
        czech = "1\n00:00:01,000 --> 00:00:05,500\nMůj dům je u řeky.\n".encode("cp1250")
        body = {"upload": send(client, czech), "name": "dum.srt", "losing_corrections": True}
        guessed = client.post(f"/api/recordings/{talk}/transcript", json=body).json()
        assert guessed["transcript_notes"][0].startswith("Its letters were read as Western European (Windows-1252)")
        chosen = {**body, "upload": send(client, czech), "encoding": "cp1250"}
        assert client.post(f"/api/recordings/{talk}/transcript", json=chosen).json()["transcript_notes"] == []
        assert " ".join(words_of(client, talk)) == "Můj dům je u řeky."
        odd = client.post(f"/api/recordings/{talk}/transcript", json={**body, "encoding": "rot13"})
        assert (odd.status_code, "encoding is not known" in odd.json()["detail"]) == (422, True)


def test_a_recording_is_fetched_by_its_web_address(own_app: RunningApp, standins: dict[str, str]):
    host = standins["fetch_hosts"]
    with own_app.client as client:
        refused = client.post("/api/fetches", json={"address": "http://169.254.1.1/talk.mp4"})
        assert (refused.status_code, "not among the hosts" in refused.json()["detail"]) == (422, True)
        asked = client.post(
            "/api/fetches", json={"address": f"http://{host}/slow/ferry.m4a", "series": "Fetched"}
        ).json()

        def of(state: str):  # type: ignore[no-untyped-def]
            return lambda: next(
                (one for one in client.get("/api/work").json() if one["id"] == asked["id"] and one["state"] == state),
                None,
            )

        wait_for(lambda: (one := of("running")()) and one["progress"] > 0.05, "the fetch to begin")
        client.post(f"/api/work/{asked['id']}/stop")
        wait_for(of("stopped"), "the fetch to stop", 20)
        client.post(f"/api/work/{asked['id']}/resume")
        wait_for(lambda: asked["id"] not in [one["id"] for one in client.get("/api/work").json()], "the fetch", 60)
        talk = next(one for one in client.get("/api/recordings").json() if one["series"] == "Fetched")
        assert (talk["title"], talk["file_name"]) == ("Ferry", "ferry.m4a")
        page = client.post("/api/fetches", json={"address": f"http://{host}/page.html"}).json()
        failed = wait_for(
            lambda: next(
                (w for w in client.get("/api/work").json() if w["id"] == page["id"] and w["state"] == "failed"), None
            ),
            "the refusal",
        )
        assert "“text/html”, not a video or sound file" in failed["problem"]
        wait_for(lambda: not any(is_live(one) for one in client.get("/api/recordings").json()), "all work", 120)


def test_what_is_put_into_the_inbox_is_brought_in(own_app: RunningApp, tmp_path: Path):
    inbox = own_app.settings.inbox
    assert inbox
    inbox.mkdir(exist_ok=True)
    make_media(tmp_path / "net-loft.ogg", "sine=f=222:d=4", options=("-c:a", "libvorbis")).rename(
        inbox / "net-loft.ogg"
    )
    (inbox / "net-loft.vtt").write_bytes(VTT)
    (inbox / "slides.mp4").write_bytes(b"no recording")
    (inbox / ".hidden.mp4").write_bytes(b"half copied")
    with own_app.client as client:

        def there() -> dict | None:
            return next((one for one in client.get("/api/recordings").json() if one["title"] == "Net loft"), None)

        talk = wait_for(there, "the inbox to be looked into", 40)
        assert talk["words"] == 40
    wait_for(lambda: (inbox / f"slides.mp4{REASON}").exists(), "the reason", 20)
    assert "not a recording that can be read" in (inbox / f"slides.mp4{REASON}").read_text()
    wait_for(lambda: not (inbox / "net-loft.vtt").exists(), "the transcript to go")
    assert sorted(path.name for path in inbox.iterdir()) == [".hidden.mp4", "slides.mp4", f"slides.mp4{REASON}"]


def test_files_are_added_from_the_command_line(running: RunningApp, tmp_path: Path):
    make_media(tmp_path / "late-boat.wav", "sine=f=123:d=4")
    (tmp_path / "late-boat.srt").write_text("1\n00:00:01,000 --> 00:00:02,000\nLate again.\n")
    (tmp_path / "notes.pdf").write_bytes(b"%PDF")

    def add(*options: str) -> "subprocess.CompletedProcess[str]":
        command = [sys.executable, "-m", "nimble_quote.cli", "add", "--port", str(running.settings.port), *options]
        return subprocess.run(command, capture_output=True, text=True, timeout=60, check=False, cwd=tmp_path)

    done = add("late-boat.wav", "--series", "Boats")
    assert (done.stdout, done.returncode) == ("late-boat.wav: on the shelf as “Late boat”, with late-boat.srt\n", 0)
    make_media(tmp_path / "figures.wav", "sine=f=131:d=4")
    (tmp_path / "figures.json").write_text('{"boats": 3}')
    beside = add("figures.wav")
    assert beside.returncode == 0
    assert beside.stdout.startswith("figures.wav: on the shelf as “Figures”, without a transcript (figures.json: ")
    named = add("figures.wav", "--transcript", "figures.json")
    assert (named.returncode, "figures.json: " in named.stderr) == (1, True)
    again = add("late-boat.wav", "notes.pdf", "gone.mp4")
    assert again.returncode == 1
    assert "late-boat.wav: late-boat.wav: this recording is on the shelf already" in again.stderr
    assert "notes.pdf: notes.pdf: this is not a recording" in again.stderr
    assert "gone.mp4: it can't be read (No such file or directory)." in again.stderr
    away = subprocess.run(
        [sys.executable, "-m", "nimble_quote.cli", "add", "--port", str(free_port()), str(tmp_path / "late-boat.wav")],
        capture_output=True, text=True, timeout=60, check=False,
    )  # fmt: skip
    assert "Is ./run going?" in away.stderr
