"""WebVTT and SubRip: blocks of text under a line of times, with blank lines between them."""

import re
from dataclasses import replace

from nimble_quote.core.transcript.cues import Reading, TimedCue, Token
from nimble_quote.formats.reading.cuetext import read_cue_text
from nimble_quote.formats.reading.problems import TranscriptUnreadable
from nimble_quote.formats.stamps import read_stamp

LONGEST_CUE_MS = 10 * 60_000
_BLOCKS = re.compile(r"\n[ \t]*\n")
_TIMES = re.compile(r"^\s*(\S+)\s*-{1,2}>\s*(\S+)")
_CROWDED = re.compile(r"\n(?=(?:\d+[ \t]*\n)?[ \t]*\d{1,4}:\d\d:\d\d[.,]\d+[ \t]*-->)")


def read_webvtt(text: str) -> Reading:
    """WebVTT: cues with settings and word times; NOTE, STYLE and REGION blocks are passed over."""
    blocks = _BLOCKS.split(text)
    if not blocks[0].startswith("WEBVTT"):
        raise TranscriptUnreadable("the first line is not “WEBVTT”, so this is not a WebVTT file.")
    head, *rest = blocks
    first = head.split("\n", 1)[1] if "\n" in head else ""
    kept = [b for b in (first, *rest) if "-->" in b or not b.lstrip().startswith(("NOTE", "STYLE", "REGION"))]
    return _read_blocks(kept)


def read_srt(text: str) -> Reading:
    """SubRip: numbers are ignored, dots and commas both taken, blank lines inside a cue healed, missing ones put in."""
    return _read_blocks([part for block in _BLOCKS.split(text) for part in _CROWDED.split(block)])


def _read_blocks(blocks: list[str]) -> Reading:
    cues: list[TimedCue] = []
    strays: list[Token] = []
    mended: list[str] = []
    left_out: list[str] = []
    for block in blocks:
        lines = block.strip("\n").split("\n")
        timing = next((i for i, line in enumerate(lines) if _TIMES.match(line)), None)
        if timing is None:
            strays += _stray(lines, bool(cues), mended, left_out)
            continue
        cue = _cue(lines[timing], "\n".join(lines[timing + 1 :]))
        if isinstance(cue, str):
            left_out.append(cue)
        else:
            _join(cues, strays)
            cues.append(cue)
    _join(cues, strays)
    return Reading(cues=tuple(cues), mended=tuple(mended), left_out=tuple(left_out))


def _stray(lines: list[str], after_cue: bool, mended: list[str], left_out: list[str]) -> tuple[Token, ...]:
    """Text after a blank line inside a cue belongs to the cue before it; a lone number is a cue's number."""
    text = " ".join(lines).strip()
    if not text or text.isdigit():
        return ()
    if not after_cue:
        left_out.append(f"“{text[:60]}” stands before the first time.")
        return ()
    mended.append(f"“{text[:60]}” followed a blank line and was joined to the cue before it.")
    return read_cue_text(text).tokens


def _join(cues: list[TimedCue], strays: list[Token]) -> None:
    """Gives stray words to the last cue."""
    if strays:
        cues[-1] = replace(cues[-1], tokens=(*cues[-1].tokens, *strays))
        strays.clear()


def _cue(timing: str, body: str) -> TimedCue | str:
    match = _TIMES.match(timing)
    assert match is not None
    start, end = read_stamp(match[1]), read_stamp(match[2])
    if start is None or end is None:
        return f"“{timing.strip()[:60]}” has a time that can't be read."
    if end <= start:
        return f"“{timing.strip()[:60]}” ends before it starts."
    if end - start > LONGEST_CUE_MS:
        return f"“{timing.strip()[:60]}” is over ten minutes long."
    read = read_cue_text(body)
    return TimedCue(start_ms=start, end_ms=end, tokens=_inside(read.tokens, start, end), speaker=read.speaker)


def _inside(tokens: tuple[Token, ...], start: int, end: int) -> tuple[Token, ...]:
    """The words of a cue; a time that lies outside it is no time."""
    if not any(token.start_ms is not None for token in tokens):
        return tokens
    return tuple(
        token
        if token.start_ms is None or start <= token.start_ms <= end
        else replace(token, start_ms=None, end_ms=None)
        for token in tokens
    )
