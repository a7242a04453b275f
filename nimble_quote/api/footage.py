"""Footage of other recordings in edits: what is told of a recording is what is known of it here, whatever was sent."""

from nimble_quote.core.document import Insert
from nimble_quote.core.edits import AddOverlay, ChangeOverlay, Edit, EditRefused
from nimble_quote.store import recordings
from nimble_quote.store.database import Connection


async def with_footage(conn: Connection, edit: Edit) -> Edit:
    """An edit with the facts of the recording that it shows a piece of. Raises `EditRefused` where there is none to be shown."""
    if (
        not isinstance(edit, AddOverlay | ChangeOverlay)
        or not isinstance(edit.what, Insert)
        or edit.what.footage is None
    ):
        return edit
    footage = edit.what.footage
    row = (await recordings.many(conn, [footage.recording])).get(footage.recording)
    if row is None or not row.width:
        raise EditRefused("That recording is not there any more, or has no picture. Choose another.")
    if footage.from_ms >= row.duration_ms:
        raise EditRefused(f"{row.title} ends before that. Begin earlier in it.")
    known = footage.model_copy(update={"width": row.width, "height": row.height, "duration_ms": row.duration_ms})
    return edit.model_copy(update={"what": edit.what.model_copy(update={"footage": known})})
