"""Quotes read for lists: their words and length, kept while neither they nor their words change."""

from collections import OrderedDict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from nimble_quote.api.views.quotes import QuoteBrief, SpokenLine
from nimble_quote.core.assembly import cut_ms
from nimble_quote.core.cutting.kept import kept_words, text_of
from nimble_quote.core.document import Overlay, QuoteDocument
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span
from nimble_quote.core.transcript.words import Word
from nimble_quote.store import quotes, recordings
from nimble_quote.store.contexts import talks_to_read
from nimble_quote.store.database import Connection
from nimble_quote.store.quotes import QuoteRow
from nimble_quote.store.recordings import RecordingRow
from nimble_quote.store.shortlist import SlipRow

_KEPT = 5000
_MOST_TEXT = 400


@dataclass(frozen=True, kw_only=True)
class Finishing:
    """What of a quote says how it is finished, which the catalogue makes something of."""

    overlays: tuple[Overlay, ...]
    finish: str | None
    finish_held: int | None


@dataclass(frozen=True, kw_only=True)
class Reading:
    """A revision of a quote with its words: what lists show of it."""

    title: str
    span: Span
    length_ms: int
    """Of the cut, without an end card."""
    finished: Finishing
    text: str
    destinations: list[str]
    lines: list[SpokenLine]
    speakers: list[str]


@dataclass
class Readings:
    """The readings asked for last."""

    _kept: OrderedDict[tuple[int, int, int], Reading] = field(default_factory=OrderedDict)

    async def of(self, conn: Connection, rows: Sequence[SlipRow]) -> list[Reading]:
        """The readings of some quotes. Those that are not known are read together, with three queries."""
        missing = [row for row in rows if _key(row) not in self._kept]
        if missing:
            self._kept.update(await _read(conn, missing))
        found = []
        for row in rows:
            self._kept.move_to_end(_key(row))
            found.append(self._kept[_key(row)])
        while len(self._kept) > _KEPT:
            self._kept.popitem(last=False)
        return found


def _key(row: SlipRow) -> tuple[int, int, int]:
    return row.quote_id, row.revision, row.words_version


async def _read(conn: Connection, rows: Sequence[SlipRow]) -> Mapping[tuple[int, int, int], Reading]:
    # Of just these revisions, whatever the quotes are at by now: what is kept of one must be true when it is undone to.
    documents = await quotes.documents_at(conn, [(row.quote_id, row.revision) for row in rows])
    of = await recordings.many(conn, sorted({row.recording_id for row in rows}))
    talks = await talks_to_read(
        conn, [(of[row.recording_id], document.span) for row, document in zip(rows, documents, strict=True)]
    )
    return {
        _key(row): reading_of(document, of[row.recording_id], talk)
        for row, document, talk in zip(rows, documents, talks, strict=True)
    }


def reading_of(document: QuoteDocument, recording: RecordingRow, talk: Talk) -> Reading:
    """A quote with the words near it."""
    words = kept_words(document, talk)
    lines = spoken_lines(talk, words)
    return Reading(
        title=document.title,
        span=document.span,
        length_ms=cut_ms(document, recording.facts),
        finished=Finishing(overlays=document.overlays, finish=document.finish, finish_held=document.finish_held),
        text=text_of(words, most=_MOST_TEXT),
        destinations=[version.destination for version in document.versions],
        lines=lines,
        speakers=list(dict.fromkeys(line.speaker for line in lines if line.speaker)),
    )


def brief(quote: QuoteRow, recording: RecordingRow, talk: Talk) -> QuoteBrief:
    """A quote for a list."""
    read = reading_of(quote.document, recording, talk)
    return QuoteBrief(
        id=quote.id, recording_id=quote.recording_id, title=read.title, span=read.span, length_ms=read.length_ms,
        text=read.text, destinations=read.destinations, made=quote.made, posted=quote.posted,
    )  # fmt: skip


def spoken_lines(talk: Talk, words: Sequence[Word]) -> list[SpokenLine]:
    """The words of a cut by the sentences they are of; both are in order."""
    lines, at = [], 0
    for one in talk.sentences:
        while at < len(words) and words[at].index < one.first:
            at += 1
        first = at
        while at < len(words) and words[at].index < one.end:
            at += 1
        if at > first:
            lines.append(SpokenLine(speaker=one.speaker, words=[word.text for word in words[first:at]]))
    return lines
