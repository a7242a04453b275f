"""Transcripts and corrections of them, as the API tells them."""

from pydantic import BaseModel

from nimble_quote.core.transcript.corrections import Occurrence


class SentenceView(BaseModel):
    """A sentence, its words side by side with their times.

    `timing` has a letter a word: `g` given by the file, `a` aligned to the sound, `e` estimated. `sure` is how sure the
    recogniser was, in percent; `heard` what stood there before a person corrected it (empty for a word put in addition).
    `doubtful_end`: no mark tells that it ends there.
    """

    speaker: str | None
    words: list[str]
    starts_ms: list[int]
    ends_ms: list[int]
    timing: str
    sure: list[int | None] | None
    heard: list[str | None] | None
    doubtful_end: bool


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
    place: Occurrence
