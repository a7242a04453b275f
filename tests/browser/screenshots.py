"""Takes the pictures in `docs/screenshots/` anew, from the demo: `.venv/bin/python -m tests.browser.screenshots`."""

import subprocess
import sys
import tempfile
from datetime import UTC, datetime, timedelta
from pathlib import Path

import httpx
from playwright.sync_api import Page, sync_playwright

from nimble_quote.settings import PROJECT
from nimble_quote.store.cluster import Cluster
from tests.browser.conftest import ARGS, CHROMIUM
from tests.conftest import Board, RunningApp, find_words, free_port, is_live, start_app, wait_for, words_of
from tests.helpers import connected
from tests.truth import RATE, truth_of

TARGET = PROJECT / "docs" / "screenshots"
LOAD = "import asyncio; from nimble_quote.demo.load import load_demo; from nimble_quote.settings import settings; asyncio.run(load_demo(settings()))"
QUOTES = {
    "A small repair": "A small repair is a way of saying that a thing still matters.",
    "Ask early, ask small": "The one who never asks is the one who burns through the oil. Ask early, ask small, and ask before the glass is black.",
    "Start with the biggest bits": "You do not have to mend the whole harbour. You have to mend the biggest bit that you can reach. And then you look up, and there is another one, and you can reach that too.",
}
ASKED = "asking for help before it is too late"
OPENS, ENDS = "So people ask me, what is the secret?", "it is still burning at dawn."


def main() -> None:
    """Starts the application with the demo, does an evening's work in it, and takes a picture of each place."""
    with tempfile.TemporaryDirectory(dir="/tmp") as folder:
        scratch = Path(folder)
        scratch.chmod(0o755)
        cluster = Cluster(scratch / "postgres", durable=False)
        cluster.start()
        board = Board(scratch / "board", free_port())
        board.start()
        running = start_app(cluster, scratch / "house", "pictures", search_by_meaning=True, posting_services=board.url)
        try:
            subprocess.run([sys.executable, "-c", LOAD], env=running.environment, check=True, cwd=PROJECT)
            with running.client as client, sync_playwright() as playwright:
                browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGS)
                page = browser.new_page(viewport={"width": 1280, "height": 800})
                take_all(page, running, client)
                browser.close()
        finally:
            running.kill(running.workers)
            running.kill(running.servers)
            board.kill()
            cluster.stop()


def _read_for_meaning(client: httpx.Client) -> None:
    """Waits until all talks can be searched by what they mean."""
    wait_for(lambda: not any("being read" in note for note in _answer(client)["notes"]), "reading for meaning")


def _answer(client: httpx.Client) -> dict:  # type: ignore[type-arg]
    return dict(client.get("/api/search", params={"q": ASKED}).json())


def take_all(page: Page, running: RunningApp, client: httpx.Client) -> None:
    """The pictures, in the order of the work."""
    wait_for(lambda: not any(is_live(one) for one in client.get("/api/recordings").json()), "the demo", 600)
    ids = {one["title"]: one["id"] for one in client.get("/api/recordings").json()}
    talk, kettles = ids["Keep the wick short"], ids["The toaster and the third handle"]
    words = words_of(client, talk)
    for title, text in QUOTES.items():
        first, last = find_words(words, text)
        kept = client.post(f"/api/recordings/{talk}/quotes", json={"first": first, "last": last}).json()
        edit(client, kept["id"], {"kind": "rename", "title": title})
    first, last = find_words(words, OPENS)[0], find_words(words, ENDS)[1]
    quote = client.post(f"/api/recordings/{talk}/quotes", json={"first": first, "last": last}).json()["id"]
    edit(client, quote, {"kind": "rename", "title": "Keep the wick short"})
    filler = find_words(words, "You know,")
    edit(client, quote, {"kind": "strike-words", "first": filler[0], "last": filler[1]})

    def take(name: str, address: str = "") -> None:
        if address:
            page.goto(f"{running.url}{address}")
        page.wait_for_timeout(2500)
        page.screenshot(path=str(TARGET / f"{name}.png"))

    take("shelf", "/")
    _keep_soundbites(client)
    page.goto(f"{running.url}/shortlist")
    page.wait_for_selector("article li")
    page.keyboard.press("m")
    take("shortlist")
    page.goto(f"{running.url}/talk/{talk}?q=wick&t=47")
    page.wait_for_timeout(1500)
    page.keyboard.press("f")
    take("find")
    page.goto(f"{running.url}/talk/{talk}")
    page.wait_for_selector("[data-word]")
    page.get_by_role("tab", name="Words").click()
    page.wait_for_timeout(800)
    page.locator(f'[data-word="{find_words(words, "Maren Tully,")[1]}"]').dblclick()
    take("words")
    page.goto(f"{running.url}/talk/{kettles}?t=16")
    page.wait_for_selector("[data-word]")
    page.get_by_role("tab", name="Shots").click()
    take("shots")
    _read_for_meaning(client)
    take("search", f"/search?q={ASKED}")
    page.goto(f"{running.url}/quote/{quote}/trim")
    page.wait_for_timeout(1500)
    page.locator(f'[data-word="{find_words(words, "A long wick")[1]}"]').click()
    page.keyboard.press("n")
    take("trim")
    _trimmed(page, client, running, talk, words)
    for destination in ("square-60", "wide-140"):
        edit(client, quote, {"kind": "add-version", "destination": destination})
    _framed(page, client, running, kettles)
    _followed(page, client, running, ids["The wall and the boat"])
    page.goto(f"{running.url}/quote/{quote}/frame")
    page.wait_for_timeout(800)
    page.get_by_label("Place in the cut").fill("0.25")
    page.get_by_role("link", name="Captions").click()
    page.wait_for_timeout(800)
    page.get_by_label("Place in the cut").fill("0.25")
    take("captions")
    _finished(page, client, running, quote)
    tall = client.get(f"/api/quotes/{quote}").json()["document"]["versions"][0]["destination"]
    moment = client.get(f"/api/quotes/{quote}").json()["document"]["span"]["start_ms"] + 500
    close = {"kind": "place-window", "destination": tall, "at_ms": moment, "x": 0.62, "y": 0.4, "zoom": 1.25}
    edit(client, quote, close)
    edit(client, quote, {"kind": "place-captions", "destination": tall, "height": 0.84})
    take("check", f"/quote/{quote}/check")
    for _ in range(2):
        client.post(
            f"/api/quotes/{quote}/undo", json={"on_revision": client.get(f"/api/quotes/{quote}").json()["revision"]}
        )
    client.post(f"/api/quotes/{quote}/exports", json={})
    wait_for(lambda: sum(e["state"] == "done" for e in client.get("/api/exports").json()) >= 3, "all clips", 300)
    take("outbox", "/outbox")
    take("house", "/house")
    _posted(client, quote)
    take("post", f"/quote/{quote}/post")
    page.goto(f"{running.url}/calendar")
    page.wait_for_timeout(800)
    page.locator("button[data-state=scheduled]").first.click()
    take("calendar")


def _posted(client: httpx.Client, quote: int) -> None:
    """An evening's posts: one is out, others are scheduled or only planned."""
    account = connected(client)["id"]
    places = [one["destination"] for one in client.get(f"/api/quotes/{quote}").json()["document"]["versions"]]
    today = datetime.now(UTC).date()
    slips = [one for one in client.get("/api/shortlist").json()["slips"] if one["id"] != quote and one["destinations"]]
    for days, (of, place) in enumerate(
        [(quote, places[0]), (quote, places[1]), *((one["id"], one["destinations"][0]) for one in slips[:4])]
    ):
        wall = f"{today + timedelta(days=2 * days + 1)}T{('17:00', '07:45', '12:30')[days % 3]}"
        body = {"quote_id": of, "destination": place, "account_id": account, "wall": wall}
        post = client.post("/api/posts", json=body).json()["posts"][0]["id"]
        if days < 2:
            client.post(f"/api/posts/{post}/schedule", json={"now": days == 0}).raise_for_status()
    wait_for(lambda: any(one["state"] == "posted" for one in client.get("/api/posts").json()), "a post", 60)


LAMP = b"""<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><circle cx="50" cy="50" r="48" fill="#0B5454"/>
<path d="M50 16 C28 46 36 72 50 80 C64 72 72 46 50 16Z" fill="#F2C14E"/></svg>"""


def _finished(page: Page, client: httpx.Client, running: RunningApp, quote: int) -> None:
    """What stands over the picture: a finish of the house's, its logo, and a text with some words; its cover, end card and music."""
    logo = client.post("/api/house/pictures", params={"name": "Lamp"}, content=LAMP).json()["id"]
    edit(client, quote, {"kind": "choose-finish", "finish": "quiet-title"})
    edit(client, quote, {"kind": "add-overlay", "what": {"kind": "logo", "picture": logo, "size": 0.13}})
    words = client.get(f"/api/quotes/{quote}").json()["cut"]["kept_words"]
    shows = {"kind": "words", "first": words[18], "last": words[30]}
    edit(
        client, quote, {"kind": "add-overlay", "what": {"kind": "lines", "text": "There is no secret"}, "shows": shows}
    )
    card = {
        "kind": "end-card",
        "text": "Hear the whole talk",
        "address": "lamphouse.example/talks",
        "code": True,
        "picture": logo,
    }
    for what in ({"kind": "cover"}, card, {"kind": "music", "sound": 1}):
        edit(client, quote, {"kind": "add-overlay", "what": what})
    page.goto(f"{running.url}/quote/{quote}/finish")
    page.wait_for_timeout(800)
    page.get_by_role("button", name="Name strap whoever speaks").click()
    page.wait_for_timeout(2500)
    page.screenshot(path=str(TARGET / "finish.png"))


def _framed(page: Page, client: httpx.Client, running: RunningApp, talk: int) -> None:
    """Frame, in a talk of three cameras."""
    words = words_of(client, talk)
    first, last = find_words(words, "That is unfair,")[0], find_words(words, "It does, it really does.")[1]
    quote = client.post(f"/api/recordings/{talk}/quotes", json={"first": first, "last": last}).json()["id"]
    edit(client, quote, {"kind": "rename", "title": "Why a toaster"})
    for destination in ("square-60", "portrait-60", "wide-140"):
        edit(client, quote, {"kind": "add-version", "destination": destination})
    page.goto(f"{running.url}/quote/{quote}/frame")
    page.wait_for_timeout(1500)
    page.get_by_label("Place in the cut").fill("0.4")
    page.wait_for_timeout(2500)
    page.screenshot(path=str(TARGET / "frame.png"))
    client.post(f"/api/quotes/{quote}/remove")


def _followed(page: Page, client: httpx.Client, running: RunningApp, talk: int) -> None:
    """A boat that a box was drawn on, in one take, and a shot in warmer light."""
    words = words_of(client, talk)
    first, last = find_words(words, "Everybody walks here,")[0], find_words(words, "the boat is why.")[1]
    quote = client.post(f"/api/recordings/{talk}/quotes", json={"first": first, "last": last}).json()["id"]
    edit(client, quote, {"kind": "rename", "title": "The boat is why"})
    for destination in ("square-60", "wide-140"):
        edit(client, quote, {"kind": "add-version", "destination": destination})
    at_ms = 47_000
    left, top, width, height, _ = truth_of("the-wall-and-the-boat")["things"]["the pilot boat"][at_ms * RATE // 1000]
    box = {"x": left / 1280, "y": top / 720, "width": width / 1280, "height": height / 720}
    asked = client.post(f"/api/quotes/{quote}/follow", json={"at_ms": at_ms, "name": "the pilot boat", **box}).json()
    wait_for(lambda: client.get(f"/api/work/{asked['work']['id']}").json()["state"] == "done", "the boat")
    edit(client, quote, {"kind": "show-followed", "at_ms": at_ms, "subject": asked["subject"]})
    edit(client, quote, {"kind": "frame-shot", "change": {"exposure": 0.25, "warmth": 0.35}})
    page.goto(f"{running.url}/quote/{quote}/frame")
    page.wait_for_timeout(1500)
    page.get_by_label("Place in the cut").fill("0.5")
    page.locator("summary").filter(has_text="Colour").click()
    page.get_by_role("button", name="Expose the face well").scroll_into_view_if_needed()
    page.wait_for_timeout(2500)
    page.screenshot(path=str(TARGET / "follow.png"))
    client.post(f"/api/quotes/{quote}/remove")


def _trimmed(page: Page, client: httpx.Client, running: RunningApp, talk: int, words: list[str]) -> None:
    """The other sides of Trim, of a longer quote."""
    first, last = find_words(words, "When I was nineteen,")[0], find_words(words, "Don't write that down.")[1]
    quote = client.post(f"/api/recordings/{talk}/quotes", json={"first": first, "last": last}).json()["id"]
    edit(client, quote, {"kind": "rename", "title": "The keeper's scissors"})
    edit(client, quote, {"kind": "add-version", "destination": "tall-60"})

    def take(tab: str, name: str) -> None:
        page.get_by_role("tab", name=tab).click()
        page.wait_for_timeout(2500)
        page.screenshot(path=str(TARGET / f"{name}.png"))

    page.goto(f"{running.url}/quote/{quote}/trim")
    page.wait_for_timeout(1500)
    take("Fit", "fit")
    forty = find_words(words, "I mean fourteen.")
    edit(client, quote, {"kind": "strike-words", "first": forty[0], "last": forty[1]})
    page.wait_for_timeout(600)
    take("Fair", "fair")
    page.get_by_role("button", name="Show").first.click()
    page.wait_for_timeout(600)
    page.screenshot(path=str(TARGET / "fair.png"))
    page.evaluate("localStorage.setItem('person', 'Ada')")
    take("History", "history")
    client.post(f"/api/quotes/{quote}/remove")


def _keep_soundbites(client: httpx.Client) -> None:
    """The two best soundbites of each talk, kept."""
    for talk in client.get("/api/recordings").json():
        address = f"/api/recordings/{talk['id']}/soundbites"
        for bite in client.get(address, params={"count": 2}).json()["soundbites"]:
            told = {"first": bite["first"], "last": bite["last"], "verdict": "kept"}
            client.post(f"{address}/decide", json=told).raise_for_status()


def edit(client: httpx.Client, quote: int, change: dict[str, object]) -> None:
    """Makes an edit on the newest revision."""
    revision = client.get(f"/api/quotes/{quote}").json()["revision"]
    client.post(f"/api/quotes/{quote}/edits", json={"on_revision": revision, "edit": change}).raise_for_status()


if __name__ == "__main__":
    main()
