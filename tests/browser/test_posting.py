"""Posting as a person does it: an account, the text, the calendar by hand and by keys, a phone, a package from elsewhere."""

import json
import re
from collections.abc import Iterator
from datetime import date, timedelta
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.conftest import Board, RunningApp, bring_in, wait_for, wait_until_prepared
from tests.helpers import connected, edit, keep

SAID = "Keep the wick short. A long wick looks brighter for an hour, and then it smokes."


@pytest.fixture
def quote(running: RunningApp, demo: int) -> Iterator[dict[str, Any]]:
    with running.client as client:
        made = keep(client, demo, SAID)
        yield edit(client, made, kind="add-version", destination="square-60").json()
        for post in client.get(f"/api/quotes/{made['id']}/posts").json():
            client.post(f"/api/posts/{post['id']}/cancel")
            client.post(f"/api/posts/{post['id']}/take-down")
        client.post(f"/api/quotes/{made['id']}/remove")


@pytest.fixture
def account(running: RunningApp) -> dict[str, Any]:
    with running.client as client:
        return connected(client)


def open_post(page: Page, running: RunningApp, quote: dict[str, Any]) -> None:
    page.goto(f"{running.url}/quote/{quote['id']}/post")
    expect(page.get_by_label("Title", exact=False).first).to_be_visible()


def test_an_account_is_connected_at_the_service_and_disconnected(desk: Page, running: RunningApp, board: Board):
    page = desk
    page.goto(f"{running.url}/house#posting")
    section = page.get_by_role("region", name="Posting")
    section.get_by_role("button", name=re.compile("Connect an account")).click()
    page.get_by_role("button", name="Refuse").click()
    expect(page.get_by_text("The account was not connected")).to_be_visible()
    section.get_by_role("button", name=re.compile("Connect an account")).click()
    page.get_by_label("Account").fill("Lamp Room")
    page.get_by_role("button", name="Allow").click()
    expect(page).to_have_url(re.compile(re.escape(running.url) + "/house"))
    expect(page.get_by_text("Lamp Room is connected.")).to_be_visible()
    row = section.locator("li", has_text="Lamp Room")
    row.get_by_role("button", name="Disconnect").click()
    expect(row).to_have_count(0)
    zone = section.get_by_label("Time zone")
    zone.fill("Mars/Olympus")
    zone.press("Tab")
    expect(page.get_by_text("is no time zone")).to_be_visible()
    expect(section.get_by_label("Time zone")).to_have_value("Etc/UTC")


def test_a_text_is_written_planned_scheduled_moved_and_posted(
    desk: Page, running: RunningApp, board: Board, quote: dict[str, Any], account: dict[str, Any]
):
    page = desk
    open_post(page, running, quote)
    sent = page.get_by_role("region", name="As it is sent")
    expect(sent).to_contain_text("Keep the wick short")
    expect(sent).to_contain_text("Fits what")
    title = page.get_by_label(re.compile("^Title"))
    title.fill("x" * 70)
    expect(sent).to_contain_text("10 over the 60 that Tall 15 takes")
    title.fill("Wicks <b>&amp;</b> lamps")
    expect(sent).to_contain_text("Wicks <b>&amp;</b> lamps")
    page.get_by_role("button", name="{destination}").click()
    expect(page.get_by_label(re.compile("^Description"))).to_have_value(re.compile(r"\{destination\}"))
    page.get_by_role("group", name="Suggested tags").get_by_role("button").first.click()
    expect(page.get_by_label(re.compile("^Tags"))).to_have_value(re.compile(r"(.+, ){3}"))
    expect(page.get_by_role("button", name="Back to the draft")).to_be_visible()
    page.get_by_role("tab", name="Square 60").click()
    expect(page.get_by_text("As all versions have it")).to_be_visible()
    page.get_by_label(re.compile("^Title")).fill("Square words")
    expect(page.get_by_role("button", name="Use the text of all versions")).to_be_visible()
    page.reload()
    expect(page.get_by_label(re.compile("^Title"))).to_have_value("Wicks <b>&amp;</b> lamps")
    page.get_by_label("Version").select_option(label="Square 60")
    expect(sent).to_contain_text("Square words")

    # Planned with a key, scheduled, and found in the calendar.
    page.get_by_role("heading", level=1).click()
    page.keyboard.press("n")
    posts = page.get_by_role("region", name="Posts")
    post = posts.get_by_role("article")
    expect(post).to_have_attribute("aria-label", re.compile("Draft$"))
    when = (date.today() + timedelta(days=9)).isoformat()
    post.get_by_label("When").fill(f"{when}T18:30")
    post.get_by_label("When").press("Tab")
    post.get_by_role("button", name="Schedule").click()
    expect(post).to_have_attribute("aria-label", re.compile("Scheduled$"))
    page.get_by_role("link", name="Calendar").first.click()
    day = page.locator(f'[data-day="{when}"]')
    slip = day.get_by_role("button", name=re.compile("Square words"))
    expect(slip).to_contain_text("18:30 Scheduled")

    # Moved by keys, and by hand.
    slip.click()
    page.keyboard.press("]")
    later = (date.fromisoformat(when) + timedelta(days=1)).isoformat()
    moved = page.locator(f'[data-day="{later}"]').get_by_role("button", name=re.compile("Square words"))
    expect(moved).to_be_visible()
    page.keyboard.press("}")
    week_later = (date.fromisoformat(later) + timedelta(days=7)).isoformat()
    expect(
        page.locator(f'[data-day="{week_later}"]').get_by_role("button", name=re.compile("Square words"))
    ).to_be_visible()
    page.locator(f'[data-day="{week_later}"]').get_by_role("button", name=re.compile("Square words")).drag_to(
        page.locator(f'[data-day="{later}"]')
    )
    expect(moved).to_be_visible()
    assert page.locator(f'[data-day="{later}"]').get_by_role("button").count() >= 1

    # Sent, seen, known, and taken down.
    aside = page.get_by_label("The open post")
    aside.get_by_role("button", name="Post now").click()
    expect(aside).to_contain_text("Posted", timeout=120_000)
    link = aside.get_by_role("link", name="Open the post")
    expect(link).to_be_visible(timeout=120_000)
    with page.expect_popup() as shown:
        link.click()
    expect(shown.value.get_by_role("heading", name="Square words")).to_be_visible()
    shown.value.close()
    page.goto(f"{running.url}/talk/{quote['recording_id']}")
    page.get_by_role("tab", name=re.compile("Quotes")).click()
    expect(page.get_by_text("posted to Kestrel House").first).to_be_visible()
    open_post(page, running, quote)
    posts.get_by_role("button", name="Take down").click()
    expect(posts.get_by_role("article")).to_have_count(0)


def test_a_week_from_the_shortlist_goes_into_the_calendar(
    desk: Page, running: RunningApp, quote: dict[str, Any], account: dict[str, Any]
):
    page = desk
    page.goto(f"{running.url}/shortlist?talk={quote['recording_id']}")
    page.get_by_role("button", name="Suggest a week").click()
    week = page.get_by_role("dialog", name="Suggest a week")
    week.get_by_label("Posts").fill("1")
    week.get_by_role("button", name="Suggest", exact=True).click()
    week.get_by_role("button", name="Plan these in the calendar").click()
    expect(page).to_have_url(re.compile("/calendar$"))
    expect(page.locator("button[data-state=draft]").first).to_be_visible()
    with page.expect_download() as file:
        page.get_by_role("link", name="iCalendar file").click()
    assert "BEGIN:VEVENT" in Path(file.value.path()).read_text()
    with running.client as client:
        for post in client.get("/api/posts").json():
            if post["state"] == "draft":
                client.post(f"/api/posts/{post['id']}/cancel").raise_for_status()


def test_a_phone_is_shown_the_clips_and_copies_their_text(
    desk: Page, running: RunningApp, browser: Browser, quote: dict[str, Any]
):
    page = desk
    with running.client as client:
        (made, *_) = client.post(f"/api/quotes/{quote['id']}/exports", json={"quality": "small"}).json()
        wait_for(
            lambda: all(one["state"] == "done" for one in client.get("/api/exports").json() if one["id"] == made["id"]),
            "a clip",
            120,
        )
    open_post(page, running, quote)
    expect(page.get_by_role("region", name="To a phone")).to_contain_text("Phones are not let in")
    page.goto(f"{running.url}/house#posting")
    page.get_by_role("checkbox", name="Let phones in this network fetch clips").check()
    expect(page.get_by_text(f"Open at 127.0.0.1:{running.settings.phone_port}")).to_be_visible()
    try:
        open_post(page, running, quote)
        page.get_by_role("button", name="Show a code").click()
        panel = page.get_by_role("region", name="To a phone")
        expect(panel.get_by_role("img", name="QR code")).to_be_visible()
        address = panel.locator(".address").inner_text()
        phone = browser.new_context(viewport={"width": 390, "height": 780}, has_touch=True, is_mobile=True).new_page()
        refused: list[str] = []
        phone.on("console", lambda said: refused.append(said.text) if said.type == "error" else None)
        phone.goto(address)
        expect(phone.get_by_role("heading", name=quote["document"]["title"])).to_be_visible()
        assert phone.evaluate("document.documentElement.scrollWidth") <= 390
        phone.get_by_role("button", name="Copy the text").first.click()
        expect(phone.get_by_role("button", name="Copied").first).to_be_visible()
        with phone.expect_download() as saved:
            phone.get_by_role("link", name="Save the clip").first.click()
        assert saved.value.suggested_filename.endswith(".mp4")
        assert Path(saved.value.path()).stat().st_size > 10_000
        # No icon is asked for in vain, nothing is blocked: the page needs nothing but itself.
        assert [one for one in refused if "favicon" not in one and "404" not in one] == []
        panel.get_by_role("button", name="Take the link back").click()
        expect(page.get_by_text("The link opens nothing any more.")).to_be_visible()
        phone.reload()
        expect(phone.get_by_text("Ask for a new one")).to_be_visible()
        phone.context.close()
    finally:
        with running.client as client:
            told = client.get("/api/house/posting").json()
            body = {name: told[name] for name in ("pattern", "time_zone", "usual_time")}
            client.put("/api/house/posting", json={**body, "phones": False}).raise_for_status()


def test_programs_get_tokens_and_are_told(desk: Page, running: RunningApp):
    page = desk
    page.goto(f"{running.url}/house")
    section = page.get_by_role("region", name="Other programs")
    section.get_by_label("Name of the token").fill("Newsletter")
    section.get_by_role("checkbox", name="Export").check()
    section.get_by_role("button", name="Make a token").click()
    expect(section.get_by_role("status")).to_contain_text("nq_")
    section.get_by_role("button", name="I have it").click()
    row = section.locator("li", has_text="Newsletter")
    expect(row).to_contain_text("read, export · never used")
    row.get_by_role("button", name="Revoke").click()
    expect(row).to_have_count(0)
    section.get_by_label("Address to tell").fill("http://127.0.0.1:9/clips")
    section.get_by_role("button", name="Add a webhook").click()
    expect(section.get_by_role("status")).to_contain_text("whsec_")
    section.locator("li", has_text="127.0.0.1:9").get_by_role("button", name="Remove").click()
    expect(section.locator("li", has_text="127.0.0.1:9")).to_have_count(0)


def test_a_package_is_looked_at_and_imported(desk: Page, running: RunningApp, clip: Path, tmp_path: Path):
    page = desk
    media = tmp_path / "packed.mp4"
    media.write_bytes(clip.read_bytes() + b"\0" * 11)
    with running.client as client:
        talk = bring_in(client, media).json()["id"]
        wait_until_prepared(client, talk)
        made = keep(client, talk, "Sentence number 3 is here.")
        package = tmp_path / "one.quotes.zip"
        package.write_bytes(client.get("/api/packages.zip", params={"ids": [made["id"]]}).content)
    broken = tmp_path / "broken.zip"
    broken.write_bytes(package.read_bytes()[:-40])
    page.goto(f"{running.url}/shortlist?talk={talk}")
    choose = page.get_by_label("Import a package")
    choose.set_input_files(broken)
    expect(page.get_by_text("can't be opened as a zip archive")).to_be_visible()
    choose.set_input_files(package)
    dialog = page.get_by_role("dialog", name="Import a package")
    expect(dialog).to_contain_text("A quote just like this is here already")
    dialog.get_by_role("button", name="Import 1 quote").click()
    expect(page.get_by_text("1 quote imported.")).to_be_visible()
    with running.client as client:
        slips = client.get("/api/shortlist", params={"talk": talk}).json()["slips"]
    assert len(slips) == 2
    assert json.dumps(slips[0]["span"]) == json.dumps(slips[1]["span"])
