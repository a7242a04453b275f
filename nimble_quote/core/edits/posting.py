"""Edits of what a quote is posted with."""

from typing import Annotated, Literal

from pydantic import StringConstraints

from nimble_quote.core.context import Context
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.document.posting import Posting, PostText
from nimble_quote.core.edits.changing import EditRefused, changed
from nimble_quote.core.edits.touching import Touches, subject
from nimble_quote.core.model import Frozen


class WritePosting(Frozen):
    """Writes what a quote is posted with, to all destinations or to one; no text takes back what was written."""

    kind: Literal["write-posting"] = "write-posting"
    destination: Annotated[str, StringConstraints(max_length=80)] | None = None
    text: PostText | None = None

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        posting = document.posting
        if self.destination is None:
            return changed(document, posting=Posting(text=self.text, own=posting.own))
        if document.version(self.destination) is None:
            raise EditRefused("This quote has no version for that destination.")
        own = {name: text for name, text in posting.own.items() if name != self.destination}
        if self.text is not None:
            own[self.destination] = self.text
        return changed(document, posting=Posting(text=posting.text, own=own))

    def said(self, document: QuoteDocument, context: Context) -> str:
        to = f" for {context.catalogue.destination(self.destination).name}" if self.destination else ""
        return f"Wrote the posting text{to}" if self.text else f"Back to the draft of the posting text{to}"

    def touches(self, context: Context) -> Touches:
        return subject(f"posting {self.destination or ''}")
