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
    edges = segments(likeness(vectors), wanted, min(_SHORTEST, max(1, count // wanted)))
    bounds = list(itertools.pairwise([*edges, count]))
    return tuple(
        Topic(first=a, last=b - 1, phrases=phrases)
        for (a, b), phrases in zip(bounds, key_phrases(sentences, bounds, plain), strict=True)
    )


def likeness(vectors: NDArray[np.float32]) -> Numbers:
    """How alike each two sentences are (cosine), each taken with its neighbours, since single sentences are short."""
    count = len(vectors)
    steps = np.abs(np.arange(count)[:, None] - np.arange(count)[None, :])
    near = np.where(steps <= _SMOOTHED, np.exp(-0.5 * steps), 0.0).astype(np.float32)
    smooth = near @ vectors
    sizes = np.linalg.norm(smooth, axis=1, keepdims=True)
    unit = np.divide(smooth, sizes, out=np.zeros_like(smooth), where=sizes > 0)
    return np.where(steps <= _REACH, unit @ unit.T, 0.0).astype(float)


def segments(alike: Numbers, wanted: int, shortest: int = 1) -> list[int]:
    """The first sentence of each of `wanted` segments with the least normalised cut, exactly."""
    count = len(alike)
    wanted = max(1, min(wanted, count // shortest))
    square = np.zeros((count + 1, count + 1))
    square[1:, 1:] = alike.cumsum(axis=0).cumsum(axis=1)
    volume = np.concatenate([[0.0], np.cumsum(alike.sum(axis=1))])
    diagonal = np.diag(square)
    best = np.full((wanted + 1, count + 1), np.inf)
    best[0, 0] = 0.0
    came = np.zeros((wanted + 1, count + 1), int)
    for end in range(shortest, count + 1):
        starts = np.arange(0, end - shortest + 1)
        inside = diagonal[end] - 2 * square[starts, end] + diagonal[starts]
        size = volume[end] - volume[starts]
        cost = np.divide(size - inside, size, out=np.zeros(len(starts)), where=size > 1e-12)
        for segment in range(1, wanted + 1):
            total = best[segment - 1, starts] + cost
            at = int(np.argmin(total))
            best[segment, end], came[segment, end] = total[at], starts[at]
    edges, end = [], count
    for segment in range(wanted, 0, -1):
        end = int(came[segment, end])
        edges.append(end)
    return edges[::-1]


def key_phrases(
    sentences: Sequence[TalkSentence], bounds: Sequence[tuple[int, int]], plain: Collection[str] = (), most: int = 3
) -> list[tuple[str, ...]]:
    """The words and pairs of words that each stretch of a talk has more than the rest of it.

    Ranked by log-likelihood ratio (Dunning 1993); shown in the form that is said most often.
    """
    counted = [_phrases(sentences[a:b], plain) for a, b in bounds]
    total: Counter[tuple[str, ...]] = Counter()
    for counts, _ in counted:
        total += counts
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
) -> tuple[Counter[tuple[str, ...]], dict[tuple[str, ...], Counter[str]]]:
    counts: Counter[tuple[str, ...]] = Counter()
    forms: dict[tuple[str, ...], Counter[str]] = {}
    for one in sentences:
        told = list(zip(one.lexemes, one.bare, strict=True))
        for at, (lexeme, form) in enumerate(told):
            if lexeme is None or len(form) < 3 or form in plain:
                continue
            runs: list[tuple[tuple[str, ...], str]] = [((lexeme,), form)]
            if (
                at + 1 < len(told)
                and (other := told[at + 1][0])
                and len(told[at + 1][1]) >= 3
                and told[at + 1][1] not in plain
            ):
                runs.append(((lexeme, other), f"{form} {told[at + 1][1]}"))
            for phrase, text in runs:
                counts[phrase] += 1
                forms.setdefault(phrase, Counter())[text] += 1
    return counts, forms


def _apart(ranked: Sequence[tuple[str, ...]], forms: dict[tuple[str, ...], Counter[str]], most: int) -> tuple[str, ...]:
    kept: list[tuple[str, ...]] = []
    for phrase in ranked:
        if len(kept) == most:
            break
        if not any(set(phrase) & set(other) for other in kept):
            kept.append(phrase)
    return tuple(min(forms[one].items(), key=lambda form: (-form[1], form[0]))[0] for one in kept)
