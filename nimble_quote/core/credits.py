"""What of others a clip shows or has heard, and what was noted of its licence."""

from nimble_quote.core.assembly import Assembly
from nimble_quote.core.catalogue import Catalogue, HouseSound, Picture
from nimble_quote.core.model import Frozen


class Credit(Frozen):
    """A picture or a sound of the house's, and its licence note; empty where none was made."""

    name: str
    licence: str = ""


def credits_of(assembly: Assembly, catalogue: Catalogue) -> tuple[Credit, ...]:
    """What of the house's a clip has in it, music first."""
    of: list[HouseSound | Picture] = [
        *(catalogue.sound(number) for number in sorted(assembly.house_sounds)),
        *(catalogue.picture(number) for number in sorted(assembly.house_pictures)),
    ]
    return tuple(Credit(name=one.name, licence=one.licence) for one in of)
