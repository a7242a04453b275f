"""Why a transcript file can't be used."""


class TranscriptUnreadable(ValueError):
    """A transcript file that can't be used; the message says why."""
