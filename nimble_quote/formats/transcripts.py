"""Reading a transcript file of any known kind into cues."""

import re
from collections.abc import Callable
from itertools import pairwise
from pathlib import PurePath

from nimble_quote.core.transcript.cues import Reading, TimedCue
from nimble_quote.formats.cuetext import read_cue_text
from nimble_quote.formats.stamps import read_stamp

LARGEST_BYTES = 20_000_000
LONGEST_CUE_MS = 10 * 60_000
_BLOCKS = re.compile(r"\n[ \t]*\n")
_TIMES = re.compile(r"^\s*(\S+)\s*-->\s*(\S+)")


class TranscriptUnreadable(ValueError):
    """A transcript file that can't be used; the message says why."""


def read_transcript(name: str, data: bytes) -> Reading:
    """Reads a transcript file by the ending of its name.

    Raises `TranscriptUnreadable` where the kind is unknown, the file is too large, or no cue in it can be read. A bad
    cue never fails the rest: what is mended or left out is said.
    """
    reader = READERS.get(PurePath(name).suffix.lower())
    if reader is None:
        kinds = " or ".join(sorted(READERS))
        raise TranscriptUnreadable(f"{name}: this kind of transcript can't be read. Bring a {kinds} file.")
    if len(data) > LARGEST_BYTES:
        raise TranscriptUnreadable(f"{name}: over {LARGEST_BYTES // 1_000_000} MB, which no transcript is.")
    reading = reader(_text(data))
    if not reading.cues:
        raise TranscriptUnreadable(f"{name}: no cue with times and words was found in it.")
    return reading


def read_webvtt(text: str) -> Reading:
    """WebVTT: cues with settings and word times; NOTE, STYLE and REGION blocks are passed over."""
    blocks = _BLOCKS.split(_lines(text))
    if not blocks[0].startswith("WEBVTT"):
        raise TranscriptUnreadable("The first line is not “WEBVTT”, so this is not a WebVTT file.")
    head, *rest = blocks
    first = head.split("\n", 1)[1] if "\n" in head else ""
    kept = [b for b in (first, *rest) if not b.lstrip().startswith(("NOTE", "STYLE", "REGION"))]
    return _read_blocks(kept)


def read_srt(text: str) -> Reading:
    """SubRip: numbers are ignored, dots and commas both taken, blank lines inside a cue healed."""
    return _read_blocks(_BLOCKS.split(_lines(text)))


READERS: dict[str, Callable[[str], Reading]] = {".vtt": read_webvtt, ".srt": read_srt}


def _text(data: bytes) -> str:
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        return data.decode("utf-16", errors="replace")
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return data.decode("windows-1252", errors="replace")


def _lines(text: str) -> str:
    return text.replace("\r\n", "\n").replace("\r", "\n").replace("\x00", "").strip("\n")


def _read_blocks(blocks: list[str]) -> Reading:
    cues: list[TimedCue] = []
    mended: list[str] = []
    left_out: list[str] = []
    for block in blocks:
        lines = block.strip("\n").split("\n")
        timing = next((i for i, line in enumerate(lines) if _TIMES.match(line)), None)
        if timing is None:
            _stray(lines, cues, mended, left_out)
            continue
        cue = _cue(lines[timing], "\n".join(lines[timing + 1 :]))
        if isinstance(cue, str):
            left_out.append(cue)
        elif cue.tokens:
            cues.append(cue)
    return Reading(cues=_in_order(cues, mended), mended=tuple(mended), left_out=tuple(left_out))


def _stray(lines: list[str], cues: list[TimedCue], mended: list[str], left_out: list[str]) -> None:
    """Text after a blank line inside a cue belongs to the cue before it; a lone number is a cue's number."""
    text = " ".join(lines).strip()
    if not text or text.isdigit():
        return
    if not cues:
        left_out.append(f"“{text[:60]}” stands before the first time.")
        return
    more = read_cue_text(text).tokens
    cues[-1] = TimedCue(
        start_ms=cues[-1].start_ms, end_ms=cues[-1].end_ms, tokens=cues[-1].tokens + more, speaker=cues[-1].speaker
    )
    mended.append(f"“{text[:60]}” followed a blank line and was joined to the cue before it.")


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
    tokens = tuple(
        token if token.start_ms is None or start <= token.start_ms <= end else type(token)(text=token.text)
        for token in read.tokens
    )
    return TimedCue(start_ms=start, end_ms=end, tokens=tokens, speaker=read.speaker)


def _in_order(cues: list[TimedCue], mended: list[str]) -> tuple[TimedCue, ...]:
    ordered = sorted(cues, key=lambda cue: cue.start_ms)
    if ordered != cues:
        mended.append("Cues were not in order of time and were sorted.")
    overlaps = sum(1 for a, b in pairwise(ordered) if b.start_ms < a.end_ms)
    if overlaps:
        mended.append(f"{overlaps} cues overlap the one before; their words follow one another.")
    return tuple(ordered)
