"""The browser that tests drive: Debian's Chromium, kept from reaching anywhere by itself."""

from collections.abc import Callable, Iterator

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from tests.conftest import Board, RunningApp

CHROMIUM = "/usr/bin/chromium-headless-shell"
"""Debian's Chromium without the parts that a screen needs, which took a third of the work of these tests."""
ARGS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync", "--autoplay-policy=no-user-gesture-required", "--mute-audio",
]  # fmt: skip


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, object]:
    return {"executable_path": CHROMIUM, "args": ARGS}


@pytest.fixture(scope="session")
def browser_context_args() -> dict[str, object]:
    return {"viewport": {"width": 1280, "height": 800}}


def expected(said: str) -> bool:
    """What the browser itself says of a request that was refused or broke off, as some tests make happen."""
    return "status of" in said or "net::ERR_FAILED" in said


@pytest.fixture(scope="session")
def warm(browser: Browser, browser_context_args: dict[str, object]) -> Iterator[Callable[..., BrowserContext]]:
    """Browsers that have been here before, one of each kind that is asked for: scripts and faces are in its store, so that a page
    comes up in half of the time."""
    kept: dict[str, BrowserContext] = {}

    def of(**asked: object) -> BrowserContext:
        kind = repr(asked)
        if kind not in kept:
            kept[kind] = browser.new_context(**{**browser_context_args, **asked})  # type: ignore[arg-type]
        return kept[kind]

    yield of
    for one in kept.values():
        one.close()


@pytest.fixture
def context(request: pytest.FixtureRequest, warm: Callable[..., BrowserContext]) -> Iterator[BrowserContext]:
    """A warm browser of the kind that a test is marked with. What a page put by is gone for the next."""
    marked = request.node.get_closest_marker("browser_context_args")
    shared = warm(**(marked.kwargs if marked else {}))
    yield shared
    for page in shared.pages:
        page.close()
    shared.clear_cookies()


@pytest.fixture
def desk(page: Page, running: RunningApp, board: Board) -> Iterator[Page]:
    """A page on the running application; an error in its console fails the test, as does a request to elsewhere."""
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))
    page.on(
        "console", lambda said: errors.append(said.text) if said.type == "error" and not expected(said.text) else None
    )
    ours = (running.url, board.url, "blob:", "data:")
    page.on("request", lambda asked: errors.append(asked.url) if not asked.url.startswith(ours) else None)
    # Once for each page, as what it puts by itself is there after a reload.
    page.add_init_script("if (!sessionStorage.begun) { sessionStorage.begun = 1; localStorage.clear(); }")
    page.set_default_timeout(40_000)
    expect.set_options(timeout=40_000)
    yield page
    assert errors == []


def select_words(page: Page, first: int, last: int) -> None:
    """Drags over words, as a hand would."""
    start = page.locator(f'[data-word="{first}"]')
    start.scroll_into_view_if_needed()
    a, b = start.bounding_box(), page.locator(f'[data-word="{last}"]').bounding_box()
    assert a
    assert b
    page.mouse.move(a["x"] + 3, a["y"] + a["height"] / 2)
    page.mouse.down()
    page.mouse.move(b["x"] + b["width"] / 2, b["y"] + b["height"] / 2, steps=6)
    page.mouse.move(b["x"] + b["width"] - 6, b["y"] + b["height"] / 2)
    page.mouse.up()
