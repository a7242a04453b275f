"""Making an edit of a quote: a revision that says what was done, by whom."""

from nimble_quote.core.context import Context
from nimble_quote.core.edits import Edit, apply_edit, describe_edit
from nimble_quote.store import quotes
from nimble_quote.store.database import Connection
from nimble_quote.store.quotes import QuoteRow


async def make_edit(conn: Connection, quote: QuoteRow, edit: Edit, context: Context, by: str | None) -> None:
    """Adds a revision of a quote, unless the edit changes nothing. Call with the quote locked. Raises `EditRefused`."""
    document = apply_edit(quote.document, edit, context)
    if document != quote.document:
        await quotes.revise(conn, quote, edit, describe_edit(quote.document, edit, context), document, by)
