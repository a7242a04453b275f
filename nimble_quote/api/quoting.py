"""A quote as the workbench shows it: its cut, which is shown at once after an edit, and its versions, resolved and
checked, which take longer."""

from collections.abc import Sequence

from nimble_quote.api.views import CutView, LimitMarks, QuoteView, ResolvedView, UnfairView, VersionCut, VersionView
from nimble_quote.core.assembly import assemble, cut_ms
from nimble_quote.core.cutting.fairness import check_fairness
from nimble_quote.core.cutting.kept import kept_spans, kept_words, struck_words
from nimble_quote.core.cutting.pauses import SHOWN_FROM_MS, pauses
from nimble_quote.core.cutting.reading import joins, same_cut, source_at
from nimble_quote.core.destinations import BUILT_IN, gauge
from nimble_quote.core.preflight import Finding, preflight
from nimble_quote.core.quote import QuoteDocument, Version
from nimble_quote.core.talk import Talk
from nimble_quote.formats.ass import write_ass
from nimble_quote.store.quotes import QuoteRow
from nimble_quote.store.recordings import RecordingRow


def quote_view(quote: QuoteRow, recording: RecordingRow, talk: Talk, merged: Sequence[str] = ()) -> QuoteView:
    """A quote for the workbench, and what was changed elsewhere meanwhile."""
    document = quote.document
    versions = [_version_cut(one, document, recording, talk) for one in document.versions]
    lengths = dict.fromkeys(BUILT_IN, cut_ms(document, recording.facts))
    lengths |= {one.destination: one.length_ms for one in versions}
    return QuoteView(
        id=quote.id,
        recording_id=recording.id,
        recording_title=recording.title,
        revision=quote.revision,
        removed=quote.removed,
        document=document,
        cut=_cut_view(document, recording, talk),
        gauges=[gauge(lengths[destination.id], destination) for destination in BUILT_IN.values()],
        versions=versions,
        undo_said=quote.undo_said,
        redo_said=quote.redo_said,
        part_of=quote.part_of,
        merged=list(merged),
    )


def resolved_view(quote: QuoteRow, recording: RecordingRow, talk: Talk) -> ResolvedView:
    """The versions of a quote, resolved and checked."""
    document = quote.document
    as_base = [one.destination for one in document.versions if same_cut(document, one.destination)]
    base = _unfair(document, talk, None) if as_base else []
    return ResolvedView(
        revision=quote.revision,
        versions=[
            version_view(one.destination, document, recording, talk, base if one.destination in as_base else None)
            for one in document.versions
        ],
    )


def version_view(
    destination: str,
    document: QuoteDocument,
    recording: RecordingRow,
    talk: Talk,
    unfair: list[UnfairView] | None = None,
) -> VersionView:
    """One version, resolved and checked; `unfair` where its cut was looked at already."""
    assembly = assemble(document, talk, recording.facts, BUILT_IN[destination])
    notes = _unfair(document, talk, destination) if unfair is None else unfair
    return VersionView(
        destination=destination,
        assembly=assembly,
        script=write_ass(assembly),
        unfair=notes,
        findings=[*preflight(assembly, talk.faces), *(_fairness(one) for one in notes if one.accepted is None)],
    )


def _version_cut(version: Version, document: QuoteDocument, recording: RecordingRow, talk: Talk) -> VersionCut:
    destination = version.destination
    limit = BUILT_IN[destination].limit_ms * version.speed
    own = None if same_cut(document, destination) else _cut_view(document, recording, talk, destination)
    return VersionCut(
        destination=destination,
        cut=own,
        length_ms=cut_ms(document, recording.facts, destination),
        limit=LimitMarks(
            said_ms=source_at([document.span], limit), kept_ms=source_at(kept_spans(document, destination), limit)
        ),
    )


def _cut_view(document: QuoteDocument, recording: RecordingRow, talk: Talk, destination: str | None = None) -> CutView:
    """What is heard of a version, or of the base."""
    kept = kept_spans(document, destination)
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
    )


def _unfair(document: QuoteDocument, talk: Talk, destination: str | None) -> list[UnfairView]:
    reasons = {one.what: one.reason for one in document.accepted}
    found = check_fairness(document, talk, destination)
    return [UnfairView(**one.model_dump(), accepted=reasons.get(one.id)) for one in found]


def _fairness(one: UnfairView) -> Finding:
    return Finding(check="fairness", severity="warn", says=one.says, do=one.do, step="trim", word=one.first)
