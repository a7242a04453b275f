"""What a house can choose from: destinations, caption styles, faces. Each is looked up by its id, also when retired."""

from functools import cached_property
from typing import Protocol

from pydantic import Field

from nimble_quote.core.captions.styles import CaptionStyle, Face
from nimble_quote.core.destinations import Destination
from nimble_quote.core.document import Colour, Overlay
from nimble_quote.core.finishes import Finish, overlays_with
from nimble_quote.core.model import Frozen
from nimble_quote.core.refusal import Refused
from nimble_quote.core.sound.looping import Loop


class Finished(Protocol):
    """What of a quote says how it is finished."""

    @property
    def overlays(self) -> tuple[Overlay, ...]: ...
    @property
    def finish(self) -> str | None: ...
    @property
    def finish_held(self) -> int | None: ...


class NotInCatalogue(Refused):
    """Something was named that the catalogue does not have, and never had."""

    code = "not-in-catalogue"


class Picture(Frozen):
    """A picture of the house's, to stand behind others or over them; its size in pixels."""

    id: int
    name: str
    width: int
    height: int
    see_through: bool = False
    """Whether something is seen through it."""
    revision: int = 1
    """Counts up each time another picture is put in its place."""
    licence: str = ""
    retired: bool = False


class HouseSound(Frozen):
    """A piece of music, or a sound, of the house's: how long and how loud it is, and where it can be looped."""

    id: int
    name: str
    duration_ms: int
    loudness_lufs: float
    loop: Loop | None = None
    revision: int = 1
    """Counts up each time another is put in its place."""
    licence: str = ""
    ships: bool = False
    """Whether it comes with the application."""
    retired: bool = False


class Catalogue(Frozen):
    """The catalogue at one `version` of it: a number that counts up with each change. All in the order they are offered."""

    version: int
    destinations: tuple[Destination, ...]
    styles: tuple[CaptionStyle, ...]
    earlier: tuple[CaptionStyle, ...] = Field(default=(), exclude=True)
    """Older versions of the styles, for the quotes that hold one."""
    faces: tuple[Face, ...]
    finishes: tuple[Finish, ...] = ()
    earlier_finishes: tuple[Finish, ...] = Field(default=(), exclude=True)
    """Older versions of the finishes, for the quotes that hold one."""
    series_finishes: dict[str, str] = Field(default_factory=dict)
    """The finish that new quotes of a series follow, by its id."""
    pictures: tuple[Picture, ...] = ()
    sounds: tuple[HouseSound, ...] = ()
    roles: dict[str, str] = Field(default_factory=dict)
    """What people are, by their names."""
    copyright: str = ""
    """What is written into files as whose they are."""
    colour: Colour = "#1C2330"
    """The house's colour, which stands behind where none is chosen."""
    palette: tuple[Colour, ...] = ()
    """The house's colours, to choose from."""

    def destination(self, id_: str) -> Destination:
        """The destination of an id, also one that is retired. Raises `NotInCatalogue`."""
        if id_ not in self._destinations:
            raise NotInCatalogue(f"There is no destination called “{id_}”.")
        return self._destinations[id_]

    def style(self, id_: str, version: int | None = None) -> CaptionStyle:
        """The caption style of an id, also one that is retired: at its newest version, or another. Raises `NotInCatalogue`."""
        if id_ not in self._styles:
            raise NotInCatalogue(f"There is no caption style called “{id_}”.")
        newest = self._styles[id_]
        return self._earlier.get((id_, version), newest) if version else newest

    def finish(self, id_: str, version: int | None = None) -> Finish:
        """The finish of an id, also one that is retired: at its newest version, or another. Raises `NotInCatalogue`."""
        newest = next((one for one in self.finishes if one.id == id_), None)
        if newest is None:
            raise NotInCatalogue(f"There is no finish called “{id_}”.")
        if not version:
            return newest
        return next((one for one in self.earlier_finishes if (one.id, one.version) == (id_, version)), newest)

    def finish_for(self, series: str | None) -> str | None:
        """The finish that a new quote of a series follows; none where it is offered no more."""
        id_ = self.series_finishes.get(series or "")
        return id_ if id_ and not self.finish(id_).retired else None

    def overlays(self, document: Finished) -> tuple[Overlay, ...]:
        """What stands over the picture of a quote: its finish's, as far as it has none of it otherwise, and its own."""
        finish = self.finish(document.finish, document.finish_held) if document.finish else None
        return overlays_with(finish, document.overlays)

    def alone(self, document: Finished, kind: str) -> Overlay | None:
        """What a quote has of a kind that a clip has one of: the last that is not hidden."""
        shown = (one for one in reversed(self.overlays(document)) if one.what.kind == kind and not one.hidden)
        return next(shown, None)

    def has_face(self, name: str) -> bool:
        """Whether there is a face of that name, also one that is retired."""
        return any(one.name == name for one in self.faces)

    def picture(self, number: int) -> Picture:
        """The house's picture of a number, also one that is retired. Raises `NotInCatalogue`."""
        found = next((one for one in self.pictures if one.id == number), None)
        if found is None:
            raise NotInCatalogue("The house has no such picture.")
        return found

    def has_picture(self, number: int) -> bool:
        """Whether the house has a picture of that number, also one that is retired."""
        return any(one.id == number for one in self.pictures)

    def sound(self, number: int) -> HouseSound:
        """The house's sound of a number, also one that is retired. Raises `NotInCatalogue`."""
        found = next((one for one in self.sounds if one.id == number), None)
        if found is None:
            raise NotInCatalogue("The house has no such sound.")
        return found

    @cached_property
    def offered(self) -> tuple[Destination, ...]:
        """The destinations that can be chosen."""
        return tuple(one for one in self.destinations if not one.retired)

    def position(self, id_: str) -> int:
        """Where a destination stands among all. Raises `NotInCatalogue`."""
        return self.destinations.index(self.destination(id_))

    @cached_property
    def _destinations(self) -> dict[str, Destination]:
        return {one.id: one for one in self.destinations}

    @cached_property
    def _styles(self) -> dict[str, CaptionStyle]:
        return {one.id: one for one in self.styles}

    @cached_property
    def _earlier(self) -> dict[tuple[str, int], CaptionStyle]:
        return {(one.id, one.version): one for one in self.earlier}
