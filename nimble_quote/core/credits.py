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


def credits_owed(assembly: Assembly, catalogue: Catalogue) -> tuple[Credit, ...]:
    """Of those, what a post has to name: what has a note, but not the sounds that come with the application, which are free of that."""
    ours = {one.name for one in map(catalogue.sound, assembly.house_sounds) if one.ships}
    return tuple(one for one in credits_of(assembly, catalogue) if one.licence and one.name not in ours)
