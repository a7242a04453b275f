"""Finish: things put over the picture, by pointer and by keys alone, in the real workbench."""

import re
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import RunningApp, wait_for
from tests.helpers import keep

SAID = "So people ask me, what is the secret? You know, there is no secret. Keep the wick short."
LAMP = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><circle cx="50" cy="50" r="48" fill="#0B5454"/></svg>'


@pytest.fixture
def quote(running: RunningApp, demo: int) -> int:
    with running.client as client:
        return int(keep(client, demo, SAID)["id"])


def over(running: RunningApp, quote: int) -> list[dict[str, Any]]:
    """What stands over the picture of a quote, as it is kept."""
    with running.client as client:
        return list(client.get(f"/api/quotes/{quote}").json()["document"]["overlays"])


def shown(running: RunningApp, quote: int) -> list[dict[str, Any]]:
    with running.client as client:
        return list(client.get(f"/api/quotes/{quote}/versions").json()["versions"][0]["assembly"]["overlays"])


def opened(page: Page, running: RunningApp, quote: int) -> None:
    page.goto(f"{running.url}/quote/{quote}/finish")
    expect(page.get_by_role("region", name="Over the picture")).to_be_visible()


def test_a_title_is_added_said_dragged_and_found_a_place_again(desk: Page, running: RunningApp, quote: int):
    opened(desk, running, quote)
    expect(desk.get_by_text("Nothing stands over the picture yet")).to_be_visible()
    desk.get_by_role("button", name="Title", exact=True).click()
    desk.get_by_label("Text", exact=True).fill("The secret")
    desk.get_by_label("Second text").fill("Lamp-oil talk")
    desk.get_by_label("Second text").press("Tab")
    wait_for(lambda: [one["lines"] for one in shown(running, quote)] == [["The secret"], ["Lamp-oil talk"]], "a title")
    box = desk.get_by_title("Drag to move Title in this shape")
    expect(box).to_be_visible()
    before = box.bounding_box()
    assert before
    box.hover()
    desk.mouse.down()
    desk.mouse.move(before["x"] + before["width"] / 2, before["y"] + 150, steps=6)
    desk.mouse.up()
    wait_for(lambda: list(over(running, quote)[0]["placed"]) == ["tall"], "a place by hand")
    desk.get_by_role("button", name="Place it automatically").first.click()
    wait_for(lambda: over(running, quote)[0]["placed"] == {}, "the place that is found")


def test_something_shows_with_the_words_that_are_selected(desk: Page, running: RunningApp, quote: int):
    opened(desk, running, quote)
    words = desk.locator("[data-word]")
    words.filter(has_text="secret?").click()
    words.filter(has_text="know,").click(modifiers=["Shift"])
    expect(desk.get_by_role("heading", name="Add with the selected words")).to_be_visible()
    desk.get_by_role("button", name="Text", exact=True).click()
    wait_for(lambda: [one["when"]["kind"] for one in over(running, quote)] == ["words"], "a text with words")
    expect(desk.get_by_role("button", name="Text Text, with these words")).to_be_visible()
    desk.get_by_role("button", name="At the end").click()
    wait_for(lambda: over(running, quote)[0]["when"]["kind"] == "end", "the end of the clip")
    desk.get_by_label("Length, s").fill("1.5")
    desk.get_by_label("Length, s").press("Enter")
    wait_for(lambda: over(running, quote)[0]["when"]["length_ms"] == 1500, "so long")
    desk.get_by_label("Length, s").fill("never")
    desk.get_by_label("Length, s").press("Tab")
    expect(desk.get_by_label("Length, s")).to_have_value("1.5")


def test_a_logo_is_brought_in_and_a_mark_is_drawn_on_the_picture(desk: Page, running: RunningApp, quote: int):
    opened(desk, running, quote)
    desk.get_by_role("button", name="Logo", exact=True).click()
    sent = {"name": "Lamp.svg", "mimeType": "image/svg+xml", "buffer": LAMP.encode()}
    desk.get_by_label("A picture of the house’s").set_input_files(files=[sent])  # type: ignore[list-item]
    wait_for(lambda: [one["what"]["kind"] for one in over(running, quote)] == ["logo"], "a logo", 20)
    bad = {
        "name": "Bad.svg",
        "mimeType": "image/svg+xml",
        "buffer": LAMP.replace("<circle", "<script/><circle").encode(),
    }
    desk.get_by_role("button", name="Picture", exact=True).click()
    desk.get_by_label("A picture of the house’s").set_input_files(files=[bad])  # type: ignore[list-item]
    expect(desk.get_by_text("has a “script” in it")).to_be_visible()
    desk.get_by_role("region", name="Add").get_by_text("Mark", exact=True).click()
    wait_for(lambda: len(over(running, quote)) == 2, "a mark")
    before = over(running, quote)[1]["what"]["points"]
    desk.get_by_role("button", name="Draw it on the picture").click()
    canvas = desk.get_by_title("Drag to draw the mark").bounding_box()
    assert canvas
    desk.mouse.move(canvas["x"] + 60, canvas["y"] + 100)
    desk.mouse.down()
    desk.mouse.move(canvas["x"] + 200, canvas["y"] + 300, steps=5)
    desk.mouse.up()
    wait_for(lambda: over(running, quote)[1]["what"]["points"] != before, "the mark as it was drawn")


def test_all_of_it_by_keys_alone(desk: Page, running: RunningApp, quote: int):
    opened(desk, running, quote)
    desk.get_by_role("button", name="Title", exact=True).press("Enter")
    wait_for(lambda: len(over(running, quote)) == 1, "a title")
    desk.get_by_role("button", name="Time left", exact=True).press("Enter")
    wait_for(lambda: len(over(running, quote)) == 2, "the time left")
    desk.get_by_role("button", name="Time left", exact=True).evaluate("one => one.blur()")
    desk.keyboard.press("ArrowUp")
    expect(desk.get_by_role("region", name="Title")).to_be_visible()
    desk.keyboard.press("Control+ArrowDown")
    wait_for(lambda: "tall" in over(running, quote)[0]["placed"], "a nudge")
    desk.keyboard.press("Delete")
    wait_for(lambda: [one["what"]["kind"] for one in over(running, quote)] == ["time-left"], "one thing less")
    desk.keyboard.press("Control+z")
    wait_for(lambda: len(over(running, quote)) == 2, "the title again")


def test_something_is_hidden_reordered_and_told_where_it_can_not_be_read(desk: Page, running: RunningApp, quote: int):
    with running.client as client:
        revision = client.get(f"/api/quotes/{quote}").json()["revision"]
        for what in ({"kind": "title", "text": "One"}, {"kind": "progress"}):
            change = {"kind": "add-overlay", "what": what}
            revision = client.post(f"/api/quotes/{quote}/edits", json={"on_revision": revision, "edit": change}).json()[
                "revision"
            ]
    opened(desk, running, quote)
    desk.get_by_role("button", name="Title One, whole clip").click()
    desk.get_by_label("Centre down, %").fill("70")
    desk.get_by_label("Centre down, %").press("Enter")
    expect(desk.get_by_text("“One” stands on the captions.")).to_be_visible()
    desk.get_by_role("button", name="Place it automatically").first.click()
    expect(desk.get_by_text("“One” stands on the captions.")).to_have_count(0)
    desk.get_by_text("Order", exact=True).click()
    desk.get_by_role("button", name="Forward").click()
    wait_for(lambda: [one["id"] for one in over(running, quote)] == [2, 1], "the title in front")
    desk.get_by_role("button", name="Hide", exact=True).click()
    wait_for(lambda: [one["item"] for one in shown(running, quote)] == [2], "the title to be hidden")
    expect(desk.get_by_role("button", name=re.compile("^Title One")).get_by_label("Hidden")).to_be_visible()


def logo(colour: str) -> dict[str, Any]:
    return {"name": "House.svg", "mimeType": "image/svg+xml", "buffer": LAMP.replace("0B5454", colour).encode()}


def test_a_finish_is_made_applied_to_six_its_logo_changed_and_all_exported(desk: Page, running: RunningApp, demo: int):
    with running.client as client:
        quotes = [int(keep(client, demo, "Keep the wick short.")["id"]) for _ in range(6)]
    opened(desk, running, quotes[0])
    desk.get_by_role("button", name="Title", exact=True).click()
    expect(desk.get_by_role("button", name=re.compile("^Title Keep the wick short"))).to_be_visible()
    desk.get_by_role("button", name="Logo", exact=True).click()
    desk.get_by_label("A picture of the house’s").set_input_files(files=[logo("A1B2C3")])  # type: ignore[list-item]
    expect(desk.get_by_role("button", name="Logo, whole clip")).to_be_visible()
    desk.get_by_role("button", name="Make a finish of this").click()
    desk.get_by_role("dialog").get_by_label("Name").fill("Evening talk")
    desk.get_by_role("button", name="Make it").click()
    expect(desk.get_by_role("combobox", name="Finish", exact=True)).to_have_value(re.compile("^own-"))
    expect(desk.get_by_text("From the finish.")).to_have_count(0)
    desk.get_by_role("button", name="Logo, whole clip").click()
    expect(desk.get_by_text("From the finish. What you change here stays in this quote.")).to_be_visible()

    desk.on("dialog", lambda dialog: dialog.accept())
    desk.goto(f"{running.url}/shortlist?talk={demo}")
    desk.get_by_label("Finish for these quotes").select_option("Evening talk")
    expect(desk.get_by_text(re.compile("follow Evening talk now"))).to_be_visible()
    assert all([one["kind"] for one in shown(running, quote)] == ["lines", "picture"] for quote in quotes)

    desk.goto(f"{running.url}/house")
    mine = desk.get_by_role("region", name="Pictures").get_by_role("listitem").filter(has_text="House")
    mine.get_by_label("A picture for House").set_input_files(files=[logo("F2C14E")])  # type: ignore[list-item]
    expect(desk.get_by_text("Replaced House in every quote.")).to_be_visible()
    assert all(shown(running, quote)[1]["revision"] == 2 for quote in quotes)

    with running.client as client:
        every = [one for quote in quotes for one in client.post(f"/api/quotes/{quote}/exports", json={}).json()]
        assert len(every) == 6
        # They are alike: the first and the last of them stand for all.
        for one in every[1:-1]:
            client.post(f"/api/work/{one['work_id']}/stop").raise_for_status()

        def done() -> bool:
            states = {one["id"]: one["state"] for one in client.get("/api/exports").json()}
            return all(states[one["id"]] == "done" for one in (every[0], every[-1]))

        wait_for(done, "the clips", 180)


def test_a_thing_is_copied_to_another_quote(desk: Page, running: RunningApp, demo: int, quote: int):
    with running.client as client:
        other = int(keep(client, demo, "A small repair is a way of saying that a thing still matters.")["id"])
        title = client.get(f"/api/quotes/{other}").json()["document"]["title"]
    opened(desk, running, quote)
    desk.get_by_role("button", name="Progress line", exact=True).click()
    desk.get_by_text("Copy to another quote").click()
    desk.get_by_label("Copy to", exact=True).select_option(str(other))
    desk.get_by_role("button", name="Copy", exact=True).click()
    expect(desk.get_by_text(f"Copied to “{title}”.")).to_be_visible()
    assert [one["what"]["kind"] for one in over(running, other)] == ["progress"]


def test_a_finish_is_held_and_changed_from_a_quote(desk: Page, running: RunningApp, quote: int):
    opened(desk, running, quote)
    desk.get_by_role("combobox", name="Finish", exact=True).select_option("Sound only")
    wait_for(lambda: [one["kind"] for one in shown(running, quote)] == ["lines", "wave", "clock"], "the finish")
    desk.get_by_role("button", name="Time left, whole clip").click()
    desk.get_by_role("button", name="Hide", exact=True).click()
    expect(desk.get_by_text("Changed in this quote.")).to_be_visible()
    desk.get_by_role("button", name="Reset to the finish").click()
    wait_for(lambda: over(running, quote) == [], "what the finish says")
    desk.get_by_role("button", name="Hold this version").click()
    expect(desk.get_by_text("Holds version 1.")).to_be_visible()
    desk.get_by_role("button", name="Follow it again").click()
    expect(desk.get_by_text("Follows version 1.")).to_be_visible()


def kept_as(running: RunningApp, quote: int, kind: str) -> dict[str, Any]:
    """What a quote has of a kind; nothing where it has none."""
    return next((one["what"] for one in over(running, quote) if one["what"]["kind"] == kind), {})


def test_a_cover_is_chosen_among_sharp_frames_and_by_key(desk: Page, running: RunningApp, quote: int):
    opened(desk, running, quote)
    desk.get_by_role("button", name="Cover", exact=True).click()
    frames = desk.get_by_role("group", name="Frames", exact=True).get_by_role("button")
    expect(frames.first).to_be_visible(timeout=30_000)
    frames.nth(1).click()
    wait_for(lambda: kept_as(running, quote, "cover").get("shows", {}).get("at_ms"), "a frame")
    expect(frames.nth(1)).to_have_attribute("aria-pressed", "true")
    expect(desk.get_by_text("0:00.00 /")).to_be_visible()
    chosen = kept_as(running, quote, "cover")["shows"]["at_ms"]
    desk.get_by_label("Only in tall").check()
    frames.first.click()
    wait_for(
        lambda: kept_as(running, quote, "cover")["in_shapes"].get("tall", {}).get("at_ms") not in (None, chosen),
        "its own",
    )
    assert kept_as(running, quote, "cover")["shows"]["at_ms"] == chosen
    desk.get_by_label("Title", exact=True).fill("")
    desk.get_by_label("Title", exact=True).press("Tab")
    wait_for(lambda: kept_as(running, quote, "cover")["text"] == "", "no title on it")
    desk.get_by_label("Only in tall").uncheck()
    wait_for(lambda: kept_as(running, quote, "cover")["in_shapes"] == {}, "one for all shapes")
    desk.get_by_role("button", name="Done").click()
    desk.keyboard.press("End")
    for _ in range(3):
        desk.keyboard.press("ArrowRight")
    desk.keyboard.press("c")
    wait_for(lambda: kept_as(running, quote, "cover")["shows"]["at_ms"] != chosen, "the frame on the stage")
    refused = desk.get_by_role("button", name="Cover", exact=True)
    refused.click()
    expect(desk.get_by_text("This clip already has its cover")).to_be_visible()


def test_an_end_card_is_made_shown_and_counted(desk: Page, running: RunningApp, quote: int):
    opened(desk, running, quote)
    desk.get_by_role("button", name="End card", exact=True).click()
    region = desk.get_by_role("region", name="End card")
    region.get_by_label("Address", exact=True).fill("lamphouse.example/talks")
    region.get_by_label("Address", exact=True).press("Tab")
    region.get_by_label("QR code of the address").check()
    wait_for(lambda: {one["kind"] for one in shown(running, quote)} == {"lines", "code"}, "the card")
    with running.client as client:
        before = client.get(f"/api/quotes/{quote}").json()["versions"][0]["length_ms"]
    length = region.get_by_role("slider", name="Length")
    length.focus()
    length.press("ArrowRight")
    wait_for(lambda: kept_as(running, quote, "end-card")["length_ms"] == 3100, "longer")
    with running.client as client:
        assert client.get(f"/api/quotes/{quote}").json()["versions"][0]["length_ms"] > before
    # It plays to its end, where nothing of the recording is left to play.
    desk.keyboard.press("Escape")
    desk.get_by_role("button", name="End card Hear the whole talk, 3.1 s at the end").click()
    stage = desk.get_by_label("Tall 15 as it will be").or_(desk.get_by_label("Tall 60 as it will be")).first
    colour = stage.locator("canvas").first.evaluate(
        "one => Array.from(one.getContext('2d').getImageData(4, one.height - 4, 1, 1).data).slice(0, 3)"
    )
    assert colour == [28, 35, 48], "the house’s colour"


def test_music_is_chosen_lowered_and_told_with_its_licence(desk: Page, running: RunningApp, quote: int):
    opened(desk, running, quote)
    desk.get_by_role("button", name="Music", exact=True).click()
    desk.get_by_role("group", name="Music: choose a piece").get_by_role("button", name="Still water").click()
    wait_for(lambda: kept_as(running, quote, "music").get("sound") == 2, "the piece")
    region = desk.get_by_role("region", name="Music")
    expect(region.get_by_text("free to use")).to_be_visible()
    duck = region.get_by_role("slider", name="While somebody speaks")
    duck.focus()
    duck.press("Home")
    wait_for(lambda: kept_as(running, quote, "music")["duck_db"] == 0, "not lowered")
    expect(region.get_by_text("only 6 dB below the voice")).to_be_visible()
    region.get_by_role("button", name="Lower it under the voice").click()
    wait_for(lambda: kept_as(running, quote, "music")["duck_db"] == 9, "as low as it should be")
    desk.get_by_role("group", name="Strength").get_by_role("button", name="Firm").click()
    wait_for(lambda: kept_as(running, quote, "speaking-sound").get("strength") == "firm", "a cleaned voice")
    desk.keyboard.press("b")
    expect(desk.get_by_label("Play the voice as recorded")).to_be_checked()
    desk.get_by_role("group", name="Strength").get_by_role("button", name="None").click()
    wait_for(lambda: not kept_as(running, quote, "speaking-sound"), "the voice as it was")


def test_house_keeps_music_and_roles(desk: Page, running: RunningApp, demo: int):
    desk.goto(f"{running.url}/house")
    sounds = desk.get_by_role("region", name="Music and sounds")
    licence = sounds.get_by_label("Licence of First light")
    licence.fill("Ours: free")
    licence.press("Tab")
    expect(desk.get_by_text("Saved First light.")).to_be_visible()
    bad = {"name": "bad.wav", "mimeType": "audio/wav", "buffer": b"RIFF0000WAVEnothing"}
    sounds.get_by_label("A sound of the house’s").set_input_files(files=[bad])  # type: ignore[list-item]
    expect(desk.get_by_text("This file has no sound that can be read")).to_be_visible()
    role = desk.get_by_role("region", name="People").get_by_label("Role of Maren Tolley")
    role.fill("Keeper of lamps")
    role.press("Tab")
    expect(desk.get_by_text("Maren Tolley: Keeper of lamps.")).to_be_visible()
    with running.client as client:
        assert client.get("/api/catalogue").json()["roles"] == {"Maren Tolley": "Keeper of lamps"}
        client.put("/api/house/people", json={"name": "Maren Tolley", "role": ""})
