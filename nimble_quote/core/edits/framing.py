"""Edits of how the picture is framed: who is shown and how close, in every shape or in one; places set by hand; giving the
framing of one shot to others.

A stretch of the cut is named by a moment of the source that lies in it, so that an edit means the same after cuts were
found anew. A decision for every shape takes what single shapes had chosen of the same away.
"""

from collections.abc import Callable, Sequence
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
    Shape,
    ShotChoice,
    Treatment,
    View,
    Zoom,
)
from nimble_quote.core.edits.changing import EditRefused, changed, in_version, shape_of, treatment_of, with_treatment
from nimble_quote.core.edits.touching import Touches, treated, treated_everywhere
from nimble_quote.core.framing.framed import FramedShot
from nimble_quote.core.framing.layouts import Camera, cameras_of
from nimble_quote.core.framing.set_ups import find_set_ups
from nimble_quote.core.framing.stretches import choice_for, own_choice, with_choice
from nimble_quote.core.framing.versions import framed_shot, stretches_of_cut
from nimble_quote.core.framing.views import view_at
from nimble_quote.core.model import Frozen
from nimble_quote.core.ranges import RANGES
from nimble_quote.core.timebase import Span

Moment = int
LevelChange = Callable[[Framing, bool], Framing]
"""What becomes of a level, and whether the change was made for it, or for all shapes, over it."""
_MOVE_MS = 1200
"""How long a move is that leads to a new rest."""
_SHORTEST_MS = 400
"""A stretch shorter than this is not parted off: nothing could be seen in it."""
_GROUPS: dict[str, tuple[str, ...]] = {
    "layout": ("layout", "subjects", "share", "size", "height"),
    "closeness": ("closeness",),
    "moves": ("moves",),
    "behind": ("backdrop", "colour", "blur"),
}
"""What is given and merged together, by the fields of a choice."""
_ALL = (*_GROUPS, "place")
Given = Literal["layout", "closeness", "place", "moves", "behind"]


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
        about = [group for group, fields in _GROUPS.items() if any(field in told for field in fields)]
        return (*about, *(("place",) if set(about) & {"layout", "moves"} else ()))


class FrameShot(Frozen):
    """Chooses how a shot is framed, or all shots where no moment is told; in every shape, or in that of one version."""

    kind: Literal["frame-shot"] = "frame-shot"
    at_ms: Moment | None = Field(default=None, ge=0)
    destination: str | None = None
    change: FramingChange

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        _known(self.change.subjects or (), context)
        told = self.change.told
        if self.at_ms is None:
            return _with_levels(document, self.destination, context, lambda level, near: _usual(level, told, near=near))
        span = _stretch(document, context, self.at_ms)
        if set(told.chosen) == {"closeness"}:
            document = _closer(document, context, self.destination, span, told.closeness or 1.0)
            if self.destination is not None and _own_placed(document, context, self.destination, span):
                return document
        return _with_own(document, self.destination, context, span, told)

    def said(self, document: QuoteDocument, context: Context) -> str:
        where = in_version(self.destination, context)
        return f"Framed every shot{where}" if self.at_ms is None else f"Framed a shot{where}"

    def touches(self, context: Context) -> Touches:
        groups = self.change.groups
        more = ("place",) if self.at_ms is None and "closeness" in groups else ()
        return _touched(self.destination, (*groups, *more), self.at_ms, context)


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
        return _touched(None if self.every_shape else self.destination, what, self.at_ms, context)


class AddRest(Frozen):
    """Has a camera come to rest once more at a moment, where it looks then: dragged after that, it moves there."""

    kind: Literal["add-rest"] = "add-rest"
    at_ms: Moment = Field(ge=0)
    destination: str
    panel: int = Field(default=0, ge=0, le=3)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        shot, view = _seen_through(document, context, self.destination, self.at_ms, self.panel)
        rests = _rests(cameras_of(shot.layout)[self.panel])
        return _with_rests(
            document, context, self.destination, shot, self.panel, _parted_rest(rests, self.at_ms, view, shot.span)
        )

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Made a new rest{in_version(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        return _touched(self.destination, ("place",), self.at_ms, context)


class RemoveRest(Frozen):
    """Takes the rest away that a camera stands in at a moment; the last is not taken."""

    kind: Literal["remove-rest"] = "remove-rest"
    at_ms: Moment = Field(ge=0)
    destination: str
    panel: int = Field(default=0, ge=0, le=3)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        shot, _ = _seen_through(document, context, self.destination, self.at_ms, self.panel)
        rests = _rests(cameras_of(shot.layout)[self.panel])
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
        return _touched(self.destination, ("place",), self.at_ms, context)


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
        rests = _rests(cameras_of(shot.layout)[self.panel])
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
        return _touched(self.destination, ("place",), self.at_ms, context)


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
        return treated_everywhere(_shapes(context), _ALL)


class JoinShot(Frozen):
    """Takes the parting away with which the stretch at a moment begins: it is framed as what is before it."""

    kind: Literal["join-shot"] = "join-shot"
    at_ms: Moment = Field(ge=0)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        span = _stretch(document, context, self.at_ms)
        cuts = {shot.span.start_ms for shot in context.sight.shots} | {0}
        if span.start_ms in cuts:
            raise EditRefused(
                "This stretch begins with a camera cut. Only a split that was made by hand can be taken away."
            )
        before = _stretch(document, context, span.start_ms - 1)
        whole = Span(start_ms=before.start_ms, end_ms=span.end_ms)

        def joined(level: Framing, near: bool) -> Framing:
            own = own_choice(before, level)
            kept = tuple(one for one in level.shots if one.span not in (before, span))
            level = level.model_copy(update={"shots": kept})
            return level if own is None else with_choice(level, whole, own.choice, alone=own.alone)

        return _with_levels(document, None, context, joined)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return "Joined two stretches of framing"

    def touches(self, context: Context) -> Touches:
        return treated_everywhere(_shapes(context), _ALL)


class ResetFraming(Frozen):
    """Gives a shot, or all shots where no moment is told, the program's own framing again; in every shape, or in one."""

    kind: Literal["reset-framing"] = "reset-framing"
    at_ms: Moment | None = Field(default=None, ge=0)
    destination: str | None = None

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        if self.at_ms is None and self.destination is None:
            return _with_levels(document, None, context, lambda level, near: Framing())
        spans = (
            [_stretch(document, context, self.at_ms)] if self.at_ms is not None else _cut_stretches(document, context)
        )

        def reset(level: Framing, near: bool) -> Framing:
            for span in spans:
                level = with_choice(level, span, Choice(), alone=near)
            return level

        return _with_levels(document, self.destination, context, reset)

    def said(self, document: QuoteDocument, context: Context) -> str:
        which = "all framing" if self.at_ms is None else "the framing of a shot"
        return f"Reset {which}{in_version(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        return _touched(self.destination, _ALL, self.at_ms, context)


class FineShot(Frozen):
    """Says that what is doubtful about a shot is fine, so that it is quiet; or no longer."""

    kind: Literal["fine-shot"] = "fine-shot"
    at_ms: Moment = Field(ge=0)
    codes: tuple[DoubtCode, ...] = Field(max_length=8)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        span = _stretch(document, context, self.at_ms)
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
        return _touched(None, _ALL, self.at_ms, context)


class GiveFraming(Frozen):
    """Gives the framing of a shot to others: what of it is told, in every shape or in one; or to other shapes of the same
    shots."""

    kind: Literal["give-framing"] = "give-framing"
    at_ms: Moment = Field(ge=0)
    to_ms: tuple[Moment, ...] = Field(min_length=1, max_length=2000)
    what: tuple[Given, ...] = Field(min_length=1, max_length=5)
    destination: str | None = None

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        giver = _stretch(document, context, self.at_ms)
        takers = dict.fromkeys(_stretch(document, context, moment) for moment in self.to_ms)
        made = document
        for span in takers:
            if span != giver:
                made = self._given(made, document, context, giver, span)
        return made

    def _given(
        self, made: QuoteDocument, document: QuoteDocument, context: Context, giver: Span, span: Span
    ) -> QuoteDocument:
        shapes = [self.destination] if self.destination else [one.destination for one in document.versions]
        common = _picked(choice_for(giver, [document.framing]), self.what, span, context)
        if self.destination is None and common != Choice():
            made = _with_own(made, None, context, span, common)
        for destination in shapes:
            shot = framed_shot(document, context, destination, giver)
            told = _picked(shot.choice, self.what, span, context)
            if "closeness" in self.what:
                told = told.model_copy(
                    update={"closeness": min(RANGES.closeness.most, max(RANGES.closeness.least, shot.closeness))}
                )
            if "place" in self.what:
                told = told.model_copy(update={"placed": _standing(shot)})
            made = _with_own(made, destination, context, span, told)
        return made

    def said(self, document: QuoteDocument, context: Context) -> str:
        many = "another shot" if len(self.to_ms) == 1 else f"{len(self.to_ms)} shots"
        return f"Gave a framing to {many}{in_version(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        touched: list[Touches] = [
            _touched(self.destination, (*self.what, "place"), moment, context) for moment in self.to_ms
        ]
        return tuple(touch for one in touched for touch in one)


class ShareFraming(Frozen):
    """Gives the framing that a shot has in one shape to others: what of it is told. A place is the same in the source, as close
    as it is in the shape that gives it where closeness is given too."""

    kind: Literal["share-framing"] = "share-framing"
    at_ms: Moment = Field(ge=0)
    destination: str
    to: tuple[str, ...] = Field(min_length=1, max_length=40)
    what: tuple[Given, ...] = Field(min_length=1, max_length=5)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        span = _stretch(document, context, self.at_ms)
        treatment_of(document, self.destination, context)
        giver = framed_shot(document, context, self.destination, span)
        made = document
        for one in self.to:
            if one != self.destination:
                treatment_of(document, one, context)
                made = _with_own(
                    made,
                    one,
                    context,
                    span,
                    self._told(giver, framed_shot(document, context, one, span), span, context),
                )
        return made

    def _told(self, giver: FramedShot, taker: FramedShot, span: Span, context: Context) -> Choice:
        told = _picked(giver.choice, self.what, span, context)
        if "layout" in self.what:
            told = told.model_copy(update={"layout": giver.name, "subjects": giver.subjects or None})
        closer = 1.0
        if "closeness" in self.what and giver.subjects:
            told = told.model_copy(
                update={"closeness": min(RANGES.closeness.most, max(RANGES.closeness.least, giver.closeness))}
            )
            closer = giver.closeness / taker.closeness
        if "place" in self.what:
            like = taker if len(cameras_of(taker.layout)) == len(cameras_of(giver.layout)) else giver
            told = told.model_copy(update={"layout": giver.name, "placed": _moved_to(giver, like, closer)})
        return told

    def said(self, document: QuoteDocument, context: Context) -> str:
        names = [context.catalogue.destination(one).name for one in self.to]
        return f"Gave a framing to {' and '.join(names) if len(names) < 3 else f'{len(names)} shapes'}"

    def touches(self, context: Context) -> Touches:
        touched = [_touched(one, (*self.what, "place"), self.at_ms, context) for one in (*self.to, self.destination)]
        return tuple(touch for one in touched for touch in one)


def _moved_to(giver: FramedShot, taker: FramedShot, closer: float) -> tuple[Placed, ...]:
    """The cameras of one shape as places for another: where they look is the same, how far they zoom is the taker's own."""
    out = []
    pairs = zip(cameras_of(giver.layout), cameras_of(taker.layout), strict=True)
    for number, (camera, own) in enumerate(pairs):
        zoom = own.at.zoom if own.kind == "hold" else own.rests[0].at.zoom
        zoom = min(RANGES.zoom.most, max(RANGES.zoom.least, zoom * closer))
        rests = (rest.model_copy(update={"at": rest.at.model_copy(update={"zoom": zoom})}) for rest in _rests(camera))
        out.append(Placed(panel=number, rests=tuple(rests)))
    return tuple(out)


class TakeFraming(Frozen):
    """Takes the framing of another quote of the same recording, which is told whole: for every stretch what was chosen for it
    there, or for one of the same set-up. What was chosen here for a stretch that finds neither stays."""

    kind: Literal["take-framing"] = "take-framing"
    title: str = Field(max_length=200)
    framing: Framing
    treatments: dict[Shape, Framing] = Field(default_factory=dict, max_length=60)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        set_ups = _set_up_of(context)
        made = document.model_copy(
            update={"framing": self._taken(document, document.framing, self.framing, context, set_ups)}
        )
        for shape, given in self.treatments.items():
            own = made.treatments.get(shape) or Treatment()
            framing = self._taken(document, own.framing, given, context, set_ups)
            if framing != own.framing:
                treatment = own.model_copy(update={"framing": framing})
                made = made.model_copy(update={"treatments": {**made.treatments, shape: treatment}})
        if made == document:
            raise EditRefused("Nothing was chosen there for shots like these.")
        return changed(made)

    def _taken(
        self, document: QuoteDocument, level: Framing, given: Framing, context: Context, set_ups: Callable[[int], int | None]
    ) -> Framing:  # fmt: skip
        level = level.model_copy(update={"usual": given.usual.over(level.usual)})
        for span in _cut_stretches(document, context):
            own = own_choice(span, given)
            of = set_ups((span.start_ms + span.end_ms) // 2)
            alike = (one for one in given.shots if of is not None and set_ups(_middle(one.span)) == of)
            found = own or next(alike, None)
            if found is not None:
                level = with_choice(level, span, _fitting(found, span, context), alone=found.alone)
        return level

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Took the framing of “{self.title}”"

    def touches(self, context: Context) -> Touches:
        return treated_everywhere(_shapes(context), _ALL)


def _middle(span: Span) -> int:
    return (span.start_ms + span.end_ms) // 2


def _set_up_of(context: Context) -> Callable[[int], int | None]:
    """Which set-up the shot at a moment is of; none where it is not in sight."""
    found = find_set_ups(context.sight)
    of = {shot: place for place, one in enumerate(found) for shot in one.shots}
    shots = context.sight.shots

    def at(ms: int) -> int | None:
        number = next((number for number, shot in enumerate(shots) if shot.span.holds(ms)), None)
        return None if number is None else of.get(number)

    return at


def _fitting(one: ShotChoice, span: Span, context: Context) -> Choice:
    """A choice as it can be for another stretch: who is seen there, and places to stand still at."""
    picked = _picked(one.choice, ("layout", "closeness", "moves", "behind"), span, context)
    placed = tuple(
        Placed(panel=camera.panel, rests=(Rest(from_ms=0, to_ms=0, at=camera.rests[0].at),), ease=camera.ease)
        for camera in one.choice.placed or ()
    )
    same = one.span == span
    return picked.model_copy(update={"placed": one.choice.placed if same else placed or None})


def _picked(choice: Choice, what: Sequence[Given], span: Span, context: Context) -> Choice:
    """What is given of a choice; of subjects only who is seen there."""
    fields = {field for group in what for field in _GROUPS.get(group, ())}
    told = {name: value for name, value in choice.chosen.items() if name in fields}
    seen = {one.subject for one in context.sight.tracks if one.start_ms < span.end_ms and one.end_ms >= span.start_ms}
    there = tuple(who for who in choice.subjects or () if who in seen)
    if "subjects" in told:
        told["subjects"] = there or None
    return Choice.model_validate(told)


def _standing(shot: FramedShot) -> tuple[Placed, ...]:
    """The cameras of a shot as places to stand still at, in a shot of other length."""
    if shot.layout.kind == "whole":
        return (Placed(rests=(Rest(from_ms=0, to_ms=0, at=shot.layout.at),)),)
    views = [camera.at if camera.kind == "hold" else camera.rests[0].at for camera in cameras_of(shot.layout)]
    return tuple(Placed(panel=number, rests=(Rest(from_ms=0, to_ms=0, at=view),)) for number, view in enumerate(views))


def _known(subjects: Sequence[int], context: Context) -> None:
    seen = {one.subject for one in context.sight.tracks}
    if any(one not in seen for one in subjects):
        raise EditRefused("Nobody is followed there under that number. Click somebody who is seen in this shot.")


def _cut_stretches(document: QuoteDocument, context: Context) -> list[Span]:
    within = document.span
    return [
        one
        for one in stretches_of_cut(document, context)
        if one.start_ms < within.end_ms and one.end_ms > within.start_ms
    ]


def _stretch(document: QuoteDocument, context: Context, at_ms: int) -> Span:
    """The stretch of the cut that a moment lies in."""
    found = next((one for one in stretches_of_cut(document, context) if one.holds(at_ms)), None)
    if found is None:
        raise EditRefused("The recording has no picture at that moment.")
    return found


def _with_levels(
    document: QuoteDocument, destination: str | None, context: Context, change: LevelChange
) -> QuoteDocument:
    """The document with the level of one shape changed, or the level of all and every single one."""
    if destination is not None:
        framing = treatment_of(document, destination, context).framing
        return with_treatment(document, destination, context, framing=change(framing, True))
    treatments = {
        shape: one.model_copy(update={"framing": change(one.framing, False)})
        for shape, one in document.treatments.items()
    }
    versions = tuple(
        one.model_copy(
            update={"treatment": one.treatment.model_copy(update={"framing": change(one.treatment.framing, False)})}
        )
        if one.treatment
        else one
        for one in document.versions
    )
    return changed(document, framing=change(document.framing, True), treatments=treatments, versions=versions)


def _without(choice: Choice, told: Choice) -> Choice:
    """A choice without what was chosen anew, and without what followed from it."""
    voided = ["placed"] if set(told.chosen) & {"layout", "subjects", "moves"} else []
    if told.layout is None and len(told.subjects or ()) > 1:
        # A layout that was chosen for one of them can't show several.
        voided.append("layout")
    return choice.without(*told.chosen, "fine", *voided)


def _usual(level: Framing, told: Choice, *, near: bool) -> Framing:
    """A level with something chosen for every shot."""
    shots = level.shots
    for one in shots:
        level = with_choice(level, one.span, _without(one.choice, told), alone=one.alone and not near)
    usual = told.over(_without(level.usual, told)) if near else _without(level.usual, told)
    return level.model_copy(update={"usual": usual})


def _own(level: Framing, span: Span, told: Choice, *, near: bool) -> Framing:
    """A level with something chosen for one stretch."""
    own = own_choice(span, level)
    before, alone = (own.choice, own.alone) if own else (Choice(), False)
    left = _without(before, told)
    if near:
        return with_choice(level, span, told.over(left), alone=alone)
    return level if own is None or left == before else with_choice(level, span, left, alone=alone)


def _with_own(
    document: QuoteDocument, destination: str | None, context: Context, span: Span, told: Choice
) -> QuoteDocument:
    """The document with something chosen for one stretch, in one shape or in all."""
    return _with_levels(document, destination, context, lambda level, near: _own(level, span, told, near=near))


def _seen_through(
    document: QuoteDocument, context: Context, destination: str, at_ms: int, panel: int
) -> tuple[FramedShot, View]:
    """How a stretch is framed in a version, and where a camera of it looks at a moment."""
    shot = framed_shot(document, context, destination, _stretch(document, context, at_ms))
    cameras = cameras_of(shot.layout)
    if panel >= len(cameras):
        raise EditRefused("This layout has no such picture in it any more.")
    return shot, view_at(cameras[panel], at_ms)


def _rests(camera: Camera) -> list[Rest]:
    return [Rest(from_ms=0, to_ms=0, at=camera.at)] if camera.kind == "hold" else list(camera.rests)


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
    rests = _rests(cameras_of(shot.layout)[panel])
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
    return _with_own(document, destination, context, shot.span, told)


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
            made = _with_own(made, one, context, span, told)
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
    span = _stretch(document, context, at_ms)
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


def _shapes(context: Context) -> list[str]:
    return sorted(
        {one.shape for one in context.catalogue.destinations}
        | {f"version {one.id}" for one in context.catalogue.destinations}
    )


def _touched(destination: str | None, what: Sequence[str], at_ms: int | None, context: Context) -> Touches:
    """What an edit of the framing touches: in the shot of a moment, or in all."""
    shot = next((one.span for one in context.sight.shots if at_ms is not None and one.span.holds(at_ms)), None)
    within = {} if shot is None else {"first": shot.start_ms, "last": shot.end_ms - 2}
    about = tuple(dict.fromkeys(what))
    if destination is None:
        return treated_everywhere(_shapes(context), about, **within)
    return treated(shape_of(destination, context), destination, about, **within)
