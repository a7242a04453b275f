"""The preview against the export: how alike a frame of each is, for each layout and each layer."""

from collections.abc import Iterator
from pathlib import Path

from playwright.sync_api import sync_playwright

from tests.bench.table import Row
from tests.browser.conftest import ARGS, CHROMIUM
from tests.browser.test_layers import CASES, IN_EVERY_SHAPE, likeness
from tests.conftest import RunningApp, put_demo

AIM = 0.99


def measure(running: RunningApp, scratch: Path) -> Iterator[Row]:
    """Compares them in the real workbench, the captions drawn at three times the size of the screen's pixels."""
    demo = put_demo(running, "keep-the-wick-short")
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGS)
        context = browser.new_context(viewport={"width": 1280, "height": 800}, device_scale_factor=3)
        for name in [*(one for one in CASES if not one.startswith("over: ")), *IN_EVERY_SHAPE]:
            folder = scratch / f"layer-{name}"
            folder.mkdir()
            page = context.new_page()
            found = likeness(page, running, demo, name, folder, AIM)
            # Each open page listens for news, and a browser has few connections to one server.
            page.close()
            yield Row(
                what=f"preview against export: {name}",
                measured=f"SSIM {found:.4f}",
                baseline="1 is the same picture",
                aim=f"{AIM}",
                met=found >= AIM,
            )
        browser.close()
