"""A quote in work, as the API tells it."""

from datetime import datetime

from pydantic import BaseModel

from nimble_quote.core.assembly import Assembly, PictureRun
from nimble_quote.core.assembly.bands import Band
from nimble_quote.core.cutting.fairness import Unfair
from nimble_quote.core.cutting.pauses import Pause
from nimble_quote.core.cutting.plans import FitPlan
from nimble_quote.core.cutting.reading import Join
from nimble_quote.core.destinations import Gauge
from nimble_quote.core.document import Overlay, QuoteDocument
from nimble_quote.core.finding import Finding
from nimble_quote.core.framing.framed import FramedShot
from nimble_quote.core.framing.sharpness import Sharpness
from nimble_quote.core.timebase import Span


class UnfairView(Unfair):
    """Something that a cut does to what was said, and the reason for which it was accepted."""

    accepted: str | None


class CutView(BaseModel):
    """What is heard of a quote: its words, joins and pauses."""

    kept: list[Span]
    kept_words: list[int]
    struck_words: list[int]
    length_ms: int
    joins: list[Join]
    pauses: list[Pause]


class LimitMarks(BaseModel):
    """Where a version's limit falls in the source: if nothing were struck, and as it is cut; None where it is not reached."""

    said_ms: int | None
    kept_ms: int | None


class VersionCut(BaseModel):
    """How a version is cut, and how long it runs. `cut` is None where it is cut as the base is."""

    destination: str
    cut: CutView | None
    length_ms: int
    limit: LimitMarks


class TreatedView(BaseModel):
    """How the picture of a version is treated: where its captions stand. `alone`: otherwise than its shape; `shares` are the
    names of the other versions that are treated as the shape is."""

    caption_height: float
    alone: bool
    shares: list[str]


class CutShotView(BaseModel):
    """A stretch of the cut that is framed by itself. `parted`: it begins where a person parted a shot; `set_up` is the number
    of the set-up that its shot is of."""

    span: Span
    parted: bool
    set_up: int


class FramedView(BaseModel):
    """How one version is framed: its picture, and each stretch of it in words, with what is doubtful."""

    destination: str
    picture: tuple[PictureRun, ...]
    framing: list[FramedShot]


class SubjectView(BaseModel):
    """Somebody, or something, that is followed, and what it is called."""

    subject: int
    called: str
    thing: bool


class FollowedView(BaseModel):
    """Where a subject is at the moments it was seen at, in fractions of the picture."""

    subject: int
    at_ms: list[int]
    x: list[float]
    y: list[float]
    width: list[float]
    height: list[float]


class SightView(BaseModel):
    """What is seen around a quote."""

    subjects: list[SubjectView]
    tracks: list[FollowedView]


class VersionView(BaseModel):
    """A version resolved: what it is, its captions as a script, what is unfair about its cut, and all that is wrong
    with it."""

    destination: str
    treated: TreatedView
    framing: list[FramedShot]
    sharpness: Sharpness | None
    assembly: Assembly
    script: str
    faces: list[str]
    """The faces that the script names."""
    bands: list[Band]
    """What its picture leaves free above and below."""
    unfair: list[UnfairView]
    findings: list[Finding]


class VersionChecks(BaseModel):
    """All that is wrong with a version, and whether its export is held by a stop that nobody gave a reason for."""

    destination: str
    findings: list[Finding]
    held: bool


class ChecksView(BaseModel):
    """All that is wrong with the versions of a quote at a revision."""

    quote_id: int
    title: str
    revision: int
    versions: list[VersionChecks]


class ResolvedView(BaseModel):
    """The versions of a quote as they were resolved at a revision."""

    revision: int
    shots: list[CutShotView]
    """The stretches of the cut that are framed each by itself, in order of time."""
    set_ups: list[str]
    """What the set-ups are called that the shots are of."""
    versions: list[VersionView]


class OverlayWords(BaseModel):
    """The words that an overlay shows with, by their indexes, where they are still said."""

    id: int
    first: int
    last: int


class QuoteView(BaseModel):
    """A quote as the workbench shows it at once after an edit; see `ResolvedView` for the rest."""

    id: int
    recording_id: int
    recording_title: str
    revision: int
    removed: bool
    document: QuoteDocument
    cut: CutView
    """As all versions are cut that are not cut otherwise."""
    gauges: list[Gauge]
    versions: list[VersionCut]
    undo_said: str | None
    undo_by: str | None
    """Who made the change that would be undone, where they said so: others undo their own last change."""
    redo_said: str | None
    part_of: int | None
    overlays: list[Overlay] = []
    """What stands over its picture: its finish's, as far as it has none of it otherwise, and its own."""
    overlay_words: list[OverlayWords] = []
    merged: list[str] = []
    """What others changed since the revision that an edit was made on, which went together with it."""


class RevisionView(BaseModel):
    """A point in the history of a quote. `undone`: it is not on the way to how the quote is now."""

    number: int
    parent: int | None
    said: str
    by: str | None
    name: str | None
    created_at: datetime
    current: bool
    undone: bool


class ComparedPoints(BaseModel):
    """Two points of a history side by side: words that only one of them keeps, lengths, and what else differs."""

    titles: list[str]
    lengths_ms: list[int]
    only_kept: list[list[str]]
    differs: list[str]


class PlanView(FitPlan):
    """A fit plan, and how long the version would run with it."""

    length_ms: int
    limit_ms: int


class LoupeView(BaseModel):
    """A stretch of sound seen closely: the loudest sample of each `step_ms`, 0..255 on a square-root scale, and the
    moments where it is quietest."""

    from_ms: int
    step_ms: int
    peaks: list[int]
    quiet_ms: list[int]
