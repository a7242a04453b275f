"""Whether versions may be exported: everything that is wrong with each, and what of it holds it."""

import asyncio
from collections.abc import Mapping, Sequence

from nimble_quote.api.contrasts import Contrasts, measured_in
from nimble_quote.api.quoting import version_view
from nimble_quote.core.context import Context
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.finding import Finding
from nimble_quote.core.refusal import Conflict
from nimble_quote.core.verdicts import holding
from nimble_quote.store.recordings import RecordingRow


class Held(Conflict):
    """Versions that would spoil a post, which nobody gave a reason to export all the same."""

    code = "held"


async def checked(
    contrasts: Contrasts,
    document: QuoteDocument,
    recording: RecordingRow,
    context: Context,
    destinations: Sequence[str],
) -> dict[str, list[Finding]]:
    """All that is wrong with some versions, by their destinations."""
    found = {}
    for destination in destinations:
        seen = await asyncio.to_thread(version_view, destination, document, recording, context)
        found[destination] = [
            *await measured_in(contrasts, document, recording, context, destination), *seen.findings
        ]  # fmt: skip
    return found


def require_free(found: Mapping[str, Sequence[Finding]], context: Context) -> None:
    """Raises `Held` where a stop holds a version."""
    held = {name: stops for name, findings in found.items() if (stops := holding(findings))}
    if not held:
        return
    first, stops = next(iter(held.items()))
    count = sum(map(len, held.values()))
    more = f" And {count - 1} more." if count > 1 else ""
    raise Held(
        f"{context.catalogue.destination(first).name}: {stops[0].says}{more} Fix it, or say in Check why it may be exported as it is."
    )
