"""Posts, from the draft of their text to the place they are seen at: never twice, never lost, and told in words where they are not."""

import time
from collections.abc import Iterator
from datetime import UTC, date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import httpx
import icalendar
import psycopg
import pytest

from tests.conftest import Board, RunningApp, wait_for
from tests.helpers import connected, edit, keep

SAID = "Keep the wick short. A long wick looks brighter for an hour, and then it smokes."
Told = dict[str, Any]


@pytest.fixture(scope="module")
def quote(running: RunningApp, demo: int) -> Told:
    """A quote whose clip is made once for all."""
    with running.client as client:
        quote = keep(client, demo, SAID)
        place = quote["document"]["versions"][0]["destination"]
        (made,) = client.post(
            f"/api/quotes/{quote['id']}/exports", json={"destinations": [place], "quality": "small"}
        ).json()

        def done() -> bool:
            return any(one["id"] == made["id"] and one["state"] == "done" for one in client.get("/api/exports").json())

        wait_for(done, "the clip", 120)
        return {**quote, "place": place}


@pytest.fixture
def account(running: RunningApp, board: Board) -> Iterator[Told]:
    with running.client as client:
        yield connected(client)
    board.faults()


def plan(
    client: httpx.Client, quote: Told, account: Told | None, wall: str = "2030-05-01T17:00", **more: object
) -> Told:
    body = {
        "quote_id": quote["id"],
        "destination": quote["place"],
        "account_id": account and account["id"],
        "wall": wall,
        **more,
    }
    answer = client.post("/api/posts", json=body)
    assert answer.status_code == 201, answer.text
    planned: Told = answer.json()["posts"][0]
    return planned


def now(client: httpx.Client, post: Told, **how: bool) -> httpx.Response:
    return client.post(f"/api/posts/{post['id']}/schedule", json={"now": True, "again": True, **how})


def as_it_is(client: httpx.Client, post: Told) -> Told:
    return next(one for one in client.get(f"/api/quotes/{post['quote_id']}/posts").json() if one["id"] == post["id"])


def ended(client: httpx.Client, post: Told, *states: str, seconds: float = 60) -> Told:
    return dict(wait_for(lambda: (one := as_it_is(client, post))["state"] in states and one, f"{states}", seconds))


def key_of(running: RunningApp, post: Told) -> str:
    with psycopg.connect(running.settings.database_url) as conn:
        return str(conn.execute("select key from post where id = %s", [post["id"]]).fetchone()[0])  # type: ignore[index]


def published(running: RunningApp, board: Board, post: Told) -> int:
    """How often a post is seen where it was posted."""
    key = key_of(running, post)
    return sum(count for one, _, count in board.posted() if one == key)


def test_a_draft_is_made_of_the_quotes_own_words_and_what_is_written_takes_its_place(running: RunningApp, quote: Told):
    with running.client as client:
        address = f"/api/quotes/{quote['id']}/posting"
        told = client.get(address).json()
        assert told["drafted"]
        assert told["written"]["title"] in SAID
        assert all(tag in told["tags"] for tag in told["written"]["tags"])
        (version,) = told["versions"]
        assert SAID in version["text"]["description"]
        assert version["faults"] == []

        text = {"title": "Short wicks", "description": "{words} {nonsense}", "tags": ["wick"], "alt": ""}
        tried = client.post(f"{address}/try", json={"text": text, "destination": quote["place"]}).json()
        assert "{nonsense} stands for nothing" in tried["faults"][0]
        assert client.get(address).json()["drafted"], "trying keeps nothing"

        before = client.get(f"/api/quotes/{quote['id']}").json()
        now_ = edit(client, before, kind="write-posting", text={**text, "description": "{words}"}).json()
        own = edit(client, now_, kind="write-posting", destination=quote["place"], text={**text, "title": "Own"}).json()
        told = client.get(address).json()
        assert (told["written"]["title"], told["drafted"], told["versions"][0]["text"]["title"]) == (
            "Short wicks",
            False,
            "Own",
        )
        exported = [one for one in client.get("/api/exports").json() if one["quote_id"] == quote["id"]]
        assert all(one["current"] for one in exported), "words beside a clip do not change it"
        refused = edit(client, own, kind="write-posting", destination="wide-140", text=text)
        assert (refused.status_code, refused.json()["detail"]) == (
            422,
            "This quote has no version for that destination.",
        )
        client.post(f"/api/quotes/{quote['id']}/undo", json={"on_revision": own["revision"]}).raise_for_status()
        back = client.get(f"/api/quotes/{quote['id']}").json()
        edit(client, back, kind="write-posting", text=None).raise_for_status()
        assert client.get(address).json()["drafted"]


def test_a_link_to_the_talk_stands_in_the_text_and_must_be_one(running: RunningApp, quote: Told, demo: int):
    with running.client as client:
        told = client.get(f"/api/recordings/{demo}").json()
        body = {name: told[name] for name in ("title", "series", "held_on", "notes")}
        address = f"/api/recordings/{demo}/description"
        for bad in ("javascript:alert(1)", "example.org", "http://a b"):
            assert client.put(address, json={**body, "link": bad}).status_code == 422
        client.put(address, json={**body, "link": "https://talks.example/wick"}).raise_for_status()
        text = client.get(f"/api/quotes/{quote['id']}/posting").json()["versions"][0]["text"]
        assert "The full talk: https://talks.example/wick" in text["description"]
        assert client.put(address, json=body).json()["link"] == "https://talks.example/wick", "what is not told stays"
        client.put(address, json={**body, "link": ""}).raise_for_status()


def test_a_clip_is_posted_seen_known_everywhere_and_taken_down(
    running: RunningApp, board: Board, quote: Told, account: Told
):
    with running.client as client:
        post = plan(client, quote, account)
        assert (post["state"], post["clip"]) == ("draft", "none")
        assert now(client, post).json()["state"] in ("scheduled", "sending")
        done = ended(client, post, "posted", "failed")
        assert done["state"] == "posted", done["problem"]
        assert SAID in httpx.get(done["address"]).text
        assert len(httpx.get(f"{done['address']}/clip").content) > 10_000
        assert published(running, board, post) == 1

        said = f"{account['name']}, {datetime.now(UTC):%-d %b %Y}"
        talk = client.get(f"/api/recordings/{quote['recording_id']}").json()
        assert next(one for one in talk["quotes"] if one["id"] == quote["id"])["posted"] == said
        slips = client.get("/api/shortlist", params={"talk": quote["recording_id"]}).json()["slips"]
        assert next(one for one in slips if one["id"] == quote["id"])["posted"] == said
        found = client.get("/api/search", params={"q": "wick short"}).json()
        assert said in [one["posted"] for passage in found["passages"] for one in passage["quotes"]]

        twice = plan(client, quote, account)
        answer = now(client, twice, again=False)
        assert (answer.status_code, answer.json()["code"]) == (409, "posted-twice")
        assert "already" in answer.json()["detail"]
        client.post(f"/api/posts/{twice['id']}/cancel").raise_for_status()

        client.post(f"/api/posts/{post['id']}/take-down").raise_for_status()
        ended(client, post, "removed")
        assert httpx.get(done["address"]).status_code == 404
        assert client.post(f"/api/posts/{post['id']}/take-down").status_code == 409


def test_a_post_waits_for_its_time_is_moved_held_and_cancelled(
    running: RunningApp, board: Board, quote: Told, account: Told
):
    with running.client as client:
        post = plan(client, quote, account, zone="Europe/Lisbon")
        assert post["due_at"] == "2030-05-01T16:00:00Z"
        scheduled = client.post(f"/api/posts/{post['id']}/schedule", json={}).json()
        assert (scheduled["state"], scheduled["clip"]) == ("scheduled", "ready")
        moved = client.put(f"/api/posts/{post['id']}/when", json={"wall": "2030-12-01T17:00"}).json()["posts"][0]
        assert (moved["due_at"], moved["zone"], moved["state"]) == (
            "2030-12-01T17:00:00Z",
            "Europe/Lisbon",
            "scheduled",
        )
        gap = client.put(
            f"/api/posts/{post['id']}/when", json={"wall": "2030-03-31T01:30", "zone": "Europe/Lisbon"}
        ).json()
        assert gap["posts"][0]["wall"] == "2030-03-31T02:30:00"
        assert "clocks go forward" in gap["notes"][0]
        past = client.put(f"/api/posts/{post['id']}/when", json={"wall": "2020-03-31T01:30"})
        assert (past.status_code, "has passed" in past.json()["detail"]) == (422, True)
        offset = client.put(f"/api/posts/{post['id']}/when", json={"wall": "2030-03-31T01:30+02:00"})
        assert (offset.status_code, "without an offset" in offset.json()["detail"]) == (422, True)

        second = plan(client, quote, account)
        twice = client.post(f"/api/posts/{second['id']}/schedule", json={"again": True})
        assert (twice.status_code, twice.json()["code"]) == (409, "posted-twice")
        assert client.post(f"/api/posts/{post['id']}/hold").json()["state"] == "draft"
        other = client.put(f"/api/posts/{post['id']}", json={"account_id": None, "visibility": "private"}).json()
        assert (other["account_id"], other["visibility"]) == (None, "private")
        without = client.post(f"/api/posts/{post['id']}/schedule", json={})
        assert (without.status_code, "Choose the account" in without.json()["detail"]) == (422, True)
        for one in (post, second):
            assert client.post(f"/api/posts/{one['id']}/cancel").json()["state"] == "cancelled"
        assert not [key for key, _, _ in board.posted() if key == key_of(running, post)]


def test_a_quote_that_changes_is_told_and_sent_as_it_was_until_that_is_renewed(
    running: RunningApp, quote: Told, account: Told, demo: int
):
    with running.client as client:
        own = keep(client, demo, "It blackens the glass,")
        own["place"] = own["document"]["versions"][0]["destination"]
        client.put("/api/outbox/paused", json={"paused": True}).raise_for_status()
        try:
            post = plan(client, own, account)
            scheduled = client.post(f"/api/posts/{post['id']}/schedule", json={}).json()
            assert scheduled["clip"] == "making"
            again = client.post(f"/api/posts/{post['id']}/schedule", json={}).json()
            assert again["export_id"] == scheduled["export_id"], "a clip that is being made is that clip"
            newer = edit(client, own, kind="rename", title="The glass").json()
            client.post(f"/api/quotes/{own['id']}/exports", json={"destinations": [own["place"]]}).raise_for_status()
            waiting = {one["id"]: one["state"] for one in client.get("/api/exports").json()}
            assert waiting[scheduled["export_id"]] == "queued", (
                "a clip that a post waits for does not give way to a newer one"
            )
            edit(client, newer, kind="rename", title=own["document"]["title"]).raise_for_status()
            client.post(f"/api/exports/{scheduled['export_id']}/remove").raise_for_status()
            assert as_it_is(client, post)["clip"] == "none"
            assert now(client, post).json()["clip"] == "making"
            made = as_it_is(client, post)["export_id"]
            client.post(f"/api/exports/{made}/remove").raise_for_status()
            failed = ended(client, post, "failed")
            assert "removed from the Outbox" in failed["problem"]
        finally:
            client.put("/api/outbox/paused", json={"paused": False}).raise_for_status()
            client.post(f"/api/posts/{post['id']}/cancel")


def test_a_text_that_is_too_long_is_not_scheduled(running: RunningApp, quote: Told, account: Told):
    with running.client as client:
        before = client.get(f"/api/quotes/{quote['id']}").json()
        now_ = edit(
            client, before, kind="write-posting", text={"title": "x" * 101, "description": "", "tags": [], "alt": ""}
        ).json()
        post = plan(client, quote, account)
        refused = client.post(f"/api/posts/{post['id']}/schedule", json={})
        assert (refused.status_code, refused.json()["code"]) == (422, "post-not-ready")
        assert "41 over the 60" in refused.json()["detail"]
        edit(client, now_, kind="write-posting", text=None).raise_for_status()
        client.post(f"/api/posts/{post['id']}/cancel").raise_for_status()


def test_lost_answers_failures_and_limits_are_lived_through_and_nothing_is_posted_twice(
    running: RunningApp, board: Board, quote: Told, account: Told
):
    with running.client as client:
        board.faults(lose=0.4, fail=0.2, limited=1, retry_after_s=1)
        post = plan(client, quote, account)
        now(client, post).raise_for_status()
        waited = wait_for(lambda: (one := as_it_is(client, post))["problem"] and one, "a problem that is told")
        assert "tried again" in waited["problem"]
        time.sleep(3)
        board.faults()
        done = ended(client, post, "posted", "failed", seconds=120)
        assert done["state"] == "posted", done["problem"]
        assert published(running, board, post) == 1
        client.post(f"/api/posts/{post['id']}/take-down").raise_for_status()
        ended(client, post, "removed")


def test_a_post_comes_through_kills_of_the_worker_and_the_service(
    running: RunningApp, board: Board, quote: Told, account: Told
):
    with running.client as client:
        board.faults(slow_s=0.3)
        post = plan(client, quote, account)
        now(client, post).raise_for_status()
        for kill in ("worker", "service", "worker"):
            time.sleep(0.9)
            if kill == "worker":
                running.kill(running.workers)
                running.start_worker()
            else:
                board.kill()
                board.start()
        board.faults()
        done = ended(client, post, "posted", "failed", seconds=120)
        assert done["state"] == "posted", done["problem"]
        assert published(running, board, post) == 1
        client.post(f"/api/posts/{post['id']}/take-down").raise_for_status()
        ended(client, post, "removed")


def test_a_post_that_is_cancelled_while_it_is_sent_is_seen_nowhere(
    running: RunningApp, board: Board, quote: Told, account: Told
):
    with running.client as client:
        board.faults(slow_s=1)
        post = plan(client, quote, account)
        now(client, post).raise_for_status()
        ended(client, post, "sending")
        assert client.post(f"/api/posts/{post['id']}/cancel").json()["cancelling"]
        assert client.put(f"/api/posts/{post['id']}/when", json={"wall": "2031-01-01T10:00"}).status_code == 409
        board.faults()
        ended(client, post, "cancelled")
        assert published(running, board, post) == 0
        assert key_of(running, post) not in [key for key, _, _ in board.posted()]


def test_an_account_that_was_signed_out_is_told_and_connected_again_what_waited_goes(
    running: RunningApp, board: Board, quote: Told, account: Told
):
    with running.client as client:
        post = plan(client, quote, account)
        client.post(f"/api/posts/{post['id']}/schedule", json={"again": True}).raise_for_status()
        board.faults(signed_out=True)
        with psycopg.connect(running.settings.database_url, autocommit=True) as conn:
            conn.execute("update post set due_at = now() where id = %s", [post["id"]])
        waited = wait_for(lambda: (one := as_it_is(client, post))["problem"] and one, "what is wrong")
        assert "Connect it again" in waited["problem"]
        (listed,) = [one for one in client.get("/api/house/posting").json()["accounts"] if one["id"] == account["id"]]
        assert not listed["signed_in"]
        refused = now(client, plan(client, quote, account))
        assert "signed out" in refused.json()["detail"]
        assert connected(client)["id"] == account["id"]
        with psycopg.connect(running.settings.database_url, autocommit=True) as conn:
            conn.execute("update post set not_before = now() where id = %s", [post["id"]])
            kept = conn.execute("select tokens from posting_account").fetchall()
        assert all(b"access_token" not in bytes(one[0]) for one in kept), "tokens are not kept as they are"
        assert ended(client, post, "posted", "failed")["state"] == "posted"
        client.post(f"/api/posts/{post['id']}/take-down").raise_for_status()
        ended(client, post, "removed")


def test_a_post_whose_time_passed_long_ago_is_not_sent_by_itself(
    running: RunningApp, board: Board, quote: Told, account: Told
):
    with running.client as client:
        post = plan(client, quote, account)
        client.post(f"/api/posts/{post['id']}/schedule", json={"again": True}).raise_for_status()
        with psycopg.connect(running.settings.database_url, autocommit=True) as conn:
            conn.execute("update post set due_at = now() - interval '13 hours' where id = %s", [post["id"]])
        failed = ended(client, post, "failed")
        assert "Post it now, or move it" in failed["problem"]
        assert published(running, board, post) == 0
        client.post(f"/api/posts/{post['id']}/cancel").raise_for_status()


def test_a_sign_in_that_was_not_begun_here_or_was_refused_connects_nothing(running: RunningApp, board: Board):
    with running.client as client:
        assert (
            client.post("/api/posting/sign-in", json={"service": "http://elsewhere.test"}).json()["code"]
            == "no-such-service"
        )
        for query in ({"state": "made-up", "code": "x"}, {}, {"code": "x"}):
            back = client.get("/api/posting/signed-in", params=query)
            assert (back.status_code, "not-connected=" in back.headers["location"]) == (303, True)
        told = client.post("/api/posting/sign-in", json={"service": board.url}).json()["address"]
        state = httpx.URL(told).params["state"]
        refused = client.get("/api/posting/signed-in", params={"state": state, "error": "access_denied"})
        assert "told%20not%20to%20let%20us" in refused.headers["location"]
        again = client.get("/api/posting/signed-in", params={"state": state, "code": "x"})
        assert "not%20begun%20here" in again.headers["location"], "a state is good once"


def test_weeks_are_told_with_their_posts_and_a_balanced_week_goes_into_them(
    running: RunningApp, quote: Told, account: Told
):
    with running.client as client:
        settings = client.get("/api/house/posting").json()
        told = {name: settings[name] for name in ("pattern", "time_zone", "usual_time", "phones")}
        assert (
            client.put("/api/house/posting", json={**told, "time_zone": "Mars/Olympus"}).json()["code"]
            == "no-such-zone"
        )
        client.put(
            "/api/house/posting", json={**told, "time_zone": "Europe/Berlin", "usual_time": "07:45"}
        ).raise_for_status()
        try:
            day = (datetime.now(UTC) + timedelta(days=60)).date()
            monday = day - timedelta(days=day.weekday())
            week = {
                "week_of": day.isoformat(),
                "account_id": account["id"],
                "posts": [[quote["id"], quote["place"]]] * 3,
            }
            planned = client.post("/api/posts/week", json=week).json()["posts"]
            assert [one["wall"][11:16] for one in planned] == ["07:45"] * 3
            assert len({one["wall"][:10] for one in planned}) == 3
            shown = client.get("/api/calendar", params={"first": day.isoformat(), "weeks": 1}).json()
            assert (shown["zone"], shown["weeks"][0]["monday"]) == ("Europe/Berlin", monday.isoformat())
            on = {one["id"]: days["date"] for days in shown["weeks"][0]["days"] for one in days["posts"]}
            assert on == {one["id"]: one["wall"][:10] for one in planned}
            clocks = client.get("/api/calendar", params={"first": "2027-03-22", "weeks": 1}).json()["weeks"][0]["days"]
            assert [one["date"] for one in clocks if one["note"] == "Clocks go forward"] == ["2027-03-28"]

            file = icalendar.Calendar.from_ical(client.get("/api/calendar.ics").content)
            events = {str(one["uid"]): one for one in file.walk("VEVENT")}
            for one in planned:
                event = events[f"post-{one['id']}@nimble-quote"]
                assert event["dtstart"].dt == datetime.fromisoformat(one["due_at"].replace("Z", "+00:00"))
                assert str(event["dtstart"].params["TZID"]) == "Europe/Berlin"
                assert str(event["status"]) == "TENTATIVE"
                client.post(f"/api/posts/{one['id']}/cancel").raise_for_status()
            assert "Europe/Berlin" in [str(one["tzid"]) for one in file.walk("VTIMEZONE")]

            today = datetime.now(ZoneInfo("Europe/Berlin")).date()
            said = date.fromisoformat(client.get("/api/house/posting").json()["next_week"])
            assert (said.weekday(), 0 < (said - today).days <= 7) == (0, True)
            body = {"quote_id": quote["id"], "destination": quote["place"]}
            soon = [client.post("/api/posts", json=body).json()["posts"][0] for _ in range(2)]
            days = [date.fromisoformat(one["wall"][:10]) for one in soon]
            assert today < days[0] < days[1], "each on a day that has none"
            assert {one["wall"][11:16] for one in soon} == {"07:45"}
            assert {one["account_id"] for one in soon} == {account["id"]}, "where none is told, the first signed in"
            for one in soon:
                client.post(f"/api/posts/{one['id']}/cancel").raise_for_status()
        finally:
            client.put("/api/house/posting", json=told).raise_for_status()


def test_a_week_gives_its_quotes_the_versions_they_lack_or_plans_nothing_at_all(
    running: RunningApp, quote: Told, account: Told
):
    def versions() -> list[str]:
        return [one["destination"] for one in client.get(f"/api/quotes/{quote['id']}").json()["versions"]]

    with running.client as client:
        before = versions()
        assert "wide-140" not in before
        week = {"week_of": "2031-05-05", "by": "Ann", "posts": [[quote["id"], "wide-140"], [quote["id"], "nowhere"]]}
        assert client.post("/api/posts/week", json=week).status_code == 422
        assert versions() == before, "the second can't be planned: the first was not, either"
        planned = client.post("/api/posts/week", json={**week, "posts": [[quote["id"], "wide-140"]] * 2}).json()[
            "posts"
        ]
        assert {(one["destination"], one["account_id"]) for one in planned} == {("wide-140", account["id"])}
        assert versions() == [*before, "wide-140"]
        told = client.get(f"/api/quotes/{quote['id']}").json()
        assert (told["undo_said"], told["undo_by"]) == ("Added Wide 140", "Ann")
        for one in planned:
            client.post(f"/api/posts/{one['id']}/cancel").raise_for_status()
        client.post(
            f"/api/quotes/{quote['id']}/undo", json={"on_revision": told["revision"], "by": "Ann"}
        ).raise_for_status()
        assert versions() == before


def test_posts_of_what_is_not_there_are_refused(running: RunningApp, quote: Told):
    with running.client as client:
        body = {"quote_id": quote["id"], "destination": quote["place"], "wall": "2030-05-01T17:00"}
        for change, status in (({"quote_id": 10**9}, 404), ({"account_id": 10**9}, 404), ({"destination": "wide-140"}, 422),
                               ({"wall": "1999-05-01T17:00"}, 422), ({"zone": "No/Where"}, 422), ({"visibility": "all"}, 422)):  # fmt: skip
            assert client.post("/api/posts", json={**body, **change}).status_code == status, change
        for address in ("schedule", "hold", "cancel", "take-down"):
            assert client.post(f"/api/posts/{10**9}/{address}", json={}).status_code == 404
