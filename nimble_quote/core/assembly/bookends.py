"""What stands before and after a cut: the cover, which is its first frame, and the end card, which lasts beyond it.

        frames    0 1 ------------------------------ card_frame -- frames
        picture   |c|======= the cut, from its second frame =====|  card  |
        sound     |======= the cut, from its first frame ==========|

So nothing that is heard moves for either. A card may begin before the cut has ended, under its last words.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from nimble_quote.core.assembly.model import CueTrack, PictureRun
from nimble_quote.core.captions.cues import Cue
from nimble_quote.core.catalogue import Catalogue, Finished
from nimble_quote.core.document import Cover, CoverPicture, EndCard, Shape
from nimble_quote.core.framing.layouts import Behind
from nimble_quote.core.timebase import frame_at

_MOST_UNDER = 2
"""A card covers a half of the cut at most."""


@dataclass(frozen=True, kw_only=True)
class Bookends:
    """How long a clip is with what stands around its cut, in frames: where its card begins, and where all ends."""

    card: EndCard | None
    card_frame: int | None
    frames: int


def bookends_of(document: Finished, catalogue: Catalogue, rate: Fraction, cut: int) -> Bookends:
    """What stands around a cut of so many frames."""
    card = end_card_of(document, catalogue)
    if card is None:
        return Bookends(card=None, card_frame=None, frames=cut)
    begins = cut - min(frame_at(card.under_ms, rate), cut // _MOST_UNDER)
    return Bookends(card=card, card_frame=begins, frames=max(cut, begins + max(1, frame_at(card.length_ms, rate))))


def end_card_of(document: Finished, catalogue: Catalogue) -> EndCard | None:
    """The end card of a quote."""
    one = catalogue.alone(document, "end-card")
    return one.what if one is not None and isinstance(one.what, EndCard) else None


def added_ms(document: Finished, catalogue: Catalogue, cut_ms: int) -> int:
    """How much longer than its cut, which runs so long, a clip is."""
    card = end_card_of(document, catalogue)
    return max(0, card.length_ms - min(card.under_ms, cut_ms // _MOST_UNDER)) if card else 0


def cover_picture(document: Finished, catalogue: Catalogue, shape: Shape) -> CoverPicture | None:
    """What the cover of a quote shows in a shape; None where it has no cover."""
    one = catalogue.alone(document, "cover")
    return one.what.shown_in(shape) if one is not None and isinstance(one.what, Cover) else None


def card_run(ends: Bookends, house: str) -> PictureRun | None:
    """The picture of an end card: its colour, or the house's; None where there is none."""
    if ends.card is None or ends.card_frame is None:
        return None
    behind = Behind(kind="colour", colour=ends.card.colour or house)
    return PictureRun(first_frame=ends.card_frame, frames=ends.frames - ends.card_frame, source=None, behind=behind)


def around_cut(
    picture: Sequence[PictureRun], cover: PictureRun | None, card: PictureRun | None
) -> tuple[PictureRun, ...]:
    """The runs of a cut with its cover in place of its first frame, and its card in place of its end and beyond."""
    first, end = 1 if cover else 0, card.first_frame if card else None
    between = [shown for run in picture if (shown := _within(run, first, end)) is not None]
    return (*([cover] if cover else []), *between, *([card] if card else []))


def _within(run: PictureRun, first: int, end: int | None) -> PictureRun | None:
    """What of a run is shown from a frame on, up to another."""
    begins = max(first, run.first_frame)
    ends = run.end_frame if end is None else min(end, run.end_frame)
    if ends <= begins:
        return None
    if (begins, ends) == (run.first_frame, run.end_frame):
        return run
    # The source at its own first frame: of a run that is sped up, the step goes on from there.
    return run.model_copy(
        update={"first_frame": begins, "frames": ends - begins, "source_frame": run.source_at(begins)}
    )


def after_cover(track: CueTrack, first: int) -> CueTrack:
    """Captions that begin after the cover."""
    if not first or not track.cues or track.cues[0].first_frame >= first:
        return track
    cues = tuple(_later(cue, first) for cue in track.cues if cue.end_frame > first)
    return track.model_copy(update={"cues": cues})


def _later(cue: Cue, first: int) -> Cue:
    if cue.first_frame >= first:
        return cue
    lines = tuple(
        tuple(
            word.model_copy(
                update={"first_frame": max(first, word.first_frame), "end_frame": max(first, word.end_frame)}
            )
            for word in line
        )
        for line in cue.lines
    )
    return cue.model_copy(update={"first_frame": first, "lines": lines})
