"""Searching the words of all talks: what typed words stand for, the stretches that answer, and searches kept."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any, Literal

from psycopg.rows import class_row

from nimble_quote.core.search.passages import SearchedSentence
from nimble_quote.core.search.query import Query
from nimble_quote.store.database import Connection

MOST_ANSWERS = 300
"""So many stretches that answer are ranked at most."""
_MOST_FORMS = 12
"""So many forms with one beginning are looked for."""
_MOST_RUNS = 200
"""So many runs of a script without spaces are looked for."""
_RECENT = 12


@dataclass(frozen=True, kw_only=True)
class TypedWord:
    """A word of a search: its lexeme (None where it is too common to search for), and how often talks have it."""

    word: str
    lexeme: str | None
    uses: int


@dataclass(frozen=True, kw_only=True)
class KnownForm:
    """A form of a word that talks have."""

    form: str
    lexemes: list[str]
    uses: int


@dataclass(frozen=True, kw_only=True)
class StretchRow:
    """A stretch of a talk that answers a search."""

    recording_id: int
    first_sentence: int
    last_sentence: int


@dataclass(frozen=True, kw_only=True)
class MatchedSentence:
    """A sentence, and for each of its words the lexeme searched for that it stands for, where it does."""

    first_word: int
    start_ms: int
    lexemes: list[tuple[str, ...]]


async def library_size(conn: Connection) -> int:
    """How many words all talks have together."""
    cursor = await conn.execute("select coalesce(sum(uses), 0) from term where uses > 0")
    row = await cursor.fetchone()
    return int(str(row[0])) if row else 0


async def typed_words(conn: Connection, words: Sequence[str]) -> dict[str, TypedWord]:
    """What the words of a search stand for."""
    async with conn.cursor(row_factory=class_row(TypedWord)) as cursor:
        await cursor.execute(
            """select word, lexeme, coalesce((select sum(uses) from term where lexemes[1] = lexeme), 0)::int as uses
               from unnest(%s::text[]) as word, lateral (select (lexemes_of(word))[1] as lexeme) as l""",
            [list(words)],
        )
        return {one.word: one for one in await cursor.fetchall()}


async def beginning(conn: Connection, with_: str) -> list[KnownForm]:
    """The forms that begin with some letters, the most used first."""
    return await _forms(conn, "", with_, _MOST_FORMS)


async def holding(conn: Connection, text: str) -> list[KnownForm]:
    """The forms that some letters stand in, the most used first."""
    return await _forms(conn, "%", text, _MOST_RUNS)


async def _forms(conn: Connection, before: str, text: str, most: int) -> list[KnownForm]:
    async with conn.cursor(row_factory=class_row(KnownForm)) as cursor:
        await cursor.execute(
            r"""select form, lexemes, uses from term
                where form like %s || regexp_replace(bare_form(%s), '([\%%_])', '\\1', 'g') || '%%'
                    and uses > 0 and lexemes <> '{}' order by uses desc, form limit %s""",
            [before, text, most],
        )
        return await cursor.fetchall()


async def spelt_alike(conn: Connection, word: str) -> list[KnownForm]:
    """The forms that a misspelt or misheard word may stand for, the most alike first."""
    async with conn.cursor(row_factory=class_row(KnownForm)) as cursor:
        await cursor.execute(
            """select form, lexemes, uses from (
                   select form, lexemes, uses, similarity(form, wanted)
                       + case when sound = dmetaphone(wanted) then 0.35 else 0 end
                       - 0.04 * levenshtein(left(form, 60), left(wanted, 60)) as alike
                   from term, (select bare_form(%s) as wanted) as w
                   where (form %% wanted or (sound = dmetaphone(wanted) and sound <> ''
                           and levenshtein(left(form, 60), left(wanted, 60)) <= 2))
                       and form <> wanted and uses > 0 and lexemes <> '{}') as likely
               where alike > 0.25 order by alike desc, uses desc, form limit 3""",
            [word],
        )
        return await cursor.fetchall()


async def sounding_alike(conn: Connection, word: str) -> list[KnownForm]:
    """The forms that sound as a word and are spelt nearly so: what a recogniser may have heard instead."""
    async with conn.cursor(row_factory=class_row(KnownForm)) as cursor:
        await cursor.execute(
            """select form, lexemes, uses from term, (select bare_form(%s) as wanted) as w
               where sound = dmetaphone(wanted) and length(wanted) >= 4 and uses > 0 and lexemes <> '{}'
                   and length(form) <= 60 and levenshtein(form, left(wanted, 60)) between 1 and 2
                   and lexemes[1] is distinct from (lexemes_of(wanted))[1]
               order by uses desc, form limit 3""",
            [word],
        )
        return await cursor.fetchall()


async def talks(conn: Connection, query: Query) -> list[int] | None:
    """The talks that the filters of a search leave; None where it has no filter that talks are chosen by."""
    if query.by is query.series is query.after is query.before is None:
        return None
    cursor = await conn.execute(
        """select id from recording r where removed_at is null
               and (%(series)s::text is null or series ilike %(series)s)
               and (%(after)s::date is null or held_on >= %(after)s)
               and (%(before)s::date is null or held_on < %(before)s)
               and (%(by)s::text is null or exists (
                   select from speaker p where p.recording_id = r.id and p.name ilike %(by)s))""",
        {
            "by": _within(query.by),
            "series": _within(query.series),
            "after": _day(query.after),
            "before": _day(query.before),
        },
    )
    return [int(str(row[0])) for row in await cursor.fetchall()]


async def stretches(
    conn: Connection,
    condition: str,
    *,
    talks: Sequence[int] | None = None,
    used: bool = False,
    order: Literal["best", "newest", "time"] = "best",
    most: int = 60,
) -> list[StretchRow]:
    """The stretches that a condition (the text of a `tsquery`) is true of, in some talks or all: the best answers first,
    the newest talks first, or in order of time. `used`: only where a quote was taken.

    Of more than `MOST_ANSWERS` stretches, which only common words have, the rest is not ranked.
    """
    held = "coalesce(r.held_on, r.created_at::date)"
    only_used = """and exists (select from quote q join quote_revision h on h.quote_id = q.id and h.number = q.head
        where q.recording_id = s.recording_id and q.removed_at is null
            and (h.document->'span'->>'start_ms')::int < s.end_ms and (h.document->'span'->>'end_ms')::int > s.start_ms)"""
    async with conn.cursor(row_factory=class_row(StretchRow)) as cursor:
        await cursor.execute(
            f"""select recording_id, first_sentence, last_sentence from (
                    select s.recording_id, s.number, s.first_sentence, s.last_sentence, s.lexemes, {held} as held
                    from stretch s join recording r on r.id = s.recording_id
                    where s.lexemes @@ %(condition)s::tsquery and r.removed_at is null
                        {"and s.recording_id = any(%(talks)s)" if talks is not None else ""} {only_used if used else ""}
                    {f"order by {held} desc" if order == "newest" else ""} limit %(answers)s) as answers
                order by {_ORDERS[order]}, recording_id desc, number limit %(most)s""",  # noqa: S608 - only constants go in
            {"condition": condition, "talks": list(talks or []), "most": most,
             "answers": most if order == "time" else MOST_ANSWERS},
        )  # fmt: skip
        return await cursor.fetchall()


_ORDERS = {
    "best": "ts_rank_cd(lexemes, %(condition)s::tsquery) desc, held desc",
    "newest": "held desc, ts_rank_cd(lexemes, %(condition)s::tsquery) desc",
    "time": "number",
}


def _within(text: str | None) -> str | None:
    if text is None:
        return None
    escaped = text.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
    return f"%{escaped}%"


def _day(text: str | None) -> date | None:
    return date.fromisoformat(text) if text is not None else None


async def sentences(
    conn: Connection, rows: Sequence[StretchRow], wanted: Collection[str]
) -> list[list[SearchedSentence]]:
    """The sentences of some stretches, their words with those of the wanted lexemes that they stand for."""
    cursor = await conn.execute(
        """select t.place, s.recording_id, s.number, s.first_word, s.speaker, s.words, s.forms, s.start_ms, s.end_ms
           from unnest(%s::bigint[], %s::int[], %s::int[]) with ordinality as t (recording_id, low, high, place)
           join sentence s on s.recording_id = t.recording_id and s.number between t.low and t.high
           order by t.place, s.number""",
        [[r.recording_id for r in rows], [r.first_sentence for r in rows], [r.last_sentence for r in rows]],
    )
    found: list[Any] = await cursor.fetchall()
    cursor = await conn.execute("select form, lexemes[1] from term where lexemes[1] = any(%s)", [list(wanted)])
    known = {str(form): (str(lexeme),) for form, lexeme in await cursor.fetchall()}
    out: list[list[SearchedSentence]] = [[] for _ in rows]
    none: list[tuple[str, ...]] = [()]
    for place, recording_id, number, first_word, speaker, words, forms, start_ms, end_ms in found:
        out[place - 1].append(
            SearchedSentence(
                recording_id=recording_id, number=number, first_word=first_word, speaker=speaker, words=words, forms=forms,
                lexemes=none * len(forms) if known.keys().isdisjoint(forms) else [known.get(form, ()) for form in forms], start_ms=start_ms, end_ms=end_ms,
            )
        )  # fmt: skip
    return out


async def matches(conn: Connection, rows: Sequence[StretchRow], wanted: Collection[str]) -> list[list[MatchedSentence]]:
    """The sentences of some stretches with only those of their words that stand for a wanted lexeme: where answers are
    to be marked, not read."""
    cursor = await conn.execute(
        """with known as (select form, lexemes[1] as lexeme from term where lexemes[1] = any(%s))
           select t.place, s.first_word, s.start_ms, cardinality(s.words), m.places, m.lexemes
           from unnest(%s::bigint[], %s::int[], %s::int[]) with ordinality as t (recording_id, low, high, place)
           join sentence s on s.recording_id = t.recording_id and s.number between t.low and t.high,
           lateral (select array_agg(u.i::int - 1) as places, array_agg(k.lexeme) as lexemes
                    from unnest(s.forms) with ordinality as u (form, i) join known k using (form)) as m
           order by t.place, s.number""",
        [
            list(wanted),
            [r.recording_id for r in rows],
            [r.first_sentence for r in rows],
            [r.last_sentence for r in rows],
        ],
    )
    out: list[list[MatchedSentence]] = [[] for _ in rows]
    found: list[Any] = await cursor.fetchall()
    for place, first_word, start_ms, count, places, lexemes in found:
        at = dict(zip(places or (), lexemes or (), strict=True))
        words: list[tuple[str, ...]] = [(at[i],) if i in at else () for i in range(count)]
        out[place - 1].append(MatchedSentence(first_word=first_word, start_ms=start_ms, lexemes=words))
    return out


async def lexemes(conn: Connection, words: set[str]) -> dict[str, str]:
    """The lexeme that each of some words of talks is searched by; those too common to be searched for are left out."""
    cursor = await conn.execute(
        """select word, lexemes[1] from unnest(%s::text[]) as word join term on form = bare_form(word)
           where lexemes <> '{}'""",
        [list(words)],
    )
    return {str(word): str(lexeme) for word, lexeme in await cursor.fetchall()}


async def make_stretches(conn: Connection, recording_id: int) -> None:
    """Makes what is searched of a talk anew, from its sentences."""
    await conn.execute("select make_stretches(%s)", [recording_id])


async def remember(conn: Connection, typed: str) -> None:
    """Keeps a search among the recent ones."""
    await conn.execute(
        "insert into search (typed) values (%s) on conflict (typed) do update set asked_at = now()", [typed]
    )
    await conn.execute(
        """delete from search where not saved and typed not in (
               select typed from search where not saved order by asked_at desc limit %s)""",
        [_RECENT],
    )


async def set_saved(conn: Connection, typed: str, saved: bool) -> None:
    """Saves a search, or makes a saved one a recent one again."""
    await conn.execute(
        "insert into search (typed, saved) values (%(typed)s, %(saved)s) on conflict (typed) do update set saved = %(saved)s",
        {"typed": typed, "saved": saved},
    )


async def forget(conn: Connection, typed: str) -> None:
    """Drops a search from those kept."""
    await conn.execute("delete from search where typed = %s", [typed])


async def kept_searches(conn: Connection) -> list[tuple[str, bool]]:
    """The searches kept, the last asked first, and whether each is saved."""
    cursor = await conn.execute("select typed, saved from search order by asked_at desc, typed")
    return [(str(typed), bool(saved)) for typed, saved in await cursor.fetchall()]


async def speakers(conn: Connection) -> list[str]:
    """Everybody who speaks in a talk on the shelf."""
    cursor = await conn.execute(
        """select distinct p.name from speaker p join recording r on r.id = p.recording_id
           where r.removed_at is null order by p.name"""
    )
    return [str(row[0]) for row in await cursor.fetchall()]
