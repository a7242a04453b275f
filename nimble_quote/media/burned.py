"""Looking whether a finished clip shows its captions as they were planned: a frame of each cue against the script.

The script is drawn over black and over white. Where both come out alike it covers what is behind, so that the clip must show just
that there.
"""

from collections.abc import AsyncIterator, Sequence
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.assembly import Assembly
from nimble_quote.core.captions.cues import Cue
from nimble_quote.media.ffmpeg import GUARDS, blocks
from nimble_quote.media.render.compiling import CAPTIONS_FILE, FONTS_FOLDER
from nimble_quote.media.render.graph import any_of, quoted
from nimble_quote.media.render.runs import rate_of

_MOST_CUES = 60
_SAME = 6
"""Where the two differ by fewer steps of grey than this, the script covers the picture."""
_OFF = 30.0
"""Coding blurs letters; captions of another line, place or colour are further off than this on average."""
_LEAST_PIXELS = 200
Grey = NDArray[np.int16]


async def cues_not_shown(clip: Path, assembly: Assembly, folder: Path) -> list[Cue]:
    """The cues of a clip that its middle frames don't show as planned; `folder` is where its script and faces are."""
    cues = [cue for track in assembly.cue_tracks for cue in track.cues]
    chosen = cues[:: -(-len(cues) // _MOST_CUES)] if cues else []
    if not chosen:
        return []
    frames = [(cue.first_frame + cue.end_frame) // 2 for cue in chosen]
    width, height = assembly.destination.size
    shown = _greys(_of_clip(clip, frames), folder, (width, height))
    black, white = (
        _greys(_of_script(assembly, frames, colour), folder, (width, height)) for colour in ("black", "white")
    )
    missing = []
    for cue in chosen:
        seen, dark, light = await anext(shown), await anext(black), await anext(white)
        covered = np.abs(dark - light) < _SAME
        if covered.sum() >= _LEAST_PIXELS and np.abs(seen - dark)[covered].mean() > _OFF:
            missing.append(cue)
    return missing


def _of_clip(clip: Path, frames: Sequence[int]) -> list[str]:
    chosen = quoted(any_of([f"eq(n,{frame})" for frame in frames]))
    return [
        "ffmpeg", "-v", "error", "-nostdin", *GUARDS, "-i", str(clip), "-map", "0:v:0",
        "-vf", f"select={chosen},format=gray", "-fps_mode", "passthrough", "-f", "rawvideo", "-",
    ]  # fmt: skip


def _of_script(assembly: Assembly, frames: Sequence[int], colour: str) -> list[str]:
    """The script alone at some frames, over a colour: as many frames as there are, each at the time of one."""
    width, height = assembly.destination.size
    times = "+".join(f"eq(N,{number})*{frame}" for number, frame in enumerate(frames))
    stamped = f"setpts='(({times})+0.1)/({rate_of(assembly.rate)})/TB'"
    return [
        "ffmpeg", "-v", "error", "-nostdin", "-f", "lavfi", "-i", f"color=c={colour}:s={width}x{height}:r=1000",
        "-vf", f"trim=end_frame={len(frames)},format=yuv420p,{stamped},ass=f={CAPTIONS_FILE}:fontsdir={FONTS_FOLDER},format=gray",
        "-fps_mode", "passthrough", "-f", "rawvideo", "-",
    ]  # fmt: skip


async def _greys(command: list[str], folder: Path, size: tuple[int, int]) -> AsyncIterator[Grey]:
    width, height = size
    async with blocks(command, width * height, folder) as parts:
        async for part in parts:
            if len(part) == width * height:
                yield np.frombuffer(part, np.uint8).astype(np.int16)
