"""The words of recordings, a row for each sentence."""

from collections.abc import Sequence
from dataclasses import dataclass

from psycopg.rows import class_row

from nimble_quote.core.timebase import Span
from nimble_quote.core.transcript.cues import HeardWord
from nimble_quote.core.transcript.words import Sentence, Word
from nimble_quote.store.database import Connection


@dataclass(frozen=True, kw_only=True)
class SentenceRow:
    """A sentence: its words and their times, side by side."""

    number: int
    first_word: int
    speaker: str | None
    words: list[str]
    starts_ms: list[int]
    ends_ms: list[int]


async def add(conn: Connection, recording_id: int, words: Sequence[HeardWord], sentences: Sequence[Sentence]) -> None:
    """Keeps the transcript of a recording."""
    copy = "copy sentence (recording_id, number, first_word, speaker, words, starts_ms, ends_ms, body) from stdin"
    async with conn.cursor() as cursor, cursor.copy(copy) as rows:
        for number, sentence in enumerate(sentences):
            run = [heard.word for heard in words[sentence.first : sentence.end]]
            texts = [word.text for word in run]
            await rows.write_row(
                [recording_id, number, sentence.first, sentence.speaker, texts,
                 [word.start_ms for word in run], [word.end_ms for word in run], " ".join(texts)]
            )  # fmt: skip


async def whole(conn: Connection, recording_id: int) -> list[SentenceRow]:
    """All sentences of a recording, in order."""
    async with conn.cursor(row_factory=class_row(SentenceRow)) as cursor:
        await cursor.execute(
            """select number, first_word, speaker, words, starts_ms, ends_ms from sentence
               where recording_id = %s order by number""",
            [recording_id],
        )
        return await cursor.fetchall()


async def words_in(conn: Connection, recording_id: int, span: Span) -> list[Word]:
    """The words of every sentence that touches a span."""
    async with conn.cursor(row_factory=class_row(SentenceRow)) as cursor:
        await cursor.execute(
            """select number, first_word, speaker, words, starts_ms, ends_ms from sentence
               where recording_id = %s and end_ms >= %s and start_ms <= %s order by number""",
            [recording_id, span.start_ms, span.end_ms],
        )
        return words_of(await cursor.fetchall())


async def words_between(conn: Connection, recording_id: int, first: int, last: int) -> list[Word]:
    """The words of every sentence that holds one of the words `first` to `last`, and of one sentence either side."""
    async with conn.cursor(row_factory=class_row(SentenceRow)) as cursor:
        await cursor.execute(
            """with held as (
                   select min(number) as low, max(number) as high from sentence
                   where recording_id = %(id)s and first_word <= %(last)s
                     and first_word + cardinality(words) > %(first)s)
               select s.number, s.first_word, s.speaker, s.words, s.starts_ms, s.ends_ms from sentence s, held
               where s.recording_id = %(id)s and s.number between held.low - 1 and held.high + 1 order by s.number""",
            {"id": recording_id, "first": first, "last": last},
        )
        return words_of(await cursor.fetchall())


def words_of(rows: Sequence[SentenceRow]) -> list[Word]:
    """The words of sentences that follow one another."""
    return [
        Word(index=row.first_word + i, text=text, start_ms=row.starts_ms[i], end_ms=row.ends_ms[i])
        for row in rows
        for i, text in enumerate(row.words)
    ]
