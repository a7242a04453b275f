"""Following: who leans, who turns away and is passed by, and a boat that matters more than who speaks; light and colour;
the recording beside the clip."""

import re
from typing import Any

import psycopg
from playwright.sync_api import Page, expect

from tests.browser.test_framing import framings, kept, open_frame
from tests.conftest import RunningApp, wait_for
from tests.helpers import edit
from tests.truth import RATE, truth_of

BOAT = truth_of("the-wall-and-the-boat")["things"]["the pilot boat"]


def walked(client: Any, wall: int, *destinations: str) -> int:
    return kept(client, wall, "This is the harbour wall", "the boat is why.", *destinations)


def source_ms(client: Any, quote: int, part: float) -> float:
    """The moment of the recording at a part of a cut that strikes nothing."""
    span = client.get(f"/api/quotes/{quote}").json()["document"]["span"]
    return float(span["start_ms"] + part * (span["end_ms"] - span["start_ms"]))


def at_boat(page: Page, client: Any, quote: int) -> tuple[list[float], float]:
    """Goes to where the boat is; its box there, in fractions of the picture, and the moment."""
    part = 0.79
    page.get_by_label("Place in the cut").fill(str(part))
    ms = source_ms(client, quote, part)
    left, top, width, height, _ = BOAT[round(ms * RATE / 1000)]
    return [left / 1280, top / 720, width / 1280, height / 720], ms


def shown_boat(client: Any, quote: int) -> list[dict[str, Any]]:
    return [one for one in framings(client, quote)["tall-90"] if one["subjects"] == [5000]]


def test_a_lean_is_followed_and_who_turns_away_or_is_passed_by_stays_in_the_window(
    desk: Page, running: RunningApp, demo: int, wall: int
):
    with running.client as client:
        lean = kept(client, demo, "Now the oil we used to get,", "begin to look at the door.", "tall-60")
        walk = walked(client, wall, "tall-90", "square-60")
        (leaning,) = framings(client, lean)["tall-60"]
        told = framings(client, walk)
    assert leaning["heads_inside"] > 0.995
    assert leaning["moves"] <= 4
    for framed in told.values():
        assert len(framed) == 1, "slides and turned heads are no cuts"
        assert framed[0]["subjects"] == [0]
        assert framed[0]["heads_inside"] > 0.995
        assert not framed[0]["doubts"]
    open_frame(desk, running, walk)
    expect(desk.get_by_text("follows Edda, 1 move").first).to_be_visible()


def test_a_boat_is_followed_from_a_box_drawn_around_it(desk: Page, running: RunningApp, wall: int):
    with running.client as client:
        quote = walked(client, wall, "tall-90")
        open_frame(desk, running, quote)
        (x, y, width, height), ms = at_boat(desk, client, quote)
        desk.get_by_role("button", name="Follow something else").click()
        field = desk.get_by_role("application", name=re.compile("^Box around what to follow"))
        on = field.bounding_box()
        assert on
        desk.mouse.move(on["x"] + x * on["width"], on["y"] + y * on["height"])
        desk.mouse.down()
        desk.mouse.move(on["x"] + (x + width) * on["width"], on["y"] + (y + height) * on["height"], steps=4)
        desk.mouse.up()
        desk.get_by_label("What is it?").fill("the pilot boat")
        desk.get_by_role("button", name="Follow it").click()
        expect(desk.get_by_role("button", name="the pilot boat", exact=True).first).to_be_visible()
        wait_for(lambda: shown_boat(client, quote), "the boat")
        (boat,) = shown_boat(client, quote)
        assert boat["span"]["start_ms"] <= ms < boat["span"]["end_ms"]
        assert boat["heads_inside"] > 0.99
        first = next(at for at in range(len(BOAT)) if BOAT[at]) * 1000 / RATE
        assert abs(boat["span"]["start_ms"] - first) < 2500, "before it comes in who speaks is shown"
        expect(desk.get_by_text("follows the pilot boat").first).to_be_visible()
        desk.keyboard.press("Control+z")
        wait_for(lambda: not shown_boat(client, quote), "one undo")
        desk.get_by_role("button", name="Follow the pilot boat no longer").click()
        expect(desk.get_by_role("button", name="the pilot boat", exact=True)).to_have_count(0)
        desk.get_by_role("status").get_by_role("button", name="Undo").click()
        expect(desk.get_by_role("button", name="the pilot boat", exact=True).first).to_be_visible()


def test_a_box_is_drawn_by_keys_alone_and_one_on_nothing_is_told(desk: Page, running: RunningApp, wall: int):
    with running.client as client:
        quote = walked(client, wall, "tall-90")
    open_frame(desk, running, quote)
    desk.keyboard.press("f")
    field = desk.get_by_role("application", name=re.compile("^Box around what to follow"))
    expect(field).to_be_focused()
    for _ in range(45):
        desk.keyboard.press("ArrowUp")
    for key in ("Shift+ArrowLeft", "Shift+ArrowUp"):
        for _ in range(16):
            desk.keyboard.press(key)
    desk.keyboard.press("Enter")
    # The sky: there is nothing to know it by.
    expect(desk.get_by_text("There is nothing in that box to follow it by")).to_be_visible()
    desk.keyboard.press("f")
    expect(field).to_be_focused()
    desk.keyboard.press("Escape")
    expect(field).to_have_count(0)
    with running.client as client:
        assert all(one["subjects"] == [0] for one in framings(client, quote)["tall-90"])


def test_a_shot_gets_its_colour_which_is_given_to_others_by_itself(desk: Page, running: RunningApp, kettles: int):
    with running.client as client:
        quote = kept(client, kettles, "That is unfair,", "it took me eleven evenings,", "tall-60")
        shots = len(framings(client, quote)["tall-60"])
    open_frame(desk, running, quote)
    desk.locator("summary").filter(has_text="Colour").click()
    slider = desk.get_by_role("slider", name=re.compile("^Exposure"))
    slider.focus()
    slider.fill("0.7")
    expect(desk.get_by_text("+0.70 stops")).to_be_visible()
    expect(desk.locator("summary").filter(has_text="Colour · changed")).to_be_visible()

    def exposures() -> list[float | None]:
        with running.client as client:
            return [one["choice"]["exposure"] for one in framings(client, quote)["tall-60"]]

    wait_for(lambda: exposures()[0] == 0.7, "the exposure")
    desk.keyboard.press("g")
    dialog = desk.get_by_role("dialog")
    for what in ("Layout and who", "Closeness"):
        dialog.get_by_role("checkbox", name=what).uncheck()
    dialog.get_by_role("checkbox", name="Colour").check()
    dialog.get_by_role("button", name="All shots").click()
    dialog.get_by_role("button", name=re.compile("^Give to")).click()
    wait_for(lambda: exposures() == [0.7] * shots, "the colour given to all")
    desk.get_by_role("group", name="Which shots to colour").get_by_role("button", name="Every shot").click()
    desk.get_by_role("button", name="Expose the faces well").click()
    # They were lit well as they were drawn.
    wait_for(
        lambda: all(one is not None and abs(one) < 0.7 for one in exposures()), "faces exposed by what is measured"
    )
    warmth = desk.get_by_role("slider", name=re.compile("^Warmth"))
    warmth.fill("0.5")
    desk.get_by_role("button", name="As filmed").click()
    wait_for(lambda: set(exposures()) == {0.0}, "as it was filmed")


def test_the_recording_stands_beside_the_clip_in_step(desk: Page, running: RunningApp, wall: int):
    with running.client as client:
        quote = walked(client, wall, "tall-90", "square-60")
    open_frame(desk, running, quote)
    desk.keyboard.press("c")
    expect(desk.get_by_text("The recording, as it was filmed.")).to_be_visible()
    shape = desk.get_by_label("Tall 90 as it will be")
    expect(desk.get_by_label("Square 60 as it will be")).to_have_count(0)
    wait_for(lambda: (shape.bounding_box() or {"height": 0})["height"] > 400, "a shape as large as there is room for")
    desk.keyboard.press("Space")
    expect(desk.get_by_role("button", name=re.compile("Pause"))).to_be_visible()
    desk.keyboard.press("Space")
    desk.keyboard.press("c")
    expect(desk.get_by_label("Square 60 as it will be")).to_be_visible()


def test_a_recording_looked_at_by_an_older_version_can_be_looked_at_again(desk: Page, running: RunningApp, wall: int):
    with running.client as client:
        quote = walked(client, wall, "tall-90")
        edit(
            client, client.get(f"/api/quotes/{quote}").json(), kind="frame-shot", at_ms=5000, change={"closeness": 1.2}
        )
        with psycopg.connect(running.settings.database_url) as conn:
            conn.execute("update recording set seen_version = 1 where id = %s", [wall])
        open_frame(desk, running, quote)
        desk.get_by_role("button", name="Look again").click()
        expect(desk.get_by_role("status").filter(has_text="being looked at again")).to_be_visible()
        wait_for(lambda: not client.get(f"/api/recordings/{wall}").json()["seen_by_older"], "another look", 120)
        (shot,) = framings(client, quote)["tall-90"]
    assert (shot["choice"]["closeness"], shot["subjects"]) == (1.2, [0])


def test_captions_stand_in_the_band_beside_a_whole_picture(desk: Page, running: RunningApp, barrels: int):
    with running.client as client:
        quote = kept(client, barrels, "A shed of six", "take off a fifth.", "tall-60")
        edit(client, client.get(f"/api/quotes/{quote}").json(), kind="frame-shot", change={"layout": "whole"})
        desk.goto(f"{running.url}/quote/{quote}/captions")
        desk.get_by_role("tab", name="Tall 60").click()
        desk.get_by_role("button", name="In the band above").click()

        def height() -> float:
            versions = client.get(f"/api/quotes/{quote}/versions").json()["versions"]
            tall = next(one for one in versions if one["destination"] == "tall-60")
            return float(tall["assembly"]["cue_tracks"][0]["height"])

        wait_for(lambda: height() < 0.34, "captions above the picture")
    expect(desk.get_by_role("button", name="In the band above")).to_have_attribute("aria-pressed", "true")
