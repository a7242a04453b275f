"""What stands over the picture: when it shows, where it stands in each shape, and as what."""

import random
from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.assembly import Assembly, PlacedLines, assemble
from nimble_quote.core.assembly.overlays.drawn import levels_of_wave, strips_of, strokes_of
from nimble_quote.core.assembly.overlays.places import AIR, Obstacle, Wanted, clear, stands, wished
from nimble_quote.core.assembly.overlays.texts import seconds_left
from nimble_quote.core.assembly.placed import PlacedBar, PlacedOverlay, PlacedPicture, PlacedStrokes, PlacedWave, Strip
from nimble_quote.core.caption_checks import Checked
from nimble_quote.core.catalogue import Picture
from nimble_quote.core.context import Context
from nimble_quote.core.destinations import Area
from nimble_quote.core.document import (
    At,
    Insert,
    Logo,
    Mark,
    NameStrap,
    Progress,
    QuoteDocument,
    SoundWave,
    TimeLeft,
    TitleLines,
    What,
)
from nimble_quote.core.edits import (
    AddOverlay,
    AddVersion,
    ChangeOverlay,
    ChooseFinish,
    Edit,
    EditRefused,
    HideOverlay,
    OrderOverlay,
    PlaceOverlay,
    RemoveOverlay,
    Shows,
    StrikeWords,
    TimeOverlay,
    apply_edit,
    new_quote,
)
from nimble_quote.core.edits.touching import go_together
from nimble_quote.core.finishes import Finish, items_of, overlays_with
from nimble_quote.core.overlay_checks import check_overlays
from nimble_quote.core.talk import Levels
from nimble_quote.core.transcript.words import Sentence
from tests.shipped import DESTINATIONS
from tests.talks import HD, context_of, talk_of

PICTURE = Picture(id=1, name="Lamp", width=400, height=200, see_through=True)
SOUND_ONLY = HD.model_copy(update={"width": 0, "height": 0})
SAID = "So people ask me, there is no secret. Keep the wick short. A long wick smokes and the glass goes black."


def quote(*edits: Edit) -> tuple[QuoteDocument, Context]:
    context = context_of(talk_of(SAID))
    context = replace(context, catalogue=context.catalogue.model_copy(update={"pictures": (PICTURE,)}))
    document = new_quote(context, 0, len(context.talk.words) - 1)
    for edit in edits:
        document = apply_edit(document, edit, context)
    return document, context


def shown(*edits: Edit, destination: str = "tall-60") -> tuple[PlacedOverlay, ...]:
    document, context = quote(*edits)
    return assemble(document, context, HD, DESTINATIONS[destination]).overlays


def added(what: What, **shows: object) -> AddOverlay:
    return AddOverlay(what=what, shows=Shows.model_validate(shows))


# --- places -------------------------------------------------------------------------------------------------------------


def area(x: float, y: float, width: float, height: float) -> Area:
    return Area(x=x, y=y, width=width, height=height, name="face")


boxes = st.builds(
    lambda x, y, w, h: area(x, y, min(w, 1 - x), min(h, 1 - y)),
    st.floats(0, 0.8), st.floats(0, 0.8), st.floats(0.05, 0.5), st.floats(0.05, 0.5),
)  # fmt: skip


@given(st.lists(boxes, max_size=5), st.floats(0.1, 0.6), st.floats(0.05, 0.4), st.floats(0.1, 0.9), st.floats(0.1, 0.9))
def test_where_any_place_is_free_one_is_found(taken: list[Area], width: float, height: float, x: float, y: float):
    wanted = Wanted(width=width, height=height, x=x, y=y)
    obstacles = [Obstacle(area=one) for one in taken]
    found = stands(wanted, obstacles)
    assert found.free == clear(found.area, obstacles)
    if not found.free:
        grid = [n / 40 for n in range(41)]
        inside = [(a, b) for a in grid for b in grid if 0.04 <= a <= 0.96 - width and 0.04 <= b <= 0.96 - height]
        wide = [area(max(0, o.x - AIR), max(0, o.y - AIR), o.width + 2 * AIR, o.height + 2 * AIR) for o in taken]
        free = [(a, b) for a, b in inside if not any(area(a, b, width, height).meets(one) for one in wide)]
        assert free == []


def test_a_box_stands_at_its_wish_or_as_near_as_is_free():
    wanted = Wanted(width=0.4, height=0.1, x=0.5, y=0.1)
    assert stands(wanted, []).area == area(0.3, 0.05, 0.4, 0.1).model_copy(update={"name": "overlay"})
    under = stands(wanted, [Obstacle(area=area(0.2, 0.0, 0.6, 0.2))]).area
    assert (round(under.x, 3), round(under.y, 3)) == (0.3, round(0.2 + AIR, 3)), "it goes down, and not aside"


def test_where_nothing_is_free_the_dearest_is_kept_clear():
    wanted = Wanted(width=0.9, height=0.5, x=0.5, y=0.3)
    face, other = area(0, 0, 1, 0.4), area(0, 0.6, 1, 0.4)
    low = stands(wanted, [Obstacle(area=face, weight=6), Obstacle(area=other, weight=1)])
    assert not low.free
    assert low.area.y + low.area.height > 0.6 + 1e-6
    assert low.area.y >= 0.4 - 1e-6


@pytest.mark.parametrize(
    ("wish", "middle"),
    [
        ("top", (0.5, 0.09)),
        ("bottom-left", (0.24, 0.91)),
        ("above-captions", (0.24, 0.7 - AIR - 0.05)),
        ("middle", (0.5, 0.5)),
    ],
)
def test_wishes(wish: str, middle: tuple[float, float]):
    assert wished(wish, 0.4, 0.1, 0.7, (0.04, 0.04)) == pytest.approx(middle)  # type: ignore[arg-type]


# --- texts --------------------------------------------------------------------------------------------------------------


def lines(found: PlacedOverlay) -> PlacedLines:
    assert isinstance(found, PlacedLines)
    return found


def test_a_title_stands_for_the_whole_clip_clear_of_captions_and_covered_areas():
    document, context = quote(added(TitleLines(text="Keep the wick short", second="Lamp-oil talk")))
    assembly = assemble(document, context, HD, DESTINATIONS["tall-60"])
    title, second = (lines(one) for one in assembly.overlays)
    assert (title.first_frame, title.end_frame) == (0, assembly.frames)
    assert title.lines == ("Keep the wick short",)
    assert second.look.size < title.look.size
    assert second.area.y == pytest.approx(title.area.y + title.area.height)
    assert title.free
    assert not any(covered.meets(title.area) for covered in assembly.destination.covered)
    assert title.area.y < 0.4


def test_a_title_is_made_smaller_before_a_line_is_too_wide_and_says_where_it_does_not_fit():
    long = "Lamps that burn all night and do not smoke, and what the keeper told me of them"
    (title,) = (lines(one) for one in shown(added(TitleLines(text=long))))
    assert len(title.lines) <= 3
    assert title.whole
    assert title.look.size < 0.06
    assert " ".join(title.lines) == long
    (broken,) = (lines(one) for one in shown(added(TitleLines(text="Donaudampfschifffahrtsgesellschaft" * 3))))
    assert not broken.whole


def test_a_look_of_its_own_is_kept_and_one_that_cannot_be_is_refused():
    red = TitleLines(text="Now", look={"colour": "#FF0000", "entrance": "pop"})
    (title,) = (lines(one) for one in shown(added(red)))
    assert (title.look.colour, title.look.entrance) == ("#FF0000", "pop")
    with pytest.raises(EditRefused, match="can't look like that"):
        shown(added(TitleLines(text="Now", look={"size": 9})))


def test_a_name_strap_says_who_speaks_above_the_captions():
    document, context = quote(added(NameStrap(role="Lamp keeper"), kind="start", length_ms=3000))
    talk = context.talk
    named = replace(
        context, talk=replace(talk, sentences=[Sentence(first=0, end=len(talk.words), speaker="Maren Tolley")])
    )
    name, role = (lines(one) for one in assemble(document, named, HD, DESTINATIONS["tall-60"]).overlays)
    assert (name.lines, role.lines) == (("Maren Tolley",), ("Lamp keeper",))
    assert role.area.y + role.area.height < 0.7
    assert name.look.alignment == "left"


def test_the_time_that_is_left_counts_down_by_the_second():
    (clock,) = shown(added(TimeLeft()))
    assert clock.kind == "clock"
    assert clock.times[0].frame == 0
    assert clock.times[-1].text == "0:01"
    rate = Fraction(25)
    told = {first: [(one.frame, one.text) for one in seconds_left(first, 75, 75, rate)] for first in (0, 30)}
    assert told == {0: [(0, "0:03"), (25, "0:02"), (50, "0:01")], 30: [(30, "0:02"), (50, "0:01")]}


# --- when ---------------------------------------------------------------------------------------------------------------


def test_what_stands_at_words_follows_the_cut_and_sleeps_without_them():
    at_words = added(TitleLines(text="Short"), kind="words", first=8, last=11)
    whole = lines(shown(at_words)[0])
    earlier = lines(shown(at_words, StrikeWords(first=0, last=3))[0])
    assert earlier.first_frame < whole.first_frame
    assert earlier.end_frame - earlier.first_frame == pytest.approx(whole.end_frame - whole.first_frame, abs=1)
    assert shown(at_words, StrikeWords(first=8, last=11)) == ()
    assert shown(at_words, HideOverlay(id=1, hidden=True)) == ()


def test_what_is_timed_placed_ordered_changed_and_removed():
    both = (added(TitleLines(text="One")), added(TitleLines(text="Two")))
    assert [lines(one).lines[0] for one in shown(*both, OrderOverlay(id=2, to=0))] == ["Two", "One"]
    (only,) = shown(*both, RemoveOverlay(id=1))
    assert only.item == 2
    timed = shown(*both, TimeOverlay(id=1, shows=Shows(kind="end", length_ms=1000)))[0]
    assert timed.end_frame - timed.first_frame == 25 or timed.end_frame - timed.first_frame == 30
    changed = shown(both[0], ChangeOverlay(id=1, what=TitleLines(text="Other")))
    assert lines(changed[0]).lines == ("Other",)
    for wrong in (
        RemoveOverlay(id=9),
        ChangeOverlay(id=1, what=Progress()),
        TimeOverlay(id=1, shows=Shows(kind="words")),
    ):
        with pytest.raises(EditRefused):
            shown(both[0], wrong)


def test_a_quotes_own_are_ordered_among_themselves_whatever_of_its_finish_is_otherwise():
    document, context = quote(added(TitleLines(text="One")), ChooseFinish(finish="quiet-title"))
    document = apply_edit(document, HideOverlay(id=1003, hidden=True), context)
    document = apply_edit(document, added(TitleLines(text="Two")), context)
    assert [one.id for one in document.overlays] == [1, 1003, 2]
    moved = apply_edit(document, OrderOverlay(id=1, to=1), context)
    assert [one.id for one in context.catalogue.overlays(moved)] == [1001, 1002, 1003, 2, 1]


def test_edits_of_two_things_go_together_and_none_with_another_finish():
    _, context = quote()
    first, second, chosen = (
        edit.touches(context)
        for edit in (HideOverlay(id=1001, hidden=True), HideOverlay(id=1002, hidden=True), ChooseFinish(finish=None))
    )
    assert go_together(first, second)
    assert not go_together(first, chosen)
    assert not go_together(chosen, added(TimeLeft()).touches(context))


def test_a_finish_keeps_where_its_things_were_put_by_hand():
    document, context = quote(added(TitleLines(text="Here")), PlaceOverlay(id=1, shape="tall", at=At(x=0.5, y=0.5)))
    (item,) = items_of(context.catalogue.overlays(document))
    finish = Finish(id="own-1", name="Mine", items=(item,))
    assert overlays_with(finish, ())[0].placed == {"tall": At(x=0.5, y=0.5)}


def test_a_place_by_hand_holds_in_its_shape_until_a_wish_for_all():
    edits = (AddVersion(destination="square-60"), added(TitleLines(text="Here")))
    by_hand = (*edits, PlaceOverlay(id=1, shape="tall", at=At(x=0.5, y=0.5)))
    placed = shown(*by_hand)[0].area
    assert placed.y + placed.height / 2 == pytest.approx(0.5)
    assert shown(*by_hand, destination="square-60")[0].area.y < 0.4
    assert shown(*by_hand, PlaceOverlay(id=1, wish="bottom"))[0].area.y != placed.y
    assert shown(*by_hand, PlaceOverlay(id=1, shape="tall"))[0].area == shown(*edits)[0].area


# --- drawn --------------------------------------------------------------------------------------------------------------


def test_progress_goes_along_an_edge_or_around():
    (bar,) = shown(added(Progress(edge="bottom", thickness=0.01)))
    assert isinstance(bar, PlacedBar)
    assert bar.strips == (Strip(x=0, y=1920 - 11, width=1080, height=11, side="left"),)
    around = strips_of(Progress(edge="around"), (1080, 1920))
    assert [one.side for one in around] == ["left", "top", "right", "bottom"]


def test_a_wave_moves_with_what_is_heard():
    document, context = quote(added(SoundWave(form="bars")))
    assembly: Assembly = assemble(document, context, HD, DESTINATIONS["tall-60"])
    (wave,) = assembly.overlays
    assert isinstance(wave, PlacedWave)
    loud = bytearray(2000)
    at = assembly.sound.speech[0].source_ms // 10
    loud[at + 100 : at + 140] = bytes([200]) * 40
    levels = Levels(from_ms=0, values=bytes(loud))
    heard = [
        list(bytes.fromhex(one)) for one in levels_of_wave(SoundWave(calm=0), assembly, levels, 0, assembly.frames)
    ]
    middle = np.array([row[len(row) // 2] for row in heard])
    when = np.flatnonzero(middle > 100) * wave.step_frames / float(assembly.rate)
    assert 0.9 <= when[0] <= 1.1
    assert when[-1] <= 1.5
    (line,) = levels_of_wave(SoundWave(form="line"), assembly, levels, 0, assembly.frames)
    assert len(bytes.fromhex(line)) == 96


def test_marks_are_drawn_where_the_picture_stands():
    points = (At(x=0.4, y=0.4), At(x=0.6, y=0.6))
    found = {
        form: shown(added(Mark(form=form, points=points)))[0]
        for form in ("arrow", "ring", "box", "underline", "freehand")
    }
    assert all(isinstance(one, PlacedStrokes) for one in found.values())
    assert len(found["arrow"].strokes) == 2
    assert len(found["box"].strokes[0]) == 5
    xs = [spot.x for spot in found["ring"].strokes[0]]
    assert (min(xs) + max(xs)) / 2 == pytest.approx(540, abs=1), "the middle of the picture is the middle of the window"
    document, context = quote(added(Mark(points=points)))
    assert assemble(document, context, SOUND_ONLY, DESTINATIONS["tall-60"]).overlays == ()
    panel = assemble(document, context, HD, DESTINATIONS["tall-60"]).picture[0].panels[0]
    ((start, tip), _) = strokes_of(Mark(points=points), panel, 0, 8)
    assert start.x < tip.x


def test_logos_stand_in_their_corner_on_even_pixels_and_pictures_over_halves():
    document, context = quote(added(Logo(picture=1)), added(Insert(picture=1, covers="half", comes="fade")))
    for destination in ("tall-60", "square-60", "wide-140"):
        logo, half = assemble(document, context, HD, DESTINATIONS[destination]).overlays
        assert isinstance(logo, PlacedPicture)
        assert isinstance(half, PlacedPicture)
        output = DESTINATIONS[destination].size
        assert not any(value % 2 for one in (logo, half) for value in (one.x_px, one.y_px, one.width_px, one.height_px))
        assert logo.x_px > output[0] / 2
        assert logo.width_px == pytest.approx(2 * logo.height_px, abs=2)
        assert half.width_px * half.height_px == output[0] * output[1] / 2
        assert half.fade_frames > 0


def test_a_picture_that_the_house_does_not_have_is_refused():
    with pytest.raises(EditRefused, match="no such picture"):
        apply_edit(quote()[0], added(Logo(picture=77)), context_of(talk_of(SAID)))


def test_what_stands_there_does_not_stand_on_one_another():
    dice = random.Random(5)
    whats = [TitleLines(text="Keep the wick short"), NameStrap(name="Maren"), TimeLeft(), SoundWave(height=0.08)]
    for _ in range(12):
        chosen = [added(one) for one in dice.sample(whats, dice.randint(2, 4))]
        for destination in ("tall-60", "square-60", "wide-140"):
            found = shown(*chosen, destination=destination)
            for number, one in enumerate(found):
                others = [other for other in found[number + 1 :] if other.item != one.item]
                assert not (one.free and any(other.free and other.area.meets(one.area) for other in others))


# --- checks -------------------------------------------------------------------------------------------------------------


def found(*edits: Edit, destination: str = "tall-60") -> dict[str, str]:
    document, context = quote(*edits)
    assembly = assemble(document, context, HD, DESTINATIONS[destination])
    return {one.check: one.says for one in check_overlays(assembly, Checked(context=context))}


def test_what_can_not_be_read_or_stands_on_something_is_told():
    title = added(TitleLines(text="Keep the wick short"))
    assert found(title, added(TimeLeft()), added(Progress())) == {}
    assert (
        "takes 1.4 s to read"
        in found(added(TitleLines(text="Keep the wick short"), kind="start", length_ms=500))["overlay-brief"]
    )
    assert "too small" in found(added(TitleLines(text="Short", look={"size": 0.021})))["overlay-small"]
    assert "at its smallest" in found(added(TitleLines(text="Wicktrimmer" * 12)))["overlay-cut"]
    on = found(title, PlaceOverlay(id=1, shape="tall", at=At(x=0.5, y=0.7)))
    assert on == {"overlay-on-captions": "“Keep the wick short” stands on the captions."}
    covered = found(title, PlaceOverlay(id=1, shape="tall", at=At(x=0.5, y=0.97)))
    assert list(covered) == ["overlay-on-covered"]


def test_what_was_put_on_captions_by_hand_is_placed_anew_by_its_button():
    document, context = quote(added(TitleLines(text="Keep")), PlaceOverlay(id=1, shape="tall", at=At(x=0.5, y=0.7)))
    assembly = assemble(document, context, HD, DESTINATIONS["tall-60"])
    (finding,) = check_overlays(assembly, Checked(context=context))
    assert finding.mend
    assert finding.overlay == 1
    mended = apply_edit(document, finding.mend, context)
    assert list(check_overlays(assemble(mended, context, HD, DESTINATIONS["tall-60"]), Checked(context=context))) == []


def test_the_time_left_has_room_for_all_its_digits():
    context = context_of(talk_of(" ".join(f"word{n}" for n in range(1800))))
    document = apply_edit(new_quote(context, 0, 1799), added(TimeLeft()), context)
    long = assemble(document, context, HD.model_copy(update={"duration_ms": 900_000}), DESTINATIONS["tall-60"])
    (minutes,) = long.overlays
    (seconds,) = shown(added(TimeLeft()))
    assert minutes.times[0].text == "12:01"  # type: ignore[union-attr]
    assert minutes.area.width > 1.15 * seconds.area.width
