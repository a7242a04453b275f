"""A finish as a file: JSON with its pictures in it, as `docs/finishes.md` tells it."""

import base64
import binascii
import json
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from nimble_quote.core.document import Insert, Logo
from nimble_quote.core.finishes import Finish, FinishWanted
from nimble_quote.core.refusal import Refused

FORMAT, VERSION = "nimble-quote-finish", 1
MOST_BYTES = 40_000_000
_MOST_PICTURES = 40


class NoFinish(Refused):
    """A file is no finish; says what of it."""

    code = "no-finish-file"


@dataclass(frozen=True, kw_only=True)
class PictureInFile:
    """A picture that a file has with it."""

    name: str
    content: bytes


@dataclass(frozen=True, kw_only=True)
class FinishInFile:
    """A finish that was read: as the file tells it, and its pictures by the numbers that it tells them by."""

    told: dict[str, Any]
    pictures: Mapping[int, PictureInFile]

    def with_pictures(self, numbers: Mapping[int, int]) -> FinishWanted:
        """The finish with its pictures by the numbers that they have here. Raises `NoFinish`."""
        told = json.loads(json.dumps(self.told))
        for item in told.get("items") or ():
            what = item.get("what") if isinstance(item, dict) else None
            if isinstance(what, dict) and "picture" in what:
                if what["picture"] not in numbers:
                    raise NoFinish(f"The finish shows picture {what['picture']!s:.12}, which is not in the file.")
                what["picture"] = numbers[what["picture"]]
        try:
            return FinishWanted.model_validate(told)
        except ValidationError as impossible:
            first = impossible.errors()[0]
            where = ".".join(str(part) for part in first["loc"])
            raise NoFinish(f"The finish can't be like that: {where}: {first['msg']}.") from impossible


def pictures_of(finish: FinishWanted) -> set[int]:
    """The numbers of the pictures that a finish shows."""
    return {one.what.picture for one in finish.items if isinstance(one.what, Logo | Insert)}


def write_finish(finish: Finish, pictures: Mapping[int, PictureInFile]) -> str:
    """The file of a finish, with its pictures."""
    told = finish.model_dump(mode="json", include={"name", "said", "items"})
    shown = {
        str(number): {"name": one.name, "content": base64.b64encode(one.content).decode()}
        for number, one in sorted(pictures.items())
    }
    whole = {"format": FORMAT, "version": VERSION, **told, "pictures": shown}
    return json.dumps(whole, indent=2, ensure_ascii=False) + "\n"


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
    shown = told.get("pictures") or {}
    if not isinstance(shown, dict) or len(shown) > _MOST_PICTURES:
        raise NoFinish(f"The pictures of a finish are up to {_MOST_PICTURES}, each by its number.")
    wanted = {field: told[field] for field in ("name", "said", "items") if field in told}
    return FinishInFile(told=wanted, pictures=dict(_picture(number, one) for number, one in shown.items()))


def _picture(number: str, told: Any) -> tuple[int, PictureInFile]:
    try:
        name, content = str(told["name"]).strip()[:80] or "Picture", base64.b64decode(told["content"], validate=True)
        return int(number), PictureInFile(name=name, content=content)
    except (KeyError, TypeError, ValueError, binascii.Error) as broken:
        raise NoFinish(f"Picture {number!s:.12} of the finish can't be read.") from broken
