"""Passages by what they mean: a talk is a row of thoughts, each with a vector, and runs of them are compared with a search.

A thought is whole sentences, `THOUGHT_WORDS` words of them or more. From each thought on a window reaches over as many as have
`WINDOW_WORDS` words together. With q, v unit vectors and n the words of a thought, a window is as near to a search as

    cos(q, sum of sqrt(n) v over its thoughts) + BEST_COUNTS x the largest cos(q, v) of one of them

which says that a passage is about what was asked, and that something in it says just that. The lengths and the share were
chosen on the searches of `tests/bench/judged_searches.toml`.
"""

from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

THOUGHT_WORDS = 20
WINDOW_WORDS = 100
BEST_COUNTS = 0.5
_ROWS = 16_384
"""Vectors are made floats so many at a time: all of a large library at once would take four times the memory."""

Floats = NDArray[np.float32]
Packed = NDArray[np.int8]
Indices = NDArray[np.int64]


def thoughts(words: Sequence[int]) -> list[tuple[int, int]]:
    """Half-open ranges of the sentences of a talk, by how many words each has, that make a thought each; a short rest belongs
    to the last."""
    out: list[tuple[int, int]] = []
    first, count = 0, 0
    for place, more in enumerate(words, 1):
        count += more
        if count >= THOUGHT_WORDS:
            out.append((first, place))
            first, count = place, 0
    if count:
        rest_joins = bool(out) and count < THOUGHT_WORDS / 2
        out.append((out.pop()[0] if rest_joins else first, len(words)))
    return out


def packed(vectors: Floats) -> Packed:
    """Vectors (rows) in a byte for each number: directions, whose lengths tell nothing."""
    largest = np.maximum(np.abs(vectors).max(axis=1, keepdims=True), 1e-9)
    return np.asarray(np.rint(vectors / largest * 127), np.int8)


@dataclass(frozen=True, kw_only=True)
class TalkVectors:
    """The thoughts of a talk: the half-open range of sentences of each, its words, and its vector in a row."""

    firsts: Sequence[int]
    ends: Sequence[int]
    words: Sequence[int]
    vectors: Packed


@dataclass(frozen=True, kw_only=True)
class Near:
    """Sentences of a talk, first and last included, those of them that say it most, and how near they are to a search
    (0 to 1.5)."""

    recording_id: int
    first_sentence: int
    last_sentence: int
    first_best: int
    last_best: int
    score: float


@dataclass(frozen=True, kw_only=True)
class _Windows:
    """For each window its thoughts (half-open, counted over all talks), and the length of the sum of their vectors."""

    first: Indices
    end: Indices
    norm: Floats


@dataclass
class Thoughts:
    """The thoughts of many talks, to be searched."""

    talks: Mapping[int, TalkVectors]
    _owner: Indices = field(init=False)
    _sentences: Indices = field(init=False)
    _weights: Floats = field(init=False)
    _vectors: Packed = field(init=False)
    _lengths: Floats = field(init=False)
    _windows: _Windows = field(init=False)

    def __post_init__(self) -> None:
        talks = [one for one in self.talks.items() if len(one[1].words)]
        self._owner = np.repeat([i for i, _ in talks], [len(one.words) for _, one in talks]).astype(np.int64)
        self._sentences = _joined([np.array([one.firsts, one.ends], np.int64).T for _, one in talks], (0, 2), np.int64)
        words = _joined([np.array(one.words, np.int64) for _, one in talks], (0,), np.int64)
        self._weights = np.sqrt(words).astype(np.float32)
        self._vectors = _joined([one.vectors for _, one in talks], (0, 1), np.int8)
        self._lengths = np.concatenate(
            [_lengths(rows) for rows in _in_rows(self._vectors)] or [np.zeros(0, np.float32)]
        )
        windows, at = [], 0
        for _, one in talks:
            windows.append(self._windows_of(at, np.asarray(one.words, np.int64)))
            at += len(one.words)
        self._windows = _Windows(
            first=_joined([one.first for one in windows], (0,), np.int64),
            end=_joined([one.end for one in windows], (0,), np.int64),
            norm=_joined([one.norm for one in windows], (0,), np.float32),
        )

    def nearest(self, query: Floats, talks: Set[int] | None, most: int) -> list[Near]:
        """The windows nearest to a search (a vector of length 1) of some talks or all, none over a nearer one."""
        if not len(self._windows.first):
            return []
        alike = self._alike(query)
        scores = self._scores(alike)
        if talks is not None:
            scores[~np.isin(self._owner[self._windows.first], list(talks))] = -np.inf
        # Those over a nearer one fall out: from each thought of a window another begins.
        wanted = min(len(scores), most * 12)
        likely = np.argpartition(-scores, wanted - 1)[:wanted]
        out: list[Near] = []
        taken = np.zeros(len(self._owner), bool)
        for place in likely[np.argsort(-scores[likely], kind="stable")].tolist():
            first, end = int(self._windows.first[place]), int(self._windows.end[place])
            if len(out) < most and np.isfinite(scores[place]) and not taken[first:end].any():
                taken[first:end] = True
                best = first + int(np.argmax(alike[first:end]))
                out.append(self._near(first, end, best, float(scores[place])))
        return out

    def _near(self, first: int, end: int, best: int, score: float) -> Near:
        return Near(
            recording_id=int(self._owner[first]), first_sentence=int(self._sentences[first, 0]),
            last_sentence=int(self._sentences[end - 1, 1]) - 1, first_best=int(self._sentences[best, 0]),
            last_best=int(self._sentences[best, 1]) - 1, score=score,
        )  # fmt: skip

    def _alike(self, query: Floats) -> Floats:
        alike = np.concatenate([rows.astype(np.float32) @ query for rows in _in_rows(self._vectors)])
        return np.asarray(alike / self._lengths, np.float32)

    def _scores(self, alike: Floats) -> Floats:
        sums = np.concatenate([[0.0], np.cumsum(self._weights * alike, dtype=np.float64)])
        first, end = self._windows.first, self._windows.end
        about = (sums[end] - sums[first]) / self._windows.norm
        bounds = np.stack([first, end], axis=1).ravel()
        best = np.maximum.reduceat(np.append(alike, -1.0), bounds)[::2]
        return np.asarray(about + BEST_COUNTS * best, np.float32)

    def _windows_of(self, at: int, words: Indices) -> _Windows:
        """The windows of a talk whose thoughts begin at a place: those that reach `WINDOW_WORDS`, or all of a short talk."""
        said = np.concatenate([[0], np.cumsum(words)])
        ends = np.searchsorted(said, said[:-1] + WINDOW_WORDS)
        firsts = np.flatnonzero(ends <= len(words))
        if not len(firsts):
            firsts, ends = np.zeros(1, np.int64), np.array([len(words)])
        here = slice(at, at + len(words))
        weighted = self._vectors[here] * (self._weights[here] / self._lengths[here])[:, None]
        sums = np.concatenate([np.zeros((1, weighted.shape[1])), np.cumsum(weighted, axis=0)])
        norm = np.linalg.norm(sums[ends[firsts]] - sums[firsts], axis=1)
        return _Windows(first=at + firsts, end=at + ends[firsts], norm=np.maximum(norm, 1e-6).astype(np.float32))


def _in_rows(vectors: Packed) -> list[Packed]:
    return [vectors[at : at + _ROWS] for at in range(0, len(vectors), _ROWS)]


def _lengths(rows: Packed) -> Floats:
    return np.asarray(np.maximum(np.linalg.norm(rows.astype(np.float32), axis=1), 1.0), np.float32)


def _joined(arrays: Sequence[NDArray[Any]], empty: tuple[int, ...], kind: type) -> NDArray[Any]:
    return np.concatenate(arrays) if arrays else np.zeros(empty, kind)
