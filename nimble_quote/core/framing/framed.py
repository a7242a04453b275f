"""How a stretch of a cut is framed in one shape: its layout, what is said of it, and what is doubtful."""

from nimble_quote.core.document import Choice, DoubtCode, LayoutName
from nimble_quote.core.framing.layouts import Behind, Layout
from nimble_quote.core.framing.lighting import Light
from nimble_quote.core.framing.sharpness import Sharpness
from nimble_quote.core.framing.toning import Tone
from nimble_quote.core.model import Frozen
from nimble_quote.core.timebase import Span


class Doubt(Frozen):
    """Something about a framing that a person should look at; `at_ms` is where in the source."""

    code: DoubtCode
    says: str
    do: str
    at_ms: int


class FramedShot(Frozen):
    """A stretch of a cut in one shape."""

    span: Span
    kept: tuple[Span, ...]
    """What of it the version shows."""
    layout: Layout
    behind: Behind
    tone: Tone
    lights: tuple[Light, ...]
    name: LayoutName
    subjects: tuple[int, ...]
    """Whom it follows."""
    closeness: float
    """How large the first subject's face is, against a medium shot of the shape; 1 where there is none."""
    close_says: str
    """How close that is, in a word."""
    choice: Choice
    """What a person chose of it."""
    says: str
    moves: int
    heads_inside: float | None
    """The part of the time that the heads it follows are inside; None where it follows nobody."""
    bodies_inside: float | None
    """The same of their shoulders."""
    sharpness: Sharpness
    doubts: tuple[Doubt, ...]
    """What is doubtful, and was not found good by a person."""
