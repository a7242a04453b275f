"""Reading a transcript file of any known kind into cues.

To add a kind: a module in `reading/` with a function from text to `Reading`, and a line in `READERS`.
"""

import re
from collections.abc import Callable
from dataclasses import replace
from itertools import pairwise
from pathlib import PurePath

from nimble_quote.core.transcript.cues import Reading, TimedCue
from nimble_quote.formats.encodings import ENCODINGS, decoded
from nimble_quote.formats.reading.ctm import read_ctm
from nimble_quote.formats.reading.cueblocks import read_sbv, read_srt, read_webvtt
from nimble_quote.formats.reading.cuetext import LONGEST_WORD
from nimble_quote.formats.reading.plain import read_plain
from nimble_quote.formats.reading.problems import TranscriptUnreadable
from nimble_quote.formats.reading.recogniser import read_recogniser
from nimble_quote.formats.reading.rollup import said_once
from nimble_quote.formats.reading.substation import read_substation
from nimble_quote.formats.reading.ttml import read_ttml

__all__ = ["READERS", "TranscriptUnreadable", "read_transcript"]

_NEVER_WRITTEN = re.compile(r"[\x01-\x08\x0e-\x1f\x7f-\x84\x86-\x9f\ufffd\ufffe\uffff\ue000-\uf8ff]")
_LOOKED_AT = 100_000
"""Characters that are looked at to tell whether something is text."""
LARGEST_BYTES = 20_000_000
MOST_WORDS = 400_000
"""Forty hours of talk."""

READERS: dict[str, Callable[[str], Reading]] = {
    ".vtt": read_webvtt,
    ".srt": read_srt,
    ".sbv": read_sbv,
    ".ttml": read_ttml,
    ".dfxp": read_ttml,
    ".xml": read_ttml,
    ".ass": read_substation,
    ".ssa": read_substation,
    ".ctm": read_ctm,
    ".json": read_recogniser,
    ".txt": read_plain,
}
_SUBRIP = re.compile(r"(?:\d{1,9}\s+)?\d{1,4}:\d\d:\d\d[.,]\d{1,9}[ \t]*-->")


def read_transcript(name: str, data: bytes, encoding: str | None = None) -> Reading:
    """Reads a transcript file by the ending of its name; in an encoding where one was chosen (see `formats/encodings.py`).

    Raises `TranscriptUnreadable` where the kind is unknown, the file is too large, or no cue in it can be read. A bad
    cue never fails the rest: what is mended or left out is said.
    """
    reader = READERS.get(PurePath(name).suffix.lower())
    if reader is None:
        kinds = ", ".join(sorted(READERS))
        raise TranscriptUnreadable(f"{name}: this kind of transcript can't be read. Bring one of {kinds}.")
    if len(data) > LARGEST_BYTES:
        raise TranscriptUnreadable(f"{name}: over {LARGEST_BYTES // 1_000_000} MB, which no transcript is.")
    found = decoded(data, encoding)
    text = _lines(found.text)
    if _is_no_text(text):
        raise TranscriptUnreadable(f"{name}: this is not text, whatever its name says. Bring the transcript itself.")
    if reader is read_plain:
        reader = _by_content(text)
    try:
        reading = reader(text)
    except TranscriptUnreadable as refused:
        raise TranscriptUnreadable(f"{name}: {refused}") from refused
    cues = tuple(cue for cue in reading.cues if cue.tokens)
    if not cues:
        why = f" {reading.left_out[0]}" if reading.left_out else ""
        raise TranscriptUnreadable(f"{name}: no cue with times and words was found in it.{why}")
    if sum(len(cue.tokens) for cue in cues) > MOST_WORDS:
        raise TranscriptUnreadable(f"{name}: over {MOST_WORDS} words, which no talk has.")
    mended = [*_guessed(found.guess), *reading.mended]
    cues = _in_order(_once(_short_words(cues, mended), mended), mended)
    return Reading(cues=cues, mended=tuple(mended), left_out=reading.left_out)


def _by_content(text: str) -> Callable[[str], Reading]:
    """Plain text, or one of the cue formats under a plain name."""
    if text.startswith("WEBVTT"):
        return read_webvtt
    return read_srt if _SUBRIP.match(text.lstrip()[:200]) else read_plain


def _is_no_text(text: str) -> bool:
    """Whether what was read as text is something else: one character in fifty, or more, is none that people write."""
    seen = text[:_LOOKED_AT]
    return 50 * len(_NEVER_WRITTEN.findall(seen)) > len(seen)


def _guessed(guess: str | None) -> list[str]:
    if guess is None:
        return []
    return [
        f"Its letters were read as {ENCODINGS[guess]}, which is a guess. Where words look wrong, attach the file again and "
        "choose its text encoding."
    ]


def _lines(text: str) -> str:
    return text.replace("\r\n", "\n").replace("\r", "\n").replace("\x00", "").lstrip("\ufeff").strip("\n")


def _once(cues: tuple[TimedCue, ...], mended: list[str]) -> tuple[TimedCue, ...]:
    once = said_once(cues)
    if once is None:
        return cues
    mended.append("Each cue repeats the one before (roll-up captions): what is repeated was read once.")
    return once


def _short_words(cues: tuple[TimedCue, ...], mended: list[str]) -> tuple[TimedCue, ...]:
    """A "word" of more letters than any language has would never break into lines: it is cut."""
    if all(len(token.text) <= LONGEST_WORD for cue in cues for token in cue.tokens):
        return cues
    mended.append(f"Words of more than {LONGEST_WORD} letters were cut.")
    return tuple(
        replace(cue, tokens=tuple(replace(token, text=token.text[:LONGEST_WORD]) for token in cue.tokens))
        for cue in cues
    )


def _in_order(cues: tuple[TimedCue, ...], mended: list[str]) -> tuple[TimedCue, ...]:
    """Sorted by time; a cue without one stays behind the cue it followed."""
    keys: list[int] = []
    for cue in cues:
        keys.append(cue.start_ms if cue.start_ms is not None else (keys[-1] if keys else 0))
    order = sorted(range(len(cues)), key=keys.__getitem__)
    if order != list(range(len(cues))):
        mended.append("Cues were not in order of time and were sorted.")
    ordered = tuple(cues[i] for i in order)
    overlaps = sum(
        1 for a, b in pairwise(ordered) if b.start_ms is not None and a.end_ms is not None and b.start_ms < a.end_ms
    )
    if overlaps:
        one = overlaps == 1
        mended.append(
            f"{overlaps} {'cue overlaps' if one else 'cues overlap'} the one before; "
            f"{'its' if one else 'their'} words follow one another."
        )
    return ordered
