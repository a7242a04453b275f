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
    FrameSpeaker,
    MoveEdgeToWord,
    NudgeEdge,
    RemoveVersion,
    RestoreWords,
    SetFraming,
    StrikeWords,
    apply_edit,
    describe_edit,
    new_quote,
)
from nimble_quote.core.edits.versions import FramingChange
from nimble_quote.core.framing.views import view_of
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
    faces = [face_at(1500, 0.6), face_at(2500, 0.62), face_at(3500, 0.1, score=0.63, size=0.02)]
    usual = new_quote(context_of(talk_of(SAID), faces=faces), 0, 13).treatments["tall"].framing.usual
    assert (usual.kind, view_of(usual).x) == ("single", pytest.approx(0.65, abs=0.02))


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
        (SetFraming(destination="tall-60", framing=FramingChange()), "no version for that destination"),
        (FrameSpeaker(destination="story-15"), "No face was found"),
        (CorrectCaption(first=0, last=1, text="x"), "not in the cut"),
    ],
)
def test_an_edit_that_makes_no_sense_is_refused_with_the_reason(edit: Edit, why: str):
    talk = talk_of(SAID)
    with pytest.raises(EditRefused, match=why):
        apply_edit(new_quote(context_of(talk), 3, 9), edit, context_of(talk))


def test_framing_the_speaker_again_keeps_the_backdrop():
    context = context_of(talk_of(SAID), faces=[face_at(2000, 0.2)])
    document = new_quote(context, 0, 13)
    moved = FramingChange(layout="fit", x=0.9, zoom=2, backdrop="colour", colour="#aabbcc")
    document = apply_edit(document, SetFraming(destination="story-15", framing=moved), context)
    assert document.treatments["tall"].framing.usual.kind == "whole"
    framing = apply_edit(document, FrameSpeaker(destination="story-15"), context).treatments["tall"].framing
    assert (framing.usual.kind, framing.backdrop, framing.colour) == ("single", "colour", "#AABBCC")
    assert (view_of(framing.usual).zoom, view_of(framing.usual).x) == (1.0, pytest.approx(0.25))


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
        except EditRefused as refused:
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
    for change in (FramingChange(layout="fit"), FramingChange(zoom=1.8), FramingChange(x=0.2)):
        document = apply_edit(document, SetFraming(destination="tall-60", framing=change), context_of(talk))
    usual = document.treatment("tall-60", "tall").framing.usual
    assert (usual.kind, view_of(usual).zoom, view_of(usual).x) == ("whole", 1.8, 0.2)


def test_an_edit_of_unknown_kind_or_with_unknown_fields_is_no_edit():
    adapter: TypeAdapter[Edit] = TypeAdapter(Edit)
    with pytest.raises(ValidationError):
        adapter.validate_python({"kind": "burn-everything"})
    with pytest.raises(ValidationError):
        adapter.validate_python({"kind": "strike-words", "first": 1, "last": 2, "sql": "drop table quote"})
    with pytest.raises(ValidationError):
        adapter.validate_python({"kind": "set-framing", "destination": "tall-60", "framing": {"zoom": float("nan")}})
