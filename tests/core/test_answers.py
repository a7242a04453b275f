"""The first answer for each stretch of a cut, in each shape, and what a person then chooses."""

from fractions import Fraction

import pytest

from nimble_quote.core.assembly import assemble
from nimble_quote.core.context import Context, Shot, Sight
from nimble_quote.core.cutting.kept import kept_spans
from nimble_quote.core.document import QuoteDocument, Version
from nimble_quote.core.edits import (
    AddRest,
    AddVersion,
    Edit,
    EditRefused,
    FineShot,
    FrameShot,
    FramingChange,
    GiveFraming,
    JoinShot,
    PartShot,
    PlaceWindow,
    RemoveRest,
    ResetFraming,
    ShareFraming,
    StrikeSpans,
    TakeFraming,
    TimeRest,
    apply_edit,
)
from nimble_quote.core.framing.following import Track
from nimble_quote.core.framing.framed import FramedShot
from nimble_quote.core.framing.layouts import cameras_of
from nimble_quote.core.framing.set_ups import find_set_ups
from nimble_quote.core.framing.versions import framed_shots
from nimble_quote.core.framing.views import view_at
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span
from nimble_quote.core.transcript.words import Sentence, Word
from tests.shipped import CATALOGUE, DESTINATIONS, LETTERING
from tests.sights import demo_context
from tests.talks import HD, face_at, track_of

TALL, SQUARE, WIDE, PORTRAIT = "tall-60", "square-60", "wide-140", "portrait-60"
KETTLES, CHAPEL, BARRELS = (demo_context(name) for name in ("two-kettles", "keep-the-wick-short", "rain-barrels"))


def span(start_ms: int, end_ms: int) -> Span:
    return Span(start_ms=start_ms, end_ms=end_ms)


def quote(start_ms: int, end_ms: int, *destinations: str) -> QuoteDocument:
    versions = tuple(Version(destination=one) for one in destinations or (TALL, SQUARE, PORTRAIT, WIDE))
    return QuoteDocument(title="A quote", span=span(start_ms, end_ms), versions=versions)


def shown(document: QuoteDocument, context: Context, destination: str = TALL) -> list[FramedShot]:
    kept = kept_spans(document, destination)
    return list(framed_shots(document, context, context.sight.size, DESTINATIONS[destination], kept))


def edited(document: QuoteDocument, context: Context, *edits: Edit) -> QuoteDocument:
    for edit in edits:
        document = apply_edit(document, edit, context)
    return document


def choose(at_ms: int | None = None, destination: str | None = None, **change: object) -> Edit:
    return FrameShot(at_ms=at_ms, destination=destination, change=FramingChange.model_validate(change))


def scene(*faces: float, speakers: str = "AB", size: float = 0.1, seconds: int = 20) -> Context:
    """A shot with faces at some x, and a talk of which each speaker says a sentence in turn."""
    words = [Word(index=n, text="word", start_ms=n * 500, end_ms=n * 500 + 450) for n in range(seconds * 2)]
    each = len(words) // len(speakers)
    sentences = [Sentence(first=n * each, end=(n + 1) * each, speaker=one) for n, one in enumerate(speakers)]
    talk = Talk(words=words, sentences=sentences, duration_ms=seconds * 1000)
    tracks = [
        track_of([face_at(at, x, size=size) for at in range(0, seconds * 1000, 500)], subject=n)
        for n, x in enumerate(faces)
    ]
    names = {n: "AB"[n] for n in range(len(faces)) if n < 2}
    sight = Sight(size=(1920, 1080), shots=[Shot(span=span(0, seconds * 1000))], tracks=tracks, names=names)
    return Context(talk=talk, catalogue=CATALOGUE, sight=sight, lettering=LETTERING)


def test_the_podcast_is_framed_on_who_speaks_shot_by_shot_and_never_moves():
    document = quote(1000, 60_000)
    tall = shown(document, KETTLES)
    assert [one.says for one in tall][:4] == [
        "Ivo, medium, still", "Sanna, close, still", "Ivo, close, still", "Sanna, close, still",
    ]  # fmt: skip
    for destination in (TALL, SQUARE, PORTRAIT, WIDE):
        framed = shown(document, KETTLES, destination)
        assert sum(one.moves for one in framed) == 0
        assert all(one.heads_inside == 1.0 for one in framed)
        assert all(one.doubts == () for one in framed)


def test_two_who_both_speak_in_one_shot_are_stacked_where_one_window_does_not_hold_them():
    document = quote(68_000, 73_500)
    assert shown(document, KETTLES)[-1].says == "both, stacked"
    assert shown(document, KETTLES, WIDE)[-1].name == "together"
    near = scene(0.42, 0.50, size=0.05)
    assert shown(quote(0, 19_000), near)[0].name == "together", "they stand close enough for one window"
    (beside,) = shown(quote(0, 19_000), scene(0.05, 0.85), SQUARE)
    assert beside.name == "stacked"


def test_of_two_who_are_seen_the_one_who_speaks_is_framed_and_doubt_is_told_where_that_is_unsure():
    one = scene(0.2, 0.7, speakers="BBBB")
    assert (shown(quote(0, 19_000), one)[0].subjects, shown(quote(0, 19_000), one)[0].doubts) == ((1,), ())
    unknown = Context(
        talk=one.talk, catalogue=CATALOGUE, lettering=LETTERING, sight=Sight(size=(1920, 1080), shots=one.sight.shots, tracks=one.sight.tracks)
    )  # fmt: skip
    (framed,) = shown(quote(0, 19_000), unknown)
    assert framed.name == "stacked"
    assert [(doubt.code, doubt.says) for doubt in framed.doubts] == [("who-speaks", "two people, who speaks is unsure")]
    chosen = edited(quote(0, 19_000), unknown, choose(500, subjects=(0,)))
    assert shown(chosen, unknown)[0].doubts == ()


def test_the_chapel_is_followed_with_few_moves_that_keep_the_head_inside():
    (framed,) = shown(quote(1000, 440_000), CHAPEL)
    assert framed.says == f"follows Maren, {framed.moves} moves"
    assert 8 <= framed.moves <= 15
    assert framed.heads_inside is not None
    assert framed.heads_inside > 0.995
    (wide,) = shown(quote(1000, 440_000), CHAPEL, WIDE)
    assert (wide.moves, wide.closeness < 1) == (0, True), "a shape that loses nothing shows the picture as it is"


def test_a_head_in_the_corner_is_a_webinar_with_its_slide_above():
    document = quote(12_000, 60_000)
    assert [shown(document, BARRELS, one)[0].name for one in (TALL, SQUARE, PORTRAIT, WIDE)] == [
        "slide", "slide", "slide", "one",
    ]  # fmt: skip
    boxes = [panel.box for panel in assemble(document, BARRELS, _facts(BARRELS), DESTINATIONS[TALL]).picture[0].panels]
    (_, top, width, height), (_, lower, _, _) = boxes
    assert (width, height) == (1080, 608), "the slide is whole, and as wide as can be"
    assert top + height < lower


def _facts(context: Context) -> object:
    return HD.model_copy(update={"width": context.sight.size[0], "height": context.sight.size[1]})


def test_where_nobody_is_found_the_whole_picture_is_shown_and_said_to_be_doubtful():
    empty = scene()
    (framed,) = shown(quote(0, 19_000), empty)
    assert (framed.says, [one.code for one in framed.doubts]) == ("whole picture", ["nothing"])
    (wide,) = shown(quote(0, 19_000), empty, WIDE)
    assert (wide.name, wide.doubts) == ("one", ()), "nothing is lost there"
    fine = edited(quote(0, 19_000), empty, FineShot(at_ms=500, codes=("nothing",)))
    assert shown(fine, empty)[0].doubts == ()
    again = edited(fine, empty, FineShot(at_ms=500, codes=()))
    assert again == quote(0, 19_000)


def test_somebody_who_passes_by_and_a_small_face_in_the_audience_are_not_framed():
    context = scene(0.3, speakers="A")
    passer = track_of([face_at(at, 0.1 + at / 20_000, size=0.1) for at in range(8000, 9500, 500)], subject=5)
    crowd = track_of([face_at(at, 0.9, size=0.02) for at in range(0, 20_000, 500)], subject=6)
    more = Context(
        talk=context.talk, catalogue=CATALOGUE,
        lettering=LETTERING,
        sight=Sight(size=(1920, 1080), shots=context.sight.shots, tracks=[*context.sight.tracks, passer, crowd], names={0: "A"}),
    )  # fmt: skip
    assert shown(quote(0, 19_000), more)[0].subjects == (0,)


def test_a_choice_serves_every_shape_and_one_shape_can_have_its_own():
    document = edited(quote(0, 19_000), scene(0.2, 0.7), choose(500, layout="whole"), choose(500, SQUARE, layout="one"))
    context = scene(0.2, 0.7)
    names = {one: shown(document, context, one)[0].name for one in (TALL, SQUARE, PORTRAIT)}
    assert names == {TALL: "whole", SQUARE: "one", PORTRAIT: "whole"}
    later = edited(document, context, choose(500, layout="stacked"))
    assert shown(later, context, SQUARE)[0].name == "stacked", "a decision for every shape is one for this too"
    added = edited(later, context, AddVersion(destination="tall-90"))
    assert shown(added, context, "tall-90")[0].name == "stacked"


def test_several_who_are_chosen_after_one_are_shown_together_or_in_tiles():
    context = scene(0.2, 0.7, speakers="AAAA")
    document = edited(quote(0, 19_000), context, choose(500, subjects=(1,), layout="one"))
    assert shown(document, context)[0].subjects == (1,)
    both = edited(document, context, choose(500, subjects=(1, 0)))
    assert [(one.name, one.subjects) for one in shown(both, context)] == [("stacked", (1, 0))]
    assert shown(both, context, WIDE)[0].name == "together"


def test_closeness_is_the_same_in_every_shape_and_takes_places_along():
    context = scene(0.4, speakers="A", size=0.06)
    close = edited(quote(0, 19_000), context, choose(500, closeness=1.5))
    for one in (TALL, SQUARE, WIDE):
        assert shown(close, context, one)[0].closeness == pytest.approx(1.5, abs=0.02)
    placed = edited(close, context, PlaceWindow(destination=TALL, at_ms=500, x=0.5))
    closer = edited(placed, context, choose(500, closeness=2.0))
    (framed,) = shown(closer, context)
    assert framed.closeness == pytest.approx(2.0, abs=0.02)
    assert view_at(cameras_of(framed.layout)[0], 500).x == 0.5


def test_too_close_is_told_by_how_much():
    context = scene(0.4, speakers="A", size=0.06)
    (framed,) = shown(edited(quote(0, 19_000), context, choose(500, closeness=2.3)), context, SQUARE)
    assert [one.code for one in framed.doubts] == ["enlarged"]
    assert framed.doubts[0].says.startswith("enlarged ")


def test_a_window_that_is_dragged_away_is_doubtful_and_stays_where_it_was_put():
    context = scene(0.2, speakers="A")
    document = edited(quote(0, 19_000), context, PlaceWindow(destination=TALL, at_ms=5000, x=0.8))
    (framed,) = shown(document, context)
    assert framed.says == "A, medium, placed by hand"
    assert [one.code for one in framed.doubts] == ["outside"]
    cut = edited(document, context, StrikeSpans(spans=(span(3000, 6000),)))
    assert shown(cut, context)[0].layout == framed.layout, "another cut leaves it there"
    back = edited(cut, context, ResetFraming(at_ms=500))
    assert shown(back, context)[0].doubts == ()
    everywhere = edited(quote(0, 19_000), context, PlaceWindow(destination=TALL, at_ms=5000, x=0.8, every_shape=True))
    xs = [view_at(cameras_of(shown(everywhere, context, one)[0].layout)[0], 500).x for one in (TALL, SQUARE, WIDE)]
    assert xs == [0.8, 0.8, 0.8]


def test_a_tile_dragged_in_every_shape_moves_no_window_that_shows_somebody_else():
    context = scene(0.2, 0.7)
    before = {one: shown(quote(0, 19_000), context, one)[0] for one in (TALL, SQUARE, WIDE)}
    document = edited(
        quote(0, 19_000), context, PlaceWindow(destination=TALL, at_ms=500, panel=1, x=0.9, every_shape=True)
    )
    xs = [view_at(camera, 500).x for camera in cameras_of(shown(document, context, SQUARE)[0].layout)]
    assert (len(xs), xs[1]) == (2, 0.9)
    assert xs[0] == view_at(cameras_of(before[SQUARE].layout)[0], 500).x
    assert shown(document, context, WIDE)[0] == before[WIDE], "one window has no second picture"


def test_a_new_rest_makes_a_move_and_without_it_the_window_stands_still_again():
    context = scene(0.2, speakers="A")
    document = edited(
        quote(0, 19_000), context, choose(500, layout="one"), AddRest(destination=TALL, at_ms=8000),
        PlaceWindow(destination=TALL, at_ms=9000, x=0.7),
    )  # fmt: skip
    (framed,) = shown(document, context)
    (camera,) = cameras_of(framed.layout)
    assert framed.moves == 1
    assert (view_at(camera, 6000).x, view_at(camera, 8000).x) == (pytest.approx(0.25, abs=0.05), 0.7)
    timed = edited(document, context, TimeRest(destination=TALL, at_ms=9000, from_ms=7600))
    assert view_at(cameras_of(shown(timed, context)[0].layout)[0], 7600).x == 0.7
    still = edited(document, context, RemoveRest(destination=TALL, at_ms=9000))
    assert shown(still, context)[0].moves == 0
    with pytest.raises(EditRefused, match="no other rest"):
        edited(still, context, RemoveRest(destination=TALL, at_ms=500))
    with pytest.raises(EditRefused, match="no such picture"):
        edited(document, context, AddRest(destination=TALL, at_ms=500, panel=2))


def test_one_sentence_is_enlarged_and_what_is_around_it_is_not():
    context = scene(0.4, speakers="A", size=0.06)
    document = edited(
        quote(0, 19_000), context, PartShot(at_ms=6000, to_ms=9000), choose(7000, closeness=2.0)
    )  # fmt: skip
    before, inside, after = shown(document, context)
    assert (inside.span, inside.closeness) == (span(6000, 9000), pytest.approx(2.0, abs=0.02))
    assert before.closeness == after.closeness < 1.5
    joined = edited(document, context, JoinShot(at_ms=7000), JoinShot(at_ms=9500))
    assert len(shown(joined, context)) == 1
    with pytest.raises(EditRefused, match="camera cut"):
        edited(joined, context, JoinShot(at_ms=500))
    with pytest.raises(EditRefused, match="parted here already"):
        edited(document, context, PartShot(at_ms=6100))


def test_the_framing_of_one_shot_is_given_to_its_like_and_reaches_no_other():
    document = quote(1000, 110_000)
    set_ups = find_set_ups(KETTLES.sight)
    assert [one.name for one in set_ups] == ["the wide", "Sanna’s close-up", "Ivo’s close-up"]
    sanna = [one for number in set_ups[1].shots if (one := KETTLES.sight.shots[number].span).start_ms < 105_000]
    first, *others = (one.start_ms + 100 for one in sanna)
    edits = choose(first, closeness=1.6), GiveFraming(at_ms=first, to_ms=tuple(others), what=("layout", "closeness"))
    framed = shown(edited(document, KETTLES, *edits), KETTLES)
    for one in framed:
        close = one.closeness > 1.5
        assert close == (one.span in sanna), (one.span, one.closeness)


def test_a_place_is_given_with_its_shape_and_whom_it_shows_only_where_they_are_seen():
    document = quote(1000, 60_000)
    ivo, sanna = 20_000, 30_000
    edits = (
        PlaceWindow(destination=TALL, at_ms=ivo, x=0.7),
        GiveFraming(at_ms=ivo, to_ms=(sanna,), what=("layout", "place", "closeness", "moves", "behind")),
    )
    after = edited(document, KETTLES, *edits)
    taker = next(one for one in shown(after, KETTLES) if one.span.holds(sanna))
    assert view_at(cameras_of(taker.layout)[0], sanna).x == 0.7
    assert taker.says.startswith("Sanna")
    assert taker.choice.subjects is None


def test_reset_gives_the_first_answer_back_for_a_shot_or_for_all():
    first = shown(quote(1000, 60_000), KETTLES)
    changed = edited(
        quote(1000, 60_000), KETTLES, choose(None, layout="whole"), choose(20_000, closeness=2),
        PlaceWindow(destination=TALL, at_ms=30_000, x=0.1),
    )  # fmt: skip
    one = edited(changed, KETTLES, ResetFraming(at_ms=20_000))
    (back,) = (shot for shot in shown(one, KETTLES) if shot.span.holds(20_000))
    assert back == next(shot for shot in first if shot.span.holds(20_000))
    assert shown(one, KETTLES)[0].name == "whole"
    assert shown(edited(changed, KETTLES, ResetFraming()), KETTLES) == first
    only = edited(changed, KETTLES, ResetFraming(destination=TALL))
    assert shown(only, KETTLES) == first
    assert shown(only, KETTLES, SQUARE)[0].name == "whole"


@pytest.mark.parametrize(
    ("edit", "why"),
    [
        (choose(500_000_000, layout="one"), "no picture at that moment"),
        (choose(20_000, subjects=(7,)), "Nobody is followed there"),
        (PlaceWindow(destination="tall-90", at_ms=20_000, x=0.4), "no version for that destination"),
        (AddRest(destination=TALL, at_ms=16_700), "no room for a move"),
        (TimeRest(destination=TALL, at_ms=20_000, from_ms=22_000, to_ms=21_000), "begin before it ends"),
    ],
)
def test_what_makes_no_sense_is_refused_with_the_reason(edit: Edit, why: str):
    with pytest.raises(EditRefused, match=why):
        edited(quote(1000, 60_000), KETTLES, edit)


def seen_as(size: tuple[int, int], shots: list[Span], tracks: list[Track], duration_ms: int = 20_000) -> Context:
    words = [Word(index=n, text="word", start_ms=n * 500, end_ms=n * 500 + 450) for n in range(duration_ms // 500)]
    talk = Talk(words=words, duration_ms=duration_ms, sentences=[Sentence(first=0, end=len(words), speaker="A")])
    sight = Sight(size=size, shots=[Shot(span=one) for one in shots], tracks=tracks, names={0: "A"})
    return Context(talk=talk, catalogue=CATALOGUE, sight=sight, lettering=LETTERING)


@pytest.mark.parametrize("size", [(1920, 1080), (1080, 1920), (3840, 2160), (640, 480), (1918, 802)])
@pytest.mark.parametrize("face", [(0.4, 0.3, 0.1), (0.0, 0.0, 0.6), (0.97, 0.9, 0.03), None], ids=str)
def test_windows_stay_inside_any_source_whoever_is_in_it(
    size: tuple[int, int], face: tuple[float, float, float] | None
):
    tracks = [track_of([face_at(at, *face) for at in range(0, 20_000, 400)])] if face else []
    context = seen_as(size, [span(0, 20_000)], tracks)
    document = quote(0, 19_000)
    facts = HD.model_copy(update={"width": size[0], "height": size[1], "rate": Fraction(60000, 1001)})
    for destination in (TALL, SQUARE, PORTRAIT, WIDE):
        assembly = assemble(document, context, facts, DESTINATIONS[destination])
        for run in assembly.picture:
            for panel in run.panels:
                for key in panel.keys:
                    one = key.window
                    assert min(one.x, one.y) >= -1e-9
                    assert max(one.x + one.width, one.y + one.height) <= 1 + 1e-9


def test_a_tall_recording_is_framed_down_the_picture_in_square_and_wide():
    context = seen_as(
        (1080, 1920), [span(0, 20_000)], [track_of([face_at(at, 0.4, 0.62) for at in range(0, 20_000, 400)])]
    )
    for destination in (SQUARE, WIDE):
        (framed,) = shown(quote(0, 19_000), context, destination)
        assert framed.heads_inside == 1
        assert view_at(cameras_of(framed.layout)[0], 500).y > 0.55
    (tall,) = shown(quote(0, 19_000), context)
    assert (tall.says.split(", ")[0], view_at(cameras_of(tall.layout)[0], 500).zoom) == ("A", 1.0)


def test_shots_of_one_frame_and_five_hundred_of_them_are_framed():
    shots = [span(at, at + 40) for at in range(0, 20_000, 40)]
    context = seen_as((1920, 1080), shots, [track_of([face_at(at, 0.3 + at / 50_000) for at in range(0, 20_000, 200)])])
    assembly = assemble(quote(0, 20_000), context, HD, DESTINATIONS[TALL])
    assert assembly.frames == sum(run.frames for run in assembly.picture) == 500
    assert len(shown(quote(0, 20_000), context)) == 500
    assert not any(one.moves for one in shown(quote(0, 20_000), context))


def test_another_quote_takes_a_framing_where_it_shows_the_same_set_ups():
    giver = edited(
        quote(1000, 60_000), KETTLES, choose(30_000, closeness=1.7), choose(20_000, TALL, layout="whole"),
        PlaceWindow(destination=SQUARE, at_ms=30_000, x=0.7),
    )  # fmt: skip
    take = TakeFraming(
        title="Theirs", framing=giver.framing, treatments={shape: one.framing for shape, one in giver.treatments.items()}
    )  # fmt: skip
    taker = edited(quote(61_000, 119_000), KETTLES, take)
    for one in shown(taker, KETTLES):
        assert (one.closeness > 1.6) == (_set_up(one.span) == 1), one.says
        assert (one.name == "whole") == (_set_up(one.span) == 2), one.says
    assert sum(one.name == "whole" for one in shown(taker, KETTLES)) >= 2
    square = [one for one in shown(taker, KETTLES, SQUARE) if _set_up(one.span) == 1]
    assert all(view_at(cameras_of(one.layout)[0], one.span.start_ms).x == 0.7 for one in square)
    with pytest.raises(EditRefused, match="Nothing was chosen"):
        edited(quote(61_000, 119_000), KETTLES, TakeFraming(title="Theirs", framing=quote(0, 100).framing))


def _set_up(shot: Span) -> int:
    number = [one.span for one in KETTLES.sight.shots].index(shot)
    return next(place for place, one in enumerate(find_set_ups(KETTLES.sight)) if number in one.shots)


def test_a_framing_of_one_shape_is_given_to_another():
    context = scene(0.4, speakers="A", size=0.06)
    document = edited(
        quote(0, 19_000), context, choose(500, TALL, closeness=1.6), PlaceWindow(destination=TALL, at_ms=500, x=0.3)
    )
    place = edited(document, context, ShareFraming(at_ms=500, destination=TALL, to=(SQUARE,), what=("place",)))
    before, after = shown(document, context, SQUARE)[0], shown(place, context, SQUARE)[0]
    assert view_at(cameras_of(after.layout)[0], 500).x == 0.3
    assert after.closeness == before.closeness, "as close as it was"
    both = edited(
        document, context, ShareFraming(at_ms=500, destination=TALL, to=(SQUARE, WIDE), what=("place", "closeness"))
    )
    for one in (SQUARE, WIDE):
        assert shown(both, context, one)[0].closeness == pytest.approx(1.6, abs=0.03)
    assert shown(both, context, PORTRAIT) == shown(document, context, PORTRAIT)
    whole = edited(
        document,
        context,
        choose(500, TALL, layout="whole"),
        ShareFraming(at_ms=500, destination=TALL, to=(SQUARE,), what=("layout",)),
    )
    assert shown(whole, context, SQUARE)[0].name == "whole"
