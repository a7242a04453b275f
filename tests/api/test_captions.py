"""Captions over the running application: contrast, finding, files in and out."""

from typing import Any

import pytest

from tests.conftest import RunningApp
from tests.helpers import edit, keep, resolved

SAID = "So people ask me, what is the secret? You know, there is no secret. Keep the wick short."


def cues(client: Any, quote: dict[str, Any]) -> list[dict[str, Any]]:
    return list(resolved(client, quote)[0]["assembly"]["cue_tracks"][0]["cues"])


def said(client: Any, quote: dict[str, Any]) -> list[str]:
    return [" / ".join(" ".join(word["text"] for word in line) for line in cue["lines"]) for cue in cues(client, quote)]


def test_light_letters_on_a_light_picture_are_told_with_what_mends_them(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, SAID)
        plated = client.get(f"/api/quotes/{quote['id']}/contrast").json()
        assert plated["revision"] == quote["revision"]
        assert all(one["contrast"] > 4.5 for one in plated["versions"][0]["cues"])
        assert plated["versions"][0]["findings"] == []
        # Letters of the colour of what is behind them.
        bare = edit(client, quote, kind="change-caption-look", look={"plate": None, "colour": "#2E6A66"}).json()
        found = client.get(f"/api/quotes/{quote['id']}/contrast").json()["versions"][0]
        assert found["findings"]
        worst = found["findings"][0]
        assert worst["check"] == "contrast"
        assert "to 1" in worst["says"]
        mended = edit(client, bare, **worst["mend"]).json()
        after = client.get(f"/api/quotes/{quote['id']}/contrast").json()["versions"][0]
        first = cues(client, mended)[0]["first_frame"]
        assert next(one for one in after["cues"] if one["first_frame"] == first)["contrast"] >= 4.45


def test_captions_that_nobody_could_read_are_exported_only_for_a_reason(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, SAID)
        exports = f"/api/quotes/{quote['id']}/exports"
        edit(client, quote, kind="change-caption-look", look={"plate": None, "colour": "#2E6A66"})
        refused = client.post(exports, json={})
        assert refused.status_code == 409
        assert refused.json()["code"] == "held"
        assert "say in Check why" in refused.json()["detail"]
        (version,) = client.get(f"/api/quotes/{quote['id']}/checks").json()["versions"]
        assert version["held"]
        quote = client.get(f"/api/quotes/{quote['id']}").json()
        for one in version["findings"]:
            if one["severity"] == "stop":
                quote = edit(client, quote, kind="accept-note", what=one["id"], reason="Read aloud in the hall").json()
        (version,) = client.get(f"/api/quotes/{quote['id']}/checks").json()["versions"]
        assert not version["held"]
        made = client.post(exports, json={})
        assert made.status_code == 201
        for one in made.json():
            assert {kept["reason"] for kept in one["overruled"]} == {"Read aloud in the hall"}
            assert "contrast" in {kept["check"] for kept in one["overruled"]}
            client.post(f"/api/work/{one['work_id']}/stop")


def test_a_title_that_nobody_could_read_is_told_and_mended_too(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, SAID)
        look = {"plate": None, "colour": "#2A2A33", "outline": None}
        dark = edit(
            client, quote, kind="add-overlay", what={"kind": "title", "text": "The secret", "look": look}
        ).json()
        (version,) = client.get(f"/api/quotes/{quote['id']}/contrast").json()["versions"]
        (finding,) = version["findings"]
        assert (finding["check"], finding["overlay"], finding["step"]) == ("overlay-contrast", 1, "finish")
        assert "“The secret”: dark letters" in finding["says"]
        assert finding["severity"] == "stop"
        edit(client, dark, kind="show-captions", shown=False)
        assert client.post(f"/api/quotes/{quote['id']}/exports", json={}).json()["code"] == "held"
        dark = client.get(f"/api/quotes/{quote['id']}").json()
        edit(client, dark, **finding["mend"])
        (after,) = client.get(f"/api/quotes/{quote['id']}/contrast").json()["versions"]
        assert after["findings"] == []


def test_a_text_is_found_in_the_captions_and_replaced(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, SAID)
        places = client.get(f"/api/quotes/{quote['id']}/captions/find", params={"text": "SECRET"}).json()
        assert [one["said"] for one in places] == ["secret?", "secret."]
        assert places[1]["before"].endswith("there is no")
        replaced = edit(
            client, quote, kind="replace-in-captions", find="secret", to="trick", at=[places[1]["first"]]
        ).json()
        assert "there is no trick." in " ".join(said(client, replaced)).replace(" /", "")
        assert client.get(f"/api/quotes/{quote['id']}/captions/find", params={"text": "  "}).json() == []


@pytest.mark.parametrize("kind", ["srt", "vtt", "ttml", "ass", "json"])
def test_captions_are_saved_corrected_elsewhere_and_brought_in_again(running: RunningApp, demo: int, kind: str):
    with running.client as client:
        quote = keep(client, demo, SAID)
        destination = quote["versions"][0]["destination"]
        quote = edit(client, quote, kind="part-caption", word=cues(client, quote)[0]["lines"][0][2]["index"]).json()
        before = said(client, quote)
        file = client.get(f"/api/quotes/{quote['id']}/captions.{kind}", params={"destination": destination})
        assert f".{kind}" in file.headers["content-disposition"]
        fresh = keep(client, demo, SAID)
        sent = file.text.replace("secret", "trick")
        read = client.post(
            f"/api/quotes/{fresh['id']}/captions/read", params={"name": f"fixed.{kind}"}, content=sent.encode()
        ).json()
        assert (read["matched"], read["left"]) == (len(before), [])
        taken = edit(client, fresh, **read["edit"]).json()
        assert [text.replace(" /", "") for text in said(client, taken)] == [
            text.replace("secret", "trick").replace(" /", "") for text in before
        ]
        assert taken["undo_said"] == f"Brought in captions: {len(before)} of a file"


def test_a_translation_is_read_by_its_times_and_saved_by_itself(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, SAID)
        destination = quote["versions"][0]["destination"]
        srt = client.get(f"/api/quotes/{quote['id']}/captions.srt", params={"destination": destination}).text
        german = "\n".join(
            line if "-->" in line or line.isdigit() or not line else "Auf Deutsch." for line in srt.splitlines()
        )
        query = {"name": "de.srt", "language": "de"}
        read = client.post(f"/api/quotes/{quote['id']}/captions/read", params=query, content=german.encode()).json()
        assert read["matched"] == len(cues(client, quote))
        told = edit(client, quote, **read["edit"]).json()
        told = edit(client, told, kind="show-translation", language="de", shown="below").json()
        assert all(
            cue["below"] == ["Auf Deutsch."] or "Auf Deutsch" in " ".join(cue["below"]) for cue in cues(client, told)
        )
        saved = client.get(
            f"/api/quotes/{quote['id']}/captions.srt", params={"destination": destination, "translated": True}
        ).text
        assert "Auf Deutsch" in saved
        assert "secret" not in saved


@pytest.mark.parametrize(
    ("name", "content", "why"),
    [
        ("a.srt", b"nothing here", "no cue"),
        ("a.xyz", b"1\n00:00:00,000 --> 00:00:01,000\nHi\n", "xyz"),
        ("a.ttml", b"<!DOCTYPE x [<!ENTITY a 'b'>]><tt>&a;</tt>", "a.ttml"),
    ],
)
def test_a_file_that_is_no_captions_says_why(running: RunningApp, demo: int, name: str, content: bytes, why: str):
    with running.client as client:
        quote = keep(client, demo, SAID)
        refused = client.post(f"/api/quotes/{quote['id']}/captions/read", params={"name": name}, content=content)
        assert refused.status_code == 422
        assert why in refused.json()["detail"]


def test_captions_of_another_talk_are_not_taken(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, SAID)
        other = b"1\n00:00:00,000 --> 00:00:02,000\nTurnips grow under glass in March\n"
        read = client.post(f"/api/quotes/{quote['id']}/captions/read", params={"name": "a.srt"}, content=other).json()
        assert (read["edit"], read["matched"], read["left"]) == (None, 0, ["Turnips grow under glass in March"])


def test_odd_spelling_is_told_with_what_may_be_meant(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, SAID)
        word = cues(client, quote)[0]["lines"][0][1]["index"]
        odd = edit(client, quote, kind="correct-caption", first=word, last=word, text="peopel").json()
        told = client.get(f"/api/quotes/{odd['id']}/captions/spelling").json()
        assert (told["checked"], told["language"]) == (True, "English")
        (one,) = [one for one in told["words"] if one["text"] == "peopel"]
        assert (one["word"], one["meant"][0]) == (word, "people")
