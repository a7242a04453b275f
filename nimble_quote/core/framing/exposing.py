"""Which faces to measure the light of, so that shots can be exposed for them: those that are followed, some of each set-up."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from nimble_quote.core.context import Context
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.framing.framed import FramedShot
from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.framing.set_ups import set_up_at
from nimble_quote.core.framing.toning import exposure_for
from nimble_quote.core.framing.versions import framed_shot, stretches_of_cut
from nimble_quote.core.model import Frozen
from nimble_quote.core.timebase import Span

_LOOKS = 5
"""So many looks at a face tell how light it is: the middle of them is not that of a shadow passing."""


class Exposed(Frozen):
    """The exposure for the shots that some moments lie in, in stops."""

    at_ms: tuple[int, ...]
    exposure: float


@dataclass(frozen=True, kw_only=True)
class ToMeasure:
    """Shots of one set-up, by a moment in each, and the faces in them to measure."""

    at_ms: tuple[int, ...]
    faces: tuple[FaceSample, ...]

    def measured(self, lumas: Sequence[float]) -> Exposed:
        """The exposure for them, from the luma (0..1) of each face."""
        return Exposed(at_ms=self.at_ms, exposure=exposure_for(float(np.median(lumas))))


def faces_to_measure(document: QuoteDocument, context: Context, at_ms: int | None) -> list[ToMeasure]:
    """The faces of a shot, or of all shots of the cut where no moment is told, by set-up; none where nobody is followed."""
    destination = document.versions[0].destination
    set_up = set_up_at(context.sight)
    groups: dict[object, list[tuple[Span, list[FaceSample]]]] = {}
    for span in stretches_of_cut(document, context):
        wanted = span.holds(at_ms) if at_ms is not None else min(span.end_ms, document.span.end_ms) > max(
            span.start_ms, document.span.start_ms
        )  # fmt: skip
        faces = _faces(framed_shot(document, context, destination, span), context) if wanted else []
        if faces:
            of = set_up((span.start_ms + span.end_ms) // 2)
            groups.setdefault(span if of is None else of, []).append((span, faces))
    return [
        ToMeasure(
            at_ms=tuple((span.start_ms + span.end_ms) // 2 for span, _ in shots),
            faces=tuple(_some([face for _, faces in shots for face in faces])),
        )
        for shots in groups.values()
    ]


def _faces(shot: FramedShot, context: Context) -> list[FaceSample]:
    """Looks at the face that a shot follows first, where it is kept."""
    if not shot.subjects:
        return []
    return [
        FaceSample(
            at_ms=int(track.at_ms[i]), x=float(track.x[i]), y=float(track.y[i]), width=float(track.width[i]),
            height=float(track.height[i]), score=float(track.score[i]),
        )
        for track in context.sight.tracks
        if track.subject == shot.subjects[0] and not track.thing
        for i in range(len(track.at_ms))
        if any(piece.holds(int(track.at_ms[i])) for piece in shot.kept)
    ]  # fmt: skip


def _some(faces: Sequence[FaceSample]) -> list[FaceSample]:
    """A few of many looks, evenly over their time."""
    return [faces[round(place)] for place in np.linspace(0, len(faces) - 1, min(_LOOKS, len(faces)))]
