"""Which speaker of the transcript each face is: whose words are said while that face is seen.

What is said while one face is alone in the picture counts whole; while several are seen, each gets a share, by its mouth where
that was looked at. The names are
given by the assignment that agrees with most of the time.
"""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from nimble_quote.core.framing.following import Track, talked

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
    track: Track | None = None
    """The face, by whose mouth it is told who speaks where several are seen."""


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
        mouths: dict[int, float] = {}
        for one in in_time[first:]:
            if one.start_ms >= turn.end_ms:
                break
            shared = min(one.end_ms, turn.end_ms) - max(one.start_ms, turn.start_ms)
            if shared > 0:
                there[one.subject] += shared
                mouths[one.subject] = max(mouths.get(one.subject, -1.0), _talks(one, turn))
        for subject, share in _shares(there, mouths).items():
            out[subject, turn.speaker] += there[subject] * share
    return out


def _talks(one: Seen, turn: Turn) -> float:
    return -1.0 if one.track is None else talked(one.track, turn.start_ms, turn.end_ms)


def _shares(there: Mapping[int, float], mouths: Mapping[int, float]) -> dict[int, float]:
    """What part of a turn each of those in the picture has: by their mouths where those were looked at, else as much each."""
    if len(there) < 2 or min(mouths[subject] for subject in there) < 0:
        return {subject: 1 / len(there) for subject in there}
    whole = sum(mouths[subject] + _SHUT for subject in there)
    return {subject: (mouths[subject] + _SHUT) / whole for subject in there}


_SHUT = 0.02
"""A shut mouth has this little of a turn: nobody's may have moved."""
_LONGEST_TRACK_MS = 3_600_000
"""No track lasts longer: those that ended so long before a turn are not looked at again."""
