"""Full-text search over the sentences of one recording or of all."""

from dataclasses import dataclass

from psycopg.rows import class_row

from nimble_quote.core.search.query import Query, Stems
from nimble_quote.store.database import Connection

MOST = 500


@dataclass(frozen=True, kw_only=True)
class FoundSentence:
    """A sentence that answers a search, with the stem of each of its words (None for one too common)."""

    recording_id: int
    title: str
    number: int
    first_word: int
    speaker: str | None
    words: list[str]
    start_ms: int
    end_ms: int
    stems: list[str | None]


# The first lexeme the index would hold for a word as it stands, so that marks agree with what the index found.
_STEM = "(select lexeme from unnest(to_tsvector('english', word)) order by positions[1] limit 1)"


async def find(conn: Connection, typed: str, recording_id: int | None) -> list[FoundSentence]:
    """The sentences that answer a search, in one recording by time, in all by how well they answer."""
    order = (
        "s.number" if recording_id is not None else "ts_rank_cd(s.lexemes, wanted) desc, s.recording_id desc, s.number"
    )
    async with conn.cursor(row_factory=class_row(FoundSentence)) as cursor:
        await cursor.execute(
            f"""select s.recording_id, r.title, s.number, s.first_word, s.speaker, s.words, s.start_ms, s.end_ms,
                    array(select {_STEM} from unnest(s.words) with ordinality as w(word, place) order by place) as stems
                from sentence s join recording r on r.id = s.recording_id,
                    websearch_to_tsquery('english', %(typed)s) as wanted
                where s.lexemes @@ wanted and (%(recording)s::bigint is null or s.recording_id = %(recording)s)
                order by {order} limit %(most)s""",  # noqa: S608 - both insertions are constants of this module
            {"typed": typed, "recording": recording_id, "most": MOST},
        )
        return await cursor.fetchall()


async def stems(conn: Connection, query: Query) -> list[Stems]:
    """For each part of a query, the stem of each of its words."""
    found: list[Stems] = []
    for part in query.parts:
        cursor = await conn.execute(
            f"""select array(select {_STEM}
                from unnest(%s::text[]) with ordinality as w(word, place) order by place)""",  # noqa: S608 - a constant
            [part.split()],
        )
        row = await cursor.fetchone()
        found.append(row[0] if row else [])  # type: ignore[arg-type]
    return found
