"""Why a transcript file can't be used."""

from nimble_quote.core.refusal import Refused


class TranscriptUnreadable(Refused):
    """A transcript file that can't be used; the message says why."""

    code = "transcript-unreadable"
