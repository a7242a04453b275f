"""Each place with the keys alone, with three hours of words, and with what goes wrong."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import select_words
from tests.conftest import CODED, VTT, House, find_words, make_media, wait_for, words_of
from tests.long_talk import put_on_shelf


def open_talk(page: Page, house: House, talk: int, query: str = "") -> None:
    page.goto(f"{house.url}/talk/{talk}{query}")
    page.wait_for_selector("[data-word]")


def kept_quote(house: House, talk: int, text: str) -> int:
    with house.client as client:
        first, last = find_words(words_of(client, talk), text)
        return client.post(f"/api/recordings/{talk}/quotes", json={"first": first, "last": last}).json()["id"]


def test_a_quote_is_found_kept_and_cut_with_the_keys_alone(desk: Page, house: House, demo: int):
    page = desk
    page.goto(house.url)
    link = page.get_by_role("link", name="Keep the wick short")
    for _ in range(12):
        if link.evaluate("el => el === document.activeElement"):
            break
        page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    page.wait_for_selector("[data-word]")
    page.keyboard.press("/")
    page.keyboard.type("umbrellas")
    expect(page.get_by_label("Search in this talk")).to_contain_text("1 of 1")
    page.keyboard.press("Escape")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Shift+ArrowLeft")
    expect(page.locator(".chosen").first).to_be_visible()
    expect(page.get_by_label("Fit gauges")).to_contain_text("Story 15")
    page.keyboard.press("q")
    expect(page.get_by_role("status").filter(has_text="Kept")).to_be_visible()
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile(r"/quote/\d+/trim"))
    page.wait_for_selector("[data-word].kept")
    kept = page.locator("[data-word].kept").count()
    page.keyboard.press("Home")
    for key in (".", ".", "Shift+ArrowRight", "Shift+ArrowRight", "x"):
        page.keyboard.press(key)
    expect(page.locator("[data-word].struck")).to_have_count(2)
    page.keyboard.press("Control+z")
    expect(page.locator("[data-word].kept")).to_have_count(kept)
    page.keyboard.press("]")
    expect(page.get_by_text("Nudged the in point 10 ms later")).to_be_visible()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_contain_text("Strike the words, or put them back")
    page.keyboard.press("Escape")
    for step, name in (("2", "frame"), ("3", "captions"), ("4", "check"), ("1", "trim")):
        page.keyboard.press(step)
        expect(page).to_have_url(re.compile(f"/{name}$"))


def test_a_recording_is_brought_in_and_what_cannot_be_read_is_refused(desk: Page, house: House, tmp_path: Path):
    page = desk
    page.goto(house.url)
    good = make_media(tmp_path / "net-loft.mp4", "testsrc2=s=320x180:d=9", "sine=f=500:d=9", options=CODED)
    words, bad, note = tmp_path / "net-loft.vtt", tmp_path / "broken.mp4", tmp_path / "notes.docx"
    words.write_bytes(VTT)
    bad.write_bytes(b"nothing a player could use")
    note.write_bytes(b"PK")
    area = page.get_by_label("Bring in a recording")
    files = page.get_by_label("Recording and transcript files")
    files.set_input_files(str(note))
    expect(area.get_by_role("alert")).to_contain_text(
        "notes.docx: this is neither a recording nor a WebVTT or SRT transcript"
    )
    files.set_input_files([str(bad), str(words)])
    page.get_by_role("button", name="Put on the shelf").click()
    expect(area.get_by_role("alert")).to_contain_text("broken.mp4: this is not a recording that can be read")
    files.set_input_files(str(good))
    page.get_by_label("Title").fill("The net loft")
    page.get_by_role("button", name="Put on the shelf").click()
    row = page.get_by_role("article").filter(has_text="The net loft")
    expect(row).to_contain_text("320×180")
    expect(row).to_contain_text("40 words")
    expect(row.get_by_role("progressbar")).to_have_count(0, timeout=60_000)
    row.get_by_role("link", name="The net loft").click()
    expect(page.locator('[data-word="0"]')).to_have_text("Sentence ")


def test_a_search_in_all_talks_leads_to_the_place(desk: Page, house: House, demo: int):
    page = desk
    page.goto(house.url)
    expect(page.get_by_role("link", name="Keep the wick short")).to_be_visible()
    page.keyboard.press("/")
    page.keyboard.type('"biggest bit"')
    page.keyboard.press("Enter")
    expect(page.get_by_text("2 sentences in 1 talk")).to_be_hidden()
    hit = page.get_by_role("listitem").filter(has_text="You have to mend the biggest")
    expect(hit.locator("mark")).to_have_text(["biggest", "bit"])
    hit.get_by_role("link").click()
    expect(page.locator(".hit.here").first).to_be_visible()
    page.go_back()
    expect(page.get_by_role("heading", name="in all talks")).to_be_visible()
    page.get_by_label("Search", exact=True).fill("the of")
    page.keyboard.press("Enter")
    expect(page.get_by_text("too common to search for")).to_be_visible()


def test_a_removed_quote_comes_back_with_undo(desk: Page, house: House, demo: int):
    kept_quote(house, demo, "One of them was mostly putty.")
    open_talk(desk, house, demo)
    quote = desk.get_by_role("listitem").filter(has_text="One of them was mostly putty.")
    quote.get_by_role("button", name="Remove").click()
    expect(quote).to_have_count(0)
    desk.get_by_role("status").get_by_role("button", name="Undo").click()
    expect(quote).to_have_count(1)
    desk.keyboard.press("Control+Shift+z")
    expect(quote).to_have_count(0)
    desk.keyboard.press("Control+z")
    expect(quote).to_have_count(1)


def test_two_browsers_on_one_quote_never_overwrite_each_other(desk: Page, house: House, demo: int):
    quote = kept_quote(house, demo, "Nobody can see this.")
    desk.goto(f"{house.url}/quote/{quote}/trim")
    title = desk.get_by_label("Title of the quote")
    expect(title).to_have_value("Nobody can see this.")
    with house.client as other:
        other.post(f"/api/quotes/{quote}/edits", json={"on_revision": 1, "edit": {"kind": "rename", "title": "Theirs"}})
    title.fill("Mine")
    title.press("Enter")
    expect(desk.get_by_role("status").filter(has_text="changed elsewhere")).to_be_visible()
    expect(title).to_have_value("Theirs")


def test_a_drag_moves_the_window_and_the_captions_and_is_one_edit(desk: Page, house: House, demo: int):
    page = desk
    quote = kept_quote(house, demo, "They were not pretty.")
    page.goto(f"{house.url}/quote/{quote}/frame")
    window = page.get_by_role("application")
    box = window.bounding_box()
    assert box
    page.mouse.move(box["x"] + 50, box["y"] + 100)
    page.mouse.down()
    page.mouse.move(box["x"] - 30, box["y"] + 100, steps=8)
    page.mouse.up()
    wait_for(lambda: abs(window.bounding_box()["x"] - box["x"] + 80) < 4, "the window to follow")
    page.get_by_role("button", name="Put on the speaker").click()
    wait_for(lambda: abs(window.bounding_box()["x"] - box["x"]) < 2, "the window to go back to the face")
    page.keyboard.press("3")
    height = page.get_by_label("Height from the top")
    expect(height).to_have_value("0.7")
    stage = page.get_by_label("Story 15 as it will be").bounding_box()
    assert stage
    page.mouse.move(stage["x"] + 60, stage["y"] + 0.7 * stage["height"])
    page.mouse.down()
    page.mouse.move(stage["x"] + 60, stage["y"] + 0.5 * stage["height"], steps=8)
    page.mouse.up()
    wait_for(lambda: abs(float(height.input_value()) - 0.5) < 0.02, "the captions to follow")
    with house.client as client:
        assert client.get(f"/api/quotes/{quote}").json()["revision"] == 4


def test_hostile_words_are_shown_as_words(desk: Page, house: House, tmp_path: Path):
    from tests.conftest import bring_in

    media = make_media(tmp_path / "h.mp4", "testsrc2=s=320x180:d=4", "sine=f=700:d=4", options=CODED)
    text = "&lt;img src=x onerror=document.title='owned'&gt; {\\p1}\\N&lt;/script&gt; and on"
    with house.client as client:
        talk = bring_in(client, media, f"WEBVTT\n\n00:00.500 --> 00:03.500\n<v Eve>{text}</v>\n".encode()).json()
    open_talk(desk, house, talk["id"])
    expect(desk.locator('[data-word="0"]')).to_have_text("<img ")
    words = desk.locator("[data-word]").count()
    select_words(desk, 0, words - 1)
    desk.keyboard.press("q")
    desk.get_by_role("listitem").filter(has_text="<img").get_by_role("link").click()
    expect(desk.get_by_label("Title of the quote")).to_have_value("<img src=x onerror=document.title='owned'>…")
    desk.keyboard.press("3")
    expect(desk.get_by_label("Caption at").first).to_be_visible()
    desk.wait_for_timeout(500)
    assert desk.title() != "owned"


def test_three_hours_of_words_open_scroll_and_search_at_once(desk: Page, house: House, clip: Path):
    page = desk
    talk = put_on_shelf(house, clip)
    open_talk(page, house, talk)
    assert page.locator("[data-word]").count() < 2000
    page.get_by_label("Map of the talk").click(position={"x": 20, "y": 600})
    last = page.locator("[data-word]").last
    wait_for(lambda: int(last.get_attribute("data-word") or 0) > 20_000, "the page to go there")
    page.keyboard.press("/")
    page.keyboard.type("scissors")
    expect(page.get_by_label("Search in this talk")).to_contain_text(" of ")
    expect(page.get_by_text("Only the first 500 sentences are shown")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("n")
    expect(page.locator(".hit.here")).to_have_count(1)


@pytest.mark.parametrize("address", ["/talk/999999", "/quote/999999/trim"])
def test_an_address_of_nothing_says_so(desk: Page, house: House, address: str):
    desk.goto(f"{house.url}{address}")
    expect(desk.get_by_text("There is no such")).to_be_visible()
    expect(desk.get_by_role("link", name="To the shelf", exact=True)).to_be_visible()


def test_a_server_that_is_away_is_told_and_nothing_is_lost(desk: Page, house: House, demo: int):
    quote = kept_quote(house, demo, "Three things.")
    desk.goto(f"{house.url}/quote/{quote}/trim")
    title = desk.get_by_label("Title of the quote")
    expect(title).to_have_value("Three things.")
    desk.route("**/edits", lambda route: route.abort())
    title.fill("Unsaved")
    title.press("Enter")
    expect(desk.get_by_role("status").filter(has_text="does not answer")).to_be_visible()
    desk.unroute("**/edits")
    title.fill("Saved")
    title.press("Enter")
    expect(desk.get_by_text("Last change: Renamed to “Saved”")).to_be_visible()
