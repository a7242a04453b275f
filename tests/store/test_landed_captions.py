"""A house of the version that landed just before opens with its captions, pictures and lines as they were; and takes a finish.

`landed/` holds a dump of its database and what it showed, made by that version itself from the demo.
"""

from typing import Any

from tests.conftest import RunningApp
from tests.helpers import edit

BEFORE = "0022"
Told = dict[str, Any]


def events(script: str) -> list[str]:
    """The letters of a script, with their times and places."""
    return [line for line in script.splitlines() if line.startswith("Dialogue: 2,")]


def test_captions_say_and_look_the_same(opened: RunningApp, told: Told):
    with opened.client as client:
        quote = client.get(f"/api/quotes/{told['quote']['id']}").json()
        versions = client.get(f"/api/quotes/{told['quote']['id']}/versions").json()["versions"]
    before = told["quote"]["document"]["captions"]
    assert {field: quote["document"]["captions"][field] for field in before} == before
    assert [events(one["script"]) for one in versions] == [events(one["script"]) for one in told["versions"]]
    assert versions[0]["assembly"]["picture"][0]["behind"] == told["versions"][0]["behind"]


def test_pictures_and_styles_are_there(opened: RunningApp, told: Told):
    (before,) = told["pictures"]
    with opened.client as client:
        catalogue = client.get("/api/catalogue").json()
        content = client.get(f"/api/house/pictures/{before['id']}")
    after = next(one for one in catalogue["pictures"] if one["id"] == before["id"])
    assert {field: after[field] for field in before} == before
    assert (after["revision"], after["see_through"]) == (1, False)
    assert (content.headers["content-type"], len(content.content)) == ("image/jpeg", told["picture_bytes"])
    style = next(one for one in catalogue["styles"] if one["id"] == told["style"]["id"])
    assert {field: style["look"][field] for field in told["style"]["look"]} == told["style"]["look"]


def test_the_lines_of_a_part_stand_as_long_and_a_finish_goes_with_them(opened: RunningApp, told: Told):
    address = f"/api/quotes/{told['part']['id']}"
    with opened.client as client:
        part = client.get(address).json()
        assembly = client.get(f"{address}/versions").json()["versions"][0]["assembly"]
        finished = edit(client, part, kind="choose-finish", finish="quiet-title").json()
        shown = client.get(f"{address}/versions").json()["versions"][0]["assembly"]["overlays"]
    before = told["part_versions"][0]["overlays"]
    assert [(one["lines"], one["first_frame"], one["end_frame"]) for one in assembly["overlays"]] == [
        (one["lines"], one["first_frame"], one["end_frame"]) for one in before
    ]
    assert finished["document"]["overlays"] == part["document"]["overlays"]
    assert [one["kind"] for one in shown] == ["lines", "lines", "bar", "lines", "lines"]
