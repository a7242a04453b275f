"""From the shelf to a measured file, through every place, with a hand on the mouse and two on the keys."""

import re
import subprocess
from pathlib import Path

import httpx
import numpy as np
from playwright.sync_api import Page, expect

from tests.browser.conftest import select_words
from tests.conftest import RunningApp, find_words, wait_for, words_of

PASSAGE = "So people ask me, what is the secret? You know, there is no secret. Keep the wick short."


def pixels(path: Path, *options: str) -> np.ndarray:
    """A picture as 270 x 480 RGB."""
    out = subprocess.run(
        ["ffmpeg", "-v", "error", *options, "-i", str(path), "-frames:v", "1",
         "-vf", "scale=270:480:flags=area:in_color_matrix=bt709,format=rgb24", "-f", "rawvideo", "-"],
        capture_output=True, check=True,
    ).stdout  # fmt: skip
    return np.frombuffer(out, np.uint8).reshape(480, 270, 3).astype(float)


def test_from_a_talk_to_a_captioned_file(desk: Page, running: RunningApp, demo: int, tmp_path: Path):
    page = desk
    with running.client as client:
        words = words_of(client, demo)
        for quote in client.get(f"/api/recordings/{demo}/quotes").json():
            client.post(f"/api/quotes/{quote['id']}/remove")
    first, last = find_words(words, PASSAGE)

    # Shelf: the talk and its facts.
    page.goto(running.url)
    row = page.get_by_role("article").filter(has_text="Keep the wick short")
    expect(row).to_contain_text("1920×1080, 25 frames/s")
    expect(row).to_contain_text("1,132 words")
    expect(row).to_contain_text("Maren Tolley")
    row.get_by_role("link", name="Keep the wick short").click()

    # Find: search, hits counted and marked, the next by key; a click plays, and the spoken word is marked.
    page.wait_for_selector("[data-word]")
    page.keyboard.press("/")
    page.keyboard.type('"keep the wick short"')
    expect(page.get_by_label("Search in this talk")).to_contain_text("1 of 3")
    expect(page.locator(".hit.here")).to_have_count(4)
    page.keyboard.press("Escape")
    page.keyboard.press("n")
    expect(page.get_by_label("Search in this talk")).to_contain_text("2 of 3")
    expect(page.locator(f'[data-word="{last}"]')).to_have_class(with_class("here"))
    page.locator(f'[data-word="{first}"]').click()
    expect(page.get_by_role("button", name="Pause")).to_be_visible()
    wait_for(
        lambda: page.locator("[data-word].spoken").count() == 1 and spoken(page) > first, "the spoken word to move on"
    )
    page.keyboard.press("k")

    # Select, see what it fits, keep.
    select_words(page, first, last)
    gauges = page.get_by_label("Fit gauges")
    expect(gauges.locator('[data-fit="fits"]')).to_have_count(7)
    expect(gauges.get_by_text("to spare").first).to_be_visible()
    page.keyboard.press("q")
    expect(page.get_by_role("status").filter(has_text="Kept “So people ask me")).to_be_visible()
    expect(page.locator("a.bracket").filter(has_text="So people ask me")).to_be_visible()
    page.locator("li").filter(has_text="So people ask me").get_by_role("link").click()

    # Trim: strike the filler, undo, redo, all of it there after a reload; nudge the out point.
    page.wait_for_selector("[data-word].kept")
    you = find_words(words, "You know,")
    select_words(page, *you)
    page.keyboard.press("x")
    expect(page.locator(f'[data-word="{you[0]}"]')).to_have_class(with_class("struck"))
    page.keyboard.press("Control+z")
    expect(page.locator(".struck")).to_have_count(0)
    page.reload()
    page.wait_for_selector("[data-word]")
    page.keyboard.press("Control+Shift+z")
    expect(page.locator(f'[data-word="{you[1]}"]')).to_have_class(with_class("struck"))
    page.get_by_role("button", name="Out point 10 ms later").click()
    expect(page.get_by_text("Last change: Nudged the out point 10 ms later")).to_be_visible()

    # The cut plays without what is struck.
    page.keyboard.press("Home")
    page.keyboard.press("Space")
    heard = set()
    wait_for(lambda: heard.add(spoken(page)) or spoken(page) >= you[1] + 3, "the cut to play past the join")
    assert not heard & {you[0] + 1, you[1]}
    page.keyboard.press("k")

    # Frame: another shape, the window moved by keys, the whole picture fitted, sharpness told.
    page.keyboard.press("2")
    page.locator("summary").filter(has_text="Where it goes").click()
    page.get_by_role("checkbox", name="Square 60").check()
    expect(page.get_by_role("tab", name="Square 60")).to_have_attribute("aria-selected", "true")
    page.get_by_role("button", name="Only Square 60").click()
    page.get_by_role("button", name="Whole").click()
    expect(page.get_by_text("whole picture", exact=True).first).to_be_visible()
    expect(page.get_by_text("As sharp as the recording.")).to_be_visible()
    page.get_by_role("tab", name="Tall 15").click()
    expect(page.get_by_text("Enlarged 1.8 times: a little soft")).to_be_visible()
    window = page.get_by_role("application")
    window.focus()
    before = window.bounding_box()
    for _ in range(6):
        page.keyboard.press("ArrowRight")
    for _ in range(5):
        page.keyboard.press("+")
    expect(page.get_by_text("visibly soft")).to_be_visible()
    expect(page.get_by_text("placed by hand").first).to_be_visible()
    expect(page.get_by_role("group", name="Stage").get_by_text("sharp")).to_be_visible()
    after = window.bounding_box()
    assert before
    assert after
    assert after["x"] > before["x"]
    assert abs(after["width"] / after["height"] - 9 / 16) < 0.01

    # Captions: a word corrected in place, a style, and a place off the bottom.
    page.keyboard.press("3")
    expect(page.locator("section.cues li[data-here='true']")).to_have_count(1)
    page.get_by_label("Caption at 0:00").first.fill("So people ask me :")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("button", name="Undo")).to_have_attribute(
        "title", "Undo: Corrected a caption to “So people ask me :”"
    )
    page.get_by_label("Vertical position").fill("0.95")
    expect(page.locator("li[data-wrong='true']").first).to_contain_text("account line")

    # Check: the soft picture and the covered captions, each with a way to mend it.
    page.keyboard.press("Escape")
    page.get_by_role("link", name="Check").click()
    checks = page.get_by_label("Checks")
    expect(checks).to_contain_text(re.compile(r"Soft picture: enlarged 2\.[12] times"))
    expect(checks).to_contain_text("lies under the caption and account line of Tall 15.")
    checks.get_by_role("listitem").filter(has_text="account line").get_by_role("button", name="Fix in Captions").click()
    page.get_by_label("Vertical position").fill("0.6")
    expect(page.get_by_role("link", name="Check")).to_contain_text("1")

    # The preview of a captioned moment, to compare with the file.
    page.get_by_title("Go there").nth(2).click()
    page.wait_for_timeout(1200)
    shape = page.get_by_label("Tall 15 as it will be")
    shape.screenshot(path=str(tmp_path / "preview.png"))
    seconds = float(page.get_by_title("Go there").nth(2).inner_text().split(":")[1])

    # Export: all versions, progress, and the facts that were measured.
    page.get_by_role("button", name="Export 2 versions").first.click()
    expect(page).to_have_url(f"{running.url}/outbox")
    card = page.locator("li", has=page.get_by_role("heading", level=2).filter(has_text="So people ask me")).first
    expect(card).to_contain_text("All checks passed", timeout=180_000)
    tall = card.get_by_role("listitem", name="Tall 15")
    tall.get_by_text("Facts and files").click()
    expect(tall).to_contain_text("1080×1920")
    expect(tall).to_contain_text("LUFS")
    with page.expect_download() as download:
        tall.get_by_role("link", name="Download").click()
    assert download.value.suggested_filename.startswith("Keep the wick short - So people ask me")
    clip = tmp_path / "clip.mp4"
    download.value.save_as(clip)

    probe_and_compare(clip, tmp_path / "preview.png", seconds)
    sidecar = tall.get_by_role("link", name="SRT").get_attribute("href")
    assert "So people ask me :" in httpx.get(f"{running.url}{sidecar}").text


PLATE = np.array([0x0B, 0x54, 0x54])


def probe_and_compare(clip: Path, preview: Path, seconds: float) -> None:
    probed = subprocess.run(
        ["ffprobe", "-v", "error", "-show_entries", "stream=codec_name,profile,width,height,r_frame_rate,pix_fmt", "-of", "csv=p=0", str(clip)],
        capture_output=True, text=True, check=True,
    ).stdout.split()  # fmt: skip
    assert probed == ["h264,High,1080,1920,yuv420p,25/1", "aac,LC,0/0"]
    burned, drawn = pixels(clip, "-ss", f"{seconds:.3f}"), pixels(preview)
    # The picture is from a smaller proxy, so it is compared as a whole; the captions are the same drawing, so where either
    # has letters, or the plate that they stand on, the other must have them.
    assert np.abs(burned - drawn).mean() < 8
    letters = [(picture.min(axis=2) > 170)[200:400] for picture in (burned, drawn)]
    plate = [(np.abs(picture - PLATE).max(axis=2) < 24)[200:400] for picture in (burned, drawn)]
    for of, least in ((letters, 0.6), (plate, 0.6)):
        assert of[0].sum() > 150
        assert (of[0] & of[1]).sum() / (of[0] | of[1]).sum() > least


def spoken(page: Page) -> int:
    word = page.locator("[data-word].spoken").first
    return int(word.get_attribute("data-word") or -1) if word.count() else -1


def with_class(name: str):  # type: ignore[no-untyped-def]
    import re

    return re.compile(rf"(^|\s){name}(\s|$)")
