"""SubStation Alpha and its advanced form (ASS): events under a line that names their fields; karaoke as word times."""

import re
from collections.abc import Iterator

from nimble_quote.core.transcript.cues import Reading, TimedCue, Token
from nimble_quote.formats.reading.cueends import wrong_end
from nimble_quote.formats.reading.cuetext import clean, glued_to, speaker_name
from nimble_quote.formats.reading.problems import TranscriptUnreadable

_STAMP = re.compile(r"^(\d{1,3}):(\d{1,2}):(\d{1,2})[.:](\d{1,3})$")
_BLOCK = re.compile(r"\{([^{}]*)\}")
_KARAOKE = re.compile(r"\\(?:k|K|kf|ko)(\d{1,6})")
_DRAWING = re.compile(r"\\p(\d)")
_FIELDS = ("Layer", "Start", "End", "Style", "Name", "MarginL", "MarginR", "MarginV", "Effect", "Text")


def read_substation(text: str) -> Reading:
    """The dialogue of an ASS or SSA file; its styles, comments and drawings are passed over."""
    if "[events]" not in text.lower():
        raise TranscriptUnreadable("there is no [Events] part in it, so this is not an ASS or SSA file.")
    fields: tuple[str, ...] = _FIELDS
    cues: list[TimedCue] = []
    left_out: list[str] = []
    mended: list[str] = []
    inside = False
    for line in text.split("\n"):
        kind, _, rest = line.strip().partition(":")
        if line.strip().startswith("["):
            inside = line.strip().lower() == "[events]"
        elif inside and kind == "Format":
            fields = tuple(name.strip() for name in rest.split(","))
        elif inside and kind == "Dialogue":
            cue = _dialogue(rest, fields, mended)
            if isinstance(cue, TimedCue):
                cues.append(cue)
            else:
                left_out.append(cue)
    return Reading(cues=tuple(cues), mended=tuple(mended), left_out=tuple(left_out))


def _dialogue(rest: str, fields: tuple[str, ...], mended: list[str]) -> TimedCue | str:
    values = rest.strip().split(",", len(fields) - 1)
    event = dict(zip(fields, values, strict=False))
    start, end = _ms(event.get("Start", "")), _ms(event.get("End", ""))
    if start is None or end is None:
        return f"“{rest.strip()[:60]}” has a time that can't be read."
    tokens = _tokens(event.get("Text", ""), start)
    if not tokens:
        return TimedCue(start_ms=start, end_ms=end, tokens=())
    if wrong := wrong_end(start, end):
        mended.append(
            f"“{' '.join(token.text for token in tokens)[:60]}” {wrong}: its end was worked out from its words."
        )
    name = event.get("Name", event.get("Actor", ""))
    return TimedCue(start_ms=start, end_ms=None if wrong else end, tokens=tokens, speaker=speaker_name(name))


def _ms(text: str) -> int | None:
    match = _STAMP.match(text.strip())
    if not match:
        return None
    hours, minutes, seconds, fraction = match.groups()
    return (int(hours) * 3600 + int(minutes) * 60 + int(seconds)) * 1000 + int(fraction.ljust(3, "0"))


def _tokens(text: str, start_ms: int) -> tuple[Token, ...]:
    tokens: list[Token] = []
    glued = False
    for piece, at, length in _syllables(text, start_ms):
        words = clean(piece).split()
        if words and glued and tokens and not piece[0].isspace():
            tokens[-1] = glued_to(tokens[-1], words.pop(0))
        timed = length is not None
        tokens += [Token(text=word, start_ms=at if timed and index == 0 else None) for index, word in enumerate(words)]
        glued = bool(piece) and not piece[-1].isspace()
    return tuple(tokens)


def _syllables(text: str, start_ms: int) -> Iterator[tuple[str, int, int | None]]:
    """The text between override blocks, with the time that karaoke gives it (`\\k` counts hundredths of a second)."""
    at, length, drawing = start_ms, None, False
    for number, piece in enumerate(_BLOCK.split(text)):
        if number % 2 == 0:
            plain = piece.replace("\\N", " ").replace("\\n", " ").replace("\\h", " ")
            if plain and not drawing:
                yield plain, at, length
            continue
        if drawn := _DRAWING.search(piece):
            drawing = drawn[1] != "0"
        for value in _KARAOKE.findall(piece):
            at += length or 0
            length = int(value) * 10
