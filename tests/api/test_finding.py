"""Finding and shortlisting over the running application, on the demo talks."""

import csv
import io

import httpx
import pytest

from tests.conftest import RunningApp, wait_until_prepared


def offer(client: httpx.Client, talk: int, **asked: object) -> dict[str, list[dict[str, object]]]:
    answer = client.get(f"/api/recordings/{talk}/soundbites", params=asked)  # type: ignore[arg-type]
    assert answer.status_code == 200, answer.text
    return answer.json()  # type: ignore[no-any-return]


def decide(client: httpx.Client, talk: int, bite: dict[str, object], verdict: str | None) -> dict[str, object]:
    body = {"first": bite["first"], "last": bite["last"], "verdict": verdict}
    answer = client.post(f"/api/recordings/{talk}/soundbites/decide", json=body)
    assert answer.status_code == 200, answer.text
    return answer.json()  # type: ignore[no-any-return]


@pytest.fixture
def kept(running: RunningApp, demo: int):  # type: ignore[no-untyped-def]
    """Three quotes of the demo talk, gone again after the test."""
    with running.client as client:
        ids = [
            client.post(f"/api/recordings/{demo}/quotes", json={"first": first, "last": first + 40}).json()["id"]
            for first in (0, 146, 170)
        ]
        yield ids
        for quote in ids:
            client.post(f"/api/quotes/{quote}/remove")


def test_a_passage_tells_its_talk_its_length_what_it_fits_and_the_quotes_taken_there(
    running: RunningApp, demo: int, kept: list[int]
):
    with running.client as client:
        found = client.get(
            "/api/search", params={"q": "umbrellas by:maren in:chapel after:2026-10 before:2026-11"}
        ).json()
        used = client.get("/api/search", params={"q": "umbrellas used:no"}).json()
    (passage,) = found["passages"]
    assert (passage["title"], passage["series"], passage["held_on"]) == (
        "Keep the wick short",
        "Chapel evenings",
        "2026-10-03",
    )
    assert passage["fits"] == "Fits Tall 15 and longer"
    assert passage["length_ms"] == passage["end_ms"] - passage["start_ms"] + 240
    assert kept[0] in [one["id"] for one in passage["quotes"]]
    assert found["asked"] == {
        "bare": "umbrellas", "by": "maren", "series": "chapel", "after": "2026-10-01", "before": "2026-11-01", "used": None,
        "wide": False, "by_meaning": True,
    }  # fmt: skip
    assert used["passages"] == []


def test_searches_are_kept_saved_and_forgotten(running: RunningApp):
    with running.client as client:
        client.post("/api/searches", json={"typed": "lamp -oil"})
        client.post("/api/searches/save", json={"typed": "storm ~ harbour"})
        choices = client.get("/api/searches").json()
        assert "lamp -oil" in choices["recent"]
        assert choices["saved"] == ["storm ~ harbour"]
        assert "Maren Tolley" in choices["speakers"]
        assert "Chapel evenings" in choices["series"]
        client.post("/api/searches/forget", json={"typed": "storm ~ harbour"})
        assert client.get("/api/searches").json()["saved"] == []
        assert client.post("/api/searches", json={"typed": ""}).status_code == 422


def test_soundbites_are_offered_narrowed_and_grown(running: RunningApp, demo: int):
    with running.client as client:
        told = offer(client, demo, count=6)
        assert len(told["soundbites"]) == 6
        assert len(told["topics"]) >= 3
        assert all(one["length_ms"] <= 60_000 for one in told["soundbites"])  # type: ignore[operator]
        short = offer(client, demo, count=6, destinations="story-15", length="under-20")["soundbites"]
        assert short
        assert all(one["length_ms"] <= 15_000 for one in short)  # type: ignore[operator]
        bite = told["soundbites"][0]
        body = {"first": bite["first"], "last": int(str(bite["last"])) + 1}
        grown = client.post(f"/api/recordings/{demo}/soundbites/judge", json=body).json()
        assert grown["length_ms"] > bite["length_ms"]  # type: ignore[operator]
        assert [one["feature"] for one in grown["reasons"]] == [one["feature"] for one in bite["reasons"]]  # type: ignore[union-attr]
        assert client.get(f"/api/recordings/{demo}/topics").json() == told["topics"]
        for wrong in ({"first": 0, "last": 9999}, {"first": -1, "last": 2}):
            assert client.post(f"/api/recordings/{demo}/soundbites/judge", json=wrong).status_code == 422
        assert client.get(f"/api/recordings/{demo}/soundbites", params={"destinations": "nowhere"}).status_code == 422


def test_weaker_soundbites_are_offered_only_when_asked_for(running: RunningApp, demo: int, ferry: int):
    with running.client as client:
        likely = offer(client, ferry, count=30)
        weaker = offer(client, ferry, count=30, weaker=True)
    least = likely["least"]
    assert all(one["merit"] >= least for one in likely["soundbites"])  # type: ignore[operator]
    assert any(one["merit"] < least for one in weaker["soundbites"])  # type: ignore[operator]
    assert len(weaker["soundbites"]) > len(likely["soundbites"])
    assert likely["unjudged"] is None


def test_a_language_is_told_from_the_words_changed_by_hand_and_what_cant_be_judged_in_it_is_said(
    running: RunningApp, ferry: int
):
    address = f"/api/recordings/{ferry}/language"
    with running.client as client:
        assert client.get(f"/api/recordings/{ferry}").json()["language"] == "en"
        before = offer(client, ferry)
        assert client.put(address, json={"language": "fi"}).json()["language"] == "fi"
        finnish = offer(client, ferry)
        assert client.get("/api/catalogue").json()["languages"]["fi"] == "Finnish"
        for wrong in ("xx", "", "en; drop table recording"):
            refused = client.put(address, json={"language": wrong})
            assert refused.status_code == 422
            assert "this language is not known here" in refused.text
        assert client.put("/api/recordings/999999/language", json={"language": "en"}).status_code == 404
        client.put(address, json={"language": "en"})
        assert offer(client, ferry) == before
    assert str(finnish["unjudged"]).startswith("There are no word lists for Finnish yet.")
    assert finnish["soundbites"]
    said = {one["feature"]: one["value"] for one in finnish["soundbites"][0]["reasons"]}  # type: ignore[union-attr]
    assert said["stands_out"] == pytest.approx(said["says_something"], abs=0.3)


def test_choices_shift_what_counts_pass_over_and_can_be_taken_back(running: RunningApp, demo: int):
    with running.client as client:
        before = offer(client, demo)
        first, second = before["soundbites"][:2]
        decide(client, demo, first, "unlike")
        quote = decide(client, demo, second, "kept")["kept"]
        after = offer(client, demo)
        assert first["span"] not in [one["span"] for one in after["soundbites"]]
        assert [one["bite"]["span"] for one in after["passed"]] == [first["span"]]  # type: ignore[index]
        assert after["taste"]["choices"] == 2  # type: ignore[call-overload]
        assert any(abs(one["times"] - 1) > 0.01 for one in after["taste"]["shifts"])  # type: ignore[call-overload]
        again = next(one for one in after["soundbites"] if one["span"] == second["span"])
        assert quote["id"] in [one["id"] for one in again["overlaps"]]  # type: ignore[attr-defined, index]
        decide(client, demo, first, None)
        client.post("/api/taste/forget")
        client.post(f"/api/quotes/{quote['id']}/remove")  # type: ignore[index]
        assert offer(client, demo) == before


def test_a_correction_is_judged_at_once(running: RunningApp, ferry: int):
    with running.client as client:
        before = offer(client, ferry)["soundbites"][0]
        revision = client.get(f"/api/recordings/{ferry}/transcript").json()["revision"]
        word = before["first_word"]
        change = {"kind": "correct-words", "first": word, "last": word, "text": "Because um"}
        corrected = client.post(
            f"/api/recordings/{ferry}/corrections", json={"on_revision": revision, "correction": change}
        )
        assert corrected.status_code == 200, corrected.text
        body = {"first": before["first"], "last": before["last"]}
        judged = client.post(f"/api/recordings/{ferry}/soundbites/judge", json=body).json()
        client.post(f"/api/recordings/{ferry}/corrections/undo", json={"on_revision": corrected.json()["revision"]})
    assert judged["merit"] < before["merit"]
    assert judged["weak"]["text"] == "opens on “because” with nothing before it"


def test_the_shortlist_of_a_talk_a_series_and_a_search(running: RunningApp, demo: int, kept: list[int]):
    with running.client as client:
        for scope in ({"talk": demo}, {"series": "Chapel evenings"}, {"q": "umbrellas"}, {}):
            listed = client.get("/api/shortlist", params=scope).json()  # type: ignore[arg-type]
            assert kept[0] in [one["id"] for one in listed["slips"]], scope
        slip = next(one for one in listed["slips"] if one["id"] == kept[0])
        assert " ".join(slip["lines"][0]["words"]).startswith("Good evening")
        assert (slip["speakers"], slip["mark"], slip["has_picture"]) == (["Maren Tolley"], "candidate", True)
        assert client.get("/api/shortlist", params={"talk": 999_999}).status_code == 404
        judged = client.get(f"/api/quotes/{kept[0]}/judged").json()
        assert "greetings or thanks" in next(one["text"] for one in judged["reasons"] if one["feature"] == "dense")


def test_slips_are_ordered_marked_tagged_and_noted(running: RunningApp, demo: int, kept: list[int]):
    with running.client as client:
        client.put("/api/shortlist/order", json={"quotes": [kept[2], kept[0], kept[1]]})
        slips = client.get("/api/shortlist", params={"talk": demo}).json()["slips"]
        assert [one["id"] for one in slips if one["id"] in kept] == [kept[2], kept[0], kept[1]]
        said = {"mark": "picked", "tags": ["storm", " storm ", "opening"], "note": "Ask\x00 Maren"}
        slip = client.post(f"/api/quotes/{kept[0]}/slip", json=said).json()
        assert (slip["mark"], slip["tags"], slip["note"]) == ("picked", ["storm", "opening"], "Ask Maren")
        assert client.post(f"/api/quotes/{kept[0]}/slip", json={"mark": "maybe"}).status_code == 422
        assert client.post("/api/quotes/999999/slip", json={"mark": "done"}).status_code == 404


def test_a_choice_made_on_paper_is_looked_at_and_then_kept(running: RunningApp, demo: int, kept: list[int]):
    with running.client as client:
        page = client.get("/api/shortlist.html", params={"talk": demo})
        assert "Good evening, and thank you for coming out in this weather." in page.text
        answer = client.get("/api/shortlist.csv", params={"talk": demo})
        assert "Shortlist%20of%20Keep%20the%20wick%20short.csv" in answer.headers["content-disposition"]
        rows = list(csv.DictReader(io.StringIO(answer.text.lstrip("\ufeff"))))
        for row in rows:
            if row["quote"] == str(kept[1]):
                row |= {"mark": "picked", "note": "Yes, this one", "rank": "0"}
        table = io.StringIO()
        writer = csv.DictWriter(table, rows[0].keys())
        writer.writeheader()
        writer.writerows([*rows, rows[0] | {"quote": "987654"}])
        looked = client.post("/api/shortlist/read-back", content=table.getvalue().encode()).json()
        assert any("candidate becomes picked, its note changes" in one for one in looked["changes"])
        assert looked["changes"][-1] == "The order is that of the ranks."
        assert looked["problems"] == [f"Row {len(rows) + 2}: there is no quote 987654 here."]
        assert next(one for one in slips(client, demo) if one["id"] == kept[1])["mark"] == "candidate"
        client.post("/api/shortlist/read-back", params={"apply": True}, content=table.getvalue().encode())
        after = slips(client, demo)
        assert after[0]["id"] == kept[1]
        assert (after[0]["mark"], after[0]["note"]) == ("picked", "Yes, this one")
        refused = client.post("/api/shortlist/read-back", content=b"nothing,here\n1,2\n")
        assert refused.status_code == 422
        assert "must name the columns" in refused.json()["detail"]


def slips(client: httpx.Client, talk: int) -> list[dict[str, object]]:
    return client.get("/api/shortlist", params={"talk": talk}).json()["slips"]  # type: ignore[no-any-return]


def test_two_quotes_are_compared_and_a_week_is_suggested(running: RunningApp, demo: int, kept: list[int]):
    with running.client as client:
        a, b = client.get("/api/shortlist/compare", params={"a": kept[1], "b": kept[2]}).json()
        words = [[w for line in one["lines"] for w in line["words"]] for one in (a, b)]
        shared = [
            {w.strip(".,").lower() for i, w in enumerate(ws) if i in one["shared"]}
            for ws, one in zip(words, (a, b), strict=True)
        ]
        assert shared[0] & shared[1]
        body = {"quotes": kept, "posts": 2, "destinations": ["tall-60"], "days": 14}
        week = client.post("/api/shortlist/week", json=body).json()
        assert len(week) == 2
        assert {one["destination"] for one in week} == {"tall-60"}
        assert all(one["reason"] for one in week)
        assert client.post("/api/shortlist/week", json=body | {"destinations": []}).status_code == 422


def test_a_still_shows_the_speaker_and_sound_has_none(running: RunningApp, demo: int, ferry: int, kept: list[int]):
    with running.client as client:
        wait_until_prepared(client, demo)
        still = client.get(f"/api/quotes/{kept[1]}/still")
        assert still.headers["content-type"] == "image/jpeg"
        assert still.content[:2] == b"\xff\xd8"
        quote = client.post(f"/api/recordings/{ferry}/quotes", json={"first": 0, "last": 20}).json()["id"]
        assert client.get(f"/api/quotes/{quote}/still").status_code == 404
        client.post(f"/api/quotes/{quote}/remove")


def test_faces_are_named_by_what_is_said_and_by_hand(running: RunningApp, demo: int):
    with running.client as client:
        picture = client.get(f"/api/recordings/{demo}/picture").json()
        assert picture["names"][0] == {"subject": 0, "name": "Maren Tolley", "by_hand": False}
        other = client.post(f"/api/recordings/{demo}/subjects/0/name", json={"name": "The keeper"}).json()["names"]
        assert other[0] == {"subject": 0, "name": "The keeper", "by_hand": True}
        back = client.post(f"/api/recordings/{demo}/subjects/0/name", json={"name": None}).json()["names"]
        assert back == picture["names"]


def test_shots_and_recordings_have_stills(running: RunningApp, demo: int, ferry: int):
    with running.client as client:
        still = client.get(f"/api/recordings/{demo}/still")
        assert (still.status_code, still.headers["content-type"], still.content[:2]) == (200, "image/jpeg", b"\xff\xd8")
        shot = client.get(f"/api/recordings/{demo}/picture").json()["shots"][0]
        assert client.get(f"/api/recordings/{demo}/shots/{shot['span']['start_ms']}/still").content[:2] == b"\xff\xd8"
        assert client.get(f"/api/recordings/{demo}/shots/99999999/still").status_code == 404
        assert client.get(f"/api/recordings/{ferry}/still").status_code == 404
