"""Finishes of the house: made of a quote, followed by many, changed for all of them, taken along as files."""

import json
from typing import Any

import httpx
import psycopg

from tests.api.test_house import LAMP
from tests.conftest import RunningApp
from tests.helpers import edit, keep, resolved

SAID = "Keep the wick short."


def shown(client: httpx.Client, quote: dict[str, Any]) -> list[str]:
    """What stands over the picture of a quote, by its kinds; a text by what it says."""
    found = resolved(client, quote)[0]["assembly"]["overlays"]
    return [" ".join(one["lines"]) if one["kind"] == "lines" else one["kind"] for one in found]


def now(client: httpx.Client, quote: dict[str, Any]) -> dict[str, Any]:
    return dict(client.get(f"/api/quotes/{quote['id']}").json())


def test_a_finish_is_made_of_a_quote_followed_and_changed_for_all(running: RunningApp, demo: int):
    with running.client as client:
        first, second, other = (keep(client, demo, SAID) for _ in range(3))
        first = edit(client, first, kind="add-overlay", what={"kind": "title", "text": "{title}"}).json()
        first = edit(client, first, kind="add-overlay", what={"kind": "progress"}).json()
        words = {"kind": "words", "first": first["cut"]["kept_words"][0], "last": first["cut"]["kept_words"][1]}
        first = edit(client, first, kind="add-overlay", what={"kind": "lines", "text": "Mine"}, shows=words).json()
        made = client.post("/api/finishes", json={"name": "Evening", "quote": first["id"]})
        assert made.status_code == 201, made.text
        finish = made.json()
        assert [one["what"]["kind"] for one in finish["items"]] == ["title", "progress"]
        twice = client.post("/api/finishes", json={"name": "evening", "quote": first["id"]})
        assert (twice.status_code, "already" in twice.json()["detail"]) == (422, True)

        first = edit(client, first, kind="choose-finish", finish=finish["id"], instead=True).json()
        assert shown(client, first) == [first["document"]["title"], "bar", "Mine"]
        applied = client.post(f"/api/finishes/{finish['id']}/apply", json={"quotes": [first["id"], second["id"]]})
        assert applied.json() == {"changed": 1}
        assert shown(client, now(client, second)) == [second["document"]["title"], "bar"]

        # What a quote has otherwise stays through a change of the finish; what is the finish's follows it.
        second = edit(client, now(client, second), kind="hide-overlay", id=1002, hidden=True).json()
        first = edit(client, now(client, first), kind="add-overlay", what={"kind": "time-left"}).json()
        reach = client.get(f"/api/finishes/{finish['id']}/follows").json()
        assert reach == {"follow": 2, "exported": 0}
        changed = client.put(f"/api/finishes/{finish['id']}", json={"name": "Evening", "quote": first["id"]}).json()
        assert (changed["finish"]["version"], changed["follow"], changed["held"]) == (2, 2, 0)
        assert shown(client, now(client, second)) == [second["document"]["title"], "clock"]
        assert shown(client, now(client, other)) == []
        second = edit(client, now(client, second), kind="reset-overlay", id=1002).json()
        assert shown(client, second) == [second["document"]["title"], "bar", "clock"]
        second = edit(client, second, kind="hold-finish", held=1).json()
        assert shown(client, second) == [second["document"]["title"], "bar"]


def test_a_quote_that_was_exported_holds_the_finish_that_it_was_made_with(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, SAID)
        quote = edit(client, quote, kind="choose-finish", finish="quiet-title").json()
        with psycopg.connect(running.settings.database_url) as conn:
            conn.execute(
                """insert into export (quote_id, revision, destination, destination_name, width, height, limit_ms, largest_mb,
                       rate_num, rate_den, planned_frames, made_at, file_path, facts, findings)
                   values (%s, %s, 'tall-15', 'Tall 15', 1080, 1920, 15000, 50, 25, 1, 50, now(), 'x', '{}', '[]')""",
                [quote["id"], quote["revision"]],
            )
        giver = edit(client, keep(client, demo, SAID), kind="choose-finish", finish="quiet-title").json()
        giver = edit(client, giver, kind="hide-overlay", id=1001, hidden=True).json()
        body = {"name": "Quiet title", "quote": giver["id"]}
        assert client.put("/api/finishes/quiet-title", json=body).json()["held"] == 1
        held = now(client, quote)
        assert held["document"]["finish_held"] == 1
        assert shown(client, held)[0] == held["document"]["title"]
        # As it shipped, for whatever else looks at it.
        giver = edit(client, now(client, giver), kind="hold-finish", held=1).json()
        back = {"name": "Quiet title", "quote": held["id"]}
        assert client.put("/api/finishes/quiet-title", json=back).json()["finish"]["version"] == 3


def test_new_quotes_of_a_series_follow_its_finish(running: RunningApp, demo: int):
    with running.client as client:
        recording = client.get(f"/api/recordings/{demo}").json()
        told = {field: recording[field] for field in ("title", "held_on", "notes")}
        assert client.put(f"/api/recordings/{demo}/description", json={**told, "series": "Lamp evenings"}).is_success
        chosen = {"series": "Lamp evenings", "finish": "sound-only"}
        assert client.put("/api/series-finish", json=chosen).is_success
        assert client.get("/api/catalogue").json()["series_finishes"] == {"Lamp evenings": "sound-only"}
        quote = keep(client, demo, SAID)
        assert shown(client, quote) == [quote["document"]["title"], "wave", "clock"]
        assert client.put("/api/series-finish", json={**chosen, "finish": "none-such"}).status_code == 404
        assert client.put("/api/series-finish", json={**chosen, "finish": None}).is_success
        assert shown(client, keep(client, demo, SAID)) == []
        client.put(f"/api/recordings/{demo}/description", json={**told, "series": recording["series"]})


def test_a_finish_is_taken_along_with_its_pictures(running: RunningApp, demo: int):
    with running.client as client:
        picture = client.post("/api/house/pictures", params={"name": "Mark"}, content=LAMP % b"123456").json()
        quote = keep(client, demo, SAID)
        quote = edit(client, quote, kind="add-overlay", what={"kind": "logo", "picture": picture["id"]}).json()
        finish = client.post("/api/finishes", json={"name": "With a mark", "quote": quote["id"]}).json()
        file = client.get(f"/api/finishes/{finish['id']}/file")
        assert "With%20a%20mark.json" in file.headers["content-disposition"]
        assert client.post("/api/finishes/file", content=file.content).status_code == 422, "the name is taken"
        assert client.post(f"/api/finishes/{finish['id']}/retire", json={"retired": True}).json()["retired"]
        back = client.post("/api/finishes/file", content=file.content)
        assert back.status_code == 201, back.text
        assert back.json()["items"] == finish["items"]
        chosen = edit(client, quote, kind="choose-finish", finish=finish["id"])
        assert (chosen.status_code, "offered no more" in chosen.json()["detail"]) == (422, True)


def test_what_is_no_finish_is_refused(running: RunningApp, demo: int):
    good = {"format": "nimble-quote-finish", "version": 1, "name": "Odd", "items": [], "pictures": {}}
    logo = {"number": 1, "when": {"kind": "whole"}, "what": {"kind": "logo", "picture": 3}}
    words = {"number": 1, "when": {"kind": "words", "first": 1, "last": 2}, "what": {"kind": "time-left"}}
    wrong: list[tuple[bytes, str]] = [
        (b"\xff\xfe", "no JSON"),
        (b"[]", "format"),
        (json.dumps({**good, "version": 7}).encode(), "version 7"),
        (json.dumps({**good, "items": [logo]}).encode(), "not in the file"),
        (json.dumps({**good, "items": [words]}).encode(), "not at words"),
        (
            json.dumps({**good, "pictures": {"3": {"name": "x", "content": "?"}}, "items": [logo]}).encode(),
            "can't be read",
        ),
        (
            json.dumps({**good, "pictures": {"3": {"name": "x", "content": "AAAA"}}, "items": [logo]}).encode(),
            "no picture",
        ),
        (json.dumps({**good, "name": "", "items": []}).encode(), "name"),
    ]
    with running.client as client:
        for sent, why in wrong:
            refused = client.post("/api/finishes/file", content=sent)
            assert refused.status_code == 422
            assert why in refused.json()["detail"]
        quote = keep(client, demo, SAID)
        nothing = client.post("/api/finishes", json={"name": "Empty", "quote": quote["id"]})
        assert (nothing.status_code, "nothing to make" in nothing.json()["detail"]) == (422, True)
        assert client.get("/api/finishes/none-such/file").status_code == 404
        assert edit(client, quote, kind="hold-finish", held=1).status_code == 422


def test_footage_is_of_a_recording_that_is_there_as_it_is_known_here(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, SAID)
        sent = {"recording": demo, "from_ms": 4000, "width": 3, "height": 4, "duration_ms": 5}
        quote = edit(client, quote, kind="add-overlay", what={"kind": "insert", "footage": sent}).json()
        recording = client.get(f"/api/recordings/{demo}").json()
        known = quote["document"]["overlays"][0]["what"]["footage"]
        facts = {field: recording[field] for field in ("width", "height", "duration_ms")}
        assert known == {**sent, **facts, "heard": "not"}
        (shown_now,) = [one for one in resolved(client, quote)[0]["assembly"]["overlays"] if one["kind"] == "footage"]
        assert shown_now["recording"] == demo
        gone = edit(
            client, quote, kind="add-overlay", what={"kind": "insert", "footage": {**sent, "recording": 99_999}}
        )
        late = edit(
            client, quote, kind="add-overlay", what={"kind": "insert", "footage": {**sent, "from_ms": 90_000_000}}
        )
        assert (gone.status_code, "not there any more" in gone.json()["detail"]) == (422, True)
        assert (late.status_code, "ends before that" in late.json()["detail"]) == (422, True)
