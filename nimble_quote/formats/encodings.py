"""How the letters of a text file are written as bytes: its own mark tells, or Unicode fits, or it is guessed and said."""

import codecs
import re
from dataclasses import dataclass

from charset_normalizer import from_bytes

ENCODINGS = {
    "utf-8": "Unicode (UTF-8)",
    "utf-16-le": "Unicode (UTF-16, little-endian)",
    "utf-16-be": "Unicode (UTF-16, big-endian)",
    "cp1252": "Western European (Windows-1252)",
    "cp1250": "Central European (Windows-1250)",
    "cp1251": "Cyrillic (Windows-1251)",
    "koi8_r": "Cyrillic (KOI8-R)",
    "cp1253": "Greek (Windows-1253)",
    "cp1254": "Turkish (Windows-1254)",
    "cp1255": "Hebrew (Windows-1255)",
    "cp1256": "Arabic (Windows-1256)",
    "cp932": "Japanese (Shift-JIS)",
    "euc_jp": "Japanese (EUC-JP)",
    "gb18030": "Chinese (GB 18030)",
    "big5": "Chinese (Big5)",
    "cp949": "Korean (EUC-KR)",
}
"""What a file may be read as, by the names that Python has for them, and as people are told."""

_MARKS = ((codecs.BOM_UTF8, "utf-8-sig"), (codecs.BOM_UTF16_LE, "utf-16"), (codecs.BOM_UTF16_BE, "utf-16"))
_LOOKED_AT = 100_000
_GUESSED = [name for name in ENCODINGS if not name.startswith("utf")]
_FEW = 0.15
"""Texts in Latin letters have fewer bytes beyond ASCII than this."""
_SIGN_IN_WORD = re.compile(r"[^\W\d_][¡-¿×÷¤][^\W\d_]|[^\W\d_][¹³¿]", re.UNICODE)


@dataclass(frozen=True, kw_only=True)
class Decoded:
    """The text of a file, and what it was taken for where that is a guess."""

    text: str
    guess: str | None = None


def decoded(data: bytes, encoding: str | None = None) -> Decoded:
    """The text of a file, as the encoding says that somebody chose, or as it seems to be written.

    Raises `LookupError` for an encoding that is not in `ENCODINGS`. What can't be decoded becomes U+FFFD.
    """
    if encoding is not None:
        if encoding not in ENCODINGS:
            raise LookupError(encoding)
        return Decoded(text=data.decode(encoding, errors="replace"))
    if marked := next((name for mark, name in _MARKS if data.startswith(mark)), None):
        return Decoded(text=data.decode(marked, errors="replace"))
    if wide := _without_mark(data[:_LOOKED_AT]):
        return Decoded(text=data.decode(wide, errors="replace"))
    try:
        return Decoded(text=data.decode("utf-8"))
    except UnicodeDecodeError:
        guess = _guess(data[:_LOOKED_AT])
        return Decoded(text=data.decode(guess, errors="replace"), guess=guess)


def _without_mark(data: bytes) -> str | None:
    """UTF-16 shows by its empty bytes, every second one, in digits and stamps at the least."""
    even, odd = data[::2].count(0), data[1::2].count(0)
    if max(even, odd) * 10 <= len(data) // 2 or min(even, odd) * 20 > max(even, odd):
        return None
    return "utf-16-be" if even > odd else "utf-16-le"


def _guess(data: bytes) -> str:
    beyond = [byte for byte in data if byte > 127]
    if len(beyond) < _FEW * len(data):
        return _latin(data)
    best = from_bytes(data, cp_isolation=_GUESSED).best()
    name = str(best.encoding) if best else "cp1252"
    # Hebrew letters lie where small Cyrillic ones do; but a Cyrillic text has capitals too, and letters after them.
    if name == "cp1251" and max(beyond) <= 0xFA and not any(0xC0 <= byte <= 0xDF for byte in beyond):
        return "cp1255"
    return name


def _latin(data: bytes) -> str:
    """Western, unless its letters make no words: the Central European and Turkish ones are then signs in the middle."""
    western = data.decode("cp1252", errors="replace")
    best = from_bytes(data, cp_isolation=["cp1252", "cp1250", "cp1254"]).best()
    if best and (str(best.encoding) == "cp1254" or _SIGN_IN_WORD.search(western)):
        return str(best.encoding)
    return "cp1252"
