"""Edits of how the picture is framed, and of its colour: who is shown and how close, in every shape or in one; places set by
hand; shots parted, joined, reset and found fine."""

from collections.abc import Sequence
from typing import Literal

from pydantic import Field

from nimble_quote.core.context import Context
from nimble_quote.core.document import (
    Choice,
    DoubtCode,
    Fraction01,
    Framing,
    Look,
    Placed,
    QuoteDocument,
    Rest,
    ShotChoice,
    Subject,
    View,
    Zoom,
)
from nimble_quote.core.edits.changing import EditRefused, changed, in_version, shape_of, treatment_of
from nimble_quote.core.edits.levels import (
    ALL,
    GROUPS,
    Moment,
    cut_stretches,
    for_every_shot,
    framing_touched,
    stretch_at,
    treated_shapes,
    with_levels,
    with_own,
)
from nimble_quote.core.edits.touching import Touches, treated_everywhere
from nimble_quote.core.framing.exposing import Exposed
from nimble_quote.core.framing.framed import FramedShot
from nimble_quote.core.framing.layouts import cameras_of
from nimble_quote.core.framing.saying import called
from nimble_quote.core.framing.stretches import choice_for, own_choice, with_choice
from nimble_quote.core.framing.versions import framed_shot
from nimble_quote.core.framing.views import rests_of, view_at
from nimble_quote.core.model import Frozen
from nimble_quote.core.ranges import RANGES
from nimble_quote.core.timebase import Span

_MOVE_MS = 1200
"""How long a move is that leads to a new rest."""
_SHORTEST_MS = 400
"""A stretch shorter than this is not parted off: nothing could be seen in it."""


class FramingChange(Look):
    """What of a framing is to change; what is not told stays as it is."""

    @property
    def told(self) -> Choice:
        """The change as a choice."""
        return Choice(**self.model_dump(exclude_none=True))

    @property
    def groups(self) -> tuple[str, ...]:
        """What it is about."""
        told = self.told.chosen
        about = [group for group, fields in GROUPS.items() if any(field in told for field in fields)]
        return (*about, *(("place",) if set(about) & {"layout", "moves"} else ()))


class FrameShot(Frozen):
    """Chooses how a shot is framed, or all shots where no moment is told; in every shape, or in that of one version."""

    kind: Literal["frame-shot"] = "frame-shot"
    at_ms: Moment | None = Field(default=None, ge=0)
    destination: str | None = None
    change: FramingChange

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        _known(self.change.subjects or (), context)
        if self.change.picture is not None and not context.catalogue.has_picture(self.change.picture):
            raise EditRefused("The house has no such picture. Choose another one.")
        told = self.change.told
        if self.at_ms is None:
            return with_levels(
                document, self.destination, context, lambda level, near: for_every_shot(level, told, near=near)
            )
        span = stretch_at(document, context, self.at_ms)
        if set(told.chosen) == {"closeness"}:
            document = _closer(document, context, self.destination, span, told.closeness or 1.0)
            if self.destination is not None and _own_placed(document, context, self.destination, span):
                return document
        return with_own(document, self.destination, context, span, told)

    def said(self, document: QuoteDocument, context: Context) -> str:
        where = in_version(self.destination, context)
        return f"Framed every shot{where}" if self.at_ms is None else f"Framed a shot{where}"

    def touches(self, context: Context) -> Touches:
        groups = self.change.groups
        more = ("place",) if self.at_ms is None and "closeness" in groups else ()
        return framing_touched(self.destination, (*groups, *more), self.at_ms, context)


class PlaceWindow(Frozen):
    """Puts the window of a shape somewhere at a moment: the rest that it stands in then is moved there, or a new one made
    where it moves. With `every_shape` the windows of all others go along."""

    kind: Literal["place-window"] = "place-window"
    at_ms: Moment = Field(ge=0)
    destination: str
    panel: int = Field(default=0, ge=0, le=3)
    x: Fraction01 | None = None
    y: Fraction01 | None = None
    zoom: Zoom | None = None
    every_shape: bool = False

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        shot, before = _seen_through(document, context, self.destination, self.at_ms, self.panel)
        told = {name: value for name, value in (("x", self.x), ("y", self.y), ("zoom", self.zoom)) if value is not None}
        made = _placed(document, context, self.destination, shot, self.panel, self.at_ms, told)
        if not self.every_shape:
            return made
        nearer = (self.zoom or before.zoom) / before.zoom
        for one in _one_of_each_shape(document, self.destination, context):
            if len(cameras_of(framed_shot(document, context, one, shot.span).layout)) <= self.panel:
                continue
            other, view = _seen_through(document, context, one, self.at_ms, self.panel)
            zoom = min(RANGES.zoom.most, max(RANGES.zoom.least, view.zoom * nearer))
            made = _placed(made, context, one, other, self.panel, self.at_ms, {**told, "zoom": zoom})
        return made

    def said(self, document: QuoteDocument, context: Context) -> str:
        return "Placed the window" + (" in every shape" if self.every_shape else in_version(self.destination, context))

    def touches(self, context: Context) -> Touches:
        what = [
            group
            for group, told in (("place", (self.x, self.y)), ("closeness", (self.zoom,)))
            if any(one is not None for one in told)
        ]
        return framing_touched(None if self.every_shape else self.destination, what, self.at_ms, context)


class AddRest(Frozen):
    """Has a camera come to rest once more at a moment, where it looks then: dragged after that, it moves there."""

    kind: Literal["add-rest"] = "add-rest"
    at_ms: Moment = Field(ge=0)
    destination: str
    panel: int = Field(default=0, ge=0, le=3)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        shot, view = _seen_through(document, context, self.destination, self.at_ms, self.panel)
        rests = rests_of(cameras_of(shot.layout)[self.panel])
        return _with_rests(
            document, context, self.destination, shot, self.panel, _parted_rest(rests, self.at_ms, view, shot.span)
        )

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Made a new rest{in_version(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        return framing_touched(self.destination, ("place",), self.at_ms, context)


class RemoveRest(Frozen):
    """Takes the rest away that a camera stands in at a moment; the last is not taken."""

    kind: Literal["remove-rest"] = "remove-rest"
    at_ms: Moment = Field(ge=0)
    destination: str
    panel: int = Field(default=0, ge=0, le=3)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        shot, _ = _seen_through(document, context, self.destination, self.at_ms, self.panel)
        rests = rests_of(cameras_of(shot.layout)[self.panel])
        number = _rest_at(rests, self.at_ms)
        if number is None:
            raise EditRefused("The window moves at this moment. Go to a rest to remove it.")
        if len(rests) == 1:
            raise EditRefused("The window stands still in this shot: there is no other rest to move from.")
        left = [*rests[:number], *rests[number + 1 :]]
        return _with_rests(document, context, self.destination, shot, self.panel, left)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Removed a rest{in_version(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        return framing_touched(self.destination, ("place",), self.at_ms, context)


class TimeRest(Frozen):
    """Has the rest at a moment begin or end at other times; those beside it give way as far as they last."""

    kind: Literal["time-rest"] = "time-rest"
    at_ms: Moment = Field(ge=0)
    destination: str
    panel: int = Field(default=0, ge=0, le=3)
    from_ms: Moment | None = Field(default=None, ge=0)
    to_ms: Moment | None = Field(default=None, ge=0)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        shot, _ = _seen_through(document, context, self.destination, self.at_ms, self.panel)
        rests = rests_of(cameras_of(shot.layout)[self.panel])
        number = _rest_at(rests, self.at_ms)
        if number is None:
            raise EditRefused("The window moves at this moment. Go to a rest to change when it begins or ends.")
        low = rests[number - 1].to_ms if number else 0
        high = rests[number + 1].from_ms if number + 1 < len(rests) else shot.span.end_ms
        begins = rests[number].from_ms if self.from_ms is None else max(low, self.from_ms)
        ends = rests[number].to_ms if self.to_ms is None else min(high, self.to_ms)
        if ends < begins:
            raise EditRefused("A rest must begin before it ends.")
        rests[number] = Rest(from_ms=begins, to_ms=ends, at=rests[number].at)
        return _with_rests(document, context, self.destination, shot, self.panel, rests)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Changed when a rest begins or ends{in_version(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        return framing_touched(self.destination, ("place",), self.at_ms, context)


class PartShot(Frozen):
    """Parts the framing at a moment, or on either side of a stretch, which can then be framed by itself."""

    kind: Literal["part-shot"] = "part-shot"
    at_ms: Moment = Field(ge=0)
    to_ms: Moment | None = Field(default=None, ge=0)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        for moment in (self.at_ms, self.to_ms):
            if moment is not None:
                document = _parted(document, context, moment, must=moment == self.at_ms and self.to_ms is None)
        return document

    def said(self, document: QuoteDocument, context: Context) -> str:
        return "Split the framing" if self.to_ms is None else "Gave a stretch its own framing"

    def touches(self, context: Context) -> Touches:
        return treated_everywhere(treated_shapes(context), ALL)


class ShowFollowed(Frozen):
    """Shows something that was followed for as long as it is seen in a shot: what is before and after that is framed as it
    was."""

    kind: Literal["show-followed"] = "show-followed"
    at_ms: Moment = Field(ge=0)
    subject: Subject
    destination: str | None = None

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        _known((self.subject,), context)
        shot = stretch_at(document, context, self.at_ms)
        seen = [
            part
            for track in context.sight.tracks
            if track.subject == self.subject and (part := track.within(shot.start_ms, shot.end_ms)) is not None
        ]
        if not any(one.start_ms <= self.at_ms <= one.end_ms for one in seen):
            raise EditRefused("It is not seen at that moment. Go to where it is.")
        for moment in (min(one.start_ms for one in seen), max(one.end_ms for one in seen)):
            document = _parted(document, context, moment, must=False)
        span = stretch_at(document, context, self.at_ms)
        return with_own(document, self.destination, context, span, Choice(layout="one", subjects=(self.subject,)))

    def said(self, document: QuoteDocument, context: Context) -> str:
        name = called(self.subject, context.sight.names, thing=True)
        return f"Followed {name}{in_version(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        return treated_everywhere(treated_shapes(context), ALL)


class JoinShot(Frozen):
    """Takes the parting away with which the stretch at a moment begins: it is framed as what is before it."""

    kind: Literal["join-shot"] = "join-shot"
    at_ms: Moment = Field(ge=0)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        span = stretch_at(document, context, self.at_ms)
        cuts = {shot.span.start_ms for shot in context.sight.shots} | {0}
        if span.start_ms in cuts:
            raise EditRefused(
                "This stretch begins with a camera cut. Only a split that was made by hand can be taken away."
            )
        before = stretch_at(document, context, span.start_ms - 1)
        whole = Span(start_ms=before.start_ms, end_ms=span.end_ms)

        def joined(level: Framing, near: bool) -> Framing:
            own = own_choice(before, level)
            kept = tuple(one for one in level.shots if one.span not in (before, span))
            level = level.model_copy(update={"shots": kept})
            return level if own is None else with_choice(level, whole, own.choice, alone=own.alone)

        return with_levels(document, None, context, joined)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return "Joined two stretches of framing"

    def touches(self, context: Context) -> Touches:
        return treated_everywhere(treated_shapes(context), ALL)


class ResetFraming(Frozen):
    """Gives a shot, or all shots where no moment is told, the program's own framing again; in every shape, or in one. Colour
    and light stay."""

    kind: Literal["reset-framing"] = "reset-framing"
    at_ms: Moment | None = Field(default=None, ge=0)
    destination: str | None = None

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        if self.at_ms is None and self.destination is None:
            return with_levels(document, None, context, lambda level, near: _tone_of(level))
        spans = (
            [stretch_at(document, context, self.at_ms)] if self.at_ms is not None else cut_stretches(document, context)
        )

        def reset(level: Framing, near: bool) -> Framing:
            for span in spans:
                own = own_choice(span, level)
                level = with_choice(level, span, own.choice.tone if own else Choice(), alone=near)
            return level

        return with_levels(document, self.destination, context, reset)

    def said(self, document: QuoteDocument, context: Context) -> str:
        which = "all framing" if self.at_ms is None else "the framing of a shot"
        return f"Reset {which}{in_version(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        return framing_touched(self.destination, ALL, self.at_ms, context)


class ExposeFaces(Frozen):
    """Makes shots lighter or darker, so that the faces in them, which were measured, are well exposed; in every shape."""

    kind: Literal["expose-faces"] = "expose-faces"
    shots: tuple[Exposed, ...] = Field(max_length=2000)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        if not self.shots:
            raise EditRefused("No face is followed there, so there is none to set the exposure by. Set it by hand.")
        made = document
        for one in self.shots:
            for at_ms in one.at_ms:
                span = stretch_at(document, context, at_ms)
                if one.exposure or choice_for(span, [made.framing]).exposure:
                    made = with_own(made, None, context, span, Choice(exposure=one.exposure))
        return made

    def said(self, document: QuoteDocument, context: Context) -> str:
        many = sum(len(one.at_ms) for one in self.shots)
        return "Exposed a face well" if many == 1 else f"Exposed the faces of {many} shots well"

    def touches(self, context: Context) -> Touches:
        moments = (at_ms for one in self.shots for at_ms in one.at_ms)
        return tuple(touch for at_ms in moments for touch in framing_touched(None, ("tone",), at_ms, context))


class FineShot(Frozen):
    """Says that what is doubtful about a shot is fine, so that it is quiet; or no longer."""

    kind: Literal["fine-shot"] = "fine-shot"
    at_ms: Moment = Field(ge=0)
    codes: tuple[DoubtCode, ...] = Field(max_length=8)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        span = stretch_at(document, context, self.at_ms)
        own = own_choice(span, document.framing)
        choice = own.choice if own else Choice()
        fine = tuple(sorted(set(self.codes))) or None
        framing = with_choice(
            document.framing, span, choice.model_copy(update={"fine": fine}), alone=own is not None and own.alone
        )
        return changed(document, framing=framing)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return "Marked a shot as fine" if self.codes else "Marked a shot as doubtful again"

    def touches(self, context: Context) -> Touches:
        return framing_touched(None, ALL, self.at_ms, context)


def _known(subjects: Sequence[int], context: Context) -> None:
    seen = {one.subject for one in context.sight.tracks}
    if any(one not in seen for one in subjects):
        raise EditRefused("Nobody is followed there under that number. Click somebody who is seen in this shot.")


def _seen_through(
    document: QuoteDocument, context: Context, destination: str, at_ms: int, panel: int
) -> tuple[FramedShot, View]:
    """How a stretch is framed in a version, and where a camera of it looks at a moment."""
    shot = framed_shot(document, context, destination, stretch_at(document, context, at_ms))
    cameras = cameras_of(shot.layout)
    if panel >= len(cameras):
        raise EditRefused("This layout has no such picture in it any more.")
    return shot, view_at(cameras[panel], at_ms)


def _rest_at(rests: Sequence[Rest], at_ms: int) -> int | None:
    """The rest that a camera stands in at a moment; None where it moves."""
    if at_ms <= rests[0].to_ms or len(rests) == 1:
        return 0
    number = next((number for number, rest in enumerate(rests) if rest.from_ms <= at_ms <= rest.to_ms), None)
    return len(rests) - 1 if number is None and at_ms >= rests[-1].to_ms else number


def _parted_rest(rests: list[Rest], at_ms: int, view: View, within: Span) -> list[Rest]:
    """Rests with one more that begins at a moment."""
    number = _rest_at(rests, at_ms)
    new = Rest(from_ms=at_ms, to_ms=at_ms, at=view)
    if number is None:
        return sorted([*rests, new], key=lambda one: one.from_ms)
    rest = rests[number]
    begins = max(rest.from_ms, within.start_ms)
    before = Rest(from_ms=rest.from_ms, to_ms=max(begins, at_ms - _MOVE_MS), at=rest.at)
    if at_ms - before.to_ms < _SHORTEST_MS:
        raise EditRefused("There is no room for a move before this moment. Go to a later one.")
    return [*rests[:number], before, new.model_copy(update={"to_ms": max(at_ms, rest.to_ms)}), *rests[number + 1 :]]


def _placed(
    document: QuoteDocument, context: Context, destination: str, shot: FramedShot, panel: int, at_ms: int,
    told: dict[str, float],
) -> QuoteDocument:  # fmt: skip
    """The window of a panel put somewhere else at a moment."""
    rests = rests_of(cameras_of(shot.layout)[panel])
    if shot.layout.kind == "whole":
        at = shot.layout.at.model_copy(update={**told, "zoom": 1.0})
        size = told.get("zoom", shot.layout.size)
        rests = [Rest(from_ms=0, to_ms=0, at=at)]
        return _with_rests(document, context, destination, shot, panel, rests, size=size)
    number = _rest_at(rests, at_ms)
    if number is None:
        view = view_at(cameras_of(shot.layout)[panel], at_ms).model_copy(update=told)
        rests = sorted([*rests, Rest(from_ms=at_ms, to_ms=at_ms, at=view)], key=lambda one: one.from_ms)
    else:
        rests[number] = rests[number].model_copy(update={"at": rests[number].at.model_copy(update=told)})
    return _with_rests(document, context, destination, shot, panel, rests)


def _with_rests(
    document: QuoteDocument, context: Context, destination: str, shot: FramedShot, panel: int, rests: Sequence[Rest],
    **more: float,
) -> QuoteDocument:  # fmt: skip
    """The camera of a panel placed by hand. The layout it was placed in stays from then on, with whom it shows."""
    others = tuple(one for one in shot.choice.placed or () if one.panel != panel)
    ease = next((one.ease for one in shot.choice.placed or () if one.panel == panel), "gentle")
    placed = sorted((*others, Placed(panel=panel, rests=tuple(rests), ease=ease)), key=lambda one: one.panel)
    told = Choice(layout=shot.name, subjects=shot.subjects or None, placed=tuple(placed), **more)
    return with_own(document, destination, context, shot.span, told)


def _closer(
    document: QuoteDocument, context: Context, destination: str | None, span: Span, closeness: float
) -> QuoteDocument:
    """Places set by hand go along where a shot is shown closer."""
    made = document
    for one in [destination] if destination else _one_of_each_shape(document, None, context):
        shot = framed_shot(document, context, one, span)
        if shot.choice.placed and shot.name != "whole":
            by = closeness / shot.closeness
            placed = tuple(_scaled(camera, by) for camera in shot.choice.placed)
            told = Choice(layout=shot.name, subjects=shot.subjects or None, closeness=closeness, placed=placed)
            made = with_own(made, one, context, span, told)
    return made


def _own_placed(document: QuoteDocument, context: Context, destination: str, span: Span) -> bool:
    own = own_choice(span, treatment_of(document, destination, context).framing)
    return own is not None and own.choice.placed is not None


def _scaled(placed: Placed, by: float) -> Placed:
    def scaled(view: View) -> View:
        return view.model_copy(update={"zoom": min(RANGES.zoom.most, max(RANGES.zoom.least, view.zoom * by))})

    return placed.model_copy(
        update={"rests": tuple(rest.model_copy(update={"at": scaled(rest.at)}) for rest in placed.rests)}
    )


def _one_of_each_shape(document: QuoteDocument, but: str | None, context: Context) -> list[str]:
    """A version of each shape that there is, and every version that is treated by itself; without those treated as one is."""
    out: dict[str, str] = {}
    for version in document.versions:
        shape = shape_of(version.destination, context)
        out.setdefault(shape if version.treatment is None else f"version {version.destination}", version.destination)
    if but is not None:
        version = next(one for one in document.versions if one.destination == but)
        out.pop(shape_of(but, context) if version.treatment is None else f"version {but}", None)
    return list(out.values())


def _parted(document: QuoteDocument, context: Context, at_ms: int, *, must: bool) -> QuoteDocument:
    """The framing parted at a moment. Where it is parted there already, that is refused if it `must` be new."""
    span = stretch_at(document, context, at_ms)
    if min(at_ms - span.start_ms, span.end_ms - at_ms) < _SHORTEST_MS:
        if must:
            raise EditRefused("The framing is parted here already, or nearly so. Choose a moment further from it.")
        return document
    own = own_choice(span, document.framing)
    choice, alone = (own.choice, own.alone) if own else (Choice(), False)
    framing = document.framing
    kept = tuple(one for one in framing.shots if one.span != span)
    halves = (Span(start_ms=span.start_ms, end_ms=at_ms), Span(start_ms=at_ms, end_ms=span.end_ms))
    shots = sorted(
        (*kept, *(ShotChoice(span=half, choice=choice, alone=alone) for half in halves)),
        key=lambda one: (one.span.start_ms, one.span.end_ms),
    )
    return changed(document, framing=framing.model_copy(update={"shots": tuple(shots)}))


def _tone_of(level: Framing) -> Framing:
    """A level with nothing chosen but colour and light."""
    shots = tuple(
        ShotChoice(span=one.span, choice=one.choice.tone) for one in level.shots if one.choice.tone != Choice()
    )
    return Framing(usual=level.usual.tone, shots=shots)
