"""How good every span of whole sentences is as a soundbite: named features, 0..1 each, and what they make together: the
probability that an editor would keep it.

All spans are judged at once, as arrays: `first[i]`, `last[i]` are the sentences of span `i`, both included.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from pydantic import model_validator

from nimble_quote.core.cutting.edges import LEAD_MS, TAIL_MS
from nimble_quote.core.destinations import Destination
from nimble_quote.core.model import Frozen
from nimble_quote.core.soundbites.facts import Facts, Numbers

FEATURES = (
    "opens_alone", "opens_strongly", "lands", "one_thought", "dense", "alive", "says_something", "stands_out", "fits",
)  # fmt: skip
SHORTEST_MS = 5_000
LONGEST_SENTENCES = 40
_MID_THOUGHT = 0.15
"""A span that opens or lands worse than this begins or ends in the middle of a thought, and is not offered."""
MOST_ERRANDS = 0.3
"""A span with more words of greetings, thanks, announcements and the like is not offered."""
_SWEET = 0.62
"""The best length, as a share of the limit."""
_SPREAD = 0.55
"""How fast a length loses by being another (standard deviation of its logarithm)."""
_BESIDE = 3
"""So many sentences before and after a gap are compared to see whether the talk goes on with the same."""

Indices = NDArray[np.int64]


class Weights(Frozen):
    """What each feature counts: the log odds that an editor would keep a span are

        bias + sum over the features of counts * (value - mean)

    and nothing is offered whose probability is under the threshold."""

    counts: dict[str, float]
    means: dict[str, float]
    bias: float
    threshold: float

    @model_validator(mode="after")
    def _whole(self) -> "Weights":
        for kind in (self.counts, self.means):
            if missing := set(FEATURES) - kind.keys():
                raise ValueError(f"no weight for {', '.join(sorted(missing))}")
        return self

    @property
    def row(self) -> Numbers:
        return np.array([self.counts[name] for name in FEATURES])

    @property
    def middle(self) -> Numbers:
        """The mean of each feature."""
        return np.array([self.means[name] for name in FEATURES])

    def counting(self, counts: Numbers) -> "Weights":
        """The same with other counts, in the order of `FEATURES`."""
        return self.model_copy(update={"counts": dict(zip(FEATURES, np.round(counts, 4).tolist(), strict=True))})

    def probability(self, features: Numbers) -> Numbers:
        """How likely an editor would keep each of some spans, a row each in the order of `FEATURES`."""
        return np.asarray(1 / (1 + np.exp(-(self.bias + (features - self.middle) @ self.row))))


@dataclass(frozen=True, kw_only=True)
class Spans:
    """Spans of whole sentences, and their features: a column each, in the order of `FEATURES`."""

    first: Indices
    last: Indices
    features: Numbers

    def merits(self, weights: Weights) -> Numbers:
        """How likely an editor would keep each span, to the millionth."""
        return np.asarray(np.round(weights.probability(self.features), 6))

    def chosen(self, indexes: NDArray[np.int64] | NDArray[np.bool_]) -> "Spans":
        """Some of the spans."""
        return Spans(first=self.first[indexes], last=self.last[indexes], features=self.features[indexes])


def length_ms(facts: Facts, first: Indices, last: Indices) -> Numbers:
    """How long spans run as quotes, with air at both ends."""
    return np.asarray(facts.end_ms[last] - facts.start_ms[first] + LEAD_MS + TAIL_MS)


def all_spans(facts: Facts, destinations: Sequence[Destination]) -> Spans:
    """Every span that is inside the longest of the limits and neither begins nor ends in the middle of a thought."""
    limit = max(one.limit_ms for one in destinations)
    count = len(facts.start_ms)
    reach = np.minimum(LONGEST_SENTENCES, count - np.arange(count))
    first = np.repeat(np.arange(count), reach)
    last = first + np.concatenate([np.arange(n) for n in reach]) if count else first
    length = length_ms(facts, first, last)
    whole = (facts.opens[first] > _MID_THOUGHT) & (facts.lands[last] > _MID_THOUGHT)
    errands = _sums(facts.errands, first, last) > MOST_ERRANDS * _sums(facts.words, first, last)
    fit = whole & ~errands & (length <= limit) & (length >= SHORTEST_MS)
    return judge(facts, first[fit], last[fit], destinations)


def judge(facts: Facts, first: Indices, last: Indices, destinations: Sequence[Destination]) -> Spans:
    """The features of some spans."""
    length = length_ms(facts, first, last)
    inside, around = _worth(facts, first, last)
    columns = [
        facts.opens[first],
        facts.strength[first],
        facts.lands[last],
        _one_thought(facts, first, last),
        _dense(facts, first, last, length),
        _alive(facts, first, last),
        _squashed(inside),
        _squashed(inside - around),
        fitting(length, destinations),
    ]
    return Spans(
        first=first, last=last, features=np.stack(columns, axis=1) if len(first) else np.zeros((0, len(FEATURES)))
    )


def _worth(facts: Facts, first: Indices, last: Indices) -> tuple[Numbers, Numbers]:
    """The worth of the words of spans, and of the words of the three sentences on either side; beyond the ends of a talk
    there is nothing, which is less than what is worth posting."""
    running = np.concatenate([[0.0], np.cumsum(facts.worth * facts.words)])
    words = np.concatenate([[0.0], np.cumsum(facts.words)])

    def mean(start: Indices, end: Indices) -> Numbers:
        size = words[end] - words[start]
        return np.where(size > 0, (running[end] - running[start]) / np.maximum(1, size), -1.0)

    before = mean(np.maximum(0, first - _BESIDE), first)
    after = mean(last + 1, np.minimum(len(facts.words), last + 1 + _BESIDE))
    return mean(first, last + 1), (before + after) / 2


def _squashed(odds: Numbers) -> Numbers:
    return np.asarray(1 / (1 + np.exp(-odds)))


def _sums(values: Numbers, first: Indices, last: Indices) -> Numbers:
    running = np.concatenate([[0.0], np.cumsum(values)])
    return np.asarray(running[last + 1] - running[first])


def _most(values: Numbers, first: Indices, last: Indices) -> Numbers:
    """The greatest value of each span."""
    if not len(first):
        return np.zeros(0)
    wide = int((last - first).max()) + 1
    padded = np.concatenate([values, np.full(wide, -np.inf)])
    running = np.maximum.accumulate(np.lib.stride_tricks.sliding_window_view(padded, wide), axis=1)
    return np.asarray(running[first, last - first])


def gap_likeness(vectors: NDArray[np.float32], beside: int = _BESIDE) -> Numbers:
    """How alike the talk is before and after each gap between sentences (cosine of blocks; Hearst 1997).

    Gap `i` is before sentence `i`; those before the first and after the last sentence are 0.
    """
    count = len(vectors)
    running = np.concatenate([np.zeros((1, vectors.shape[1]), np.float32), np.cumsum(vectors, axis=0)])
    gaps = np.arange(1, count)
    before = running[gaps] - running[np.maximum(0, gaps - beside)]
    after = running[np.minimum(count, gaps + beside)] - running[gaps]
    sizes = np.linalg.norm(before, axis=1) * np.linalg.norm(after, axis=1)
    likeness = np.divide((before * after).sum(axis=1), sizes, out=np.zeros(len(gaps)), where=sizes > 0)
    return np.concatenate([[0.0], likeness, [0.0]])


def _one_thought(facts: Facts, first: Indices, last: Indices) -> Numbers:
    """Whether the sentences belong together and differ from what is around them; turns of speakers take from it."""
    gaps = gap_likeness(facts.vectors)
    inner = last - first
    mean = gaps[1:-1].mean() if len(gaps) > 2 else 0.0
    spread = max(1e-6, gaps[1:-1].std()) if len(gaps) > 2 else 1.0
    inside = np.where(inner > 0, _sums(gaps[:-1], first + 1, last) / np.maximum(1, inner), mean)
    # Nothing is known of what would stand beyond the ends of the talk, so they are edges like any.
    around = np.concatenate([[mean], gaps[1:-1], [mean]])
    edges = (around[first] + around[last + 1]) / 2
    turns = np.concatenate([[0.0], (np.diff(facts.speaker) != 0).astype(float)])
    many = np.where(inner > 0, _sums(turns, first + 1, last), 0.0)
    return np.asarray(1 / (1 + np.exp(-(inside - edges) / spread)) * 0.93 ** np.maximum(0, many - 1))


def _dense(facts: Facts, first: Indices, last: Indices, length: Numbers) -> Numbers:
    words = _sums(facts.words, first, last)
    lost = 6 * _sums(facts.fillers, first, last) + 12 * _sums(facts.repairs, first, last)
    lost += _sums(facts.courtesies, first, last)
    known = facts.timed[1:] & facts.timed[:-1]
    between = np.concatenate([[0.0], np.maximum(0, facts.start_ms[1:] - facts.end_ms[:-1] - 900) * known])
    pauses = _sums(facts.long_pauses_ms, first, last) + np.where(last > first, _sums(between, first + 1, last), 0.0)
    return np.asarray(np.clip(1 - lost / np.maximum(1, words) - 1.5 * pauses / np.maximum(1, length), 0, 1))


def _alive(facts: Facts, first: Indices, last: Indices) -> Numbers:
    """Whether it is said with life: louder and quicker than the speaker's own average, or laughed at."""
    if not facts.heard:
        return np.full(len(first), 0.5)
    words = np.maximum(1, _sums(facts.words, first, last))
    level = _sums(facts.level * facts.words, first, last) / words
    pace = _sums(facts.pace * facts.words, first, last) / words
    own = 1 / (1 + np.exp(-(0.9 * level + 0.5 * pace)))
    return np.asarray(np.minimum(1.0, own + 0.25 * (_most(facts.laughed, first, last) > 0)))


def fitting(length: Numbers, destinations: Sequence[Destination]) -> Numbers:
    """How near lengths are to the best for one of the destinations; 0 where all limits are passed."""
    best = np.zeros(len(length))
    for one in destinations:
        near = np.exp(-(np.log(length / (_SWEET * one.limit_ms)) ** 2) / (2 * _SPREAD**2))
        best = np.maximum(best, np.where(length <= one.limit_ms, near, 0.0))
    return best
