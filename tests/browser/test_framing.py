"""Frame: every shot of the cut framed well in every shape, looked at only where it is doubtful, and put right by one gesture."""

import re
from typing import Any

import httpx
from playwright.sync_api import Page, expect

from tests.browser.conftest import select_words
from tests.conftest import RunningApp, find_words, wait_for, words_of
from tests.helpers import edit, keep, resolved

SHAPES = ("tall-60", "square-60", "portrait-60", "wide-140")


def kept(client: httpx.Client, talk: int, opens: str, ends: str, *destinations: str) -> int:
    """A quote from where it opens to where it ends, for some destinations besides the one it is kept for."""
    quote = keep(client, talk, opens, ends)
    for one in destinations:
        if one not in [version["destination"] for version in quote["document"]["versions"]]:
            quote = edit(client, quote, kind="add-version", destination=one).json()
    return int(quote["id"])


def quote_of(client: httpx.Client, quote: int) -> dict[str, Any]:
    return dict(client.get(f"/api/quotes/{quote}").json())


def framings(client: httpx.Client, quote: int) -> dict[str, list[dict[str, Any]]]:
    """How each version is framed, shot by shot."""
    versions = client.get(f"/api/quotes/{quote}/versions").json()["versions"]
    return {one["destination"]: one["framing"] for one in versions}


def open_frame(page: Page, running: RunningApp, quote: int) -> None:
    page.goto(f"{running.url}/quote/{quote}/frame")
    expect(page.get_by_role("heading", name=re.compile("^Shot 1 of"))).to_be_visible()


def go_to(page: Page, number: int) -> None:
    heading = page.get_by_role("heading", name=re.compile(f"^Shot {number} of"))

    def there() -> bool:
        # The page scrolls to its words while it opens, and a block may move away under the pointer.
        page.get_by_role("button", name=re.compile(f"^Shot {number}: ")).click()
        page.wait_for_timeout(300)
        return heading.is_visible()

    wait_for(there, f"shot {number}")


def test_the_podcast_is_framed_in_all_shapes_without_a_gesture(desk: Page, running: RunningApp, kettles: int):
    with running.client as client:
        quote = kept(client, kettles, "Welcome back", "smells of vinegar.", *SHAPES)
        told = framings(client, quote)
    assert all(one["heads_inside"] == 1 and one["moves"] == 0 for framed in told.values() for one in framed)
    assert not any(one["doubts"] for framed in told.values() for one in framed)
    open_frame(desk, running, quote)
    for name in ("Tall 60", "Square 60", "Portrait 60", "Wide 140"):
        expect(desk.get_by_label(f"{name} as it will be")).to_be_visible()
    expect(desk.get_by_text("Nothing doubtful")).to_be_visible()
    expect(desk.get_by_text("Ivo, medium, still").first).to_be_visible()
    expect(desk.get_by_role("button", name=re.compile("^Shot 2: Sanna, close, still"))).to_be_visible()
    desk.keyboard.press("n")
    expect(desk.get_by_role("status").filter(has_text="Nothing is doubtful")).to_be_visible()


def test_the_chapel_is_followed_and_the_webinar_shows_its_slide(
    desk: Page, running: RunningApp, demo: int, barrels: int
):
    with running.client as client:
        walk = kept(client, demo, "Now the oil we used to get,", "begin to look at the door.", "tall-60")
        slides = kept(client, barrels, "A shed of six", "take off a fifth.", *SHAPES)
        (walked,) = framings(client, walk)["tall-60"]
        assert walked["heads_inside"] > 0.995
        assert {one: framed[0]["name"] for one, framed in framings(client, slides).items()} == {
            one: "one" if one == "wide-140" else "slide" for one in framings(client, slides)
        }
    open_frame(desk, running, slides)
    expect(desk.get_by_text("slide above, speaker below").first).to_be_visible()
    expect(desk.get_by_role("group", name="Doubtful")).to_contain_text(re.compile(r"Enlarged \d\.\d times"))
    desk.keyboard.press("m")
    expect(desk.get_by_text("Marked as fine.")).to_be_visible()
    expect(desk.get_by_text("Nothing doubtful")).to_be_visible()
    desk.keyboard.press("Control+z")
    expect(desk.get_by_role("group", name="Doubtful")).to_be_visible()


def test_one_framing_is_given_to_its_like_and_one_undo_takes_it_back(desk: Page, running: RunningApp, kettles: int):
    with running.client as client:
        quote = kept(client, kettles, "That is unfair,", "because you have unplugged it.", "tall-60")
    open_frame(desk, running, quote)
    go_to(desk, 2)
    expect(desk.get_by_text("Sanna’s close-up").first).to_be_visible()
    desk.get_by_label("Closeness").fill("1.9")
    expect(desk.get_by_text("Sanna, close, still").first).to_be_visible()
    desk.keyboard.press("g")
    dialog = desk.get_by_role("dialog")
    expect(dialog).to_contain_text("Give the framing of shot 2")
    ticked = dialog.get_by_role("listitem").filter(has_text="will be:")
    many = ticked.count()
    assert many >= 3
    expect(ticked.first).to_contain_text("Sanna’s close-up")
    dialog.get_by_role("button", name=f"Give to {many} shots in every shape").click()
    expect(dialog).to_have_count(0)

    def close() -> list[bool]:
        with running.client as client:
            return [one["closeness"] > 1.7 for one in framings(client, quote)["tall-60"]]

    wait_for(lambda: sum(close()) == many + 1, "the framing to be given")
    desk.keyboard.press("Control+z")
    wait_for(lambda: sum(close()) == 1, "one undo to take it back")


def test_one_sentence_is_enlarged_by_its_words(desk: Page, running: RunningApp, demo: int):
    with running.client as client:
        words = words_of(client, demo)
        quote = kept(client, demo, "So people ask me, what is the secret?", "it is still burning at dawn.", "tall-60")
    open_frame(desk, running, quote)
    first, _ = find_words(words, "Keep the wick short. A long wick")
    select_words(desk, first, first + 3)
    desk.keyboard.press("s")
    expect(desk.get_by_role("heading", name="Shot 2 of 3")).to_be_visible()
    desk.get_by_label("Closeness").fill("1.6")
    with running.client as client:
        wait_for(
            lambda: [one["closeness"] > 1.5 for one in framings(client, quote)["tall-60"]] == [False, True, False],
            "the sentence to be shown closer",
        )
    desk.get_by_role("button", name="Join to the one before").click()
    expect(desk.get_by_role("heading", name=re.compile("of 2"))).to_be_visible()


def test_somebody_is_chosen_by_a_click_and_both_by_another(desk: Page, running: RunningApp, kettles: int):
    with running.client as client:
        quote = kept(client, kettles, "Welcome back", "I have brought a toaster.", "tall-60")
    open_frame(desk, running, quote)
    stage = desk.get_by_role("group", name="Stage")
    stage.get_by_role("button", name="Sanna").click()
    expect(desk.get_by_text(re.compile("^Sanna, .*still")).first).to_be_visible()
    desk.get_by_role("button", name="Both").click()
    expect(desk.get_by_text("both, stacked").first).to_be_visible()
    with running.client as client:
        before = framings(client, quote)["tall-60"][0]["subjects"]
        desk.get_by_role("button", name="Swap them").click()
        wait_for(lambda: framings(client, quote)["tall-60"][0]["subjects"] == before[::-1], "them to be swapped")
    desk.get_by_role("button", name="Reset", exact=True).click()
    expect(desk.get_by_text(re.compile("^Ivo, .*still")).first).to_be_visible()


def test_a_window_is_placed_by_numbers_and_rests_by_keys_alone(desk: Page, running: RunningApp, demo: int):
    with running.client as client:
        quote = kept(client, demo, "They were not pretty.", "One of them was mostly putty.", "tall-60", "square-60")
    open_frame(desk, running, quote)
    desk.get_by_text(re.compile("^Place in")).focus()
    desk.keyboard.press("Enter")
    across = desk.get_by_label("Across in percent")
    across.fill("30.5")
    across.press("Enter")
    expect(desk.get_by_text("placed by hand").first).to_be_visible()
    expect(desk.get_by_role("group", name="Doubtful")).to_contain_text("Leaves the window for")
    across.fill("9000")
    across.press("Enter")
    expect(across).to_have_value("100.0")
    across.blur()
    desk.keyboard.press("v")
    expect(desk.get_by_role("tab", name="Square 60")).to_have_attribute("aria-selected", "true")
    desk.get_by_label("Place in the cut").fill("0.8")
    desk.get_by_label("Place in the cut").blur()
    desk.keyboard.press("a")
    window = desk.get_by_role("application")
    window.focus()
    for _ in range(4):
        desk.keyboard.press("Shift+ArrowLeft")
    expect(desk.get_by_text("placed by hand, 1 move").first).to_be_visible()
    desk.keyboard.press("Control+z")
    desk.keyboard.press("Control+z")
    expect(desk.get_by_text("placed by hand, 1 move")).to_have_count(0)


def test_two_people_frame_different_shots_and_both_stay(desk: Page, running: RunningApp, kettles: int):
    with running.client as client:
        quote = kept(client, kettles, "That is unfair,", "it took me eleven evenings,", "tall-60")
    desk.route("**/api/changes", lambda route: route.abort())
    open_frame(desk, running, quote)
    with running.client as other:
        shots = framings(other, quote)["tall-60"]
        moment = shots[0]["kept"][0]["start_ms"] + 50
        change = {"kind": "frame-shot", "at_ms": moment, "destination": None, "change": {"layout": "whole"}}
        assert edit(other, quote_of(other, quote), **change).status_code == 200
        go_to(desk, 2)
        desk.get_by_label("Closeness").fill("1.8")
        expect(desk.get_by_role("status").filter(has_text="Changed elsewhere meanwhile, and kept")).to_be_visible()
        now = framings(other, quote)["tall-60"]
    assert now[0]["name"] == "whole"
    assert now[1]["closeness"] > 1.7


def test_a_recording_of_sound_only_has_a_colour_to_choose(desk: Page, running: RunningApp, ferry: int):
    with running.client as client:
        made = client.post(f"/api/recordings/{ferry}/quotes", json={"first": 0, "last": 12}).json()
    desk.goto(f"{running.url}/quote/{made['id']}/frame")
    expect(desk.get_by_text("This recording has sound only.")).to_be_visible()
    desk.get_by_label("Colour behind the picture").evaluate(
        "field => { field.value = '#0b6e6e'; field.dispatchEvent(new Event('change', { bubbles: true })); }"
    )
    with running.client as client:
        wait_for(
            lambda: (
                resolved(client, quote_of(client, made["id"]))[0]["assembly"]["picture"][0]["behind"]["colour"]
                == "#0B6E6E"
            ),
            "the colour to be kept",
        )


def test_a_house_makes_a_destination_of_its_own_and_a_quote_is_framed_for_it(
    desk: Page, running: RunningApp, demo: int
):
    desk.goto(f"{running.url}/house")
    desk.get_by_role("button", name="New destination").click()
    form = desk.get_by_role("dialog", name="New destination")
    form.get_by_label("Name", exact=True).fill("Stairwell screen")
    form.get_by_label("Width").first.fill("1081")
    form.get_by_label("Height").first.fill("1440")
    form.get_by_role("button", name="Save").click()
    expect(form.get_by_role("alert")).to_contain_text("The nearest is 1082 × 1440")
    form.get_by_label("Width").first.fill("1080")
    form.get_by_role("button", name="Remove covered area 1").click()
    form.get_by_role("button", name="Save").click()
    expect(desk.get_by_role("status").filter(has_text="Added Stairwell screen")).to_be_visible()
    expect(desk.get_by_role("row").filter(has_text="Stairwell screen")).to_contain_text("1080×1440")
    with running.client as client:
        quote = kept(client, demo, "They were not pretty.", "One of them was mostly putty.", "tall-60")
    open_frame(desk, running, quote)
    desk.locator("summary").filter(has_text="Where it goes").click()
    desk.get_by_role("checkbox", name="Stairwell screen").check()
    expect(desk.get_by_label("Stairwell screen as it will be")).to_be_visible()
    desk.goto(f"{running.url}/house")
    desk.get_by_role("button", name="Retire Stairwell screen").click()
    expect(desk.get_by_role("button", name="Offer again Stairwell screen")).to_be_visible()
