"""The captions and lines of an Assembly as an ASS script, drawn by libass in the browser's preview and in the burn-in alike."""

from nimble_quote.formats.ass.notation import plain
from nimble_quote.formats.ass.writing import faces_in, write_ass

__all__ = ["faces_in", "plain", "write_ass"]
