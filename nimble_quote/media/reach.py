"""How far into a source a pass of decoding reaches, and the seek that gets there on the frame grid."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from math import floor
from pathlib import Path

from nimble_quote.core.assembly import PictureRun
from nimble_quote.media.ffmpeg import ffprobe_once, seconds_of

_LEAD_FRAMES = 12
_EARLY_S = Fraction(1, 1000)


@dataclass(frozen=True, kw_only=True)
class Reach:
    """The frames of source that are decoded for a clip: from `first_frame`, `frames` of them.

    The seek goes a thousandth of a second before the first frame, since a time rounded up in the file would lose it;
    everything decoded is that much late, which rounds away for pictures and is allowed for in sound.
    """

    first_frame: int
    frames: int
    rate: Fraction
    early_s: Fraction

    @classmethod
    def of(cls, runs: Sequence[PictureRun], rate: Fraction) -> "Reach":
        """What some runs of one source reach."""
        first = max(0, min(run.source_frame for run in runs) - _LEAD_FRAMES)
        early = _EARLY_S if first else Fraction(0)
        end = max(run.source_frame + run.source_frames for run in runs)
        return cls(first_frame=first, frames=end - first, rate=rate, early_s=early)

    def back_to(self, frame: int) -> "Reach":
        """The same, beginning at a frame that is there where it would begin after it."""
        if frame >= self.first_frame:
            return self
        return replace(
            self,
            first_frame=frame,
            frames=self.first_frame + self.frames - frame,
            early_s=_EARLY_S if frame else Fraction(0),
        )

    @property
    def seek(self) -> tuple[str, ...]:
        """Options before `-i` that decode just this much, and one frame more."""
        start = float(self.first_frame / self.rate - self.early_s)
        length = float((self.frames + 1) / self.rate + self.early_s)
        return "-ss", f"{start:.6f}", "-t", f"{length:.6f}"


async def last_frame_before(path: Path, frame: int, rate: Fraction) -> int:
    """A frame at the end of what a source's picture has before another, on the frame grid; 0 where it has none."""
    container = (await ffprobe_once(path, "-show_entries", "format=start_time"))["format"]
    start_s = seconds_of(container.get("start_time")) or 0.0
    until_s = start_s + float(frame / rate)
    # Reading begins at the key frame before.
    reach = f"{max(start_s, until_s - 1):.3f}%{until_s:.3f}"
    packets = ("-select_streams", "V:0", "-read_intervals", reach, "-show_entries", "packet=pts_time")
    found = await ffprobe_once(path, *packets)
    times = [seconds_of(packet.get("pts_time")) for packet in found.get("packets", [])]
    last_s = max((at - start_s for at in times if at is not None), default=0.0)
    # One before: the picture may be a little off the grid, and a seek behind its last frame would find nothing.
    return max(0, min(frame, floor(last_s * rate)) - 1)
