"""Taking back one's own last change of a quote where somebody else has changed it since."""

from typing import Any

from pydantic import TypeAdapter, ValidationError

from nimble_quote.api.place import House
from nimble_quote.core.catalogue import NotInCatalogue
from nimble_quote.core.context import Context
from nimble_quote.core.edits import Edit, EditRefused, apply_edit
from nimble_quote.core.edits.touching import go_together
from nimble_quote.core.refusal import Conflict
from nimble_quote.store import quotes, recordings
from nimble_quote.store.database import Connection
from nimble_quote.store.quotes import MadeRow, QuoteRow, TakenBack

_EDIT: TypeAdapter[Edit] = TypeAdapter(Edit)


class CannotTakeBack(Conflict):
    """A change can't be taken back by itself: others have built on it."""

    code = "cannot-take-back"


async def take_back(conn: Connection, house: House, quote: QuoteRow, by: str | None) -> None:
    """Adds a revision in which the last change of somebody is undone and all later ones stay.

    Call with the quote locked. Raises `EditRefused` where they have changed nothing, `CannotTakeBack` where others have
    changed the same since.
    """
    way = await quotes.way_to_head(conn, quote.id)
    gone = {int(row.edit["number"]) for row in way if _takes_back(row) and row.edit}
    mine = next((row for row in reversed(way) if row.by_whom == by and _is_edit(row) and row.number not in gone), None)
    if mine is None:
        raise EditRefused("You have changed nothing here that could be undone. Others have: see the history.")
    recording = await recordings.one(conn, quote.recording_id)
    context = await house.contexts.around(conn, recording, quote.document.span)
    # From before the first that is not to be there, all that is to be there is made again.
    removed = gone | {mine.number}
    first = next(row for row in way if row.number in removed)
    document = await quotes.document_at(conn, quote.id, first.parent or 1)
    undone = read_edit(mine.edit)
    for row in way:
        if row.number <= first.number or row.number in removed or not _is_edit(row):
            continue
        edit = read_edit(row.edit)
        if edit is None or undone is None or (row.number > mine.number and not together(undone, edit, context)):
            raise _refused(mine, row)
        document = apply_edit(document, edit, context)
    await quotes.revise(conn, quote, TakenBack(number=mine.number), f"Took back: {mine.said}", document, by)


def _takes_back(row: MadeRow) -> bool:
    return row.edit is not None and row.edit.get("kind") == "taken-back"


def _is_edit(row: MadeRow) -> bool:
    return row.edit is not None and not _takes_back(row)


def read_edit(told: dict[str, Any] | None) -> Edit | None:
    """A stored edit; None where it is of a kind that is no more."""
    try:
        return _EDIT.validate_python(told)
    except ValidationError:
        return None


def together(mine: Edit, theirs: Edit, context: Context) -> bool:
    """Whether two edits touch nothing in common. One about a destination that never was touches everything."""
    try:
        return go_together(mine.touches(context), theirs.touches(context))
    except NotInCatalogue:
        return False


def _refused(mine: MadeRow, later: MadeRow) -> CannotTakeBack:
    return CannotTakeBack(
        f"“{mine.said}” can't be undone by itself: {later.by_whom or 'somebody'} changed the same since. Go back to a point in "
        "the history instead."
    )
