"""A caption style as a file: JSON, as `docs/caption-styles.md` tells it."""

import json
from typing import Any

from pydantic import ValidationError

from nimble_quote.core.captions.styles import CaptionStyle, StyleWanted
from nimble_quote.core.refusal import Refused

FORMAT, VERSION = "nimble-quote-caption-style", 1
MOST_BYTES = 100_000


class NoStyle(Refused):
    """A file is no caption style; says what of it."""

    code = "no-style-file"


def write_style(style: CaptionStyle) -> str:
    """The file of a style."""
    told = {"name": style.name, "said": style.said, "look": style.look.model_dump(mode="json")}
    return json.dumps({"format": FORMAT, "version": VERSION, **told}, indent=2, ensure_ascii=False) + "\n"


def read_style(data: bytes) -> StyleWanted:
    """The style in a file. Raises `NoStyle`."""
    try:
        told: Any = json.loads(data.decode("utf-8-sig"))
    except (UnicodeDecodeError, ValueError, RecursionError) as broken:
        raise NoStyle("This is no caption style: it is no JSON in UTF-8.") from broken
    if not isinstance(told, dict) or told.get("format") != FORMAT:
        raise NoStyle("This is no caption style: its “format” does not say so.")
    if told.get("version") != VERSION:
        raise NoStyle(f"This caption style is of version {told.get('version')!s:.20}, and only {VERSION} is known.")
    try:
        return StyleWanted.model_validate(
            {field: told.get(field) for field in ("name", "said", "look") if field in told}
        )
    except ValidationError as impossible:
        first = impossible.errors()[0]
        where = ".".join(str(part) for part in first["loc"])
        raise NoStyle(f"The caption style can't be like that: {where}: {first['msg']}.") from impossible
