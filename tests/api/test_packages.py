"""Quotes taken from one house to another: looked at first, whole where the recording is there, and refused in words where it is not."""

import hashlib
import io
import json
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx
import jsonschema_rs
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nimble_quote.formats.package import NoPackage, read_package
from nimble_quote.store.cluster import Cluster
from tests.conftest import VTT, RunningApp, bring_in, make_media, start_app, wait_until_prepared
from tests.helpers import edit, keep

Told = dict[str, Any]
SAID = "Sentence number 2 is here."


@pytest.fixture(scope="module")
def running(cluster: Cluster, tmp_path_factory: pytest.TempPathFactory) -> Iterator[RunningApp]:
    """The house that packages are from: one of its own, since it gets much that other tests would find."""
    own = start_app(cluster, tmp_path_factory.mktemp("packing"), "house_packages")
    yield own
    own.kill(own.workers)
    own.kill(own.servers)


@pytest.fixture(scope="module")
def elsewhere(cluster: Cluster, tmp_path_factory: pytest.TempPathFactory) -> Iterator[RunningApp]:
    """Another house."""
    other = start_app(cluster, tmp_path_factory.mktemp("elsewhere"), "elsewhere_packages")
    yield other
    other.kill(other.workers)
    other.kill(other.servers)


@pytest.fixture(scope="module")
def picture(tmp_path_factory: pytest.TempPathFactory) -> bytes:
    return make_media(
        tmp_path_factory.mktemp("logo") / "logo.png", "color=teal:s=64x64:d=0.04", options=("-frames:v", "1")
    ).read_bytes()


@pytest.fixture(scope="module")
def quote(running: RunningApp, clip: Path, picture: bytes) -> Told:
    """A quote with all that a house may have of its own in it."""
    with running.client as client:
        talk = bring_in(client, clip).json()["id"]
        wait_until_prepared(client, talk)
        made = keep(client, talk, "Sentence number 1 is here.", until="Sentence number 4 is here.")
        logo = client.post("/api/house/pictures", params={"name": "Lamp"}, content=picture).json()["id"]
        place = {"name": "Tower 45", "width": 720, "height": 1280, "limit_ms": 45_000, "largest_mb": 40}
        own = client.post("/api/destinations", json=place).json()["id"]
        look = client.get("/api/catalogue").json()["styles"][0]["look"]
        style = client.post(
            "/api/styles", json={"name": "Harbour light", "said": "", "look": {**look, "colour": "#FFEECC"}}
        )
        assert style.status_code == 201, style.text
        for change in (
            {"kind": "add-version", "destination": own},
            {"kind": "choose-caption-style", "style": style.json()["id"]},
            {"kind": "add-overlay", "what": {"kind": "logo", "picture": logo}},
            {
                "kind": "add-overlay",
                "what": {"kind": "music", "sound": client.get("/api/catalogue").json()["sounds"][0]["id"]},
            },
            {"kind": "write-posting", "destination": own, "text": {"title": "Own words"}},
        ):
            answer = edit(client, made, **change)
            assert answer.status_code == 200, answer.text
            made = answer.json()
        return {**made, "own": own}


def package_of(client: httpx.Client, *quotes: Told, **how: object) -> bytes:
    answer = client.get("/api/packages.zip", params={"ids": [one["id"] for one in quotes], **how})
    assert answer.status_code == 200, answer.text
    assert int(answer.headers["content-length"]) == len(answer.content)
    return answer.content


def opened(data: bytes) -> zipfile.ZipFile:
    return zipfile.ZipFile(io.BytesIO(data))


def test_a_package_says_what_is_in_it_and_other_programs_can_read_it(running: RunningApp, quote: Told):
    with running.client as client:
        data = package_of(client, quote)
        with opened(data) as first, opened(package_of(client, quote)) as second:
            assert {name: first.read(name) for name in first.namelist()} == {
                name: second.read(name) for name in second.namelist()
            }, "the same twice"
        with opened(data) as archive:
            told = json.loads(archive.read("manifest.json"))
            assert (told["format"], told["version"], told["quotes"]) == (
                "nimble-quote-package",
                1,
                ["quotes/1/quote.json"],
            )
            assert set(told["files"]) == set(archive.namelist()) - {"manifest.json"}
            for name, file in told["files"].items():
                assert hashlib.sha256(archive.read(name)).hexdigest() == file["sha256"]
            schema = json.loads(archive.read("quote.schema.json"))
            document = json.loads(archive.read("quotes/1/quote.json"))["document"]
            document.pop("schema")
            jsonschema_rs.validator_for(schema).validate(document)
            assert archive.read(f"quotes/1/{quote['own']}.vtt").startswith(b"WEBVTT")
            words = json.loads(archive.read(f"quotes/1/{quote['own']}.words.json"))
            assert [one["text"] for one in words["words"]][:5] == "Sentence number 1 is here.".split()
            assert words["words"][0]["speaker"] == "Ann"


def test_a_package_is_looked_at_and_then_taken_in_and_plays_the_same(
    running: RunningApp, elsewhere: RunningApp, quote: Told, clip: Path
):
    with running.client as here, elsewhere.client as there:
        data = package_of(here, quote)
        looked = there.post("/api/packages/look", content=data).json()
        assert "is not here. Bring it in" in looked["missing"][0]
        assert looked["quotes"][0]["recording_id"] is None
        refused = there.post("/api/packages", content=data)
        assert (refused.status_code, refused.json()["code"]) == (422, "no-package")

        talk = bring_in(there, clip).json()["id"]
        wait_until_prepared(there, talk)
        # Destinations and pictures there have other numbers.
        place = {"name": "Other", "width": 640, "height": 640, "limit_ms": 20_000, "largest_mb": 40}
        there.post("/api/destinations", json=place).raise_for_status()
        looked = there.post("/api/packages/look", content=data).json()
        assert looked["missing"] == []
        assert looked["quotes"][0]["notes"] == []
        assert {"Destination “Tower 45”", "Caption style “Harbour light”", "Picture “Lamp”"} <= set(looked["brings"])
        assert there.get("/api/shortlist").json()["slips"] == [], "looking keeps nothing"
        taken = there.post("/api/packages", content=data)
        assert taken.status_code == 201, taken.text
        assert taken.json()["left_out"] == []
        made = there.get(f"/api/quotes/{taken.json()['quotes'][0]}").json()
        assert made["document"]["span"] == quote["document"]["span"]
        names = {one["id"]: one["name"] for one in there.get("/api/catalogue").json()["destinations"]}
        own = next(id_ for id_, name in names.items() if name == "Tower 45")
        assert made["document"]["posting"]["own"][own]["title"] == "Own words"

        before = {one["name"]: one["assembly"] for one in _versions(here, quote["id"])}
        after = {one["name"]: one["assembly"] for one in _versions(there, made["id"])}
        assert set(before) == set(after)
        for name, assembly in before.items():
            for part in ("frames", "picture", "sound"):
                assert _plain(after[name][part]) == _plain(assembly[part]), (name, part)
            assert [one["lines"] for one in after[name]["cue_tracks"][0]["cues"]] == [
                one["lines"] for one in assembly["cue_tracks"][0]["cues"]
            ]
            assert after[name]["cue_tracks"][0]["look"] == assembly["cue_tracks"][0]["look"]
        again = there.post("/api/packages/look", content=data).json()
        assert again["quotes"][0]["here_already"] == made["id"]
        assert [one for one in again["brings"] if one.startswith(("Destination", "Caption"))] == []


def _versions(client: httpx.Client, quote_id: int) -> list[Told]:
    names = {one["id"]: one["name"] for one in client.get("/api/catalogue").json()["destinations"]}
    told = client.get(f"/api/quotes/{quote_id}/versions").json()["versions"]
    return [{**one, "name": names[one["destination"]]} for one in told]


def _plain(part: Any) -> Any:
    """Without what is known by another number in another house."""
    if isinstance(part, list):
        return [_plain(one) for one in part]
    if isinstance(part, dict):
        return {name: _plain(value) for name, value in part.items() if name not in ("sound", "picture", "revision")}
    return part


def test_where_the_words_are_otherwise_what_hangs_on_them_is_left_out_and_told(
    running: RunningApp, elsewhere: RunningApp, tmp_path: Path, clip: Path
):
    other = make_media(
        tmp_path / "other.mp4",
        "smptebars=s=320x180:r=25:d=10",
        "sine=f=500:r=48000:d=10",
        options=("-c:v", "libx264", "-c:a", "aac"),
    )
    with running.client as here, elsewhere.client as there:
        talk = bring_in(here, other).json()["id"]
        made = keep(here, talk, SAID)
        index = made["cut"]["kept_words"][0]
        overlay = {
            "kind": "add-overlay",
            "shows": {"kind": "words", "first": index, "last": index},
            "what": {"kind": "title", "text": "Look"},
        }
        answer = edit(here, made, **overlay)
        assert answer.status_code == 200, answer.text
        data = package_of(here, answer.json())
        taken = bring_in(there, other, VTT.replace(b"number 2", b"Number two"), name="other.vtt")
        assert taken.status_code == 201, taken.text
        looked = there.post("/api/packages/look", content=data).json()
        assert "words are otherwise here" in looked["quotes"][0]["notes"][0]
        quote = there.get(f"/api/quotes/{there.post('/api/packages', content=data).json()['quotes'][0]}").json()
        assert quote["document"]["overlays"] == []
        assert quote["document"]["span"] == made["document"]["span"]


def repacked(data: bytes, change: dict[str, bytes | None], sums: bool = True) -> bytes:
    """A package with some files otherwise, or not there (None); its manifest fitting, unless `sums` is off."""
    with opened(data) as archive:
        files: dict[str, bytes] = {name: archive.read(name) for name in archive.namelist()}
    for name, content in change.items():
        if content is None:
            files.pop(name, None)
        else:
            files[name] = content
    if sums and "manifest.json" not in change:
        manifest = json.loads(files["manifest.json"])
        manifest["files"] = {
            name: {"bytes": len(content), "sha256": hashlib.sha256(content).hexdigest()}
            for name, content in files.items() if name != "manifest.json"
        }  # fmt: skip
        files["manifest.json"] = json.dumps(manifest).encode()
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in files.items():
            archive.writestr(name, content)
    return made.getvalue()


@pytest.mark.parametrize(
    ("change", "sums", "says"),
    [
        ({"manifest.json": None}, False, "manifest.json is missing"),
        ({"manifest.json": b"{}"}, False, "manifest.json can't be read: format"),
        ({"manifest.json": b'{"format": "x", "version": 1, "quotes": [], "files": {}}'}, False, "does not say so"),
        (
            {"manifest.json": b'{"format": "nimble-quote-package", "version": 9, "quotes": [], "files": {}}'},
            False,
            "version 9",
        ),
        (
            {
                "manifest.json": b'{"format": "nimble-quote-package", "version": 1, "quotes": ["../../etc/passwd"], "files": {}}'
            },
            False,
            "missing",
        ),
        ({"house.json": b"["}, True, "house.json can't be read"),
        ({"house.json": b'{"more": 1}'}, True, "house.json can't be read: more"),
        ({"quotes/1/quote.json": b'{"a": NaN}'}, True, "quote.json can't be read"),
        ({"quotes/1/quote.json": b"{}"}, False, "not as it was packed"),
        ({"quotes/1/quote.json": None}, False, "is missing from the package"),
    ],
)
def test_a_package_that_is_none_is_refused_with_what_of_it(
    running: RunningApp, quote: Told, change: dict[str, bytes | None], sums: bool, says: str
):
    with running.client as client:
        answer = client.post("/api/packages/look", content=repacked(package_of(client, quote), change, sums))
        assert answer.status_code == 422, answer.text
        assert says in answer.json()["detail"]


def test_a_document_that_lies_is_refused(running: RunningApp, quote: Told):
    with running.client as client:
        data = package_of(client, quote)
        with opened(data) as archive:
            told = json.loads(archive.read("quotes/1/quote.json"))

        def with_document(**change: object) -> bytes:
            return repacked(
                data, {"quotes/1/quote.json": json.dumps({**told, "document": {**told["document"], **change}}).encode()}
            )

        for change, says in (
            ({"schema": 99}, "made by a newer version"), ({"span": {"start_ms": 5, "end_ms": 5}}, "can't be read"),
            ({"span": {"start_ms": 0, "end_ms": 9_000_000}, "struck": []}, "beyond the end"),
            ({"versions": [{"destination": "no-such"}]}, "did not come along"),
        ):  # fmt: skip
            answer = client.post("/api/packages", content=with_document(**change))
            assert (answer.status_code, says in answer.json()["detail"]) == (422, True), answer.text


def test_a_bomb_is_not_unpacked(running: RunningApp, quote: Told):
    with running.client as client:
        data = repacked(package_of(client, quote), {"house.json": b" " * 450_000_000}, sums=False)
        assert len(data) < 2_000_000
        answer = client.post("/api/packages/look", content=data)
        assert (answer.status_code, "more than 400 MB" in answer.json()["detail"]) == (422, True)


@settings(max_examples=150)
@given(
    st.binary(max_size=400)
    | st.builds(
        lambda head, tail: b"PK\x03\x04" + head + b"PK\x05\x06" + tail, st.binary(max_size=200), st.binary(max_size=60)
    )
)
def test_any_bytes_are_a_package_or_refused(data: bytes):
    with pytest.raises(NoPackage):
        read_package(data)


def test_what_a_version_says_is_there_for_other_programs(running: RunningApp, quote: Told):
    with running.client as client:
        address = f"/api/quotes/{quote['id']}/said"
        where = {"destination": quote["own"]}
        words = client.get(f"{address}/words.json", params=where)
        assert "attachment" in words.headers["content-disposition"]
        told = words.json()
        assert (told["format"], told["version"]) == ("nimble-quote-words", 1)
        at = [one["start_ms"] for one in told["words"]]
        assert at == sorted(at)
        assert told["words"][-1]["end_ms"] <= told["length_ms"] + 1
        chapters = client.get(f"{address}/chapters.json", params=where).json()
        assert chapters["version"] == "1.2.0"
        assert chapters["chapters"][0]["startTime"] == 0
        assert client.get(f"{address}/chapters.vtt", params=where).text.startswith("WEBVTT")
        assert client.get(f"{address}/words.json", params={"destination": "wide-140"}).status_code == 422
        assert client.get("/api/packages.zip", params={"ids": [10**9]}).status_code == 404
