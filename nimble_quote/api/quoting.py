"""A quote as the workbench shows it: its cut, and every version resolved and checked."""

from nimble_quote.api.views import CutView, LimitMarks, QuoteView, UnfairView, VersionView
from nimble_quote.core.assembly import assemble, cut_ms
from nimble_quote.core.cutting.fairness import check_fairness
from nimble_quote.core.cutting.kept import kept_spans, kept_words, struck_words
from nimble_quote.core.cutting.pauses import SHOWN_FROM_MS, pauses
from nimble_quote.core.cutting.reading import joins, same_cut, source_at
from nimble_quote.core.destinations import BUILT_IN, gauge
from nimble_quote.core.preflight import Finding, preflight
from nimble_quote.core.quote import QuoteDocument
from nimble_quote.core.talk import Talk
from nimble_quote.formats.ass import write_ass
from nimble_quote.store.quotes import QuoteRow
from nimble_quote.store.recordings import RecordingRow


def quote_view(quote: QuoteRow, recording: RecordingRow, talk: Talk, merged: list[str] | None = None) -> QuoteView:
    """A quote for the workbench, with every version resolved and checked."""
    document = quote.document
    base = cut_view(document, recording, talk)
    versions = [version_view(one.destination, document, recording, talk, base) for one in document.versions]
    lengths = dict.fromkeys(BUILT_IN, base.length_ms) | {one.destination: one.length_ms for one in versions}
    return QuoteView(
        id=quote.id,
        recording_id=recording.id,
        recording_title=recording.title,
        revision=quote.revision,
        removed=quote.removed,
        document=document,
        cut=base,
        gauges=[gauge(lengths[destination.id], destination) for destination in BUILT_IN.values()],
        versions=versions,
        undo_said=quote.undo_said,
        redo_said=quote.redo_said,
        part_of=quote.part_of,
        merged=merged or [],
    )


def cut_view(document: QuoteDocument, recording: RecordingRow, talk: Talk, destination: str | None = None) -> CutView:
    """What is heard of a version, or of the base."""
    kept = kept_spans(document, destination)
    reasons = {one.what: one.reason for one in document.accepted}
    return CutView(
        kept=list(kept),
        kept_words=[word.index for word in kept_words(document, talk, destination)],
        struck_words=[word.index for word in struck_words(document, talk, destination)],
        length_ms=cut_ms(document, recording.facts, destination),
        joins=list(joins(kept)),
        pauses=[
            one
            for one in pauses(document, talk, destination, SHOWN_FROM_MS)
            if not one.join or one.kept_ms >= SHOWN_FROM_MS
        ],
        unfair=[
            UnfairView(**one.model_dump(), accepted=reasons.get(one.id))
            for one in check_fairness(document, talk, destination)
        ],
    )


def version_view(
    destination: str, document: QuoteDocument, recording: RecordingRow, talk: Talk, base: CutView | None = None
) -> VersionView:
    """One version, resolved and checked; `base` where that has been looked at already."""
    assembly = assemble(document, talk, recording.facts, BUILT_IN[destination])
    own = None if same_cut(document, destination) else cut_view(document, recording, talk, destination)
    cut = own or base or cut_view(document, recording, talk)
    limit = BUILT_IN[destination].limit_ms
    return VersionView(
        destination=destination,
        cut=own,
        length_ms=cut_ms(document, recording.facts, destination),
        limit=LimitMarks(
            said_ms=source_at([document.span], limit * assembly.speed),
            kept_ms=source_at(kept_spans(document, destination), limit * assembly.speed),
        ),
        assembly=assembly,
        script=write_ass(assembly),
        findings=[*preflight(assembly, talk.faces), *(_fairness(one) for one in cut.unfair if one.accepted is None)],
    )


def _fairness(one: UnfairView) -> Finding:
    return Finding(check="fairness", severity="warn", says=one.says, do=one.do, step="trim", word=one.first)
