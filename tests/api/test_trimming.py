"""Trim over the API: rules, plans, parts, the sound of a cut, history, two people at once, and a speaker's approval."""

import asyncio
import io
import re
import wave
from pathlib import Path
from typing import Any

import httpx
import numpy as np
import psycopg
import pytest

from nimble_quote.api.sounding import Sounds, TooLongToHear
from nimble_quote.core.assembly import RECORDING, assemble
from nimble_quote.core.edits import new_quote
from nimble_quote.media.source import Source
from tests.conftest import RunningApp
from tests.helpers import edit, keep, resolved
from tests.shipped import DESTINATIONS
from tests.talks import HD, context_of, talk_of

LONG = (
    "When I was nineteen, the old keeper handed me a pair of scissors.",
    "Let me tell you about the winter of the long storm.",
)
FORTY = "We had forty lamps on the harbour wall that year. No, sorry, I said forty, I mean fourteen."


@pytest.fixture
def quote(running: RunningApp, demo: int) -> dict:
    """A quote of about 80 seconds, for Tall 90."""
    with running.client as client:
        return keep(client, demo, *LONG)


def at(client: httpx.Client, quote: dict, path: str = "") -> dict:
    return client.get(f"/api/quotes/{quote['id']}{path}").json()


def test_a_version_is_made_to_fit_by_the_plan_that_loses_least(running: RunningApp, quote: dict):
    with running.client as client:
        quote = edit(client, quote, kind="add-version", destination="tall-60").json()
        over = next(one for one in quote["gauges"] if one["destination"] == "tall-60")["over_ms"]
        assert over > 10_000
        asked = {"destination": "tall-60"}
        plan = client.post(f"/api/quotes/{quote['id']}/plan", json=asked).json()
        assert plan["reached"]
        assert plan["length_ms"] <= plan["limit_ms"] == 60_000
        assert {way["kind"] for way in plan["ways"]} >= {"pause", "sentence", "speed"}
        refused = next(piece["id"] for piece in plan["pieces"] if piece["kind"] != "pause")
        around = client.post(f"/api/quotes/{quote['id']}/plan", json={**asked, "refused": [refused]}).json()
        assert refused not in [piece["id"] for piece in around["pieces"]]
        assert around["loss"] >= plan["loss"]
        spans = [span for piece in plan["pieces"] for span in piece["spans"]]
        change = {"kind": "strike-spans", "spans": spans, "speed": plan["speed"], "destination": "tall-60"}
        fitted = edit(client, quote, **change).json()
        gauge = next(one for one in fitted["gauges"] if one["destination"] == "tall-60")
        assert -1000 < gauge["over_ms"] <= 0
        own = next(one for one in fitted["versions"] if one["destination"] == "tall-60")
        assert own["cut"]["joins"]
        other = next(one for one in fitted["versions"] if one["destination"] != "tall-60")
        assert other["cut"] is None, "the other version is cut as before"
        assert own["limit"]["kept_ms"] is None
        assert own["limit"]["said_ms"] is not None


def test_a_rule_is_counted_before_it_strikes(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(
            client, demo, "They had been mended, uh, three times before I got them.", "My brother said they were ugly,"
        )
        rule = {"name": "fillers"}
        found = client.post(f"/api/quotes/{quote['id']}/strikes", json={"rule": rule}).json()
        assert [one["text"] for one in found] == ["uh,"]
        cut = edit(client, quote, kind="strike-by-rule", rule=rule).json()
        assert found[0]["first"] in cut["cut"]["struck_words"]
        assert cut["undo_said"].startswith("Struck fillers by rule: 1, ")
        assert edit(client, cut, kind="strike-by-rule", rule=rule).status_code == 422
        assert client.post(f"/api/quotes/{quote['id']}/strikes", json={"rule": {"name": "all"}}).status_code == 422


def test_a_passage_is_split_in_parts_that_know_their_whole(running: RunningApp, quote: dict):
    with running.client as client:
        quote = edit(client, quote, kind="add-version", destination="tall-30").json()
        asked = {"destination": "tall-30", "make": False}
        looked = client.post(f"/api/quotes/{quote['id']}/split", json=asked).json()
        assert looked["made"] == []
        assert all(part["length_ms"] <= 30_000 for part in looked["parts"])
        made = client.post(
            f"/api/quotes/{quote['id']}/split",
            json={**asked, "make": True, "recap": "The scissors", "end_line": "More soon"},
        ).json()["made"]
        assert len(made) == len(looked["parts"]) >= 3
        second = client.get(f"/api/quotes/{made[1]['id']}").json()
        assert second["part_of"] == quote["id"]
        assert second["document"]["title"].endswith(f"(2 of {len(made)})")
        assert "The scissors" in resolved(client, second)[0]["script"]
        assert second["gauges"][1]["fit"] == "fits"
        too_many = client.post(f"/api/quotes/{quote['id']}/split", json={"destination": "tall-30", "count": 2})
        assert (too_many.status_code, too_many.json()["code"]) == (422, "cannot-split")
        for one in made:
            client.post(f"/api/quotes/{one['id']}/remove")


def test_the_sound_of_a_cut_is_as_long_as_the_cut_and_follows_edits(running: RunningApp, quote: dict):
    def length(client: httpx.Client, now: dict) -> tuple[float, np.ndarray]:
        destination = now["versions"][0]["destination"]
        answer = client.get(f"/api/quotes/{now['id']}/sound.wav", params={"destination": destination})
        with wave.open(io.BytesIO(answer.content)) as sound:
            samples = np.frombuffer(sound.readframes(sound.getnframes()), "<i2")
            assert (sound.getnchannels(), sound.getframerate()) == (2, 48_000)
            return sound.getnframes() / 48, samples

    with running.client as client:
        whole, samples = length(client, quote)
        assert whole == pytest.approx(quote["cut"]["length_ms"], abs=1)
        assert np.abs(samples).max() > 1000
        first = quote["cut"]["kept_words"][20]
        cut = edit(client, quote, kind="strike-words", first=first, last=first + 10).json()
        shorter, _ = length(client, cut)
        assert shorter == pytest.approx(cut["cut"]["length_ms"], abs=1)
        fast = edit(client, cut, kind="set-speed", destination=cut["versions"][0]["destination"], speed=1.1).json()
        faster, _ = length(client, fast)
        assert faster == pytest.approx(shorter / 1.1, abs=41)
        assert client.get(f"/api/quotes/{quote['id']}/sound.wav", params={"destination": "wide-140"}).status_code == 422


def test_a_quote_over_too_much_of_a_talk_is_not_held_in_memory(tmp_path: Path):
    talk = talk_of("one two", gap_ms=25 * 60_000)
    cut = new_quote(context_of(talk), 0, 1)
    assembly = assemble(cut, context_of(talk), HD, DESTINATIONS["tall-60"])
    with pytest.raises(TooLongToHear, match="stretch by stretch"):
        asyncio.run(Sounds().wav(assembly, "0" * 64, {RECORDING: Source(path=tmp_path / "none.mp4")}, tmp_path, {}))


def test_a_loupe_shows_the_sound_around_a_moment(running: RunningApp, demo: int):
    with running.client as client:
        near = client.get(f"/api/recordings/{demo}/loupe", params={"at_ms": 51_500}).json()
        assert near["from_ms"] == 50_750
        assert len(near["peaks"]) == 750
        assert max(near["peaks"]) > 60
        assert all(near["from_ms"] <= ms <= near["from_ms"] + 1500 for ms in near["quiet_ms"])
        assert near["quiet_ms"]
        beyond = client.get(f"/api/recordings/{demo}/loupe", params={"at_ms": 10**9}).json()
        assert beyond["peaks"] == []
        assert client.get(f"/api/recordings/{demo}/loupe", params={"at_ms": -4}).status_code == 422


def test_an_unfair_cut_is_noted_until_it_is_accepted_with_a_reason(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, FORTY)
        words = quote["cut"]["kept_words"]
        cut = edit(client, quote, kind="strike-words", first=words[-3], last=words[-1]).json()
        (seen,) = resolved(client, cut)
        (note,) = [one for one in seen["unfair"] if one["rule"] == "correction"]
        assert "fourteen" in note["says"]
        assert any(found["check"] == "fairness" for found in seen["findings"])
        told = edit(
            client, cut, kind="accept-note", what=note["id"], reason="He says fourteen in the next sentence."
        ).json()
        (now,) = resolved(client, told)
        (accepted,) = [one for one in now["unfair"] if one["id"] == note["id"]]
        assert accepted["accepted"] == "He says fourteen in the next sentence."
        (quiet,) = [found for found in now["findings"] if found["says"] == note["says"]]
        assert quiet["accepted"] == "He says fourteen in the next sentence."
        assert "He says fourteen" in at(client, quote, "/history")[0]["said"]


def test_the_history_says_who_what_and_when_and_nothing_of_it_is_lost(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, FORTY)
        words = quote["cut"]["kept_words"]
        body = {"on_revision": 1, "edit": {"kind": "strike-words", "first": words[0], "last": words[1]}, "by": "Ada"}
        second = client.post(f"/api/quotes/{quote['id']}/edits", json=body).json()
        third = edit(client, second, kind="rename", title="Fourteen lamps").json()
        named = client.post(f"/api/quotes/{quote['id']}/history/2/name", json={"name": "Tight"})
        assert named.status_code == 204
        back = client.post(
            f"/api/quotes/{quote['id']}/history/go", json={"on_revision": third["revision"], "to": 2}
        ).json()
        assert back["document"]["title"] == quote["document"]["title"]
        fourth = edit(client, back, kind="rename", title="Another way").json()
        history = at(client, quote, "/history")
        assert [(one["number"], one["by"], one["name"], one["undone"]) for one in history] == [
            (4, None, None, False), (3, None, None, True), (2, "Ada", "Tight", False), (1, None, None, False),
        ]  # fmt: skip
        compared = client.get(f"/api/quotes/{quote['id']}/history/compare", params={"a": 1, "b": 3}).json()
        assert compared["only_kept"] == [["We had"], []]
        assert compared["titles"][1] == "Fourteen lamps"
        assert compared["lengths_ms"][0] > compared["lengths_ms"][1]
        stale = client.post(f"/api/quotes/{quote['id']}/history/go", json={"on_revision": 3, "to": 1})
        assert stale.status_code == 409
        missing = client.post(
            f"/api/quotes/{quote['id']}/history/go", json={"on_revision": fourth["revision"], "to": 99}
        )
        assert missing.status_code == 404
        copy = client.post(f"/api/quotes/{quote['id']}/copy", json={"by": "Ben"}).json()
        assert copy["title"] == "Another way (copy)"
        (born,) = at(client, copy, "/history")
        assert (born["said"], born["by"]) == ("Copied from “Another way”", "Ben")


def test_two_people_on_one_quote_are_merged_or_told(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, FORTY)
        words = quote["cut"]["kept_words"]
        change = {"kind": "strike-words", "first": words[0], "last": words[0]}
        client.post(f"/api/quotes/{quote['id']}/edits", json={"on_revision": 1, "edit": change, "by": "Ada"})
        merged = edit(client, quote, kind="rename", title="Mine").json()
        assert merged["merged"] == ["Ada: Struck “We”"]
        assert merged["document"]["title"] == "Mine"
        assert words[0] not in merged["cut"]["kept_words"]
        refused = edit(client, quote, kind="strike-words", first=words[0], last=words[1])
        assert refused.status_code == 409
        assert "Ada: Struck “We”" in refused.json()["detail"]
        assert at(client, quote)["revision"] == merged["revision"], "nothing was overwritten"


def test_a_speaker_reads_and_answers_a_page_of_their_own(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, FORTY)
        words = quote["cut"]["kept_words"]
        cut = edit(client, quote, kind="strike-words", first=words[0], last=words[1]).json()
        asked = client.post(f"/api/quotes/{quote['id']}/approvals", json={"days": 3}).json()
        address = asked["address"]
        assert re.search(r"/approve/[\w-]{32}$", address)
        with psycopg.connect(running.settings.database_url) as conn:
            secret = address.rsplit("/", 1)[1]
            kept = conn.execute("select address_hash::text from approval").fetchall()
            assert secret not in str(kept), "only a hash of the address is kept"
        page = client.get(address)
        assert page.headers["content-security-policy"].startswith("default-src 'none'")
        assert "<s>We had</s> forty lamps" in page.text
        assert client.post(address, content=b"answer=maybe&by=Maren").status_code == 422
        assert client.post(address, content=b"answer=approved&by=").status_code == 422
        answered = client.post(address, content=b"answer=change+wanted&by=Maren+<b>&note=Not+that+one")
        assert "Maren &lt;b&gt; asked for a change" in answered.text
        (view,) = at(client, quote, "/approvals")
        assert (view["answer"], view["note"], view["stale"]) == ("change wanted", "Not that one", False)
        slips = client.get("/api/shortlist", params={"talk": demo}).json()["slips"]
        assert {slip["id"]: slip["approval"] for slip in slips}[quote["id"]] == view, "the shortlist shows it too"
        client.post(address, content=b"answer=approved&by=Maren")
        edit(client, cut, kind="rename", title="Later")
        (view,) = at(client, quote, "/approvals")
        assert (view["answer"], view["stale"]) == ("approved", True)
        assert client.delete(f"/api/quotes/{quote['id']}/approvals/{view['id']}").status_code == 204
        assert client.get(address).status_code == 404
        assert client.post(address, content=b"answer=approved&by=Maren").status_code == 404
        assert client.get(f"{running.url}/approve/guessed").status_code == 404
        (view,) = at(client, quote, "/approvals")
        assert (view["answer"], view["open"]) == ("approved", False)


def test_a_page_that_has_expired_is_gone(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, FORTY)
        address = client.post(f"/api/quotes/{quote['id']}/approvals", json={}).json()["address"]
        assert client.get(address).status_code == 200
        with psycopg.connect(running.settings.database_url) as conn:
            conn.execute(
                "update approval set created_at = now() - interval '9 days', expires_at = now() - interval '1 day' where quote_id = %s",
                [quote["id"]],
            )
        assert client.get(address).status_code == 404


def test_what_was_said_is_a_page_to_print_or_save(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, FORTY)
        shown = client.get(f"/api/quotes/{quote['id']}/as-said.html")
        assert "content-disposition" not in shown.headers
        assert "fourteen" in shown.text
        saved = client.get(f"/api/quotes/{quote['id']}/as-said.html", params={"download": True})
        assert "as%20said.html" in saved.headers["content-disposition"]
        words = quote["cut"]["kept_words"]
        edit(client, quote, kind="strike-words", first=words[-3], last=words[-1])
        told = client.get(f"/api/quotes/{quote['id']}/as-said.html").text
        (note,) = re.findall(r"<li>(.*?)</li>", told)
        assert "fourteen" in note, "what is unfair is noted on the page"


def by(client: httpx.Client, quote: dict[str, Any], who: str, **change: object) -> dict[str, Any]:
    """An edit that somebody makes under their name."""
    body = {"on_revision": quote["revision"], "edit": change, "by": who}
    answer = client.post(f"/api/quotes/{quote['id']}/edits", json=body)
    assert answer.status_code == 200, answer.text
    made: dict[str, Any] = answer.json()
    return made


def test_undo_takes_back_ones_own_last_change_and_leaves_that_of_another(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, "So people ask me, what is the secret?")
        mine = by(client, quote, "Ida", kind="rename", title="Mine")
        theirs = by(
            client,
            mine,
            "Jon",
            kind="strike-words",
            first=mine["cut"]["kept_words"][3],
            last=mine["cut"]["kept_words"][3],
        )
        assert theirs["undo_by"] == "Jon"
        undone = client.post(
            f"/api/quotes/{quote['id']}/undo", json={"on_revision": theirs["revision"], "by": "Ida"}
        ).json()
        assert undone["document"]["title"] == quote["document"]["title"]
        assert undone["document"]["struck"] == theirs["document"]["struck"]
        assert undone["undo_said"] == "Took back: Renamed to “Mine”"
        # A second undo has nothing of Ida's left; Jon's own is undone as ever.
        again = client.post(
            f"/api/quotes/{quote['id']}/undo", json={"on_revision": undone["revision"], "by": "Jon"}
        ).json()
        assert again["document"]["struck"] == []
        assert again["document"]["title"] == quote["document"]["title"]


def test_undo_is_refused_where_another_has_built_on_it(running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, "So people ask me, what is the secret?")
        first = quote["cut"]["kept_words"][2]
        mine = by(client, quote, "Ida", kind="strike-words", first=first, last=first)
        theirs = by(client, mine, "Jon", kind="restore-words", first=first, last=first)
        refused = client.post(f"/api/quotes/{quote['id']}/undo", json={"on_revision": theirs["revision"], "by": "Ida"})
        assert (refused.status_code, refused.json()["code"]) == (409, "built-on")
        assert "Jon changed the same since" in refused.json()["detail"]
        assert client.get(f"/api/quotes/{quote['id']}").json()["revision"] == theirs["revision"]
