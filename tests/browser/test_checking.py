"""Check as a person uses it: all versions at once, from finding to finding, mended, marked as fine, or overruled with a reason."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import RunningApp, wait_for
from tests.helpers import edit, keep

SECRET = "So people ask me, what is the secret? You know, there is no secret. Keep the wick short."


@pytest.fixture
def quote(running: RunningApp, demo: int) -> dict:  # type: ignore[type-arg]
    with running.client as client:
        made = keep(client, demo, SECRET)
        for destination in ("square-60", "wide-140"):
            made = edit(client, made, kind="add-version", destination=destination).json()
        return made


def open_check(page: Page, running: RunningApp, quote: dict) -> None:  # type: ignore[type-arg]
    page.goto(f"{running.url}/quote/{quote['id']}/check")
    expect(page.get_by_role("region", name="Checks")).to_be_visible()
    expect(page.get_by_role("tablist", name="Versions").get_by_role("tab")).to_have_count(len(quote["versions"]))


def test_all_versions_play_together_muted_and_over_again(desk: Page, running: RunningApp, quote: dict):  # type: ignore[type-arg]
    page = desk
    open_check(page, running, quote)
    stage = page.get_by_role("region", name="Stage")
    expect(stage.get_by_role("button", name="Muted")).to_have_attribute("aria-pressed", "true")
    expect(stage.get_by_role("button", name="Loop")).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("a")
    expect(page.get_by_title(re.compile("^Covered by")).first).to_be_visible()
    page.keyboard.press("c")
    expect(page.get_by_label("The recording, at the same moment")).to_be_visible()
    first = page.get_by_role("tab").first.locator("figure")
    narrow = first.bounding_box()
    page.keyboard.press("p")
    wait_for(lambda: (first.bounding_box() or {})["width"] == 257, "a picture as wide as a phone")
    page.keyboard.press("p")
    wait_for(lambda: (first.bounding_box() or {}) == narrow, "the picture as it was")
    page.keyboard.press("v")
    expect(page.get_by_role("tab", name="Square 60")).to_have_attribute("aria-selected", "true")
    page.keyboard.press("s")
    expect(stage.get_by_role("button", name="With sound")).to_have_attribute("aria-pressed", "false")


def test_a_version_cut_by_itself_says_so_and_plays_when_it_is_chosen(desk: Page, running: RunningApp, quote: dict):  # type: ignore[type-arg]
    words = quote["cut"]["kept_words"]
    with running.client as client:
        edit(client, quote, kind="strike-words", first=words[8], last=words[9], destination="square-60")
    page = desk
    open_check(page, running, quote)
    square = page.get_by_role("tab", name="Square 60")
    expect(square).to_contain_text("its own cut")
    square.click()
    expect(square).not_to_contain_text("its own cut")
    expect(page.get_by_role("tab", name="Wide 140")).to_contain_text("its own cut")


def test_findings_are_gone_through_by_keys_mended_and_marked_as_fine(desk: Page, running: RunningApp, quote: dict):  # type: ignore[type-arg]
    with running.client as client:
        span = {
            "start_ms": quote["document"]["span"]["start_ms"],
            "end_ms": quote["document"]["span"]["start_ms"] + 1500,
        }
        edit(client, quote, kind="play-fast", span=span, times=3)
    page = desk
    open_check(page, running, quote)
    checks = page.get_by_role("region", name="Checks")
    finding = checks.locator("article").get_by_role("listitem").filter(has_text="3 times as fast")
    expect(finding).to_be_visible()
    page.keyboard.press("n")
    expect(checks.locator('li[aria-current="true"]')).to_have_count(1)
    for _ in range(12):
        if finding.get_attribute("aria-current") == "true":
            break
        page.keyboard.press("n")
    expect(finding).to_have_attribute("aria-current", "true")

    # Marked as fine: quiet in every version, and told again when that is taken back.
    page.keyboard.press("m")
    expect(finding).to_have_count(0)
    checks.get_by_text(re.compile("marked as fine$")).click()
    checks.get_by_role("button", name="Tell me again").first.click()
    expect(finding).to_have_count(1)
    finding.get_by_role("button", name="Play them as they were said").click()
    expect(finding).to_have_count(0)


def test_a_stop_holds_the_export_until_it_is_overruled_with_a_reason(desk: Page, running: RunningApp, quote: dict):  # type: ignore[type-arg]
    with running.client as client:
        edit(client, quote, kind="change-caption-look", look={"plate": None, "colour": "#2E6A66"})
    page = desk
    page.goto(f"{running.url}/quote/{quote['id']}/trim")
    page.get_by_role("button", name="Export 3 versions").click()
    checks = page.get_by_role("region", name="Checks")
    expect(page.locator(".told")).to_contain_text("say in Check why")
    expect(page).to_have_url(re.compile("/check$"))
    stops = checks.locator('li[data-severity="stop"]')
    expect(stops.first).to_be_visible(timeout=60_000)
    expect(checks.get_by_role("button", name="Export 3 versions")).to_be_disabled()
    while stops.count():
        left = stops.count()
        stops.first.get_by_role("button", name="Overrule…").click()
        page.get_by_label("Why it may be exported as it is").fill("Only for the hall's own screen")
        page.keyboard.press("Enter")
        wait_for(lambda: stops.count() < left, "one stop less")  # noqa: B023
    checks.get_by_role("button", name="Export 3 versions").click()
    expect(page).to_have_url(re.compile("/outbox$"))
    expect(page.get_by_text("Only for the hall's own screen").first).to_be_visible()
