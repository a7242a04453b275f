"""The sound of a cut: its pieces laid end to end, and how each join is faded.

At a join the piece before runs on a little and the piece after begins a little early, one fading out while the other
fades in with equal power (the squares of both add up to one, as suits sounds that have nothing to do with each other):

        before   ==========\\
        after          \\==========
        cut             ^  half of the fade on either side

A fade is as long as the gaps at both sides allow without touching a word that is struck or one that is kept.
"""

from collections.abc import Sequence
from itertools import pairwise

from nimble_quote.core.model import Frozen
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span, without

SHORTEST_FADE_MS, LONGEST_FADE_MS = 4, 24
"""Below this a join may click; above it a fade begins to be heard as one."""
ENDS_FADE_MS = 8
"""The fade at the very start and end."""


class SoundPiece(Frozen):
    """A stretch of source as it is heard: `length_ms` from `source_ms`, at `out_ms` of the cut.

    `fade_in_ms` and `fade_out_ms` are the whole lengths of the fades at its ends, half of each beyond the piece where
    it joins another, all of it inside at the ends of the cut. `hushed`: room tone is heard in its place.
    """

    source_ms: int
    length_ms: int
    out_ms: int
    fade_in_ms: int
    fade_out_ms: int
    hushed: bool = False

    @property
    def end_ms(self) -> int:
        return self.source_ms + self.length_ms


def sound_pieces(kept: Sequence[Span], hushed: Sequence[Span], talk: Talk) -> tuple[SoundPiece, ...]:
    """The pieces that some kept spans are heard as."""
    stretches = [one for span in kept for one in _parted(span, hushed)]
    fades = [_fade(a, b, talk) for (a, _), (b, _) in pairwise(stretches)]
    pieces, out_ms = [], 0
    for number, (span, quiet) in enumerate(stretches):
        pieces.append(
            SoundPiece(
                source_ms=span.start_ms, length_ms=span.length_ms, out_ms=out_ms, hushed=quiet,
                fade_in_ms=fades[number - 1] if number else min(ENDS_FADE_MS, span.length_ms // 2),
                fade_out_ms=fades[number] if number < len(fades) else min(ENDS_FADE_MS, span.length_ms // 2),
            )
        )  # fmt: skip
        out_ms += span.length_ms
    return tuple(pieces)


def _parted(span: Span, hushed: Sequence[Span]) -> list[tuple[Span, bool]]:
    """A span in pieces, in order, each with whether it is hushed."""
    loud = without(span, hushed)
    quiet = without(span, loud) if loud else (span,)
    return sorted([*((one, False) for one in loud), *((one, True) for one in quiet)], key=lambda one: one[0].start_ms)


def _fade(before: Span, after: Span, talk: Talk) -> int:
    room = min(_room(before.end_ms, talk), _room(after.start_ms, talk), before.length_ms // 2, after.length_ms // 2)
    return int(min(max(SHORTEST_FADE_MS, 2 * room), LONGEST_FADE_MS))


def _room(at_ms: int, talk: Talk) -> int:
    """How far a moment is from the nearest word; 0 inside of one."""
    near = talk.between(at_ms - 2000, at_ms + 2000)
    return min((max(word.start_ms - at_ms, at_ms - word.end_ms, 0) for word in near), default=LONGEST_FADE_MS)
