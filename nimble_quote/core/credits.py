"""What of others a clip shows or has heard, and what was noted of its licence."""

from collections.abc import Sequence

from nimble_quote.core.assembly import Assembly
from nimble_quote.core.catalogue import Catalogue, HouseSound, Picture
from nimble_quote.core.model import Frozen


class Credit(Frozen):
    """A picture or a sound of the house's, and its licence note; empty where none was made."""

    name: str
    licence: str = ""


def credits_of(assembly: Assembly, catalogue: Catalogue) -> tuple[Credit, ...]:
    """What of the house's a clip has in it, music first."""
    sounds = [catalogue.sound(number) for number in sorted(assembly.house_sounds)]
    return _credits(sounds, _pictures(assembly, catalogue))


def credits_owed(assembly: Assembly, catalogue: Catalogue) -> tuple[Credit, ...]:
    """Of those, what a post has to name: what has a note, but not the sounds that come with the application, which are free of that."""
    sounds = [one for one in map(catalogue.sound, sorted(assembly.house_sounds)) if not one.ships]
    return tuple(one for one in _credits(sounds, _pictures(assembly, catalogue)) if one.licence)


def _pictures(assembly: Assembly, catalogue: Catalogue) -> list[Picture]:
    return [catalogue.picture(number) for number in sorted(assembly.house_pictures)]


def _credits(sounds: Sequence[HouseSound], pictures: Sequence[Picture]) -> tuple[Credit, ...]:
    of: list[HouseSound | Picture] = [*sounds, *pictures]
    return tuple(Credit(name=one.name, licence=one.licence) for one in of)
