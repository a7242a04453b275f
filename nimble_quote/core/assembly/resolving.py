"""Resolving a document for a destination into an Assembly, and how long a cut runs."""

from collections import OrderedDict
from collections.abc import Sequence
from fractions import Fraction
from math import ceil

from nimble_quote.core.assembly.bookends import after_cover, around_cut, bookends_of, card_run, cover_picture
from nimble_quote.core.assembly.captions import caption_words, cue_track
from nimble_quote.core.assembly.faces import followed_faces, frames_of_faces
from nimble_quote.core.assembly.hearing import sound_of
from nimble_quote.core.assembly.model import RECORDING, Assembly, PictureRun, SourceSize, sharpness_of
from nimble_quote.core.assembly.overlays import placed_overlays
from nimble_quote.core.assembly.runs import Stage, framed, frames_of, lay_out
from nimble_quote.core.captions.timing import Clip
from nimble_quote.core.catalogue import Catalogue
from nimble_quote.core.context import Context
from nimble_quote.core.covers import cover_moment
from nimble_quote.core.cutting.kept import kept_spans
from nimble_quote.core.cutting.playing import Played, played, played_in
from nimble_quote.core.destinations import Destination
from nimble_quote.core.document import QuoteDocument, Version
from nimble_quote.core.framing.framed import FramedShot
from nimble_quote.core.framing.layouts import Behind
from nimble_quote.core.framing.stretches import choice_for
from nimble_quote.core.framing.versions import behind_of, framed_shots, levels_for
from nimble_quote.core.model import Frozen
from nimble_quote.core.timebase import Span, ms_at, output_rate


class RecordingFacts(Frozen):
    """What the Assembly needs to know of a source. Width and height are 0 where it has no picture."""

    duration_ms: int
    width: int
    height: int
    rate: Fraction

    @property
    def has_picture(self) -> bool:
        return self.width > 0


def assemble(
    document: QuoteDocument,
    context: Context,
    facts: RecordingFacts,
    destination: Destination,
    shots: Sequence[FramedShot] | None = None,
) -> Assembly:
    """Resolves a document for a destination, by its shots where those are framed already. A destination without a version
    gets the defaults of one."""
    rate = clip_rate(facts, destination)
    stretches = played_in(document, destination.id)
    frames = frames_of(stretches, rate)
    words = caption_words(document, context.talk, stretches)
    clip = Clip(rate=rate, frames=frames)
    sources = (SourceSize(id=RECORDING, width=facts.width, height=facts.height),) if facts.has_picture else ()
    picture = picture_of(document, context, facts, destination, shots)
    ends = bookends_of(document, context.catalogue, rate, frames)
    cover = _cover_run(document, context, facts, destination, picture)
    card = card_run(ends, context.catalogue.colour)
    made = Assembly(
        destination=destination,
        rate=rate,
        frames=ends.frames,
        cut_frames=frames,
        sources=sources,
        picture=around_cut(picture, cover, card),
        cover_frames=1 if cover else 0,
        card_frame=ends.card_frame,
        sound=sound_of(document, context, words, stretches, destination, rate, ends),
        cue_tracks=(
            after_cover(cue_track(document, context, words, stretches, picture, clip, destination), 1 if cover else 0),
        )
        if document.captions.shown
        else (),
        sharpness=sharpness_of(picture, sources),
    )
    if not context.catalogue.overlays(document):
        return made
    if shots is None:
        shots = shots_of(document, context, facts, destination)
    faces = frames_of_faces(made, followed_faces(shots, context.sight))
    return made.model_copy(update={"overlays": placed_overlays(document, context, words, made, faces)})


def _cover_run(
    document: QuoteDocument,
    context: Context,
    facts: RecordingFacts,
    destination: Destination,
    picture: Sequence[PictureRun],
) -> PictureRun | None:
    """The one frame of a cover: the recording at its moment, framed as it is there, or a picture of the house's."""
    shows = cover_picture(document, context.catalogue, destination.shape)
    if shows is None:
        return None
    behind = picture[0].behind
    if shows.picture is not None:
        behind = Behind(kind="picture", colour=behind.colour, picture=shows.picture)
        return PictureRun(first_frame=0, frames=1, source=None, behind=behind)
    if not facts.has_picture:
        return PictureRun(first_frame=0, frames=1, source=None, behind=behind)
    rate = clip_rate(facts, destination)
    at_ms = cover_moment(shows, context.sight, kept_spans(document, destination.id))
    at_ms = min(at_ms, max(0, facts.duration_ms - 2 * ceil(ms_at(1, rate))))
    moment = Span(start_ms=at_ms, end_ms=at_ms + 2 * ceil(ms_at(1, rate)))
    shots = framed_shots(document, context, (facts.width, facts.height), destination, [moment])
    stage = Stage(source=(facts.width, facts.height), destination=destination, rate=rate)
    run = framed(lay_out(played([moment]), rate), shots, stage, softened=False)[0]
    return run.model_copy(update={"frames": 1})


def shots_of(
    document: QuoteDocument, context: Context, facts: RecordingFacts, destination: Destination
) -> tuple[FramedShot, ...]:
    """How a version is framed, stretch after stretch; nothing where there is no picture."""
    if not facts.has_picture:
        return ()
    kept = kept_spans(document, destination.id)
    return framed_shots(document, context, (facts.width, facts.height), destination, kept)


def picture_of(
    document: QuoteDocument,
    context: Context,
    facts: RecordingFacts,
    destination: Destination,
    shots: Sequence[FramedShot] | None = None,
) -> tuple[PictureRun, ...]:
    """The picture of a version alone: the runs that tile its length, by its shots where those are framed already."""
    rate = clip_rate(facts, destination)
    version = document.version(destination.id) or Version(destination=destination.id)
    stretches = played_in(document, destination.id)
    if not facts.has_picture:
        first = Behind(kind="colour", colour=context.catalogue.colour)
        behind = behind_of(choice_for(document.span, levels_for(document, destination)), first)
        if behind.kind == "blur":
            behind = behind.model_copy(update={"kind": "colour"})
        return (PictureRun(first_frame=0, frames=frames_of(stretches, rate), source=None, behind=behind),)
    size = facts.width, facts.height
    shots = shots_of(document, context, facts, destination) if shots is None else shots
    stage = Stage(source=size, destination=destination, rate=rate)
    return _framed_once(stretches, tuple(shots), stage, softened=version.soften == "scale")


_FRAMED: OrderedDict[tuple[object, ...], tuple[tuple[FramedShot, ...], tuple[PictureRun, ...]]] = OrderedDict()
_MOST_FRAMED = 64


def _framed_once(
    stretches: tuple[Played, ...], shots: tuple[FramedShot, ...], stage: Stage, *, softened: bool
) -> tuple[PictureRun, ...]:
    """The runs of a cut, made once for as long as it is framed the same: most edits are of what is said."""
    key = stretches, stage, softened
    known = _FRAMED.get(key)
    # Shots that were framed before are the same objects, so that comparing them costs nothing.
    if known is None or known[0] != shots:
        known = shots, framed(lay_out(stretches, stage.rate), shots, stage, softened=softened)
        _FRAMED[key] = known
        if len(_FRAMED) > _MOST_FRAMED:
            _FRAMED.popitem(last=False)
    return known[1]


def clip_rate(facts: RecordingFacts, destination: Destination | None) -> Fraction:
    """The rate that clips are made at: the destination's, or that nearest to the recording's."""
    return (destination.rate if destination else None) or output_rate(facts.rate)


def cut_ms(document: QuoteDocument, facts: RecordingFacts, destination: Destination | None = None) -> int:
    """How long the cut of a version (or of the base) runs, on the frames it will be made of."""
    return ceil(ms_at(_cut_frames(document, facts, destination), clip_rate(facts, destination)))


def clip_ms(
    document: QuoteDocument, catalogue: Catalogue, facts: RecordingFacts, destination: Destination | None = None
) -> int:
    """How long the clip of a version (or of the base) runs, its end card with it: what every gauge, check and file agrees on."""
    rate = clip_rate(facts, destination)
    ends = bookends_of(document, catalogue, rate, _cut_frames(document, facts, destination))
    return ceil(ms_at(ends.frames, rate))


def _cut_frames(document: QuoteDocument, facts: RecordingFacts, destination: Destination | None) -> int:
    return frames_of(played_in(document, destination.id if destination else None), clip_rate(facts, destination))
