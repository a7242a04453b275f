"""The text inside a subtitle cue: its words, their times, its speaker; every tag is taken off."""

import html
import re
import unicodedata
from dataclasses import dataclass

from nimble_quote.core.transcript.cues import Token
from nimble_quote.formats.stamps import read_stamp

_TAG = re.compile(r"<([^<>]*)>")
_JOINERS = "\u200c\u200d"
"""Zero-width joiners, which several scripts are spelt with."""
_ASS_OVERRIDE = re.compile(r"\{\\[^{}]*\}")


@dataclass(frozen=True, kw_only=True)
class CueText:
    """The words of a cue, with the time each starts at where the text gives one."""

    tokens: tuple[Token, ...]
    speaker: str | None


def read_cue_text(text: str) -> CueText:
    """Reads cue text: `<00:00:01.500>` times the word after it, `<v Name>` names the speaker, other tags are dropped.

    Character references are resolved after the tags are gone, so that `&lt;b&gt;` stays text.
    """
    tokens: list[Token] = []
    speaker: str | None = None
    at = time = 0
    stamped = False
    pieces: list[tuple[str, int | None]] = []
    text = _ASS_OVERRIDE.sub("", text)
    for tag in _TAG.finditer(text):
        pieces.append((text[at : tag.start()], time if stamped else None))
        stamped = False if pieces[-1][0].strip() else stamped
        at = tag.end()
        stamp = read_stamp(tag[1])
        if stamp is not None:
            time, stamped = stamp, True
        elif tag[1].startswith(("v ", "v.")) and speaker is None:
            speaker = clean(tag[1].partition(" ")[2]).strip()[:120] or None
    pieces.append((text[at:], time if stamped else None))
    glued = False
    for piece, start in pieces:
        for place, word in enumerate(clean(html.unescape(piece)).split()):
            if place == 0 and glued and not piece[:1].isspace() and start is None:
                tokens[-1] = Token(text=tokens[-1].text + word, start_ms=tokens[-1].start_ms)
            else:
                tokens.append(Token(text=word, start_ms=start if place == 0 else None))
        if piece:
            glued = bool(tokens) and not piece[-1].isspace()
    return CueText(tokens=tuple(tokens), speaker=speaker)


def clean(text: str) -> str:
    """Text in composed form, without control, format and unassigned characters; line ends become spaces."""
    composed = unicodedata.normalize("NFC", text)
    return "".join(" " if c.isspace() else c for c in composed if c.isspace() or _printable(c))


def _printable(character: str) -> bool:
    return unicodedata.category(character) not in ("Cc", "Cf", "Cn", "Co", "Cs") or character in _JOINERS
