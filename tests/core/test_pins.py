"""Cues that a person made stay as they were made when the cut changes, and sleep while their words are struck."""

from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.assembly import Assembly, assemble
from nimble_quote.core.document import CuePin, QuoteDocument
from nimble_quote.core.edits import RestoreWords, StrikeWords, apply_edit, new_quote
from tests.shipped import DESTINATIONS
from tests.talks import HD, context_of, talk_of

CONTEXT = context_of(talk_of("So people ask me, there is no secret. Keep the wick short and it burns till dawn."))
QUOTE = new_quote(CONTEXT, 0, len(CONTEXT.talk.words) - 1)


def pinned(*pins: CuePin, of: QuoteDocument = QUOTE) -> QuoteDocument:
    return of.model_copy(update={"captions": of.captions.model_copy(update={"pins": pins})})


def assembly(document: QuoteDocument) -> Assembly:
    return assemble(document, CONTEXT, HD, DESTINATIONS["story-15"])


def said(document: QuoteDocument) -> list[tuple[str, ...]]:
    return [cue.line_texts for cue in assembly(document).cue_tracks[0].cues]


def test_a_pinned_cue_has_its_words_and_its_lines():
    assert ("is no", "secret. Keep") not in said(QUOTE)
    assert ("is no", "secret. Keep") in said(pinned(CuePin(first=5, last=8, line_starts=(7,))))


def test_a_hidden_cue_is_not_shown_and_its_words_are_in_no_other():
    made = " ".join(" ".join(lines) for lines in said(pinned(CuePin(first=4, last=7, hidden=True))))
    assert made.startswith("So people ask me, Keep the wick")


def test_a_pin_sleeps_while_its_words_are_struck_and_is_there_again_after():
    pin = CuePin(first=8, last=9)
    held = pinned(pin)
    assert ("Keep the",) in said(held)
    struck = apply_edit(held, StrikeWords(first=9, last=9), CONTEXT)
    assert ("Keep the",) not in said(struck)
    back = apply_edit(struck, RestoreWords(first=9, last=9), CONTEXT)
    assert said(back) == said(held)


def test_times_are_shifted_and_never_into_the_cue_before():
    plain, late = (assembly(pinned(CuePin(first=8, last=11, shift_in_ms=ms))) for ms in (0, 200))
    one, other = (next(c for c in a.cue_tracks[0].cues if c.text.startswith("Keep")) for a in (plain, late))
    assert other.first_frame == one.first_frame + 5
    longer = assembly(pinned(CuePin(first=8, last=9, shift_out_ms=2000))).cue_tracks[0].cues
    place = next(i for i, cue in enumerate(longer) if cue.text == "Keep the")
    assert longer[place].end_frame == longer[place + 1].first_frame
    early = assembly(pinned(CuePin(first=8, last=11, shift_in_ms=-2000))).cue_tracks[0].cues
    place = next(i for i, cue in enumerate(early) if cue.text.startswith("Keep"))
    assert early[place].first_frame == early[place - 1].end_frame


words = st.integers(0, len(CONTEXT.talk.words) - 1)


@given(
    st.lists(st.builds(CuePin, first=words, last=words, line_starts=st.lists(words, max_size=2).map(tuple)), max_size=5)
)
def test_every_word_is_in_one_cue_in_order_whatever_is_pinned(pins: list[CuePin]):
    shown = [word.index for cue in assembly(pinned(*pins)).cue_tracks[0].cues for word in cue.words]
    assert shown == list(range(len(CONTEXT.talk.words)))
