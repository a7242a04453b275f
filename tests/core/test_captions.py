"""Which words make a cue, how they break, when they show; and what the captions say after they were corrected."""

import itertools
from fractions import Fraction
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nimble_quote.core.captions import dividing
from nimble_quote.core.captions.cues import Cue
from nimble_quote.core.captions.dividing import Atom, Division, Room, divided
from nimble_quote.core.captions.fixed import Fixed
from nimble_quote.core.captions.making import Added, Letters, make_cues
from nimble_quote.core.captions.timing import Clip
from nimble_quote.core.captions.words import CaptionWord, corrected, in_pieces, shown_text
from nimble_quote.core.document import CaptionLook, Speakers, WordCorrection
from nimble_quote.formats.languages import language
from tests.shipped import LETTERING, STYLES
from tests.strategies import WORDS
from tests.talks import talk_of

RATE = Fraction(25)
TALL, WIDE = (1080, 1920), (1920, 1080)
NOTHING = Fixed(breaks={}, shifts_in={}, shifts_out={}, marks=())


def spoken(text: str, word_ms: int = 250, gap_ms: int = 50, speakers: str = "") -> list[CaptionWord]:
    talk = talk_of(text, word_ms=word_ms, gap_ms=gap_ms, start_ms=0)
    who = [int(one) for one in speakers] or [0] * len(talk.words)
    return [
        CaptionWord(text=w.text, start_ms=w.start_ms, end_ms=w.end_ms, index=w.index, after_join=False, speaker=one)
        for w, one in zip(talk.words, who, strict=True)
    ]


def letters(style: str = "quay", output: tuple[int, int] = TALL, code: str = "en", **look: object) -> Letters:
    return Letters(
        look=STYLES[style].look.with_changes(look), output=output, shape="wide" if output[0] > output[1] else "tall", lettering=LETTERING, language=language(code), across=0.86
    )  # fmt: skip


def cues(text: str, style: str = "quay", fixed: Fixed = NOTHING, **told: int) -> list[Cue]:
    words = spoken(text, **told)
    clip = Clip(rate=RATE, frames=int(words[-1].end_ms * RATE / 1000) + 60)
    return list(make_cues(words, fixed, letters(style), clip).cues)


def said(made: list[Cue]) -> list[str]:
    return [" / ".join(cue.line_texts) for cue in made]


def test_cues_and_lines_end_where_sense_does():
    assert said(cues("There is no secret. Keep the wick short, and there will be a light on when they come.")) == [
        "There is no secret.",
        "Keep the wick short,",
        "and there will be a light / on when they come.",
    ]


@pytest.mark.parametrize(
    ("text", "apart"),
    [
        ("I was given the small pair of scissors by the old keeper there", ("the", "small")),
        ("and the lamps were lit by Maren Tolley in the dark of winter", ("Maren", "Tolley")),
        ("it took all of thirty one years to learn it from the keeper", ("thirty", "one")),
        ("we burned about 40 litres of oil on a very long winter night", ("40", "litres")),
    ],
)
def test_what_belongs_together_is_not_parted_at_the_end_of_a_line(text: str, apart: tuple[str, str]):
    for style in ("quay", "print"):
        lines = [line for cue in cues(text, style) for line in cue.line_texts]
        assert any(" ".join(apart) in line for line in lines)


def test_what_fits_one_line_stays_on_one():
    assert said(cues("Keep the wick")) == ["Keep the wick"]


def test_another_speaker_begins_a_new_cue():
    words = spoken("Do you oil it? Every single day.", speakers="0000111")
    clip = Clip(rate=RATE, frames=100)
    assert said(list(make_cues(words, NOTHING, letters(), clip).cues)) == ["Do you oil it?", "Every single day."]
    dashed = letters(speakers=Speakers(mark="dash").model_dump())
    assert said(list(make_cues(words, NOTHING, dashed, clip).cues)) == ["– Do you oil it?", "– Every single day."]
    named = letters(speakers=Speakers(mark="name").model_dump())
    made = make_cues(words, NOTHING, named, clip, names=("Ivo", "Sanna")).cues
    assert said(list(made)) == ["Ivo: Do you oil it?", "Sanna: Every single day."]


def test_limits_are_a_shapes_or_a_languages_where_a_look_says_so():
    usual = STYLES["quay"].look.limits
    short, shorter = (usual.model_copy(update={"line_characters": longest}) for longest in (20, 14))
    own = [
        {"shape": "wide", "limits": short.model_dump()},
        {"language": "de", "limits": shorter.model_dump()},
    ]
    longest = {
        (output, code): letters(output=output, code=code, limits_in=own).limits.line_characters
        for output in (TALL, WIDE)
        for code in ("en", "de")
    }
    # Told for the shape, it is not made longer for being wide; told for the language alone, it is.
    assert longest == {(TALL, "en"): 26, (WIDE, "en"): 20, (TALL, "de"): 14, (WIDE, "de"): 20}
    both = [*own, {"shape": "wide", "language": "de", "limits": usual.model_dump()}]
    assert letters(output=WIDE, code="de", limits_in=both).limits.line_characters == 26
    assert letters(code="de", limits_in=[{"limits": short.model_dump()}]).limits == usual, "of no shape and no language"


def test_a_wide_shape_has_longer_lines_but_for_styles_of_one_line():
    text = "Keep the wick short, and there will be a light on when they come home to it."
    words = spoken(text)
    clip = Clip(rate=RATE, frames=400)
    tall, wide = (make_cues(words, NOTHING, letters(output=size), clip).cues for size in (TALL, WIDE))
    assert max(len(line) for cue in tall for line in cue.line_texts) <= 26
    assert 26 < max(len(line) for cue in wide for line in cue.line_texts) <= 36
    assert letters("spark", WIDE).limits == STYLES["spark"].look.limits


WRITTEN = st.lists(
    st.tuples(st.sampled_from(WORDS), st.integers(40, 900), st.sampled_from([0, 30, 500, 1200])), max_size=40
)


@settings(max_examples=60)
@given(WRITTEN, st.sampled_from(sorted(STYLES)), st.sampled_from([TALL, WIDE]))
def test_cues_hold_every_word_once_keep_the_limits_and_stand_apart(
    told: list[tuple[str, int, int]], style: str, output: tuple[int, int]
):
    at, words = 0.0, []
    for index, (text, length, gap) in enumerate(told):
        words.append(CaptionWord(text=text, start_ms=at, end_ms=at + length, index=index, after_join=False))
        at += length + gap
    frames = int(at * RATE / 1000) + 1
    set_in = letters(style, output)
    made = make_cues(words, NOTHING, set_in, Clip(rate=RATE, frames=frames)).cues
    assert [w.index for cue in made for w in cue.words] == [w.index for w in words]
    assert all(a.end_frame <= b.first_frame for a, b in itertools.pairwise(made))
    assert all(0 <= cue.first_frame < cue.end_frame <= frames for cue in made)
    for cue in made:
        assert len(cue.lines) <= set_in.limits.lines
        for line in cue.lines:
            text = " ".join(word.text for word in line)
            assert len(line) == 1 or len(text) <= set_in.limits.line_characters
            assert len(line) == 1 or set_in.width(text) <= set_in.room.line * 1.01
        marks = [(w.first_frame, w.end_frame) for w in cue.words]
        assert marks[0][0] == cue.first_frame
        assert all(a[1] == b[0] for a, b in itertools.pairwise(marks))


ATOMS = st.lists(
    st.builds(
        Atom, width=st.floats(0.5, 6), space=st.just(0.25), characters=st.integers(1, 12), start_ms=st.just(0.0),
        end_ms=st.integers(60, 900).map(float), binding=st.floats(-1.2, 1.2), after_join=st.booleans(),
        fixed=st.sampled_from(["", "", "", "", "cue", "line", "join"]),
    ),
    min_size=1, max_size=9,
)  # fmt: skip


@settings(max_examples=150, deadline=None)
@given(ATOMS, st.sampled_from(["quay", "spark", "print"]))
def test_dividing_is_as_cheap_as_trying_every_way(told: list[Atom], style: str):
    at, atoms = 0.0, []
    for one in told:
        atoms.append(one._replace(start_ms=at, end_ms=at + one.end_ms))
        at += one.end_ms + 40
    room = Room(limits=STYLES[style].look.limits, line=letters(style).room.line)
    found = divided(atoms, room)
    assert [place for one in found for place in range(one.first, one.end)] == list(range(len(atoms)))
    joined = any(one.fixed == "join" for one in atoms)
    if not joined:
        assert _price(atoms, found, room) == pytest.approx(_cheapest(atoms, room), abs=1e-9)
    for one in found:
        inner = [atoms[place].fixed for place in range(one.first, one.end - 1)]
        assert "cue" not in inner
        assert one.end == len(atoms) or atoms[one.end - 1].fixed != "join"


def _price(atoms: list[Atom], ways: list[Division], room: Room) -> float:
    total = 0.0
    for one in ways:
        last = atoms[one.end - 1]
        ends_all = one.end == len(atoms)
        # A piece that is divided by itself ends with nothing to bind to.
        parted = not ends_all and dividing._parted(last, atoms[one.end])
        total += dividing._CUE + (0 if ends_all or parted else dividing._ending(last))
        total += sum(dividing._inside(a, b) for a, b in pairwise(atoms[one.first : one.end]))
        following = None if ends_all else atoms[one.end].start_ms
        total += dividing._hurry(dividing.Piece(atoms, room), one.first, one.end, following, room.limits)
        edges = (one.first, *one.line_ends)
        for a, b in pairwise(edges):
            if b < one.end and atoms[b - 1].fixed != "line":
                width = [dividing.Piece(atoms, room).width(x, y) for x, y in pairwise(edges)]
                at = edges.index(a)
                uneven = (width[at] - width[at + 1]) / room.line
                total += dividing._LINE + dividing._LINE_BINDING * atoms[b - 1].binding + dividing._UNEVEN * uneven**2
    return total


def _cheapest(atoms: list[Atom], room: Room) -> float:
    """The least price of all ways there are to divide atoms."""
    best = float("inf")
    for kinds in itertools.product("-lc", repeat=len(atoms) - 1):
        ways = _way(atoms, kinds, room)
        if ways is not None:
            best = min(best, _price(atoms, ways, room))
    return best


def _way(atoms: list[Atom], kinds: tuple[str, ...], room: Room) -> list[Division] | None:
    out, first, lines = [], 0, []
    for place in range(1, len(atoms) + 1):
        kind = "c" if place == len(atoms) else kinds[place - 1]
        fixed = atoms[place - 1].fixed
        if place < len(atoms):
            wrong = (fixed == "cue" and kind != "c") or (fixed == "line" and kind == "-")
            if wrong or (dividing._parted(atoms[place - 1], atoms[place]) and kind != "c"):
                return None
        if kind == "l":
            lines.append(place)
        if kind == "c":
            ends = (*lines, place)
            if not _possible(atoms, first, ends, room):
                return None
            out.append(Division(first, place, ends))
            first, lines = place, []
    return out


def _possible(atoms: list[Atom], first: int, ends: tuple[int, ...], room: Room) -> bool:
    last = ends[-1]
    if len(ends) > room.limits.lines:
        return False
    if last - first > 1 and atoms[last - 1].end_ms - atoms[first].start_ms > room.limits.longest_ms:
        return False
    if not all(dividing._fits(dividing.Piece(atoms, room), a, b) for a, b in pairwise((first, *ends))):
        return False
    # No break is made that is not needed: what fits one line stands on one.
    free = [(a, b) for a, b in pairwise((first, *ends))]
    for (a, b), (_, c) in pairwise(free):
        if (
            atoms[b - 1].fixed != "line"
            and dividing._fits(dividing.Piece(atoms, room), a, last if c == last else c)
            and c == last
        ):
            return False
    return True


def test_a_cue_shows_a_moment_before_it_is_said_and_a_moment_after():
    (cue,) = cues("| It burns.", word_ms=500)
    assert cue.first_frame == 23
    assert cue.end_frame == 58


def test_a_short_gap_is_closed_and_a_long_one_left():
    near = cues("It burns. Then it goes.", word_ms=400, gap_ms=300)
    assert near[0].end_frame == near[1].first_frame
    far = cues("It burns. | | Then it goes.", word_ms=400)
    assert far[1].first_frame - far[0].end_frame > 12


def test_no_cue_hangs_over_a_cut_of_the_picture_by_a_few_frames():
    words = spoken("It burns all night. | | Then it goes out.", word_ms=400)
    held = make_cues(words, NOTHING, letters(), Clip(rate=RATE, frames=200)).cues[0].end_frame
    cut = held - 3
    made = make_cues(words, NOTHING, letters(), Clip(rate=RATE, frames=200, cuts=(cut,))).cues
    assert made[0].end_frame == cut
    begins = made[1].first_frame
    snapped = make_cues(words, NOTHING, letters(), Clip(rate=RATE, frames=200, cuts=(begins - 1,))).cues
    assert snapped[1].first_frame == begins - 1


def test_times_by_hand_hold_and_never_reach_into_the_cue_beside():
    text = "It burns all night. Then it goes out."
    plain = cues(text, word_ms=400)
    late = cues(text, word_ms=400, fixed=Fixed(breaks={4: "cue"}, shifts_in={4: 200}, shifts_out={3: -300}, marks=()))
    assert late[1].first_frame == round((4 * 450 + 200) * 25 / 1000)
    assert late[0].end_frame == round((3 * 450 + 400 - 300) * 25 / 1000)
    early = cues(text, word_ms=400, fixed=Fixed(breaks={4: "cue"}, shifts_in={4: -5000}, shifts_out={}, marks=()))
    assert early[0].end_frame <= early[1].first_frame
    assert early[0].end_frame > early[0].first_frame
    assert plain[0].end_frame <= plain[1].first_frame


def test_a_cue_that_was_put_in_takes_its_time_and_no_other():
    words = spoken("It burns. | | | Then it goes.", word_ms=400)
    laugh = Added(id=3, text="[laughter]", start_ms=1500, end_ms=2600)
    made = make_cues(words, NOTHING, letters(), Clip(rate=RATE, frames=200), [laugh]).cues
    assert said(list(made)) == ["It burns.", "[laughter]", "Then it goes."]
    assert (made[1].added, made[1].first_frame, made[1].end_frame) == (3, 38, 65)
    assert all(a.end_frame <= b.first_frame for a, b in pairwise(made))


def test_words_written_together_break_between_words_and_have_no_spaces():
    one = CaptionWord(
        text="今日はとてもいい天気ですねそして海岸まで歩いて行きました",
        start_ms=0,
        end_ms=6000,
        index=0,
        after_join=False,
    )
    pieces = in_pieces(one, lambda text: LETTERING.pieces(text, "ja"))
    assert "".join(piece.text for piece in pieces) == one.text
    assert pieces[-1].end_ms == pytest.approx(6000)
    made = make_cues(pieces, NOTHING, letters(code="ja"), Clip(rate=RATE, frames=200)).cues
    assert "".join(line for cue in made for line in cue.line_texts) == one.text
    assert all(len(line) <= 13 for cue in made for line in cue.line_texts)


def test_a_look_that_can_t_be_changed_so_stays():
    look = STYLES["quay"].look
    assert look.with_changes({"size": 40}) == look
    assert look.with_changes({"plate": None}).plate is None
    assert CaptionLook.model_validate(look.model_dump(mode="json")) == look


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
