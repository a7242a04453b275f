"""The check of fairness on single cuts, and on the cuts that people judged."""

import tomllib
from collections import Counter
from pathlib import Path

import pytest

from nimble_quote.core.cutting.fairness import CHECKS, check_fairness
from nimble_quote.core.cutting.reading import as_said
from nimble_quote.core.edits import AcceptNote, CorrectCaption, ShowCaptions, StrikeWords, apply_edit
from nimble_quote.formats.as_said import Section, write_as_said
from tests.cuts import cut_of
from tests.talks import context_of

JUDGED = tomllib.loads((Path(__file__).parents[1] / "bench" / "cuts.toml").read_text("utf-8"))["cuts"]


def rules(line: str) -> list[str]:
    return [one.rule for one in check_fairness(*cut_of(line))]


def test_what_is_found_is_explained_with_the_words_before_and_after():
    (one,) = check_fairness(*cut_of("We lit forty[, I mean fourteen] lamps that night."))
    assert one.rule == "correction"
    assert one.says == "“forty” is kept, and its correction to “fourteen” is struck."
    assert (one.said, one.kept) == (
        "We lit forty, I mean fourteen lamps that",
        "We lit forty, lamps that",
    )
    assert one.do == "Keep the correction, or strike both."


@pytest.mark.parametrize(
    "line",
    [
        "Keep the wick short[, and do not forget the glass].",
        "We lit [forty, I mean] fourteen lamps that night.",
        "[Um,] keep the wick short.",
        "[I was not born here.] I came with the first ferry.",
    ],
)
def test_a_fair_cut_is_left_alone(line: str):
    assert rules(line) == []


def test_a_note_keeps_its_name_while_other_things_change_and_can_be_accepted():
    document, talk = cut_of("You should [not] trim the wick, um, while it burns.")
    (one,) = check_fairness(document, talk)
    accepted = apply_edit(document, AcceptNote(what=one.id, reason="It was a slip of the tongue."), context_of(talk))
    more = apply_edit(accepted, StrikeWords(first=6, last=6), context_of(talk))
    assert [found.id for found in check_fairness(more, talk)] == [one.id]
    assert [(note.what, note.reason) for note in more.accepted] == [(one.id, "It was a slip of the tongue.")]
    assert apply_edit(more, AcceptNote(what=one.id, reason=" "), context_of(talk)).accepted == ()


def test_how_far_apart_two_sentences_may_be_is_chosen():
    document, talk = cut_of("We had one rule. {12} [There was a second.] It broke after a winter.")
    assert check_fairness(document, talk) == ()
    assert [one.rule for one in check_fairness(document, talk, far_apart_ms=10_000)] == ["far-apart"]


def test_a_talk_in_a_language_that_is_not_known_is_not_judged_by_its_words():
    document, talk = cut_of("You should [not] trim the wick.")
    assert check_fairness(document, type(talk)(words=talk.words, sentences=talk.sentences, duration_ms=9000)) == ()


def test_the_rules_find_what_people_found():
    """The figures of each rule are told by the benchmark; here only that none fell behind."""
    hit, missed, extra = Counter[str](), Counter[str](), Counter[str]()
    for line, unfair in JUDGED:
        found, wanted = set(rules(line)), set(unfair.split())
        hit.update(found & wanted)
        missed.update(wanted - found)
        extra.update(found - wanted)
    assert len(JUDGED) >= 120
    assert len(hit) == len(CHECKS) - 1, "each rule is tried, but for that of the captions"
    for rule in ("negation", "correction"):
        assert hit[rule] / (hit[rule] + missed[rule]) >= 0.9, rule
    assert sum(hit.values()) / (sum(hit.values()) + sum(extra.values())) >= 0.85


def test_captions_that_drop_a_denial_or_add_one_are_told_and_say_what_they_show():
    document, talk = cut_of("<Ada> I do not think the lamp went out. <Ada> It burned.")
    context = context_of(talk)

    def found(first: int, last: int, text: str) -> list[tuple[str, str]]:
        corrected = apply_edit(document, CorrectCaption(first=first, last=last, text=text), context)
        return [(one.rule, one.says) for one in check_fairness(corrected, talk)]

    assert found(0, 3, "I do think") == [
        ("caption", "The captions leave out a denial that was said: “I do think the lamp went out.”")
    ]
    assert found(8, 9, "It never burned.") == [("caption", "The captions deny what was not denied: “It never burned.”")]
    # The same denial in other words is none the less one.
    assert found(0, 3, "I don't think") == []
    hidden = apply_edit(
        apply_edit(document, CorrectCaption(first=0, last=3, text="I do think"), context),
        ShowCaptions(shown=False),
        context,
    )
    assert check_fairness(hidden, talk) == ()


def test_the_page_for_the_speaker_shows_the_captions_where_they_say_something_else():
    document, talk = cut_of("<Ada> Keep the wick short. <Ada> It burns.")
    corrected = apply_edit(document, CorrectCaption(first=0, last=3, text="Keep the WICK short."), context_of(talk))
    first, second = as_said(corrected, talk)
    page = write_as_said("A cut", "A talk", [Section(title="Tall 60", length_ms=1000, lines=[first, second])])
    assert page.count("The captions say:") == 1
    assert "The captions say: Keep the WICK short." in page
