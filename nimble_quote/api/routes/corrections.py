"""The words of a recording: reading them, correcting them, and taking them away as a file."""

import asyncio
import json
from collections.abc import Awaitable, Callable
from typing import Literal

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field

from nimble_quote.api.numbers import Revision, RowId
from nimble_quote.api.state import TheConnection
from nimble_quote.api.views.transcripts import (
    CorrectedView,
    NameView,
    SentencesChanged,
    SentenceView,
    SpeakerView,
    TranscriptView,
)
from nimble_quote.core.transcript.corrections import Correction, Name, Occurrence, correct, find_occurrences
from nimble_quote.core.transcript.document import (
    Piece,
    SpokenSentence,
    SpokenWord,
    Transcript,
    pieces_between,
    timed_sentences,
)
from nimble_quote.core.transcript.names import suggest_names
from nimble_quote.core.transcript.sentences import ends_by_mark
from nimble_quote.formats.written import TRANSCRIPT_WRITERS, Written
from nimble_quote.media.files import download_name
from nimble_quote.store import recordings, transcripts
from nimble_quote.store.database import Connection
from nimble_quote.store.transcripts import StaleTranscript, TranscriptHead

router = APIRouter(prefix="/api")

_TYPES = {"srt": "application/x-subrip", "vtt": "text/vtt", "ttml": "application/ttml+xml", "json": "application/json"}


class CorrectionOn(BaseModel):
    """A correction, and the revision of the transcript that it was made on."""

    on_revision: Revision
    correction: Correction


class Turn(BaseModel):
    """Undoing or redoing, on a revision."""

    on_revision: Revision


class HouseName(BaseModel):
    """A name as this house spells it."""

    name: Name = Field(description="One to four words.")


@router.get("/recordings/{recording_id}/transcript", response_model=TranscriptView)
async def get_transcript(recording_id: RowId, conn: TheConnection) -> Response:
    """The words of a recording."""
    head = await transcripts.head(conn, recording_id)
    told = {
        "revision": head.revision,
        "undo_said": head.undo_said,
        "redo_said": head.redo_said,
        "speakers": [one.model_dump() for one in _speakers(await transcripts.colours(conn, recording_id))],
    }
    sentences = await transcripts.whole_as_json(conn, recording_id)
    return Response(f'{json.dumps(told)[:-1]}, "sentences": {sentences}}}', media_type="application/json")


@router.post("/recordings/{recording_id}/corrections")
async def make_correction(recording_id: RowId, wanted: CorrectionOn, conn: TheConnection) -> CorrectedView:
    """Corrects the words of a recording, or says who speaks them."""
    head = await _on(conn, recording_id, wanted.on_revision)
    before = await transcripts.load(conn, recording_id)
    after, said = correct(before, wanted.correction)
    await transcripts.revise(conn, recording_id, head.revision, before, after, said)
    return await _corrected(conn, recording_id, pieces_between(before, after), after)


@router.post("/recordings/{recording_id}/corrections/undo")
async def undo_correction(recording_id: RowId, turn: Turn, conn: TheConnection) -> CorrectedView:
    """Takes the last correction back."""
    return await _turned(conn, recording_id, turn, transcripts.undo)


@router.post("/recordings/{recording_id}/corrections/redo")
async def redo_correction(recording_id: RowId, turn: Turn, conn: TheConnection) -> CorrectedView:
    """Makes a correction again that was taken back."""
    return await _turned(conn, recording_id, turn, transcripts.redo)


@router.get("/recordings/{recording_id}/places")
async def list_places(recording_id: RowId, find: str, conn: TheConnection) -> list[Occurrence]:
    """Every place where some words are said."""
    return find_occurrences(await transcripts.load(conn, recording_id), find[:200])


@router.get("/recordings/{recording_id}/name-suggestions")
async def list_name_suggestions(recording_id: RowId, conn: TheConnection) -> list[NameView]:
    """Places that sound like a name of the house, but are written otherwise."""
    transcript, names = await transcripts.load(conn, recording_id), await transcripts.names(conn)
    found = await asyncio.to_thread(suggest_names, transcript, names)
    return [NameView(name=one.name, place=one.place) for one in found]


@router.get("/names")
async def list_names(conn: TheConnection) -> list[str]:
    """The names of the house."""
    return await transcripts.names(conn)


@router.post("/names")
async def add_name(wanted: HouseName, conn: TheConnection) -> list[str]:
    """Adds a name to those of the house."""
    await transcripts.add_name(conn, " ".join(wanted.name.replace("\x00", "").split()))
    return await transcripts.names(conn)


@router.post("/names/drop")
async def drop_name(wanted: HouseName, conn: TheConnection) -> list[str]:
    """Takes a name off those of the house."""
    await transcripts.drop_name(conn, wanted.name)
    return await transcripts.names(conn)


@router.get("/recordings/{recording_id}/transcript.{kind}", response_class=Response)
async def write_transcript(
    recording_id: RowId, kind: Literal["srt", "vtt", "ttml", "json", "txt"], conn: TheConnection
) -> Response:
    """The transcript as a file."""
    row = await recordings.one(conn, recording_id)
    transcript = await transcripts.load(conn, recording_id)
    text = TRANSCRIPT_WRITERS[kind](Written(title=row.title, sentences=timed_sentences(transcript)))
    name = download_name(row.title, ending=f".{kind}").encode("ascii", "replace").decode().replace('"', "'")
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(text, media_type=f"{_TYPES.get(kind, 'text/plain')}; charset=utf-8", headers=headers)


async def _on(conn: Connection, recording_id: int, revision: int) -> TranscriptHead:
    head = await transcripts.head(conn, recording_id, lock=True)
    if head.revision != revision:
        raise StaleTranscript()
    return head


async def _turned(
    conn: Connection, recording_id: int, turn: Turn, step: Callable[[Connection, int], Awaitable[None]]
) -> CorrectedView:
    await _on(conn, recording_id, turn.on_revision)
    before = await transcripts.load(conn, recording_id)
    await step(conn, recording_id)
    after = await transcripts.load(conn, recording_id)
    return await _corrected(conn, recording_id, pieces_between(before, after), after)


async def _corrected(conn: Connection, recording_id: int, pieces: list[Piece], after: Transcript) -> CorrectedView:
    head = await transcripts.head(conn, recording_id)
    return CorrectedView(
        revision=head.revision,
        undo_said=head.undo_said,
        redo_said=head.redo_said,
        pieces=[
            SentencesChanged(at=piece.at, removed=len(piece.removed), added=[_view(one) for one in piece.added])
            for piece in pieces
        ],
        speakers=_speakers(after.colours),
    )


def _speakers(colours: dict[str, int]) -> list[SpeakerView]:
    return [SpeakerView(name=name, colour=colour) for name, colour in colours.items()]


def _view(sentence: SpokenSentence) -> SentenceView:
    words: tuple[SpokenWord, ...] = sentence.words
    return SentenceView(
        speaker=sentence.speaker,
        words=[word.text for word in words],
        starts_ms=[word.start_ms for word in words],
        ends_ms=[word.end_ms for word in words],
        timing="".join(word.timing for word in words),
        sure=[word.sure for word in words] if any(word.sure is not None for word in words) else None,
        heard=[word.heard for word in words] if any(word.heard is not None for word in words) else None,
        doubtful_end=not ends_by_mark(words[-1].text),
    )
