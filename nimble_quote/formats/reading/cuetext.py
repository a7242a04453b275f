"""The text inside a subtitle cue: its words, their times, its speaker; every tag is taken off."""

import html
import re
import unicodedata
from collections.abc import Iterator
from dataclasses import dataclass, replace

from nimble_quote.core.transcript.cues import Token
from nimble_quote.formats.reading.prefixes import TURN
from nimble_quote.formats.stamps import read_stamp

LONGEST_NAME = 120
LONGEST_WORD = 120
"""Letters; a “word” of more would never break into lines."""
_TAG = re.compile(r"<([^<>]*)>")
_KEPT = "\u200c\u200d\u200e\u200f\u061c"
"""Zero-width joiners, which several scripts are spelt with, and marks of direction. Embeddings and isolates go: their two
ends would stand in different words."""
_ASS_OVERRIDE = re.compile(r"\{\\[^{}]*\}")


@dataclass(frozen=True, kw_only=True)
class CueText:
    """The words of a cue, with the time each starts at where the text gives one.

    `speaker` says the first of them, where the text begins with a name; a word that another says names its own, or an
    empty name where who it is is not told.
    """

    tokens: tuple[Token, ...]
    speaker: str | None


def read_cue_text(text: str) -> CueText:
    """Reads cue text: `<00:00:01.500>` times the word after it, `<v Name>` names the speaker, `<turn>` begins the words of
    another, other tags are dropped.

    A time with no word between it and the next tag or space ends the word before it. Character references are
    resolved after the tags are gone, so that `&lt;b&gt;` stays text.
    """
    tokens: list[Token] = []
    speaker: str | None = None
    other: str | None = None
    stamp: int | None = None
    glued = turn = False
    for kind, part in _parts(_ASS_OVERRIDE.sub("", text)):
        if kind == "text":
            before = len(tokens)
            _add_words(tokens, part, stamp, glued, other)
            if turn and len(tokens) > before:
                tokens[before] = replace(tokens[before], turn=True)
                turn = False
            stamp, glued = None, not part[-1].isspace()
        elif (time := read_stamp(part)) is not None:
            stamp = time
        elif part == TURN:
            turn, glued = True, False
            other = "" if tokens else None
        elif part.startswith(("v ", "v.")) and (name := speaker_name(html.unescape(part.partition(" ")[2]))):
            if not tokens:
                speaker = name
            other, glued = name if name != speaker else None, False
    return CueText(tokens=tuple(tokens), speaker=speaker)


def _parts(text: str) -> Iterator[tuple[str, str]]:
    """The text and tags of a cue in turn; a tag without its brackets."""
    at = 0
    for tag in _TAG.finditer(text):
        if tag.start() > at:
            yield "text", text[at : tag.start()]
        yield "tag", tag[1]
        at = tag.end()
    if at < len(text):
        yield "text", text[at:]


def _add_words(tokens: list[Token], part: str, stamp: int | None, glued: bool, speaker: str | None) -> None:
    """Adds the words of a stretch of text; with no space around the tag before it, its first goes on with the last."""
    said = clean(html.unescape(part))
    words = said.split()
    if stamp is not None and (not words or said[0].isspace()):
        if tokens:
            tokens[-1] = replace(tokens[-1], end_ms=stamp)
        stamp = None
    elif words and tokens and stamp is None and glued and not said[0].isspace():
        tokens[-1] = glued_to(tokens[-1], words.pop(0))
    tokens += [
        Token(text=word, start_ms=stamp if index == 0 else None, speaker=speaker) for index, word in enumerate(words)
    ]


def glued_to(token: Token, more: str) -> Token:
    """A word that goes on where a tag stood in it; what is longer than any word is cut."""
    return replace(token, text=(token.text + more)[:LONGEST_WORD]) if len(token.text) < LONGEST_WORD else token


def speaker_name(text: str) -> str | None:
    """The name of a speaker as a file gives it, cleaned; None where nothing is left."""
    return " ".join(clean(text).split())[:LONGEST_NAME] or None


def clean(text: str) -> str:
    """Text in composed form, without control, format and unassigned characters; line ends become spaces."""
    composed = unicodedata.normalize("NFC", text.replace("\n", " "))
    if composed.isprintable():
        return composed
    return "".join(" " if c.isspace() else c for c in composed if c.isspace() or _printable(c))


def _printable(character: str) -> bool:
    return unicodedata.category(character) not in ("Cc", "Cf", "Cn", "Co", "Cs") or character in _KEPT
