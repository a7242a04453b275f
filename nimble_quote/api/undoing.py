"""Taking back one's own last change of a quote where somebody else has changed it since."""

from nimble_quote.api.state import ServerState
from nimble_quote.core.edits import EditRefused
from nimble_quote.core.edits.undoing import BuiltOn, without_change
from nimble_quote.store import quotes
from nimble_quote.store.database import Connection
from nimble_quote.store.quotes import QuoteRow, TakenBack


async def take_back(conn: Connection, server: ServerState, quote: QuoteRow, by: str | None) -> None:
    """Adds a revision in which the last change of somebody is undone and all later ones stay.

    Call with the quote locked. Raises `EditRefused` where they have changed nothing, `BuiltOn` where others have changed
    the same since.
    """
    way = await quotes.way_to_head(conn, quote.id)
    gone = {row.takes_back for row in way}
    own = (row for row in reversed(way) if row.by_whom == by and row.takes_back is None and row.number not in gone)
    mine = next((row for row in own if row.parent is not None), None)
    if mine is None or mine.parent is None:
        raise EditRefused("You have changed nothing here that could be undone. Others have: see the history.")
    before = await quotes.document_at(conn, quote.id, mine.parent)
    after = await quotes.document_at(conn, quote.id, mine.number)
    try:
        document = without_change(before, after, quote.document, await server.contexts.catalogues.now(conn))
    except BuiltOn:
        others = ", ".join(dict.fromkeys(row.by_whom or "somebody" for row in way if row.number > mine.number))
        raise BuiltOn(
            f"“{mine.said}” can't be undone by itself: {others} changed the same since. Go back to a point in the history "
            "instead."
        ) from None
    await quotes.revise(conn, quote, TakenBack(number=mine.number), f"Took back: {mine.said}", document, by)
