"""The captions of a quote besides its edits: how well they can be read, where a text occurs, what is spelt oddly, and files of
captions that are brought in or taken away."""

import asyncio
from typing import Annotated
from urllib.parse import quote as quoted

from fastapi import APIRouter, Query, Request, Response
from pydantic import BaseModel

from nimble_quote.api.bodies import whole_body
from nimble_quote.api.contrasts import measured
from nimble_quote.api.numbers import RowId
from nimble_quote.api.routes.house import ANY_BODY
from nimble_quote.api.routes.outbox import CaptionKind
from nimble_quote.api.state import TheConnection, TheServer, loaded
from nimble_quote.core.assembly import assemble
from nimble_quote.core.assembly.captions import caption_words, translation_of
from nimble_quote.core.captions.cues import Cue, WrittenCue
from nimble_quote.core.captions.replacing import occurrences
from nimble_quote.core.captions.spelling import misspelt
from nimble_quote.core.captions.taking import FileCue, Taken, taken_by_times, taken_by_words
from nimble_quote.core.captions.words import shown_text
from nimble_quote.core.cutting.kept import kept_words
from nimble_quote.core.cutting.playing import played_in
from nimble_quote.core.document.looks import LanguageCode
from nimble_quote.core.edits import EditRefused, TakeCaptions, TakeTranslation
from nimble_quote.core.edits.captions import TranslatedWords
from nimble_quote.core.edits.taking import CueTaken
from nimble_quote.core.finding import Finding
from nimble_quote.formats.sidecar import MEDIA_TYPES, WRITERS, WrittenCaptions
from nimble_quote.formats.spoken import name_of
from nimble_quote.formats.transcripts import LARGEST_BYTES, read_transcript
from nimble_quote.formats.word_lists import word_list
from nimble_quote.media.files import download_name
from nimble_quote.store import transcripts

router = APIRouter(prefix="/api")


class CueContrast(BaseModel):
    """How well a cue can be told from the picture: its contrast (to 1), and the frame of the output where it is worst."""

    first_frame: int
    contrast: float
    worst_frame: int
    doubtful: bool
    """Whether it is less than text should have."""


class VersionContrast(BaseModel):
    """The contrast of the cues of a version, and what is wrong with it."""

    destination: str
    cues: list[CueContrast]
    findings: list[Finding]


class ContrastView(BaseModel):
    """The contrast of a quote's captions at a revision."""

    revision: int
    versions: list[VersionContrast]


class OccurrenceView(BaseModel):
    """A place where captions say a text: its words, and what stands around it."""

    first: int
    last: int
    before: str
    said: str
    after: str


@router.get("/quotes/{quote_id}/contrast")
async def get_contrast(quote_id: RowId, server: TheServer) -> ContrastView:
    """How well the captions of each version can be told from what is behind them. Empty without a picture."""
    async with server.connection() as conn:
        quote, recording, context = await loaded(conn, server, quote_id)
    if not recording.facts.has_picture or not recording.plays:
        return ContrastView(revision=quote.revision, versions=[])
    pictures = await server.contrasts.pictures(recording, quote.document.span)
    out = []
    for version in quote.document.versions:
        one = await asyncio.to_thread(measured, quote.document, recording, context, version.destination, pictures)
        cues = [
            CueContrast(
                first_frame=frame,
                contrast=round(found.contrast, 2),
                worst_frame=found.worst_frame,
                doubtful=found.doubtful,
            )
            for frame, found in sorted(one.found.items())
        ]
        out.append(VersionContrast(destination=version.destination, cues=cues, findings=one.findings))
    return ContrastView(revision=quote.revision, versions=out)


_BESIDE = 5
"""So many words are shown before and after a text that is found."""


@router.get("/quotes/{quote_id}/captions/find")
async def find_in_captions(
    quote_id: RowId, text: str, conn: TheConnection, server: TheServer, match_case: bool = False
) -> list[OccurrenceView]:
    """Where the captions of a quote say a text."""
    quote, _, context = await loaded(conn, server, quote_id)
    words = kept_words(quote.document, context.talk)
    corrections = quote.document.captions.corrections
    mapped = {one.word: one.text for one in corrections}
    shown = [(word.index, shown_text(word, mapped)) for word in words]

    def told(low: int, high: int) -> str:
        return " ".join(said for index, said in shown if low <= index <= high and said)

    return [
        OccurrenceView(
            first=one.first, last=one.last, said=told(one.first, one.last), before=told(one.first - _BESIDE, one.first - 1),
            after=told(one.last + 1, one.last + _BESIDE),
        )
        for one in occurrences(words, corrections, text[:200], match_case=match_case)
    ]  # fmt: skip


class MisspeltView(BaseModel):
    """A word that no list knows: which it is, how it is written, and what may be meant."""

    word: int
    text: str
    meant: list[str]


class SpellingView(BaseModel):
    """The words of captions that are spelt oddly. `checked`: whether there is a word list of the language; else nothing is known."""

    checked: bool
    language: str
    words: list[MisspeltView]


@router.get("/quotes/{quote_id}/captions/spelling")
async def check_spelling(quote_id: RowId, conn: TheConnection, server: TheServer) -> SpellingView:
    """The words that the captions of a quote spell oddly, by an open word list and the names of the house."""
    quote, _, context = await loaded(conn, server, quote_id)
    names = [*(await transcripts.names(conn)), *(one.speaker for one in context.talk.sentences if one.speaker)]
    listed = word_list(context.talk.language.code)
    if listed is None:
        return SpellingView(checked=False, language=name_of(context.talk.language.code), words=[])
    words = kept_words(quote.document, context.talk)
    mapped = {one.word: one.text for one in quote.document.captions.corrections}
    found = await asyncio.to_thread(misspelt, [shown_text(word, mapped) for word in words], listed, names)
    return SpellingView(
        checked=True, language=name_of(context.talk.language.code),
        words=[MisspeltView(word=words[one.place].index, text=one.text, meant=list(one.meant)) for one in found[:200]],
    )  # fmt: skip


class CaptionsRead(BaseModel):
    """A file of captions matched to a quote: the edit that takes it, how many of its cues were matched, and the texts of those that
    were not."""

    edit: TakeCaptions | TakeTranslation | None
    matched: int
    left: list[str]


@router.post("/quotes/{quote_id}/captions/read", openapi_extra=ANY_BODY)
async def read_captions(
    quote_id: RowId,
    name: Annotated[str, Query(min_length=1, max_length=300)],
    request: Request,
    server: TheServer,
    language: LanguageCode | None = None,
) -> CaptionsRead:
    """Reads a file of captions (as the body) and matches it to the words of a quote: by what it says, or, as a translation into a
    language, by when it shows. Nothing is changed by it."""
    sent = await whole_body(request, LARGEST_BYTES)
    async with server.connection() as conn:
        quote, _, context = await loaded(conn, server, quote_id)
    reading = await asyncio.to_thread(read_transcript, name, sent)
    cues = [
        FileCue(text=" ".join(token.text for token in one.tokens), start_ms=one.start_ms, end_ms=one.end_ms)
        for one in reading.cues
    ]
    words = [one for one in caption_words(quote.document, context.talk, played_in(quote.document)) if one.text]
    if language is None:
        taken = await asyncio.to_thread(taken_by_words, cues, words)
    else:
        taken = taken_by_times(cues, words, quote.document.span.start_ms)
    return CaptionsRead(edit=_edit_of(taken, language), matched=len(taken.cues), left=list(taken.left)[:50])


def _edit_of(taken: Taken, language: str | None) -> TakeCaptions | TakeTranslation | None:
    if not taken.cues:
        return None
    if language is not None:
        texts = tuple(TranslatedWords(first=one.first, last=one.last, text=one.text[:1000]) for one in taken.cues)
        return TakeTranslation(language=language, texts=texts)
    return TakeCaptions(
        cues=tuple(
            CueTaken(
                first=one.first,
                last=one.last,
                text=one.text[:1000],
                shift_in_ms=one.shift_in,
                shift_out_ms=one.shift_out,
            )
            for one in taken.cues
        )
    )


@router.get("/quotes/{quote_id}/captions.{kind}", response_class=Response)
async def get_caption_file(
    quote_id: RowId,
    kind: CaptionKind,
    destination: str,
    conn: TheConnection,
    server: TheServer,
    translated: bool = False,
) -> Response:
    """The captions of a version as a file, or those of its translation."""
    quote, recording, context = await loaded(conn, server, quote_id)
    if quote.document.version(destination) is None:
        raise EditRefused("This quote has no version for that destination.")
    place = context.catalogue.destination(destination)
    document = quote.document
    shown = document.captions.model_copy(
        update={"shown": True, "translation_shown": "instead" if translated else "none"}
    )
    assembly = assemble(document.model_copy(update={"captions": shown}), context, recording.facts, place)
    (track,) = assembly.cue_tracks
    translation = translation_of(document) if translated else None
    cues = [WrittenCue.of(cue) for cue in track.cues if _says(cue, translated)]
    captions = WrittenCaptions(
        cues=cues, rate=assembly.rate, look=track.look, height=track.height, size=place.size,
        language=translation.language if translation else track.language,
    )  # fmt: skip
    file = download_name(recording.title, document.title, place.name, ending=f".{kind}")
    return Response(
        WRITERS[kind](captions).encode(),
        media_type=MEDIA_TYPES[kind],
        headers={"content-disposition": f"attachment; filename*=utf-8''{quoted(file)}"},
    )


def _says(cue: Cue, translated: bool) -> bool:
    return bool(cue.instead) or not translated
