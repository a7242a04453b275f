"""Finishes of the house: named sets of what stands over the picture, which quotes follow.

What a quote shows is what its finish has, each thing unless the quote has it otherwise, and then what it has of its own:

    finish      1001 title   1002 progress   1003 logo
    quote                    1002 progress                 1 mark   2 text
    shows       1001 title   1002 progress   1003 logo     1 mark   2 text
"""

from collections.abc import Sequence
from typing import Annotated, Self

from pydantic import Field, StringConstraints, model_validator

from nimble_quote.core.document import At, Cover, CoverPicture, EndCard, Insert, Logo, Overlay, Shape, What, When, Wish
from nimble_quote.core.document.overlays import FROM_FINISH
from nimble_quote.core.model import Frozen

MOST_ITEMS = 40
Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=40)]


class FinishItem(Frozen):
    """One thing of a finish: it stands at the clip, since no two quotes have the same words."""

    number: int = Field(ge=1, le=999)
    when: When
    what: What
    wish: Wish | None = None
    placed: dict[Shape, At] = Field(default_factory=dict, max_length=20)
    """Where its middle was put by hand, in a shape."""

    @model_validator(mode="after")
    def _stands_at_the_clip(self) -> Self:
        if self.when.kind == "words":
            raise ValueError("what a finish has stands at the clip, not at words")
        return self


class FinishWanted(Frozen):
    """What a house decides of a finish."""

    name: Name
    said: Annotated[str, StringConstraints(strip_whitespace=True, max_length=120)] = ""
    """What it is for, in a few words."""
    items: tuple[FinishItem, ...] = Field(max_length=MOST_ITEMS)

    @model_validator(mode="after")
    def _numbered(self) -> Self:
        if len({one.number for one in self.items}) < len(self.items):
            raise ValueError("each thing of a finish has a number of its own")
        return self


class Finish(FinishWanted):
    """A finish at one of its versions: there is a version for each change of its items."""

    id: str
    version: int = Field(default=1, ge=1)
    retired: bool = False


def overlays_with(finish: Finish | None, own: Sequence[Overlay]) -> tuple[Overlay, ...]:
    """What stands over the picture of a quote that has some overlays of its own, and follows a finish or none."""
    otherwise = {one.id: one for one in own}
    theirs = tuple(
        otherwise.get(FROM_FINISH + item.number)
        or Overlay(id=FROM_FINISH + item.number, when=item.when, what=item.what, wish=item.wish, placed=item.placed)
        for item in (finish.items if finish else ())
    )
    return (*theirs, *(one for one in own if one.id < FROM_FINISH))


def pictures_in(what: What) -> set[int]:
    """The numbers of the house's pictures that something shows."""
    if isinstance(what, Logo):
        return {what.picture}
    if isinstance(what, EndCard | Insert):
        return {what.picture} if what.picture is not None else set()
    if isinstance(what, Cover):
        return {one.picture for one in (what.shows, *what.in_shapes.values()) if one.picture is not None}
    return set()


def _of_one_talk(what: What) -> bool:
    """Whether something is of one talk alone: footage of another goes with what is said."""
    return isinstance(what, Insert) and what.footage is not None


def _for_all(what: What) -> What:
    """Something as a finish has it: a cover shows no moment of one talk, but finds one in each."""
    if not isinstance(what, Cover):
        return what
    shows = what.shows if what.shows.picture is not None else CoverPicture()
    in_shapes = {shape: one for shape, one in what.in_shapes.items() if one.picture is not None}
    return what.model_copy(update={"shows": shows, "in_shapes": in_shapes})


def items_of(overlays: Sequence[Overlay]) -> tuple[FinishItem, ...]:
    """What a finish has that is made of some overlays: those that are shown and stand at the clip. What came from a finish keeps
    its number, so that what a quote has of it otherwise stays with it."""
    chosen = [one for one in overlays if not one.hidden and one.when.kind != "words" and not _of_one_talk(one.what)]
    chosen = chosen[:MOST_ITEMS]
    taken = {one.id - FROM_FINISH for one in chosen if one.id > FROM_FINISH}
    free = (number for number in range(1, 1000) if number not in taken)
    return tuple(
        FinishItem(
            number=one.id - FROM_FINISH if one.id > FROM_FINISH else next(free),
            when=one.when,
            what=_for_all(one.what),
            wish=one.wish,
            placed=one.placed,
        )
        for one in chosen
    )
