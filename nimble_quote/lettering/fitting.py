"""Making a face file fit for both renderers, so that the browser and the burn-in draw the same letters.

prep    instructions that only one of the two obeys: without them both draw the same outlines
cmap    one renderer reads the first table for Windows only, which may stop short of emoji: the full one stays alone
"""

import struct
from io import BytesIO

from fontTools.ttLib import TTFont, TTLibError

MOST_BYTES = 20_000_000


class UnfitFace(ValueError):
    """A file that is no face, or none that can be burned in; says why."""


def fitted(data: bytes) -> bytes:
    """A face as both renderers draw it alike. Raises `UnfitFace`."""
    font = _opened(data)
    if "prep" in font:
        del font["prep"]
    tables = font["cmap"].tables
    full = [table for table in tables if (table.platformID, table.platEncID) == (3, 10)]
    if full:
        font["cmap"].tables = [table for table in tables if table.platformID != 3 or table in full]
    out = BytesIO()
    font.save(out)
    return out.getvalue()


def name_of(data: bytes) -> str:
    """The full name of a face, by which it is looked up. Raises `UnfitFace`."""
    name = _opened(data)["name"].getDebugName(4)
    if not name or not name.isprintable() or len(name) > 120 or any(one in name for one in ",{}\\"):
        raise UnfitFace("The font has no full name that it could be looked up by. Save it again with one.")
    return str(name).strip()


def check(data: bytes) -> None:
    """Raises `UnfitFace` where a file can't be a face of captions."""
    font = _opened(data)
    if "glyf" not in font and "CFF " not in font:
        raise UnfitFace("The font has no outlines: fonts of colour pictures or bitmaps can't be burned in.")
    if "fvar" in font:
        raise UnfitFace("This is a variable font. Bring one file for each weight instead.")
    allowed = getattr(font["OS/2"], "fsType", 0) if "OS/2" in font else 0
    if allowed & 0x0002:
        raise UnfitFace("The font forbids embedding (its licence bits say so), so its letters can't be put in clips.")
    if not font.getBestCmap():
        raise UnfitFace("The font tells no characters, so nothing can be written with it.")


def _opened(data: bytes) -> TTFont:
    if len(data) > MOST_BYTES:
        raise UnfitFace(f"The font is larger than {MOST_BYTES // 1_000_000} MB.")
    if data[:4] == b"ttcf":
        raise UnfitFace("This is a collection of fonts. Bring one TTF or OTF file for each.")
    if data[:4] not in (b"\x00\x01\x00\x00", b"OTTO", b"true"):
        raise UnfitFace("This is no TTF or OTF font.")
    try:
        font = TTFont(BytesIO(data), lazy=False)
        for needed in ("cmap", "name", "head", "hhea", "hmtx", "maxp", "OS/2"):
            font[needed]
        if any(entry.offset + entry.length > len(data) for entry in font.reader.tables.values()):
            raise TTLibError("a table reaches beyond the end")
    except (TTLibError, KeyError, AssertionError, ValueError, IndexError, EOFError, struct.error) as damaged:
        raise UnfitFace("The font is damaged, or a part of it is missing.") from damaged
    return font
