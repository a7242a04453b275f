"""When each cue shows, in frames of the output: from its first word, held to be readable, with no flashing gaps."""

from collections.abc import Sequence
from fractions import Fraction
from functools import lru_cache

from nimble_quote.core.captions.linebreak import break_lines
from nimble_quote.core.captions.pins import PinnedCue
from nimble_quote.core.captions.segment import segment
from nimble_quote.core.captions.styles import Limits
from nimble_quote.core.captions.words import CaptionWord
from nimble_quote.core.model import Frozen

HOLD_MS = 250
"""How long a cue stays after its last word where nothing follows."""
CLOSE_MS = 400
"""A gap between cues shorter than this reads as a flash and is closed."""


class CueWord(Frozen):
    """A word of a cue and the frames `[first_frame, end_frame)` in which it counts as the spoken one."""

    text: str
    index: int
    first_frame: int
    end_frame: int


class Cue(Frozen):
    """One caption, shown in frames `[first_frame, end_frame)`, as lines of words."""

    first_frame: int
    end_frame: int
    lines: tuple[tuple[CueWord, ...], ...]
    height: float | None = None
    """The height of its middle from the top, where it stands elsewhere than the others."""

    @property
    def words(self) -> tuple[CueWord, ...]:
        return tuple(word for line in self.lines for word in line)

    @property
    def line_texts(self) -> tuple[str, ...]:
        return tuple(" ".join(word.text for word in line) for line in self.lines)

    @property
    def text(self) -> str:
        """The cue as running text."""
        return " ".join(self.line_texts)


class WrittenCue(Frozen):
    """A caption as it was burned in: its frames and the text of its lines."""

    first_frame: int
    end_frame: int
    lines: tuple[str, ...]

    @classmethod
    def of(cls, cue: Cue) -> "WrittenCue":
        """What is written of a cue."""
        return cls(first_frame=cue.first_frame, end_frame=cue.end_frame, lines=cue.line_texts)


@lru_cache(maxsize=32)
def make_cues(
    words: tuple[CaptionWord, ...], limits: Limits, rate: Fraction, frames: int, pins: tuple[PinnedCue, ...] = ()
) -> tuple[Cue, ...]:
    """The cues of a cut of `frames` frames: divided, broken into lines and timed, in order and apart.

    A pinned cue is as the person made it, whatever the limits say. Remembered for the last few cuts, since every
    version of a quote has the same ones.
    """
    cues: list[Cue] = []
    ranges = _ranges(words, limits, pins)
    pinned = {(pin.first, pin.end): pin for pin in pins}
    for number, (start, end) in enumerate(ranges):
        shown = [word for word in words[start:end] if word.text]
        pin = pinned.get((start, end))
        if not shown or (pin is not None and pin.hidden):
            continue
        following = next((word for a, b in ranges[number + 1 :] for word in words[a:b] if word.text), None)
        cue = _cue(shown, following, limits, rate, frames)
        if pin is not None:
            room = (
                cues[-1].end_frame if cues else 0,
                min(frames, _frame(following.start_ms, rate)) if following else frames,
            )
            cue = _as_pinned(cue, pin, words, room, rate)
        cues.append(cue)
    return tuple(cue for cue in cues if cue.end_frame > cue.first_frame)


def _ranges(words: Sequence[CaptionWord], limits: Limits, pins: Sequence[PinnedCue]) -> list[tuple[int, int]]:
    """The words of each cue, as half-open ranges: those pinned, and the rest divided between them."""
    out: list[tuple[int, int]] = []
    at = 0
    for start, end in [*((pin.first, pin.end) for pin in pins), (len(words), len(words))]:
        indexes = [index for index in range(at, start) if words[index].text]
        divided = segment([words[index] for index in indexes], limits)
        out += [(indexes[a], indexes[b - 1] + 1) for a, b in divided]
        if end > start:
            out.append((start, end))
        at = end
    return out


def _as_pinned(cue: Cue, pin: PinnedCue, words: Sequence[CaptionWord], room: tuple[int, int], rate: Fraction) -> Cue:
    """A cue with the lines, the times and the place that a person gave it; it stays between those beside it."""
    breaks = {words[index].index for index in pin.line_starts}
    lines: list[list[CueWord]] = [[]]
    for word in cue.words:
        if word.index in breaks and lines[-1]:
            lines.append([])
        lines[-1].append(word)
    first = max(cue.first_frame + _signed(pin.shift_in_ms, rate), room[0])
    end = max(first + 1, min(cue.end_frame + _signed(pin.shift_out_ms, rate), room[1]))
    told = tuple(tuple(line) for line in lines) if breaks else cue.lines
    return cue.model_copy(update={"lines": told, "first_frame": first, "end_frame": end, "height": pin.height})


def _cue(
    words: Sequence[CaptionWord], following: CaptionWord | None, limits: Limits, rate: Fraction, frames: int
) -> Cue:
    next_frame = min(frames, _frame(following.start_ms, rate)) if following else frames
    first = min(_frame(words[0].start_ms, rate), frames)
    spoken = _frame(words[-1].end_ms + HOLD_MS, rate)
    readable = first + _frame(limits.shortest_ms, rate)
    longest = max(first + _frame(limits.longest_ms, rate), _frame(words[-1].end_ms, rate))
    end = min(max(spoken, readable), longest, next_frame)
    if next_frame - end < _frame(CLOSE_MS, rate) and next_frame <= longest:
        end = next_frame
    texts = [word.text for word in words]
    breaks = break_lines(texts, limits.line_characters, limits.lines) or (len(words),)
    starts = (0, *breaks[:-1])
    timed = _spoken(words, first, end, rate)
    return Cue(first_frame=first, end_frame=end, lines=tuple(timed[a:b] for a, b in zip(starts, breaks, strict=True)))


def _spoken(words: Sequence[CaptionWord], first: int, end: int, rate: Fraction) -> tuple[CueWord, ...]:
    """Each word is the spoken one until the next begins, so that the mark never goes out between two words."""
    starts = [first, *(min(max(_frame(word.start_ms, rate), first), end) for word in words[1:]), end]
    return tuple(
        CueWord(text=word.text, index=word.index, first_frame=starts[i], end_frame=starts[i + 1])
        for i, word in enumerate(words)
    )


def _signed(ms: int, rate: Fraction) -> int:
    return _frame(ms, rate) if ms >= 0 else -_frame(-ms, rate)


def _frame(ms: float, rate: Fraction) -> int:
    return int(ms * rate.numerator / (1000 * rate.denominator) + 0.5)
