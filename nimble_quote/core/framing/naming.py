"""Which speaker of the transcript each face is: whose words are said while that face is seen.

What is said while one face is alone in the picture counts whole; while several are seen, each gets its share. The names are
given by the assignment that agrees with most of the time.
"""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

LEAST_MS = 4000
"""A face is named where so much was said that agrees."""
LEAST_SHARE = 0.55
"""And where that is so much of all that was said while it was seen alone."""


@dataclass(frozen=True, kw_only=True)
class Turn:
    """A stretch in which a named speaker speaks."""

    speaker: str
    start_ms: int
    end_ms: int


@dataclass(frozen=True, kw_only=True)
class Seen:
    """A stretch in which a subject is seen."""

    subject: int
    start_ms: int
    end_ms: int


def named_by_turns(turns: Sequence[Turn], seen: Sequence[Seen]) -> dict[int, str]:
    """The names of the subjects that what is said agrees on; one that it does not agree on has none."""
    agrees = _agreement(turns, seen)
    speakers = sorted({turn.speaker for turn in turns})
    subjects = sorted({one.subject for one in seen})
    if not speakers or not subjects:
        return {}
    weights = np.array([[agrees[subject, speaker] for speaker in speakers] for subject in subjects])
    # Loaded here: it takes as long to load as half of the server.
    from scipy.optimize import linear_sum_assignment

    rows, columns = linear_sum_assignment(weights, maximize=True)
    return {
        subjects[row]: speakers[column]
        for row, column in zip(rows, columns, strict=True)
        if weights[row, column] >= max(LEAST_MS, LEAST_SHARE * weights[row].sum())
    }


def _agreement(turns: Sequence[Turn], seen: Sequence[Seen]) -> dict[tuple[int, str], float]:
    """The milliseconds that each speaker spoke while each subject was seen, shared among those seen at once."""
    out: dict[tuple[int, str], float] = defaultdict(float)
    in_time = sorted(seen, key=lambda one: one.start_ms)
    first = 0
    for turn in sorted(turns, key=lambda one: one.start_ms):
        while first < len(in_time) and in_time[first].end_ms < turn.start_ms - _LONGEST_TRACK_MS:
            first += 1
        there: dict[int, float] = defaultdict(float)
        for one in in_time[first:]:
            if one.start_ms >= turn.end_ms:
                break
            shared = min(one.end_ms, turn.end_ms) - max(one.start_ms, turn.start_ms)
            if shared > 0:
                there[one.subject] += shared
        for subject, much in there.items():
            out[subject, turn.speaker] += much / len(there)
    return out


_LONGEST_TRACK_MS = 3_600_000
"""No track lasts longer: those that ended so long before a turn are not looked at again."""
