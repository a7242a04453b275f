"""A finish as a file: JSON with its pictures and sounds in it, as `docs/finishing.md` tells it."""

import base64
import binascii
import json
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from nimble_quote.core.catalogue import HouseSound, Picture
from nimble_quote.core.document import Music
from nimble_quote.core.finishes import Finish, FinishWanted, pictures_in
from nimble_quote.core.refusal import Refused

FORMAT, VERSION = "nimble-quote-finish", 1
MOST_BYTES = 40_000_000
_MOST_ASSETS = 40


class NoFinish(Refused):
    """A file is no finish; says what of it."""

    code = "no-finish-file"


@dataclass(frozen=True, kw_only=True)
class AssetInFile:
    """A picture or a sound that a file has with it."""

    name: str
    content: bytes
    licence: str = ""


Assets = Mapping[int, AssetInFile]
"""By the numbers that the file tells them by."""


def assets_of(contents: Mapping[int, bytes], known: Callable[[int], Picture | HouseSound]) -> dict[int, AssetInFile]:
    """Pictures or sounds of the house as a file has them with it."""
    return {
        number: AssetInFile(name=known(number).name, content=content, licence=known(number).licence)
        for number, content in contents.items()
    }


@dataclass(frozen=True, kw_only=True)
class FinishInFile:
    """A finish that was read: as the file tells it, with its pictures and sounds."""

    told: dict[str, Any]
    pictures: Assets
    sounds: Assets

    def with_numbers(self, pictures: Mapping[int, int], sounds: Mapping[int, int]) -> FinishWanted:
        """The finish with its pictures and sounds by the numbers that they have here. Raises `NoFinish`."""
        told = json.loads(json.dumps(self.told))
        for item in told.get("items") or ():
            what = item.get("what") if isinstance(item, dict) else None
            if isinstance(what, dict):
                _renumber(what, {"picture": pictures, "sound": sounds})
        try:
            return FinishWanted.model_validate(told)
        except ValidationError as impossible:
            first = impossible.errors()[0]
            where = ".".join(str(part) for part in first["loc"])
            raise NoFinish(f"The finish can't be like that: {where}: {first['msg']}.") from impossible


def _renumber(told: dict[str, Any], here: Mapping[str, Mapping[int, int]]) -> None:
    """Puts the numbers that assets have here in place of those of the file, wherever something names one."""
    for field, value in told.items():
        if isinstance(value, dict):
            _renumber(value, here)
        elif field in here and value is not None:
            if not isinstance(value, int) or value not in here[field]:
                raise NoFinish(f"The finish names {field} {value!s:.12}, which is not in the file.")
            told[field] = here[field][value]


def pictures_of(finish: FinishWanted) -> set[int]:
    """The numbers of the pictures that a finish shows."""
    return {number for one in finish.items for number in pictures_in(one.what)}


def sounds_of(finish: FinishWanted) -> set[int]:
    """The numbers of the sounds that are heard in a finish."""
    return {one.what.sound for one in finish.items if isinstance(one.what, Music)}


def write_finish(finish: Finish, pictures: Assets, sounds: Assets) -> str:
    """The file of a finish, with its pictures and sounds."""
    told = finish.model_dump(mode="json", include={"name", "said", "items"})
    whole = {"format": FORMAT, "version": VERSION, **told, "pictures": _written(pictures), "sounds": _written(sounds)}
    return json.dumps(whole, indent=2, ensure_ascii=False) + "\n"


def _written(assets: Assets) -> dict[str, dict[str, str]]:
    return {
        str(number): {"name": one.name, "licence": one.licence, "content": base64.b64encode(one.content).decode()}
        for number, one in sorted(assets.items())
    }


def read_finish(data: bytes) -> FinishInFile:
    """The finish in a file. Raises `NoFinish`."""
    try:
        told: Any = json.loads(data.decode("utf-8-sig"))
    except (UnicodeDecodeError, ValueError, RecursionError) as broken:
        raise NoFinish("This is no finish: it is no JSON in UTF-8.") from broken
    if not isinstance(told, dict) or told.get("format") != FORMAT:
        raise NoFinish("This is no finish: its “format” does not say so.")
    if told.get("version") != VERSION:
        raise NoFinish(f"This finish is of version {told.get('version')!s:.20}, and only {VERSION} is known.")
    wanted = {field: told[field] for field in ("name", "said", "items") if field in told}
    return FinishInFile(told=wanted, pictures=_assets(told, "picture"), sounds=_assets(told, "sound"))


def _assets(told: dict[str, Any], kind: str) -> Assets:
    shown = told.get(f"{kind}s") or {}
    if not isinstance(shown, dict) or len(shown) > _MOST_ASSETS:
        raise NoFinish(f"The {kind}s of a finish are up to {_MOST_ASSETS}, each by its number.")
    return dict(_asset(number, one, kind) for number, one in shown.items())


def _asset(number: str, told: Any, kind: str) -> tuple[int, AssetInFile]:
    try:
        name, content = (
            str(told["name"]).strip()[:80] or kind.capitalize(),
            base64.b64decode(told["content"], validate=True),
        )
        licence = str(told.get("licence") or "").strip()[:500]
        return int(number), AssetInFile(name=name, content=content, licence=licence)
    except (AttributeError, KeyError, TypeError, ValueError, binascii.Error) as broken:
        raise NoFinish(f"{kind.capitalize()} {number!s:.12} of the finish can't be read.") from broken
