"""The topics of a talk: where it turns from one to the next, and the words that each is about.

The talk is cut so that sentences are alike within a topic and unlike across topics: the segments with the least
normalised cut of the graph of sentence likeness, found exactly by dynamic programming (Malioutov and Barzilay,
"Minimum cut model for spoken lecture segmentation", 2006).
"""

import itertools
import math
from collections import Counter
from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.soundbites.facts import Numbers, TalkSentence

EACH_MS = 150_000
"""About the length of a topic in a long talk; a short one has shorter topics."""
FEWEST, MOST = 2, 24
_SMOOTHED = 4
_REACH = 120
"""Sentences farther apart are not compared: a word said an hour later is no sign of one topic."""
_SHORTEST = 4
_MOST_UNITS = 500
"""In a talk of more sentences, a topic begins with every second, or every third, to be found as fast."""
_LONGEST = 5
"""No topic has more than so many times as many sentences as there would be in each if all were alike."""


@dataclass(frozen=True, kw_only=True)
class Topic:
    """Sentences `first` to `last`, both included, and what they are about."""

    first: int
    last: int
    phrases: tuple[str, ...]


def topics_of(
    sentences: Sequence[TalkSentence], vectors: NDArray[np.float32], plain: Collection[str] = ()
) -> tuple[Topic, ...]:
    """The topics of a talk in order; every sentence is in one. `plain` words are not what a topic is about."""
    count = len(sentences)
    length = sentences[-1].end_ms - sentences[0].start_ms
    wanted = min(MOST, max(FEWEST, round(math.sqrt(length / EACH_MS) + length / EACH_MS)), max(1, count // _SHORTEST))
    each = 1 + count // _MOST_UNITS
    units = np.add.reduceat(vectors, np.arange(0, count, each), axis=0)
    shortest = min(-(-_SHORTEST // each), max(1, len(units) // wanted))
    edges = [each * unit for unit in segments(likeness(units), wanted, shortest, _LONGEST * len(units) // wanted)]
    bounds = list(itertools.pairwise([*edges, count]))
    return tuple(
        Topic(first=a, last=b - 1, phrases=phrases)
        for (a, b), phrases in zip(bounds, key_phrases(sentences, bounds, plain), strict=True)
    )


def likeness(vectors: NDArray[np.float32]) -> Numbers:
    """How alike each two sentences are (cosine), each taken with its neighbours, since single sentences are short."""
    count = len(vectors)
    smooth = vectors.copy()
    for step in range(1, min(_SMOOTHED, count - 1) + 1):
        smooth[step:] += np.exp(np.float32(-0.5 * step)) * vectors[:-step]
        smooth[:-step] += np.exp(np.float32(-0.5 * step)) * vectors[step:]
    sizes = np.linalg.norm(smooth, axis=1, keepdims=True)
    unit = np.divide(smooth, sizes, out=np.zeros_like(smooth), where=sizes > 0)
    return np.triu(np.tril((unit @ unit.T).astype(float), _REACH), -_REACH)


def segments(alike: Numbers, wanted: int, shortest: int = 1, longest: int | None = None) -> list[int]:
    """The first sentence of each of `wanted` segments, none shorter or longer than told, with the least normalised cut,
    exactly."""
    count = len(alike)
    wanted = max(1, min(wanted, count // shortest))
    reach = max(longest or count, -(-count // wanted))
    square = np.zeros((count + 1, count + 1))
    square[1:, 1:] = alike.cumsum(axis=0).cumsum(axis=1)
    volume = np.concatenate([[0.0], np.cumsum(alike.sum(axis=1))])
    diagonal = np.diag(square)
    best = np.full((wanted + 1, count + 1), np.inf)
    best[0, 0] = 0.0
    came = np.zeros((wanted + 1, count + 1), int)
    for end in range(shortest, count + 1):
        starts = np.arange(max(0, end - reach), end - shortest + 1)
        inside = diagonal[end] - 2 * square[starts, end] + diagonal[starts]
        size = volume[end] - volume[starts]
        cost = np.divide(size - inside, size, out=np.zeros(len(starts)), where=size > 1e-12)
        total = best[:-1, starts] + cost
        came[1:, end] = starts[total.argmin(axis=1)]
        best[1:, end] = total.min(axis=1)
    edges, end = [], count
    for segment in range(wanted, 0, -1):
        end = int(came[segment, end])
        edges.append(end)
    return edges[::-1]


def key_phrases(
    sentences: Sequence[TalkSentence], bounds: Sequence[tuple[int, int]], plain: Collection[str] = (), most: int = 3
) -> list[tuple[str, ...]]:
    """The words and pairs of words that each stretch of a talk has more than the rest of it.

    Ranked by log-likelihood ratio (Dunning 1993); shown in the form in which they are first said.
    """
    counted = [_phrases(sentences[a:b], plain) for a, b in bounds]
    total: Counter[tuple[str, ...]] = Counter()
    for counts, _ in counted:
        total.update(counts)
    everything = sum(total.values())
    out = []
    for counts, forms in counted:
        here = max(1, sum(counts.values()))
        scores = {
            phrase: n * math.log(n * everything / (here * total[phrase])) * (1.6 if len(phrase) > 1 else 1.0)
            for phrase, n in counts.items()
            if n > 1 or len(bounds) > here // 40
        }
        ranked = sorted(scores, key=lambda phrase: (-scores[phrase], phrase))
        out.append(_apart(ranked, forms, most))
    return out


def _phrases(
    sentences: Sequence[TalkSentence], plain: Collection[str]
) -> tuple[Counter[tuple[str, ...]], dict[tuple[str, ...], str]]:
    """How often each word and pair of words that tell something is said, and how it is first said."""
    found: list[tuple[tuple[str, ...], str]] = []
    for one in sentences:
        told = [
            (lexeme, form) if lexeme and len(form) >= 3 and form not in plain else None
            for lexeme, form in zip(one.lexemes, one.bare, strict=True)
        ]
        found += [((here[0],), here[1]) for here in told if here]
        found += [((a[0], b[0]), f"{a[1]} {b[1]}") for a, b in itertools.pairwise(told) if a and b]
    # Backwards, so that the form said first is the one that stays.
    return Counter(phrase for phrase, _ in found), dict(reversed(found))


def _apart(ranked: Sequence[tuple[str, ...]], forms: dict[tuple[str, ...], str], most: int) -> tuple[str, ...]:
    kept: list[tuple[str, ...]] = []
    for phrase in ranked:
        if len(kept) == most:
            break
        if not any(set(phrase) & set(other) for other in kept):
            kept.append(phrase)
    return tuple(forms[one] for one in kept)
