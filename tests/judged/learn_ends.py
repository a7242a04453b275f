"""Learns where sentences end by their wording: `.venv/bin/python -m tests.judged.learn_ends` writes what it found, with its
figures, to `nimble_quote/languages/en.ends.json`."""

import json
from collections import Counter
from collections.abc import Mapping, Sequence
from pathlib import Path

import numpy as np
from scipy.sparse import csr_matrix, hstack

import nimble_quote.languages
from nimble_quote.core.language import bare
from nimble_quote.core.transcript.ends import EndModel, Numbers, shaped, signs_of
from nimble_quote.formats.languages import language
from nimble_quote.media.likelihoods import english_likelihoods
from tests.judged.logistic import f1, fitted
from tests.judged.talks import JudgedTalk, judged_talks, true_ends, words_of

TARGET = Path(nimble_quote.languages.__file__).parent / "en.ends.json"
_LEAST_SEEN = 20
_DRAWN, _DRAWN_LIKELIHOODS = 6.0, 0.1
_FOLDS = 5
_ENGLISH = language("en")


def gaps_of(talk: JudgedTalk) -> tuple[list[str], Numbers]:
    """The bare words of a talk, and for each gap between them whether a sentence ends there: 1 or 0."""
    words = words_of(talk.text)
    ends = true_ends(words)
    return [bare(one.word.text) for one in words], np.array([float(i in ends) for i in range(len(words) - 1)])


def learned(talks: Sequence[tuple[list[str], Numbers]], threshold: float = 0.0) -> EndModel:
    """The model that some talks give."""
    counts = Counter(sign for words, _ in talks for signs in signs_of(words, _ENGLISH) for sign in signs)
    columns = {sign: i for i, sign in enumerate(sign for sign, seen in counts.items() if seen >= _LEAST_SEEN)}
    heard = np.concatenate([english_likelihoods(words) for words, _ in talks])
    means, spreads = heard.mean(axis=0), heard.std(axis=0)
    terms = shaped((heard - means) / spreads)
    rows = hstack([_sign_rows([words for words, _ in talks], columns), csr_matrix(terms), np.ones((len(terms), 1))])
    drawn = np.r_[np.full(len(columns), _DRAWN), np.full(terms.shape[1], _DRAWN_LIKELIHOODS), 0.0]
    weights = fitted(rows.tocsr(), np.concatenate([goal for _, goal in talks]), drawn)
    signs = {sign: round(float(weights[i]), 3) for sign, i in sorted(columns.items()) if abs(weights[i]) >= 0.0005}
    return EndModel(
        language="en", threshold=threshold - float(weights[-1]), means=_plain(means), spreads=_plain(spreads),
        likelihoods=_plain(weights[len(columns) : -1]), signs=signs, figures={},
    )  # fmt: skip


def best_threshold(odds: Numbers, goal: Numbers) -> float:
    """The odds above which a call of an end is best, by F1."""
    return float(max(np.arange(-2.5, 1.0, 0.1), key=lambda at: f1(odds > at, goal)))


def odds_of(model: EndModel, words: list[str]) -> Numbers:
    """What a model finds in the words of a talk."""
    return model.odds(words, _ENGLISH, english_likelihoods)


def cross_validated(talks: Sequence[tuple[list[str], Numbers]]) -> tuple[float, float]:
    """The best threshold on talks that a model was not learned from, and F1 there."""
    odds: list[Numbers] = []
    goal: list[Numbers] = []
    for fold in range(_FOLDS):
        model = learned([one for i, one in enumerate(talks) if i % _FOLDS != fold])
        odds += [odds_of(model, words) for words, _ in talks[fold::_FOLDS]]
        goal += [ends for _, ends in talks[fold::_FOLDS]]
    at = best_threshold(np.concatenate(odds), np.concatenate(goal))
    return at, f1(np.concatenate(odds) > at, np.concatenate(goal))


def figures(model: EndModel, talks: Sequence[tuple[list[str], Numbers]]) -> dict[str, float]:
    """How well a model does on some talks together."""
    odds = np.concatenate([odds_of(model, words) for words, _ in talks])
    goal = np.concatenate([ends for _, ends in talks])
    return {"f1": round(f1(odds > 0, goal), 3), "ends": float(goal.sum()), "called": float((odds > 0).sum())}


def _sign_rows(talks: Sequence[list[str]], columns: Mapping[str, int]) -> csr_matrix:
    ends, found = [0], []
    for words in talks:
        for signs in signs_of(words, _ENGLISH):
            found += [columns[sign] for sign in signs if sign in columns]
            ends.append(len(found))
    return csr_matrix((np.ones(len(found)), found, ends), shape=(len(ends) - 1, len(columns)))


def _plain(values: Numbers) -> tuple[float, ...]:
    return tuple(round(float(value), 4) for value in values)


def main() -> None:
    """Learns, measures on the talks kept for it, and writes."""
    talks = judged_talks()
    learning = [gaps_of(one) for one in talks if one.learned_from]
    threshold, inside = cross_validated(learning)
    model = learned(learning, threshold)
    told = figures(model, [gaps_of(one) for one in talks if not one.learned_from])
    model = model.model_copy(update={"figures": {"f1 cross-validated": round(inside, 3), **told}})
    TARGET.write_text(json.dumps(model.model_dump(), indent=0, sort_keys=True) + "\n")
    print(f"{len(model.signs):,} signs; {dict(model.figures)}")


if __name__ == "__main__":
    main()
