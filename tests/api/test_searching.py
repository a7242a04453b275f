"""A search answered over the database: what it finds, and what it says where it finds little."""

from pathlib import Path

import pytest

from nimble_quote.api.meanings import Meanings
from nimble_quote.api.searching import TOO_COMMON, Library, Searching
from nimble_quote.core.search.passages import Passage
from nimble_quote.core.search.query import read_query
from nimble_quote.services.thesaurus import Thesaurus
from nimble_quote.store import recordings
from nimble_quote.store.database import Connection
from tests.store.test_store import a_recording

pytestmark = pytest.mark.anyio


def searching(
    conn: Connection, typed: str, recording_id: int | None = None, folder: Path = Path("/nowhere")
) -> Searching:
    return Searching(
        conn=conn,
        library=Library(Thesaurus(folder), Meanings(on=False)),
        query=read_query(typed),
        recording_id=recording_id,
    )


def marked(passage: Passage) -> str:
    """The first sentence of a passage that has a mark, marks in brackets."""
    words = [word for one in passage.sentences for word in one.words]
    shown = [f"[{w}]" if any(a <= i < b for a, b in passage.marks) else w for i, w in enumerate(words)]
    first = 0
    for one in passage.sentences:
        said = " ".join(shown[first : first + len(one.words)])
        first += len(one.words)
        if "[" in said:
            return said
    return ""


async def found(conn: Connection, typed: str) -> list[str]:
    return sorted(marked(one) for one in (await searching(conn, typed).passages())[0])


@pytest.mark.parametrize(
    ("typed", "answers"),
    [
        ("smoked", ["A long wick [smokes.]"]),
        ('"keep the wick"', ["[Keep] [the] [wick] short."]),
        ("wick -long", []),
        ("lamp -harbour", ["Robert'); drop table quote; -- said the [lamps.]"]),
        ("'); drop table quote; --", ["Robert'); [drop] [table] [quote;] -- said the lamps."]),
        ("lat* -harbour", ["Don't stop, it's [late.]"]),
        ("the", []),
        ("kerosene", []),
        ("\\ & | ! <-> :* (", []),
    ],
)  # fmt: skip
async def test_search_finds_by_stem_phrase_and_beginning(conn: Connection, typed: str, answers: list[str]):
    await a_recording(conn)
    assert await found(conn, typed) == answers


async def test_words_in_neighbouring_sentences_answer_together(conn: Connection):
    await a_recording(conn)
    (passage,), notes = await searching(conn, "short smokes").passages()
    assert [" ".join(one.words) for one in passage.sentences][:2] == ["Keep the wick short.", "A long wick smokes."]
    assert notes == []


async def test_words_near_each_other_answer_and_those_farther_apart_do_not(conn: Connection):
    await a_recording(conn, ["A lamp in the storm.", "The lamp " + "and so on and on " * 4 + "by the gate."])
    assert await found(conn, "lamp ~ storm") == ["A [lamp] in the [storm.]"]
    assert await found(conn, "lamp ~ gate") == []


async def test_accents_are_not_minded(conn: Connection):
    await a_recording(conn, ["A café in the naïve harbour."])
    assert await found(conn, "cafe") == ["A [café] in the naïve harbour."]
    assert await found(conn, "Café naive") == ["A [café] in the [naïve] harbour."]


async def test_a_misspelt_word_still_finds_and_says_so(conn: Connection):
    await a_recording(conn, ["The harbour was dark."])
    passages, notes = await searching(conn, "harber").passages()
    assert [marked(one) for one in passages] == ["The [harbour] was dark."]
    assert notes == ["No talk says “harber”. Shown is what is like it: “harbour”."]


async def test_where_little_is_found_words_that_sound_or_mean_alike_answer_too(conn: Connection):
    await a_recording(conn, ["My name is Maren Tully.", "They mended the boat."])
    passages, notes = await searching(conn, "Tolley").passages()
    assert [marked(one) for one in passages] == ["My name is Maren [Tully.]"]
    passages, notes = await searching(conn, "repair", folder=Path("/usr/share/mythes")).passages()
    assert notes[0].startswith("No talk says “repair”")
    await a_recording(conn, ["One repair."], "Second")
    passages, notes = await searching(conn, "repair", folder=Path("/usr/share/mythes")).passages()
    assert sorted(marked(one) for one in passages) == ["One [repair.]", "They [mended] the boat."]
    assert notes == ["Also looked for what sounds or means alike: “mend”."]


async def test_a_phrase_with_one_wrong_word_still_finds_and_says_so(conn: Connection):
    await a_recording(conn, ["Patient hands mend a torn sail before morning.", "Torn sails wait for patient hands."])
    search = searching(conn, '"patient hands mend the torn sail"')
    (passage,), notes = await search.passages()
    assert marked(passage) == "[Patient] [hands] [mend] [a] [torn] [sail] before morning."
    assert notes == [], "“the” and “a” are too common to be told apart"
    search = searching(conn, '"patient hands carry a torn sail"')
    (passage,), notes = await search.passages()
    assert marked(passage).startswith("[Patient] [hands] [mend] [a] [torn] [sail]")
    assert (
        notes[-1] == "No talk says “patient hands carry a torn sail” word for word. Shown is what differs in one word."
    )
    assert (await searching(conn, '"torn hands"').passages())[0] == [], "of two words none may be another"


async def test_words_that_were_misheard_are_found_inside_phrases(conn: Connection):
    await a_recording(conn, ["Maren Tully kept the lamps that night.", "Her name is Tolley by the register."])
    (passage,), notes = await searching(conn, '"maren tolley"').passages()
    assert marked(passage).startswith("[Maren] [Tully]")
    assert notes[-1] == "No talk says “maren tolley”. Shown is what sounds like it."


async def test_an_apostrophe_that_was_not_typed_is_not_minded(conn: Connection):
    await a_recording(conn, ["They won't mend the lamps tonight."])
    (passage,), _ = await searching(conn, '"wont mend the lamps"').passages()
    assert "[mend] [the] [lamps]" in marked(passage)


@pytest.mark.parametrize(
    ("typed", "answers"),
    [
        ("芯を短く", ["[ランプの芯を短く切ってください。]"]),
        ("芯", ["[ランプの芯を短く切ってください。]"]),
        ("芯 ガラス", ["[ランプの芯を短く切ってください。]"]),
        ("港", []),
        ("ไส้", ["[ตัดไส้ตะเกียงให้สั้น]"]),
        ("%芯%", ["[ランプの芯を短く切ってください。]"]),
    ],
)
async def test_words_inside_scripts_without_spaces_are_found(conn: Connection, typed: str, answers: list[str]):
    await a_recording(conn, ["ランプの芯を短く切ってください。", "煙でガラスが黒くなります。"])
    await a_recording(conn, ["ตัดไส้ตะเกียงให้สั้น", "ทุกเย็น"], "Second")
    assert await found(conn, typed) == answers


async def test_where_nothing_has_all_some_of_it_is_shown(conn: Connection):
    await a_recording(conn, ["The harbour was dark."])
    await a_recording(conn, ["A lamp."], "Second")
    passages, notes = await searching(conn, "harbour lamp").passages()
    assert {one.missing for one in passages} == {("lamp",), ("harbour",)}
    assert notes == ["No passage has all of these words. Shown is what has some of them."]


async def test_common_words_alone_are_told(conn: Connection):
    await a_recording(conn)
    assert await searching(conn, "the of").passages() == ([], [TOO_COMMON])
    assert await searching(conn, "").passages() == ([], [])


async def test_filters_narrow_and_removed_talks_are_not_searched(conn: Connection):
    first = await a_recording(conn, ["A wick."])
    second = await a_recording(conn, ["A wick."], "Second")
    await recordings.describe(conn, first, title="A talk", series="Chapel 50%", held_on=None, notes="")
    for typed, talks in (
        ("wick", {first, second}), ("wick by:an", {first, second}), ("wick by:bo", set()), ('wick in:"chapel 50%"', {first}),
        ("wick in:_", set()), ("wick after:2001", set()), ("wick used:yes", set()),
    ):  # fmt: skip
        passages, _ = await searching(conn, typed).passages()
        assert {other.recording_id for one in passages for other in (one, *one.also)} == talks, typed
    await recordings.set_removed(conn, first, True)
    passages, _ = await searching(conn, "wick").passages()
    assert [one.recording_id for one in passages] == [second]


async def test_in_one_talk_every_place_is_marked_in_order(conn: Connection):
    recording_id = await a_recording(conn, [f"Lamp number {i} of the wick." for i in range(60)])
    await a_recording(conn, ["A lamp."], "Second")
    places, notes = await searching(conn, "lamp", recording_id).places()
    assert [(a, b) for a, b, _ in places] == [(i * 6, i * 6 + 1) for i in range(60)]
    assert places[7][2] == 35_000
    assert notes == []
