"""Captions as a person edits them: each decision holds through other edits of the cut, and none overlaps another."""

from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nimble_quote.core.assembly import assemble
from nimble_quote.core.captions.cues import Cue
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.document.upgrades import read_document, stored
from nimble_quote.core.edits import (
    AddCaption,
    ChangeAddedCaption,
    ChangeCaptionLook,
    ChangeCueLook,
    ChooseCaptionStyle,
    CorrectCaption,
    Edit,
    EditRefused,
    EmphasiseWords,
    HideCaption,
    HoldCaptionStyle,
    JoinCaptions,
    LetGoCaptions,
    MoveBreak,
    PartCaption,
    PlaceCaption,
    RemoveAddedCaption,
    ReplaceInCaptions,
    RestoreWords,
    ShowTranslation,
    StrikeWords,
    TakeTranslation,
    TimeCaption,
    TranslateCaption,
    apply_edit,
    describe_edit,
    new_quote,
)
from nimble_quote.core.edits.captions import TranslatedWords
from tests.shipped import DESTINATIONS
from tests.talks import HD, context_of, talk_of

SAID = "So people ask me, there is no secret. Keep the wick short and it burns till dawn. That is all of it."
CONTEXT = context_of(talk_of(SAID))
QUOTE = new_quote(CONTEXT, 0, len(CONTEXT.talk.words) - 1)


def after(*edits: Edit, of: QuoteDocument = QUOTE) -> QuoteDocument:
    for edit in edits:
        assert describe_edit(of, edit, CONTEXT)
        of = apply_edit(of, edit, CONTEXT)
        assert read_document(stored(of)) == of
    return of


def cues(document: QuoteDocument, destination: str = "tall-60") -> tuple[Cue, ...]:
    return assemble(document, CONTEXT, HD, DESTINATIONS[destination]).cue_tracks[0].cues


def said(document: QuoteDocument) -> list[str]:
    return [" / ".join(cue.shown_texts) for cue in cues(document)]


PLAIN = [
    "So people ask me, / there is no secret.",
    "Keep the wick short / and it burns till dawn.",
    "That is all of it.",
]


def test_as_the_program_makes_them():
    assert said(QUOTE) == PLAIN


def test_a_cue_is_parted_and_joined_again():
    parted = after(PartCaption(word=4))
    assert said(parted)[:2] == ["So people ask me,", "there is no secret."]
    assert [cue.fixed for cue in cues(parted)][:3] == [True, True, False]
    assert said(after(JoinCaptions(first=0, last=7), of=parted)) == PLAIN
    assert said(after(LetGoCaptions(first=0, last=7), of=parted)) == PLAIN


def test_a_line_breaks_where_it_was_broken_and_where_it_can_t_a_cue_does():
    assert said(after(PartCaption(word=10, at="line")))[1] == "Keep the / wick short and it"
    assert "Keep the wick short and" in " ".join(said(after(PartCaption(word=16, at="line"))))


def test_joined_cues_stay_one_whatever_lines_it_takes():
    made = said(after(JoinCaptions(first=8, last=21)))
    assert made[0] == PLAIN[0]
    assert len(made) == 2
    assert made[1].replace(" /", "") == "Keep the wick short and it burns till dawn. That is all of it."


def test_words_move_over_a_boundary_with_its_bar():
    moved = after(MoveBreak(word=8, to=7))
    assert said(moved)[:2] == [
        "So people ask me, / there is no",
        "secret. / Keep the wick short",
    ]


def test_times_by_hand_are_kept_from_the_words_own():
    plain, late = cues(QUOTE)[1], cues(after(TimeCaption(word=8, edge="in", shift_ms=400)))[1]
    assert late.first_frame == plain.first_frame + 2 + 10
    longer = cues(after(TimeCaption(word=7, edge="out", shift_ms=5000)))
    assert longer[0].end_frame == longer[1].first_frame
    assert (
        cues(after(TimeCaption(word=8, edge="in", shift_ms=400), TimeCaption(word=8, edge="in", shift_ms=None)))[
            1
        ].first_frame
        == plain.first_frame
    )


def test_a_cue_is_hidden_and_shown_again():
    hidden = after(HideCaption(first=8, last=16))
    assert said(hidden) == [PLAIN[0], PLAIN[2]]
    assert [cue.text for cue in assemble(hidden, CONTEXT, HD, DESTINATIONS["tall-60"]).cue_tracks[0].hidden] == [
        "Keep the wick short and it burns till dawn."
    ]
    assert said(after(HideCaption(first=8, last=16, hidden=False), of=hidden)) == PLAIN


def test_one_cue_has_a_height_and_a_look_of_its_own():
    made = cues(
        after(PlaceCaption(first=8, last=16, height=0.2), ChangeCueLook(first=8, last=16, look={"colour": "#FF0000"}))
    )
    assert [(cue.height, cue.look) for cue in made] == [(None, {}), (0.2, {"colour": "#FF0000"}), (None, {})]
    with pytest.raises(EditRefused, match="can't look like that"):
        after(ChangeCueLook(first=8, last=16, look={"size": 7}))


def test_a_second_change_of_the_look_of_a_cue_keeps_the_first():
    red = ChangeCueLook(first=8, last=16, look={"colour": "#FF0000"})
    upper = ChangeCueLook(first=8, last=16, look={"case": "upper"})
    assert cues(after(red, upper))[1].look == {"colour": "#FF0000", "case": "upper"}
    assert cues(after(red, upper, ChangeCueLook(first=8, last=16)))[1].look == {}


def test_a_change_of_a_part_of_a_look_keeps_the_rest_of_the_part():
    block = ChangeCueLook(first=8, last=16, look={"plate": {"behind": "block", "across": 0.5}})
    blue = {"plate": {"colour": "#0000FF"}}
    plate = cues(after(block, ChangeCueLook(first=8, last=16, look=blue)))[1].look["plate"]
    assert (plate["behind"], plate["across"], plate["colour"]) == ("block", 0.5, "#0000FF")
    # Of all captions: on top of the plate of the style.
    mine = [ChangeCaptionLook(look=look) for look in ({"plate": {"behind": "block"}}, blue)]
    of = after(*mine)
    assert of.captions.look["plate"]["behind"] == "block"
    assert of.captions.look["plate"]["colour"] == "#0000FF"
    gone = after(ChangeCaptionLook(look={"plate": None}), of=of)
    assert (gone.captions.look.get("plate"), after(mine[1], of=gone).captions.look["plate"]["behind"]) == (None, "line")
    with pytest.raises(EditRefused, match="can't look like that"):
        after(ChangeCueLook(first=8, last=16, look={"plate": {"colour": "blue"}}))
    with pytest.raises(EditRefused, match="no “halo”"):
        after(ChangeCaptionLook(look={"halo": {"colour": "#0000FF"}}))


def test_words_are_emphasised():
    made = cues(after(EmphasiseWords(first=10, last=11)))[1]
    assert [word.text for word in made.words if word.emphasised] == ["wick", "short"]
    assert not any(
        word.emphasised
        for cue in cues(after(EmphasiseWords(first=10, last=11), EmphasiseWords(first=0, last=21, on=False)))
        for word in cue.words
    )


def test_a_sound_is_put_in_said_anew_and_taken_out():
    talk = talk_of("There is no secret. | | Keep the wick short.")
    context = context_of(talk)
    document = apply_edit(new_quote(context, 0, 7), AddCaption(start_ms=2700, end_ms=3900, text="[laughter]"), context)

    def texts(of: QuoteDocument) -> list[str]:
        return [cue.text for cue in assemble(of, context, HD, DESTINATIONS["tall-60"]).cue_tracks[0].cues]

    assert texts(document) == ["There is no secret.", "[laughter]", "Keep the wick short."]
    anew = ChangeAddedCaption(id=1, start_ms=2700, end_ms=3500, text="[applause]")
    assert texts(apply_edit(document, anew, context))[1] == "[applause]"
    assert len(texts(apply_edit(document, RemoveAddedCaption(id=1), context))) == 2
    for gone in (RemoveAddedCaption(id=2), ChangeAddedCaption(id=2, start_ms=0, end_ms=500, text="x")):
        with pytest.raises(EditRefused, match="no longer there"):
            apply_edit(document, gone, context)


def test_a_text_is_replaced_wherever_it_is_said_and_marks_around_it_stay():
    made = said(after(ReplaceInCaptions(find="secret", to="trick"), ReplaceInCaptions(find="IT", to="the lamp")))
    assert made == [
        "So people ask me, / there is no trick.",
        "Keep the wick short and / the lamp burns till dawn.",
        "That is all of the lamp.",
    ]
    only = said(after(ReplaceInCaptions(find="it", to="the lamp", at=(21,))))
    assert "and it burns" in only[1]
    with pytest.raises(EditRefused, match="nowhere"):
        after(ReplaceInCaptions(find="zebra", to="x"))


def test_a_quote_looks_otherwise_than_its_style_until_another_is_chosen():
    changed = after(ChangeCaptionLook(look={"size": 0.08, "plate": None}))
    look = assemble(changed, CONTEXT, HD, DESTINATIONS["tall-60"]).cue_tracks[0].look
    assert (look.size, look.plate) == (0.08, None)
    assert after(ChangeCaptionLook(reset=("plate",)), of=changed).captions.look == {"size": 0.08}
    assert after(ChooseCaptionStyle(style="slate"), of=changed).captions.look == {}
    assert after(ChangeCaptionLook(look={"size": 0.056})).captions.look == {}
    for look_told in ({"face": "Nobody's Face"}, {"sise": 1}, {"limits": {"lines": 0}}):
        with pytest.raises(EditRefused):
            after(ChangeCaptionLook(look=look_told))


def test_a_quote_holds_a_version_of_its_style():
    assert after(HoldCaptionStyle(held=1)).captions.held == 1
    with pytest.raises(EditRefused, match="has no version 9"):
        after(HoldCaptionStyle(held=9))


def test_a_translation_stands_below_or_instead_and_follows_its_words():
    told = after(
        TranslateCaption(language="de", first=8, last=16, text="Halt den Docht kurz, dann brennt er bis zum Morgen."),
        ShowTranslation(language="de", shown="below"),
    )
    assert (
        said(told)[1]
        == "Keep the wick short / and it burns till dawn. / Halt den Docht kurz, / dann brennt er bis zum Morgen."
    )
    instead = said(after(ShowTranslation(language="de", shown="instead"), of=told))
    assert instead == [PLAIN[0], "Halt den Docht kurz, / dann brennt er bis zum Morgen.", PLAIN[2]]
    assert said(after(StrikeWords(first=0, last=7), of=told))[0].endswith("bis zum Morgen.")
    gone = after(TranslateCaption(language="de", first=8, last=16, text=" "), of=told)
    assert (said(gone), gone.captions.translation) == (PLAIN, None)
    with pytest.raises(EditRefused, match="Translate a caption"):
        after(ShowTranslation(language="fr", shown="below"))


def test_a_whole_translation_is_taken_at_once():
    texts = (TranslatedWords(first=0, last=7, text="Eins."), TranslatedWords(first=8, last=21, text="Zwei."))
    told = after(TakeTranslation(language="de", texts=texts), ShowTranslation(language="de", shown="instead"))
    assert said(told) == ["Eins.", "Zwei.", "Zwei."]


def test_decisions_sleep_while_their_words_are_struck_and_are_there_again_after():
    held = after(PartCaption(word=10), HideCaption(first=17, last=21), EmphasiseWords(first=10, last=10))
    struck = after(StrikeWords(first=9, last=10), StrikeWords(first=17, last=21), of=held)
    assert said(struck) != said(held)
    assert said(after(RestoreWords(first=9, last=21), of=struck)) == said(held)


def test_a_cue_shrinks_with_its_struck_words_and_stays_one():
    joined = after(JoinCaptions(first=8, last=16))
    assert said(after(StrikeWords(first=11, last=13), of=joined))[1] == "Keep the wick / burns till dawn."
    apart = after(PartCaption(word=12), of=QUOTE)
    assert said(after(StrikeWords(first=12, last=12), of=apart))[1:3] == ["Keep the wick short", "it burns till dawn."]


WORD = st.integers(0, 21)
FIXES = st.lists(
    st.one_of(
        st.builds(PartCaption, word=st.integers(1, 21), at=st.sampled_from(["cue", "line"])),
        st.builds(JoinCaptions, first=WORD, last=WORD),
        st.builds(TimeCaption, word=WORD, edge=st.sampled_from(["in", "out"]), shift_ms=st.integers(-5000, 5000)),
        st.builds(MoveBreak, word=st.integers(1, 21), to=st.integers(1, 21)),
        st.builds(
            AddCaption, start_ms=st.integers(0, 5000), end_ms=st.integers(5200, 9000), text=st.just("[laughter]")
        ),
        st.builds(StrikeWords, first=WORD, last=WORD),
        st.builds(RestoreWords, first=WORD, last=WORD),
        st.builds(CorrectCaption, first=WORD, last=WORD, text=st.sampled_from(["", "a b", "lamp"])),
    ),
    max_size=14,
)


@settings(max_examples=120, deadline=None)
@given(FIXES)
def test_whatever_is_fixed_cues_are_in_order_and_apart_and_hold_each_shown_word_once(edits: list[Edit]):
    document = QUOTE
    for edit in edits:
        try:
            document = apply_edit(document, edit, CONTEXT)
        except EditRefused:
            continue
    if not document.captions.shown:
        return
    made = cues(document)
    assert all(a.first_frame < a.end_frame <= b.first_frame for a, b in pairwise(made))
    indexes = [word.index for cue in made for word in cue.words if word.index >= 0]
    assert indexes == sorted(indexes)


@settings(max_examples=60, deadline=None)
@given(st.integers(1, 21), st.lists(st.tuples(WORD, WORD, st.booleans()), max_size=10))
def test_a_break_by_hand_holds_through_every_cut_while_one_of_its_words_is_kept(
    word: int, cut: list[tuple[int, int, bool]]
):
    document = after(PartCaption(word=word))
    for first, last, strike in cut:
        edit = StrikeWords(first=first, last=last) if strike else RestoreWords(first=first, last=last)
        try:
            document = apply_edit(document, edit, CONTEXT)
        except EditRefused:
            continue
    made = cues(document)
    kept = [one.index for cue in made for one in cue.words]
    if word not in kept and word - 1 not in kept:
        return
    following = next((index for index in kept if index >= word), None)
    if following is not None and kept[0] != following:
        assert any(cue.words[0].index == following for cue in made)
