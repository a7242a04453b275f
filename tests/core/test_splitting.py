import pytest

from nimble_quote.core.assembly import assemble, cut_ms
from nimble_quote.core.cutting.kept import kept_words
from nimble_quote.core.cutting.splitting import CannotSplit, as_quotes, split
from nimble_quote.core.cutting.ways import Worth, parts_of
from nimble_quote.core.document import QuoteDocument, TitleLines
from nimble_quote.core.document.overlays import FROM_FINISH
from nimble_quote.core.edits import AddOverlay, EditRefused, SetPartLines, SetSpeed, StrikeWords, apply_edit
from nimble_quote.core.talk import Talk
from nimble_quote.formats.ass import write_ass
from tests.cuts import cut_of
from tests.shipped import DESTINATIONS, LETTERING
from tests.talks import HD, context_of

SAID = (
    "A lamp asks for three things. The first is oil. {1} The second is air. Now the third is a short wick. "
    "A long one smokes. And that is all there is to it."
)


def sentences(document: QuoteDocument, talk: Talk, **opens: float):  # type: ignore[no-untyped-def]
    worth = {one.first: Worth(opens=opens.get(talk.word(one.first).text.lower(), 0.6)) for one in talk.sentences}
    return parts_of(document, talk, "tall-60", worth)


def test_a_passage_is_split_where_the_next_part_opens_best_and_every_part_fits():
    document, talk = cut_of(SAID)
    planned = split(sentences(document, talk, now=1.0), 9000, 2)
    assert [one.opens for one in planned] == ["A lamp asks for three things.", "Now the third is a short wick."]
    assert all(one.length_ms <= 9000 for one in planned)
    assert planned[0].lands == "The second is air."


def test_as_few_parts_are_made_as_fit():
    document, talk = cut_of(SAID)
    assert len(split(sentences(document, talk), 9000)) == 2
    assert len(split(sentences(document, talk), 5000)) >= 3


@pytest.mark.parametrize("speed", [0.95, 1.0, 1.15])
def test_parts_fit_at_the_speed_that_their_version_has(speed: float):
    document, talk = cut_of(SAID)
    document = apply_edit(document, SetSpeed(destination="tall-60", speed=speed), context_of(talk))
    planned = split(sentences(document, talk), 7000, speed=speed)
    parts = as_quotes(document, [one.span for one in planned], "tall-60")
    lengths = [cut_ms(part, HD, DESTINATIONS["tall-60"]) for part in parts]
    assert all(length <= 7000 for length in lengths)
    assert [one.length_ms for one in planned] == pytest.approx(lengths, abs=45), "and are told as they run"


def test_what_cannot_be_split_is_said():
    document, talk = cut_of(SAID)
    with pytest.raises(CannotSplit, match="alone is longer"):
        split(sentences(document, talk), 1500)
    with pytest.raises(CannotSplit, match="can't be split in 12 parts"):
        split(sentences(document, talk), 9000, 12)


def test_parts_are_quotes_with_the_cut_of_the_whole_and_their_lines():
    document, talk = cut_of(SAID)
    cut = apply_edit(document, StrikeWords(first=6, last=7), context_of(talk))
    spans = [one.span for one in split(sentences(cut, talk, now=1.0), 9000, 2)]
    first, second = as_quotes(cut, spans, "tall-60", recap="Three things a lamp asks for", end_line="More tomorrow")
    assert (first.title, second.title) == ("A cut (1 of 2)", "A cut (2 of 2)")
    words = [" ".join(word.text for word in kept_words(one, talk)) for one in (first, second)]
    assert " ".join(words) == " ".join(word.text for word in kept_words(cut, talk))
    assert [(one.when.kind, one.what.text) for one in first.overlays] == [("end", "More tomorrow")]
    assert [(one.when.kind, one.what.text) for one in second.overlays] == [("start", "Three things a lamp asks for")]
    assert cut_ms(first, HD) <= 9000
    script = write_ass(assemble(second, context_of(talk), HD, DESTINATIONS["tall-60"]), LETTERING)
    assert "Three things" in script
    assert "More tomorrow" in write_ass(assemble(first, context_of(talk), HD, DESTINATIONS["tall-60"]), LETTERING)


def test_parts_keep_what_stands_over_the_whole_beside_their_lines():
    document, talk = cut_of(SAID)
    titled = apply_edit(document, AddOverlay(what=TitleLines(text="A lamp")), context_of(talk))
    # As a quote has it otherwise than its finish.
    otherwise = titled.overlays[0].model_copy(update={"id": FROM_FINISH + 2})
    titled = titled.model_copy(update={"overlays": (*titled.overlays, otherwise)})
    spans = [one.span for one in split(sentences(titled, talk), 9000, 2)]
    first, second = as_quotes(titled, spans, "tall-60", recap="So far", end_line="More")
    assert [(one.id, one.what.kind) for one in first.overlays] == [(1, "title"), (1002, "title"), (2, "lines")]
    changed = apply_edit(second, SetPartLines(recap="Before", end_line="Then"), context_of(talk))
    assert [(one.id, one.what.kind) for one in changed.overlays] == [
        (1, "title"),
        (1002, "title"),
        (2, "lines"),
        (3, "lines"),
    ]


def test_the_lines_of_a_part_can_be_changed_and_only_a_part_has_them():
    document, talk = cut_of(SAID)
    with pytest.raises(EditRefused, match="not a part"):
        apply_edit(document, SetPartLines(recap="a", end_line=""), context_of(talk))
    part = as_quotes(document, [one.span for one in split(sentences(document, talk), 9000, 2)], "tall-60")[1]
    changed = apply_edit(part, SetPartLines(recap="  So far  ", end_line=""), context_of(talk))
    assert [(one.when.kind, one.what.text) for one in changed.overlays] == [("start", "So far")]
    assert apply_edit(changed, SetPartLines(recap="", end_line=""), context_of(talk)).overlays == ()
