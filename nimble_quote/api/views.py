"""What the API answers with: models made for the screens, from rows and the core."""

from datetime import date, datetime
from typing import Literal

from pydantic import BaseModel

from nimble_quote.core.assembly import Assembly
from nimble_quote.core.captions.styles import CaptionStyle, Face
from nimble_quote.core.cutting.fairness import Unfair
from nimble_quote.core.cutting.pauses import Pause
from nimble_quote.core.cutting.plans import FitPlan
from nimble_quote.core.cutting.reading import Join
from nimble_quote.core.destinations import Destination, Gauge
from nimble_quote.core.document import Backdrop, Colour, QuoteDocument
from nimble_quote.core.preflight import FileFacts, Finding
from nimble_quote.core.soundbites.finder import Soundbite
from nimble_quote.core.soundbites.taste import Verdict
from nimble_quote.core.timebase import Span
from nimble_quote.core.transcript.corrections import Place
from nimble_quote.formats.shortlist import SlipMark

WorkState = Literal["queued", "running", "done", "failed", "stopped"]
ExportState = Literal["queued", "running", "done", "failed", "cancelled"]


class CatalogueView(BaseModel):
    """What a house can choose from, and what could be chosen before, in the order it is offered."""

    version: int
    destinations: list[Destination]
    styles: list[CaptionStyle]
    faces: list[Face]
    soft_below: float


class QuoteBrief(BaseModel):
    """A quote as lists and the map show it; `made` once a clip was made of it."""

    id: int
    recording_id: int
    title: str
    span: Span
    length_ms: int
    text: str
    destinations: list[str]
    made: bool


class QuotePlace(BaseModel):
    """Where a quote was taken; `made` once a clip was made of it."""

    id: int
    title: str
    span: Span
    made: bool


class WorkView(BaseModel):
    """Long work on a recording; `about` is the address of what is fetched."""

    id: int
    recording_id: int | None
    kind: Literal["prepare", "align", "transcribe", "fetch"]
    state: WorkState
    stage: str
    progress: float
    time_left_s: float | None
    problem: str | None
    about: str


class SoundTrackView(BaseModel):
    """One of the sound tracks of a recording."""

    codec: str
    channels: int
    language: str | None
    title: str | None


class RecordingBase(BaseModel):
    """A recording: its facts, what a person tells of it, and the newest work of each kind on it."""

    id: int
    title: str
    series: str | None
    held_on: date | None
    notes: str
    file_name: str
    duration_ms: int
    width: int
    height: int
    rate: float
    rate_num: int
    rate_den: int
    video_codec: str | None
    audio_codec: str | None
    sound_tracks: list[SoundTrackView]
    sound_track: int
    loudness_lufs: float | None
    size_bytes: int
    transcript_notes: list[str]
    transcript_origin: Literal["file", "recogniser", "service"] | None
    words: int
    speakers: list[str]
    work: list[WorkView]
    removed_at: datetime | None
    created_at: datetime


class ShelfRecording(RecordingBase):
    """A recording in the list."""

    quotes: list[QuotePlace]


class RecordingView(RecordingBase):
    """A recording by itself."""

    quotes: list[QuoteBrief]


class GoesWith(BaseModel):
    """What goes with a removed recording, and for how many days it can be put back."""

    quotes: int
    clips: int
    days: int


class UploadView(BaseModel):
    """An upload that is not whole; `fingerprint` is what the browser knows its file by."""

    id: str
    name: str
    length: int
    offset: int
    fingerprint: str


class SentenceView(BaseModel):
    """A sentence, its words side by side with their times.

    `timing` has a letter a word: `g` given by the file, `a` aligned to the sound, `e` estimated. `sure` is how sure the
    recogniser was, in percent; `heard` what stood there before a person corrected it (empty for a word put in addition).
    """

    speaker: str | None
    words: list[str]
    starts_ms: list[int]
    ends_ms: list[int]
    timing: str
    sure: list[int | None] | None
    heard: list[str | None] | None


class SpeakerView(BaseModel):
    """A speaker and the number of their colour."""

    name: str
    colour: int


class TranscriptView(BaseModel):
    """A whole talk."""

    revision: int
    undo_said: str | None
    redo_said: str | None
    sentences: list[SentenceView]
    speakers: list[SpeakerView]


class SentencesChanged(BaseModel):
    """At sentence `at`, so many `removed` gave way to those `added`."""

    at: int
    removed: int
    added: list[SentenceView]


class CorrectedView(BaseModel):
    """What a correction changed; the pieces are to be applied from the last."""

    revision: int
    undo_said: str | None
    redo_said: str | None
    pieces: list[SentencesChanged]
    speakers: list[SpeakerView]


class NameView(BaseModel):
    """A place that sounds like a name of the house."""

    name: str
    place: Place


class ShotView(BaseModel):
    """A stretch between two cuts; `by_hand` where a person set the cut that it begins with."""

    span: Span
    by_hand: bool


class SuddenChange(BaseModel):
    """A sudden change that was found in the picture."""

    at_ms: int
    kind: str


class SeenTrack(BaseModel):
    """A face through a shot: the number of its subject, and its place in the middle of the time, in fractions."""

    subject: int
    start_ms: int
    end_ms: int
    x: float
    y: float
    width: float
    height: float
    turn: float


class PictureView(BaseModel):
    """What was seen in a recording."""

    shots: list[ShotView]
    changes: list[SuddenChange]
    tracks: list[SeenTrack]


class Mark(BaseModel):
    """A half-open range of a sentence's words."""

    first: int
    end: int


class SpokenLine(BaseModel):
    """A sentence of a passage."""

    speaker: str | None
    words: list[str]


class PassageView(BaseModel):
    """A run of whole sentences that answers a search: it can be played, opened and kept.

    `marks` are counted from its first word; `missing` are parts of the search that it does not have; `also` are
    passages of other talks that tell the same story.
    """

    recording_id: int
    title: str
    series: str | None
    held_on: date | None
    lines: list[SpokenLine]
    marks: list[Mark]
    first_word: int
    last_word: int
    start_ms: int
    end_ms: int
    length_ms: int
    fits: str
    missing: list[str]
    quotes: list[QuotePlace]
    also: list["PassageView"]


class Asked(BaseModel):
    """A search as it was understood: the words without the filters, and each filter."""

    bare: str
    by: str | None
    series: str | None
    after: str | None
    before: str | None
    used: bool | None
    wide: bool


class SearchView(BaseModel):
    """What a search found in all talks, and what is to be said of it. `more`: there are others, not shown."""

    asked: Asked
    passages: list[PassageView]
    notes: list[str]
    more: bool


class MarkedWords(BaseModel):
    """Words of a talk that answer a search, first and last included."""

    first: int
    last: int
    start_ms: int


class TalkMarks(BaseModel):
    """What a search found in one talk, in order of time, and what is to be said of it."""

    marks: list[MarkedWords]
    notes: list[str]


class SearchChoices(BaseModel):
    """What searches can be narrowed to, and those kept."""

    speakers: list[str]
    series: list[str]
    saved: list[str]
    recent: list[str]


class Selection(BaseModel):
    """Words chosen on the page, first and last included."""

    first: int
    last: int


class SelectionView(BaseModel):
    """What a selection would be as a quote."""

    span: Span
    length_ms: int
    gauges: list[Gauge]


class SoundbiteView(Soundbite):
    """A soundbite that is offered, the quotes that are taken there already, and the quote that it was just kept as."""

    overlaps: list[QuotePlace]
    kept: QuoteBrief | None


class Decided(BaseModel):
    """A soundbite that was parked or not liked."""

    bite: SoundbiteView
    verdict: Verdict


class TopicView(BaseModel):
    """A stretch of a talk that is about one thing, and the words it has more than the rest."""

    first_word: int
    span: Span
    phrases: list[str]


class TasteShift(BaseModel):
    """How many times as much a feature counts for this house as it did when it began."""

    feature: str
    times: float


class TasteView(BaseModel):
    """What the finder learned from how many choices."""

    choices: int
    shifts: list[TasteShift]


class OfferView(BaseModel):
    """The soundbites of a talk, best first, those passed over before, and its topics. `gap`: see `Offer`."""

    soundbites: list[SoundbiteView]
    passed: list[Decided]
    topics: list[TopicView]
    gap: float
    taste: TasteView


class ApprovalView(BaseModel):
    """What a speaker was asked, and answered."""

    id: int
    revision: int
    created_at: datetime
    expires_at: datetime
    open: bool
    answer: Literal["approved", "change wanted"] | None
    answered_by: str | None
    note: str | None
    answered_at: datetime | None
    stale: bool
    """The quote was changed since it was asked."""


class SlipView(QuoteBrief):
    """A quote on the shortlist: its words by sentence, and what a person says of it."""

    recording_title: str
    series: str | None
    held_on: date | None
    has_picture: bool
    mark: SlipMark
    tags: list[str]
    note: str
    lines: list[SpokenLine]
    speakers: list[str]
    gauges: list[Gauge]
    approval: ApprovalView | None
    """What the speaker was asked last."""


class ShortlistView(BaseModel):
    """Quotes in their order."""

    title: str
    slips: list[SlipView]


class ComparedQuote(BaseModel):
    """A quote beside another: `shared` are the places of words that the other has too."""

    quote_id: int
    lines: list[SpokenLine]
    shared: list[int]


class ReadBack(BaseModel):
    """What a table changes, and what of it could not be read."""

    changes: list[str]
    problems: list[str]


class WeekPost(BaseModel):
    """A quote to post, where, why, and the quotes it could be swapped for."""

    quote_id: int
    destination: str
    reason: str
    instead: list[int]


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
    """How the picture of a version is treated: where its first camera rests, what is behind, where captions stand. `alone`:
    otherwise than its shape; `shares` are the names of the other versions of its shape."""

    layout: Literal["fill", "fit", "tiles"]
    x: float
    y: float
    zoom: float
    backdrop: Backdrop
    colour: Colour
    caption_height: float
    alone: bool
    shares: list[str]


class VersionView(BaseModel):
    """A version resolved: what it is, its captions as a script, what is unfair about its cut, and all that is wrong
    with it."""

    destination: str
    treated: TreatedView
    assembly: Assembly
    script: str
    unfair: list[UnfairView]
    findings: list[Finding]


class ResolvedView(BaseModel):
    """The versions of a quote as they were resolved at a revision."""

    revision: int
    versions: list[VersionView]


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
    redo_said: str | None
    part_of: int | None
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


class AskedApproval(BaseModel):
    """The address of a page that was made for a speaker. It is shown once and not kept."""

    address: str
    approvals: list[ApprovalView]


class LoupeView(BaseModel):
    """A stretch of sound seen closely: the loudest sample of each `step_ms`, 0..255 on a square-root scale, and the
    moments where it is quietest."""

    from_ms: int
    step_ms: int
    peaks: list[int]
    quiet_ms: list[int]


class ExportedFor(BaseModel):
    """The destination of an export, as it was when it was asked for."""

    id: str
    name: str
    width: int
    height: int
    limit_ms: int
    largest_mb: int


class ExportView(BaseModel):
    """An export in the outbox."""

    id: int
    quote_id: int
    quote_title: str
    recording_id: int
    recording_title: str
    destination: ExportedFor
    state: ExportState
    progress: float
    time_left_s: float | None
    planned_ms: float
    planned_frames: int
    facts: FileFacts | None
    findings: list[Finding]
    file_name: str
    problem: str | None
    created_at: datetime
