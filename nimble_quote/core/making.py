"""What a file is made as: a finished clip or another kind, how it is coded, and how large it is to be."""

from typing import Literal

from pydantic import Field

from nimble_quote.core.model import Frozen
from nimble_quote.core.refusal import Refused

Kind = Literal["clip", "cut", "m4a", "mp3", "still"]
"""A clip as it is framed and finished; the plain cut in the recording's shape; its sound alone; its cover, or first frame, as a picture."""
Codec = Literal["h264", "h265", "av1"]
Quality = Literal["small", "usual", "crisp"]
QUALITIES: tuple[Quality, ...] = ("small", "usual", "crisp")
SOUND_KILOBITS = 160
"""The bit rate of the sound of any file, in kilobits a second."""
SIZE_SLACK = 0.02
"""A size that was asked for is met within this part of it."""
_LEAST_KILOBITS = 120
"""A picture of fewer kilobits a second is a smear."""


class TooSmall(Refused):
    """A file can't be as small as is wanted."""

    code = "size-too-small"


class Making(Frozen):
    """How a file is made. `size_mb` is how large it is to be, in millions of bytes; without it `quality` says how well it is
    coded, whatever comes of that."""

    kind: Kind = "clip"
    codec: Codec = "h264"
    quality: Quality = "usual"
    size_mb: float | None = Field(default=None, ge=0.05, le=100_000, allow_inf_nan=False)

    @property
    def sound_only(self) -> bool:
        return self.kind in ("m4a", "mp3")

    @property
    def ending(self) -> str:
        """How names of its files end."""
        if self.kind == "still":
            return ".png"
        return f".{self.kind}" if self.sound_only else ".mp4"


USUAL = Making()


def picture_kilobits(size_bytes: float, length_ms: float, sound_bytes: int, frames: int) -> float:
    """The bit rate, in kilobits a second, that a picture may have for a file of a size; the index of the file takes some bytes of
    each frame. Raises `TooSmall`."""
    seconds = length_ms / 1000
    kilobits = (size_bytes - sound_bytes - overhead_bytes(frames, length_ms)) * 8 / 1000 / seconds
    if kilobits < _LEAST_KILOBITS:
        least = (_LEAST_KILOBITS * 125 * seconds + sound_bytes + overhead_bytes(frames, length_ms)) / 1e6
        raise TooSmall(
            f"A clip of {seconds:.1f} s can't be as small as {size_bytes / 1e6:.1f} MB: its picture would be a smear. "
            f"Ask for {least + 0.05:.1f} MB or more, or shorten it."
        )
    return kilobits


def overhead_bytes(frames: int, length_ms: float) -> int:
    """About how many bytes of an MP4 file are its index: 8 of each frame of picture and each 1024 samples of sound, twice where a
    frame may be shown after a later one, and what it begins with."""
    return round(2000 + frames * 16 + length_ms * 48 / 1024 * 8)


def expected_bytes(key_bytes: float, other_bytes: float, frames: int, keys: int, length_ms: float) -> int:
    """How large a clip comes, by what a probe of it says its key frames and its other frames take on average."""
    sound = SOUND_KILOBITS * 125 * length_ms / 1000
    return round(keys * key_bytes + (frames - keys) * other_bytes + sound + overhead_bytes(frames, length_ms))
