"""Searching all talks, soundbites in a talk, and the shortlist, driven as a person does."""

import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import RunningApp, free_port, start, wait_for

ASKED = "refusing to seek assistance from others"


@pytest.fixture
def no_quotes(running: RunningApp, demo: int) -> None:
    with running.client as client:
        for quote in client.get("/api/shortlist").json()["slips"]:
            client.post(f"/api/quotes/{quote['id']}/remove")
        client.post("/api/taste/forget")


def keep_three(running: RunningApp, demo: int) -> list[int]:
    with running.client as client:
        return [
            client.post(f"/api/recordings/{demo}/quotes", json={"first": first, "last": first + 30}).json()["id"]
            for first in (0, 146, 400)
        ]


@pytest.fixture
def reading(running: RunningApp, demo: int) -> Iterator[RunningApp]:
    """The application on the same talks with search by meaning, when they were read for it."""
    reading = start(running.settings.model_copy(update={"port": free_port(), "search_by_meaning": True}))
    try:
        with reading.client as client:
            asked = {"q": ASKED}
            wait_for(
                lambda: "being read" not in str(client.get("/api/search", params=asked).json()["notes"]), "reading", 120
            )
        yield reading
    finally:
        reading.kill(reading.workers)
        reading.kill(reading.servers)


def test_a_passage_is_found_by_what_it_means_and_that_can_be_taken_off(page: Page, reading: RunningApp):
    page.goto(f"{reading.url}/search?q={ASKED}")
    first = page.get_by_role("article").first
    expect(first).to_contain_text("The one who never asks is the one who burns through the oil.")
    close = page.get_by_text("close in meaning", exact=True)
    expect(close.first).to_be_visible()
    page.get_by_label("Close in meaning").focus()
    page.keyboard.press("Space")
    expect(page.get_by_label("Search", exact=True)).to_have_value(f"{ASKED} meaning:no")
    expect(page.get_by_role("article").first).to_be_visible()
    expect(close).to_have_count(0)


def test_what_comes_closest_in_meaning_is_marked_on_the_page(page: Page, reading: RunningApp, demo: int):
    page.goto(f"{reading.url}/talk/{demo}?q={ASKED}")
    expect(page.get_by_text("Marked is what comes closest in meaning.")).to_be_visible()
    expect(page.get_by_text(re.compile(r"^1 of \d for"))).to_be_visible()


def titles(page: Page) -> list[str]:
    return page.get_by_role("article").locator(".who > a").all_inner_texts()


def test_a_passage_is_narrowed_played_kept_and_the_search_saved_by_keys(
    desk: Page, running: RunningApp, demo: int, no_quotes: None
):
    page = desk
    page.goto(f"{running.url}/search")
    expect(page.get_by_role("heading", name="Search all talks")).to_be_visible()
    page.keyboard.press("/")
    page.keyboard.type("harber")
    page.keyboard.press("Enter")
    expect(page.get_by_text("No talk says “harber”. Shown is what is like it: “harbour”.")).to_be_visible()
    page.get_by_label("Said by").select_option("Maren Tolley")
    expect(page.get_by_label("Search", exact=True)).to_have_value('harber by:"Maren Tolley"')
    expect(page.get_by_role("article").first.locator("mark").first).to_have_text("harbour")
    page.get_by_role("heading", level=1).click()
    page.keyboard.press("ArrowDown")
    expect(page.locator('article[data-current="true"]')).to_have_count(1)
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name="Pause")).to_be_visible()
    page.keyboard.press("Space")
    page.keyboard.press("q")
    expect(page.get_by_role("link", name="Kept. Trim")).to_be_visible()
    page.get_by_role("button", name="Save this search").click()
    expect(page.get_by_role("button", name="Saved")).to_be_visible()
    page.goto(f"{running.url}/search")
    saved = page.get_by_role("link", name='harber by:"Maren Tolley"')
    expect(saved).to_be_visible()
    page.get_by_role("button", name="Forget").first.click()
    expect(saved).to_have_count(0)


def test_soundbites_are_braced_grown_kept_and_passed_over_by_keys(
    desk: Page, running: RunningApp, demo: int, no_quotes: None
):
    page = desk
    page.goto(f"{running.url}/talk/{demo}")
    cards = page.locator("li[data-current]")
    expect(cards.nth(4)).to_be_visible()
    likely = cards.count()
    page.get_by_role("button", name="Show weaker ones").click()
    expect(page.get_by_text("are shown too.")).to_be_visible()
    expect(cards).to_have_count(10)
    page.get_by_label("Length").select_option("under-20")
    page.get_by_label("Length").select_option("any")
    page.get_by_role("button", name="Leave the weaker out").click()
    expect(cards).to_have_count(likely)
    expect(page.get_by_role("navigation", name="Topics of the talk").get_by_role("button").first).to_be_visible()
    page.keyboard.press("f")
    here = page.locator('li[data-current="true"]')
    expect(here).to_contain_text("Says something: ")
    expect(here).to_contain_text("Stands out: says more than what is around it")
    expect(page.locator(".brace[data-current='true']")).to_be_visible()
    expect(page.get_by_label("Fit gauges")).to_contain_text("to spare")
    before = page.locator("[data-word].chosen").count()
    page.keyboard.press("e")
    expect(page.locator("[data-word].chosen")).not_to_have_count(before)
    page.keyboard.press("Shift+e")
    expect(page.locator("[data-word].chosen")).to_have_count(before)
    page.keyboard.press("u")
    expect(page.get_by_role("status").filter(has_text="Passed over")).to_be_visible()
    expect(page.get_by_text("Dismissed 1")).to_be_visible()
    page.get_by_text("What counts for you").click()
    expect(page.get_by_text("Learned from 1 choice of yours")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_text("Dismissed 1")).to_have_count(0)
    page.keyboard.press("f")
    page.keyboard.press("q")
    expect(page.get_by_role("status").filter(has_text="Kept “")).to_be_visible()
    expect(page.locator("a.bracket")).to_have_count(1)
    expect(page.get_by_text("in a quote").first).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.locator("a.bracket")).to_have_count(0)


def test_soundbites_are_narrowed_and_a_topic_is_gone_to(desk: Page, running: RunningApp, demo: int, no_quotes: None):
    page = desk
    page.goto(f"{running.url}/talk/{demo}")
    expect(page.locator("li[data-current]").nth(4)).to_be_visible()
    likely = page.locator("li[data-current]").count()
    page.get_by_label("Length").select_option("under-20")
    expect(page.locator("li[data-current] .when").first).to_be_visible()
    page.locator("label").filter(has_text="Topic").locator("select").select_option(index=2)
    expect(page.locator("li[data-current]")).not_to_have_count(likely)
    topics = page.get_by_role("navigation", name="Topics of the talk").get_by_role("button")
    topics.last.click()
    expect(topics.last).to_have_attribute("aria-current", "true")
    page.goto(f"{running.url}/talk/{demo}?q=wick")
    expect(page.get_by_label("Search in this talk")).to_contain_text(" of 7")
    page.get_by_role("tab", name="Shots").click()
    expect(page.get_by_role("button", name="Shot changes here")).to_be_visible()


def test_a_sentence_is_ended_and_joined_by_key_and_a_doubtful_end_is_marked(
    desk: Page, running: RunningApp, ferry: int
):
    page = desk
    page.goto(f"{running.url}/talk/{ferry}")
    page.locator('[data-word="4"]').click()
    unsure = page.locator(".unsure")
    expect(unsure).to_have_count(0)
    page.keyboard.press("b")
    expect(unsure).to_have_attribute("title", re.compile("No mark tells that a sentence ends here"))
    expect(page.locator(".line").filter(has=unsure).locator("[data-word]").last).to_have_attribute("data-word", "4")
    page.locator('[data-word="4"]').click()
    page.keyboard.press("b")
    expect(unsure).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(unsure).to_have_count(1)
    page.keyboard.press("Control+z")
    expect(unsure).to_have_count(0)


def test_the_shortlist_is_ranked_marked_compared_and_undone_by_keys(
    desk: Page, running: RunningApp, demo: int, no_quotes: None
):
    page = desk
    keep_three(running, demo)
    page.goto(f"{running.url}/shortlist?talk={demo}")
    expect(page.get_by_role("article")).to_have_count(3)
    first = titles(page)
    page.keyboard.press("Shift+ArrowRight")
    expect(page.get_by_role("article").nth(1).locator(".who > a")).to_have_text(first[0])
    page.keyboard.press("m")
    expect(page.locator('article[data-mark="picked"]')).to_have_count(1)
    page.keyboard.press("Control+z")
    expect(page.locator('article[data-mark="picked"]')).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(page.get_by_role("article").first.locator(".who > a")).to_have_text(first[0])
    page.get_by_role("article").last.locator(".grip").drag_to(page.get_by_role("article").first)
    expect(page.get_by_role("article").first.locator(".who > a")).to_have_text(first[2])
    page.get_by_label("Tags").first.fill("storm, opening")
    page.get_by_label("Tags").first.blur()
    page.reload()
    expect(page.get_by_label("Tags").first).to_have_value("storm, opening")
    page.keyboard.press("c")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("c")
    both = page.get_by_role("dialog", name="Two quotes side by side")
    expect(both.locator("section")).to_have_count(2)
    page.keyboard.press("Escape")
    expect(both).to_have_count(0)


def test_quotes_play_one_after_another_hands_free(desk: Page, running: RunningApp, demo: int, no_quotes: None):
    page = desk
    with running.client as client:
        for first in (0, 146):
            client.post(f"/api/recordings/{demo}/quotes", json={"first": first, "last": first + 1})
    page.goto(f"{running.url}/shortlist")
    expect(page.get_by_role("article")).to_have_count(2)
    page.keyboard.press("l")
    expect(page.get_by_role("button", name="Stop playing")).to_be_visible()
    expect(page.get_by_role("article").nth(1)).to_have_attribute("data-current", "true")
    expect(page.get_by_role("button", name="Play all")).to_be_visible()


def test_a_week_is_suggested_swapped_and_picked(desk: Page, running: RunningApp, demo: int, no_quotes: None):
    page = desk
    keep_three(running, demo)
    page.goto(f"{running.url}/shortlist")
    expect(page.get_by_role("article")).to_have_count(3)
    page.keyboard.press("w")
    week = page.get_by_role("dialog", name="Suggest a week")
    week.get_by_label("Posts").fill("2")
    week.get_by_role("button", name="Suggest", exact=True).click()
    posts = week.locator("li")
    expect(posts).to_have_count(2)
    before = posts.first.locator("strong").inner_text()
    week.get_by_label("Swap for").first.select_option(index=1)
    expect(posts.first.locator("strong")).not_to_have_text(before)
    expect(posts.first).to_contain_text("Chosen by you.")
    week.get_by_role("button", name="Mark these as picked").click()
    expect(page.locator('article[data-mark="picked"]')).to_have_count(2)


def test_a_choice_made_on_paper_is_read_back(
    desk: Page, running: RunningApp, demo: int, no_quotes: None, tmp_path: Path
):
    page = desk
    ids = keep_three(running, demo)
    page.goto(f"{running.url}/shortlist?talk={demo}")
    expect(page.get_by_role("article")).to_have_count(3)
    with page.expect_download() as saved:
        page.get_by_role("link", name="Table (CSV)").click()
    table = Path(saved.value.path()).read_text("utf-8-sig").replace(f"{ids[1]},2,candidate", f"{ids[1]},2,picked")
    back = tmp_path / "choice.csv"
    back.write_text(table)
    page.get_by_label("Import choices").set_input_files(back)
    told = page.get_by_role("dialog", name="Import choices")
    expect(told).to_contain_text("candidate becomes picked")
    told.get_by_role("button", name="Apply these choices").click()
    expect(page.locator('article[data-mark="picked"]')).to_have_count(1)
    back.write_text("nothing\n1\n")
    page.get_by_label("Import choices").set_input_files(back)
    expect(page.get_by_role("status").filter(has_text="must name the columns")).to_be_visible()
