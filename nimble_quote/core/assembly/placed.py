"""What stands over the picture of an Assembly, as it is drawn: each kind with its frames `[first_frame, end_frame)` and its box.

    lines     text                              strokes   marks
    clock     the time that is left             wave      the sound as it is heard
    bar       a line that grows                 picture   logos and inserts
    code      a QR code                         spotlight what stays light

All but pictures, footage and spotlights are drawn by the script that captions are in.
"""

from typing import Annotated, Literal

from pydantic import Field

from nimble_quote.core.destinations import Area
from nimble_quote.core.document import CaptionLook, Colour
from nimble_quote.core.framing.window import Window
from nimble_quote.core.model import Frozen


class Placed(Frozen):
    """What all have: the number of the overlay in its quote, when it shows, and the part of the output that it takes."""

    item: int
    first_frame: int
    end_frame: int
    area: Area
    free: bool = True
    """Whether it stands clear of faces, captions, what apps cover, and the others."""
    by_hand: bool = False
    """Whether a person put it there in this shape."""


class PlacedLines(Placed):
    """Lines of text in one look, in their box; `whole` is false where they had to be made as small as they may be and still
    don't fit."""

    kind: Literal["lines"] = "lines"
    lines: tuple[str, ...]
    look: CaptionLook
    language: str
    whole: bool = True


class ClockTime(Frozen):
    """What a clock says from a frame on."""

    frame: int
    text: str


class PlacedClock(Placed):
    """A time that counts down."""

    kind: Literal["clock"] = "clock"
    times: tuple[ClockTime, ...]
    look: CaptionLook
    language: str


class Strip(Frozen):
    """A box in pixels, and the side that it grows from."""

    x: float
    y: float
    width: float
    height: float
    side: Literal["left", "right", "top", "bottom"]


class PlacedBar(Placed):
    """A line that grows from nothing to all of its strips, one after the other, while it shows."""

    kind: Literal["bar"] = "bar"
    strips: tuple[Strip, ...]
    colour: Colour
    track: Colour | None


class PlacedWave(Placed):
    """The sound of a clip: for each `step_frames` frames how loud each part of it is, written as two hexadecimal digits a part, the
    lowest first; of a line all parts at once."""

    kind: Literal["wave"] = "wave"
    form: Literal["bars", "dots", "ring", "line"]
    colour: Colour
    step_frames: int
    levels: tuple[str, ...]


QUIET = 4
"""So many cells around a QR code are light: without them it is not found (ISO/IEC 18004)."""


class PlacedCode(Placed):
    """A QR code: its rows, each a string of `1` where it is dark, and how many pixels each of its cells has, on a light plate that
    goes `QUIET` cells further on all sides."""

    kind: Literal["code"] = "code"
    rows: tuple[str, ...]
    cell_px: int
    x_px: int
    y_px: int


class PlacedPicture(Placed):
    """A picture of the house's in a box of even pixels, as large as it is drawn."""

    kind: Literal["picture"] = "picture"
    picture: int
    revision: int = 1
    """Which of the pictures it is that stood in its place."""
    x_px: int
    y_px: int
    width_px: int
    height_px: int
    opacity: float = 1.0
    fade_frames: int = 0
    """How many frames it takes to come, and to go."""
    push: float = 0.0
    """How much closer it is in its last frame than in its first, about its middle."""
    round: bool = False
    """Whether it is cut to an oval that fills its box."""


class PlacedFootage(Placed):
    """The picture of another recording in a box of even pixels: from a frame of it on, at the output's rate, the window of it that
    fills the box."""

    kind: Literal["footage"] = "footage"
    recording: int
    heard: Literal["not", "under", "instead"] = "not"
    source_frame: int
    source_width: int
    source_height: int
    window: Window
    x_px: int
    y_px: int
    width_px: int
    height_px: int
    fade_frames: int = 0

    @property
    def source(self) -> str:
        """What its recording is called among the sources of a clip."""
        return f"recording-{self.recording}"


class Spot(Frozen):
    """A point in pixels of the output."""

    x: float
    y: float


class Shift(Frozen):
    """How far something has moved at a frame from where it was placed, in pixels."""

    frame: int
    x: float
    y: float


class PlacedSpotlight(Placed):
    """A soft oval that stays light while all around it is darker; it moves straight from key to key of its path. From `SOFT` of its
    size outwards it grows dark."""

    kind: Literal["spotlight"] = "spotlight"
    x_px: float
    y_px: float
    """Of its middle, where it was placed."""
    across_px: float
    down_px: float
    """From the middle to where it is dark."""
    darkness: float
    fade_frames: int
    path: tuple[Shift, ...] = ()


SOFT = 0.82
"""A spotlight is wholly light as far as this part of its size."""


class PlacedStrokes(Placed):
    """A mark, by the lines that it is drawn with, each as the points it goes through; it moves straight from key to key of its
    path."""

    kind: Literal["strokes"] = "strokes"
    strokes: tuple[tuple[Spot, ...], ...]
    colour: Colour
    width_px: float
    draw_frames: int
    path: tuple[Shift, ...] = ()


PlacedOverlay = Annotated[
    PlacedLines
    | PlacedClock
    | PlacedBar
    | PlacedWave
    | PlacedPicture
    | PlacedStrokes
    | PlacedCode
    | PlacedSpotlight
    | PlacedFootage,
    Field(discriminator="kind"),
]
