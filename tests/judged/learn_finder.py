"""Learns what makes a passage worth posting: `.venv/bin/python -m tests.judged.learn_finder` fits it to the judged talks that
are there to learn from, and writes it with its figures to `nimble_quote/languages/en.finder.json`.

Two steps: what the signs around a sentence say of its worth, and what the features of a span make of it. Each is a logistic
model drawn to what was set by hand or to nothing. What the features give is then scaled so that of the spans offered with
a probability of 0.6, six of ten are passages that were marked.
"""

import asyncio
import json
import tempfile
from collections.abc import Callable, Sequence
from pathlib import Path

import numpy as np
import psycopg

import nimble_quote.languages
from nimble_quote.core.destinations import Destination
from nimble_quote.core.soundbites.facts import Facts, facts_of, signs_of_sentences
from nimble_quote.core.soundbites.finder import finder_of
from nimble_quote.core.soundbites.learned import FinderModel
from nimble_quote.core.soundbites.merits import FEATURES, Spans, Weights, judge, length_ms
from nimble_quote.core.soundbites.worth import SIGNS, WorthModel
from nimble_quote.formats.languages import language
from nimble_quote.store.cluster import Cluster
from tests.conftest import migrated_database
from tests.judged.logistic import Numbers, area_under_curve, fitted
from tests.judged.ready import ReadyTalk, made_ready
from tests.judged.talks import judged_talks
from tests.shipped import DESTINATIONS

TARGET = Path(nimble_quote.languages.__file__).parent / "en.finder.json"
FOR = [DESTINATIONS["tall-60"]]
"""The passages are about as long as is best for a minute."""
FOLDS = 5
OFFERED = 8
LIKE_MS = 24_000
"""Windows as long as passages are: a shorter one can't be half of one."""
BY_HAND = {"alive": 0.6, "fits": 1.5}
"""What can't be learned here: the judged talks have no sound, and all passages are of about one length."""
RULES = {"opens_alone": 1.2, "opens_strongly": 0.3, "lands": 1.2, "one_thought": 0.6, "dense": 0.8}
"""What the trade holds to, which what is learned is drawn to: windows half beside a passage count as it, so that they tell
little of where it has to begin and end."""
_DRAWN_SIGNS, _DRAWN_RULES, _DRAWN = 10.0, 60.0, 60.0
_SCALE_DRAWN = 100.0
"""How strongly the scale is drawn to 1, so that a talk unlike those judged is not called hopeless with certainty."""
_ROWS_EACH = 1000.0
_THRESHOLD = 0.35
_EN = language("en")


def main() -> None:
    """Learns, measures in turn on talks left out and on those kept for it, and writes."""
    talks = shelved()
    learning = [one for one in talks if one.talk.learned_from]
    measuring = [one for one in talks if not one.talk.learned_from]
    model = learned(learning)
    inside = np.nanmean([auc for fold in folds(learning) for auc in map(area_of(fold[0]), fold[1])])
    figures = {
        "auc cross-validated": round(float(inside), 3),
        "auc": round(float(np.mean([*map(area_of(model), measuring)])), 3),
        "mean": round(mean_mark(model, measuring), 2),
    }
    TARGET.write_text(json.dumps(model.model_copy(update={"figures": figures}).model_dump(), indent=1) + "\n")
    print(figures, {name: round(value, 2) for name, value in model.weights.counts.items()}, model.weights.bias)


def shelved() -> list[ReadyTalk]:
    """The judged talks as the application has them."""
    with tempfile.TemporaryDirectory(dir="/tmp") as folder:
        Path(folder).chmod(0o755)
        cluster = Cluster(Path(folder) / "postgres", durable=False)
        cluster.start()
        try:
            return asyncio.run(_shelved(migrated_database(cluster, "judged")))
        finally:
            cluster.stop()


async def _shelved(url: str) -> list[ReadyTalk]:
    async with await psycopg.AsyncConnection.connect(url) as conn:
        return await made_ready(conn, judged_talks())


def folds(talks: Sequence[ReadyTalk]) -> list[tuple[FinderModel, Sequence[ReadyTalk]]]:
    """Models learned from all talks but some, and those."""
    return [
        (_unscaled([one for i, one in enumerate(talks) if i % FOLDS != fold]), talks[fold::FOLDS])
        for fold in range(FOLDS)
    ]


def learned(talks: Sequence[ReadyTalk]) -> FinderModel:
    """The model that talks give, its probabilities scaled by what models learned from the others offer of each."""
    odds, kept = [], []
    for model, left_out in folds(talks):
        for one in left_out:
            ready = finder_of(one.to_judge, _EN, model)
            open_to_all = model.weights.model_copy(update={"threshold": 0.0})
            bites = ready.offer(FOR, open_to_all, OFFERED).soundbites
            odds += [_odds(bite.merit) for bite in bites]
            kept += [*(one.marks(np.array([b.first for b in bites]), np.array([b.last for b in bites])) == 2)]
    scale, shift = fitted(
        np.c_[odds, np.ones(len(odds))],
        np.array(kept, float),
        np.array([_SCALE_DRAWN, 0.0]),
        None,
        np.array([1.0, 0.0]),
    )
    model = _unscaled(talks)
    scaled = {name: round(float(scale * count), 4) for name, count in model.weights.counts.items()}
    bias = float(scale * model.weights.bias + shift)
    weights = model.weights.model_copy(update={"counts": scaled, "bias": round(bias, 4), "threshold": _THRESHOLD})
    return model.model_copy(update={"weights": weights})


def area_of(model: FinderModel) -> Callable[[ReadyTalk], float]:
    """How well a model tells windows of a talk that are passages from others as long (area under the curve)."""

    def area(one: ReadyTalk) -> float:
        ready = finder_of(one.to_judge, _EN, model)
        spans = windows(ready.facts)
        marks = one.marks(spans.first, spans.last)
        if not (marks == 2).any():
            return float("nan")
        return area_under_curve(model.weights.probability(spans.features), (marks == 2).astype(float))

    return area


def mean_mark(model: FinderModel, talks: Sequence[ReadyTalk]) -> float:
    """What the spans that a model offers are worth, 0 to 2, on average."""
    marks = []
    for one in talks:
        bites = finder_of(one.to_judge, _EN, model).offer(FOR, model.weights, OFFERED).soundbites
        marks += [*one.marks(np.array([b.first for b in bites], int), np.array([b.last for b in bites], int))]
    return float(np.mean(marks))


def windows(facts: Facts, destinations: Sequence[Destination] = FOR) -> Spans:
    """All spans of whole sentences that are as long as passages are, also those that would never be offered."""
    count = len(facts.start_ms)
    first, last = np.triu_indices(count)
    length = length_ms(facts, first, last)
    like = (length >= LIKE_MS) & (length <= max(one.limit_ms for one in destinations))
    return judge(facts, first[like], last[like], destinations)


def worth_learned(talks: Sequence[ReadyTalk]) -> WorthModel:
    """What the signs around a sentence say of its being in a passage to post."""
    rows = [signs_of_sentences(one.to_judge.sentences, _EN) for one in talks]
    means, spreads = np.concatenate(rows).mean(axis=0), np.maximum(0.01, np.concatenate(rows).std(axis=0))
    goal = np.concatenate([_within(one) for one in talks])
    sure = np.concatenate([[len(s.words) / 10 for s in one.to_judge.sentences] for one in talks])
    terms = (np.concatenate(rows) - means) / spreads
    weights = fitted(
        np.c_[terms, np.ones(len(terms))], goal, np.r_[np.full(len(SIGNS), _DRAWN_SIGNS), 0.0], np.asarray(sure)
    )
    return WorthModel(
        weights=_named(SIGNS, weights[:-1]), means=_named(SIGNS, means), spreads=_named(SIGNS, spreads),
        bias=round(float(weights[-1]), 4),
    )  # fmt: skip


def _unscaled(talks: Sequence[ReadyTalk]) -> FinderModel:
    worth = worth_learned(talks)
    rows, goals, sures = [], [], []
    for one in talks:
        spans = windows(facts_of(one.to_judge, _EN, worth))
        marks = one.marks(spans.first, spans.last)
        rows.append(spans.features)
        goals.append((marks == 2).astype(float))
        # A window that is part of a passage is neither here nor there.
        sure = np.where(marks == 1, 0.3, 1.0)
        sures.append(sure * _ROWS_EACH / len(sure))
    return FinderModel(
        language="en", worth=worth, weights=_weights(np.concatenate(rows), np.concatenate(goals), np.concatenate(sures)),
        figures={},
    )  # fmt: skip


def _weights(rows: Numbers, goal: Numbers, sure: Numbers) -> Weights:
    """The counts of the features, drawn to the rules of the trade; those set by hand stay."""
    means, spreads = rows.mean(axis=0), rows.std(axis=0)
    toward = np.array([{**RULES, **BY_HAND}.get(name, 0.0) for name in FEATURES])
    drawn = np.array([1e9 if name in BY_HAND else _DRAWN_RULES if name in RULES else _DRAWN for name in FEATURES])
    found = fitted(np.c_[rows - means, np.ones(len(rows))], goal, np.r_[drawn, 0.0], sure, np.r_[toward, 0.0])
    return Weights(
        counts=_named(FEATURES, found[:-1]), means=_named(FEATURES, np.where(spreads > 0, means, 0.5)),
        bias=round(float(found[-1]), 4), threshold=0.0,
    )  # fmt: skip


def _within(one: ReadyTalk) -> Numbers:
    """For each sentence of a talk whether it lies in a passage to post, but for a few words: 1 or 0."""
    firsts = np.array([s.first_word for s in one.to_judge.sentences])
    ends = firsts + np.array([len(s.words) for s in one.to_judge.sentences])
    inside = np.zeros(len(firsts))
    for passage in one.talk.passages:
        if passage.verdict == "post":
            inside[(firsts >= passage.first - 3) & (ends <= passage.end + 3)] = 1
    return inside


def _named(names: Sequence[str], values: Numbers) -> dict[str, float]:
    return {name: round(float(value), 4) for name, value in zip(names, values, strict=True)}


def _odds(probability: float) -> float:
    return float(np.log(probability / (1 - probability)))


if __name__ == "__main__":
    main()
