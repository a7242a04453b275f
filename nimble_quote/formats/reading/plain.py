"""Plain text: paragraphs, with or without stamps (`[0:12:30]`, `12:30`) and names (`Ann:`) before them."""

import re
from collections import Counter
from dataclasses import dataclass, replace

from nimble_quote.core.transcript.cues import Reading, TimedCue, Token
from nimble_quote.formats.reading.cuetext import clean, speaker_name

_STAMP = re.compile(r"^[\[(<]?((?:\d{1,3}:)?\d{1,3}:[0-5]\d(?:[.,]\d{1,3})?)[\])>]?(?=\s|$|[-–—:])\s*[-–—:]?\s*")
_NAME = re.compile(r"^([^\W\d_][\w.'’ \-]{0,48}?)\s*:(?=\s|$)\s*")
_NAME_THEN_STAMP = re.compile(
    r"^([^\W\d_][\w.'’ \-]{0,48}?)\s+[\[(<]?((?:\d{1,3}:)?\d{1,3}:[0-5]\d(?:[.,]\d{1,3})?)[\])>]?\s*:?\s*$"
)


@dataclass(frozen=True, kw_only=True)
class _Paragraph:
    start_ms: int | None
    name: str | None
    text: str


def read_plain(text: str) -> Reading:
    """Text as people type it. Words get the time of the nearest stamps; with no stamps, none has a time."""
    paragraphs = [_paragraph(line) for line in text.split("\n") if line.strip()]
    names = Counter(one.name for one in paragraphs if one.name)
    cues: list[TimedCue] = []
    speaker: str | None = None
    pending: int | None = None
    for one in paragraphs:
        named = one.name is not None and _is_name(one, names[one.name])
        if named:
            speaker = speaker_name(one.name or "")
        said = one.text if named or not one.name else f"{one.name}: {one.text}"
        tokens = tuple(Token(text=word) for word in clean(said).split())
        start = one.start_ms if one.start_ms is not None else pending
        pending = start if not tokens else None
        if tokens:
            cues.append(TimedCue(start_ms=start, end_ms=None, tokens=tokens, speaker=speaker))
    return _forwards(cues)


def _paragraph(line: str) -> _Paragraph:
    """A line taken apart: `[1:02] Ann: …`, `Ann: [1:02] …`, or a heading `Ann 1:02`."""
    # One space between words, so that no expression has a long stretch of them to try in many ways.
    line = " ".join(line.split())
    if heading := _NAME_THEN_STAMP.match(line):
        return _Paragraph(start_ms=_ms(heading[2]), name=heading[1], text="")
    start = name = None
    for _ in range(2):
        if start is None and (stamp := _STAMP.match(line)):
            start, line = _ms(stamp[1]), line[stamp.end() :]
        elif name is None and (named := _NAME.match(line)):
            name, line = named[1], line[named.end() :]
    return _Paragraph(start_ms=start, name=name, text=line)


def _is_name(one: _Paragraph, times: int) -> bool:
    """“Ann:” is a name where it comes again, stands with a time, or stands alone; “My rule is this:” is not."""
    name = one.name or ""
    likely = len(name.split()) <= 4 and all(part[0].isupper() for part in name.split())
    return likely and (times > 1 or one.start_ms is not None or not one.text or len(name.split()) > 1)


def _forwards(cues: list[TimedCue]) -> Reading:
    """A stamp that runs backwards is a slip of the hand: it is passed over, and said."""
    mended: list[str] = []
    latest = -1
    out: list[TimedCue] = []
    for cue in cues:
        if cue.start_ms is not None and cue.start_ms < latest:
            mended.append(f"“{' '.join(t.text for t in cue.tokens)[:60]}” has a time before the one above it.")
            cue = replace(cue, start_ms=None)
        latest = cue.start_ms if cue.start_ms is not None else latest
        out.append(cue)
    return Reading(cues=tuple(out), mended=tuple(mended))


def _ms(text: str) -> int:
    whole, _, fraction = text.replace(",", ".").partition(".")
    seconds = 0
    for part in whole.split(":"):
        seconds = seconds * 60 + int(part)
    return seconds * 1000 + int((fraction or "0").ljust(3, "0"))
