"""Measuring loudness by ITU-R BS.1770, and bringing a sound to a target without clipping it."""

import math
import re
from dataclasses import dataclass
from pathlib import Path

from nimble_quote.media.ffmpeg import GUARDS, run

_INTEGRATED = re.compile(r"I:\s+(-?[\d.]+|-inf) LUFS")
_PEAK = re.compile(r"Peak:\s+(-?[\d.]+|-inf) dBFS")
_SILENCE_LUFS = -69.0
"""The meter's gate: what reads this low has nothing in it to measure."""
_MOST_GAIN_DB = 40.0
_CEILING = 0.71
"""-3 dBFS: coding as AAC can lift the true peak by a decibel and a half, which must end under -1."""


@dataclass(frozen=True, kw_only=True)
class Loudness:
    """Integrated loudness, None where there is nothing to measure, and the true peak, None for silence."""

    lufs: float | None
    peak_dbtp: float | None


async def measure(path: Path) -> Loudness:
    """Measures the first sound stream of a file."""
    _, said = await run(
        ["ffmpeg", "-hide_banner", "-nostats", "-nostdin", *GUARDS, "-i", str(path), "-map", "0:a:0",
         "-af", "ebur128=peak=true:framelog=verbose", "-f", "null", "-"]
    )  # fmt: skip
    summary = said[said.rfind("Summary:") :]
    lufs, peak = (_number(pattern.search(summary)) for pattern in (_INTEGRATED, _PEAK))
    return Loudness(lufs=lufs if lufs is not None and lufs > _SILENCE_LUFS else None, peak_dbtp=peak)


async def levelled(sound: Path, target: Path, target_lufs: float) -> None:
    """Writes `sound` (a WAV file) at a loudness: measured, lifted and limited, then measured and mended once more."""
    before = await measure(sound)
    gain = 0.0 if before.lufs is None else min(_MOST_GAIN_DB, target_lufs - before.lufs)
    await _at_gain(sound, target, gain)
    if before.lufs is None:
        return
    # The limiter takes off a little of what was lifted, more the more it has to do.
    for _ in range(2):
        now = await measure(target)
        if now.lufs is None or abs(now.lufs - target_lufs) < 0.15:
            return
        gain = min(_MOST_GAIN_DB, gain + target_lufs - now.lufs)
        await _at_gain(sound, target, gain)


async def _at_gain(sound: Path, target: Path, gain_db: float) -> None:
    chain = (
        f"volume={gain_db:.2f}dB,aresample=192000,alimiter=limit={_CEILING}:level=false:attack=2:release=50:latency=1"
    )
    await run(
        ["ffmpeg", "-v", "error", "-nostdin", "-y", *GUARDS, "-i", str(sound),
         "-af", f"{chain},aresample=48000", "-c:a", "pcm_s24le", str(target)]
    )  # fmt: skip


def _number(match: re.Match[str] | None) -> float | None:
    if match is None:
        return None
    value = float(match[1])
    return value if math.isfinite(value) else None
