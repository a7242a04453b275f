"""Loading what edits, rules and Assemblies may know of a recording: what is said, what is seen, and the catalogue."""

from collections import OrderedDict
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import TypeVar

from nimble_quote.core.assembly import Assembly, assemble
from nimble_quote.core.captions.styles import Face
from nimble_quote.core.catalogue import Catalogue
from nimble_quote.core.context import Context, Sight
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.edits import EditRefused
from nimble_quote.core.plain import PLAIN, plain_cut
from nimble_quote.core.talk import LEVEL_MS, Levels, Talk
from nimble_quote.core.timebase import Span
from nimble_quote.formats.languages import language
from nimble_quote.lettering.shaping import Faces
from nimble_quote.media.files import MediaRoot
from nimble_quote.store import pictures, quotes, recordings, styles, things, transcripts
from nimble_quote.store.catalogue import Catalogues
from nimble_quote.store.database import Connection
from nimble_quote.store.recordings import RecordingRow
from nimble_quote.store.transcripts import SentenceRow

MARGIN_MS = 10 * 60_000
"""How far beyond a quote its words are loaded: no single edit reaches further."""
SIGHT_MARGIN_MS = 15_000
"""The same for what is seen: framing looks only at the cut."""
_SIGHT_STEP_MS = 60_000
_STEP_MS = 5 * 60_000
"""Stretches begin and end on multiples of this, so that a moved edge rarely asks for another."""
_KEPT = 16
Key = tuple[object, ...]
T = TypeVar("T")


@dataclass
class Contexts:
    """The stretches of talks asked for last: quotes are looked at again and again while they are worked on."""

    media: MediaRoot
    fonts: Path
    catalogues: Catalogues = field(default_factory=Catalogues)
    _talks: "OrderedDict[Key, Talk]" = field(default_factory=OrderedDict)
    _sights: "OrderedDict[Key, Sight]" = field(default_factory=OrderedDict)
    _letters: tuple[tuple[Face, ...], Faces] | None = field(default=None)

    async def around(self, conn: Connection, recording: RecordingRow, span: Span) -> Context:
        """The words, waveform and faces near a quote, enough for its edits and for what is made of it."""
        start = max(0, span.start_ms - MARGIN_MS) // _STEP_MS * _STEP_MS
        reach = Span(start_ms=start, end_ms=-(-(span.end_ms + MARGIN_MS) // _STEP_MS) * _STEP_MS)
        key = (
            recording.id,
            recording.words_version,
            recording.language,
            recording.sound_track,
            reach.start_ms,
            reach.end_ms,
            recording.peaks,
        )
        talk = _kept(self._talks, key)
        if talk is None:
            rows = await transcripts.sentences_in(conn, recording.id, reach)
            talk = _keep(self._talks, key, _talk(recording, rows, self.media))
        return await self._with(conn, recording, talk, span)

    async def of_words(self, conn: Connection, recording: RecordingRow, *chosen: int) -> Context:
        """The sentences that words are chosen from by the first and last of them, with one more at either side.

        Raises `EditRefused` where the recording does not have the words.
        """
        first, last = sorted(chosen)
        rows = await transcripts.sentences_between(conn, recording.id, first, last, beside=1)
        if not rows:
            raise EditRefused("Those words are not in this recording.")
        near = Span(start_ms=rows[0].starts_ms[0], end_ms=max(rows[-1].ends_ms[-1], rows[0].starts_ms[0] + 1))
        return await self._with(conn, recording, _talk(recording, rows, self.media), near)

    async def _with(self, conn: Connection, recording: RecordingRow, talk: Talk, span: Span) -> Context:
        start = max(0, span.start_ms - SIGHT_MARGIN_MS) // _SIGHT_STEP_MS * _SIGHT_STEP_MS
        near = Span(start_ms=start, end_ms=-(-(span.end_ms + SIGHT_MARGIN_MS) // _SIGHT_STEP_MS) * _SIGHT_STEP_MS)
        key = recording.id, recording.picture_version, near.start_ms, near.end_ms
        sight = _kept(self._sights, key)
        if sight is None:
            size = recording.width, recording.height
            sight = _keep(self._sights, key, await _sight_in(conn, recording.id, size, near))
        catalogue = await self.catalogues.now(conn)
        return Context(talk=talk, sight=sight, catalogue=catalogue, lettering=await self.lettering(conn, catalogue))

    async def lettering(self, conn: Connection, catalogue: Catalogue) -> Faces:
        """The faces of a catalogue, those of the house's own among them: their files are put where renderers find them."""
        if self._letters is None or self._letters[0] != catalogue.faces:
            own = self.media.folder / "faces"
            own.mkdir(exist_ok=True)
            for face in catalogue.faces:
                if face.own and not (own / face.file).exists():
                    (own / f"{face.file}.part").write_bytes(await styles.face(conn, face.file))
                    (own / f"{face.file}.part").rename(own / face.file)
            self._letters = catalogue.faces, Faces((self.fonts, own), {one.name: one.file for one in catalogue.faces})
        return self._letters[1]

    async def lettering_now(self, conn: Connection) -> Faces:
        """The faces of the catalogue as it is now."""
        return await self.lettering(conn, await self.catalogues.now(conn))

    async def assembly_of(self, conn: Connection, quote_id: int, revision: int, destination: str) -> Assembly:
        """A revision of a quote resolved for a destination, or plain. Raises `NotFound`."""
        return (await self.for_export(conn, quote_id, revision, destination))[0]

    async def for_export(
        self, conn: Connection, quote_id: int, revision: int, destination: str
    ) -> tuple[Assembly, Context, QuoteDocument]:
        """A revision of a quote resolved for a destination, or plain, with the words and faces as they are now. Raises `NotFound`."""
        quote = await quotes.one(conn, quote_id)
        document = await quotes.document_at(conn, quote_id, revision)
        recording = await recordings.one(conn, quote.recording_id)
        context = await self.around(conn, recording, document.span)
        if destination == PLAIN:
            return plain_cut(document, context, recording.facts), context, document
        return (
            assemble(document, context, recording.facts, context.catalogue.destination(destination)),
            context,
            document,
        )


async def _sight_in(conn: Connection, recording_id: int, size: tuple[int, int], span: Span) -> Sight:
    """What is seen in a stretch of a recording: its faces, and what a person had followed."""
    sight = await pictures.sight_in(conn, recording_id, size, span)
    followed = await things.tracks_in(conn, recording_id, span)
    if not followed:
        return sight
    named = await things.names(conn, recording_id)
    return replace(sight, tracks=[*sight.tracks, *followed], names={**sight.names, **named})


def _kept(kept: "OrderedDict[Key, T]", key: Key) -> T | None:
    if key in kept:
        kept.move_to_end(key)
    return kept.get(key)


def _keep(kept: "OrderedDict[Key, T]", key: Key, value: T) -> T:
    kept[key] = value
    while len(kept) > _KEPT:
        kept.popitem(last=False)
    return value


async def talk_to_read(conn: Connection, recording: RecordingRow, span: Span) -> Talk:
    """The sentences that a quote reaches into: enough to list it and to read it."""
    rows = await transcripts.sentences_in(conn, recording.id, span)
    return Talk(
        words=transcripts.words_of(rows), sentences=transcripts.bounds_of(rows), duration_ms=recording.duration_ms
    )


async def talks_to_read(conn: Connection, wanted: Sequence[tuple[RecordingRow, Span]]) -> list[Talk]:
    """The same for many quotes, with one query."""
    rows = await transcripts.sentences_of_spans(conn, [(recording.id, span) for recording, span in wanted])
    return [
        Talk(words=transcripts.words_of(one), sentences=transcripts.bounds_of(one), duration_ms=recording.duration_ms)
        for (recording, _), one in zip(wanted, rows, strict=True)
    ]


def _talk(recording: RecordingRow, rows: Sequence[SentenceRow], media: MediaRoot) -> Talk:
    words = transcripts.words_of(rows)
    return Talk(
        words=words,
        sentences=transcripts.bounds_of(rows),
        duration_ms=recording.duration_ms,
        levels=_levels(media, recording.peaks, words[0].start_ms, words[-1].end_ms) if words else Levels(),
        language=language(recording.language),
    )


def _levels(media: MediaRoot, peaks: str | None, start_ms: int, end_ms: int) -> Levels:
    """The waveform of a stretch, and of a little beyond; none where the recording has not been listened to."""
    if peaks is None:
        return Levels()
    first = max(0, start_ms // LEVEL_MS - 100)
    try:
        return Levels(
            from_ms=first * LEVEL_MS, values=media.store.read(peaks, first, max(0, end_ms // LEVEL_MS + 300 - first))
        )
    except FileNotFoundError:
        # Somebody took it away from the disk: the words can still be cut.
        return Levels()
