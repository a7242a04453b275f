"""Captions: broken, timed, hidden, emphasised and mended by keys and pointer; looks, translations and files, in the real workbench."""

import re
from typing import Any

import httpx
import pytest
from playwright.sync_api import Page, expect

from tests.api.test_styles import own_face
from tests.conftest import RunningApp, wait_for
from tests.helpers import keep

SAID = "So people ask me, what is the secret? You know, there is no secret. Keep the wick short."


@pytest.fixture
def quote(running: RunningApp, demo: int) -> int:
    with running.client as client:
        return int(keep(client, demo, SAID)["id"])


def document(running: RunningApp, quote: int) -> dict[str, Any]:
    with running.client as client:
        return dict(client.get(f"/api/quotes/{quote}").json()["document"]["captions"])


def cues(running: RunningApp, quote: int) -> list[dict[str, Any]]:
    with running.client as client:
        versions = client.get(f"/api/quotes/{quote}/versions").json()["versions"]
        return list(versions[0]["assembly"]["cue_tracks"][0]["cues"])


def said(running: RunningApp, quote: int) -> list[str]:
    return [
        " / ".join(" ".join(word["text"] for word in line) for line in cue["lines"]) for cue in cues(running, quote)
    ]


def opened(page: Page, running: RunningApp, quote: int) -> None:
    page.goto(f"{running.url}/quote/{quote}/captions")
    expect(page.locator("textarea.said").first).to_be_visible()


def until_said(running: RunningApp, quote: int, wanted: list[str]) -> None:
    wait_for(lambda: said(running, quote)[: len(wanted)] == wanted, f"captions to say {wanted}", 20)


def caret(page: Page, number: int, before: str) -> None:
    """Puts the caret just before a text in the cue of a number."""
    box = page.locator("textarea.said").nth(number)
    # The page follows what was changed a moment later.
    expect(box).to_have_value(re.compile(re.escape(before)))
    box.click()
    box.evaluate("(box, text) => { const at = box.value.indexOf(text); box.setSelectionRange(at, at); }", before)


def test_cues_are_parted_joined_and_broken_by_keys_alone(desk: Page, running: RunningApp, quote: int):
    plain = said(running, quote)
    opened(desk, running, quote)
    desk.keyboard.press("Enter")
    expect(desk.locator("textarea.said").first).to_be_focused()
    caret(desk, 0, "ask")
    desk.keyboard.press("Enter")
    until_said(running, quote, ["So people"])
    # The caret goes along: Backspace joins what was parted.
    expect(desk.locator("textarea.said").nth(1)).to_be_focused()
    expect(desk.get_by_label("Fixed by hand").first).to_be_visible()
    desk.keyboard.press("Backspace")
    until_said(running, quote, plain)
    caret(desk, 1, "is no")
    desk.keyboard.press("Shift+Enter")
    wait_for(lambda: said(running, quote)[1] == "You know, there / is no secret.", "a line of its own", 20)
    expect(desk.locator("textarea.said").nth(1)).to_have_value("You know, there\nis no secret.")
    desk.get_by_role("button", name="Let go").click()
    until_said(running, quote, plain)
    desk.get_by_role("button", name="Undo").click()
    wait_for(lambda: said(running, quote)[1] == "You know, there / is no secret.", "undo", 20)


def test_words_go_over_a_boundary_with_its_bar(desk: Page, running: RunningApp, quote: int):
    opened(desk, running, quote)
    first = said(running, quote)[0].replace(" / ", " ").split()
    bar = desk.get_by_role("slider", name=re.compile("^Boundary before")).first
    bar.focus()
    desk.keyboard.press("ArrowUp")
    wait_for(lambda: said(running, quote)[0].replace(" / ", " ").split() == first[:-1], "a word to move down", 20)
    expect(desk.locator("textarea.said").first).not_to_have_value(re.compile("secret"))
    box = bar.bounding_box()
    assert box
    desk.mouse.move(box["x"] + 60, box["y"] + 4)
    desk.mouse.down()
    desk.mouse.move(box["x"] + 60, box["y"] + 24, steps=4)
    expect(desk.get_by_text("1 word up")).to_be_visible()
    desk.mouse.up()
    wait_for(lambda: said(running, quote)[0].replace(" / ", " ").split() == first, "it to come back", 20)


def test_times_are_typed_and_nudged_by_frames(desk: Page, running: RunningApp, quote: int):
    opened(desk, running, quote)
    before = cues(running, quote)[1]
    desk.locator("textarea.said").nth(1).click()
    tools = desk.get_by_role("group", name="This caption")
    began = before["first_frame"]
    tools.get_by_label("In").focus()
    desk.keyboard.press("ArrowUp")
    wait_for(lambda: cues(running, quote)[1]["first_frame"] == began + 1, "a frame later", 20)
    expect(tools.get_by_label("In")).not_to_have_value("")
    ms = (began + 6) * 40
    tools.get_by_label("In").fill(f"{ms // 60000}:{ms % 60000 / 1000:05.2f}")
    tools.get_by_label("In").press("Tab")
    wait_for(lambda: abs(cues(running, quote)[1]["first_frame"] - began - 6) <= 1, "a typed time", 20)
    # Typed and taken back is nothing typed: what happens next is shown.
    shown = tools.get_by_label("In").input_value()
    tools.get_by_label("In").fill("0")
    tools.get_by_label("In").fill(shown)
    tools.get_by_label("In").press("ArrowUp")
    expect(tools.get_by_label("In")).not_to_have_value(shown)
    tools.get_by_label("In").fill("soon")
    tools.get_by_label("In").press("Tab")
    expect(tools.get_by_label("In")).not_to_have_value("soon")


def test_a_cue_is_hidden_emphasised_and_a_sound_is_put_in(desk: Page, running: RunningApp, demo: int):
    with running.client as client:
        quote = int(keep(client, demo, "So people ask me, what is the secret?", "it is still burning at dawn.")["id"])
    opened(desk, running, quote)
    before = said(running, quote)
    desk.locator("textarea.said").first.click()
    desk.get_by_role("button", name="Hide", exact=True).click()
    until_said(running, quote, before[1:2])
    expect(desk.get_by_label("Hidden")).to_be_visible()
    desk.locator("li[data-hidden='true'] textarea").click()
    desk.get_by_role("button", name="Show", exact=True).click()
    until_said(running, quote, before)
    expect(desk.get_by_label("Hidden")).to_have_count(0)
    box = desk.locator("textarea.said").first
    expect(box).to_have_value(re.compile("people"))
    box.click()
    box.evaluate("box => box.setSelectionRange(3, 6)")
    desk.keyboard.press("Control+e")
    expect(desk.get_by_text("Emphasised: people")).to_be_visible()
    desk.get_by_role("button", name="+ caption").first.click()
    wait_for(lambda: any(cue["added"] for cue in cues(running, quote)), "a caption that was put in", 20)
    put = next(n for n, cue in enumerate(cues(running, quote)) if cue["added"])
    box = desk.locator("textarea.said").nth(put)
    expect(box).to_have_value("[laughter]")
    box.fill("[applause]")
    box.press("Control+Enter")
    wait_for(lambda: "[applause]" in said(running, quote), "another sound", 20)
    box.click()
    desk.get_by_role("button", name="Remove", exact=True).click()
    until_said(running, quote, before)


def test_a_correction_is_typed_shows_what_was_heard_and_its_problem_is_mended(
    desk: Page, running: RunningApp, quote: int
):
    opened(desk, running, quote)
    box = desk.locator("textarea.said").first
    was = box.input_value()
    box.fill(was.replace("people", "elephants"))
    box.press("Control+Enter")
    expect(desk.get_by_title("What the transcript says")).to_contain_text("So people ask me")
    desk.keyboard.press("Escape")
    slip = desk.locator("section.cues li").first
    expect(slip).to_contain_text("The captions say “elephants” where “people” was transcribed.")
    slip.get_by_role("button", name="Write “people”").click()
    expect(box).to_have_value(was)
    expect(slip).not_to_contain_text("elephants")


def test_a_name_is_corrected_once_in_the_talk_s_words_as_well(desk: Page, running: RunningApp, demo: int):
    with running.client as client:
        quote = int(keep(client, demo, "My name is Maren")["id"])
        before = client.get(f"/api/recordings/{demo}/places", params={"find": "Maren"}).json()
    opened(desk, running, quote)
    box = desk.locator("textarea.said").first
    box.fill(box.input_value().replace("Maren", "Marenka"))
    box.press("Control+Enter")
    desk.get_by_role("button", name="Also in the talk’s words …").click()
    window = desk.get_by_role("dialog", name="Also in the talk’s words")
    expect(window.get_by_role("listitem")).to_have_count(len(before))
    window.get_by_role("button", name=re.compile("^Write in")).click()
    expect(desk.get_by_text("Written as “Marenka” in")).to_be_visible()
    expect(desk.get_by_title("What the transcript says")).to_have_count(0)
    with running.client as client:
        assert len(client.get(f"/api/recordings/{demo}/places", params={"find": "Marenka"}).json()) == len(before)
        revision = client.get(f"/api/recordings/{demo}/transcript").json()["revision"]
        client.post(f"/api/recordings/{demo}/corrections/undo", json={"on_revision": revision})


def test_letters_that_can_hardly_be_read_are_told_before_they_are_exported(desk: Page, running: RunningApp, quote: int):
    with running.client as client:
        _edit(
            client,
            quote,
            kind="change-caption-look",
            look={"plate": None, "spoken": {"mark": "none"}, "colour": "#2E6A66"},
        )
    opened(desk, running, quote)
    slip = desk.locator("section.cues li").filter(has_text="to 1.").first
    expect(slip).to_be_visible()
    slip.get_by_role("button", name="Show the worst frame").click()
    desk.keyboard.press("Escape")
    desk.get_by_role("button", name=re.compile("^Export")).first.click()
    expect(desk).to_have_url(re.compile("/check$"))
    expect(desk.get_by_text("say in Check why it may be exported")).to_be_visible()
    desk.keyboard.press("3")
    slip.get_by_role("button", name=re.compile("^A plate of")).click()
    wait_for(lambda: document(running, quote)["marked"] != [], "a plate", 20)


def test_one_caption_has_a_look_of_its_own_until_it_has_that_of_the_others(desk: Page, running: RunningApp, quote: int):
    opened(desk, running, quote)
    first = desk.locator("section.cues li").first
    first.locator("textarea.said").focus()
    first.get_by_role("button", name="Look", exact=True).click()
    own = first.get_by_role("group", name="Look of this caption")
    own.get_by_role("button", name="Block").click()
    wait_for(lambda: looks(running, quote) == [{"plate"}], "a plate of its own")
    own.get_by_role("button", name="UPPER").click()
    wait_for(lambda: looks(running, quote) == [{"plate", "case"}], "capitals of its own")
    own.get_by_role("button", name="Look of the others").click()
    wait_for(lambda: looks(running, quote) == [], "the look of the others")


def looks(running: RunningApp, quote: int) -> list[set[str]]:
    """What of the look of single captions is otherwise."""
    return [set(one["look"]) for one in document(running, quote)["marked"]]


def _edit(client: httpx.Client, quote: int, **edit: object) -> None:
    revision = client.get(f"/api/quotes/{quote}").json()["revision"]
    made = client.post(f"/api/quotes/{quote}/edits", json={"on_revision": revision, "edit": edit})
    assert made.status_code == 200, made.text


def test_a_text_is_found_listed_and_replaced(desk: Page, running: RunningApp, quote: int):
    opened(desk, running, quote)
    desk.get_by_text("Find and replace").click()
    desk.get_by_label("Find in the captions").fill("secret")
    places = desk.get_by_role("list", name="Places").get_by_role("listitem")
    expect(places).to_have_count(2)
    desk.get_by_label("Replace with").fill("trick")
    places.first.get_by_role("checkbox").uncheck()
    desk.get_by_role("button", name="Replace in 1 place").click()
    wait_for(lambda: "no trick." in " ".join(said(running, quote)).replace(" /", ""), "the second", 20)
    assert "the secret?" in " ".join(said(running, quote)).replace(" /", "")


def test_a_translation_is_typed_beside_the_captions_and_burned_in_below(desk: Page, running: RunningApp, quote: int):
    opened(desk, running, quote)
    desk.get_by_text("Translation", exact=True).click()
    desk.get_by_label("Into").select_option("de")
    other = desk.get_by_label(re.compile("^Translation of the caption")).first
    other.fill("Also fragt man mich")
    other.press("Tab")
    desk.get_by_role("button", name="Below").click()
    wait_for(lambda: cues(running, quote)[0]["below"] == ["Also fragt man mich"], "a translation", 20)
    desk.get_by_text("Files", exact=True).click()
    desk.get_by_label("of the translation").check()
    with desk.expect_download() as saved:
        desk.get_by_role("link", name="SRT").click()
    assert "Also fragt man mich" in saved.value.path().read_text()


def test_captions_that_were_corrected_elsewhere_are_brought_in(desk: Page, running: RunningApp, quote: int):
    with running.client as client:
        destination = client.get(f"/api/quotes/{quote}").json()["versions"][0]["destination"]
        srt = client.get(f"/api/quotes/{quote}/captions.srt", params={"destination": destination}).text
    opened(desk, running, quote)
    desk.get_by_text("Files", exact=True).click()
    fixed = {"name": "fixed.srt", "mimeType": "text/plain", "buffer": srt.replace("secret", "trick").encode()}
    desk.get_by_label("File of captions").set_input_files(fixed)
    expect(desk.get_by_text(re.compile("^Brought in [0-9]+ captions"))).to_be_visible()
    wait_for(lambda: "no trick." in " ".join(said(running, quote)).replace(" /", ""), "what the file says", 20)
    other = {
        "name": "other.srt",
        "mimeType": "text/plain",
        "buffer": b"1\n00:00:00,000 --> 00:00:02,000\nTurnips under glass\n",
    }
    desk.get_by_label("File of captions").set_input_files(other)
    expect(desk.get_by_text("says nothing of what is said in this quote")).to_be_visible()


def test_a_look_of_this_quote_becomes_the_style(desk: Page, running: RunningApp, quote: int):
    with running.client as client:
        own = client.post("/api/styles", json={"name": "Lectern", "said": "", "look": _quay(client)["look"]}).json()
    opened(desk, running, quote)
    desk.get_by_role("radio", name="Lectern").check(force=True)
    desk.get_by_text("In this quote").click()
    desk.get_by_role("button", name="Block").click()
    wait_for(lambda: document(running, quote)["look"].get("plate", {}).get("behind") == "block", "a block", 20)
    desk.on("dialog", lambda dialog: dialog.accept())
    desk.get_by_role("button", name="Make this the style").click()
    expect(desk.get_by_text("Lectern looks like this from now on.")).to_be_visible()
    with running.client as client:
        now = next(one for one in client.get("/api/catalogue").json()["styles"] if one["id"] == own["id"])
        assert (now["version"], now["look"]["plate"]["behind"]) == (2, "block")
        client.post(f"/api/styles/{own['id']}/retire", json={"retired": True})
    desk.get_by_role("button", name="Hold this version").click()
    wait_for(lambda: document(running, quote)["held"] == 2, "the version to be held", 20)


def _quay(client: httpx.Client) -> dict[str, Any]:
    return next(one for one in client.get("/api/catalogue").json()["styles"] if one["id"] == "quay")


def test_a_colour_is_picked_from_the_picture(desk: Page, running: RunningApp, quote: int):
    opened(desk, running, quote)
    desk.get_by_text("In this quote").click()
    desk.get_by_role("button", name="Plate from the picture").click()
    desk.get_by_label("Pick a colour from the picture").click(position={"x": 120, "y": 330})
    wait_for(lambda: "plate" in document(running, quote)["look"], "a colour", 20)
    colour = document(running, quote)["look"]["plate"]["colour"]
    red, green, blue = (int(colour[n : n + 2], 16) for n in (1, 3, 5))
    assert green > red, f"{colour} is of her green coat"
    assert blue > red


def test_a_style_is_made_in_house_with_a_face_of_ones_own(desk: Page, running: RunningApp, demo: int):
    desk.goto(f"{running.url}/house")
    desk.on("dialog", lambda dialog: dialog.accept("Bought in 2025."))
    face = {"name": "sign.ttf", "mimeType": "font/ttf", "buffer": own_face("Quayside Sign Bold")}
    desk.get_by_label("Font file").set_input_files(face)
    expect(desk.get_by_text("Quayside Sign Bold", exact=True)).to_be_visible()
    broken = {"name": "broken.ttf", "mimeType": "font/ttf", "buffer": b"\x00\x01\x00\x00 no font"}
    desk.get_by_label("Font file").set_input_files(broken)
    expect(desk.get_by_text("The font is damaged, or a part of it is missing.")).to_be_visible()
    desk.get_by_role("button", name="New style").click()
    form = desk.get_by_role("form", name="New caption style")
    expect(form.get_by_label("The style in Tall 15")).to_be_visible()
    form.get_by_label("Name", exact=True).fill("Quay")
    form.get_by_label("Face").select_option("Quayside Sign Bold")
    form.get_by_role("button", name="Save style").click()
    expect(form.get_by_role("alert")).to_contain_text("already")
    form.get_by_label("Name", exact=True).fill("Signwriter")
    form.get_by_role("button", name="Save style").click()
    expect(desk.get_by_role("button", name="Edit Signwriter")).to_be_visible()
    with running.client as client:
        made = next(one for one in client.get("/api/catalogue").json()["styles"] if one["name"] == "Signwriter")
        assert made["look"]["face"] == "Quayside Sign Bold"
    desk.get_by_role("button", name="Retire Signwriter").click()
    expect(desk.get_by_role("button", name="Offer again Signwriter")).to_be_visible()


def test_problems_are_gone_through_by_keys(desk: Page, running: RunningApp, quote: int):
    with running.client as client:
        words = [cue["lines"][0][0]["index"] for cue in cues(running, quote)]
        _edit(client, quote, kind="correct-caption", first=words[1], last=words[1], text="elephants")
    opened(desk, running, quote)
    expect(desk.get_by_text("1 problem", exact=True)).to_be_visible()
    desk.keyboard.press("n")
    expect(desk.locator("li[data-here='true']")).to_contain_text("elephants")
    desk.keyboard.press("ArrowDown")
    expect(desk.locator("li[data-here='true']")).not_to_contain_text("elephants")
    desk.keyboard.press("Shift+n")
    expect(desk.locator("li[data-here='true']")).to_contain_text("elephants")
