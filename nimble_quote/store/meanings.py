"""What the thoughts of talks mean: which talks wait to be read for it, what is kept, and keeping it."""

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from psycopg.rows import class_row

from nimble_quote.core.search.meaning import Packed, TalkVectors
from nimble_quote.store.database import Connection

LANGUAGES = ("en",)
"""The languages whose meaning the vectors tell."""
_WAITING = """from recording r left join meaning m on m.recording_id = r.id
    where r.removed_at is null and r.language = any(%s) and exists (select from sentence s where s.recording_id = r.id)
        and (m.recording_id is null or m.words_version <> r.words_version or m.model <> %s)"""


@dataclass(frozen=True, kw_only=True)
class SaidRow:
    """The sentences of a talk, as they were at a version of its words."""

    words_version: int
    sentences: list[list[str]]


@dataclass(frozen=True, kw_only=True)
class Thought:
    """A thought of a talk: the half-open range of its sentences, its words, the sum of its text, and its vector."""

    first: int
    end: int
    words: int
    sum: bytes
    vector: Packed


async def waiting(conn: Connection, model: str) -> list[int]:
    """The talks that have words newer than what is kept of their meaning, the newest talks first."""
    cursor = await conn.execute(f"select r.id {_WAITING} order by r.id desc", [list(LANGUAGES), model])
    return [int(str(row[0])) for row in await cursor.fetchall()]


async def count_waiting(conn: Connection, model: str) -> int:
    """How many talks wait to be read for their meaning."""
    cursor = await conn.execute(f"select count(*) {_WAITING}", [list(LANGUAGES), model])
    row = await cursor.fetchone()
    return int(str(row[0])) if row else 0


async def said(conn: Connection, recording_id: int) -> SaidRow | None:
    """What is said in a talk; None where it is gone."""
    cursor = await conn.execute(
        """select r.words_version, s.words from recording r join sentence s on s.recording_id = r.id
           where r.id = %s order by s.number""",
        [recording_id],
    )
    rows: list[Any] = await cursor.fetchall()
    return SaidRow(words_version=rows[0][0], sentences=[row[1] for row in rows]) if rows else None


async def known(conn: Connection, recording_id: int, model: str) -> dict[bytes, Packed]:
    """The vectors that are kept of a talk, by the sums of what they are of."""
    cursor = await conn.execute(
        "select sums, vectors from meaning where recording_id = %s and model = %s", [recording_id, model]
    )
    row: Any = await cursor.fetchone()
    if row is None:
        return {}
    return dict(zip(map(bytes, row[0]), _rows(row[1], len(row[0])), strict=True))


async def keep(
    conn: Connection, recording_id: int, words_version: int, model: str, thoughts: Sequence[Thought]
) -> None:
    """Keeps what the thoughts of a talk mean, instead of what was kept of it."""
    await conn.execute(
        """insert into meaning (recording_id, words_version, model, firsts, ends, words, sums, vectors)
           select r.id, %s, %s, %s, %s, %s, %s, %s from recording r where r.id = %s
           on conflict (recording_id) do update set words_version = excluded.words_version, model = excluded.model,
               firsts = excluded.firsts, ends = excluded.ends, words = excluded.words, sums = excluded.sums,
               vectors = excluded.vectors""",
        [
            words_version, model, [one.first for one in thoughts], [one.end for one in thoughts],
            [one.words for one in thoughts], [one.sum for one in thoughts],
            b"".join(one.vector.tobytes() for one in thoughts), recording_id,
        ],
    )  # fmt: skip


async def versions(conn: Connection, model: str) -> dict[int, int]:
    """The talks on the shelf whose meaning is kept as their words are now, and the version of those words."""
    cursor = await conn.execute(
        """select m.recording_id, m.words_version from meaning m join recording r on r.id = m.recording_id
           where r.removed_at is null and r.language = any(%s) and m.words_version = r.words_version and m.model = %s""",
        [list(LANGUAGES), model],
    )
    return {int(str(talk)): int(str(version)) for talk, version in await cursor.fetchall()}


@dataclass(frozen=True, kw_only=True)
class _MeaningRow:
    recording_id: int
    words_version: int
    firsts: list[int]
    ends: list[int]
    words: list[int]
    vectors: bytes


async def vectors(conn: Connection, recording_ids: Sequence[int]) -> dict[int, tuple[int, TalkVectors]]:
    """What is kept of some talks, with the version of the words that it was made from."""
    async with conn.cursor(binary=True, row_factory=class_row(_MeaningRow)) as cursor:
        await cursor.execute(
            """select recording_id, words_version, firsts, ends, words, vectors from meaning
               where recording_id = any(%s)""",
            [list(recording_ids)],
        )
        return {
            row.recording_id: (
                row.words_version,
                TalkVectors(
                    firsts=row.firsts, ends=row.ends, words=row.words, vectors=_rows(row.vectors, len(row.words))
                ),
            )
            for row in await cursor.fetchall()
        }  # fmt: skip


def sum_of(text: str) -> bytes:
    """What tells one text from another."""
    return hashlib.blake2b(text.encode(), digest_size=8).digest()


def _rows(stored: bytes, count: int) -> Packed:
    return np.frombuffer(stored, np.int8).reshape(count, -1)
