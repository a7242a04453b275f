"""Looking whether a finished clip shows its captions as they were planned: a frame of each cue against the script.

The script is drawn over black and over white. Where both come out alike it covers what is behind, so that the clip must show just
that there. Of the clip only the frames that are looked at are decoded, and those that they need: key frames where there are any.
"""

from collections.abc import AsyncGenerator, Sequence
from contextlib import aclosing
from fractions import Fraction
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.assembly import Assembly
from nimble_quote.core.captions.cues import Cue
from nimble_quote.media.ffmpeg import GUARDS, blocks, ffprobe, seconds_of
from nimble_quote.media.render.compiling import CAPTIONS_FILE, FONTS_FOLDER
from nimble_quote.media.render.runs import rate_of

_MOST_CUES = 60
_AT_ONCE = 10
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
    keys = await _key_frames(clip, assembly.rate)
    frames = [_frame_of(cue, keys) for cue in chosen]
    missing = []
    async with (
        aclosing(_of_clip(clip, frames, assembly, folder)) as seen,
        aclosing(_greys(_of_script(assembly, frames), folder, assembly)) as drawn,
    ):
        for cue in chosen:
            shown, dark, light = await anext(seen), await anext(drawn), await anext(drawn)
            covered = np.abs(dark - light) < _SAME
            if covered.sum() >= _LEAST_PIXELS and np.abs(shown - dark)[covered].mean() > _OFF:
                missing.append(cue)
        # To their ends, so that a tool that failed there is told.
        beyond = [*[one async for one in seen], *[one async for one in drawn]]
        assert not beyond
    return missing


async def _key_frames(clip: Path, rate: Fraction) -> list[int]:
    """The frames of a clip that can be decoded without others."""
    found = await ffprobe(clip, "-select_streams", "v:0", "-show_entries", "packet=pts_time,flags")
    at = [seconds_of(one.get("pts_time")) for one in found["packets"] if "K" in one["flags"]]
    return [round(seconds * rate) for seconds in at if seconds is not None]


def _frame_of(cue: Cue, keys: Sequence[int]) -> int:
    """The frame of a cue that is looked at: its middle, or a key frame not far from that."""
    middle, near = (cue.first_frame + cue.end_frame) // 2, (cue.end_frame - cue.first_frame) // 4
    return min((key for key in keys if abs(key - middle) <= near), key=lambda key: abs(key - middle), default=middle)


async def _of_clip(clip: Path, frames: Sequence[int], assembly: Assembly, folder: Path) -> AsyncGenerator[Grey, None]:
    """Some frames of a clip. Each is sought by itself, a few at a time: every search holds a decoder."""
    for start in range(0, len(frames), _AT_ONCE):
        async for grey in _greys(_seeking(clip, frames[start : start + _AT_ONCE], assembly.rate), folder, assembly):
            yield grey


def _seeking(clip: Path, frames: Sequence[int], rate: Fraction) -> list[str]:
    # Decoding begins at the key frame before the search, whose own frame is half a frame before time 0.
    sought = [
        ("-noaccurate_seek", "-ss", f"{float((frame + Fraction(1, 2)) / rate):.6f}", "-threads", "1", *GUARDS, "-i", str(clip))
        for frame in frames
    ]  # fmt: skip
    first = f"select='gte(t,{float(-Fraction(3, 4) / rate):.6f})',trim=end_frame=1,setpts=0,format=gray"
    each = [f"[{number}:v:0]{first}[f{number}]" for number in range(len(frames))]
    joined = f"{''.join(f'[f{number}]' for number in range(len(frames)))}concat=n={len(frames)}[out]"
    return [
        "ffmpeg", "-v", "error", "-nostdin", *(part for one in sought for part in one),
        "-filter_complex", ";".join([*each, joined]), "-map", "[out]", "-fps_mode", "passthrough", "-f", "rawvideo", "-",
    ]  # fmt: skip


def _of_script(assembly: Assembly, frames: Sequence[int]) -> list[str]:
    """The script alone at some frames: each over black, and a little later over white."""
    width, height = assembly.destination.size
    times = "+".join(f"between(N,{2 * number},{2 * number + 1})*{frame}" for number, frame in enumerate(frames))
    stamped = f"negate=enable='mod(n,2)',setpts='(({times})+0.1+0.4*mod(N,2))/({rate_of(assembly.rate)})/TB'"
    return [
        "ffmpeg", "-v", "error", "-nostdin", "-f", "lavfi", "-i", f"color=c=black:s={width}x{height}:r=1000",
        "-vf", f"trim=end_frame={2 * len(frames)},format=yuv420p,{stamped},ass=f={CAPTIONS_FILE}:fontsdir={FONTS_FOLDER},format=gray",
        "-fps_mode", "passthrough", "-f", "rawvideo", "-",
    ]  # fmt: skip


async def _greys(command: list[str], folder: Path, assembly: Assembly) -> AsyncGenerator[Grey, None]:
    width, height = assembly.destination.size
    async with blocks(command, width * height, folder) as parts:
        async for part in parts:
            if len(part) == width * height:
                yield np.frombuffer(part, np.uint8).astype(np.int16)
