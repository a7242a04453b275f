"""Checks of captions: can each be read in its time, does it fit, does it stand free, does it say what is said.

To add one: a function from a cue and what is around it to findings, listed in `CHECKS`.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from difflib import SequenceMatcher
from functools import cached_property
from math import ceil

from nimble_quote.core.assembly import Assembly, CueTrack, PlacedLines, PlacedOverlay, caption_area
from nimble_quote.core.assembly.captions import caption_width
from nimble_quote.core.assembly.faces import ShownFace, areas_of_faces, frames_of_faces
from nimble_quote.core.captions.contrast import ContrastFound
from nimble_quote.core.captions.cues import Cue
from nimble_quote.core.captions.lettering import characters
from nimble_quote.core.captions.words import bare
from nimble_quote.core.context import Context
from nimble_quote.core.destinations import Area
from nimble_quote.core.document import Overlay
from nimble_quote.core.edits import (
    ChangeCueLook,
    CorrectCaption,
    Edit,
    JoinCaptions,
    PartCaption,
    PlaceCaption,
    TimeCaption,
)
from nimble_quote.core.finding import Finding, Severity
from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.timebase import ms_at

_FLASH_MS = 250
_BRIEF = 0.8
"""A cue is too brief that shows for less than this part of the shortest time."""
_WIDOW_CHARACTERS = 4
_ON_FACE = 0.12
"""Captions are on a face where they cover so much of it."""
_READ = ("lines", "picture", "wave")
"""Captions that stand on these can't be read, or hide them."""
_OTHERWISE = 0.5
"""A word that is less alike than this is another word."""


@dataclass(frozen=True, kw_only=True)
class Checked:
    """What captions are looked at with: what is said, the faces that are followed, the contrast of cues by their
    first frame, where it was measured, and what stands over the picture, as the quote has it."""

    context: Context
    faces: Sequence[FaceSample] = ()
    contrast: Mapping[int, ContrastFound] = field(default_factory=dict)
    overlays: Sequence[Overlay] = ()


@dataclass(frozen=True, kw_only=True)
class _Around:
    """A cue, with those before and after it, in its track and its version."""

    cue: Cue
    before: Cue | None
    after: Cue | None
    track: CueTrack
    assembly: Assembly
    checked: Checked
    faces: Sequence[ShownFace]
    """The faces that are followed, each with a frame of the output that shows it, in order."""

    @property
    def shown_ms(self) -> float:
        return ms_at(self.cue.end_frame - self.cue.first_frame, self.assembly.rate)

    @property
    def first(self) -> int:
        return self.cue.lines[0][0].index

    @property
    def last(self) -> int:
        return self.cue.lines[-1][-1].index

    @cached_property
    def area(self) -> Area:
        """The part of the picture that the cue takes."""
        return caption_area(self.cue, self.track, self.checked.context, self.assembly.destination)

    def found(
        self, check: str, says: str, do: str, mend: Edit | None = None, mend_says: str = "", severity: Severity = "warn"
    ) -> Finding:
        """A finding about the cue."""
        return Finding(
            check=check, severity=severity, says=says, do=do, step="captions", mend=mend, mend_says=mend_says if mend else "",
            at_ms=int(ms_at(self.cue.first_frame, self.assembly.rate)), word=self.first if self.first >= 0 else None,
        )  # fmt: skip


def check_captions(assembly: Assembly, checked: Checked, checks: "Checks | None" = None) -> Iterator[Finding]:
    """All that is wrong with the captions of a version, or what some checks find."""
    faces = frames_of_faces(assembly, checked.faces)
    for track in assembly.cue_tracks:
        cues = (None, *track.cues, None)
        for before, cue, after in zip(cues, cues[1:], cues[2:], strict=False):
            assert cue is not None
            around = _Around(
                cue=cue, before=before, after=after, track=track, assembly=assembly, checked=checked, faces=faces
            )  # fmt: skip
            for check in CHECKS if checks is None else checks:
                yield from check(around)


def _too_fast(one: _Around) -> Iterator[Finding]:
    limits = one.track.limits
    letters = one.cue.characters
    speed = letters * 1000 / one.shown_ms
    if speed <= limits.fastest_cps * 1.001:
        return
    needed = -(-letters * 1000 // limits.fastest_cps)
    mend, says = _longer(one, needed)
    if mend is None and one.after is not None and _together_fits(one.cue, one.after, one):
        mend, says = JoinCaptions(first=one.first, last=one.after.words[-1].index), "Join with the next"
    yield one.found(
        "cue-fast",
        f"“{_short(one.cue)}” shows for {one.shown_ms / 1000:.1f} s: {speed:.0f} characters a second, over {limits.fastest_cps:.0f}.",
        "Shorten its text, or give it more time.", mend, says,
    )  # fmt: skip


def _too_slow(one: _Around) -> Iterator[Finding]:
    limits = one.track.limits
    if one.shown_ms > limits.longest_ms + ms_at(1, one.assembly.rate) and one.first >= 0:
        yield one.found(
            "cue-slow", f"“{_short(one.cue)}” shows for {one.shown_ms / 1000:.1f} s, over {limits.longest_ms / 1000:.1f} s.",
            "Split it in two, or strike the pause in it.", _parted(one.cue), "Split it in two",
        )  # fmt: skip


def _too_brief(one: _Around) -> Iterator[Finding]:
    least = one.track.limits.shortest_ms * _BRIEF
    if one.shown_ms >= least or one.first < 0:
        return
    mend, says = _longer(one, least)
    if mend is None:
        mend, says = _joined(one)
    yield one.found(
        "cue-brief", f"“{_short(one.cue)}” is gone after {one.shown_ms / 1000:.1f} s.",
        "Join it with the one beside it, or give it more time.", mend, says,
    )  # fmt: skip


def _too_long(one: _Around) -> Iterator[Finding]:
    limits, cue = one.track.limits, one.cue
    widest = max(cue.shown_texts, key=characters)
    if len(cue.line_texts) > limits.lines and not cue.instead:
        yield one.found(
            "cue-lines", f"“{_short(cue)}” takes {len(cue.line_texts)} lines, over {limits.lines}.",
            "Split it in two.", _parted(cue), "Split it in two",
        )  # fmt: skip
    width = caption_width(cue, one.track, one.checked.context, one.assembly.destination)
    if one.cue.longest > limits.line_characters:
        yield one.found(
            "cue-long", f"“{widest}” is longer than a line of {limits.line_characters} characters.",
            "Shorten its text, or break it.", _parted(cue), "Split it in two",
        )  # fmt: skip
    elif width > 1.001:
        yield one.found(
            "cue-wide", f"“{widest}” is wider than the picture.", "Shorten its text, or make it smaller.",
            _parted(cue), "Split it in two",
        )  # fmt: skip


def _flashes(one: _Around) -> Iterator[Finding]:
    """A gap so short that it is seen as a flash."""
    if one.after is None or one.first < 0:
        return
    gap = one.after.first_frame - one.cue.end_frame
    if gap > 0 and ms_at(gap, one.assembly.rate) < _FLASH_MS and one.cue.fixed:
        mend, says = _longer(one, one.shown_ms + ms_at(gap, one.assembly.rate))
        yield one.found(
            "cue-gap", f"A gap of {ms_at(gap, one.assembly.rate):.0f} ms after “{_short(one.cue)}” flashes.",
            "Close it, or make it half a second.", mend, says and "Close the gap",
        )  # fmt: skip


def _widow(one: _Around) -> Iterator[Finding]:
    """One short word by itself that belongs to what is beside it."""
    words = one.cue.words
    if len(words) > 1 or one.first < 0 or one.cue.instead or len(words[0].text) > _WIDOW_CHARACTERS:
        return
    if words[0].text[-1:] in ".?!…" and (one.before is None or one.before.text[-1:] in ".?!…"):
        return
    mend, says = _joined(one)
    if mend is not None:
        yield one.found(
            "cue-widow", f"“{words[0].text}” stands by itself.", "Join it with what it belongs to.", mend, says
        )


def _covered(one: _Around) -> Iterator[Finding]:
    place = one.area
    for area in one.assembly.destination.covered:
        if area.meets(place):
            yield one.found(
                "covered",
                f"“{_short(one.cue)}” lies under the {area.name} of {one.assembly.destination.name}.",
                f"Move captions {'up' if area.y > 0.4 else 'down'}, into the safe area.",
                _moved(one, [area]), "Move it clear",
            )  # fmt: skip
            return


def _over_a_face(one: _Around) -> Iterator[Finding]:
    place = one.area
    faces = list(areas_of_faces(one.faces, one.cue.first_frame, one.cue.end_frame, one.assembly))
    hit = [face for face in faces if _share(face, place) > _ON_FACE]
    if hit:
        yield one.found(
            "face-covered", f"“{_short(one.cue)}” stands on a face.", "Move it up or down, or frame the face higher.",
            _moved(one, [*one.assembly.destination.covered, *faces]), "Move it off the face",
        )  # fmt: skip


def _over_others(one: _Around) -> Iterator[Finding]:
    """Captions that stand on other lines at the same time."""
    place = one.area
    for other in one.assembly.overlays:
        together = other.first_frame < one.cue.end_frame and one.cue.first_frame < other.end_frame
        if together and other.kind in _READ and other.area.meets(place):
            yield one.found(
                "overlay-covered", f"“{_short(one.cue)}” stands on {_called(other)}.", "Move one of them.",
                _moved(one, [*one.assembly.destination.covered, other.area]), "Move it clear",
            )  # fmt: skip
            return


def _missing(one: _Around) -> Iterator[Finding]:
    look = one.track.look.with_changes(one.cue.look)
    text = "".join(look.cased(line) for line in one.cue.shown_texts)
    lost = one.checked.context.lettering.missing(text, look.face, one.track.language)
    if lost:
        told = " ".join(f"{character} (U+{ord(character):04X})" for character in lost[:4])
        yield one.found(
            "glyph", f"No face has {told}, in “{_short(one.cue)}”.", "Write it otherwise, or bring a face that has it.",
            severity="stop",
        )  # fmt: skip


def _otherwise(one: _Around) -> Iterator[Finding]:
    """Captions that say another word than was heard, not only another spelling of it."""
    if one.first < 0:
        return
    shown_of: dict[int, list[str]] = {}
    for word in one.cue.words:
        shown_of.setdefault(word.index, []).append(word.text)
    for index, texts in shown_of.items():
        shown, was = " ".join(texts), one.checked.context.talk.word(index).text
        if shown != was and _plain(shown) and _plain(was) and not _alike(_plain(shown), _plain(was)):
            back = CorrectCaption(first=index, last=index, text=was)
            yield one.found(
                "cue-otherwise", f"The captions say “{shown}” where “{was}” was transcribed.",
                "Correct the talk’s words if it was misheard, or the caption.", back, f"Write “{was}”",
            )  # fmt: skip


def _hard_to_read(one: _Around) -> Iterator[Finding]:
    found = one.checked.contrast.get(one.cue.first_frame)
    if found is not None and found.doubtful and one.first >= 0:
        mend = found.mend
        look = ChangeCueLook(first=one.first, last=one.last, look=mend.changes) if mend else None
        yield one.found(
            "contrast", f"“{_short(one.cue)}”: {found.says}", "Put a plate behind it, widen its outline, or move it.", look,
            mend.says if mend else "", severity="stop" if found.unreadable else "warn",
        )  # fmt: skip


Checks = tuple[Callable[[_Around], Iterator[Finding]], ...]
CHECKS: Checks = (
    _missing,
    _hard_to_read,
    _too_fast,
    _too_slow,
    _too_brief,
    _too_long,
    _flashes,
    _widow,
    _covered,
    _over_a_face,
    _over_others,
    _otherwise,
)
CONTRAST_CHECKS: Checks = (_hard_to_read,)


def _longer(one: _Around, needed_ms: float) -> tuple[Edit | None, str]:
    """The edit that has a cue show for so long, where nothing follows before."""
    if one.last < 0:
        return None, ""
    limit = one.after.first_frame if one.after else one.assembly.frames
    more = ceil((needed_ms - one.shown_ms) * one.assembly.rate / 1000 - 1e-6)
    if one.cue.end_frame + more > limit:
        return None, ""
    ends = ms_at(one.cue.end_frame + more, one.assembly.rate) - one.cue.said_to_ms
    shift = min(5000, max(0, round(ends)))
    return TimeCaption(word=one.last, edge="out", shift_ms=shift), "Give it more time"


def _joined(one: _Around) -> tuple[Edit | None, str]:
    """The edit that joins a cue with the one beside it that it fits with."""
    for other, says in ((one.before, "Join with the one before"), (one.after, "Join with the next")):
        if other is not None and _together_fits(one.cue, other, one):
            indexes = [word.index for word in (*one.cue.words, *other.words)]
            return JoinCaptions(first=min(indexes), last=max(indexes)), says
    return None, ""


def _together_fits(cue: Cue, other: Cue, one: _Around) -> bool:
    limits = one.track.limits
    if cue.added or other.added or cue.speaker != other.speaker:
        return False
    frames = max(cue.end_frame, other.end_frame) - min(cue.first_frame, other.first_frame)
    letters = characters(cue.text) + 1 + characters(other.text)
    shown = ms_at(frames, one.assembly.rate)
    fits = letters <= limits.line_characters * limits.lines * 0.92
    return fits and shown <= limits.longest_ms and letters * 1000 / shown <= limits.fastest_cps


def _parted(cue: Cue) -> Edit | None:
    """The edit that parts a cue at the best place near its middle."""
    words = cue.words
    if len(words) < 2 or cue.added:
        return None
    lengths = [len(word.text) + 1 for word in words]
    total = sum(lengths)

    def price(place: int) -> float:
        uneven = abs(2 * sum(lengths[:place]) - total) / total
        text = words[place - 1].text
        return uneven - 0.5 * (text[-1:] in ".?!…") - 0.3 * (text[-1:] in ",;:") + 0.4 * (len(text) < 4)

    places = [place for place in range(1, len(words)) if words[place].index != words[place - 1].index]
    if not places:
        return None
    return PartCaption(word=words[min(places, key=price)].index, at="cue")


def _moved(one: _Around, clear_of: Sequence[Area]) -> Edit | None:
    """The edit that has a cue stand as near as it can to where it stands, clear of some areas."""
    if one.first < 0:
        return None
    area = one.area
    now = area.y + area.height / 2
    tried = sorted((step / 100 for step in range(6, 95)), key=lambda height: abs(height - now))
    for height in tried:
        place = area.model_copy(update={"y": height - area.height / 2})
        if place.y >= 0.03 and place.y + place.height <= 0.97 and not any(other.meets(place) for other in clear_of):
            return PlaceCaption(first=one.first, last=one.last, height=height)
    return None


def _share(face: Area, place: Area) -> float:
    across = min(face.x + face.width, place.x + place.width) - max(face.x, place.x)
    down = min(face.y + face.height, place.y + place.height) - max(face.y, place.y)
    return max(0.0, across) * max(0.0, down) / (face.width * face.height)


def _called(other: PlacedOverlay) -> str:
    """What an overlay is called, where its text does not do that."""
    if isinstance(other, PlacedLines):
        return f"“{' '.join(other.lines)[:40]}”"
    return "the sound wave" if other.kind == "wave" else "a picture"


def _short(cue: Cue) -> str:
    text = " ".join(cue.shown_texts)
    return text if len(text) <= 60 else f"{text[:59]}…"


def _plain(text: str) -> str:
    return bare(text).casefold()


def _alike(one: str, other: str) -> bool:
    return one == other or SequenceMatcher(None, one, other).ratio() >= _OTHERWISE
