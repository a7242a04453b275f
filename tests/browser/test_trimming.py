"""Trim as a person uses it: cutting by keys, fitting a limit, fairness, history, the speaker's page, two browsers."""

import re

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.conftest import RunningApp, wait_for
from tests.helpers import edit, keep

SECRET = "So people ask me, what is the secret? You know, there is no secret. Keep the wick short."
LONG = ("When I was nineteen,", "Don't write that down.")
FORTY = "We had forty lamps on the harbour wall that year. No, sorry, I said forty, I mean fourteen."
RATES = """
window.rates = [];
const rate = Object.getOwnPropertyDescriptor(HTMLMediaElement.prototype, 'playbackRate');
Object.defineProperty(HTMLMediaElement.prototype, 'playbackRate', { ...rate, set(value) { window.rates.push(value); rate.set.call(this, value); } });
"""
SPY = """
window.started = [];
const make = AudioContext.prototype.createBufferSource;
AudioContext.prototype.createBufferSource = function () {
    const node = make.call(this), start = node.start.bind(node);
    node.start = (when, from) => { window.started.push([from, node.buffer.duration, node.loop]); start(when, from); };
    return node;
};
"""


@pytest.fixture
def secret(running: RunningApp, demo: int) -> dict:  # type: ignore[type-arg]
    with running.client as client:
        return keep(client, demo, SECRET)


def open_trim(page: Page, running: RunningApp, quote: dict) -> list[int]:  # type: ignore[type-arg]
    page.goto(f"{running.url}/quote/{quote['id']}/trim")
    words = quote["cut"]["kept_words"]
    expect(page.locator(f'[data-word="{words[0]}"]')).to_have_class(re.compile("kept"))
    return words  # type: ignore[no-any-return]


def test_a_quote_is_cut_by_keys_alone(desk: Page, running: RunningApp, secret: dict):  # type: ignore[type-arg]
    page = desk
    words = open_trim(page, running, secret)
    page.keyboard.press("Home")
    # The first goes to the first word, out of the air before it.
    for _ in range(9):
        page.keyboard.press(".")
    expect(page.locator(f'[data-word="{words[8]}"]')).to_have_class(re.compile("cursor"))
    page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("x")
    expect(page.locator(f'[data-word="{words[8]}"]')).to_have_class(re.compile("struck"))
    expect(page.locator(f'[data-word="{words[9]}"]')).to_have_class(re.compile("struck"))
    expect(page.get_by_role("complementary", name="Trim")).to_contain_text("Last change: Struck “You know,”")

    # The join under its loupes: moved by 10 ms, by a frame, and to a quiet point, and put back by undo.
    page.keyboard.press("n")
    joins = page.get_by_role("region", name="Edges and joins")
    expect(joins).to_contain_text("Join 1 of 1")
    after = joins.get_by_role("slider", name=re.compile("^After it"))
    before = after.get_attribute("aria-valuetext")
    after.focus()
    page.keyboard.press("ArrowUp")
    expect(after).not_to_have_attribute("aria-valuetext", before or "")
    page.keyboard.press("Control+z")
    expect(after).to_have_attribute("aria-valuetext", before or "")
    joins.get_by_role("button", name="After it a frame later").click()
    expect(after).not_to_have_attribute("aria-valuetext", before or "")
    page.keyboard.press("Control+z")

    # A pause, by key: chosen, shortened, and its chip says both lengths.
    page.keyboard.press("p")
    pause = page.get_by_role("region", name="Pause")
    expect(pause).to_contain_text("Said")
    for _ in range(2):
        page.keyboard.press("-")
    expect(page.locator('.pause[data-changed="true"]')).to_contain_text("→")

    # The keys are told.
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("Play the selected join, or the start")


def test_the_cut_plays_as_one_sound_that_loops_end_to_start(desk: Page, running: RunningApp, secret: dict):  # type: ignore[type-arg]
    page = desk
    page.add_init_script(SPY)
    words = open_trim(page, running, secret)
    with page.expect_response(re.compile("sound.wav.*revision=2")):
        page.locator(f'[data-word="{words[8]}"]').click()
        page.keyboard.press("x")
    expect(page.locator(f'[data-word="{words[8]}"]')).to_have_class(re.compile("struck"))
    page.wait_for_timeout(800)
    page.keyboard.press("r")
    page.keyboard.press("Home")
    page.keyboard.press("Space")
    wait_for(lambda: page.evaluate("window.started.length > 0"), "the sound of the cut")
    start, length, looping = page.evaluate("window.started.at(-1)")
    assert start == pytest.approx(0, abs=0.05)
    assert looping is True
    with running.client as client:
        cut = client.get(f"/api/quotes/{secret['id']}").json()["cut"]
    assert length * 1000 == pytest.approx(cut["length_ms"], abs=1)
    page.keyboard.press("Space")
    page.keyboard.press("n")
    page.keyboard.press("h")
    wait_for(lambda: page.evaluate("window.started.length > 1"), "the sound of the join")
    start, _, _ = page.evaluate("window.started.at(-1)")
    assert start * 1000 == pytest.approx(max(0, cut["joins"][0]["out_ms"] - 1500), abs=60)


def test_an_edge_is_dragged_on_the_page_and_the_cut_follows_when_it_is_let_go(
    desk: Page,
    running: RunningApp,
    secret: dict,  # type: ignore[type-arg]
):
    page = desk
    words = open_trim(page, running, secret)

    def drag(edge: str, word: int, *, drop: bool = True) -> None:
        page.get_by_role("button", name=f"Drag the {edge} point").hover()
        page.mouse.down()
        page.locator(f'[data-word="{word}"]').hover(force=True)
        if drop:
            page.mouse.up()

    drag("in", words[4], drop=False)
    expect(page.locator(f'[data-word="{words[1]}"]')).to_have_class(re.compile("proposed"))
    page.mouse.up()
    expect(page.locator(f'[data-word="{words[1]}"]')).to_have_class(re.compile(r"\bout\b"))
    expect(page.locator(f'[data-word="{words[4]}"]')).to_have_class(re.compile("kept"))
    drag("in", words[0] - 1)
    expect(page.locator(f'[data-word="{words[0] - 1}"]')).to_have_class(re.compile("kept"))
    drag("out", words[-3])
    expect(page.locator(f'[data-word="{words[-1]}"]')).to_have_class(re.compile(r"\bout\b"))
    page.keyboard.press("Control+z")
    expect(page.locator(f'[data-word="{words[-1]}"]')).to_have_class(re.compile("kept"))


def test_a_pause_in_which_something_is_shown_plays_faster(desk: Page, running: RunningApp, secret: dict):  # type: ignore[type-arg]
    page = desk
    page.add_init_script(RATES)
    words = open_trim(page, running, secret)
    gauge = page.locator(".gauge").first
    long = gauge.get_attribute("title")
    page.keyboard.press("Home")
    page.keyboard.press("p")
    pause = page.get_by_role("region", name="Pause")
    pause.get_by_role("button", name="4×", exact=True).click()
    chip = page.locator('.pause[data-chosen="true"]')
    expect(chip).to_contain_text("4×")
    expect(chip).to_have_attribute("title", re.compile("played 4 times as fast"))
    expect(gauge).not_to_have_attribute("title", long or "")
    pause.get_by_role("checkbox", name="Silent").check()
    expect(page.get_by_role("complementary", name="Trim")).to_contain_text("4 times as fast, silent")

    # Played: the recording runs at four times its speed there, and the clip goes on after it.
    before = int(
        page.locator('[data-word]:has(+ .pause[data-chosen="true"])').first.get_attribute("data-word") or words[0]
    )
    page.locator(f'[data-word="{before}"]').click()
    page.keyboard.press("Space")
    wait_for(lambda: page.evaluate("window.rates.slice(-3)") == [1, 4, 1], "the pace of the recording")
    page.keyboard.press("Space")

    # Words that are said in it are told, and play as they were said again by button.
    page.keyboard.press("Control+z")
    page.locator(f'[data-word="{words[8]}"]').click()
    page.keyboard.press("Shift+ArrowRight")
    page.get_by_role("group", name="Speed of this stretch").first.get_by_role("button", name="2×", exact=True).click()
    expect(page.locator(f'[data-word="{words[8]}"]')).to_have_class(re.compile("fast"))
    page.goto(f"{running.url}/quote/{secret['id']}/check")
    said = page.get_by_text("2 times as fast: nobody can follow it").first
    expect(said).to_be_visible()


def test_a_version_is_made_to_fit_piece_by_piece(desk: Page, running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, *LONG)
        quote = edit(client, quote, kind="add-version", destination="tall-60").json()
    page = desk
    open_trim(page, running, quote)
    page.get_by_role("tab", name="Tall 60").click()
    expect(page.get_by_role("document", name="Transcript").locator(".limit")).to_contain_text(
        "Tall 60 ends here, if nothing is struck"
    )
    past = page.locator("[data-word].past")
    last = quote["cut"]["kept_words"][-1]
    page.locator('[aria-label="Map of the talk"]').focus()
    for _ in range(8):
        if page.locator(f'[data-word="{last}"]').count():
            break
        page.keyboard.press("PageDown")
        page.wait_for_timeout(300)
    expect(page.locator(f'[data-word="{last}"]')).to_have_class(re.compile("past"))
    before, after = (page.locator(f'[data-word="{word}"]').bounding_box() for word in (last - 1, last))
    assert before
    assert after
    assert before["x"] + before["width"] <= after["x"] + 1, "words past the limit stand in their line"
    assert past.count() > 5
    page.keyboard.press("f")
    plan = page.get_by_role("region", name="Fit plan")
    expect(plan).to_contain_text("over Tall 60")
    expect(plan.get_by_role("button", name=re.compile("^Make it fit"))).to_be_visible()
    assert page.locator(".proposed").count() > 0
    first = plan.locator("ol > li[data-kind=sentence]").first
    said = first.locator("span").first.inner_text()
    first.get_by_role("button", name=re.compile("^Refuse")).click()
    expect(plan).to_contain_text("1 piece refused")
    expect(plan.get_by_role("button", name=f"Do this: {said}")).to_have_count(0)
    plan.get_by_role("button", name=re.compile("^Make it fit")).click()
    expect(page.get_by_role("complementary", name="Trim")).to_contain_text("Tall 60 fits")
    expect(page.locator(".gauge").filter(has_text="Tall 60")).to_contain_text("to spare")
    with running.client as client:
        now = client.get(f"/api/quotes/{quote['id']}").json()
    assert [version["cut"] is None for version in now["versions"]] == [False, True], "only Tall 60 was cut"

    # Only one version is cut, then both: what is changed for all reaches the version too.
    page.get_by_role("tab", name="Cut").click()
    page.get_by_role("button", name="Tall 60 only").click()
    expect(page.get_by_role("complementary", name="Trim")).to_contain_text("Tall 60 is cut differently")
    page.get_by_role("button", name="Cut Tall 60 as the others").click()
    expect(page.locator(".gauge").filter(has_text="Tall 60")).to_contain_text("over")


def test_fillers_are_struck_by_rule_but_for_those_clicked(desk: Page, running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, "Um, I am not sure I have any,", "three times before I got them.")
    page = desk
    open_trim(page, running, quote)
    page.get_by_role("combobox", name="Strike by rule").select_option("fillers")
    rules = page.get_by_role("region", name="Strike by rule")
    found = rules.get_by_role("checkbox")
    expect(found.first).to_be_visible()
    count = found.count()
    assert count >= 3
    expect(rules.get_by_role("button", name=re.compile(f"Strike {count} fillers"))).to_be_visible()
    page.locator(".proposed").first.click()
    expect(rules.get_by_role("button", name=re.compile(f"Strike {count - 1} filler"))).to_be_visible()
    rules.get_by_role("button", name=re.compile("^Strike ")).click()
    expect(page.get_by_role("complementary", name="Trim")).to_contain_text(f"Struck fillers by rule: {count - 1}")
    expect(page.locator(f'[data-word="{quote["cut"]["kept_words"][0]}"]')).not_to_have_class(re.compile("struck"))


def test_an_unfair_cut_is_explained_accepted_and_approved_by_the_speaker(
    desk: Page, running: RunningApp, demo: int, browser: Browser
):
    with running.client as client:
        quote = keep(client, demo, FORTY)
        words = quote["cut"]["kept_words"]
        edit(client, quote, kind="strike-words", first=words[-3], last=words[-1])
    page = desk
    open_trim(page, running, quote)
    page.get_by_role("tab", name="Fair").click()
    notes = page.get_by_role("region", name="Fair to the speaker")
    expect(notes).to_contain_text("its correction to “fourteen” is struck")
    note = notes.get_by_role("listitem").filter(has_text="its correction to")
    note.get_by_role("button", name="Accept…").click()
    page.keyboard.type("She says fourteen a moment later.")
    page.keyboard.press("Enter")
    expect(notes).to_contain_text("Accepted: She says fourteen a moment later.")

    page.get_by_role("button", name="Create a page").click()
    address = page.get_by_label("Address of the speaker’s page").input_value()
    speaker = browser.new_page()
    speaker.goto(address)
    expect(speaker.get_by_role("row").last).to_contain_text("forty")
    expect(speaker.locator("s").first).to_contain_text("fourteen")
    speaker.get_by_label("Your name").fill("Maren")
    speaker.get_by_label(re.compile("What should be changed")).fill("Say fourteen, please.")
    speaker.get_by_role("button", name="I ask for a change").click()
    expect(speaker.locator(".answered")).to_contain_text("Maren asked for a change")
    speaker.close()
    approvals = page.get_by_role("region", name="The speaker’s approval")
    expect(approvals).to_contain_text("Maren asks for a change")
    expect(approvals).to_contain_text("Say fourteen, please.")
    approvals.get_by_role("button", name="Revoke").click()
    expect(approvals.get_by_role("button", name="Revoke")).to_have_count(0)
    page.goto(f"{running.url}/shortlist")
    expect(page.locator(f'article[data-quote="{quote["id"]}"]')).to_contain_text(
        "Maren asks for a change: Say fourteen, please."
    )


def test_history_goes_back_and_forth_and_compares(desk: Page, running: RunningApp, secret: dict):  # type: ignore[type-arg]
    page = desk
    words = open_trim(page, running, secret)
    page.get_by_role("tab", name="History").click()
    page.get_by_label("Your name here").fill("Ada")
    page.get_by_label("Your name here").press("Enter")
    page.get_by_label("Your name here").blur()
    page.locator(f'[data-word="{words[8]}"]').click()
    page.keyboard.press("x")
    history = page.get_by_role("region", name="History")
    expect(history).to_contain_text("Struck “You”")
    expect(history).to_contain_text("Ada, ")
    history.get_by_role("button", name="Name").first.click()
    expect(history.get_by_role("textbox", name="Name of this point")).to_be_focused()
    page.keyboard.type("Without you")
    page.keyboard.press("Enter")
    expect(history.locator("b")).to_have_text("Without you")
    history.get_by_role("checkbox").nth(0).check()
    history.get_by_role("checkbox").nth(1).check()
    expect(page.get_by_role("region", name="Two points compared")).to_contain_text("+ You")
    history.get_by_role("button", name="Go to “Kept”").click()
    expect(page.locator(f'[data-word="{words[8]}"]')).not_to_have_class(re.compile("struck"))
    expect(history).to_contain_text("taken back")
    history.get_by_role("button", name="Go to “Struck “You””").click()
    expect(page.locator(f'[data-word="{words[8]}"]')).to_have_class(re.compile("struck"))


def test_a_second_browser_sees_what_the_first_changes(desk: Page, running: RunningApp, secret: dict):  # type: ignore[type-arg]
    page = desk
    words = open_trim(page, running, secret)
    with running.client as client:
        edit(client, secret, kind="strike-words", first=words[0], last=words[1])
    expect(page.get_by_text("Changed elsewhere: Struck “So people”.")).to_be_visible()
    expect(page.locator(f'[data-word="{words[0]}"]')).to_have_class(re.compile("struck"))


def test_a_passage_is_split_in_parts(desk: Page, running: RunningApp, demo: int):
    with running.client as client:
        quote = keep(client, demo, *LONG)
        quote = edit(client, quote, kind="add-version", destination="tall-30").json()
    page = desk
    open_trim(page, running, quote)
    page.get_by_role("tab", name="Tall 30").click()
    page.keyboard.press("f")
    parts = page.get_by_role("region", name="Parts")
    parts.get_by_role("button", name="Preview").click()
    expect(parts.get_by_role("listitem").first).to_contain_text("1 of ")
    parts.get_by_label(re.compile("^Recap")).fill("The scissors")
    parts.get_by_role("button", name=re.compile("^Make ")).click()
    expect(page.get_by_label("Title of the quote")).to_have_value(re.compile(r"\(1 of \d\)$"))
    page.keyboard.press("f")
    expect(page.get_by_role("region", name="Part", exact=True)).to_contain_text("Part 1 of")
    with running.client as client:
        for one in client.get(f"/api/recordings/{demo}/quotes").json():
            if " of " in one["title"]:
                client.post(f"/api/quotes/{one['id']}/remove")


def test_a_loupe_asks_once_for_an_edge_wherever_it_stands(desk: Page, running: RunningApp, secret: dict):  # type: ignore[type-arg]
    page = desk
    asked: list[str] = []
    page.on("request", lambda request: asked.append(request.url) if "/loupe" in request.url else None)
    with running.client as client:
        # An edge whose milliseconds end in 5 to 9 lies between the steps that a loupe is drawn in.
        start = secret["document"]["span"]["start_ms"]
        edit(client, secret, kind="nudge-edge", edge="in", by_ms=(7 - start) % 10)
        now = client.get(f"/api/quotes/{secret['id']}").json()
    assert now["document"]["span"]["start_ms"] % 10 == 7
    open_trim(page, running, now)
    wait_for(lambda: len(asked) >= 2, "both loupes", 10)
    page.wait_for_timeout(1500)
    assert len(asked) == 2, "the in and the out point, each once"


def test_a_key_held_on_a_join_moves_it_each_time(desk: Page, running: RunningApp, secret: dict):  # type: ignore[type-arg]
    page = desk
    words = secret["cut"]["kept_words"]
    with running.client as client:
        cut = edit(client, secret, kind="strike-words", first=words[8], last=words[9]).json()
    (hole,) = cut["document"]["struck"]
    open_trim(page, running, cut)
    page.keyboard.press("n")
    after = page.get_by_role("region", name="Edges and joins").get_by_role("slider", name=re.compile("^After it"))
    after.focus()
    for _ in range(5):
        page.keyboard.press("ArrowDown")

    def moved() -> bool:
        with running.client as client:
            (now,) = client.get(f"/api/quotes/{cut['id']}").json()["document"]["struck"]
        return bool(now["end_ms"] == hole["end_ms"] + 50)

    wait_for(moved, "five nudges of 10 ms", 10)
    expect(page.get_by_text("That join is not there any more")).to_have_count(0)


def test_a_gauge_leads_to_what_can_be_done_about_it(desk: Page, running: RunningApp, demo: int):
    page = desk
    with running.client as client:
        quote = keep(client, demo, *LONG)
    open_trim(page, running, quote)
    gauges = page.get_by_label("Fit gauges")
    # One that is no version yet is made, and shown.
    gauges.get_by_role("button", name=re.compile("Add Wide 140$")).click()
    expect(gauges.get_by_role("button", name=re.compile("Show Wide 140$"))).to_be_visible()
    # One that is over leads to the ways to make it fit, from any step, by keys too.
    page.goto(f"{running.url}/quote/{quote['id']}/captions")
    page.get_by_label("Fit gauges").get_by_role("button", name=re.compile("Show Wide 140$")).click()
    page.goto(f"{running.url}/quote/{quote['id']}/trim")
    over = page.get_by_label("Fit gauges").get_by_role("button", name=re.compile("Make it fit Tall 30$"))
    over.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("region", name="Fit plan")).to_be_visible()
    expect(page).to_have_url(re.compile("/trim$"))


@pytest.mark.parametrize("step", ["trim", "frame", "captions", "check"])
def test_what_is_told_never_covers_the_transport(desk: Page, running: RunningApp, secret: dict, step: str):  # type: ignore[type-arg]
    page = desk
    page.goto(f"{running.url}/quote/{secret['id']}/{step}")
    place = page.get_by_label(re.compile("^Place in the"))
    expect(place).to_be_visible()
    with running.client as client:
        for number in range(3):
            secret = edit(
                client, secret, kind="rename", title=f"A title of some length that somebody else gave it {number}"
            ).json()
            told = page.get_by_role("status").get_by_text(f"gave it {number}")
            expect(told).to_be_visible()
    transport = place.locator("xpath=..").bounding_box()
    assert transport
    # All at one moment: what was told first goes by itself.
    boxes = page.locator(".told p").evaluate_all("all => all.map(one => one.getBoundingClientRect().toJSON())")
    assert boxes
    for box in boxes:
        apart = box["x"] + box["width"] <= transport["x"] or box["y"] + box["height"] <= transport["y"]
        assert apart, (box, transport)
