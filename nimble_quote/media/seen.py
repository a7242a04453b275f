"""What looking found in the picture of a recording, and the file it is kept in, so that the same picture is looked at once:
also when it is brought in again, and for the talks that ship."""

import json
from base64 import b64decode, b64encode
from dataclasses import dataclass, field, replace
from pathlib import Path

from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.framing.shots import find_changes, shot_looks, shots
from nimble_quote.core.framing.subjects import SeenFace, Track, find_tracks
from nimble_quote.core.timebase import Span, frame_at, ms_at
from nimble_quote.media.ffmpeg import Progress
from nimble_quote.media.mouths import with_talking
from nimble_quote.media.probe import SourceFacts
from nimble_quote.media.scanning import PictureScan, proxy_size
from nimble_quote.media.ways import Footage, Rectangle, graphics_in, through_gaps, with_inset

VERSION = 3
"""Goes up when looking finds more, or something else: what was seen before is then looked at again."""


@dataclass(frozen=True, kw_only=True)
class Heard:
    """What is heard meanwhile: where somebody speaks, and the loudest sample of each 10 ms."""

    speech: tuple[Span, ...]
    peaks: bytes


@dataclass(frozen=True, kw_only=True)
class Seen:
    """The sudden changes (ms and kind), the faces followed through shots, the look of each shot (ms it begins at)."""

    changes: list[tuple[int, str]]
    tracks: list[Track]
    looks: list[tuple[int, bytes]]
    graphics: list[Rectangle] = field(default_factory=list)
    """What stands still over the picture."""


def seen_by(scan: PictureScan, duration_ms: int, chunks: range | None = None) -> Seen:
    """What a scan found, once it has looked at the whole of a recording of that length, or at some chunks of it."""
    rate, before = scan.plan.rate, (chunks.start if chunks else 0) * scan.plan.chunk_frames
    found = find_changes(scan.looks(chunks))
    changes = [(round(ms_at(before + change.frame, rate)), str(change.kind)) for change in found]
    cuts_ms = [at for at, kind in changes if kind == "cut"]
    spans = [span for span in shots(cuts_ms, duration_ms) if span.end_ms > ms_at(before, rate)]
    firsts = [max(0, frame_at(span.start_ms, rate) - before) for span in spans]
    looks = shot_looks(scan.looks(chunks), firsts)
    return Seen(
        changes=changes,
        tracks=find_tracks(scan.faces(chunks), cuts_ms),
        looks=[(span.start_ms, look) for span, look in zip(spans, looks, strict=True)],
    )


async def watched(
    seen: Seen, duration_ms: int, heard: Heard | None, source: Path, facts: SourceFacts, mesh: Path, progress: Progress
) -> Seen:
    """What was seen, with those followed whose face is not seen for a while, and with how much mouths talk where several are
    seen. `source` is what plays: the proxy, or the original that serves as one. Raises `MediaFailed`."""
    cuts_ms = [at for at, kind in seen.changes if kind == "cut"]

    async def following(part: float) -> None:
        await progress(part / 2)

    async def mouths(part: float) -> None:
        await progress((1 + part) / 2)

    footage = Footage(path=source, size=(facts.width, facts.height))
    tracks = await through_gaps(seen.tracks, shots(cuts_ms, duration_ms), footage, following)
    tracks = [await with_inset(track, footage) for track in tracks]
    graphics = await graphics_in(seen.looks, tracks, duration_ms, footage)
    if heard is not None:
        tracks = await with_talking(tracks, heard.speech, heard.peaks, source, proxy_size(facts), mesh, mouths)
    return replace(seen, tracks=tracks, graphics=graphics)


def write_seen(seen: Seen, target: Path) -> None:
    """Writes what was seen as JSON. The colours of faces are left out: they have done their work."""
    stored = {
        "version": VERSION,
        "changes": seen.changes,
        "tracks": [
            {"subject": track.subject, "faces": [_numbers(face) for face in track.faces], "inset": track.inset}
            for track in seen.tracks
        ],
        "graphics": [[round(side, 4) for side in one] for one in seen.graphics],
        "looks": [[at_ms, b64encode(look).decode()] for at_ms, look in seen.looks],
    }
    target.write_text(json.dumps(stored, separators=(",", ":")))


def read_seen(source: Path) -> Seen | None:
    """What was seen, as it was written; None where another version of looking wrote it."""
    stored = json.loads(source.read_text())
    if stored["version"] != VERSION:
        return None
    return Seen(
        changes=[(at_ms, kind) for at_ms, kind in stored["changes"]],
        tracks=[
            Track(
                faces=tuple(_face(*numbers) for numbers in one["faces"]),
                subject=one["subject"],
                inset=tuple(one["inset"]) if one["inset"] else None,
            )
            for one in stored["tracks"]
        ],
        looks=[(at_ms, b64decode(look)) for at_ms, look in stored["looks"]],
        graphics=[(left, top, width, height) for left, top, width, height in stored["graphics"]],
    )


def _numbers(face: SeenFace) -> list[float]:
    one = face.sample
    return [
        one.at_ms,
        *(round(part, 5) for part in (one.x, one.y, one.width, one.height, one.score, face.turn, face.talking)),
    ]


def _face(
    at_ms: int, x: float, y: float, width: float, height: float, score: float, turn: float, talking: float
) -> SeenFace:
    return SeenFace(
        sample=FaceSample(at_ms=at_ms, x=x, y=y, width=width, height=height, score=score), turn=turn, talking=talking
    )
