"""Checks of what stands over the picture: can it be read, does it fit, does it stand free.

To add one: a function from what was placed and what is around it to findings, listed in `CHECKS`.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from nimble_quote.core.assembly import Assembly, PlacedLines, PlacedOverlay, caption_area
from nimble_quote.core.assembly.faces import ShownFace, areas_of_faces, frames_of_faces
from nimble_quote.core.assembly.placed import PlacedClock
from nimble_quote.core.caption_checks import Checked
from nimble_quote.core.captions.contrast import ContrastFound
from nimble_quote.core.captions.lettering import characters
from nimble_quote.core.destinations import seconds
from nimble_quote.core.document import Cover, CoverPicture, EndCard, Lines, Music, NameStrap, Overlay, TitleLines
from nimble_quote.core.edits import ChangeOverlay, PlaceOverlay
from nimble_quote.core.finding import Finding
from nimble_quote.core.timebase import ms_at

_SMALLEST = 0.026
"""Letters smaller than this part of the shorter side can't be read on a phone held in the hand: at 1080 across, 28 px."""
_FASTEST_CPS, _BEFORE_MS = 20.0, 400
"""How fast a text is read that one has to find first."""
_STANDS_ON = ("lines", "clock", "wave", "picture", "footage", "code")
_NAMES = {
    "clock": "The time left",
    "bar": "The progress line",
    "wave": "The sound wave",
    "picture": "A picture",
    "footage": "Footage of another recording",
    "strokes": "A mark",
    "code": "The QR code",
}
_SHORTEST_CARD_MS = 1000
SPEECH_OVER_MUSIC_DB = 15.0
"""How much louder than music speech is to be."""
_CUT_OFF = 0.25
"""A cover that loses more than this of its picture was made for another shape."""


@dataclass(frozen=True, kw_only=True)
class _Around:
    """What was placed, in its version."""

    placed: PlacedOverlay
    assembly: Assembly
    checked: Checked
    faces: Sequence[ShownFace]

    def found(self, check: str, says: str, do: str, mend: PlaceOverlay | None = None) -> Finding:
        return Finding(
            check=check, severity="warn", says=f"{_called(self.placed)} {says}", do=do, step="finish", overlay=self.placed.item,
            at_ms=int(ms_at(self.placed.first_frame, self.assembly.rate)), mend=mend,
            mend_says="Place it automatically" if mend else "",
        )  # fmt: skip


def check_overlays(assembly: Assembly, checked: Checked) -> Iterator[Finding]:
    """All that is wrong with what stands over the picture of a version, each thing told once."""
    yield from _card_past_limit(assembly, checked)
    yield from _cover_of_another_shape(assembly, checked)
    yield from _music(checked)
    if not assembly.overlays:
        return
    faces = frames_of_faces(assembly, checked.faces)
    told = set()
    for placed in assembly.overlays:
        around = _Around(placed=placed, assembly=assembly, checked=checked, faces=faces)
        for check in CHECKS:
            for finding in check(around):
                if (placed.item, finding.check) not in told:
                    told.add((placed.item, finding.check))
                    yield finding


def _card_past_limit(assembly: Assembly, checked: Checked) -> Iterator[Finding]:
    """An end card that ends after the limit, where the cut itself does not."""
    card = next((one for one in checked.overlays if isinstance(one.what, EndCard) and not one.hidden), None)
    over = assembly.length_ms - assembly.destination.limit_ms
    if card is None or not isinstance(card.what, EndCard) or over <= 0 or not _cut_fits(assembly):
        return
    left = int(card.what.length_ms - over)
    mended = card.what.model_copy(update={"length_ms": left}) if left >= _SHORTEST_CARD_MS else None
    yield Finding(
        check="card-past-limit", severity="stop", step="finish", overlay=card.id, at_ms=assembly.destination.limit_ms,
        says=f"The end card ends {seconds(over + 99.9)} after the limit of {assembly.destination.name}.",
        do="Shorten it, let it begin under the last words, or strike words.",
        mend=ChangeOverlay(id=card.id, what=mended) if mended else None, mend_says="Shorten it to fit" if mended else "",
    )  # fmt: skip


def _cut_fits(assembly: Assembly) -> bool:
    return ms_at(assembly.cut_frames, assembly.rate) <= assembly.destination.limit_ms


def _cover_of_another_shape(assembly: Assembly, checked: Checked) -> Iterator[Finding]:
    """A picture on a cover of which much is cut off in this shape."""
    one = next((one for one in checked.overlays if isinstance(one.what, Cover) and not one.hidden), None)
    if one is None or not isinstance(one.what, Cover):
        return
    shape = assembly.destination.shape
    number = one.what.shown_in(shape).picture
    if number is None:
        return
    picture = checked.context.catalogue.picture(number)
    across, wanted = picture.width / picture.height, assembly.destination.width / assembly.destination.height
    lost = 1 - min(across, wanted) / max(across, wanted)
    if lost > _CUT_OFF:
        in_shapes = {**one.what.in_shapes, shape: CoverPicture()}
        mended = one.what.model_copy(update={"in_shapes": in_shapes})
        yield Finding(
            check="cover-shape", severity="warn", step="finish", overlay=one.id, at_ms=0,
            says=f"The cover shows “{picture.name}”, of which {assembly.destination.name} cuts off {lost:.0%}.",
            do="Choose a picture of this shape, or a frame of the clip.",
            mend=ChangeOverlay(id=one.id, what=mended), mend_says="Use a frame of the clip",
        )  # fmt: skip


def _music(checked: Checked) -> Iterator[Finding]:
    """Music without a licence note, and music that is loud while somebody speaks."""
    for one in checked.overlays:
        if not isinstance(one.what, Music) or one.hidden:
            continue
        piece = checked.context.catalogue.sound(one.what.sound)
        if not piece.licence:
            yield Finding(
                check="music-licence", severity="warn", step="finish", overlay=one.id, at_ms=0,
                says=f"“{piece.name}” has no licence note.", do="Note in House what you may use it for, or choose another piece.",
            )  # fmt: skip
        below = one.what.below_db + one.what.duck_db
        if below < SPEECH_OVER_MUSIC_DB:
            deeper = min(40.0, SPEECH_OVER_MUSIC_DB - one.what.below_db)
            mended = one.what.model_copy(update={"duck_db": deeper}) if deeper >= 0 else None
            yield Finding(
                check="music-loud", severity="warn", step="finish", overlay=one.id, at_ms=0,
                says=f"“{piece.name}” is only {below:.0f} dB below the voice while somebody speaks.",
                do=f"From {SPEECH_OVER_MUSIC_DB:.0f} dB on every word is understood. Lower it further under the voice.",
                mend=ChangeOverlay(id=one.id, what=mended) if mended else None, mend_says="Lower it under the voice" if mended else "",
            )  # fmt: skip


def hard_to_read(
    assembly: Assembly, measured: Sequence[tuple[PlacedLines, ContrastFound]], kept: Sequence[Overlay]
) -> Iterator[Finding]:
    """Texts that can't be told from the picture they stand on, by the contrast that was measured of them; `kept` is what stands
    over the picture as the quote has it."""
    whats = {one.id: one.what for one in kept}
    told: set[int] = set()
    for placed, found in measured:
        what = whats.get(placed.item)
        if (
            found.doubtful
            and placed.item not in told
            and isinstance(what, Lines | TitleLines | NameStrap | EndCard | Cover)
        ):
            told.add(placed.item)
            mended = what.model_copy(update={"look": what.look | found.mend.changes}) if found.mend else None
            yield Finding(
                check="overlay-contrast", severity="stop" if found.unreadable else "warn", step="finish", overlay=placed.item,
                says=f"{_called(placed)}: {found.says}", do="Put a plate behind it, widen its outline, or move it.",
                at_ms=int(ms_at(placed.first_frame, assembly.rate)),
                mend=ChangeOverlay(id=placed.item, what=mended) if mended else None, mend_says=found.mend.says if found.mend else "",
            )  # fmt: skip


def _does_not_fit(one: _Around) -> Iterator[Finding]:
    if isinstance(one.placed, PlacedLines) and not one.placed.whole:
        yield one.found(
            "overlay-cut", "does not fit the picture, even at its smallest.", "Shorten it, or break a long word."
        )


def _too_small(one: _Around) -> Iterator[Finding]:
    if isinstance(one.placed, PlacedLines | PlacedClock) and one.placed.look.size < _SMALLEST:
        yield one.found("overlay-small", "is too small to be read on a phone.", "Make it larger, or shorten it.")


def _too_brief(one: _Around) -> Iterator[Finding]:
    placed = one.placed
    if not isinstance(placed, PlacedLines) or placed.end_frame <= one.assembly.cover_frames:
        return
    shown = ms_at(placed.end_frame - placed.first_frame, one.assembly.rate)
    needed = _BEFORE_MS + 1000 * sum(characters(line) for line in placed.lines) / _FASTEST_CPS
    if shown < needed and placed.end_frame - placed.first_frame < one.assembly.frames:
        yield one.found(
            "overlay-brief", f"is gone after {shown / 1000:.1f} s, and takes {needed / 1000:.1f} s to read.",
            "Show it for longer, or shorten it.",
        )  # fmt: skip


def _stands_on(one: _Around) -> Iterator[Finding]:
    """Where something stands on what must be seen; what was put there by hand can be placed anew."""
    placed, assembly = one.placed, one.assembly
    if placed.free or placed.kind not in _STANDS_ON:
        return
    anew = PlaceOverlay(id=placed.item, shape=assembly.destination.shape) if placed.by_hand else None
    on = _what_is_there(one)
    if on:
        yield one.found(
            f"overlay-on-{on[0]}", f"stands on {on[1]}.", "Move it, shorten it, or show it at another time.", anew
        )


def _what_is_there(one: _Around) -> tuple[str, str] | None:
    area, assembly = one.placed.area, one.assembly
    first, end = one.placed.first_frame, one.placed.end_frame
    if any(face.meets(area) for face in areas_of_faces(one.faces, first, end, assembly)):
        return "face", "a face"
    for track in assembly.cue_tracks:
        for cue in track.cues:
            together = cue.first_frame < end and first < cue.end_frame
            if together and caption_area(cue, track, one.checked.context, assembly.destination).meets(area):
                return "captions", "the captions"
    covered = next((each for each in assembly.destination.covered if each.meets(area)), None)
    if covered is not None:
        return "covered", f"what the {covered.name} of {assembly.destination.name} covers"
    other = next(
        (
            each
            for each in assembly.overlays
            if each.item != one.placed.item
            and each.kind in _STANDS_ON
            and each.first_frame < end
            and first < each.end_frame
            and each.area.meets(area)
        ),
        None,
    )
    return ("other", _called(other).lower()) if other is not None else None


def _called(placed: PlacedOverlay) -> str:
    if isinstance(placed, PlacedLines):
        text = " ".join(placed.lines)
        return f"“{text if len(text) <= 40 else f'{text[:39]}…'}”"
    return _NAMES[placed.kind]


CHECKS: tuple[Callable[[_Around], Iterator[Finding]], ...] = (_does_not_fit, _too_small, _too_brief, _stands_on)
