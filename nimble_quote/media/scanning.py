"""Looking at the picture of a recording: one decode gives the proxy's picture, thumbnails of every frame, and faces.

The work is done in chunks of about a minute, each kept when it is whole, so that a killed worker goes on from there:

work folder / 00000.h264   the proxy's picture, a key frame each second, no frame that depends on a later one
              00000.looks  the thumbnails, as raw bytes
              00000.json   the faces; written last, so that its chunk is whole
"""

import asyncio
import json
import math
from collections.abc import Awaitable, Callable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import numpy as np

from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.framing.shots import LOOK, Looks
from nimble_quote.core.framing.subjects import SeenFace
from nimble_quote.core.timebase import Span, frame_at, ms_at, output_rate
from nimble_quote.media.coding import TAGS, Coding
from nimble_quote.media.faces import FaceFinder, Sheet
from nimble_quote.media.ffmpeg import GUARDS, Progress, run, running
from nimble_quote.media.probe import SourceFacts
from nimble_quote.media.reach import Reach
from nimble_quote.media.store import put_in_place

PROXY_SIDE = 540
"""The short side of a proxy."""
FACE_CHECKS_A_SECOND = 5
PROXY_ENCODER = ("-c:v", "libx264", "-preset", "veryfast", "-crf", "26", "-bf", "0", "-pix_fmt", "yuv420p")


@dataclass(frozen=True, kw_only=True)
class Plan:
    """How a recording is looked at: on the grid of its output rate, in chunks that begin on a key frame and a look."""

    rate: Fraction
    frames: int
    step: int
    """Frames from one look for faces to the next."""
    chunk_frames: int

    @classmethod
    def of(cls, facts: SourceFacts, chunk_s: int = 60) -> "Plan":
        """For a recording, in chunks of about that many seconds."""
        rate = output_rate(facts.rate)
        step = max(1, round(rate / FACE_CHECKS_A_SECOND))
        unit = math.lcm(step, round(rate))
        return cls(
            rate=rate,
            frames=max(1, frame_at(facts.duration_ms, rate)),
            step=step,
            chunk_frames=math.ceil(chunk_s * rate / unit) * unit,
        )

    @property
    def chunks(self) -> int:
        return math.ceil(self.frames / self.chunk_frames)

    def reach(self, chunk: int) -> Reach:
        """What of the source a chunk is made from."""
        first = chunk * self.chunk_frames
        early = Fraction(1, 1000) if first else Fraction(0)
        frames = min(self.chunk_frames, self.frames - first)
        return Reach(first_frame=first, frames=frames, rate=self.rate, early_s=early)

    def chunks_of(self, span: Span | None) -> range:
        """The chunks that a stretch reaches into; none for no stretch."""
        if span is None:
            return range(0)
        frames = (min(self.frames - 1, max(0, frame_at(ms, self.rate))) for ms in (span.start_ms, span.end_ms))
        low, high = (frame // self.chunk_frames for frame in frames)
        return range(low, high + 1)


@dataclass(frozen=True, kw_only=True)
class First:
    """A stretch that somebody waits for while a recording is scanned: `wanted` tells it (it may change meanwhile), `made` is
    called once its chunks are there."""

    wanted: Callable[[], Awaitable[Span | None]]
    made: Callable[[range], Awaitable[None]]


def _part_of(progress: Progress, done: int, of: int) -> Progress:
    """The progress of the next of some pieces of work, so many of which are done."""

    async def report(part: float) -> None:
        await progress((done + part) / of)

    return report


@dataclass(frozen=True, kw_only=True)
class PictureScan:
    """What a recording is looked at with: its source, its facts, the face detector's model, and its work folder.

    Where `proxied` is set, the source is a proxy already and no picture is encoded.
    """

    source: Path
    facts: SourceFacts
    model: Path
    folder: Path
    proxied: bool
    coding: Coding
    chunk_s: int = 60

    @property
    def plan(self) -> Plan:
        return Plan.of(self.facts, self.chunk_s)

    async def scan(self, scratch: Path, progress: Progress, first: "First | None" = None) -> None:
        """Makes every chunk that is not there, those of the stretch that somebody waits for before the others. Raises
        `MediaFailed` where the source can't be decoded."""
        self.folder.mkdir(parents=True, exist_ok=True)
        sheet = Sheet.of(self.facts.width, self.facts.height)
        finder = FaceFinder(self.model, sheet)
        told: range | None = None
        while lacking := [chunk for chunk in range(self.plan.chunks) if not self._whole(chunk)]:
            wanted = self.plan.chunks_of(await first.wanted()) if first else range(0)
            waited = [chunk for chunk in wanted if chunk in lacking]
            if first and wanted and not waited and wanted != told:
                told = wanted
                await first.made(wanted)
            done = self.plan.chunks - len(lacking)
            await self._chunk(
                (waited or lacking)[0], sheet, finder, scratch, _part_of(progress, done, self.plan.chunks)
            )
        await progress(1.0)

    def _whole(self, chunk: int) -> bool:
        return _name(self.folder, chunk, "json").exists()

    async def _chunk(self, chunk: int, sheet: Sheet, finder: FaceFinder, scratch: Path, progress: Progress) -> None:
        reach, plan = self.plan.reach(chunk), self.plan
        width, height = sheet.size
        faces: list[SeenFace] = []
        async with running(self._command(reach, sheet, scratch), limit=width * height * 3) as (out, _):
            number = 0
            while block := await _exactly(out, width * height * 3):
                frame = reach.first_frame + number * plan.step
                pixels = np.frombuffer(block, np.uint8).reshape(height, width, 3)
                if not finder.may_pass_over(pixels):
                    faces += await asyncio.to_thread(finder.find, pixels, round(ms_at(frame, plan.rate)))
                number += 1
                await progress(min(1.0, number * plan.step / reach.frames))
        for kind in ("looks", *([] if self.proxied else ["h264"])):
            put_in_place(scratch / f"chunk.{kind}", _name(self.folder, chunk, kind))
        (scratch / "chunk.json").write_text(json.dumps([_plain(face) for face in faces]))
        put_in_place(scratch / "chunk.json", _name(self.folder, chunk, "json"))

    def _command(self, reach: Reach, sheet: Sheet, scratch: Path) -> list[str]:
        rate = f"{reach.rate.numerator}/{reach.rate.denominator}"
        rows, columns, _ = LOOK
        width, height = proxy_size(self.facts)
        scaled = self.coding.scaled(width, height)
        whole = f"[0:V:0]fps={rate}:start_time=0,trim=end_frame={reach.frames},{scaled},setsar=1"
        parts = "split=2[l][s]" if self.proxied else "split=3[p][l][s]"
        graph = (
            f"{whole},{parts};[l]scale={columns}:{rows}:flags=area,format=rgb24[looks];"
            f"[s]select='not(mod(n\\,{self.plan.step}))',setpts=N/TB,{sheet.filter},format=rgb24[sheets]"
        )
        proxy = [] if self.proxied else [
            "-map", "[p]", *PROXY_ENCODER, *TAGS, "-r", rate, "-g", str(round(reach.rate)), "-f", "h264", str(scratch / "chunk.h264"),
        ]  # fmt: skip
        # The longest work gives way to what people wait for: listening, aligning, exporting.
        return [
            "nice", "-n", "10", "ffmpeg", "-v", "error", "-nostdin", "-y", *reach.seek, *GUARDS, "-i", str(self.source), "-filter_complex", graph,
            *proxy, "-map", "[looks]", "-fps_mode", "passthrough", "-f", "rawvideo", str(scratch / "chunk.looks"),
            "-map", "[sheets]", "-fps_mode", "passthrough", "-f", "rawvideo", "pipe:1",
        ]  # fmt: skip

    def looks(self, chunks: range | None = None) -> Iterator[Looks]:
        """The thumbnails of the whole recording, or of some chunks of it, a chunk at a time."""
        for chunk in range(self.plan.chunks) if chunks is None else chunks:
            raw = np.fromfile(_name(self.folder, chunk, "looks"), np.uint8)
            yield raw[: len(raw) // math.prod(LOOK) * math.prod(LOOK)].reshape(-1, *LOOK)

    def faces(self, chunks: range | None = None) -> list[SeenFace]:
        """The faces of the whole recording, or of some chunks of it, in order of time."""
        found: list[SeenFace] = []
        for chunk in range(self.plan.chunks) if chunks is None else chunks:
            found += [_seen(one) for one in json.loads(_name(self.folder, chunk, "json").read_text())]
        return found

    async def join_proxy(self, sound: Path | None, target: Path, scratch: Path) -> None:
        """Puts the chunks of the proxy's picture and its sound into one file, without encoding anything again."""
        whole = scratch / "picture.h264"
        with whole.open("wb") as out:
            for chunk in range(self.plan.chunks):
                out.write(_name(self.folder, chunk, "h264").read_bytes())
        rate = f"{self.plan.rate.numerator}/{self.plan.rate.denominator}"
        with_sound = ["-protocol_whitelist", "file", "-i", str(sound), "-map", "1:a:0"] if sound else []
        await run(
            ["ffmpeg", "-v", "error", "-nostdin", "-y", "-protocol_whitelist", "file", "-f", "h264", "-framerate", rate,
             "-i", str(whole), *with_sound, "-map", "0:v:0", "-c", "copy", "-movflags", "+faststart", "-f", "mp4", str(target)]
        )  # fmt: skip
        whole.unlink()


def proxy_size(facts: SourceFacts) -> tuple[int, int]:
    """The size of a recording's proxy: its short side `PROXY_SIDE` lines, or its own where it is smaller."""
    scale = min(1.0, PROXY_SIDE / min(facts.width, facts.height))
    return max(2, round(facts.width * scale / 2) * 2), max(2, round(facts.height * scale / 2) * 2)


async def _exactly(stream: asyncio.StreamReader, size: int) -> bytes:
    """The next block of a stream, empty at its end."""
    try:
        return await stream.readexactly(size)
    except asyncio.IncompleteReadError:
        return b""


def _name(folder: Path, chunk: int, kind: str) -> Path:
    return folder / f"{chunk:05}.{kind}"


def _plain(face: SeenFace) -> dict[str, object]:
    return {
        "sample": face.sample.model_dump(),
        "turn": round(face.turn, 3),
        "colours": [round(float(c), 4) for c in face.colours],
    }


def _seen(stored: dict[str, object]) -> SeenFace:
    return SeenFace(
        sample=FaceSample.model_validate(stored["sample"]),
        turn=float(str(stored["turn"])),
        colours=np.array(stored["colours"], np.float32),
    )
