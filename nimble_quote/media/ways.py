"""The way of a box through a recording: forwards from where it was drawn, and back; and that of people whose face is not seen
for a while."""

import asyncio
from collections.abc import AsyncIterator, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np

from nimble_quote.core.framing.gaps import Gap, body_under, bridged, gaps_of
from nimble_quote.core.framing.graphics import LEAST_PICTURES, find_graphics
from nimble_quote.core.framing.insets import inset_of, may_be_inset
from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.framing.set_ups import looks_alike
from nimble_quote.core.framing.subjects import SeenFace, Track
from nimble_quote.core.timebase import Span
from nimble_quote.media.ffmpeg import GUARDS, Progress, blocks
from nimble_quote.media.following import LOST, Follower, Found, Grey, Seen, TooEven, gone

STEP_MS = 200
"""From one look to the next."""
_LINES = 360
_AT_ONCE_MS = 20_000
"""So much is read at once on the way back: a decoder only goes forwards."""
_GIVE_UP_LOOKS = 10
"""So many looks after it was lost it is gone."""
Rectangle = tuple[float, float, float, float]
"""Left, top, width and height, in fractions of the picture."""


@dataclass(frozen=True, kw_only=True)
class Footage:
    """A file to look at, and the size of its picture as displayed."""

    path: Path
    size: tuple[int, int]

    @property
    def looked_at(self) -> tuple[int, int]:
        """The width and height that it is looked at in."""
        scale = min(1.0, _LINES / min(self.size))
        return max(2, round(self.size[0] * scale / 2) * 2), max(2, round(self.size[1] * scale / 2) * 2)


async def way_of(
    footage: Footage, box: Rectangle, at_ms: int, within: Span, progress: Progress
) -> list[FaceSample]:  # fmt: skip
    """Where a box that was drawn at a moment is, each `STEP_MS` of a stretch; what is lost for a moment only is left out.

    Raises `TooEven` where there is nothing to follow, `MediaFailed` where the file can't be read.
    """
    whole = max(1, within.length_ms)

    async def done(ms: float) -> None:
        await progress(min(1.0, ms / whole))

    seen: dict[int, Seen] = {}
    forwards = await _one_way(footage, _forwards(footage, at_ms, within.end_ms), box, (at_ms, STEP_MS), done, seen)

    async def more(ms: float) -> None:
        await done(within.end_ms - at_ms + ms)

    back = await _one_way(footage, _backwards(footage, at_ms, within.start_ms), box, (at_ms, -STEP_MS), more, seen)
    return _while_there([*reversed(back[1:]), *forwards], seen)


def _while_there(places: list[FaceSample], seen: dict[int, Seen]) -> list[FaceSample]:
    """Places without those before a thing came and after it went: what stands there anyway was found instead."""
    times = sorted(seen)
    there = [at for at, away in zip(times, gone([seen[at] for at in times]), strict=True) if not away]
    if not there:
        return []
    first, last = times.index(there[0]), times.index(there[-1])
    low = there[0] if first else places[0].at_ms
    high = there[-1] if last < len(times) - 1 else places[-1].at_ms
    return [one for one in places if low <= one.at_ms <= high]


async def through_gaps(
    tracks: Sequence[Track], shots: Sequence[Span], footage: Footage, progress: Progress
) -> list[Track]:  # fmt: skip
    """Tracks of people who are followed by what they wear while their face is turned away, hidden or too small. Raises
    `MediaFailed`."""
    out = list(tracks)
    gaps = gaps_of(tracks, shots)
    for number, gap in enumerate(gaps):
        faces = await _through(gap, footage)
        if faces:
            at = next(
                i
                for i, one in enumerate(out)
                if one.start_ms == gap.track.start_ms and one.subject == gap.track.subject
            )
            longer = sorted((*out[at].faces, *faces), key=lambda face: face.sample.at_ms)
            out[at] = replace(out[at], faces=tuple(longer))
        await progress((number + 1) / len(gaps))
    return sorted(out, key=lambda one: one.start_ms)


_LOOKS = 12


async def with_inset(track: Track, footage: Footage) -> Track:
    """A track with the picture of its own that it stands in, if it does. Raises `MediaFailed`."""
    if not may_be_inset(track):
        return track
    times = np.linspace(track.start_ms, track.end_ms - STEP_MS, _LOOKS)
    pictures = [picture for at in times async for picture in _read(footage, int(at), 1)]
    samples = [face.sample for face in track.faces]
    x, y, width, height = (
        float(np.median([getattr(one, side) for one in samples])) for side in ("x", "y", "width", "height")
    )
    found = inset_of(pictures, (x, y, width, height)) if pictures else None
    return replace(track, inset=found)


async def graphics_in(
    looks: Sequence[tuple[int, bytes]], tracks: Sequence[Track], duration_ms: int, footage: Footage
) -> list[Rectangle]:
    """The graphics that stand still over a recording, by one picture of each of some shots that are not alike; a picture in the
    picture is none. `looks` tells where each shot begins, and its look. Raises `MediaFailed`."""
    ends = [at for at, _ in looks[1:]] + [duration_ms]
    longest = sorted(zip(looks, ends, strict=True), key=lambda one: one[0][0] - one[1])
    chosen: list[tuple[int, bytes]] = []
    for (start, look), end in longest[:_MOST_COMPARED]:
        if len(chosen) < _LOOKS and not any(looks_alike(look, other) for _, other in chosen):
            chosen.append(((start + end) // 2, look))
    if len(chosen) < LEAST_PICTURES:
        return []
    pictures = [picture for at, _ in chosen async for picture in _read(footage, at, 1)]
    insets = [track.inset for track in tracks if track.inset]
    return [one for one in find_graphics(pictures) if not any(_overlap(one, inset) for inset in insets)]


_MOST_COMPARED = 200


def _overlap(one: Rectangle, other: Rectangle) -> bool:
    return all(max(one[i], other[i]) < min(one[i] + one[i + 2], other[i] + other[i + 2]) for i in (0, 1))


async def _through(gap: Gap, footage: Footage) -> tuple[SeenFace, ...]:
    """The face of somebody through a gap; none where they could not be followed."""
    start, step = gap.leaves.sample, -STEP_MS if gap.backwards else STEP_MS
    pictures = (
        _backwards(footage, start.at_ms, gap.until_ms)
        if gap.backwards
        else _forwards(footage, start.at_ms, gap.until_ms)
    )

    async def unheard(ms: float) -> None:
        pass

    try:
        way = await _one_way(footage, pictures, body_under(start), (start.at_ms, step), unheard)
    except TooEven:
        return ()
    return bridged(gap, way[1:])


async def _one_way(
    footage: Footage, pictures: AsyncIterator[Grey], box: Rectangle, times: tuple[int, int], progress: Progress,
    seen: dict[int, Seen] | None = None,
) -> list[FaceSample]:  # fmt: skip
    """Where a box is in each picture, the first of which it was drawn on; `times` are its moment, and from one to the next. What
    is remembered of it is added to `seen`, by its moment."""
    width, height = footage.looked_at
    found = Found(x=box[0] * width, y=box[1] * height, width=box[2] * width, height=box[3] * height, score=1.0)
    follower: Follower | None = None
    places: list[FaceSample] = []
    at_ms, lost = times[0], 0
    async for picture in pictures:
        if follower is None:
            follower = Follower(picture, found)
        else:
            found = await asyncio.to_thread(follower.next, picture)
        lost = lost + 1 if found.score < LOST else 0
        if lost > _GIVE_UP_LOOKS:
            break
        if seen is not None and follower.remembered:
            seen[at_ms] = follower.seen[-1]
        if not lost:
            places.append(_sample(at_ms, found, width, height))
        at_ms += times[1]
        await progress(abs(at_ms - times[0]))
    return places


def _sample(at_ms: int, found: Found, width: int, height: int) -> FaceSample:
    return FaceSample(
        at_ms=at_ms, x=found.x / width, y=found.y / height, width=found.width / width, height=found.height / height,
        score=round(found.score, 3),
    )  # fmt: skip


def _forwards(footage: Footage, at_ms: int, end_ms: int) -> AsyncIterator[Grey]:
    return _read(footage, at_ms, max(1, -(-(end_ms - at_ms) // STEP_MS)))


async def _backwards(footage: Footage, at_ms: int, start_ms: int) -> AsyncIterator[Grey]:
    """The picture at a moment, and those before it, from one to the one before."""
    left, first = max(0, (at_ms - start_ms) // STEP_MS), True
    latest = at_ms
    while first or left > 0:
        count = min(_AT_ONCE_MS // STEP_MS, left)
        begins = latest - count * STEP_MS
        chunk = [picture async for picture in _read(footage, begins, count + first)]
        for picture in reversed(chunk):
            yield picture
        latest, left, first = begins, left - count, False


async def _read(footage: Footage, from_ms: int, looks: int) -> AsyncIterator[Grey]:
    """So many pictures from a moment on, one each `STEP_MS`."""
    width, height = footage.looked_at
    command = [
        "ffmpeg", "-v", "error", "-nostdin", "-ss", f"{max(0, from_ms) / 1000:.3f}", *GUARDS, "-i", str(footage.path),
        "-vf", f"fps={1000 // STEP_MS}:start_time=0,scale={width}:{height}:flags=area,format=gray",
        "-frames:v", str(looks), "-f", "rawvideo", "pipe:1",
    ]  # fmt: skip
    async with blocks(command, width * height) as found:
        async for block in found:
            if len(block) == width * height:
                yield np.frombuffer(block, np.uint8).reshape(height, width).astype(np.float32)
