"""Roll-up captions, made for screens on which lines scroll up: each cue says again what stood there before."""

from collections.abc import Sequence
from dataclasses import replace

from nimble_quote.core.transcript.cues import TimedCue, Token

_LEAST_CUES = 4
_LEAST_SHARE = 0.6
"""Of cues that begin with the last words of the one before, from which on that is how the file is made. People repeat
themselves too, but not in most of what they say."""
_STANDS_MS = 5000
"""Lines that scroll are off the screen when nothing was added for so long."""
_FURTHEST = 40
"""Words that can stand on the screen at once."""


def said_once(cues: Sequence[TimedCue]) -> tuple[TimedCue, ...] | None:
    """The cues without what each repeats of those before; None where they are no roll-up captions."""
    if len(cues) < _LEAST_CUES:
        return None
    repeated = []
    shown: tuple[Token, ...] = ()
    for before, cue in zip((None, *cues), cues, strict=False):
        if before is not None and _cleared(before, cue):
            shown = ()
        count = _repeated(shown, cue.tokens)
        repeated.append(count)
        shown = (*shown, *cue.tokens[count:])[-_FURTHEST:]
    rolls = sum(0 < count < len(cue.tokens) for count, cue in zip(repeated, cues, strict=True))
    same = sum(0 < count == len(cue.tokens) for count, cue in zip(repeated, cues, strict=True))
    # What is only said again, with nothing new below it, somebody says: “Amen.” “Amen.”
    if rolls + same < _LEAST_SHARE * (len(cues) - 1) or rolls < same / 2:
        return None
    return tuple(
        replace(cue, tokens=cue.tokens[count:])
        for cue, count in zip(cues, repeated, strict=True)
        if count < len(cue.tokens)
    )


def _cleared(before: TimedCue, cue: TimedCue) -> bool:
    """Whether the screen was empty between two cues."""
    return before.end_ms is not None and cue.start_ms is not None and cue.start_ms - before.end_ms > _STANDS_MS


def _repeated(shown: Sequence[Token], tokens: Sequence[Token]) -> int:
    """How many words a cue begins with that are the last ones shown; the most that there can be."""
    before = [token.text for token in shown]
    words = [token.text for token in tokens]
    for count in range(min(len(before), len(words)), 0, -1):
        if before[-count:] == words[:count]:
            return count
    return 0
