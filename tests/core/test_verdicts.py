"""What was said of findings holds for as long as what they are about does, and no longer."""

from nimble_quote.core.document import AcceptedNote, QuoteDocument
from nimble_quote.core.edits import new_quote
from nimble_quote.core.finding import Finding
from nimble_quote.core.verdicts import holding, judged, overruled
from tests.talks import context_of, talk_of

LONG = Finding(check="length", severity="stop", says="2.3 s over Tall 15.", do="Strike words.", at_ms=15_000)
SOFT = Finding(check="soft", severity="warn", says="Soft picture.", do="Scale it down.")


def accepting(*what: str, reason: str = "They know.") -> QuoteDocument:
    talk = talk_of("Keep the wick short.")
    document = new_quote(context_of(talk), 0, 3)
    return document.model_copy(update={"accepted": tuple(AcceptedNote(what=one, reason=reason) for one in what)})


def test_each_finding_of_each_version_has_a_name_of_its_own():
    names = {one.id for place in ("tall-15", "square-60") for one in judged([LONG, SOFT], accepting(), place)}
    assert len(names) == 4
    assert all(name.split(":")[0] in ("length", "soft") for name in names)


def test_a_finding_stays_accepted_wherever_it_moves_and_is_told_again_when_it_says_something_else():
    (found,) = judged([LONG], accepting(), "tall-15")
    document = accepting(found.id)
    moved = LONG.model_copy(update={"at_ms": 9_000, "word": 7})
    longer = LONG.model_copy(update={"says": "2.4 s over Tall 15."})
    assert [one.accepted for one in judged([moved, longer], document, "tall-15")] == ["They know.", None]
    assert judged([LONG], document, "tall-30")[0].accepted is None, "said of one version alone"


def test_only_stops_without_a_reason_hold_and_those_with_one_are_told():
    (found, soft) = judged([LONG, SOFT], accepting(), "tall-15")
    assert holding([found, soft]) == [found]
    again = judged([LONG, SOFT], accepting(found.id), "tall-15")
    assert holding(again) == []
    (kept,) = overruled(again)
    assert (kept.check, kept.says, kept.reason) == ("length", "2.3 s over Tall 15.", "They know.")


def test_a_note_that_has_a_name_keeps_it():
    note = SOFT.model_copy(update={"id": "dropped-not:3"})
    (found,) = judged([note], accepting("dropped-not:3"), "tall-15")
    assert (found.id, found.accepted) == ("dropped-not:3", "They know.")
