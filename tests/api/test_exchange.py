"""Cuts go to other programs and come back as quotes of their recording, by its name; others are refused with a reason."""

import json
from typing import Any

import opentimelineio as otio

from tests.conftest import RunningApp
from tests.helpers import edit, keep

SAID = "So people ask me, what is the secret? You know, there is no secret. Keep the wick short."
Told = dict[str, Any]


def test_a_cut_goes_out_and_comes_back_the_same(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, SAID)
        words = quote["cut"]["kept_words"]
        quote = edit(client, quote, kind="strike-words", first=words[8], last=words[9]).json()
        destination = quote["versions"][0]["destination"]
        (version,) = client.get(f"/api/quotes/{quote['id']}/versions").json()["versions"]
        runs = [(run["source_frame"], run["frames"]) for run in version["assembly"]["picture"]]
        for kind in ("otio", "edl"):
            out = client.get(f"/api/quotes/{quote['id']}/timeline.{kind}", params={"destination": destination})
            assert out.status_code == 200
            assert f".{kind}" in out.headers["content-disposition"]
            back = client.post(
                f"/api/recordings/{demo}/timeline", params={"kind": kind}, content=out.content,
                headers={"content-type": "application/octet-stream"},
            )  # fmt: skip
            assert back.status_code == 201, back.text
            (made,) = back.json()["quotes"]
            assert back.json()["left_out"] == []
            again = client.get(f"/api/quotes/{made['id']}").json()
            if destination not in [one["destination"] for one in again["versions"]]:
                edit(client, again, kind="add-version", destination=destination)
            shown = next(
                one
                for one in client.get(f"/api/quotes/{made['id']}/versions").json()["versions"]
                if one["destination"] == destination
            )
            joined = [(run["source_frame"], run["frames"]) for run in shown["assembly"]["picture"]]
            assert (sum(n for _, n in joined), joined[0][0]) == (sum(n for _, n in runs), runs[0][0])
            assert made["title"].startswith(quote["document"]["title"][:40])
            client.post(f"/api/quotes/{made['id']}/remove")
        refused = client.get(f"/api/quotes/{quote['id']}/timeline.edl", params={"destination": "nowhere"})
        assert refused.status_code == 422
        assert (
            client.get(f"/api/quotes/{quote['id']}/timeline.aaf", params={"destination": destination}).status_code
            == 422
        )


def test_what_is_no_cut_of_this_recording_is_refused_and_nothing_is_kept(running: RunningApp, demo: int):
    with running.client as client:
        before = len(client.get(f"/api/recordings/{demo}").json()["quotes"])
        timeline = otio.schema.Timeline(name="Elsewhere")
        track = otio.schema.Track(kind="Video")
        timeline.tracks.append(track)
        at = otio.opentime.RationalTime
        track.append(
            otio.schema.Clip(
                media_reference=otio.schema.ExternalReference(target_url="file:///home/somebody/other%20talk.mp4"),
                source_range=otio.opentime.TimeRange(at(25, 25), at(100, 25)),
            )
        )
        elsewhere = otio.adapters.write_to_string(timeline, "otio_json").encode()
        for kind, body, code, says in (
            ("otio", elsewhere, "not-a-cut", "This cut is of “other talk.mp4”"),
            ("otio", b"{}", "timeline-unreadable", "holds no timeline"),
            ("otio", b"\xff\xfe\x00", "timeline-unreadable", "not text in UTF-8"),
            ("edl", json.dumps({}).encode(), "timeline-unreadable", "no event"),
        ):
            answer = client.post(f"/api/recordings/{demo}/timeline", params={"kind": kind}, content=body)
            assert (answer.status_code, answer.json()["code"]) == (422, code)
            assert says in answer.json()["detail"]
        assert client.post("/api/recordings/9999999/timeline", params={"kind": "edl"}, content=b"x").status_code == 404
        assert len(client.get(f"/api/recordings/{demo}").json()["quotes"]) == before
