"""What a person said of findings: that one is fine, or why a stop may stand.

A finding is known by what it says of which version, not by when in the clip it is: it stays quiet while the cut changes elsewhere,
and is told again as soon as what it is about is otherwise. A note of the check of fairness keeps its own name.
"""

import hashlib
from collections.abc import Iterable, Sequence

from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.finding import Finding
from nimble_quote.core.model import Frozen


class Overruled(Frozen):
    """A stop that was exported all the same, and why."""

    check: str
    says: str
    reason: str


def judged(findings: Iterable[Finding], document: QuoteDocument, destination: str) -> list[Finding]:
    """Findings of a version with their names, and what was said of each."""
    reasons = {one.what: one.reason for one in document.accepted}
    named = ((one.id or _name(one, destination), one) for one in findings)
    return [one.model_copy(update={"id": name, "accepted": reasons.get(name)}) for name, one in named]


def holding(findings: Sequence[Finding]) -> list[Finding]:
    """The stops among findings that nobody gave a reason for: they hold an export."""
    return [one for one in findings if one.severity == "stop" and one.accepted is None]


def overruled(findings: Sequence[Finding]) -> tuple[Overruled, ...]:
    """The stops among findings that are exported for a reason."""
    return tuple(
        Overruled(check=one.check, says=one.says, reason=one.accepted)
        for one in findings
        if one.severity == "stop" and one.accepted is not None
    )


def _name(one: Finding, destination: str) -> str:
    about = "\n".join((destination, one.severity, one.says, str(one.overlay)))
    return f"{one.check}:{hashlib.sha256(about.encode()).hexdigest()[:16]}"
