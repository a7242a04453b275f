"""Music and sounds that a house brings: decoded and coded anew, so that nothing of a strange file is kept; measured, and looked
through for where they can be looped."""

import asyncio
import tempfile
from dataclasses import dataclass
from pathlib import Path

from nimble_quote.core.cutting.mixing import SAMPLE_RATE
from nimble_quote.core.refusal import Refused
from nimble_quote.core.sound.looping import Loop, find_loop
from nimble_quote.media.ffmpeg import GUARDS, MediaFailed, ffprobe, run, seconds_of
from nimble_quote.media.loudness import loudness_of
from nimble_quote.media.sound import decoded

MOST_BYTES = 120_000_000
_LONGEST_S = 15 * 60
_NO_SOUND = "This file has no sound that can be read. Use WAV, FLAC, MP3, M4A, Ogg or Opus."
MEDIA_TYPE = "audio/ogg"


class SoundRefused(Refused):
    """A file can't be used as music or a sound."""

    code = "sound-refused"


@dataclass(frozen=True, kw_only=True)
class MadeSound:
    """A sound as it is kept: Opus, which keeps its exact length; and what was measured of it."""

    content: bytes
    duration_ms: int
    loudness_lufs: float
    loop: Loop | None


async def house_sound(sent: bytes) -> MadeSound:
    """A sound that was sent, as it is kept. Raises `SoundRefused`."""
    with tempfile.TemporaryDirectory() as folder:
        source, made = Path(folder) / "sound", Path(folder) / "made.opus"
        source.write_bytes(sent)
        try:
            long = seconds_of(
                (await ffprobe(source, "-show_entries", "format=duration")).get("format", {}).get("duration")
            )
            if long is not None and long > _LONGEST_S:
                raise SoundRefused(
                    f"This is {long / 60:.0f} minutes long, and {_LONGEST_S // 60} is the most. Cut it first."
                )
            await run([
                "ffmpeg", "-v", "error", "-nostdin", "-y", *GUARDS, "-i", str(source), "-map", "0:a:0", "-t", str(_LONGEST_S),
                "-ac", "2", "-ar", str(SAMPLE_RATE), "-c:a", "libopus", "-b:a", "128k", "-map_metadata", "-1", "-fflags", "+bitexact", "-flags:a", "+bitexact", str(made),
            ])  # fmt: skip
            return await _measured(made)
        except MediaFailed as failed:
            raise SoundRefused(_NO_SOUND) from failed


async def _measured(made: Path) -> MadeSound:
    content = made.read_bytes()
    samples = await decoded(content)
    loudness = await loudness_of(made)
    if not len(samples):
        raise SoundRefused(_NO_SOUND)
    if loudness is None:
        loud = float(abs(samples).max(initial=0))
        # Too short for the meter, which wants four tenths of a second.
        if loud < 1e-3:
            raise SoundRefused("This file is silent.")
        loudness = -20.0
    loop = await asyncio.to_thread(find_loop, samples)
    return MadeSound(
        content=content, duration_ms=round(len(samples) * 1000 / SAMPLE_RATE), loudness_lufs=loudness, loop=loop
    )
