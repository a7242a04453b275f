"""What a house can choose from: destinations, caption styles, faces. Each is looked up by its id, also when retired."""

from functools import cached_property

from nimble_quote.core.captions.styles import CaptionStyle, Face
from nimble_quote.core.destinations import Destination
from nimble_quote.core.document import Colour
from nimble_quote.core.model import Frozen
from nimble_quote.core.refusal import Refused


class NotInCatalogue(Refused):
    """Something was named that the catalogue does not have, and never had."""

    code = "not-in-catalogue"


class Picture(Frozen):
    """A picture of the house's, to stand behind others; its size in pixels."""

    id: int
    name: str
    width: int
    height: int
    retired: bool = False


class Catalogue(Frozen):
    """The catalogue at one `version` of it: a number that counts up with each change. All in the order they are offered."""

    version: int
    destinations: tuple[Destination, ...]
    styles: tuple[CaptionStyle, ...]
    faces: tuple[Face, ...]
    pictures: tuple[Picture, ...] = ()
    colour: Colour = "#1C2330"
    """The house's colour, which stands behind where none is chosen."""

    def destination(self, id_: str) -> Destination:
        """The destination of an id, also one that is retired. Raises `NotInCatalogue`."""
        if id_ not in self._destinations:
            raise NotInCatalogue(f"There is no destination called “{id_}”.")
        return self._destinations[id_]

    def style(self, id_: str) -> CaptionStyle:
        """The caption style of an id, also one that is retired. Raises `NotInCatalogue`."""
        if id_ not in self._styles:
            raise NotInCatalogue(f"There is no caption style called “{id_}”.")
        return self._styles[id_]

    def has_picture(self, number: int) -> bool:
        """Whether the house has a picture of that number, also one that is retired."""
        return any(one.id == number for one in self.pictures)

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
