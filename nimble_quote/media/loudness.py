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
_NEAR_LU = 0.25
"""Near enough to the target, which may be missed by twice this: coding moves it by a tenth."""
_CEILING = 0.71
"""-3 dBFS: coding as AAC can lift the true peak by a decibel and a half, which must end under -1."""


@dataclass(frozen=True, kw_only=True)
class Loudness:
    """Integrated loudness, None where there is nothing to measure, and the true peak, None for silence."""

    lufs: float | None
    peak_dbtp: float | None


async def measure(path: Path) -> Loudness:
    """Measures the first sound stream of a file, true peak and all."""
    summary = await _metered(path, "true")
    peak = _number(_PEAK.search(summary))
    return Loudness(lufs=_loudness(summary), peak_dbtp=peak)


async def loudness_of(path: Path) -> float | None:
    """The integrated loudness of a file, in LUFS; None where there is nothing to measure."""
    return _loudness(await _metered(path, "none"))


async def _metered(path: Path, peak: str) -> str:
    """The meter's summary. Looking for true peaks takes as long again as the loudness, so it is not always asked for."""
    _, printed = await run(
        ["ffmpeg", "-hide_banner", "-nostats", "-nostdin", *GUARDS, "-i", str(path), "-map", "0:a:0",
         "-af", f"ebur128=peak={peak}:framelog=verbose", "-f", "null", "-"]
    )  # fmt: skip
    return _summary(printed)


def _summary(printed: str) -> str:
    return printed[printed.rfind("Summary:") :]


def _loudness(summary: str) -> float | None:
    lufs = _number(_INTEGRATED.search(summary))
    return lufs if lufs is not None and lufs > _SILENCE_LUFS else None


async def levelled(sound: Path, target: Path, target_lufs: float) -> None:
    """Writes `sound` (a WAV file) at a loudness: measured, lifted and limited, then measured and mended once more."""
    before = await loudness_of(sound)
    gain = 0.0 if before is None else min(_MOST_GAIN_DB, target_lufs - before)
    # The limiter takes off a little of what was lifted, more the more it has to do.
    for _ in range(3):
        now = await _at_gain(sound, target, gain)
        if before is None or now is None or abs(now - target_lufs) < _NEAR_LU:
            return
        gain = min(_MOST_GAIN_DB, gain + target_lufs - now)


async def _at_gain(sound: Path, target: Path, gain_db: float) -> float | None:
    """Writes a sound lifted and limited; how loud it has become."""
    graph = (
        f"[0:a]volume={gain_db:.2f}dB,aresample=96000,alimiter=limit={_CEILING}:level=false:attack=2:release=50:latency=1,"
        "aresample=48000,asplit[out][weighed];[weighed]ebur128=framelog=verbose,anullsink"
    )
    _, printed = await run(
        ["ffmpeg", "-hide_banner", "-nostats", "-nostdin", "-y", *GUARDS, "-i", str(sound),
         "-filter_complex", graph, "-map", "[out]", "-c:a", "pcm_s24le", str(target)]
    )  # fmt: skip
    return _loudness(_summary(printed))


def _number(match: re.Match[str] | None) -> float | None:
    if match is None:
        return None
    value = float(match[1])
    return value if math.isfinite(value) else None
