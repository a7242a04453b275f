"""The contrast of a quote's captions: pictures of its stretch are read once, and measured for each of its versions."""

import asyncio
from collections import OrderedDict
from dataclasses import dataclass, field

from nimble_quote.core.assembly import Assembly, assemble
from nimble_quote.core.caption_checks import CONTRAST_CHECKS, Checked, check_captions
from nimble_quote.core.caption_contrast import Pictures, contrast_of, contrast_over
from nimble_quote.core.captions.contrast import ContrastFound
from nimble_quote.core.context import Context
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.finding import Finding
from nimble_quote.core.overlay_checks import hard_to_read
from nimble_quote.core.timebase import Span
from nimble_quote.core.verdicts import judged
from nimble_quote.media.files import MediaRoot
from nimble_quote.media.keys import PROXY
from nimble_quote.media.lightness import pictures_of
from nimble_quote.store.recordings import RecordingRow

_KEPT = 24
_STEP_MS = 15_000
"""Stretches begin and end on multiples of this, so that a moved edge rarely asks for another."""
Key = tuple[object, ...]


@dataclass
class Contrasts:
    """Pictures that were read last: a quote is looked at again and again."""

    media: MediaRoot
    _kept: "OrderedDict[Key, asyncio.Task[Pictures]]" = field(default_factory=OrderedDict)

    async def pictures(self, recording: RecordingRow, span: Span) -> Pictures:
        """Pictures of a quote's stretch; those that somebody reads already are waited for. Raises `MediaFailed`."""
        start = span.start_ms // _STEP_MS * _STEP_MS
        end = min(recording.duration_ms, -(-span.end_ms // _STEP_MS) * _STEP_MS)
        key = recording.id, recording.content, PROXY in recording.made, start, end
        if key not in self._kept or (self._kept[key].done() and self._kept[key].exception()):
            path = self.media.store.local(recording.plays)
            size = recording.width, recording.height
            self._kept[key] = asyncio.create_task(pictures_of(path, size, Span(start_ms=start, end_ms=end)))
            while len(self._kept) > _KEPT:
                self._kept.popitem(last=False)
        self._kept.move_to_end(key)
        return await asyncio.shield(self._kept[key])


@dataclass(frozen=True, kw_only=True)
class Measured:
    """The contrast of the cues of a version by their first frame, and what is wrong with it."""

    found: dict[int, ContrastFound]
    findings: list[Finding]


def measured(
    document: QuoteDocument, recording: RecordingRow, context: Context, destination: str, pictures: Pictures
) -> Measured:
    """The contrast of one version's captions."""
    assembly = assemble(document, context, recording.facts, context.catalogue.destination(destination))
    palette = context.catalogue.palette
    found = contrast_of(assembly, context, pictures, palette)
    over = hard_to_read(
        assembly, contrast_over(assembly, context, pictures, palette), context.catalogue.overlays(document)
    )
    findings = [*contrast_findings(assembly, context, found), *over]
    return Measured(found=found, findings=judged(findings, document, destination))


async def measured_in(
    contrasts: Contrasts, document: QuoteDocument, recording: RecordingRow, context: Context, destination: str
) -> list[Finding]:
    """What is wrong with how texts of a version can be told from its picture; nothing where there are none, or no picture."""
    texts = document.captions.shown or context.catalogue.overlays(document)
    if not texts or not recording.facts.has_picture or not recording.plays:
        return []
    pictures = await contrasts.pictures(recording, document.span)
    return (await asyncio.to_thread(measured, document, recording, context, destination, pictures)).findings


def contrast_findings(assembly: Assembly, context: Context, found: dict[int, ContrastFound]) -> list[Finding]:
    """What is wrong with the contrast of a version's captions."""
    return list(check_captions(assembly, Checked(context=context, contrast=found), CONTRAST_CHECKS))
