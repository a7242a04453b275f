"""The Assembly: a document resolved for one destination into exactly what will be seen and heard.

One clock: every position is a frame of the output. The browser's preview draws it layer by layer, the renderer turns it
into an ffmpeg command layer by layer, and preflight judges it.

        frames    0 ---------------------------------------- frames
        picture   |== run ==|=== run ===|== run ==|== run ==|     runs tile the whole length
        cues         |--|  |---|  |----|   |---|      |--|
        overlays  |------|                          |-------|

To add something that is seen: a kind of panel, cue track or overlay here, resolved in this package, and a layer in the
renderer and in the preview that draws it.
"""

from bisect import bisect_right
from collections.abc import Sequence
from fractions import Fraction
from math import floor
from typing import Literal

from nimble_quote.core.assembly.placed import PlacedFootage, PlacedOverlay
from nimble_quote.core.captions.cues import Cue
from nimble_quote.core.cutting.joins import SoundPiece
from nimble_quote.core.cutting.playing import Played
from nimble_quote.core.destinations import Destination
from nimble_quote.core.document import CaptionLook, Limits
from nimble_quote.core.framing.layouts import Behind
from nimble_quote.core.framing.toning import Tone
from nimble_quote.core.framing.window import Window, between, source_pixels_per_output
from nimble_quote.core.model import Frozen
from nimble_quote.core.sound.looping import Loop
from nimble_quote.core.timebase import Span, ms_at

RECORDING = "recording"
"""The id of the source that a quote is cut from."""


class SourceSize(Frozen):
    """A source of pictures, by its id, and its size as displayed, in square pixels."""

    id: str
    width: int
    height: int


class Key(Frozen):
    """The window of a source that a panel shows at a frame of the output."""

    frame: int
    window: Window


class LightKey(Frozen):
    """Where the middle of a light stands at a frame of the output, in pixels of its panel."""

    frame: int
    x: float
    y: float


class PanelLight(Frozen):
    """A soft oval of white over a panel: `strength` (0..1) in its middle, less and less towards its edge (with the square of
    what is left of the square of the way), and its path, straight from key to key."""

    strength: float
    width_px: int
    height_px: int
    keys: tuple[LightKey, ...]


class Panel(Frozen):
    """A box of the output, in even pixels, and the window of the source that fills it: straight from key to key, still
    before the first and after the last."""

    x_px: int
    y_px: int
    width_px: int
    height_px: int
    keys: tuple[Key, ...]
    light: PanelLight | None = None

    def window_at(self, frame: float) -> Window:
        """The window at a frame of the output."""
        after = bisect_right(self.keys, frame, key=lambda key: key.frame)
        if after == 0:
            return self.keys[0].window
        if after == len(self.keys):
            return self.keys[-1].window
        one, other = self.keys[after - 1], self.keys[after]
        return between(one.window, other.window, (frame - one.frame) / (other.frame - one.frame))

    @property
    def box(self) -> tuple[int, int, int, int]:
        return self.x_px, self.y_px, self.width_px, self.height_px


class PictureRun(Frozen):
    """A stretch of the output with one picture: `frames` frames from `first_frame`.

    Output frame `first_frame + k` shows frame `source_frame + floor(k * step)` of the source, at the output's rate. A
    run without a source shows what is behind alone.
    """

    first_frame: int
    frames: int
    source: str | None
    source_frame: int = 0
    step: Fraction = Fraction(1)
    panels: tuple[Panel, ...] = ()
    behind: Behind
    tone: Tone = Tone()

    @property
    def end_frame(self) -> int:
        return self.first_frame + self.frames

    @property
    def source_frames(self) -> int:
        """How many frames of the source it reaches over."""
        return floor((self.frames - 1) * self.step) + 1

    def source_at(self, frame: int) -> int:
        """The frame of the source that a frame of the output shows."""
        return self.source_frame + floor((frame - self.first_frame) * self.step)

    def follows(self, other: "PictureRun") -> bool:
        """Whether the source goes on here where the other run, just before it, has left it."""
        left = other.source_frame + other.frames * other.step
        return self.source == other.source and abs(self.source_frame - left) <= max(self.step, other.step)


class MusicLayer(Frozen):
    """A piece of music, or a sound, of the house's, in the milliseconds `[start_ms, end_ms)` of the output: from where in the piece,
    whether it is looped, and how loud it is against the voice, in dB."""

    item: int
    sound: int
    revision: int
    loop: Loop | None
    loudness_lufs: float
    """Of the piece itself."""
    start_ms: int
    end_ms: int
    from_ms: int
    below_db: float
    duck_db: float
    fall_ms: int
    fade_in_ms: int
    fade_out_ms: int


class Sound(Frozen):
    """What is heard: pieces of the recording one after another, and how fast the stretches of the cut that they make are played;
    when somebody speaks, in milliseconds of the output; and music under it."""

    speech: tuple[SoundPiece, ...]
    played: tuple[Played, ...] = ()
    cleaned: Literal["light", "firm"] | None = None
    """How much is done to the speech."""
    voiced: tuple[Span, ...] = ()
    music: tuple[MusicLayer, ...] = ()


class CueTrack(Frozen):
    """Captions: the id of their style, their look, what a cue may be in this shape, their cues, those that were hidden, and the
    height of their middle from the top (0..1)."""

    style: str
    look: CaptionLook
    limits: Limits
    language: str
    cues: tuple[Cue, ...]
    hidden: tuple[Cue, ...] = ()
    height: float


class Assembly(Frozen):
    """One version, resolved. Lengths in frames of `rate`; the runs of `picture` tile all `frames`."""

    destination: Destination
    rate: Fraction
    frames: int
    sources: tuple[SourceSize, ...]
    picture: tuple[PictureRun, ...]
    sound: Sound
    cue_tracks: tuple[CueTrack, ...] = ()
    overlays: tuple[PlacedOverlay, ...] = ()
    cover_frames: int = 0
    """So many frames at the beginning show the cover, and none of the cut."""
    card_frame: int | None = None
    """Where the end card begins; None where there is none."""
    cut_frames: int
    """How long the cut itself is heard."""
    sharpness: float | None
    """Source pixels for each output pixel, along a side, where the picture is enlarged most; None without a picture."""

    @property
    def length_ms(self) -> float:
        return ms_at(self.frames, self.rate)

    @property
    def body(self) -> tuple[int, int]:
        """The frames `[first, end)` that show the cut itself, between the cover and the end card."""
        return self.cover_frames, self.frames if self.card_frame is None else self.card_frame

    @property
    def cut_picture(self) -> tuple[PictureRun, ...]:
        """The runs that show the cut itself."""
        first, end = self.body
        return tuple(run for run in self.picture if first <= run.first_frame < end)

    @property
    def is_written(self) -> bool:
        """Whether it shows anything that the script of captions and overlays draws."""
        return any(one.kind not in ("picture", "spotlight", "footage") for one in self.overlays) or any(
            track.cues for track in self.cue_tracks
        )

    @property
    def house_pictures(self) -> set[int]:
        """The numbers of the house's pictures that it shows."""
        behind = {run.behind.picture for run in self.picture if run.behind.picture is not None}
        return behind | {one.picture for one in self.overlays if one.kind == "picture"}

    @property
    def footage(self) -> tuple[PlacedFootage, ...]:
        """The pieces of other recordings that it shows, in order."""
        return tuple(one for one in self.overlays if isinstance(one, PlacedFootage))

    @property
    def house_sounds(self) -> set[int]:
        """The numbers of the house's sounds that are heard in it."""
        return {one.sound for one in self.sound.music}

    def run_at(self, frame: int) -> PictureRun:
        """The run that a frame of the output lies in."""
        return self.picture[max(0, bisect_right(self.picture, frame, key=lambda run: run.first_frame) - 1)]

    def source_ms(self, frame: int) -> float:
        """The moment of the source that a frame of the output shows."""
        return ms_at(self.run_at(frame).source_at(frame), self.rate)

    def frames_showing(self, source_ms: float) -> list[int]:
        """The first frames of the output, one a run, that show a moment of the recording."""
        at = int(source_ms * self.rate / 1000)
        return [
            run.first_frame + -(-(at - run.source_frame) * run.step.denominator // run.step.numerator)
            for run in self.picture
            if run.source == RECORDING and run.source_frame <= at < run.source_frame + run.source_frames
        ]


def sharpness_of(picture: Sequence[PictureRun], sources: Sequence[SourceSize]) -> float | None:
    """Source pixels for each output pixel where a picture is enlarged most; None where it shows no source."""
    sizes = {one.id: one for one in sources}
    return min(
        (
            source_pixels_per_output(key.window, panel.width_px, sizes[run.source].width)
            for run in picture
            if run.source is not None
            for panel in run.panels
            for key in panel.keys
        ),
        default=None,
    )
