"""A house of the version that landed just before posting opens as it was, and can post."""

from typing import Any

from tests.conftest import RunningApp
from tests.helpers import edit

BEFORE = "0026"
Told = dict[str, Any]


def test_exports_and_destinations_are_as_they_were(opened: RunningApp, told: Told):
    with opened.client as client:
        now = {one["id"]: one for one in client.get("/api/exports").json()}
        destinations = {one["id"]: one for one in client.get("/api/catalogue").json()["destinations"]}
        changes = client.get(f"/api/exports/{told['exports'][0]['id']}/changes").json()
    assert changes == told["changes"]
    assert set(now) == {one["id"] for one in told["exports"]}
    for before in told["exports"]:
        for field in ("file_name", "state", "facts", "findings", "making", "overruled", "credits"):
            assert now[before["id"]][field] == before[field], field
        assert not now[before["id"]]["current"], "the quote was renamed since"
    for before in told["destinations"]:
        texts = destinations[before["id"]].pop("texts")
        assert destinations[before["id"]] == before
        assert texts["description"] == (300 if before["limit_ms"] <= 15_000 else 2000)


def test_a_quote_of_before_has_a_draft_and_takes_a_text(opened: RunningApp, told: Told):
    with opened.client as client:
        quote = client.get(f"/api/quotes/{told['quote']['id']}").json()
        assert quote["document"]["posting"] == {"text": None, "own": {}}
        told_now = client.get(f"/api/quotes/{quote['id']}/posting").json()
        assert told_now["drafted"]
        assert told_now["link"] == ""
        assert all(not one["faults"] for one in told_now["versions"])
        edit(client, quote, kind="write-posting", text={"title": "Wicks"}).raise_for_status()
        assert client.get(f"/api/quotes/{quote['id']}/posting").json()["written"]["title"] == "Wicks"
        assert client.get("/api/posts").json() == []
        assert client.get("/api/house/posting").json()["time_zone"] == "Etc/UTC"
