"""The Outbox as a person uses it: options before, the line, one card a quote, everything of it in one archive, clearing out."""

import re
import zipfile
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import RunningApp, wait_for
from tests.helpers import edit, keep

SAID = "Keep the wick short."


@pytest.fixture
def quote(running: RunningApp, demo: int) -> dict:  # type: ignore[type-arg]
    with running.client as client:
        made = keep(client, demo, SAID)
        return edit(client, made, kind="add-version", destination="square-60").json()


def test_a_quote_is_exported_with_options_and_downloaded_as_one(
    desk: Page,
    running: RunningApp,
    quote: dict,
    tmp_path: Path,  # type: ignore[type-arg]
):
    page = desk
    page.goto(f"{running.url}/quote/{quote['id']}/trim")
    expect(page.get_by_role("button", name="Export 2 versions")).to_be_visible()
    page.keyboard.press("Shift+E")
    dialog = page.get_by_role("dialog", name="Export")
    expect(dialog).to_contain_text(re.compile(r"about \d+(\.\d)? [kM]B"), timeout=60_000)
    dialog.get_by_role("button", name="Small").click()
    dialog.get_by_role("textbox", name=re.compile("Exact size of Square 60")).fill("nonsense")
    expect(dialog.get_by_role("button", name=re.compile("^Export"))).to_be_disabled()
    dialog.get_by_role("textbox", name=re.compile("Exact size of Square 60")).fill("0.6")
    dialog.get_by_role("checkbox", name=re.compile("MP3")).check()
    dialog.get_by_role("button", name="Export 3 files").click()
    expect(page).to_have_url(re.compile("/outbox$"))

    card = page.locator("li", has=page.get_by_role("link", name=quote["document"]["title"], exact=True)).first
    expect(card).to_contain_text("All checks passed", timeout=240_000)
    square = card.get_by_role("listitem", name="Square 60")
    expect(square).to_contain_text("0.6 MB")
    expect(square.locator("img")).to_be_visible()
    square.get_by_text("Facts and files").click()
    expect(square).to_contain_text("wanted: 0.6 MB")
    expect(card.get_by_role("listitem", name="Sound")).to_contain_text("MP3")
    with page.expect_download() as download:
        card.get_by_role("link", name="Download all 3").click()
    download.value.save_as(tmp_path / "all.zip")
    with zipfile.ZipFile(tmp_path / "all.zip") as archive:
        names = archive.namelist()
    assert {name.rsplit(".", 1)[1] for name in names} >= {"mp4", "mp3", "srt", "vtt"}

    # Changed since, and what: then removed, file by file.
    with running.client as client:
        edit(client, client.get(f"/api/quotes/{quote['id']}").json(), kind="rename", title="The wick")
    page.reload()
    card = page.locator("li", has=page.get_by_role("link", name="Download all 3")).first
    card.get_by_role("button", name="What changed?").click()
    expect(card).to_contain_text("Renamed to “The wick”")
    page.get_by_role("button", name="Changed since").click()
    expect(card).to_be_visible()
    page.get_by_role("button", name="With a fault").click()
    expect(page.get_by_text("Nothing here is like that.")).to_be_visible()
    page.get_by_role("button", name="All", exact=True).click()
    square = card.get_by_role("listitem", name="Square 60")
    square.get_by_text("Facts and files").click()
    square.get_by_role("button", name="Remove").click()
    expect(page.get_by_role("link", name="Download all 2").first).to_be_visible()


def test_the_line_is_paused_and_one_is_made_next(desk: Page, running: RunningApp, quote: dict):  # type: ignore[type-arg]
    page = desk
    with running.client as client:
        client.put("/api/outbox/paused", json={"paused": True}).raise_for_status()
        asked = client.post(f"/api/quotes/{quote['id']}/exports", json={"quality": "crisp"}).json()
    try:
        page.goto(f"{running.url}/outbox")
        expect(page.get_by_text("exporting, paused")).to_be_visible()
        card = page.locator("li", has=page.get_by_role("link", name=quote["document"]["title"], exact=True)).first
        square = card.get_by_role("listitem", name="Square 60")
        expect(square).to_contain_text("1 before it")
        square.get_by_role("button", name="Make next").click()
        expect(square).to_contain_text("Next")
        for one in (square, card.get_by_role("listitem").filter(has_not_text="Square 60").first):
            one.get_by_role("button", name="Cancel").click()
            expect(one).to_contain_text("Cancelled")
        page.get_by_role("button", name="Resume exports").click()
        expect(page.get_by_role("button", name="Pause exports")).to_be_visible()
    finally:
        with running.client as client:
            client.put("/api/outbox/paused", json={"paused": False}).raise_for_status()
            for one in asked:
                client.post(f"/api/exports/{one['id']}/remove")


def test_picked_quotes_are_exported_from_the_shortlist_and_held_ones_are_told(
    desk: Page, running: RunningApp, demo: int
):
    with running.client as client:
        good, bad = keep(client, demo, SAID), keep(client, demo, SAID)
        edit(client, bad, kind="change-caption-look", look={"plate": None, "colour": "#2E6A66"})
        client.put("/api/outbox/paused", json={"paused": True}).raise_for_status()
        for one in (good, bad):
            client.post(f"/api/quotes/{one['id']}/slip", json={"mark": "picked"}).raise_for_status()
    page = desk
    try:
        page.goto(f"{running.url}/shortlist?talk={demo}")
        for one in (good, bad):
            wait_for(lambda one=one: picked(running, one["id"]), "a picked quote")
        page.reload()
        page.get_by_role("button", name="Check all").click()
        checks = page.get_by_role("dialog", name="Check all")
        expect(checks.get_by_role("status")).to_contain_text("would spoil a post.", timeout=120_000)
        expect(checks.get_by_label("Would spoil the post").first).to_be_visible()
        page.keyboard.press("Escape")
        page.get_by_role("button", name=re.compile(r"^Export \d+ picked")).click()
        dialog = page.get_by_role("dialog", name="Held by Check")
        expect(dialog).to_contain_text("say in Check why", timeout=60_000)
        dialog.get_by_role("button", name="Open the Outbox").click()
        expect(page).to_have_url(re.compile("/outbox$"))
    finally:
        with running.client as client:
            for one in client.get("/api/exports").json():
                if one["state"] == "queued":
                    client.post(f"/api/exports/{one['id']}/remove")
            client.put("/api/outbox/paused", json={"paused": False}).raise_for_status()


def picked(running: RunningApp, quote_id: int) -> bool:
    with running.client as client:
        slips = client.get("/api/shortlist").json()["slips"]
    return any(one["id"] == quote_id and one["mark"] == "picked" for one in slips)
