"""What a house can choose from, as the API tells it."""

from pydantic import BaseModel

from nimble_quote.core.captions.styles import CaptionStyle, Face
from nimble_quote.core.catalogue import HouseSound, Picture
from nimble_quote.core.destinations import Destination
from nimble_quote.core.document import Colour
from nimble_quote.core.finishes import Finish
from nimble_quote.core.ranges import Ranges


class CatalogueView(BaseModel):
    """What a house can choose from, and what could be chosen before, in the order it is offered; and how far what is set by
    hand may go."""

    version: int
    destinations: list[Destination]
    styles: list[CaptionStyle]
    faces: list[Face]
    finishes: list[Finish]
    series_finishes: dict[str, str]
    """The finish that new quotes of a series follow, by its id."""
    pictures: list[Picture]
    sounds: list[HouseSound]
    roles: dict[str, str]
    """What people are, by their names."""
    copyright: str
    colour: Colour
    """The house's."""
    palette: list[Colour]
    """The house's colours, to choose from."""
    ranges: Ranges
    encodings: dict[str, str]
    """What a transcript's letters may be read as, and how that is called."""
    transcripts: list[str]
    """The endings of files that are read as transcripts."""
    languages: dict[str, str]
    """What may be spoken in a recording, and how that is called."""
