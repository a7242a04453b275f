"""When each cue shows, in frames of the output: a little before its first word, long enough to be read, with no gaps that
flash, and not over a cut of the picture by a few frames.

Rules, as broadcasters' subtitle guidelines give them: in at the first word or a moment before it, out a moment after the
last; a gap is closed or at least two frames; a cue ends with its shot where it is said by then.
"""

from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from nimble_quote.core.captions.lettering import characters
from nimble_quote.core.captions.words import CaptionWord
from nimble_quote.core.document import Limits

LEAD_MS = 80
"""How long before its first word a cue may show: less where the cue before is still up."""
HOLD_MS = 250
"""How long a cue stays after its last word where nothing follows."""
CLOSE_MS = 500
"""A gap between cues shorter than this reads as a flash and is closed."""
LEAST_GAP_FRAMES = 2
_NEAR_CUT_MS = 280
"""A cue that ends, or begins, by less than this beside a cut of the picture does so at the cut."""
_BEFORE_WORD_MS = 150
"""But no longer than this before its first word."""


@dataclass(frozen=True, kw_only=True)
class Clip:
    """What cues are timed in: the rate and the length of the output, and the frames at which its picture cuts."""

    rate: Fraction
    frames: int
    cuts: tuple[int, ...] = ()

    def frame(self, ms: float) -> int:
        """The frame that a moment (also before 0) lies nearest to."""
        whole = abs(ms) * self.rate.numerator / (1000 * self.rate.denominator) + 0.5
        return int(whole) if ms >= 0 else -int(whole)

    def before(self, ms: float) -> int:
        """The last frame that begins no later than a moment."""
        return int(ms * self.rate.numerator // (1000 * self.rate.denominator))

    def cut_in(self, first: int, end: int) -> int | None:
        """The first cut in frames `[first, end]`."""
        place = bisect_left(self.cuts, first)
        return self.cuts[place] if place < len(self.cuts) and self.cuts[place] <= end else None


@dataclass(frozen=True, kw_only=True)
class Said:
    """The words of a cue, and by how much (ms) a person has its edges beside them; None where nobody said so."""

    words: Sequence[CaptionWord]
    shift_in: float | None = None
    shift_out: float | None = None


def times_of(cues: Sequence[Said], limits: Limits, clip: Clip) -> list[tuple[int, int]]:
    """The first frame of each cue and that after its last: in order, apart, and each at least a frame."""
    starts = _starts(cues, clip)
    out: list[tuple[int, int]] = []
    for number, cue in enumerate(cues):
        following = starts[number + 1] if number + 1 < len(cues) else clip.frames
        first = max(starts[number], out[-1][1] if out else 0)
        out.append((first, max(first, _end(cue, first, following, limits, clip))))
    return out


def _starts(cues: Sequence[Said], clip: Clip) -> list[int]:
    """Where each cue begins: earlier than it is said by the lead, as far as the one before is done by then."""
    out: list[int] = []
    for number, cue in enumerate(cues):
        said = clip.frame(cue.words[0].start_ms)
        if cue.shift_in is not None:
            begins = clip.frame(cue.words[0].start_ms + cue.shift_in)
        else:
            before = clip.frame(cues[number - 1].words[-1].end_ms) if number else 0
            begins = min(said, max(clip.before(max(0.0, cue.words[0].start_ms - LEAD_MS)), before))
            begins = _at_cut(begins, said, clip)
        # Each cue before it keeps a frame at least.
        out.append(min(max(begins, out[-1] + 1 if out else 0), clip.frames))
    return out


def _at_cut(begins: int, said: int, clip: Clip) -> int:
    """A beginning that lies a little beside a cut of the picture, at the cut, where that is not much before what is said and
    not after it."""
    near = clip.frame(_NEAR_CUT_MS)
    cut = clip.cut_in(max(begins - near, said - clip.frame(_BEFORE_WORD_MS)), said)
    return begins if cut is None else cut


def _end(cue: Said, first: int, following: int, limits: Limits, clip: Clip) -> int:
    """Where a cue ends that begins at a frame, with another at `following`."""
    last = cue.words[-1].end_ms
    if cue.shift_out is not None:
        return min(max(clip.frame(last + cue.shift_out), first + 1), following)
    said = clip.frame(last)
    letters = sum(characters(word.text) + (not word.glued) for word in cue.words) - 1
    needed = clip.frame(max(limits.shortest_ms, letters * 1000 / limits.fastest_cps))
    longest = max(clip.frame(limits.longest_ms), said - first)
    end = min(max(clip.frame(last + HOLD_MS), first + needed), first + longest, following)
    end = min(_not_over(end, said, clip), following)
    gap = following - end
    close = clip.frame(CLOSE_MS)
    if 0 < gap < close and following - first <= longest and clip.cut_in(end, following - 1) is None:
        return following
    return end if gap >= LEAST_GAP_FRAMES or gap == 0 else following


def _not_over(end: int, said: int, clip: Clip) -> int:
    """An end that lies a little beside a cut of the picture, at the cut, where all is said by then: before or after."""
    near = clip.frame(_NEAR_CUT_MS)
    cut = clip.cut_in(max(said, end - near), end + near)
    return end if cut is None else cut
