"""The contrast of the captions of a version against the pictures that they stand on."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.assembly import Assembly, CueTrack, PlacedLines
from nimble_quote.core.assembly.captions import line_areas
from nimble_quote.core.assembly.model import PictureRun
from nimble_quote.core.captions.contrast import READABLE, ContrastFound, Mend, luminance, mends, score
from nimble_quote.core.captions.cues import Cue
from nimble_quote.core.context import Context
from nimble_quote.core.destinations import Area
from nimble_quote.core.document import CaptionLook, Colour

BINS = 128
_MOST_LOOKS = 24
"""So many pictures of a cue are looked at, spread over it."""
_EVERY_S = 0.25
Light = NDArray[np.float32]


@dataclass(frozen=True, kw_only=True)
class Pictures:
    """Pictures of a recording at moments of it (ms, in order): the relative luminance of each of their pixels, rows by columns."""

    at_ms: NDArray[np.float64]
    light: Light

    def near(self, ms: float) -> int:
        """The number of the picture nearest to a moment."""
        place = int(np.searchsorted(self.at_ms, ms))
        around = [one for one in (place - 1, place) if 0 <= one < len(self.at_ms)]
        return min(around, key=lambda one: abs(self.at_ms[one] - ms))

    def prepare(self) -> None:
        """Works out what every look at the pictures needs."""
        self.bins, self.whole  # noqa: B018

    @cached_property
    def bins(self) -> NDArray[np.uint8]:
        """The bin that the luminance of each pixel falls in."""
        bins: NDArray[np.uint8] = np.minimum(BINS - 1, self.light * BINS).astype(np.uint8)
        return bins

    @cached_property
    def whole(self) -> NDArray[np.uint8]:
        """The bin of how light each picture is on the whole."""
        whole: NDArray[np.uint8] = np.minimum(BINS - 1, self.light.mean(axis=(1, 2)) * BINS).astype(np.uint8)
        return whole


def contrast_of(
    assembly: Assembly, context: Context, pictures: Pictures, palette: Sequence[Colour] = ()
) -> dict[int, ContrastFound]:
    """The contrast of each cue by its first frame, with what would mend it where it is doubtful."""
    if not len(pictures.at_ms):
        return {}
    return {
        cue.first_frame: _of_cue(cue, track, assembly, context, pictures, palette)
        for track in assembly.cue_tracks
        for cue in track.cues
    }


def _of_cue(
    cue: Cue, track: CueTrack, assembly: Assembly, context: Context, pictures: Pictures, palette: Sequence[Colour]
) -> ContrastFound:
    look = track.look.with_changes(cue.look)
    areas = line_areas(cue, track, context, assembly.destination)
    during = cue.first_frame, cue.end_frame
    return _found(look, look.letters_of(cue.speaker), areas, during, assembly, pictures, palette)


def contrast_over(
    assembly: Assembly, context: Context, pictures: Pictures, palette: Sequence[Colour] = ()
) -> list[tuple[PlacedLines, ContrastFound]]:
    """The contrast of each text that stands over the picture."""
    if not len(pictures.at_ms):
        return []
    return [
        (one, _found(one.look, one.look.colour, _areas_in(one, context, assembly), (one.first_frame, one.end_frame), assembly, pictures, palette))
        for one in assembly.overlays
        if isinstance(one, PlacedLines)
    ]  # fmt: skip


def _areas_in(one: PlacedLines, context: Context, assembly: Assembly) -> list[Area]:
    """The part of the picture that the letters of each line of a text take, without what lies under them."""
    width, height = assembly.destination.size
    shorter = min(width, height)
    step = one.look.size * one.look.line_spacing * shorter / height
    top = one.area.y + one.area.height / 2 - step * len(one.lines) / 2
    out = []
    for number, line in enumerate(one.lines):
        measured = context.lettering.width(one.look.cased(line), one.look.face, one.look.letter_spacing, one.language)
        wide = min(one.area.width, measured * one.look.size * shorter / width)
        beyond = min(one.look.beyond[0] * one.look.size * shorter / width, one.area.width - wide)
        left = {"left": beyond, "centre": (one.area.width - wide) / 2, "right": one.area.width - wide - beyond}
        y = min(max(0.0, top + step * (number + 0.1)), 1 - step * 0.8)
        x = min(max(0.0, one.area.x + left[one.look.alignment]), 1 - wide)
        out.append(Area(x=x, y=y, width=wide, height=step * 0.8, name="line"))
    return out


def _found(
    look: CaptionLook, letters: Colour, areas: Sequence[Area], during: tuple[int, int], assembly: Assembly, pictures: Pictures,
    palette: Sequence[Colour],
) -> ContrastFound:  # fmt: skip
    frames = _looked_at(*during, assembly)
    lasting = np.diff([*frames, during[1]])
    views = [_View.at(frame, assembly, pictures) for frame in frames]
    # Most frames show what one before them showed.
    different = {view: _behind(view, areas, assembly, pictures) for view in views}
    scores = {view: score(look, letters, MIDDLES, one) for view, one in different.items()}
    counts, at = [different[view] for view in views], [scores[view] for view in views]
    together = np.sum([count * long for count, long in zip(counts, lasting, strict=True)], axis=0)
    whole = score(look, letters, MIDDLES, together)
    worst = int(np.argmin(at))
    if whole >= READABLE:
        return ContrastFound(contrast=whole, worst_frame=frames[worst])
    found = mends(look, letters, MIDDLES, together, palette)
    best = found[0] if found else None
    return ContrastFound(
        contrast=whole, worst_frame=frames[worst], says=_says(letters, together, whole, best), mend=best
    )


def _says(letters: Colour, counts: NDArray[np.float64], contrast: float, mend: Mend | None) -> str:
    """A poor contrast in words: "Light letters on a light picture, 1.0 to 1"."""
    light = float((MIDDLES * counts).sum() / max(1.0, counts.sum()))
    names = ["dark" if one < 0.18 else "light" for one in (luminance(letters), light)]
    told = f"{names[0]} letters on a {names[1]} picture, {contrast:.1f} to 1."
    return told if mend is None else f"{told} {mend.says} makes it {mend.contrast:.1f}."


def _looked_at(first: int, end: int, assembly: Assembly) -> list[int]:
    """The frames of a stretch that are looked at: spread over it, and each at which the picture cuts."""
    length = end - first
    looks = min(_MOST_LOOKS, max(2, round(length / assembly.rate / _EVERY_S)))
    spread = {first + length * n // looks for n in range(looks)}
    cuts = {run.first_frame for run in assembly.picture if first < run.first_frame < end}
    return sorted(spread | cuts)


MIDDLES = (np.arange(BINS) + 0.5) / BINS
"""The luminance in the middle of each bin."""


class _View(NamedTuple):
    """What a frame shows: the run that it lies in, by its first frame, which picture, and the windows of its panels."""

    run: int
    picture: int
    windows: tuple[tuple[float, float, float, float], ...]

    @classmethod
    def at(cls, frame: int, assembly: Assembly, pictures: Pictures) -> "_View":
        run = assembly.run_at(frame)
        windows = (panel.window_at(frame) for panel in run.panels)
        return cls(
            run=run.first_frame, picture=pictures.near(assembly.source_ms(frame)),
            windows=tuple((one.x, one.y, one.width, one.height) for one in windows),
        )  # fmt: skip


def _behind(view: _View, areas: Sequence[Area], assembly: Assembly, pictures: Pictures) -> NDArray[np.float64]:
    """How many of the pixels under some areas of a frame have which luminance."""
    run = assembly.run_at(view.run)
    seen = [_under(area, view, run, assembly, pictures).ravel() for area in areas]
    return np.bincount(np.concatenate(seen), minlength=BINS).astype(np.float64) if seen else np.zeros(BINS)


_ACROSS, _DOWN = 96, 20
"""So many points of each line's box are looked at."""


def _under(area: Area, view: _View, run: PictureRun, assembly: Assembly, pictures: Pictures) -> NDArray[np.uint8]:
    """The luminance under points of an area, as bins: of the panel that is there, or of what stands behind all of them."""
    width, height = assembly.destination.size
    picture = pictures.bins[view.picture]
    x = (area.x + (np.arange(_ACROSS) + 0.5) / _ACROSS * area.width) * width
    y = (area.y + (np.arange(_DOWN) + 0.5) / _DOWN * area.height) * height
    out = np.full((_DOWN, _ACROSS), _backdrop(run, view, pictures), np.uint8)
    rows, columns = picture.shape
    for panel, (left, top, wide, high) in zip(run.panels, view.windows, strict=True):
        inside_x = (x >= panel.x_px) & (x < panel.x_px + panel.width_px)
        inside_y = (y >= panel.y_px) & (y < panel.y_px + panel.height_px)
        if not inside_x.any() or not inside_y.any():
            continue
        across = left + (x[inside_x] - panel.x_px) / panel.width_px * wide
        down = top + (y[inside_y] - panel.y_px) / panel.height_px * high
        taken = picture[
            np.clip((down * rows).astype(int), 0, rows - 1)[:, None],
            np.clip((across * columns).astype(int), 0, columns - 1)[None, :],
        ]
        out[np.ix_(inside_y, inside_x)] = taken
    return out


def _backdrop(run: PictureRun, view: _View, pictures: Pictures) -> int:
    """About how light what stands behind is, as a bin: a blurred copy is as light as the picture, on the whole."""
    if run.behind.kind == "colour":
        return min(BINS - 1, int(luminance(run.behind.colour) * BINS))
    return int(pictures.whole[view.picture])
