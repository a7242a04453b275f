"""The finder: how fast, how whole its spans, how many of the passages an editor marked it offers, what each feature adds;
and the page with hundreds of soundbites."""

import asyncio
import time
import tomllib
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import psycopg
from playwright.sync_api import Page, sync_playwright

from nimble_quote.api.finding import Finders
from nimble_quote.core.soundbites.facts import TalkSentence, TalkToJudge
from nimble_quote.core.soundbites.finder import Finder, Soundbite, finder_of
from nimble_quote.core.soundbites.merits import FEATURES, Weights
from nimble_quote.demo.load import DEMO
from nimble_quote.formats.languages import finder_model, language
from nimble_quote.media.files import MediaRoot
from nimble_quote.store import recordings
from tests.bench.table import Row, spread
from tests.browser.conftest import ARGS, CHROMIUM
from tests.conftest import CODED, RunningApp, make_media, put_demo
from tests.library import WORD_MS, sentences, talk_words, vocabulary
from tests.long_talk import put_on_shelf
from tests.shipped import DESTINATIONS

MARKED = Path(__file__).parent / "marked.toml"
SAME = 0.5
"""A passage is found where it and a soundbite share so much of the words they have together."""
AMONG = 10
FOR = [DESTINATIONS["tall-30"]]
"""The marked passages were chosen for half a minute."""


@dataclass(frozen=True, kw_only=True)
class Marked:
    """A passage that an editor marked: its talk, and how its first and last sentence begin."""

    talk: str
    first: str
    last: str


def measure(running: RunningApp, scratch: Path) -> list[Row]:
    """Judges the demo talks and a long one, and opens a page with hundreds of soundbites."""
    talks = asyncio.run(_demo_talks(running))
    rows = [_speed(), _spans(talks), _found_row(talks), *_ablation(talks)]
    return rows + _page(running, scratch)


async def _demo_talks(running: RunningApp) -> dict[str, Finder]:
    """The demo talks made ready as the application has them, by title."""
    ids = {one.title: put_demo(running, one.name) for one in DEMO}
    finders = Finders(MediaRoot(running.settings.media_root))
    async with await psycopg.AsyncConnection.connect(running.settings.database_url) as conn:
        return {title: await finders.of(conn, await recordings.one(conn, talk)) for title, talk in ids.items()}


def _speed() -> Row:
    """From the words of a two-hour talk to the ten best soundbites."""
    words = talk_words(7, vocabulary(), 18_000)
    said, first = [], 0
    for run in sentences(words):
        starts = [(first + i) * WORD_MS + first * 8 for i in range(len(run))]
        said.append(
            TalkSentence(
                first_word=first, speaker="Ann", words=run, starts_ms=starts, ends_ms=[at + 300 for at in starts],
                lexemes=[None if len(word) < 4 else word.strip(".").lower() for word in run],
            )
        )  # fmt: skip
        first += len(run)
    levels = np.random.default_rng(2).integers(20, 200, said[-1].ends_ms[-1] // 10, np.uint8)
    talk = TalkToJudge(sentences=said, levels=levels, library={}, library_words=9_000_000)
    took, offers = [], []
    for _ in range(5):
        began = time.perf_counter()
        ready = finder_of(talk, language("en"), finder_model("en"))
        offers.append(
            ready.offer([DESTINATIONS["tall-30"], DESTINATIONS["tall-60"]], finder_model("en").weights, AMONG)
        )
        took.append((time.perf_counter() - began) * 1000)
    began = time.perf_counter()
    for one in said:
        language("en").within(one.bare, "fillers")
    baseline = (time.perf_counter() - began) * 1000
    same = all(offer == offers[0] for offer in offers)
    return Row(
        what=f"the finder on a 2-hour talk ({len(said):,} sentences), {'the same' if same else 'NOT the same'} each of 5 times",
        measured=f"{spread(took)}, gap to the bound {offers[0].gap:.1%}",
        baseline=f"counting its fillers alone {baseline:.0f} ms", aim="500 ms, the same each time",
        met=max(took) <= 500 and same,
    )  # fmt: skip


def _spans(talks: dict[str, Finder]) -> Row:
    """Whether all that is offered begins and ends on sentence bounds and is inside its limit."""
    total = whole = 0
    for ready in talks.values():
        firsts = {one.first_word for one in ready.talk.sentences}
        lasts = {one.first_word + len(one.words) - 1 for one in ready.talk.sentences}
        for to in DESTINATIONS.values():
            for bite in ready.offer([to], ready.model.weights, 40).soundbites:
                total += 1
                whole += bite.first_word in firsts and bite.last_word in lasts and bite.length_ms <= to.limit_ms
    share = whole / total
    return Row(
        what="soundbites that begin and end on sentences, inside the limit", measured=f"{whole} of {total}", baseline="—",
        aim="100 %", met=share == 1,
    )  # fmt: skip


def marked() -> list[Marked]:
    """The passages an editor marked."""
    return [Marked(**one) for one in tomllib.loads(MARKED.read_text())["passage"]]


def share_found(talks: dict[str, Finder], weighed: Weights, weaker: bool = True) -> tuple[int, int]:
    """How many of the marked passages are among the first soundbites of their talk, also of those that are only shown when
    asked for, and how many there are."""
    found = 0
    for passage in marked():
        ready = talks[passage.talk]
        texts = [one.text for one in ready.talk.sentences]
        first = next(i for i in range(len(texts)) if " ".join(texts[i : i + 2]).startswith(passage.first))
        last = next(i for i in range(first, len(texts)) if texts[i].startswith(passage.last))
        words = _words(ready, first, last)
        found += any(_shared(words, one) >= SAME for one in ready.offer(FOR, weighed, AMONG, weaker=weaker).soundbites)
    return found, len(marked())


def _words(ready: Finder, first: int, last: int) -> tuple[int, int]:
    closing = ready.talk.sentences[last]
    return ready.talk.sentences[first].first_word, closing.first_word + len(closing.words)


def _shared(words: tuple[int, int], bite: Soundbite) -> float:
    """The words that both have, as a share of those that either has."""
    both = min(words[1], bite.last_word + 1) - max(words[0], bite.first_word)
    either = max(words[1], bite.last_word + 1) - min(words[0], bite.first_word)
    return max(0, both) / either


def _by_length() -> Weights:
    """The baseline: soundbites by their length alone."""
    weights = finder_model("en").weights
    return weights.counting((np.array(FEATURES) == "fits") * 1.0).model_copy(update={"threshold": 0.0})


def _found_row(talks: dict[str, Finder]) -> Row:
    found, there = share_found(talks, finder_model("en").weights)
    likely, _ = share_found(talks, finder_model("en").weights, weaker=False)
    alone, _ = share_found(talks, _by_length())
    return Row(
        what=f"marked passages among the first {AMONG} of their talk", measured=f"{found} of {there} ({found / there:.0%}), of those likely to be kept alone {likely}",
        baseline=f"by length alone {alone} ({alone / there:.0%})", aim="80 %", met=found >= 0.8 * there,
    )  # fmt: skip


def _ablation(talks: dict[str, Finder]) -> list[Row]:
    """What is found without each feature."""
    weights = finder_model("en").weights
    found, there = share_found(talks, weights)
    rows = []
    for name in FEATURES:
        without, _ = share_found(talks, weights.counting(weights.row * (np.array(FEATURES) != name)))
        rows.append(
            Row(
                what=f"  without “{name}”",
                measured=f"{without} of {there}",
                baseline=f"with it {found}",
                aim="told",
                met=True,
            )
        )
    return rows


_TYPED = """
window.marked = [];
addEventListener('input', (event) => { window.typedAt = performance.now(); window.sought = event.target.value; }, true);
new MutationObserver(() => {
  if (window.typedAt === null || !document.querySelector('[data-word].hit')?.textContent.toLowerCase().startsWith(window.sought)) return;
  const from = window.typedAt;
  window.typedAt = null;
  requestAnimationFrame(() => window.marked.push(performance.now() - from));
}).observe(document.body, { subtree: true, childList: true, attributes: true, attributeFilter: ['class'] });
"""
_SCROLL = """() => new Promise((done) => {
  const page = document.querySelector('[aria-label="Transcript"]');
  const gaps = []; let last = performance.now(); let left = 180;
  const frame = (now) => {
    gaps.push(now - last); last = now; page.scrollTop += 240;
    if (--left) requestAnimationFrame(frame); else done(gaps.slice(2));
  };
  requestAnimationFrame(frame);
})"""


_SOUGHT = ("scissors", "harbour", "lamp", "patience", "boat", "glass", "wick", "evening")
_REQUEST = """async ([talk, word]) => {
  const from = performance.now();
  await (await fetch(`/api/recordings/${talk}/search?q=${word}`)).json();
  return performance.now() - from;
}"""


def _page(running: RunningApp, scratch: Path) -> list[Row]:
    """Three hours of words and 300 soundbites on one page: typing in the search, and scrolling."""
    clip = make_media(scratch / "find.mp4", "testsrc2=s=640x360:r=25:d=10", "sine=d=10", options=CODED)
    talk = put_on_shelf(running, clip, "A long evening with soundbites")
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGS)
        page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
        page.goto(f"{running.url}/talk/{talk}")
        page.wait_for_selector("[data-word]", timeout=60_000)
        plain = page.evaluate(_SCROLL)
        for _ in range(4):
            if page.get_by_role("button", name="Show more").count():
                page.get_by_role("button", name="Show more").click()
            page.wait_for_timeout(3000)
        count = int(page.get_by_role("tab", name="Soundbites").locator("span").inner_text())
        alone = [float(page.evaluate(_REQUEST, [talk, word])) for word in _SOUGHT]
        typed = _typing(page)
        scrolled = page.evaluate(_SCROLL)
        browser.close()
    dropped = [gap for gap in scrolled if gap > 32]
    return [
        Row(
            what=f"typing in the search of 3 hours, {count} soundbites, to marks on the page", measured=spread(typed),
            baseline=f"the request alone {spread(alone)}", aim="100 ms", met=max(typed) <= 100,
        ),
        Row(
            what="frames over 32 ms while scrolling there", measured=f"{len(dropped)} of {len(scrolled)}",
            baseline=f"before the soundbites {sum(gap > 32 for gap in plain)} of {len(plain)}", aim="none", met=not dropped,
        ),
    ]  # fmt: skip


def _typing(page: Page) -> list[float]:
    page.evaluate(_TYPED)
    page.keyboard.press("/")
    for word in _SOUGHT:
        page.get_by_label("Search", exact=True).fill(word)
        page.wait_for_timeout(900)
    return [float(ms) for ms in page.evaluate("window.marked")]
