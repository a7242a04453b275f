import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

from nimble_quote.core.assembly import assemble
from nimble_quote.core.cutting.kept import kept_spans, kept_words, struck_words
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.edits import (
    AddVersion,
    CorrectCaption,
    Edit,
    EditRefused,
    FrameShot,
    FramingChange,
    MoveEdgeToWord,
    NudgeEdge,
    PlaceWindow,
    RemoveVersion,
    RestoreWords,
    StrikeWords,
    apply_edit,
    describe_edit,
    new_quote,
)
from nimble_quote.core.refusal import Refused
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import total_ms
from tests.shipped import DESTINATIONS
from tests.strategies import edits_for, talks
from tests.talks import HD, context_of, face_at, talk_of

SAID = "So people ask me, | you know, | there is no secret. | Keep the wick short."


def kept_text(document: QuoteDocument, talk: Talk) -> str:
    return " ".join(word.text for word in kept_words(document, talk))


def test_a_new_quote_is_titled_by_its_opening_and_made_for_the_first_tall_place_it_fits():
    talk = talk_of(SAID)
    document = new_quote(context_of(talk), 0, 13)
    assert document.title == "So people ask me, you know, there is no secret…"
    assert [v.destination for v in document.versions] == ["story-15"]
    assert kept_text(document, talk) == SAID.replace("| ", "")


def test_a_new_quote_looks_at_the_speaker():
    faces = [face_at(at, 0.6 + 0.02 * (at // 1000 % 2)) for at in range(1000, 10_000, 1000)]
    context = context_of(talk_of(SAID), faces=faces)
    window = (
        assemble(new_quote(context, 0, 13), context, HD, DESTINATIONS["story-15"]).picture[0].panels[0].keys[0].window
    )
    assert window.x + window.width / 2 == pytest.approx(0.65, abs=0.02)


def test_words_are_struck_and_put_back():
    talk = talk_of(SAID)
    document = new_quote(context_of(talk), 0, 13)
    cut = apply_edit(document, StrikeWords(first=4, last=5), context_of(talk))
    assert kept_text(cut, talk) == "So people ask me, there is no secret. Keep the wick short."
    assert [w.text for w in struck_words(cut, talk)] == ["you", "know,"]
    assert apply_edit(cut, RestoreWords(first=5, last=4), context_of(talk)) == document


def test_putting_back_one_of_several_struck_words_leaves_the_others_struck():
    talk = talk_of(SAID)
    cut = apply_edit(new_quote(context_of(talk), 0, 13), StrikeWords(first=4, last=9), context_of(talk))
    back = apply_edit(cut, RestoreWords(first=6, last=7), context_of(talk))
    assert kept_text(back, talk) == "So people ask me, there is Keep the wick short."


def test_an_edge_moved_over_struck_words_forgets_them():
    talk = talk_of(SAID)
    cut = apply_edit(new_quote(context_of(talk), 0, 13), StrikeWords(first=4, last=5), context_of(talk))
    moved = apply_edit(cut, MoveEdgeToWord(edge="in", word=6), context_of(talk))
    assert kept_text(moved, talk) == "there is no secret. Keep the wick short."
    assert moved.struck == ()


def test_an_edge_is_nudged_by_ten_milliseconds():
    talk = talk_of(SAID)
    document = new_quote(context_of(talk), 3, 9)
    nudged = apply_edit(document, NudgeEdge(edge="out", by_ms=10), context_of(talk))
    assert nudged.span.end_ms == document.span.end_ms + 10
    assert nudged.span.start_ms == document.span.start_ms


@pytest.mark.parametrize(
    ("edit", "why"),
    [
        (StrikeWords(first=3, last=9), "every word"),
        (StrikeWords(first=0, last=1), "outside the quote"),
        (StrikeWords(first=3, last=99), "no word number 100"),
        (MoveEdgeToWord(edge="in", word=12), "before the out point"),
        (AddVersion(destination="story-15"), "already"),
        (AddVersion(destination="moon"), "no destination called"),
        (RemoveVersion(destination="story-15"), "one destination at least"),
        (RemoveVersion(destination="tall-60"), "no version for that destination"),
        (FrameShot(destination="tall-60", change=FramingChange(closeness=1)), "no version for that destination"),
        (FrameShot(at_ms=2000, change=FramingChange(subjects=(4,))), "Nobody is followed there"),
        (CorrectCaption(first=0, last=1, text="x"), "not in the cut"),
    ],
)
def test_an_edit_that_makes_no_sense_is_refused_with_the_reason(edit: Edit, why: str):
    talk = talk_of(SAID)
    with pytest.raises(EditRefused, match=why):
        apply_edit(new_quote(context_of(talk), 3, 9), edit, context_of(talk))


def test_history_says_what_an_edit_did():
    talk = talk_of(SAID)
    document = new_quote(context_of(talk), 0, 13)
    assert describe_edit(document, StrikeWords(first=4, last=5), context_of(talk)) == "Struck “you know,”"
    assert (
        describe_edit(document, NudgeEdge(edge="in", by_ms=-20), context_of(talk))
        == "Nudged the in point 20 ms earlier"
    )
    assert describe_edit(document, AddVersion(destination="wide-140"), context_of(talk)) == "Added Wide 140"


def test_versions_stand_in_the_order_of_the_built_in_set():
    talk = talk_of(SAID)
    document = new_quote(context_of(talk), 0, 13)
    for destination in ("wide-140", "tall-60"):
        document = apply_edit(document, AddVersion(destination=destination), context_of(talk))
    assert [v.destination for v in document.versions] == ["story-15", "tall-60", "wide-140"]


@settings(max_examples=100)
@given(st.data())
def test_any_run_of_edits_leaves_a_document_that_can_be_kept_and_made(data: st.DataObject):
    talk = data.draw(talks())
    document = new_quote(context_of(talk), 0, data.draw(st.integers(0, len(talk.words) - 1)))
    for _ in range(data.draw(st.integers(1, 8))):
        edit = data.draw(edits_for(talk))
        try:
            document = apply_edit(document, edit, context_of(talk))
        except Refused as refused:
            assert str(refused)[0].isupper()
    assert QuoteDocument.model_validate_json(document.model_dump_json()) == document
    assert kept_spans(document)
    for version in document.versions:
        assembly = assemble(document, context_of(talk), HD, DESTINATIONS[version.destination])
        ends = [0, *(run.end_frame for run in assembly.picture)]
        assert [run.first_frame for run in assembly.picture] == ends[:-1]
        assert ends[-1] == assembly.frames > 0
        assert sum(piece.length_ms for piece in assembly.sound.speech) == total_ms(
            kept_spans(document, version.destination)
        )


def test_two_changes_of_a_framing_made_on_the_same_view_both_stay():
    talk = talk_of(SAID)
    document = apply_edit(new_quote(context_of(talk), 0, 3), AddVersion(destination="tall-60"), context_of(talk))
    document = apply_edit(document, FrameShot(change=FramingChange(layout="one")), context_of(talk))
    for change in ({"zoom": 1.8}, {"x": 0.2}):
        placing = PlaceWindow.model_validate({"destination": "tall-60", "at_ms": 1500, **change})
        document = apply_edit(document, placing, context_of(talk))
    (camera,) = document.treatments["tall"].framing.shots[0].choice.placed or ()
    assert (camera.rests[0].at.x, camera.rests[0].at.zoom) == (0.2, 1.8)


def test_an_edit_of_unknown_kind_or_with_unknown_fields_is_no_edit():
    adapter: TypeAdapter[Edit] = TypeAdapter(Edit)
    with pytest.raises(ValidationError):
        adapter.validate_python({"kind": "burn-everything"})
    with pytest.raises(ValidationError):
        adapter.validate_python({"kind": "strike-words", "first": 1, "last": 2, "sql": "drop table quote"})
    with pytest.raises(ValidationError):
        adapter.validate_python({"kind": "frame-shot", "change": {"closeness": float("nan")}})
