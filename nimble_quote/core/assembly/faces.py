"""Where faces stand in the output of an Assembly."""

from bisect import bisect_left
from collections.abc import Iterator, Sequence

from nimble_quote.core.assembly.model import Assembly
from nimble_quote.core.context import Sight
from nimble_quote.core.destinations import Area
from nimble_quote.core.framing.framed import FramedShot
from nimble_quote.core.framing.placement import FaceSample

ShownFace = tuple[int, FaceSample]
"""A face with a frame of the output that shows it."""


def followed_faces(framing: Sequence[FramedShot], sight: Sight) -> list[FaceSample]:
    """The faces that a framing is about: what stands over the picture keeps clear of them, and of no others."""
    parts = [
        part.thinned(5)
        for shot in framing
        for track in sight.tracks
        if track.subject in shot.subjects and not track.thing
        if (part := track.within(shot.span.start_ms, shot.span.end_ms)) is not None
    ]
    return Sight(tracks=parts).faces


def frames_of_faces(assembly: Assembly, faces: Sequence[FaceSample]) -> list[ShownFace]:
    """Each face with the frames of the output that show it, in order: worked out once for all that asks."""
    found = [(frame, face) for face in faces for frame in assembly.frames_showing(face.at_ms)]
    return sorted(found, key=lambda one: one[0])


def areas_of_faces(shown: Sequence[ShownFace], first_frame: int, end_frame: int, assembly: Assembly) -> Iterator[Area]:
    """Where faces stand in the output between two frames."""
    first = bisect_left(shown, first_frame, key=lambda each: each[0])
    end = bisect_left(shown, end_frame, key=lambda each: each[0])
    for frame, face in shown[first:end]:
        yield from _placed(face, frame, assembly)


def _placed(face: FaceSample, frame: int, assembly: Assembly) -> Iterator[Area]:
    """Where a face stands in a frame of the output, as far as it is inside."""
    width, height = assembly.destination.size
    for panel in assembly.run_at(frame).panels:
        window = panel.window_at(frame)
        if not window.holds(*face.middle, 0, 0):
            continue
        across, down = panel.width_px / window.width / width, panel.height_px / window.height / height
        x = panel.x_px / width + (face.x - window.x) * across
        y = panel.y_px / height + (face.y - window.y) * down
        left, top = max(0.0, x), max(0.0, y)
        right, bottom = min(1.0, x + face.width * across), min(1.0, y + face.height * down)
        if right > left and bottom > top:
            yield Area(x=left, y=top, width=right - left, height=bottom - top, name="face")
