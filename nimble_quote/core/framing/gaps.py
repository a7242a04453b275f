"""Where a face is not seen for a while although its shot goes on: who turns away, is hidden by somebody, or goes far off.

What they wear is followed meanwhile, and the face put where it would be over it. Through a short gap that has a face at both of its
ends the straight line is as good, and costs nothing.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.framing.subjects import SeenFace, Track
from nimble_quote.core.timebase import Span

_SHORT_MS = 3000
_OPEN_MS = 1200
"""A face that is not seen again may be away for a moment at the end of its shot."""
_LONGEST_MS = 60_000
_LEAST_LOOKS = 15
"""Who was seen for less than this passes by."""
_WIDE, _HIGH = 2.3, 1.5
"""The box under a face that is followed, in its widths and heights."""
_LEFT = 0.4
"""A face so near to the edge of the picture, in its widths, leaves it."""
_OFF = 2.0
"""What was followed must end within so many widths of where the face is seen again."""
FOLLOWED = 0.0
"""The score of a face that was not seen: where it is, is known by the clothes under it."""


@dataclass(frozen=True, kw_only=True)
class Gap:
    """A stretch in which somebody is not seen: the track and the look it goes on from, the moment up to which they are
    followed, and where they are seen again, if they are. `backwards`: from a face that is seen later."""

    track: Track
    leaves: SeenFace
    until_ms: int
    comes_back: SeenFace | None = None
    backwards: bool = False


def gaps_of(tracks: Sequence[Track], shots: Sequence[Span]) -> list[Gap]:
    """The gaps that somebody is to be followed through, shot by shot."""
    gaps: list[Gap] = []
    for shot in shots:
        by_subject: dict[int, list[Track]] = {}
        for track in tracks:
            if shot.start_ms <= track.start_ms < shot.end_ms:
                by_subject.setdefault(track.subject, []).append(track)
        for own in by_subject.values():
            if sum(len(track.faces) for track in own) >= _LEAST_LOOKS:
                gaps += _gaps_in(sorted(own, key=lambda track: track.start_ms), shot)
    return gaps


def _gaps_in(own: Sequence[Track], shot: Span) -> list[Gap]:
    """The gaps of one person in a shot."""
    gaps = []
    for before, after in pairwise(own):
        if after.start_ms - before.end_ms > _SHORT_MS and not _leaves(before.faces[-1]):
            back = after.faces[0]
            gaps.append(Gap(track=before, leaves=before.faces[-1], until_ms=back.sample.at_ms, comes_back=back))
    first, last = own[0], own[-1]
    if shot.end_ms - last.end_ms > _OPEN_MS and not _leaves(last.faces[-1]):
        until = min(shot.end_ms - 1, last.end_ms + _LONGEST_MS)
        gaps.append(Gap(track=last, leaves=last.faces[-1], until_ms=until))
    if first.start_ms - shot.start_ms > _OPEN_MS and not _leaves(first.faces[0]):
        until = max(shot.start_ms, first.start_ms - _LONGEST_MS)
        gaps.append(Gap(track=first, leaves=first.faces[0], until_ms=until, backwards=True))
    return [gap for gap in gaps if abs(gap.until_ms - gap.leaves.sample.at_ms) <= _LONGEST_MS]


def _leaves(face: SeenFace) -> bool:
    """Whether a face is at an edge of the picture, which it went out over."""
    one = face.sample
    return one.x < _LEFT * one.width or one.x + one.width > 1 - _LEFT * one.width


def body_under(face: FaceSample) -> tuple[float, float, float, float]:
    """The box under a face by which somebody is followed (left, top, width, height, in fractions)."""
    wide, high = _WIDE * face.width, _HIGH * face.height
    return (
        face.x + face.width / 2 - wide / 2,
        face.y + face.height,
        wide,
        min(high, max(0.02, 1 - face.y - face.height)),
    )


def bridged(gap: Gap, bodies: Sequence[FaceSample]) -> tuple[SeenFace, ...]:
    """The face of somebody through a gap, over the bodies that were followed, in order of being followed. Where they are seen
    again, what is off by then is taken back evenly; where it is off by much, another was followed, and there is none."""
    start = gap.leaves.sample
    faces = [_face_over(body, start) for body in bodies]
    if gap.comes_back is not None:
        end = gap.comes_back.sample
        reached = [face for face in faces if face.at_ms < end.at_ms]
        if not reached or end.at_ms - reached[-1].at_ms > _OPEN_MS:
            return ()
        across = end.middle[0] - reached[-1].middle[0]
        down = end.middle[1] - reached[-1].middle[1]
        if abs(across) > _OFF * end.width or abs(down) > _OFF * end.height:
            return ()
        whole = end.at_ms - start.at_ms
        faces = [_moved(face, across, down, (face.at_ms - start.at_ms) / whole) for face in reached]
    return tuple(SeenFace(sample=face, turn=0.0) for face in faces)


def _face_over(body: FaceSample, start: FaceSample) -> FaceSample:
    """Where a face is over its body, as large against it as it was when both were seen."""
    size = body.width / (_WIDE * start.width)
    width, height = start.width * size, start.height * size
    return FaceSample(
        at_ms=body.at_ms, x=body.x + body.width / 2 - width / 2, y=body.y - height, width=width, height=height,
        score=FOLLOWED,
    )  # fmt: skip


def _moved(face: FaceSample, across: float, down: float, part: float) -> FaceSample:
    return face.model_copy(update={"x": face.x + across * part, "y": face.y + down * part})
