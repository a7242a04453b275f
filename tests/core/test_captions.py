import itertools
from fractions import Fraction

import pytest
from fontTools.ttLib import TTFont
from hypothesis import given, settings
from hypothesis import strategies as st

from nimble_quote.core.captions.linebreak import break_lines, width
from nimble_quote.core.captions.segment import segment
from nimble_quote.core.captions.timing import make_cues
from nimble_quote.core.captions.widths import text_width
from nimble_quote.core.captions.words import CaptionWord, corrected, shown_text
from nimble_quote.core.document import WordCorrection
from nimble_quote.settings import Settings
from tests.shipped import STYLES
from tests.strategies import WORDS
from tests.talks import talk_of

LAMPLIGHT = STYLES["lamplight"].limits
RATE = Fraction(25)
FILES = {
    "Lexend Bold": "Lexend_700Bold",
    "Atkinson Hyperlegible Bold": "AtkinsonHyperlegible_700Bold",
    "Nimble Serif SemiBold": "NimbleSerif_600SemiBold",
}


def spoken(text: str, word_ms: int = 250, gap_ms: int = 50) -> list[CaptionWord]:
    talk = talk_of(text, word_ms=word_ms, gap_ms=gap_ms, start_ms=0)
    return [
        CaptionWord(text=w.text, start_ms=w.start_ms, end_ms=w.end_ms, index=w.index, after_join=False)
        for w in talk.words
    ]


def lines(text: str, characters: int, most: int) -> list[str] | None:
    words = text.split()
    ends = break_lines(words, characters, most)
    if ends is None:
        return None
    return [" ".join(words[a:b]) for a, b in zip((0, *ends), ends, strict=False)]


def test_lines_are_even_and_break_at_commas():
    assert lines("Keep the wick short, and it will burn", 24, 2) == ["Keep the wick short,", "and it will burn"]
    assert lines("a light on when they come", 24, 2) == ["a light on", "when they come"]


def test_a_line_does_not_end_on_a_word_that_leans_on_the_next():
    assert lines("the biggest bit of the harbour", 18, 2) == ["the biggest bit", "of the harbour"]


def test_what_fits_one_line_stays_on_one():
    assert lines("Keep the wick", 18, 2) == ["Keep the wick"]


def test_words_that_do_not_fit_are_told():
    assert lines("one two three four five six seven", 10, 2) is None


def test_a_word_longer_than_a_line_stands_alone():
    assert lines("a lighthousekeeperlyness", 12, 2) == ["a", "lighthousekeeperlyness"]


@given(st.lists(st.sampled_from(WORDS), min_size=1, max_size=14), st.integers(8, 30), st.integers(1, 3))
def test_broken_lines_hold_every_word_within_the_limits(words: list[str], characters: int, most: int):
    ends = break_lines(words, characters, most)
    if ends is None:
        assert width(words) > characters
        return
    assert ends[-1] == len(words)
    assert len(ends) <= most
    for first, end in zip((0, *ends), ends, strict=False):
        assert end > first
        assert width(words[first:end]) <= characters or end - first == 1


def test_cues_end_with_sentences_and_clauses():
    words = spoken("There is no secret. | Keep the wick short, | and there will be a light on")
    found = [" ".join(w.text for w in words[a:b]) for a, b in segment(words, LAMPLIGHT)]
    assert found == ["There is no secret.", "Keep the wick short,", "and there will be a light on"]


@settings(max_examples=60)
@given(st.lists(st.tuples(st.sampled_from(WORDS), st.integers(40, 900), st.sampled_from([0, 30, 500])), max_size=40))
def test_cues_hold_every_word_once_and_keep_the_limits(said: list[tuple[str, int, int]]):
    at, words = 0.0, []
    for index, (text, length, gap) in enumerate(said):
        words.append(CaptionWord(text=text, start_ms=at, end_ms=at + length, index=index, after_join=False))
        at += length + gap
    frames = int(at * RATE / 1000) + 1
    for style in STYLES.values():
        cues = make_cues(tuple(words), style.limits, RATE, frames)
        assert [w.index for cue in cues for w in cue.words] == [w.index for w in words]
        assert all(a.end_frame <= b.first_frame for a, b in itertools.pairwise(cues))
        assert all(0 <= cue.first_frame < cue.end_frame <= frames for cue in cues)
        for cue in cues:
            assert len(cue.lines) <= style.limits.lines
            marks = [(w.first_frame, w.end_frame) for w in cue.words]
            assert marks[0][0] == cue.first_frame
            assert all(a[1] == b[0] for a, b in itertools.pairwise(marks))


def test_dividing_cues_is_as_cheap_as_trying_every_way():
    words = spoken("the lamp, is a light? I kept the oil, short. wick", gap_ms=200)
    from nimble_quote.core.captions import segment as module

    def price(ranges: list[tuple[int, int]]) -> float:
        return sum(
            module._end_price(words, b)
            + module._shape_price(words, a, b, LAMPLIGHT)
            + sum(module._inner_price(words[i], words[i + 1]) for i in range(a, b - 1))
            for a, b in ranges
        )

    def ways(start: int) -> list[list[tuple[int, int]]]:
        if start == len(words):
            return [[]]
        out = []
        for end in range(start + 1, len(words) + 1):
            characters = sum(len(word.text) + 1 for word in words[start:end]) - 1
            if end - start == 1 or module._allowed(words, start, end, characters, LAMPLIGHT):
                out += [[(start, end), *rest] for rest in ways(end)]
        return out

    assert price(segment(words, LAMPLIGHT)) == pytest.approx(min(price(way) for way in ways(0)))


def test_a_short_cue_is_held_and_a_short_gap_closed():
    words = spoken("Yes. | | No.", word_ms=120)
    first, second = make_cues(tuple(words), LAMPLIGHT, RATE, 100)
    assert (first.first_frame, first.end_frame) == (0, 18)
    assert second.first_frame == 54
    near = make_cues(tuple(spoken("It burns. Then it goes.", word_ms=400, gap_ms=300)), LAMPLIGHT, RATE, 200)
    assert near[0].end_frame == near[1].first_frame


def correct(text: str, to: str, earlier: tuple[WordCorrection, ...] = ()) -> list[tuple[str, str]]:
    talk = talk_of(text)
    by_ref = {w.ref: w.text for w in talk.words}
    return [(by_ref[c.word], c.text) for c in corrected(talk.words, to, earlier, talk)]


def test_only_the_word_that_was_misheard_is_corrected():
    assert correct("My name is Maren Tully, and", "My name is Maren Tolley, and") == [("Tully,", "Tolley,")]


def test_a_word_split_joined_added_or_dropped_keeps_the_times_of_the_rest():
    assert correct("by the lamp house now", "by the lamphouse now") == [("lamp", "lamphouse"), ("house", "")]
    assert correct("by the lamphouse now", "by the lamp house now") == [("lamphouse", "lamp house")]
    assert correct("keep wick short", "keep the wick short") == [("keep", "keep the")]
    assert correct("wick short", "keep wick short") == [("wick", "keep wick")]
    assert correct("um, I said", "I said") == [("um,", "")]


def test_a_correction_taken_back_is_forgotten():
    talk = talk_of("Maren Tully,")
    once = corrected(talk.words, "Maren Tolley,", (), talk)
    assert corrected(talk.words, "Maren Tully,", once, talk) == ()


@given(st.lists(st.sampled_from(WORDS), min_size=1, max_size=8), st.lists(st.sampled_from(WORDS), max_size=8))
def test_the_captions_say_exactly_what_was_typed(said: list[str], typed: list[str]):
    talk = talk_of(" ".join(said))
    mapped = {c.word: c.text for c in corrected(talk.words, " ".join(typed), (), talk)}
    assert " ".join(shown_text(w, mapped) for w in talk.words).split() == typed


@pytest.mark.parametrize("face", FILES)
def test_the_widths_are_those_of_the_faces_that_ship(face: str):
    font = TTFont(Settings().fonts / f"{FILES[face]}.ttf")
    characters, advances, em = font.getBestCmap(), font["hmtx"], font["head"].unitsPerEm
    text = "Keep the wick short, & it's 14 LAMPS (or 40)?"
    assert text_width(text, face) == pytest.approx(sum(advances[characters[ord(c)]][0] for c in text) / em, abs=0.02)
    assert font["name"].getDebugName(4) == face
    cell = font["OS/2"].usWinAscent + font["OS/2"].usWinDescent
    assert next(s.cell for s in STYLES.values() if s.font == face) == pytest.approx(cell / em, abs=0.001)


def test_letters_with_accents_and_other_scripts_have_a_width():
    assert text_width("é", "Lexend Bold") == text_width("e", "Lexend Bold")
    assert text_width("灯", "Lexend Bold") == 1.0
