"""One change undone under later ones: as if it had never been made, or not at all."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.edits import (
    AddVersion,
    CorrectCaption,
    Edit,
    FrameShot,
    FramingChange,
    PlaceWindow,
    RemoveVersion,
    RenameQuote,
    RestoreWords,
    SetSpeed,
    StrikeWords,
    apply_edit,
    new_quote,
)
from nimble_quote.core.edits.touching import go_together
from nimble_quote.core.edits.undoing import BuiltOn, without_change
from nimble_quote.core.refusal import Refused
from tests.strategies import edits_for
from tests.talks import context_of, talk_of

CONTEXT = context_of(talk_of("one two three four five six seven eight nine ten"))
QUOTE = new_quote(CONTEXT, 0, 9)
for _edit in (
    AddVersion(destination="square-60"),
    FrameShot(destination="square-60", at_ms=1500, change=FramingChange(layout="one")),
    PlaceWindow(destination="square-60", at_ms=1500, x=0.4),
):
    QUOTE = apply_edit(QUOTE, _edit, CONTEXT)


def undone(mine: Edit, *theirs: Edit) -> QuoteDocument:
    after = now = apply_edit(QUOTE, mine, CONTEXT)
    for edit in theirs:
        now = apply_edit(now, edit, CONTEXT)
    return without_change(QUOTE, after, now, CONTEXT.catalogue)


def strike(first: int, last: int) -> Edit:
    return StrikeWords(first=first, last=last)


def placed(**where: float) -> Edit:
    return PlaceWindow.model_validate({"destination": "square-60", "at_ms": 1500, **where})


@pytest.mark.parametrize(
    ("mine", "theirs"),
    [
        (strike(1, 2), strike(6, 7)),
        (strike(1, 2), RenameQuote(title="Theirs")),
        (placed(zoom=2), placed(x=0.2)),
        (CorrectCaption(first=1, last=1, text="TWO"), CorrectCaption(first=4, last=4, text="FIVE")),
        (AddVersion(destination="wide-140"), strike(3, 3)),
        (RemoveVersion(destination="square-60"), strike(3, 3)),
        (SetSpeed(destination="square-60", speed=1.1), placed(zoom=2)),
    ],
)
def test_what_others_changed_elsewhere_stays(mine: Edit, theirs: Edit):
    assert undone(mine, theirs) == apply_edit(QUOTE, theirs, CONTEXT)


@pytest.mark.parametrize(
    ("mine", "theirs"),
    [
        (strike(1, 2), RestoreWords(first=2, last=2)),
        (RenameQuote(title="Mine"), RenameQuote(title="Theirs")),
        (placed(zoom=2), placed(zoom=3)),
        (AddVersion(destination="wide-140"), SetSpeed(destination="wide-140", speed=1.1)),
        (CorrectCaption(first=1, last=1, text="TWO"), CorrectCaption(first=1, last=1, text="2")),
    ],
)
def test_what_others_changed_again_is_theirs(mine: Edit, theirs: Edit):
    with pytest.raises(BuiltOn):
        undone(mine, theirs)


@given(st.data())
def test_undone_is_as_if_it_had_never_been_made(data: st.DataObject):
    mine, theirs = (data.draw(edits_for(CONTEXT.talk)) for _ in range(2))
    if not go_together(mine.touches(CONTEXT), theirs.touches(CONTEXT)):
        return
    try:
        assert undone(mine) == QUOTE
        made, alone = undone(mine, theirs), apply_edit(QUOTE, theirs, CONTEXT)
    except (Refused, BuiltOn):
        return
    assert made == alone
