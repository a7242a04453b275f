"""What a check finds: what, where, what to do, and, where that can be computed, the edit that does it."""

from typing import Literal

from nimble_quote.core.edits import Edit
from nimble_quote.core.model import Frozen

Severity = Literal["stop", "warn"]
Step = Literal["trim", "frame", "captions", "finish"]


class Finding(Frozen):
    """Something wrong with a version: `at_ms` is in the output, `word` the transcript word it concerns."""

    id: str = ""
    """What it is known by, where somebody says something of it."""
    check: str
    severity: Severity
    says: str
    do: str
    step: Step | None = None
    at_ms: int | None = None
    word: int | None = None
    overlay: int | None = None
    """The number of what stands over the picture, where it is about that."""
    mend: Edit | None = None
    """The edit that mends it, where one can be computed."""
    mend_says: str = ""
    """What that does, on a button."""
    accepted: str | None = None
    """Why it may stand, where somebody said so."""
