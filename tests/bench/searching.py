"""Searching a library of a thousand hours: the API's answer beside the bare query, and what the index costs."""

import asyncio
import random
import time
from collections.abc import Awaitable, Callable

import httpx
import numpy as np
import psycopg

from nimble_quote.api.meanings import Meanings
from nimble_quote.api.searching import Library, Searching
from nimble_quote.core.search.meaning import thoughts
from nimble_quote.core.search.query import read_query
from nimble_quote.core.search.wanted import condition
from nimble_quote.media.vectors import MODEL, WIDTH
from nimble_quote.services.thesaurus import Thesaurus
from nimble_quote.settings import Settings
from nimble_quote.store import search
from tests.bench.table import Row, spread
from tests.conftest import RunningApp, free_port, start
from tests.library import WORDS_EACH, fill, talk_words, vocabulary

TALKS = 1000
QUERIES = 120


def queries() -> list[str]:
    """What people type, of every kind: rare and common words, several, phrases, beginnings, near, without, misspelt."""
    dice = random.Random(8)
    words = vocabulary()

    def rare() -> str:
        return words[dice.randint(2_000, 20_000)]

    def common() -> str:
        return words[dice.randint(70, 400)]

    def run(length: int) -> str:
        text = talk_words(dice.randrange(TALKS), words)
        at = dice.randrange(WORDS_EACH - 10)
        return " ".join(text[at : at + length])

    def misspelt() -> str:
        word = rare()
        return word[:2] + word[3:]

    kinds = [
        rare, common, lambda: f"{rare()} {common()}", lambda: f"{common()} {common()}", lambda: f'"{run(4)}"',
        lambda: run(5), lambda: f"{rare()[:5]}*", lambda: f"{common()} ~ {common()}", lambda: f"{common()} -{common()}", misspelt,
        lambda: f"{common()} in:3 after:2024", lambda: f"{common()} by:12",
    ]  # fmt: skip
    return [kinds[i % len(kinds)]() for i in range(QUERIES)]


def measure(running: RunningApp) -> list[Row]:
    """Fills the library and searches it."""
    url = running.settings.database_url
    with psycopg.connect(url) as conn:
        began = time.monotonic()
        ids = fill(conn, TALKS)
        filled = time.monotonic() - began
        conn.execute("select count_all_terms()")
        for talk in ids:
            conn.execute("select make_stretches(%s)", [talk])
        built = time.monotonic() - began - filled
        conn.commit()
    with psycopg.connect(url, autocommit=True) as conn:
        conn.execute("vacuum analyze")
        row = conn.execute(
            """select pg_total_relation_size('sentence'), pg_total_relation_size('stretch'),
                   pg_relation_size('stretch_lexemes'), pg_total_relation_size('term')"""
        ).fetchone()
    assert row is not None
    text, stretch, index, terms = (int(str(size)) / 1e6 for size in row)
    asked = queries()
    api, bare = asyncio.run(_timed(running, asked))
    slow = sorted(zip(api, bare, asked, strict=True), reverse=True)[:5]
    for took, sql, typed in slow:
        print(f"  slow: {took:.0f} ms ({sql:.0f} ms in SQL)  {typed}")
    p95 = _p95(api)
    return [
        *_by_meaning(running, ids, asked, api),
        Row(
            what=f"a search of {TALKS} h ({TALKS * WORDS_EACH / 1e6:.0f} M words), {QUERIES} of every kind, in the API",
            measured=spread(api), baseline=f"the bare query {spread(bare)}", aim="95 % 50 ms, 2 x the query",
            met=p95 <= 50 and p95 <= 2 * _p95(bare),
        ),
        Row(
            what="its index", measured=f"{index:.0f} MB, made in {built:.0f} s",
            baseline=f"the words {text:.0f} MB, put in in {filled:.0f} s; stretches {stretch:.0f} MB, terms {terms:.0f} MB",
            aim="told", met=True,
        ),
    ]  # fmt: skip


def _by_meaning(running: RunningApp, ids: list[int], asked: list[str], by_words: list[float]) -> list[Row]:
    """The same searches by a server that has vectors of all thoughts, as many as there would be, which point anywhere."""
    _fill_thoughts(running.settings.database_url, ids)
    with psycopg.connect(running.settings.database_url) as conn:
        row = conn.execute("select pg_total_relation_size('meaning')").fetchone()
    assert row is not None
    size = int(str(row[0])) / 1e6
    reading = start(running.settings.model_copy(update={"port": free_port(), "search_by_meaning": True}))
    try:
        with reading.client as client:
            began = time.perf_counter()
            client.get("/api/search", params={"q": "a first search"}, timeout=120)
            first = time.perf_counter() - began
        api, _ = asyncio.run(_timed(reading, asked))
    finally:
        reading.kill(reading.workers)
        reading.kill(reading.servers)
    return [
        Row(
            what="the same searches by words and meaning", measured=spread(api), baseline=f"by words {spread(by_words)}",
            aim="told", met=True,
        ),
        Row(
            what=f"vectors of {TALKS} h", measured=f"{size:.0f} MB; a server's first search {first:.1f} s", baseline="—",
            aim="300 MB", met=size <= 300,
        ),
    ]  # fmt: skip


def _fill_thoughts(url: str, ids: list[int]) -> None:
    dice = np.random.default_rng(3)
    with psycopg.connect(url) as conn:
        for talk in ids:
            cursor = conn.execute(
                "select cardinality(words) from sentence where recording_id = %s order by number", [talk]
            )
            runs = thoughts([int(str(row[0])) for row in cursor.fetchall()])
            conn.execute(
                """insert into meaning (recording_id, words_version, model, firsts, ends, words, sums, vectors)
                   select id, words_version, %s, %s, %s, %s, %s, %s from recording where id = %s""",
                [
                    MODEL, [first for first, _ in runs], [end for _, end in runs], [26] * len(runs),
                    [number.to_bytes(8) for number in range(len(runs))],
                    dice.integers(-127, 128, (len(runs), WIDTH), np.int8).tobytes(), talk,
                ],
            )  # fmt: skip


async def _timed(running: RunningApp, asked: list[str]) -> tuple[list[float], list[float]]:
    """For each search, the milliseconds of the API's answer, and of its main statement alone."""
    api, bare = [], []
    async with (
        httpx.AsyncClient(base_url=running.url, timeout=60) as client,
        await psycopg.AsyncConnection.connect(running.settings.database_url) as conn,
    ):
        for warm in asked[:12]:
            await client.get("/api/search", params={"q": warm})
        for typed in asked:
            statement = await _statement(conn, typed)
            bare.append(await _ms(statement))
            api.append(await _ms(lambda typed=typed: client.get("/api/search", params={"q": typed})))
    return api, bare


async def _statement(conn: search.Connection, typed: str) -> Callable[[], Awaitable[object]]:
    """What a search comes down to in SQL: the stretches that answer it, ranked."""
    searching = Searching(
        conn=conn, library=Library(Thesaurus(Settings().thesaurus), Meanings(on=False)), query=read_query(typed)
    )
    found = await searching._found()
    without, _ = await searching._wanted(searching.query.without)
    asked = condition(found.wanted, without, every=True) or condition(found.wanted, without, every=False)
    if asked is None:
        return lambda: conn.execute("select 1")
    talks = await search.talks(conn, searching.query)
    return lambda: search.stretches(conn, asked, talks=talks)


async def _ms(work: Callable[[], Awaitable[object]]) -> float:
    began = time.perf_counter()
    await work()
    return (time.perf_counter() - began) * 1000


def _p95(values: list[float]) -> float:
    return sorted(values)[int(len(values) * 0.95)]
