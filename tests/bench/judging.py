"""What the finder makes of talks that an editor judged and that nothing was learned from, where it finds the ends of their
sentences, and how well they are searched."""

import asyncio
import random
import time
import tomllib
from collections import Counter
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path

import httpx
import numpy as np
import psycopg

from nimble_quote.core.search.meaning import thoughts
from nimble_quote.core.soundbites.finder import Finder, finder_of
from nimble_quote.core.soundbites.learned import FinderModel
from nimble_quote.core.soundbites.merits import FEATURES
from nimble_quote.core.soundbites.worth import SIGNS
from nimble_quote.formats.languages import end_model, finder_model, language
from nimble_quote.media.vectors import MODEL, vectors_of
from nimble_quote.store import meanings
from tests.bench.sentences import by_ear
from tests.bench.table import Row
from tests.conftest import RunningApp, free_port, start, wait_for
from tests.judged.learn_ends import best_threshold, gaps_of, odds_of
from tests.judged.learn_finder import FOR, area_of, windows
from tests.judged.logistic import f1
from tests.judged.ready import ReadyTalk, made_ready
from tests.judged.talks import judged_talks, stripped, words_of

WORDS_AN_HOUR = 9_000
SEARCHES = Path(__file__).parent / "judged_searches.toml"
AMONG = 10
FIRST = 5
_EN = language("en")
Bites = list[tuple[int, int]]


def measure(running: RunningApp) -> list[Row]:
    """Puts the judged talks on the shelf, and has them judged, cut into sentences and searched."""
    talks = asyncio.run(_on_shelf(running))
    left_out = [one for one in talks if not one.talk.learned_from]
    model = finder_model("en")
    return [*_offers(left_out, model), *_areas(left_out, model), *_ends(), *_searches(running)]


async def _on_shelf(running: RunningApp) -> list[ReadyTalk]:
    async with await psycopg.AsyncConnection.connect(running.settings.database_url) as conn:
        return await made_ready(conn, judged_talks())


def _offers(talks: Sequence[ReadyTalk], model: FinderModel) -> list[Row]:
    ready = [finder_of(one.to_judge, _EN, model) for one in talks]
    offers = [_bites(one, model) for one in ready]
    mean = _mean(talks, offers)
    at_random = _mean(talks, [_at_random(one, bites) for one, bites in zip(ready, offers, strict=True)])
    dense = _mean(talks, [_densest(one, len(bites)) for one, bites in zip(ready, offers, strict=True)])
    held = {kind: _held(talks, offers, kind) for kind in (False, True)}
    errands = sum(int(one.nevers(*_columns(bites)).sum()) for one, bites in zip(talks, offers, strict=True))
    count = sum(map(len, offers))
    return [
        Row(
            what=f"what {count} offers of {len(talks)} judged talks are worth, 0 to 2", measured=f"{mean:.2f}",
            baseline=f"windows as long at random {at_random:.2f}, densest in keywords {dense:.2f}", aim="1.0, and 3 x either",
            met=mean >= 1.0 and mean >= 3 * max(at_random, dense),
        ),
        Row(
            what="talks whose first three offers hold a passage to post", baseline="—", aim="90 %, with marks and without",
            measured=f"with marks {held[False][0]} of {held[False][1]}, without {held[True][0]} of {held[True][1]}",
            met=all(found >= 0.9 * there for found, there in held.values()),
        ),
        Row(
            what="farewells, introductions and calls to action among the offers", measured=f"{errands} of {count}",
            baseline="—", aim="none", met=errands == 0,
        ),
    ]  # fmt: skip


def _bites(ready: Finder, model: FinderModel) -> Bites:
    return [(one.first, one.last) for one in ready.offer(FOR, model.weights, AMONG).soundbites]


def _at_random(ready: Finder, like: Bites) -> Bites:
    """Windows as long as those offered, each wherever it falls, many times over."""
    dice, spans = random.Random(5), windows(ready.facts)
    words = np.concatenate([[0], np.cumsum(ready.facts.words)])
    length = words[spans.last + 1] - words[spans.first]
    out: Bites = []
    for first, last in like:
        near = np.flatnonzero(np.abs(length - (words[last + 1] - words[first])) <= 8)
        out += [(int(spans.first[i]), int(spans.last[i])) for i in dice.choices(near.tolist(), k=50)]
    return out


def _densest(ready: Finder, count: int) -> Bites:
    """The windows with most of the words that their talk has more than others, none over another."""
    spans = windows(ready.facts)
    tells = np.concatenate([[0.0], np.cumsum(ready.facts.telling * ready.facts.words)])
    words = np.concatenate([[0.0], np.cumsum(ready.facts.words)])
    dense = (tells[spans.last + 1] - tells[spans.first]) / (words[spans.last + 1] - words[spans.first])
    taken: Bites = []
    for i in np.argsort(-dense).tolist():
        first, last = int(spans.first[i]), int(spans.last[i])
        if len(taken) < count and all(last < a or first > b for a, b in taken):
            taken.append((first, last))
    return taken


def _columns(bites: Bites) -> tuple[np.ndarray, np.ndarray]:  # type: ignore[type-arg]
    firsts, lasts = zip(*bites, strict=True) if bites else ((), ())
    return np.array(firsts, int), np.array(lasts, int)


def _mean(talks: Sequence[ReadyTalk], offers: Sequence[Bites]) -> float:
    return float(np.concatenate([one.marks(*_columns(b)) for one, b in zip(talks, offers, strict=True)]).mean())


def _held(talks: Sequence[ReadyTalk], offers: Sequence[Bites], without_marks: bool) -> tuple[int, int]:
    found = [
        bool((one.marks(*_columns(bites[:3])) == 2).any())
        for one, bites in zip(talks, offers, strict=True)
        if one.talk.stripped == without_marks
    ]
    return sum(found), len(found)


def _areas(talks: Sequence[ReadyTalk], model: FinderModel) -> list[Row]:
    """How well merit tells passages from other windows, and without each feature and sign."""
    whole, by_length = _area(talks, model), _area(talks, _counting(model, {"fits": 1.0}))
    rows = [
        Row(
            what="AUC of merit on windows as long as passages", measured=f"{whole:.3f}",
            baseline=f"by length alone {by_length:.3f}", aim="0.80", met=whole >= 0.8,
        )
    ]  # fmt: skip
    counts = model.weights.counts
    for name in FEATURES:
        without = _area(talks, _counting(model, {one: counts[one] for one in FEATURES if one != name}))
        rows.append(_left_out(f"feature “{name}”", without, whole))
    for name in SIGNS:
        weights = {**model.worth.weights, name: 0.0}
        without = _area(talks, model.model_copy(update={"worth": model.worth.model_copy(update={"weights": weights})}))
        rows.append(_left_out(f"sign “{name}”", without, whole))
    return rows


def _area(talks: Sequence[ReadyTalk], model: FinderModel) -> float:
    return float(np.nanmean([*map(area_of(model), talks)]))


def _counting(model: FinderModel, counts: dict[str, float]) -> FinderModel:
    weights = model.weights.counting(np.array([counts.get(name, 0.0) for name in FEATURES]))
    return model.model_copy(update={"weights": weights})


def _left_out(what: str, without: float, whole: float) -> Row:
    return Row(
        what=f"  without the {what}", measured=f"{without:.3f} ({without - whole:+.3f})", baseline=f"with it {whole:.3f}",
        aim="told", met=True,
    )  # fmt: skip


def _ends() -> list[Row]:
    model = end_model("en")
    assert model is not None
    gaps = [gaps_of(one) for one in judged_talks() if not one.learned_from]
    goal = np.concatenate([ends for _, ends in gaps])
    odds = np.concatenate([odds_of(model, words) for words, _ in gaps])
    every = np.arange(len(goal)) % 12 == 11
    best = best_threshold(odds, goal)
    heard, by_pauses = by_ear()
    return [
        Row(
            what="ends of sentences by wording alone, on talks not learned from", measured=f"F1 {f1(odds > 0, goal):.3f}",
            baseline=f"every twelfth word {f1(every, goal):.3f}; at the best threshold there {f1(odds > best, goal):.3f}",
            aim="0.75", met=f1(odds > 0, goal) >= 0.75,
        ),
        Row(
            what="ends of sentences with sound, demo talks without their marks", measured=f"F1 {heard:.3f}",
            baseline=f"by wording and pauses, without what the recogniser hears {by_pauses:.3f}", aim="0.90",
            met=heard >= 0.9,
        ),
    ]  # fmt: skip


def _searches(running: RunningApp) -> list[Row]:
    asked = tomllib.loads(SEARCHES.read_text())["search"]
    rows = [_reading_speed()]
    by_words = _found_by(running, asked)
    with _reading_for_meaning(running) as reading:
        found_by = _found_by(reading, asked)
    for kind, aim in (("words", 0.95), ("meaning", 0.80), ("meaning, untuned", 0.80)):
        those = [one for one in asked if one["by"] == kind]
        found = found_by[kind]
        rows.append(
            Row(
                what=f"searches by {kind} that find their passage in the first {FIRST}",
                baseline=f"without vectors {by_words[kind]} of {len(those)}",
                measured=f"{found} of {len(those)} ({found / len(those):.0%})", aim=f"{aim:.0%}",
                met=found >= aim * len(those),
            )
        )  # fmt: skip
    return rows


def _reading_speed() -> Row:
    """How long reading two hours for their meaning takes, once the network is loaded, on one core."""
    words = [one.word.text for talk in judged_talks() for one in words_of(talk.given)]
    hours = 2
    said = [words[at : at + 13] for at in range(0, hours * WORDS_AN_HOUR, 13)]
    texts = [" ".join(word for one in said[first:end] for word in one) for first, end in thoughts([*map(len, said)])]
    vectors_of(texts[:1])
    began = time.perf_counter()
    vectors_of(texts)
    took = time.perf_counter() - began
    return Row(
        what=f"reading {hours} h of talk for what it means", measured=f"{took:.1f} s, {hours * 3600 / took:.0f} x real time",
        baseline="—", aim="20 x", met=hours * 3600 / took >= 20,
    )  # fmt: skip


def _found_by(running: RunningApp, asked: Sequence[dict[str, str]]) -> Counter[str]:
    with running.client as client:
        return Counter(one["by"] for one in asked if _holds(client, one["typed"], one["holds"]))


@contextmanager
def _reading_for_meaning(running: RunningApp) -> Iterator[RunningApp]:
    """Another server and worker on the same talks, which read them for their meaning; when they have."""
    reading = start(running.settings.model_copy(update={"port": free_port(), "search_by_meaning": True}))
    try:
        wait_for(lambda: asyncio.run(_waiting(reading)) == 0, "the talks to be read for their meaning", 300)
        yield reading
    finally:
        reading.kill(reading.workers)
        reading.kill(reading.servers)


async def _waiting(running: RunningApp) -> int:
    async with await psycopg.AsyncConnection.connect(running.settings.database_url) as conn:
        return await meanings.count_waiting(conn, MODEL)


def _holds(client: httpx.Client, typed: str, holds: str) -> bool:
    passages = client.get("/api/search", params={"q": typed, "count": FIRST}).json()["passages"]
    said = [stripped(" ".join(word for line in one["lines"] for word in line["words"])) for one in passages]
    return any(stripped(holds) in one for one in said)
