"""Faces linked over time into tracks, and tracks that look alike named as one subject."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from statistics import median

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.framing.placement import FaceSample

LOST_AFTER_MS = 1000
"""A face not seen for this long is another one when it comes back."""
LEAST_SAMPLES = 3
LEAST_SCORE = 0.66
"""A ball or the back of a head is taken for a face now and then, but not surely and not for long."""
_FURTHEST = 0.9
"""How far a face goes from one look to the next, in its own heights, at five looks a second."""
_ALIKE = 0.11
"""Colours of two looks (0..1) that differ by less than this on average are of one subject."""

Colours = NDArray[np.float32]


@dataclass(frozen=True, kw_only=True)
class SeenFace:
    """A face in one frame, the turn of the head (-1 left to 1 right of the picture), and its colours while tracks are
    being found."""

    sample: FaceSample
    turn: float
    talking: float = -1.0
    """How much the mouth moves with the sound, 0 to 1; less than none where nobody looked."""
    colours: Colours = field(repr=False, compare=False, default_factory=lambda: np.zeros(0, np.float32))


@dataclass(frozen=True, kw_only=True)
class Track:
    """One face through a shot, in order of time, and the number of its subject (0 is seen most)."""

    faces: tuple[SeenFace, ...]
    subject: int = 0
    inset: tuple[float, float, float, float] | None = None
    """The picture of its own that it stands in (left, top, width, height, in fractions), if it does."""

    @property
    def start_ms(self) -> int:
        return self.faces[0].sample.at_ms

    @property
    def end_ms(self) -> int:
        return self.faces[-1].sample.at_ms


def find_tracks(faces: Sequence[SeenFace], cuts_ms: Sequence[int]) -> list[Track]:
    """The tracks of a recording, from its faces in order of time. No track goes on over a cut."""
    edges = [*cuts_ms, None]
    tracks: list[list[SeenFace]] = []
    at = 0
    for edge in edges:
        end = at
        while end < len(faces) and (edge is None or faces[end].sample.at_ms < edge):
            end += 1
        tracks += _linked(faces[at:end])
        at = end
    kept = [track for track in tracks if _persists(track)]
    return _named(sorted(kept, key=lambda track: track[0].sample.at_ms))


def _linked(faces: Sequence[SeenFace]) -> list[list[SeenFace]]:
    """Each face goes on the nearest open track, the closest pairs first."""
    open_tracks: list[list[SeenFace]] = []
    done: list[list[SeenFace]] = []
    for moment in _by_moment(faces):
        now = moment[0].sample.at_ms
        done += [track for track in open_tracks if now - track[-1].sample.at_ms > LOST_AFTER_MS]
        open_tracks = [track for track in open_tracks if now - track[-1].sample.at_ms <= LOST_AFTER_MS]
        pairs = sorted(
            (_distance(track[-1].sample, face.sample), i, j)
            for i, track in enumerate(open_tracks)
            for j, face in enumerate(moment)
        )
        taken_tracks: set[int] = set()
        taken: set[int] = set()
        for distance, i, j in pairs:
            if distance > _FURTHEST or i in taken_tracks or j in taken:
                continue
            open_tracks[i].append(moment[j])
            taken_tracks.add(i)
            taken.add(j)
        open_tracks += [[face] for j, face in enumerate(moment) if j not in taken]
    return done + open_tracks


def _by_moment(faces: Sequence[SeenFace]) -> list[list[SeenFace]]:
    moments: list[list[SeenFace]] = []
    for face in faces:
        if moments and moments[-1][0].sample.at_ms == face.sample.at_ms:
            moments[-1].append(face)
        else:
            moments.append([face])
    return moments


def _distance(one: FaceSample, other: FaceSample) -> float:
    """How far apart two boxes are, in their mean height; a change of size counts too. Width tells less: heads turn."""
    size = (one.height + other.height) / 2
    across = (one.middle[0] - other.middle[0]) * one.height / max(1e-6, one.width) * one.width / size
    down = (one.middle[1] - other.middle[1]) / size
    grown = abs(float(np.log(one.height / other.height)))
    return float(np.hypot(across, down)) + 0.5 * grown


def _persists(track: Sequence[SeenFace]) -> bool:
    return len(track) >= LEAST_SAMPLES and median(face.sample.score for face in track) >= LEAST_SCORE


def _named(tracks: Sequence[list[SeenFace]]) -> list[Track]:
    """Numbers subjects: the longest tracks first, each joining the subject it looks most like, if it may."""
    subjects: list[list[int]] = []
    looks = [np.median([face.colours for face in track], axis=0) for track in tracks]
    order = sorted(range(len(tracks)), key=lambda i: -len(tracks[i]))
    for i in order:
        alike = [
            (float(np.abs(looks[i] - looks[members[0]]).mean()), number)
            for number, members in enumerate(subjects)
            if not any(_together(tracks[i], tracks[j]) for j in members)
        ]
        nearest = min(alike, default=(1.0, -1))
        if nearest[0] < _ALIKE:
            subjects[nearest[1]].append(i)
        else:
            subjects.append([i])
    subjects.sort(key=lambda members: -sum(len(tracks[i]) for i in members))
    number = {i: n for n, members in enumerate(subjects) for i in members}
    return [Track(faces=tuple(track), subject=number[i]) for i, track in enumerate(tracks)]


def _together(one: Sequence[SeenFace], other: Sequence[SeenFace]) -> bool:
    """Whether two tracks are seen at the same time, and so can't be one subject."""
    return one[0].sample.at_ms <= other[-1].sample.at_ms and other[0].sample.at_ms <= one[-1].sample.at_ms
