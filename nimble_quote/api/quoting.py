"""A quote as the workbench shows it: its cut, which is shown at once after an edit, and its versions, resolved and
checked, which take longer."""

from bisect import bisect_right
from collections.abc import Mapping, Sequence
from types import MappingProxyType

import numpy as np
from numpy.typing import NDArray

from nimble_quote.api.views.workbench import (
    CutShotView,
    CutView,
    FollowedView,
    FramedView,
    LimitMarks,
    OverlayWords,
    QuoteView,
    ResolvedView,
    SightView,
    SubjectView,
    TreatedView,
    UnfairView,
    VersionCut,
    VersionView,
)
from nimble_quote.core.assembly import assemble, clip_ms, cut_ms, picture_of
from nimble_quote.core.assembly.bands import bands_of
from nimble_quote.core.assembly.bookends import added_ms
from nimble_quote.core.assembly.faces import followed_faces
from nimble_quote.core.caption_checks import Checked
from nimble_quote.core.captions.contrast import ContrastFound
from nimble_quote.core.captions.placing import caption_height, look_of
from nimble_quote.core.context import Context
from nimble_quote.core.cutting.fairness import check_fairness
from nimble_quote.core.cutting.kept import kept_spans, kept_words, struck_words
from nimble_quote.core.cutting.pauses import SHOWN_FROM_MS, pauses
from nimble_quote.core.cutting.playing import played, played_in, source_at
from nimble_quote.core.cutting.reading import joins, same_cut
from nimble_quote.core.destinations import Destination, gauge
from nimble_quote.core.document import QuoteDocument, Version
from nimble_quote.core.finding import Finding
from nimble_quote.core.framing.framed import FramedShot
from nimble_quote.core.framing.saying import called
from nimble_quote.core.framing.set_ups import SetUp, find_set_ups
from nimble_quote.core.framing.sharpness import sharpness_of_picture
from nimble_quote.core.framing.stretches import pieces_of
from nimble_quote.core.framing.versions import framed_shots, stretches_of_cut
from nimble_quote.core.preflight import doubtful, preflight
from nimble_quote.core.verdicts import judged
from nimble_quote.formats.ass import faces_in, write_ass
from nimble_quote.store.quotes import QuoteRow
from nimble_quote.store.recordings import RecordingRow


def quote_view(quote: QuoteRow, recording: RecordingRow, context: Context, merged: Sequence[str] = ()) -> QuoteView:
    """A quote for the workbench, and what was changed elsewhere meanwhile."""
    document = quote.document
    versions = [_version_cut(one, document, recording, context) for one in document.versions]
    chosen = [one for one in context.catalogue.destinations if not one.retired or document.version(one.id)]
    lengths = {one.id: clip_ms(document, context.catalogue, recording.facts, one) for one in chosen}
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
        overlay_words=_overlay_words(document, context),
        overlays=list(context.catalogue.overlays(document)),
        merged=list(merged),
    )


def _overlay_words(document: QuoteDocument, context: Context) -> list[OverlayWords]:
    ends = (
        (one.id, context.talk.lasting(one.when.first), context.talk.lasting(one.when.last))
        for one in context.catalogue.overlays(document)
        if one.when.first is not None and one.when.last is not None
    )
    return [OverlayWords(id=id_, first=first.index, last=last.index) for id_, first, last in ends if first and last]


def resolved_view(quote: QuoteRow, recording: RecordingRow, context: Context) -> ResolvedView:
    """The versions of a quote, resolved and checked."""
    document = quote.document
    as_base = [one.destination for one in document.versions if same_cut(document, one.destination)]
    base = _unfair(document, context, None) if as_base else []
    set_ups = find_set_ups(context.sight) if recording.facts.has_picture else []
    return ResolvedView(
        revision=quote.revision,
        shots=_cut_shots(document, context, set_ups) if recording.facts.has_picture else [],
        set_ups=[one.name for one in set_ups],
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
    contrast: Mapping[int, ContrastFound] = MappingProxyType({}),
) -> VersionView:
    """One version, resolved and checked; `unfair` where its cut was looked at already, and the contrast of its cues where that was
    measured."""
    place = context.catalogue.destination(destination)
    framing = _framing(document, recording, context, place)
    assembly = assemble(document, context, recording.facts, place, framing)
    notes = _unfair(document, context, destination) if unfair is None else unfair
    script = write_ass(assembly, context.lettering)
    faces = followed_faces(framing, context.sight)
    checked = Checked(
        context=context, faces=faces, contrast=contrast,
        overlays=context.catalogue.overlays(document),
    )  # fmt: skip
    return VersionView(
        destination=destination,
        treated=_treated(document, destination, context),
        framing=framing,
        sharpness=sharpness_of_picture(assembly.sharpness) if assembly.sharpness is not None else None,
        assembly=assembly,
        script=script,
        faces=sorted(faces_in(script)),
        bands=list(bands_of(assembly.picture, place, look_of(document, context.catalogue))),
        unfair=notes,
        findings=judged(
            [*preflight(assembly, faces, checked), *doubtful(framing, assembly), *map(_fairness, notes)],
            document,
            destination,
        ),
    )


def framed_view(destination: str, document: QuoteDocument, recording: RecordingRow, context: Context) -> FramedView:
    """How one version is framed."""
    place = context.catalogue.destination(destination)
    framing = _framing(document, recording, context, place)
    picture = picture_of(document, context, recording.facts, place, framing)
    return FramedView(destination=destination, picture=picture, framing=framing)


def sight_view(context: Context) -> SightView:
    """What is seen around a quote."""
    sight = context.sight
    subjects = {track.subject: track.thing for track in sight.tracks}
    return SightView(
        subjects=[
            SubjectView(subject=one, called=called(one, sight.names, thing=thing, others=sight.several), thing=thing)
            for one, thing in sorted(subjects.items())
        ],
        tracks=[
            FollowedView(
                subject=track.subject, at_ms=[int(at) for at in track.at_ms], x=_rounded(track.x), y=_rounded(track.y),
                width=_rounded(track.width), height=_rounded(track.height),
            )
            for track in sight.tracks
        ],
    )  # fmt: skip


def _rounded(values: NDArray[np.float64]) -> list[float]:
    return [round(float(value), 4) for value in values]


def _framing(
    document: QuoteDocument, recording: RecordingRow, context: Context, destination: Destination
) -> list[FramedShot]:
    if not recording.facts.has_picture:
        return []
    kept = kept_spans(document, destination.id)
    return list(framed_shots(document, context, (recording.width, recording.height), destination, kept))


def _cut_shots(document: QuoteDocument, context: Context, set_ups: Sequence[SetUp]) -> list[CutShotView]:
    """The stretches that any version, or the base, keeps something of."""
    kept = [kept_spans(document), *(kept_spans(document, one.destination) for one in document.versions)]
    starts = [shot.span.start_ms for shot in context.sight.shots] or [0]
    of_shot = {number: place for place, one in enumerate(set_ups) for number in one.shots}
    return [
        CutShotView(
            span=span,
            parted=span.start_ms not in starts,
            set_up=of_shot.get(bisect_right(starts, span.start_ms) - 1, 0),
        )
        for span in stretches_of_cut(document, context)
        if any(pieces_of(span, one) for one in kept)
    ]


def _treated(document: QuoteDocument, destination: str, context: Context) -> TreatedView:
    shape = context.catalogue.destination(destination).shape
    version = document.version(destination)
    others = (
        context.catalogue.destination(one.destination)
        for one in document.versions
        if one is not version and one.treatment is None
    )
    return TreatedView(
        caption_height=caption_height(
            document, context.catalogue.destination(destination), look_of(document, context.catalogue)
        ),
        alone=version is not None and version.treatment is not None,
        shares=[one.name for one in others if one.shape == shape],
    )


def _version_cut(version: Version, document: QuoteDocument, recording: RecordingRow, context: Context) -> VersionCut:
    destination = version.destination
    place = context.catalogue.destination(destination)
    length = cut_ms(document, recording.facts, place)
    limit = place.limit_ms - added_ms(document, context.catalogue, length)
    own = None if same_cut(document, destination) else _cut_view(document, recording, context, destination)
    return VersionCut(
        destination=destination,
        cut=own,
        length_ms=clip_ms(document, context.catalogue, recording.facts, place),
        limit=LimitMarks(
            said_ms=source_at(played([document.span], document.fast, version.speed), limit),
            kept_ms=source_at(played_in(document, destination), limit),
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
        length_ms=cut_ms(
            document, recording.facts, context.catalogue.destination(destination) if destination else None
        ),
        joins=list(joins(played_in(document, destination))),
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
        id=one.id,
        check="fairness",
        severity="warn",
        says=one.says,
        do=one.do,
        step="captions" if one.rule == "caption" else "trim",
        word=one.first,
    )
