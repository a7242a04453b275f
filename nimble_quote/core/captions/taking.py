"""Captions from a file, matched to the words of a cut: by what they say where it is the same language, by when they show where it
is another."""

from collections.abc import Sequence
from dataclasses import dataclass
from difflib import SequenceMatcher

from nimble_quote.core.captions.words import CaptionWord, bare

_LEAST_ALIKE = 0.3
"""With less in common, a file is of something else."""


@dataclass(frozen=True, kw_only=True)
class FileCue:
    """A cue of a file: its text, and when it shows (ms) where that is told."""

    text: str
    start_ms: int | None
    end_ms: int | None


@dataclass(frozen=True, kw_only=True)
class TakenCue:
    """A cue of a file on words `first` to `last` of the talk, and by how much (ms of the output) it shows later than they are
    said; None where it shows as they would."""

    first: int
    last: int
    text: str
    shift_in: int | None = None
    shift_out: int | None = None


@dataclass(frozen=True, kw_only=True)
class Taken:
    """The cues that were matched, in order, and the texts of those that were not."""

    cues: tuple[TakenCue, ...]
    left: tuple[str, ...]


def taken_by_words(cues: Sequence[FileCue], words: Sequence[CaptionWord]) -> Taken:
    """Cues matched by what they say. Each takes the words from its first up to the next cue's first; none where the file has
    little in common with what is said."""
    tokens = [(number, token) for number, cue in enumerate(cues) for token in cue.text.split()]
    spoken = [bare(word.text).casefold() for word in words]
    matcher = SequenceMatcher(a=spoken, b=[bare(token).casefold() for _, token in tokens], autojunk=False)
    if not tokens or not spoken or matcher.ratio() < _LEAST_ALIKE:
        return Taken(cues=(), left=tuple(cue.text for cue in cues))
    place_of: dict[int, int] = {}
    for kind, i, j, k, m in matcher.get_opcodes():
        for step in range(m - k):
            if kind in ("equal", "replace") and j > i:
                place_of.setdefault(tokens[k + step][0], min(j - 1, i + step * (j - i) // (m - k)))
    starts = sorted(place_of.items())
    # Of two that begin at the same word the later one has nothing to show.
    firsts = [one for n, one in enumerate(starts) if n == 0 or one[1] > starts[n - 1][1]]
    made = []
    for n, (number, place) in enumerate(firsts):
        place = 0 if n == 0 else place
        end = firsts[n + 1][1] if n + 1 < len(firsts) else len(words)
        made.append(_taken(cues[number], words[place:end]))
    used = {number for number, _ in firsts}
    return Taken(cues=tuple(made), left=tuple(cue.text for number, cue in enumerate(cues) if number not in used))


def taken_by_times(cues: Sequence[FileCue], words: Sequence[CaptionWord], starts_at_ms: int) -> Taken:
    """Cues matched by when they show: those of the clip, or of the whole recording, in which the cut begins at a moment."""
    timed = [one for one in cues if one.start_ms is not None and one.end_ms is not None]
    length = words[-1].end_ms if words else 0.0
    of_clip = sum(1 for one in timed if (one.start_ms or 0) < length)
    offset = 0 if of_clip * 2 >= len(timed) else starts_at_ms
    made: list[TakenCue] = []
    left: list[str] = []
    at = 0
    for one in cues:
        start, end = (one.start_ms or 0) - offset, (one.end_ms or 0) - offset
        inside = [n for n in range(at, len(words)) if start <= (words[n].start_ms + words[n].end_ms) / 2 < end]
        if not inside:
            left.append(one.text)
            continue
        made.append(TakenCue(first=words[inside[0]].index, last=words[inside[-1]].index, text=one.text))
        at = inside[-1] + 1
    return Taken(cues=tuple(made), left=tuple(left))


_NEAR_MS = 60
"""Times that are no further from the words' own are those."""


def _taken(cue: FileCue, words: Sequence[CaptionWord]) -> TakenCue:
    return TakenCue(
        first=words[0].index,
        last=words[-1].index,
        text=cue.text,
        shift_in=_shift(cue.start_ms, words[0].start_ms),
        shift_out=_shift(cue.end_ms, words[-1].end_ms),
    )


def _shift(told: int | None, said: float) -> int | None:
    if told is None or not _NEAR_MS < abs(told - said) <= 3000:
        return None
    return round(told - said)
