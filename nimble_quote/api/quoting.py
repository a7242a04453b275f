"""A quote as the workbench shows it: its cut, which is shown at once after an edit, and its versions, resolved and
checked, which take longer."""

from collections.abc import Sequence
from typing import Literal

from nimble_quote.api.views.workbench import (
    CutView,
    LimitMarks,
    QuoteView,
    ResolvedView,
    TreatedView,
    UnfairView,
    VersionCut,
    VersionView,
)
from nimble_quote.core.assembly import assemble, cut_ms
from nimble_quote.core.context import Context
from nimble_quote.core.cutting.fairness import check_fairness
from nimble_quote.core.cutting.kept import kept_spans, kept_words, struck_words
from nimble_quote.core.cutting.pauses import SHOWN_FROM_MS, pauses
from nimble_quote.core.cutting.reading import joins, same_cut, source_at
from nimble_quote.core.destinations import gauge
from nimble_quote.core.document import QuoteDocument, Version
from nimble_quote.core.framing.sharpness import sharpness_of_picture
from nimble_quote.core.framing.views import view_of
from nimble_quote.core.preflight import Finding, preflight
from nimble_quote.formats.ass import write_ass
from nimble_quote.store.quotes import QuoteRow
from nimble_quote.store.recordings import RecordingRow


def quote_view(quote: QuoteRow, recording: RecordingRow, context: Context, merged: Sequence[str] = ()) -> QuoteView:
    """A quote for the workbench, and what was changed elsewhere meanwhile."""
    document = quote.document
    versions = [_version_cut(one, document, recording, context) for one in document.versions]
    chosen = [one for one in context.catalogue.destinations if not one.retired or document.version(one.id)]
    lengths = {one.id: cut_ms(document, recording.facts) for one in chosen}
    lengths |= {one.destination: one.length_ms for one in versions}
    return QuoteView(
        id=quote.id,
        recording_id=recording.id,
        recording_title=recording.title,
        revision=quote.revision,
        removed=quote.removed,
        document=document,
        cut=_cut_view(document, recording, context),
        gauges=[gauge(lengths[destination.id], destination) for destination in chosen],
        versions=versions,
        undo_said=quote.undo_said,
        undo_by=quote.undo_by,
        redo_said=quote.redo_said,
        part_of=quote.part_of,
        merged=list(merged),
    )


def resolved_view(quote: QuoteRow, recording: RecordingRow, context: Context) -> ResolvedView:
    """The versions of a quote, resolved and checked."""
    document = quote.document
    as_base = [one.destination for one in document.versions if same_cut(document, one.destination)]
    base = _unfair(document, context, None) if as_base else []
    return ResolvedView(
        revision=quote.revision,
        versions=[
            version_view(one.destination, document, recording, context, base if one.destination in as_base else None)
            for one in document.versions
        ],
    )


def version_view(
    destination: str,
    document: QuoteDocument,
    recording: RecordingRow,
    context: Context,
    unfair: list[UnfairView] | None = None,
) -> VersionView:
    """One version, resolved and checked; `unfair` where its cut was looked at already."""
    assembly = assemble(document, context, recording.facts, context.catalogue.destination(destination))
    notes = _unfair(document, context, destination) if unfair is None else unfair
    return VersionView(
        destination=destination,
        treated=_treated(document, destination, context),
        sharpness=sharpness_of_picture(assembly.sharpness) if assembly.sharpness is not None else None,
        assembly=assembly,
        script=write_ass(assembly),
        unfair=notes,
        findings=[
            *preflight(assembly, context.sight.faces),
            *(_fairness(one) for one in notes if one.accepted is None),
        ],
    )


def _treated(document: QuoteDocument, destination: str, context: Context) -> TreatedView:
    shape = context.catalogue.destination(destination).shape
    treatment = document.treatment(destination, shape)
    framing, version = treatment.framing, document.version(destination)
    layouts: dict[str, Literal["fill", "fit", "tiles"]] = {"single": "fill", "whole": "fit", "tiles": "tiles"}
    others = (
        context.catalogue.destination(one.destination)
        for one in document.versions
        if one is not version and one.treatment is None
    )
    return TreatedView(
        layout=layouts[framing.usual.kind],
        **dict(view_of(framing.usual)),
        backdrop=framing.backdrop,
        colour=framing.colour,
        caption_height=treatment.caption_height,
        alone=version is not None and version.treatment is not None,
        shares=[one.name for one in others if one.shape == shape],
    )


def _version_cut(version: Version, document: QuoteDocument, recording: RecordingRow, context: Context) -> VersionCut:
    destination = version.destination
    limit = context.catalogue.destination(destination).limit_ms * version.speed
    own = None if same_cut(document, destination) else _cut_view(document, recording, context, destination)
    return VersionCut(
        destination=destination,
        cut=own,
        length_ms=cut_ms(document, recording.facts, destination),
        limit=LimitMarks(
            said_ms=source_at([document.span], limit), kept_ms=source_at(kept_spans(document, destination), limit)
        ),
    )


def _cut_view(
    document: QuoteDocument, recording: RecordingRow, context: Context, destination: str | None = None
) -> CutView:
    """What is heard of a version, or of the base."""
    kept = kept_spans(document, destination)
    return CutView(
        kept=list(kept),
        kept_words=[word.index for word in kept_words(document, context.talk, destination)],
        struck_words=[word.index for word in struck_words(document, context.talk, destination)],
        length_ms=cut_ms(document, recording.facts, destination),
        joins=list(joins(kept)),
        pauses=[
            one
            for one in pauses(document, context.talk, destination, SHOWN_FROM_MS)
            if not one.join or one.kept_ms >= SHOWN_FROM_MS
        ],
    )


def _unfair(document: QuoteDocument, context: Context, destination: str | None) -> list[UnfairView]:
    reasons = {one.what: one.reason for one in document.accepted}
    found = check_fairness(document, context.talk, destination)
    return [UnfairView(**one.model_dump(), accepted=reasons.get(one.id)) for one in found]


def _fairness(one: UnfairView) -> Finding:
    return Finding(
        check="fairness",
        severity="warn",
        says=one.says,
        do=one.do,
        step="captions" if one.rule == "caption" else "trim",
        word=one.first,
    )
