"""How far into a source a clip reaches, and the seek that gets there on the frame grid."""

from dataclasses import dataclass
from fractions import Fraction

from nimble_quote.core.assembly import Assembly

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
    def of(cls, assembly: Assembly) -> "Reach":
        """What an Assembly reaches."""
        starts = [s.source_frame for s in assembly.segments]
        ends = [s.source_frame + s.frames for s in assembly.segments]
        first = max(0, min(starts) - _LEAD_FRAMES)
        early = _EARLY_S if first else Fraction(0)
        return cls(first_frame=first, frames=max(ends) - first, rate=assembly.rate, early_s=early)

    @property
    def seek(self) -> tuple[str, ...]:
        """Options before `-i` that decode just this much, and one frame more."""
        start = float(self.first_frame / self.rate - self.early_s)
        length = float((self.frames + 1) / self.rate + self.early_s)
        return "-ss", f"{start:.6f}", "-t", f"{length:.6f}"
