"""Edits that give the framing of one shot to others, to other shapes, or to another quote of the recording."""

from collections.abc import Callable, Sequence
from typing import Literal

from pydantic import Field

from nimble_quote.core.context import Context
from nimble_quote.core.document import Choice, Framing, Placed, QuoteDocument, Rest, Shape, ShotChoice, Treatment
from nimble_quote.core.edits.changing import EditRefused, changed, in_version, treatment_of
from nimble_quote.core.edits.levels import (
    ALL,
    GROUPS,
    NOT_PLACE,
    Given,
    Moment,
    cut_stretches,
    framing_touched,
    stretch_at,
    treated_shapes,
    with_own,
)
from nimble_quote.core.edits.touching import Touches, treated_everywhere
from nimble_quote.core.framing.framed import FramedShot
from nimble_quote.core.framing.layouts import cameras_of
from nimble_quote.core.framing.set_ups import set_up_at
from nimble_quote.core.framing.stretches import choice_for, own_choice, with_choice
from nimble_quote.core.framing.versions import framed_shot
from nimble_quote.core.framing.views import rests_of
from nimble_quote.core.model import Frozen
from nimble_quote.core.ranges import RANGES
from nimble_quote.core.timebase import Span


class GiveFraming(Frozen):
    """Gives the framing of a shot to others: what of it is told, in every shape or in one; or to other shapes of the same
    shots."""

    kind: Literal["give-framing"] = "give-framing"
    at_ms: Moment = Field(ge=0)
    to_ms: tuple[Moment, ...] = Field(min_length=1, max_length=2000)
    what: tuple[Given, ...] = Field(min_length=1, max_length=6)
    destination: str | None = None

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        giver = stretch_at(document, context, self.at_ms)
        takers = dict.fromkeys(stretch_at(document, context, moment) for moment in self.to_ms)
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
        if self.destination is not None:
            common = Choice()
        elif common != Choice():
            made = with_own(made, None, context, span, common)
        for destination in shapes:
            shot = framed_shot(document, context, destination, giver)
            told = _picked(shot.choice, self.what, span, context)
            if "closeness" in self.what:
                told = told.model_copy(
                    update={"closeness": min(RANGES.closeness.most, max(RANGES.closeness.least, shot.closeness))}
                )
            if "place" in self.what:
                told = told.model_copy(update={"placed": _standing(shot)})
            told = told.without(*(name for name, value in common.chosen.items() if told.chosen.get(name) == value))
            if told == Choice():
                continue
            made = with_own(made, destination, context, span, told)
        return made

    def said(self, document: QuoteDocument, context: Context) -> str:
        many = "another shot" if len(self.to_ms) == 1 else f"{len(self.to_ms)} shots"
        return f"Gave a framing to {many}{in_version(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        touched: list[Touches] = [
            framing_touched(self.destination, (*self.what, "place"), moment, context) for moment in self.to_ms
        ]
        return tuple(touch for one in touched for touch in one)


class ShareFraming(Frozen):
    """Gives the framing that a shot has in one shape to others: what of it is told. A place is the same in the source, as close
    as it is in the shape that gives it where closeness is given too."""

    kind: Literal["share-framing"] = "share-framing"
    at_ms: Moment = Field(ge=0)
    destination: str
    to: tuple[str, ...] = Field(min_length=1, max_length=40)
    what: tuple[Given, ...] = Field(min_length=1, max_length=6)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        span = stretch_at(document, context, self.at_ms)
        treatment_of(document, self.destination, context)
        giver = framed_shot(document, context, self.destination, span)
        made = document
        for one in self.to:
            if one != self.destination:
                treatment_of(document, one, context)
                made = with_own(
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
        touched = [
            framing_touched(one, (*self.what, "place"), self.at_ms, context) for one in (*self.to, self.destination)
        ]
        return tuple(touch for one in touched for touch in one)


def _moved_to(giver: FramedShot, taker: FramedShot, closer: float) -> tuple[Placed, ...]:
    """The cameras of one shape as places for another: where they look is the same, how far they zoom is the taker's own."""
    out = []
    pairs = zip(cameras_of(giver.layout), cameras_of(taker.layout), strict=True)
    for number, (camera, own) in enumerate(pairs):
        zoom = own.at.zoom if own.kind == "hold" else own.rests[0].at.zoom
        zoom = min(RANGES.zoom.most, max(RANGES.zoom.least, zoom * closer))
        rests = (rest.model_copy(update={"at": rest.at.model_copy(update={"zoom": zoom})}) for rest in rests_of(camera))
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
        set_ups = set_up_at(context.sight)
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
        for span in cut_stretches(document, context):
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
        return treated_everywhere(treated_shapes(context), ALL)


def _middle(span: Span) -> int:
    return (span.start_ms + span.end_ms) // 2


def _fitting(one: ShotChoice, span: Span, context: Context) -> Choice:
    """A choice as it can be for another stretch: who is seen there, and places to stand still at."""
    picked = _picked(one.choice, NOT_PLACE, span, context)
    placed = tuple(
        Placed(panel=camera.panel, rests=(Rest(from_ms=0, to_ms=0, at=camera.rests[0].at),), ease=camera.ease)
        for camera in one.choice.placed or ()
    )
    same = one.span == span
    return picked.model_copy(update={"placed": one.choice.placed if same else placed or None})


def _picked(choice: Choice, what: Sequence[Given], span: Span, context: Context) -> Choice:
    """What is given of a choice; of subjects only who is seen there."""
    fields = {field for group in what for field in GROUPS.get(group, ())}
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
