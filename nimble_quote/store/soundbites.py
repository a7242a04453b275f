"""What judging the soundbites of a talk needs, and what people decided of those that were offered."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from psycopg.rows import class_row
from psycopg.types.json import Jsonb

from nimble_quote.core.soundbites.facts import TalkSentence
from nimble_quote.core.soundbites.taste import Choice, Verdict
from nimble_quote.core.timebase import Span
from nimble_quote.store.database import Connection


@dataclass(frozen=True, kw_only=True)
class ChoiceRow:
    """A span of a talk and what a person decided of it."""

    recording_id: int
    start_ms: int
    end_ms: int
    verdict: Verdict
    judged: dict[str, float]

    @property
    def span(self) -> Span:
        return Span(start_ms=self.start_ms, end_ms=self.end_ms)

    @property
    def choice(self) -> Choice:
        return Choice(verdict=self.verdict, features=self.judged)


async def sentences(conn: Connection, recording_id: int) -> list[TalkSentence]:
    """The sentences of a talk, each word with the lexeme it is searched by."""
    cursor = await conn.execute(
        """select first_word, speaker, words, starts_ms, ends_ms, forms, timing from sentence
           where recording_id = %s order by number""",
        [recording_id],
    )
    rows: list[Any] = await cursor.fetchall()
    cursor = await conn.execute(
        "select form, lexemes[1] from term where form = any(%s)", [list({form for row in rows for form in row[5]})]
    )
    known: dict[str, str | None] = {str(form): lexeme for form, lexeme in await cursor.fetchall()}  # type: ignore[misc]
    return [
        TalkSentence(
            first_word=first, speaker=speaker, words=words, starts_ms=starts, ends_ms=ends,
            lexemes=[known.get(form) for form in forms], timed=timing.count("e") * 2 <= len(timing),
        )
        for first, speaker, words, starts, ends, forms, timing in rows
    ]  # fmt: skip


async def library(conn: Connection, recording_id: int) -> tuple[Mapping[str, int], int]:
    """How often all talks have each lexeme that one talk has, and how many words they have together."""
    cursor = await conn.execute(
        """with here as (
               select distinct lexemes[1] as lexeme from term where form in (
                   select distinct form from sentence, unnest(forms) as form where recording_id = %s))
           select lexeme, (select sum(uses) from term where lexemes[1] = lexeme) from here where lexeme is not null""",
        [recording_id],
    )
    counts = {str(lexeme): int(str(uses)) for lexeme, uses in await cursor.fetchall()}
    cursor = await conn.execute("select coalesce(sum(uses), 0) from term")
    row = await cursor.fetchone()
    return counts, int(str(row[0])) if row else 0


async def choices(conn: Connection) -> list[ChoiceRow]:
    """All that was decided, in every talk."""
    async with conn.cursor(row_factory=class_row(ChoiceRow)) as cursor:
        await cursor.execute(
            """select recording_id, start_ms, end_ms, verdict, judged from soundbite_choice
               order by created_at, recording_id, start_ms, end_ms"""
        )
        return await cursor.fetchall()


async def decide(
    conn: Connection, recording_id: int, span: Span, verdict: Verdict, judged: Mapping[str, float]
) -> None:
    """Keeps what a person decided of a span, instead of anything decided before."""
    await conn.execute(
        """insert into soundbite_choice (recording_id, start_ms, end_ms, verdict, judged) values (%s, %s, %s, %s, %s)
           on conflict (recording_id, start_ms, end_ms)
           do update set verdict = excluded.verdict, judged = excluded.judged, created_at = now()""",
        [recording_id, span.start_ms, span.end_ms, verdict, Jsonb(dict(judged))],
    )


async def take_back(conn: Connection, recording_id: int, span: Span) -> None:
    """Forgets what was decided of a span."""
    await conn.execute(
        "delete from soundbite_choice where recording_id = %s and start_ms = %s and end_ms = %s",
        [recording_id, span.start_ms, span.end_ms],
    )


async def forget_taste(conn: Connection) -> None:
    """Forgets all choices: the finder judges as it did when it began. Quotes that were kept stay."""
    await conn.execute("delete from soundbite_choice")
