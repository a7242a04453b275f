"""Each place with the keys alone, with three hours of words, and with what goes wrong."""

import json
import re
import subprocess
from pathlib import Path

import pytest
from playwright.sync_api import Locator, Page, expect

from nimble_quote.demo.load import joined
from tests.browser.conftest import select_words
from tests.conftest import (
    CODED,
    VTT,
    RunningApp,
    bring_in,
    find_words,
    make_media,
    three_scenes,
    wait_for,
    wait_until_prepared,
    words_of,
)
from tests.long_talk import put_on_shelf


def open_talk(page: Page, running: RunningApp, talk: int, query: str = "") -> None:
    page.goto(f"{running.url}/talk/{talk}{query}")
    page.wait_for_selector("[data-word]")


def kept_quote(running: RunningApp, talk: int, text: str) -> int:
    with running.client as client:
        first, last = find_words(words_of(client, talk), text)
        return client.post(f"/api/recordings/{talk}/quotes", json={"first": first, "last": last}).json()["id"]


def test_a_quote_is_found_kept_and_cut_with_the_keys_alone(desk: Page, running: RunningApp, demo: int):
    page = desk
    page.goto(running.url)
    link = page.get_by_role("link", name="Keep the wick short")
    for _ in range(200):
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
    expect(page.get_by_label("Fit gauges")).to_contain_text("Tall 15")
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
    for step, name in (("2", "frame"), ("3", "captions"), ("4", "finish"), ("5", "check"), ("1", "trim")):
        page.keyboard.press(step)
        expect(page).to_have_url(re.compile(f"/{name}$"))


def test_recordings_are_brought_in_and_what_cannot_be_read_is_refused(desk: Page, running: RunningApp, tmp_path: Path):
    page = desk
    page.goto(running.url)
    good = make_media(tmp_path / "net-loft.mp4", "testsrc2=s=320x180:d=9", "sine=f=500:d=9", options=CODED)
    words, bad, note = tmp_path / "net-loft.vtt", tmp_path / "broken.mp4", tmp_path / "notes.docx"
    words.write_bytes(VTT)
    bad.write_bytes(b"nothing a player could use")
    note.write_bytes(b"PK")
    area = page.get_by_label("Bring in recordings")
    page.get_by_label("Recordings and transcripts").set_input_files([str(note), str(bad), str(words), str(good)])
    expect(area.get_by_role("alert").first).to_contain_text("notes.docx: neither a recording nor a transcript")
    expect(area.get_by_text("broken.mp4: this is not a recording that can be read")).to_be_visible()
    area.get_by_role("button", name="Remove broken.mp4").click()
    row = page.get_by_role("article").filter(has_text="Net loft")
    expect(row).to_contain_text("320×180")
    expect(row).to_contain_text("40 words")
    expect(row.get_by_role("progressbar")).to_have_count(0, timeout=60_000)
    row.get_by_role("link", name="Net loft").click()
    expect(page.locator('[data-word="0"]')).to_have_text("Sentence ")


def test_a_search_in_all_talks_leads_to_the_place(desk: Page, running: RunningApp, demo: int):
    page = desk
    page.goto(running.url)
    expect(page.get_by_role("link", name="Keep the wick short")).to_be_visible()
    page.keyboard.press("/")
    page.keyboard.type('"biggest bit"')
    page.keyboard.press("Enter")
    hit = page.get_by_role("article").filter(has_text="You have to mend the biggest")
    expect(hit.locator("mark").last).to_have_text("bit")
    hit.get_by_role("link", name="Keep the wick short").click()
    expect(page.locator(".hit.here").first).to_be_visible()
    page.go_back()
    expect(page.get_by_role("heading", name="in all talks")).to_be_visible()
    page.get_by_label("Search", exact=True).fill("the of")
    page.keyboard.press("Enter")
    expect(page.get_by_text("too common to search for")).to_be_visible()


def test_a_removed_quote_comes_back_with_undo(desk: Page, running: RunningApp, demo: int):
    kept_quote(running, demo, "One of them was mostly putty.")
    open_talk(desk, running, demo)
    desk.get_by_role("tab", name="Quotes").click()
    quote = desk.get_by_role("listitem").filter(has_text="One of them was mostly putty.")
    quote.get_by_role("button", name="Remove").click()
    expect(quote).to_have_count(0)
    desk.get_by_role("status").get_by_role("button", name="Undo").click()
    expect(quote).to_have_count(1)
    desk.keyboard.press("Control+Shift+z")
    expect(quote).to_have_count(0)
    desk.keyboard.press("Control+z")
    expect(quote).to_have_count(1)


def test_two_browsers_on_one_quote_never_overwrite_each_other(desk: Page, running: RunningApp, demo: int):
    quote = kept_quote(running, demo, "Nobody can see this.")
    # The change is made before this browser has heard of it.
    desk.route("**/api/changes", lambda route: route.abort())
    desk.goto(f"{running.url}/quote/{quote}/trim")
    title = desk.get_by_label("Title of the quote")
    expect(title).to_have_value("Nobody can see this.")
    with running.client as other:
        other.post(f"/api/quotes/{quote}/edits", json={"on_revision": 1, "edit": {"kind": "rename", "title": "Theirs"}})
    title.fill("Mine")
    title.press("Enter")
    expect(desk.get_by_role("status").filter(has_text="changed elsewhere")).to_be_visible()
    expect(title).to_have_value("Theirs")


def test_a_drag_moves_the_window_and_the_captions_and_is_one_edit(desk: Page, running: RunningApp, demo: int):
    page = desk
    quote = kept_quote(running, demo, "They were not pretty.")
    page.goto(f"{running.url}/quote/{quote}/frame")
    window = page.get_by_role("application")
    box = window.bounding_box()
    assert box
    page.mouse.move(box["x"] + 50, box["y"] + 100)
    page.mouse.down()
    page.mouse.move(box["x"] - 30, box["y"] + 100, steps=8)
    page.mouse.up()
    wait_for(lambda: abs(window.bounding_box()["x"] - box["x"] + 80) < 4, "the window to follow")
    page.get_by_role("button", name="Reset", exact=True).click()
    wait_for(lambda: abs(window.bounding_box()["x"] - box["x"]) < 2, "the window to go back to the face")
    page.keyboard.press("3")
    height = page.get_by_label("Vertical position")
    expect(height).to_have_value("0.7")
    stage = page.get_by_label("Tall 15 as it will be").bounding_box()
    assert stage
    page.mouse.move(stage["x"] + 60, stage["y"] + 0.7 * stage["height"])
    page.mouse.down()
    page.mouse.move(stage["x"] + 60, stage["y"] + 0.5 * stage["height"], steps=8)
    page.mouse.up()
    wait_for(lambda: abs(float(height.input_value()) - 0.5) < 0.02, "the captions to follow")
    with running.client as client:
        assert client.get(f"/api/quotes/{quote}").json()["revision"] == 4


def test_hostile_words_are_shown_as_words(desk: Page, running: RunningApp, tmp_path: Path):
    media = make_media(tmp_path / "h.mp4", "testsrc2=s=320x180:d=4", "sine=f=700:d=4", options=CODED)
    text = "&lt;img src=x onerror=document.title='owned'&gt; {\\p1}\\N&lt;/script&gt; and on"
    with running.client as client:
        talk = bring_in(client, media, f"WEBVTT\n\n00:00.500 --> 00:03.500\n<v Eve>{text}</v>\n".encode()).json()
    open_talk(desk, running, talk["id"])
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


def test_three_hours_of_words_open_scroll_and_search_at_once(desk: Page, running: RunningApp, clip: Path):
    page = desk
    talk = put_on_shelf(running, clip)
    open_talk(page, running, talk)
    assert page.locator("[data-word]").count() < 2000
    page.get_by_label("Map of the talk").click(position={"x": 20, "y": 600})
    last = page.locator("[data-word]").last
    wait_for(lambda: int(last.get_attribute("data-word") or 0) > 20_000, "the page to go there")
    page.keyboard.press("/")
    page.keyboard.type("scissors")
    expect(page.get_by_label("Search in this talk")).to_contain_text(" of ")
    expect(page.locator("[data-word].hit").first).to_contain_text(re.compile("scissors", re.IGNORECASE))
    expect(page.get_by_label("Search", exact=True)).to_have_value("scissors")
    page.keyboard.press("Escape")
    page.keyboard.press("n")
    expect(page.locator(".hit.here")).to_have_count(1)
    captions_of_the_end(page, running, talk)


def captions_of_the_end(page: Page, running: RunningApp, talk: int) -> None:
    """A quote from the last minutes of three hours is captioned and corrected."""
    with running.client as client:
        quote = client.post(f"/api/recordings/{talk}/quotes", json={"first": 29_000, "last": 29_900}).json()["id"]
    page.goto(f"{running.url}/quote/{quote}/captions")
    cues = page.locator("section.cues textarea.said")
    expect(cues.first).to_be_visible()
    assert cues.count() > 60
    last = cues.last
    last.fill(f"{last.input_value()} Indeed.")
    last.press("Control+Enter")
    wait_for(lambda: "Indeed." in cues.last.input_value(), "the correction", 10)
    with running.client as client:
        assert client.get(f"/api/quotes/{quote}").json()["document"]["captions"]["corrections"]


@pytest.mark.parametrize("address", ["/talk/999999", "/quote/999999/trim"])
def test_an_address_of_nothing_says_so(desk: Page, running: RunningApp, address: str):
    desk.goto(f"{running.url}{address}")
    expect(desk.get_by_text("There is no such")).to_be_visible()
    expect(desk.get_by_role("link", name="To the shelf", exact=True)).to_be_visible()


def test_a_server_that_is_away_is_told_and_nothing_is_lost(desk: Page, running: RunningApp, demo: int):
    quote = kept_quote(running, demo, "Three things.")
    desk.goto(f"{running.url}/quote/{quote}/trim")
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


def open_shelf(page: Page, running: RunningApp) -> None:
    page.goto(running.url)
    page.wait_for_selector("h1")
    page.wait_for_timeout(300)


def test_a_recording_is_described_removed_and_put_back(desk: Page, running: RunningApp, tmp_path: Path):
    media = make_media(tmp_path / "slipway.mp3", "sine=f=333:d=5")
    with running.client as client:
        talk = bring_in(client, media).json()["id"]
    page = desk
    open_shelf(page, running)
    row = page.get_by_role("article").filter(has_text="Slipway")
    row.get_by_role("button", name="Details of “Slipway”").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Title").fill("The slipway")
    dialog.get_by_label("Series").fill("Boats")
    dialog.get_by_label("Date").fill("2026-05-09")
    dialog.get_by_role("button", name="Save").click()
    expect(page.get_by_role("heading", name="Boats")).to_be_visible()
    row = page.get_by_role("article").filter(has_text="The slipway")
    expect(row).to_contain_text("9 May 2026")
    row.get_by_role("button", name="Details").click()
    dialog.get_by_role("button", name="Remove…").click()
    expect(dialog.get_by_role("alert")).to_contain_text("It can be put back for 1 day")
    dialog.get_by_role("button", name="Remove", exact=True).click()
    expect(row).to_have_count(0)
    page.reload()
    page.get_by_text("removed in the last day").click()
    page.get_by_role("listitem").filter(has_text="The slipway").get_by_role("button", name="Put back").click()
    expect(page.get_by_role("article").filter(has_text="The slipway")).to_be_visible()
    with running.client as client:
        assert client.get(f"/api/recordings/{talk}").json()["series"] == "Boats"


def test_an_upload_is_paused_survives_a_reload_and_goes_on(desk: Page, running: RunningApp, tmp_path: Path):
    page = desk
    long = make_media(tmp_path / "long-evening.wav", "sine=f=440:d=400", options=("-ar", "48000", "-ac", "2"))
    open_shelf(page, running)
    # As slow as a village line, so that there is time to press.
    session = page.context.new_cdp_session(page)
    session.send("Network.enable")
    slow = {"offline": False, "latency": 5, "downloadThroughput": -1, "uploadThroughput": 9_000_000}
    session.send("Network.emulateNetworkConditions", slow)
    files = page.get_by_label("Recordings and transcripts")
    files.set_input_files(str(long))
    sending = page.get_by_role("listitem").filter(has_text="long-evening.wav")
    expect(sending).to_contain_text("Sending")
    page.wait_for_timeout(1500)
    sending.get_by_role("button", name="Pause").click()
    expect(sending).to_contain_text("Paused")
    session.send("Network.emulateNetworkConditions", {**slow, "uploadThroughput": -1})
    page.reload()
    partly = page.get_by_text("Choose the same file again to resume").filter(has_text="long-evening.wav")
    expect(partly).to_be_visible()
    with running.client as client:
        (begun,) = [one for one in client.get("/api/uploads").json() if one["name"] == "long-evening.wav"]
    assert 0 < begun["offset"] < begun["length"]
    first_sent: list[str] = []
    page.on("request", lambda r: first_sent.append(r.headers.get("upload-offset", "")) if r.method == "PATCH" else None)
    files.set_input_files(str(long))
    expect(page.get_by_role("article").filter(has_text="Long evening")).to_be_visible(timeout=60_000)
    assert all(int(offset) >= begun["offset"] for offset in first_sent), "nothing is sent twice"
    expect(partly).to_have_count(0)


def test_a_transcript_finds_its_recording_by_name_and_what_stays_loose_is_asked(
    desk: Page, running: RunningApp, tmp_path: Path
):
    page = desk
    one = make_media(tmp_path / "quay.mp3", "sine=f=345:d=10")
    words, loose = tmp_path / "quay.srt", tmp_path / "nobody.vtt"
    words.write_text("1\n00:00:01,000 --> 00:00:02,000\nThe quay is wet.\n")
    loose.write_bytes(VTT)
    with running.client as client:
        bring_in(client, one, None)
    open_shelf(page, running)
    row = page.get_by_role("article").filter(has_text="Quay")
    expect(row).to_contain_text("no transcript yet")
    files = page.get_by_label("Recordings and transcripts")
    files.set_input_files([str(words), str(loose)])
    page.get_by_role("button", name="Attach").click()
    expect(row).to_contain_text("4 words")
    asked = page.get_by_label("Recording for nobody.vtt")
    asked.select_option(label="Quay")
    expect(row).to_contain_text("40 words")
    expect(asked).to_have_count(0)


def word(page: Page, text: str) -> Locator:
    return page.locator("[data-word]").filter(has_text=re.compile(f"^{re.escape(text)} ?$")).first


def test_words_are_corrected_where_they_stand_with_the_keys_alone(desk: Page, running: RunningApp, tmp_path: Path):
    page = desk
    media = make_media(tmp_path / "fix-me.mp3", "sine=f=355:d=10")
    said = [
        {"word": text, "start": 1 + i, "end": 1.6 + i, "probability": 0.2 if text in ("Tully", "weak") else 0.9}
        for i, text in enumerate("Maren Tully keeps the weak short.".split())
    ]
    unsure = json.dumps({"segments": [{"start": 1, "end": 9, "speaker": "Ann", "words": said}]})
    with running.client as client:
        client.post("/api/names", json={"name": "Maren Tolley"})
        talk = bring_in(client, media, unsure.encode(), "fix-me.json").json()["id"]
    open_talk(page, running, talk)
    page.keyboard.press("d")
    expect(word(page, "Tully")).to_have_class(re.compile("doubt.*chosen"))
    page.keyboard.press("d")
    expect(word(page, "weak")).to_have_class(re.compile("chosen"))
    page.keyboard.press("c")
    field = page.get_by_label("The words as they were said")
    expect(field).to_be_focused()
    page.keyboard.type("wick")
    page.keyboard.press("Enter")
    expect(word(page, "wick")).to_have_class(re.compile("corrected"))
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    page.keyboard.press("Control+z")
    expect(word(page, "weak")).to_be_visible()
    page.keyboard.press("Control+Shift+z")
    expect(word(page, "wick")).to_be_visible()
    names = page.get_by_role("region", name="Names")
    expect(names).to_contain_text("Maren Tully")
    names.get_by_role("button", name="Maren Tolley", exact=True).click()
    expect(word(page, "Tolley")).to_be_visible()
    expect(names).to_contain_text("Nothing here sounds like one of your names")
    word(page, "keeps").dblclick()
    expect(field).to_have_value("keeps")
    page.keyboard.press("Escape")
    expect(field).to_have_count(0)
    page.reload()
    page.wait_for_selector("[data-word]")
    expect(word(page, "wick")).to_be_visible()
    with running.client as client:
        client.post("/api/names/drop", json={"name": "Maren Tolley"})


def test_every_place_is_listed_before_words_are_replaced_and_speakers_are_named(
    desk: Page, running: RunningApp, tmp_path: Path
):
    page = desk
    media = make_media(tmp_path / "replace-me.mp3", "sine=f=365:d=10")
    with running.client as client:
        talk = bring_in(client, media).json()["id"]
    open_talk(page, running, talk)
    page.get_by_role("tab", name="Words").click()
    page.get_by_label("Written now").fill("sentence")
    page.get_by_label("As it was said").fill("Line")
    page.get_by_role("button", name="Show each one").click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("listitem")).to_have_count(8)
    dialog.get_by_role("checkbox").first.uncheck()
    dialog.get_by_role("button", name="Replace at 7 places").click()
    expect(page.locator("[data-word]").filter(has_text="Line")).to_have_count(7)
    page.get_by_role("status").get_by_role("button", name="Undo").click()
    expect(page.locator("[data-word]").filter(has_text="Line")).to_have_count(0)
    select_words(page, 5, 9)
    page.get_by_label("Somebody else").fill("Bo")
    page.keyboard.press("Enter")
    expect(page.locator(".chip").filter(has_text="Bo")).to_be_visible()
    name = page.get_by_label("Name of Bo")
    name.fill("Bodil")
    name.press("Enter")
    expect(page.locator(".chip").filter(has_text="Bodil")).to_be_visible()
    with page.expect_download() as saved:
        page.get_by_role("link", name="Text", exact=True).click()
    assert "Bodil: Sentence number 2 is here." in saved.value.path().read_text()


def test_cuts_are_set_by_hand_beside_the_words(desk: Page, running: RunningApp, tmp_path: Path):
    page = desk
    with running.client as client:
        media = three_scenes(tmp_path / "shots.mp4")
        media.write_bytes(media.read_bytes() + b"a file of its own")
        talk = bring_in(client, media).json()["id"]
        wait_until_prepared(client, talk)
    open_talk(page, running, talk)
    page.get_by_role("tab", name="Shots").click()
    expect(page.get_by_text("3 shots")).to_be_visible()
    strips = page.get_by_role("button", name=re.compile(r"^Shot \d"))
    expect(strips).to_have_count(3)
    page.get_by_role("button", name=re.compile("^2 0:03")).click()
    expect(page.get_by_role("button", name="Remove the shot change here")).to_be_visible()
    page.keyboard.press("s")
    expect(page.get_by_text("2 shots")).to_be_visible()
    page.keyboard.press("s")
    expect(page.get_by_text("set by hand")).to_be_visible()
    page.reload()
    page.get_by_role("tab", name="Shots").click()
    expect(page.get_by_text("set by hand")).to_be_visible()


def test_a_talk_without_words_offers_to_have_them_made(desk: Page, running: RunningApp, tmp_path: Path):
    page = desk
    sound = joined("night-ferry-notes", "original.m4a", tmp_path / "ferry.m4a")
    part = tmp_path / "last-boat.m4a"
    subprocess.run(["ffmpeg", "-v", "error", "-i", str(sound), "-t", "14", str(part)], check=True)
    with running.client as client:
        talk = bring_in(client, part, None).json()["id"]
        wait_until_prepared(client, talk)
    page.goto(f"{running.url}/talk/{talk}")
    expect(page.get_by_role("heading", name="No transcript yet")).to_be_visible()
    page.get_by_role("button", name="Send it to the service").click()
    expect(page.get_by_role("status").filter(has_text="No transcription service is set up")).to_be_visible()
    page.get_by_role("button", name="Recognise it here").click()
    expect(page.locator("[data-word]").first).to_be_visible(timeout=60_000)
    expect(page.locator(".scroller")).to_contain_text("upper deck")
