"""A house of the version that landed just before opens with what stands over its pictures and its finishes as they were; and has
music, covers and end cards.

`landed/` holds a dump of its database and what it showed, made by that version itself from the demo.
"""

from typing import Any

import pytest

from tests.conftest import RunningApp
from tests.helpers import edit

BEFORE = "0024"
Told = dict[str, Any]


def as_before(now: Any, before: Any) -> Any:
    """What is now, as far as it was told before: fields that came since are left out, and so is what moves in a wave."""
    if isinstance(before, dict):
        return {key: as_before(now.get(key), value) for key, value in before.items() if key != "levels"}
    if isinstance(before, list):
        return [as_before(one, other) for one, other in zip(now, before, strict=True)]
    return now


def without_levels(told: Any) -> Any:
    return as_before(told, told)


@pytest.mark.parametrize(("quote", "versions"), [("quote", "versions"), ("other", "other_versions")])
def test_what_stands_over_the_picture_stands_as_it_did(opened: RunningApp, told: Told, quote: str, versions: str):
    with opened.client as client:
        now = client.get(f"/api/quotes/{told[quote]['id']}").json()
        shown = client.get(f"/api/quotes/{told[quote]['id']}/versions").json()["versions"]
    assert as_before(now["document"], told[quote]["document"]) == told[quote]["document"]
    for version, before in zip(shown, told[versions], strict=True):
        assembly = version["assembly"]
        assert as_before(assembly["overlays"], before["overlays"]) == without_levels(before["overlays"])
        assert as_before(assembly["picture"], before["picture"]) == before["picture"]
        assert (assembly["cover_frames"], assembly["card_frame"]) == (0, None)
        assert assembly["sound"]["music"] == []


def test_its_finish_takes_music_a_cover_and_a_card(opened: RunningApp, told: Told):
    with opened.client as client:
        catalogue = client.get("/api/catalogue").json()
        finish = next(one for one in catalogue["finishes"] if one["id"] == told["finish"]["id"])
        assert as_before(finish["items"], told["finish"]["items"]) == told["finish"]["items"]
        assert [one["name"] for one in catalogue["sounds"]] == ["Short wick", "Still water", "First light"]
        quote = client.get(f"/api/quotes/{told['quote']['id']}").json()
        for what in ({"kind": "music", "sound": 1}, {"kind": "cover"}, {"kind": "end-card", "text": "More"}):
            answer = edit(client, quote, kind="add-overlay", what=what)
            assert answer.status_code == 200, answer.text
            quote = answer.json()
        changed = client.put(f"/api/finishes/{finish['id']}", json={"name": "Evening", "quote": quote["id"]}).json()
        assert changed["finish"]["version"] == 2
        other = client.get(f"/api/quotes/{told['other']['id']}/versions").json()["versions"][0]["assembly"]
        assert other["cover_frames"] == 1
        assert other["card_frame"] is not None
        assert [one["sound"] for one in other["sound"]["music"]] == [1]
