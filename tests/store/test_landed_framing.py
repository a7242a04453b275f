"""A house of the version that landed just before opens with its framing as it was: what was chosen, what was placed by hand, what
was found fine, and its own destinations; and goes on being framed.

`landed/` holds a dump of its database and what it showed, made by that version itself from the podcast of the demo.
"""

from typing import Any

from tests.conftest import RunningApp
from tests.helpers import edit

BEFORE = "0018"
Told = dict[str, Any]


def chosen(shot: Told) -> Told:
    return {name: value for name, value in shot["choice"].items() if value is not None}


def test_what_was_chosen_and_placed_is_as_it_was(opened: RunningApp, told: Told):
    address = f"/api/quotes/{told['quote']['id']}"
    with opened.client as client:
        quote = client.get(address).json()
        now = {one["destination"]: one for one in client.get(f"{address}/versions").json()["versions"]}
    assert quote["document"]["versions"] == told["quote"]["document"]["versions"]
    assert [one["destination"] for one in told["versions"]] == list(now)
    for before in told["versions"]:
        after = now[before["destination"]]
        assert [chosen(one) for one in after["framing"]] == [chosen(one) for one in before["framing"]]
        assert [(one["name"], one["subjects"]) for one in after["framing"]] == [
            (one["name"], one["subjects"]) for one in before["framing"]
        ]
        placed = [number for number, one in enumerate(before["framing"]) if one["choice"]["placed"]]
        assert [after["framing"][n]["layout"] for n in placed] == [before["framing"][n]["layout"] for n in placed]
        runs = zip(after["assembly"]["picture"], before["picture"], strict=True)
        assert all(one["behind"]["colour"] == other["behind"]["colour"] for one, other in runs)


def test_its_own_destinations_are_there_and_its_picture_can_be_looked_at_again(opened: RunningApp, told: Told):
    with opened.client as client:
        catalogue = client.get("/api/catalogue").json()
        recording = client.get(f"/api/recordings/{told['quote']['recording_id']}").json()
    before = {one["id"]: one for one in told["catalogue"]["destinations"]}
    later = ("texts",)
    now = [{field: value for field, value in one.items() if field not in later} for one in catalogue["destinations"]]
    assert {one["id"]: one for one in now} == before
    assert (catalogue["pictures"], catalogue["colour"]) == ([], "#1C2330")
    assert recording["seen_by_older"]


def test_it_goes_on_being_framed_in_the_new_ways(opened: RunningApp, told: Told):
    address = f"/api/quotes/{told['quote']['id']}"
    with opened.client as client:
        quote = client.get(address).json()
        edit(client, quote, kind="frame-shot", change={"exposure": 0.4})
        framed = client.get(f"{address}/versions").json()["versions"][0]["framing"]
        assert {one["choice"]["exposure"] for one in framed} == {0.4}
        assert chosen(framed[0])["closeness"] == chosen(told["versions"][0]["framing"][0])["closeness"]
        undone = client.post(f"{address}/undo", json={"on_revision": client.get(address).json()["revision"]}).json()
    assert undone["document"]["framing"] == quote["document"]["framing"]
