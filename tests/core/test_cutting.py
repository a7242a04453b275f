from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.cutting.edges import (
    LEAD_MS,
    TAIL_MS,
    around_words,
    cut_after,
    cut_before,
    gap_cuts,
    instead_of_words,
    quiet_points,
)
from nimble_quote.core.cutting.kept import kept_spans, kept_words, text_of
from nimble_quote.core.cutting.pauses import pauses
from nimble_quote.core.cutting.strikes import Rule, strikes
from nimble_quote.core.edits import (
    EditRefused,
    SetPause,
    StrikeByRule,
    StrikeWords,
    apply_edit,
    describe_edit,
    new_quote,
)
from nimble_quote.core.talk import Levels, Talk
from nimble_quote.core.timebase import total_ms
from tests.cuts import cut_of
from tests.strategies import talks
from tests.talks import context_of, talk_of


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


# ---- Where it is quiet


def with_levels(talk: Talk, loud: list[tuple[int, int, int]], room: int = 8) -> Talk:
    """A talk with a waveform: the words at 150, the rest at the level of the room but for `(from, to, level)`."""
    levels = bytearray([room]) * (talk.duration_ms // 10)
    for word in talk.words:
        levels[word.start_ms // 10 : word.end_ms // 10] = bytes([150]) * (word.end_ms // 10 - word.start_ms // 10)
    for start, end, level in loud:
        levels[start // 10 : end // 10] = bytes([level]) * ((end - start) // 10)
    return replace(talk, levels=Levels(values=bytes(levels)))


def test_a_cut_falls_where_the_gap_is_quietest():
    talk = talk_of("one two", gap_ms=200)
    # The first word rings on for 120 ms, the second begins with a hiss of 40 ms.
    noisy = with_levels(talk, [(1300, 1420, 90), (1460, 1500, 60)])
    cuts = gap_cuts(noisy, 1300, 1500)
    assert 1420 < cuts.after_ms < cuts.before_ms + 1 <= 1461


def test_a_cut_keeps_a_breath_on_neither_side():
    talk = talk_of("one | two")
    start, end = talk.word(0).end_ms, talk.word(1).start_ms
    breath = (end - 350, end - 100)
    cuts = gap_cuts(with_levels(talk, [(*breath, 45)]), start, end)
    assert start <= cuts.after_ms <= breath[0]
    assert breath[1] <= cuts.before_ms <= end


def test_quiet_points_are_the_quietest_of_what_is_near():
    levels = bytes([100] * 10 + [5] + [100] * 20 + [7, 7] + [100] * 10)
    assert quiet_points(levels, 500) == (820,), "a single step between loud ones is no quiet point"
    gap = bytes([100] * 10 + [9, 5, 5, 9] + [100] * 20)
    assert quiet_points(gap, 500) == (620,)
    assert quiet_points(b"", 0) == ()


@given(talks(), st.data())
def test_with_any_waveform_a_cut_lies_in_its_gap_and_the_two_of_a_gap_in_order(talk: Talk, data: st.DataObject):
    values = data.draw(st.binary(min_size=talk.duration_ms // 10, max_size=talk.duration_ms // 10))
    heard = replace(talk, levels=Levels(values=values))
    for left, right in pairwise(talk.words):
        cuts = gap_cuts(heard, left.end_ms, right.start_ms)
        assert left.end_ms <= cuts.after_ms <= cuts.before_ms <= right.start_ms


# ---- Pauses


def test_a_pause_is_brought_down_and_given_back():
    talk = talk_of("one | two three")
    document = new_quote(context_of(talk), 0, 2)
    (pause, _) = pauses(document, talk)
    assert (pause.said_ms, pause.kept_ms, pause.join) == (1100, 1100, False)
    cut = apply_edit(document, SetPause(before=1, to_ms=300), context_of(talk))
    assert pauses(cut, talk)[0].kept_ms == 300
    assert [word.text for word in kept_words(cut, talk)] == ["one", "two", "three"]
    assert apply_edit(cut, SetPause(before=1, to_ms=None), context_of(talk)) == document


def test_a_pause_at_a_join_can_be_made_longer_than_its_gaps_with_room_tone():
    talk = talk_of("one two three four", gap_ms=60)
    cut = apply_edit(new_quote(context_of(talk), 0, 3), StrikeWords(first=1, last=2), context_of(talk))
    longer = apply_edit(cut, SetPause(before=3, to_ms=400), context_of(talk))
    (pause,) = [one for one in pauses(longer, talk) if one.join]
    assert abs(pause.kept_ms - 400) <= 20
    assert [word.text for word in kept_words(longer, talk)] == ["one", "four"]
    (hushed,) = longer.hushed
    assert hushed.start_ms == talk.word(0).end_ms + 60
    assert hushed.end_ms <= talk.word(2).end_ms
    shorter = apply_edit(longer, SetPause(before=3, to_ms=60), context_of(talk))
    assert shorter.hushed == ()


@given(talks(), st.data())
def test_a_pause_becomes_as_long_as_was_asked_and_no_word_is_touched(talk: Talk, data: st.DataObject):
    document = new_quote(context_of(talk), 0, len(talk.words) - 1)
    found = pauses(document, talk)
    if not found:
        return
    pause = data.draw(st.sampled_from(found))
    wanted = data.draw(st.integers(0, pause.said_ms))
    cut = apply_edit(document, SetPause(before=pause.before, to_ms=wanted), context_of(talk))
    assert kept_words(cut, talk) == kept_words(document, talk)
    kept = next((one.kept_ms for one in pauses(cut, talk) if one.before == pause.before), 0)
    assert abs(kept - wanted) <= 20
    for word in talk.words:
        assert all(hole.end_ms <= word.start_ms or word.end_ms <= hole.start_ms for hole in cut.struck)


# ---- Striking by rule


def struck_by(line: str, name: str, **more: object) -> list[str]:
    document, talk = cut_of(line)
    return [one.text for one in strikes(document, talk, Rule(name=name, **more))]  # type: ignore[arg-type]


def test_fillers_are_found_where_they_stand_by_themselves():
    assert struck_by("So, um, you know, there is no secret.", "fillers") == ["um,", "you know,"]
    assert struck_by("Do you know the kind of lamp I mean?", "fillers") == []
    assert struck_by("It was, sort of, an um accident.", "fillers") == ["sort of,", "um"]


def test_stammers_and_repeated_starts_are_found_but_not_what_is_doubled_on_purpose():
    assert struck_by("The the lamp was very very old.", "stammers") == ["The"]
    assert struck_by("We lit the lan- lantern at dusk.", "stammers") == ["lan-"]
    assert struck_by("I went to, I went to the harbour.", "repeats") == ["I went to,"]
    assert struck_by("Keep it. Keep it.", "repeats") == []


def test_interjections_are_short_sentences_of_one_speaker():
    said = "<Ada> I walked all night. <Ben> Oh no. <Ada> And then the bell rang by itself. <Ben> Nobody believed it when I told them."
    assert struck_by(said, "interjections", speaker="Ben") == ["Oh no."]


def test_long_pauses_are_counted_with_what_they_gain():
    document, talk = cut_of("One thing. {2} Another thing.")
    (one,) = strikes(document, talk, Rule(name="pauses", over_ms=800, to_ms=300))
    said = talk.word(2).start_ms - talk.word(1).end_ms
    assert abs(one.gain_ms - (said - 300)) <= 20
    cut = apply_edit(document, StrikeByRule(rule=Rule(name="pauses", over_ms=800, to_ms=300)), context_of(talk))
    assert total_ms(kept_spans(document)) - total_ms(kept_spans(cut)) == one.gain_ms
    assert describe_edit(
        document, StrikeByRule(rule=Rule(name="pauses", over_ms=800, to_ms=300)), context_of(talk)
    ) == (f"Struck long pauses by rule: 1, {one.gain_ms / 1000:.1f} s")


def test_places_can_be_excepted_from_a_rule():
    document, talk = cut_of("Um, one. Uh, two. Er, three.")
    found = strikes(document, talk, Rule(name="fillers"))
    cut = apply_edit(document, StrikeByRule(rule=Rule(name="fillers"), but=(found[1].id,)), context_of(talk))
    assert [word.text for word in kept_words(cut, talk)] == ["one.", "Uh,", "two.", "three."]
    with pytest.raises(EditRefused, match="nothing of that kind"):
        apply_edit(cut, StrikeByRule(rule=Rule(name="fillers"), but=(found[1].id,)), context_of(talk))
