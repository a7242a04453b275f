from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.framing.naming import Seen, Turn, named_by_turns


def turn(speaker: str, start_s: float, end_s: float) -> Turn:
    return Turn(speaker=speaker, start_ms=round(start_s * 1000), end_ms=round(end_s * 1000))


def seen(subject: int, start_s: float, end_s: float) -> Seen:
    return Seen(subject=subject, start_ms=round(start_s * 1000), end_ms=round(end_s * 1000))


def test_a_face_that_is_alone_while_somebody_speaks_has_their_name():
    turns = [turn("Ada", 0, 10), turn("Ben", 10, 20), turn("Ada", 20, 30)]
    assert named_by_turns(turns, [seen(0, 0, 10), seen(1, 10, 20), seen(0, 20, 30)]) == {0: "Ada", 1: "Ben"}


def test_a_few_close_shots_settle_who_is_who_in_the_wide_ones():
    turns = [turn("Ada", 0, 30), turn("Ben", 30, 60)]
    wide = [seen(0, 0, 24), seen(1, 0, 24), seen(0, 36, 60), seen(1, 36, 60)]
    assert named_by_turns(turns, wide) == {}, "half and half is no agreement"
    close = [seen(0, 24, 30), seen(1, 30, 36), seen(0, 60, 72), seen(1, 72, 84)]
    more = [*turns, turn("Ada", 60, 72), turn("Ben", 72, 84)]
    assert named_by_turns(more, [*wide, *close]) == {0: "Ada", 1: "Ben"}


def test_who_only_listens_has_no_name_and_nor_has_one_seen_for_a_moment():
    turns = [turn("Ada", 0, 30)]
    assert named_by_turns(turns, [seen(0, 0, 30), seen(1, 12, 14)]) == {0: "Ada"}
    assert named_by_turns(turns, [seen(0, 0, 3)]) == {}
    assert named_by_turns([], [seen(0, 0, 30)]) == {}
    assert named_by_turns(turns, []) == {}


stretches = st.tuples(st.integers(0, 3), st.integers(0, 100), st.integers(1, 40))


@given(st.lists(stretches, max_size=12), st.lists(stretches, max_size=12))
def test_no_name_is_given_twice(spoken: list[tuple[int, int, int]], shown: list[tuple[int, int, int]]):
    turns = [turn("ABCD"[who], at, at + long) for who, at, long in spoken]
    names = named_by_turns(turns, [seen(who, at, at + long) for who, at, long in shown])
    assert len(set(names.values())) == len(names)
