from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.cutting.edges import LEAD_MS, TAIL_MS, around_words, cut_after, cut_before, instead_of_words
from nimble_quote.core.cutting.kept import text_of
from nimble_quote.core.talk import Talk
from tests.strategies import talks
from tests.talks import talk_of


def test_a_cut_leaves_air_before_and_after_a_word():
    talk = talk_of("one | two | three")
    assert cut_before(talk, 1) == talk.word(1).start_ms - LEAD_MS
    assert cut_after(talk, 1) == talk.word(1).end_ms + TAIL_MS


def test_a_cut_takes_no_more_than_half_a_narrow_gap():
    talk = talk_of("one two three", gap_ms=40)
    assert cut_after(talk, 0) == talk.word(0).end_ms + 20
    assert cut_before(talk, 1) == talk.word(1).start_ms - 20


@given(talks(), st.data())
def test_what_is_cut_around_words_holds_them_whole_and_no_others(talk: Talk, data: st.DataObject):
    first = data.draw(st.integers(0, len(talk.words) - 1))
    last = data.draw(st.integers(first, len(talk.words) - 1))
    span = around_words(talk, first, last)
    assert [w.index for w in talk.between(span.start_ms, span.end_ms)] == list(range(first, last + 1))
    assert span.start_ms <= talk.word(first).start_ms
    assert talk.word(last).end_ms <= span.end_ms


@given(talks(), st.data())
def test_striking_words_never_clips_their_neighbours(talk: Talk, data: st.DataObject):
    first = data.draw(st.integers(0, len(talk.words) - 1))
    last = data.draw(st.integers(first, len(talk.words) - 1))
    hole = instead_of_words(talk, first, last)
    before, after = talk.before(first), talk.after(last)
    assert before is None or before.end_ms <= hole.start_ms
    assert after is None or hole.end_ms <= after.start_ms
    assert [w.index for w in talk.between(hole.start_ms, hole.end_ms)] == list(range(first, last + 1))


def test_text_is_shortened_at_a_word():
    words = talk_of("Keep the wick short, and it will burn until dawn.").words
    assert text_of(words, most=22) == "Keep the wick short…"
