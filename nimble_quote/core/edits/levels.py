"""What edits of the framing share: the levels of a document at which something is chosen, the stretch that a moment names,
and what such an edit touches.

A stretch of the cut is named by a moment of the source that lies in it, so that an edit means the same after cuts were
found anew. A decision for every shape takes what single shapes had chosen of the same away.
"""

from collections.abc import Callable, Sequence
from typing import Literal

from nimble_quote.core.context import Context
from nimble_quote.core.document import TONE, Choice, Framing, QuoteDocument
from nimble_quote.core.edits.changing import EditRefused, changed, shape_of, treatment_of, with_treatment
from nimble_quote.core.edits.touching import Touches, treated, treated_everywhere
from nimble_quote.core.framing.stretches import own_choice, with_choice
from nimble_quote.core.framing.versions import stretches_of_cut
from nimble_quote.core.timebase import Span

Moment = int
LevelChange = Callable[[Framing, bool], Framing]
"""What becomes of a level, and whether the change was made for it, or for all shapes, over it."""
GROUPS: dict[str, tuple[str, ...]] = {
    "layout": ("layout", "subjects", "share", "size", "height"),
    "closeness": ("closeness",),
    "moves": ("moves",),
    "behind": ("backdrop", "colour", "blur", "picture"),
    "tone": TONE,
}
"""What is given and merged together, by the fields of a choice."""
ALL = (*GROUPS, "place")
Given = Literal["layout", "closeness", "place", "moves", "behind", "tone"]
NOT_PLACE: tuple[Given, ...] = ("layout", "closeness", "moves", "behind", "tone")
"""All that is given without its place."""


def cut_stretches(document: QuoteDocument, context: Context) -> list[Span]:
    """The stretches of the cut that a quote reaches into, in order of time."""
    within = document.span
    return [
        one
        for one in stretches_of_cut(document, context)
        if one.start_ms < within.end_ms and one.end_ms > within.start_ms
    ]


def stretch_at(document: QuoteDocument, context: Context, at_ms: int) -> Span:
    """The stretch of the cut that a moment lies in. Raises `EditRefused` where the recording has none there."""
    found = next((one for one in stretches_of_cut(document, context) if one.holds(at_ms)), None)
    if found is None:
        raise EditRefused("The recording has no picture at that moment.")
    return found


def with_levels(
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


def for_every_shot(level: Framing, told: Choice, *, near: bool) -> Framing:
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


def with_own(
    document: QuoteDocument, destination: str | None, context: Context, span: Span, told: Choice
) -> QuoteDocument:
    """The document with something chosen for one stretch, in one shape or in all."""
    return with_levels(document, destination, context, lambda level, near: _own(level, span, told, near=near))


def treated_shapes(context: Context) -> list[str]:
    """All that can be treated: shapes, and versions by themselves."""
    return sorted(
        {one.shape for one in context.catalogue.destinations}
        | {f"version {one.id}" for one in context.catalogue.destinations}
    )


def framing_touched(destination: str | None, what: Sequence[str], at_ms: int | None, context: Context) -> Touches:
    """What an edit of the framing touches: in the shot of a moment, or in all."""
    shot = next((one.span for one in context.sight.shots if at_ms is not None and one.span.holds(at_ms)), None)
    within = {} if shot is None else {"first": shot.start_ms, "last": shot.end_ms - 2}
    about = tuple(dict.fromkeys(what))
    if destination is None:
        return treated_everywhere(treated_shapes(context), about, **within)
    return treated(shape_of(destination, context), destination, about, **within)
