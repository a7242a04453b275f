"""The cover, which is a clip's first frame, and the end card, which lasts beyond its cut."""

from dataclasses import replace
from itertools import pairwise

import pytest

from nimble_quote.core.assembly import RECORDING, Assembly, assemble, clip_ms, cut_ms
from nimble_quote.core.assembly.bookends import added_ms
from nimble_quote.core.assembly.captions import letters_for
from nimble_quote.core.assembly.overlays.cards import card_of, code_of, letters_on, pieces_of
from nimble_quote.core.assembly.placed import PlacedBar, PlacedCode, PlacedLines, PlacedPicture
from nimble_quote.core.caption_checks import Checked
from nimble_quote.core.captions.contrast import luminance, ratio
from nimble_quote.core.catalogue import Picture
from nimble_quote.core.context import Context
from nimble_quote.core.covers import CoverLook, cover_moment, cover_moments, in_order
from nimble_quote.core.document import (
    Cover,
    CoverPicture,
    EndCard,
    Music,
    Progress,
    QuoteDocument,
    SpeakingSound,
    TitleLines,
    What,
)
from nimble_quote.core.edits import (
    AddOverlay,
    AddVersion,
    ChangeOverlay,
    Edit,
    EditRefused,
    HideOverlay,
    SetSpeed,
    Shows,
    apply_edit,
    new_quote,
)
from nimble_quote.core.finishes import items_of
from nimble_quote.core.overlay_checks import check_overlays
from nimble_quote.core.preflight import preflight
from nimble_quote.core.timebase import Span
from tests.shipped import DESTINATIONS, LETTERING
from tests.talks import HD, context_of, face_at, talk_of

SAID = "So people ask me, there is no secret. Keep the wick short. A long wick smokes and the glass goes black."
WIDE = Picture(id=1, name="Lamp", width=1600, height=900)
LOGO = Picture(id=2, name="House", width=400, height=200, see_through=True)
TALL = DESTINATIONS["tall-60"]
SOUND_ONLY = HD.model_copy(update={"width": 0, "height": 0})


def quote(*edits: Edit, faces: tuple[int, ...] = ()) -> tuple[QuoteDocument, Context]:
    context = context_of(talk_of(SAID), faces=[face_at(at, 0.4, 0.2, 0.2) for at in faces])
    context = replace(context, catalogue=context.catalogue.model_copy(update={"pictures": (WIDE, LOGO)}))
    document = new_quote(context, 0, len(context.talk.words) - 1)
    for edit in edits:
        document = apply_edit(document, edit, context)
    return document, context


def added(what: What) -> AddOverlay:
    return AddOverlay(what=what, shows=Shows())


def shown(*edits: Edit, destination: str = "tall-60", faces: tuple[int, ...] = ()) -> Assembly:
    document, context = quote(*edits, faces=faces)
    return assemble(document, context, HD, DESTINATIONS[destination])


# --- the end card -------------------------------------------------------------------------------------------------------


def test_a_card_lasts_beyond_the_cut_and_nothing_before_it_moves():
    plain, carded = shown(), shown(added(EndCard(text="Hear it all", length_ms=2000)))
    assert carded.frames == plain.frames + 50
    assert (carded.card_frame, carded.cut_frames) == (plain.frames, plain.frames)
    assert carded.picture[:-1] == plain.picture
    assert carded.cue_tracks == plain.cue_tracks
    assert carded.sound.speech == plain.sound.speech
    last = carded.picture[-1]
    assert (last.source, last.first_frame, last.frames, last.behind.kind) == (None, plain.frames, 50, "colour")


def test_a_card_begins_under_the_last_words_where_it_is_to():
    plain, carded = shown(), shown(added(EndCard(text="Hear it all", length_ms=2000, under_ms=800)))
    assert carded.card_frame == plain.frames - 20
    assert carded.frames == plain.frames - 20 + 50
    assert sum(run.frames for run in carded.picture) == carded.frames
    assert carded.cut_picture[-1].end_frame == plain.frames - 20


def test_a_card_shorter_than_what_it_lies_under_loses_nothing_that_is_said():
    plain, carded = shown(), shown(added(EndCard(text="Hear it all", length_ms=1000, under_ms=5000)))
    assert carded.card_frame is not None
    assert carded.card_frame >= plain.frames // 2
    assert carded.frames == plain.frames


@pytest.mark.parametrize(("length", "under"), [(1000, 5000), (4000, 5000), (2000, 800), (3000, 0)])
def test_what_a_card_adds_is_told_alike_however_far_it_lies_under_the_cut(length: int, under: int):
    document, context = quote(added(EndCard(text="Hear it all", length_ms=length, under_ms=under)))
    cut = cut_ms(document, HD)
    assert clip_ms(document, context.catalogue, HD) - cut == pytest.approx(
        added_ms(document, context.catalogue, cut), abs=41
    )


def test_a_card_counts_in_every_length_that_is_told():
    document, context = quote(added(EndCard(text="Hear it all", length_ms=2500)))
    assert clip_ms(document, context.catalogue, HD) == cut_ms(document, HD) + 2520, "on the frames it is made of"
    assert added_ms(document, context.catalogue, cut_ms(document, HD)) == 2500
    hidden = apply_edit(document, HideOverlay(id=1, hidden=True), context)
    assert clip_ms(hidden, context.catalogue, HD) == cut_ms(document, HD)


def test_what_stands_over_the_clip_ends_where_the_card_begins_but_for_what_tells_its_length():
    assembly = shown(
        added(TitleLines(text="Wicks")), added(Progress()), added(EndCard(text="Hear it all", length_ms=2000))
    )
    title = next(one for one in assembly.overlays if one.item == 1)
    bar = next(one for one in assembly.overlays if isinstance(one, PlacedBar))
    assert (title.end_frame, bar.end_frame) == (assembly.card_frame, assembly.frames)


def test_a_card_stacks_its_pieces_inside_the_picture_in_every_shape():
    card = EndCard(
        text="Hear the whole talk", second="{title}", address="lamphouse.example/talks", code=True, picture=2
    )
    for destination in ("tall-60", "square-60", "wide-140"):
        assembly = shown(added(card), destination=destination)
        pieces = [one for one in assembly.overlays if one.item == 1]
        assert {type(one) for one in pieces} == {PlacedLines, PlacedCode, PlacedPicture}
        assert all(one.first_frame == assembly.card_frame and one.end_frame == assembly.frames for one in pieces)
        for one, other in pairwise(pieces):
            assert other.area.y >= one.area.y + one.area.height - 1e-9, "one under the other"
        assert all(one.area.x >= 0 and one.area.x + one.area.width <= 1 + 1e-9 for one in pieces)
        assert pieces[-1].area.y + pieces[-1].area.height <= 1
        lines = [one for one in pieces if isinstance(one, PlacedLines)]
        assert " ".join(lines[1].lines) == quote()[0].title


def test_texts_of_a_card_can_be_read_on_any_colour():
    for colour in ("#000000", "#FFFFFF", "#F0B429", "#0B6E6E", "#7F7F7F"):
        assert ratio(luminance(letters_on(colour)), luminance(colour)) >= 4


def test_a_code_says_its_address():
    segno = pytest.importorskip("segno")
    rows = code_of("https://lamphouse.example/talks")
    assert len(rows) == len(rows[0])
    assert {len(row) for row in rows} == {len(rows)}
    again = segno.make_qr("https://lamphouse.example/talks", error="m", boost_error=False).matrix
    assert rows == tuple("".join(str(cell) for cell in row) for row in again)


def test_pieces_are_smaller_where_they_would_not_fit():
    _, context = quote()
    card = EndCard(text="A long text that takes several lines of its own " * 2, address="a.example", code=True)
    letters = letters_for(quote()[0], context, DESTINATIONS["wide-140"])
    pieces = pieces_of(card, "#000000", (100, 100), letters)
    assert letters.lettering is LETTERING
    assert card_of(pieces)[1] <= 0.75


def found(*edits: Edit, destination: str = "tall-60") -> dict[str, object]:
    document, context = quote(*edits)
    assembly = assemble(document, context, HD, DESTINATIONS[destination])
    checked = Checked(context=context, overlays=context.catalogue.overlays(document))
    return {one.check: one for one in preflight(assembly, (), checked)}


def test_a_card_past_the_limit_is_told_with_what_shortens_it():
    limit = TALL.model_copy(update={"limit_ms": 10_000})
    document, context = quote(added(EndCard(text="Hear it all", length_ms=4000)))
    assembly = assemble(document, context, HD, limit)
    assert cut_ms(document, HD, limit) < 10_000 < clip_ms(document, context.catalogue, HD, limit)
    told = list(check_overlays(assembly, Checked(context=context, overlays=context.catalogue.overlays(document))))
    card = next(one for one in told if one.check == "card-past-limit")
    assert (card.severity, card.overlay, card.mend_says) == ("stop", 1, "Shorten it to fit")
    assert card.mend is not None
    assert isinstance(card.mend, ChangeOverlay)
    mended = apply_edit(document, card.mend, context)
    assert clip_ms(mended, context.catalogue, HD, limit) <= 10_000
    assert "length" not in {one.check for one in preflight(assembly, (), Checked(context=context))}


# --- the cover ----------------------------------------------------------------------------------------------------------


def test_a_cover_is_exactly_the_first_frame():
    plain = shown(added(TitleLines(text="Wicks")))
    covered = shown(added(TitleLines(text="Wicks")), added(Cover(shows=CoverPicture(at_ms=5000), text="")))
    assert (covered.frames, covered.cover_frames) == (plain.frames, 1)
    assert covered.sound == plain.sound
    first, second = covered.picture[:2]
    assert (first.first_frame, first.frames, first.source, first.source_frame) == (0, 1, RECORDING, 125)
    assert second.first_frame == 1
    assert all(covered.run_at(n).source_at(n) == plain.run_at(n).source_at(n) for n in range(1, plain.frames))
    assert min(one.first_frame for one in covered.overlays) == 1
    assert all(cue.first_frame >= 1 for track in covered.cue_tracks for cue in track.cues)
    assert all(
        word.end_frame >= word.first_frame >= 1
        for track in covered.cue_tracks
        for cue in track.cues
        for word in cue.words
    )


@pytest.mark.parametrize("speed", [1.0, 1.1])
def test_the_cut_goes_on_under_a_cover_whatever_its_speed(speed: float):
    edits = (
        AddVersion(destination="tall-60"),
        SetSpeed(destination="tall-60", speed=speed),
    )
    plain, covered = shown(*edits), shown(*edits, added(Cover()))
    away = [abs(covered.run_at(n).source_at(n) - plain.run_at(n).source_at(n)) for n in range(1, plain.frames)]
    assert max(away) <= 1


def test_a_cover_says_the_title_for_its_one_frame():
    document, _ = quote()
    assembly = shown(added(Cover(shows=CoverPicture(at_ms=5000))))
    (lines,) = [one for one in assembly.overlays if isinstance(one, PlacedLines)]
    assert (lines.first_frame, lines.end_frame) == (0, 1)
    assert " ".join(lines.lines) == document.title


def test_a_cover_shows_a_picture_of_the_house_or_what_is_chosen_for_a_shape():
    cover = Cover(shows=CoverPicture(picture=1), in_shapes={"square": CoverPicture(at_ms=3000)}, text="")
    tall, square = shown(added(cover)), shown(added(cover), destination="square-60")
    assert (tall.picture[0].source, tall.picture[0].behind.kind, tall.picture[0].behind.picture) == (None, "picture", 1)
    assert (square.picture[0].source, square.picture[0].source_frame) == (RECORDING, 75)
    assert tall.house_pictures == {1}


def test_a_cover_of_a_sound_only_talk_stands_on_its_background():
    document, context = quote(added(Cover(shows=CoverPicture(at_ms=3000))))
    assembly = assemble(document, context, SOUND_ONLY, TALL)
    assert [run.frames for run in assembly.picture] == [1, assembly.frames - 1]
    assert {run.source for run in assembly.picture} == {None}


def test_a_cover_is_framed_as_its_moment_is():
    assembly = shown(added(Cover(shows=CoverPicture(at_ms=4000), text="")), faces=(1000, 2000, 3000, 4000, 5000))
    window = assembly.picture[0].panels[0].window_at(0)
    assert window.holds(0.5, 0.3, 0, 0), "the face is in it"


def test_a_cover_shows_one_frame_or_one_picture():
    with pytest.raises(ValueError, match="not both"):
        CoverPicture(at_ms=1, picture=1)
    assert Cover(in_shapes={"tall": CoverPicture(picture=3)}).shown_in("tall").picture == 3


def test_a_clip_has_one_cover_one_card_and_one_voice():
    document, context = quote(added(Cover()), added(EndCard(text="Bye")), added(SpeakingSound()))
    for what in (Cover(), EndCard(text="Again"), SpeakingSound(strength="firm")):
        with pytest.raises(EditRefused, match="already has its"):
            apply_edit(document, added(what), context)
    hidden = apply_edit(document, HideOverlay(id=1, hidden=True), context)
    assert apply_edit(hidden, added(Cover()), context).overlays[-1].what.kind == "cover"


def test_a_finish_has_a_cover_of_no_one_talk():
    document, _ = quote(
        added(
            Cover(
                shows=CoverPicture(at_ms=3000),
                in_shapes={"tall": CoverPicture(picture=1), "wide": CoverPicture(at_ms=1)},
            )
        )
    )
    (item,) = items_of(document.overlays)
    assert isinstance(item.what, Cover)
    assert item.what.shows == CoverPicture()
    assert item.what.in_shapes == {"tall": CoverPicture(picture=1)}


def test_a_picture_of_another_shape_on_a_cover_is_told_with_a_mend():
    cover = Cover(shows=CoverPicture(picture=1), text="")
    told = found(added(cover))["cover-shape"]
    assert "Lamp" in told.says  # type: ignore[attr-defined]
    document, context = quote(added(cover))
    mended = apply_edit(document, told.mend, context)  # type: ignore[attr-defined]
    assert mended.overlays[0].what.shown_in("tall") == CoverPicture()  # type: ignore[union-attr]
    assert "cover-shape" not in found(added(cover), destination="wide-140")


def test_pictures_and_sounds_that_are_not_there_are_refused():
    for what in (EndCard(text="Bye", picture=9), Cover(shows=CoverPicture(picture=9)), Music(sound=9)):
        with pytest.raises(EditRefused, match="The house has no such"):
            quote(added(what))


# --- frames that are offered --------------------------------------------------------------------------------------------


def test_moments_with_a_large_clear_face_come_first_and_none_is_near_another():
    faces = [
        face_at(1000, 0.4, 0.2, 0.05),
        face_at(3000, 0.4, 0.2, 0.2),
        face_at(3300, 0.4, 0.2, 0.2),
        face_at(6000, 0.4, 0.2, 0.2, 0.6),
    ]
    sight = context_of(talk_of(SAID), faces=faces).sight
    kept = [Span(start_ms=0, end_ms=10_000)]
    assert [one.at_ms for one in cover_moments(sight, kept, 9)] == [3000, 6000, 1000]
    assert [one.at_ms for one in cover_moments(sight, [Span(start_ms=5000, end_ms=10_000)], 9)] == [6000]
    assert cover_moment(CoverPicture(), sight, kept) == 3000
    assert cover_moment(CoverPicture(at_ms=77), sight, kept) == 77
    assert cover_moment(CoverPicture(), context_of(talk_of(SAID)).sight, kept) == 3333


def test_a_sharp_frame_with_open_eyes_is_offered_first():
    sight = context_of(talk_of(SAID), faces=[face_at(at, 0.4, 0.2, 0.2) for at in (1000, 3000, 5000)]).sight
    moments = sorted(cover_moments(sight, [Span(start_ms=0, end_ms=10_000)], 9), key=lambda one: one.at_ms)
    looks = [CoverLook(sharpness=90, eyes=0.05), CoverLook(sharpness=100, eyes=0.3), CoverLook(sharpness=20, eyes=0.3)]
    assert [moment.at_ms for moment, _ in in_order(moments, looks)] == [3000, 5000, 1000]
    assert in_order([], []) == []
