"""WebVTT, SubRip and SubViewer (SBV): blocks of text under a line of times, with blank lines between them."""

import re
from dataclasses import dataclass, field, replace
from itertools import pairwise

from nimble_quote.core.transcript.cues import Reading, TimedCue, Token
from nimble_quote.formats.reading.cueends import wrong_end
from nimble_quote.formats.reading.cuetext import read_cue_text
from nimble_quote.formats.reading.prefixes import is_music, names_in, tagged
from nimble_quote.formats.reading.problems import TranscriptUnreadable
from nimble_quote.formats.stamps import read_stamp

_BLOCKS = re.compile(r"\n[ \t]*\n")
_TIMES = re.compile(r"^\s*(\S+)\s*-{1,2}>\s*(\S+)")
_SBV_TIMES = re.compile(r"^\s*(\d{1,4}:\d{1,2}:\d{1,2}\.\d{1,3})\s*,\s*(\d{1,4}:\d{1,2}:\d{1,2}\.\d{1,3})\s*$")
_CROWDED = re.compile(r"\n(?=(?:\d+[ \t]*\n)?[ \t]*\d{1,4}:\d\d:\d\d[.,]\d+[ \t]*-->)")
_TIMES_BEGIN = re.compile(r"\n(?=[ \t]*(?:\d+:)?\d\d:\d\d\.\d{3}[ \t]*-->)")


def read_webvtt(text: str) -> Reading:
    """WebVTT: cues with settings and word times; the header and NOTE, STYLE and REGION blocks are passed over.

    A line of times begins a cue also without a blank line before it, as the standard has it (WebVTT, 6.1, step 14 of the
    parser and "collect a block").
    """
    head, *blocks = _BLOCKS.split(text)
    if not head.startswith("WEBVTT"):
        raise TranscriptUnreadable("the first line is not “WEBVTT”, so this is not a WebVTT file.")
    # What stands in the header is about the file, up to a line of times.
    _, *begun = _TIMES_BEGIN.split(head)
    kept = [block for block in blocks if "-->" in block or not block.lstrip().startswith(("NOTE", "STYLE", "REGION"))]
    return _read_blocks([*begun, *(part for block in kept for part in _cues_in(block))], _TIMES)


def _cues_in(block: str) -> list[str]:
    """The cues of a block; what stands before the first line of times is its name."""
    first, *more = _TIMES_BEGIN.split(block)
    return [first, *more] if "-->" in first or not more else [f"{first}\n{more[0]}", *more[1:]]


def read_srt(text: str) -> Reading:
    """SubRip: numbers are ignored, dots and commas both taken, blank lines inside a cue healed, missing ones put in."""
    return _read_blocks([part for block in _BLOCKS.split(text) for part in _CROWDED.split(block)], _TIMES)


def read_sbv(text: str) -> Reading:
    """SBV: `0:00:01.000,0:00:03.500` above the text of each cue."""
    return _read_blocks(_BLOCKS.split(text), _SBV_TIMES)


def _read_blocks(blocks: list[str], times: re.Pattern[str]) -> Reading:
    found = _Found(times=times, names=names_in(blocks))
    split = [block.strip("\n").split("\n") for block in blocks]
    for lines, following in pairwise([*split, []]):
        timing = next((i for i, line in enumerate(lines) if times.match(line)), None)
        if timing is not None:
            found.add(lines[timing], "\n".join(lines[timing + 1 :]))
        elif not _is_number_of(lines, following, times):
            found.add_stray(" ".join(lines).strip())
    found.join_strays()
    return Reading(cues=tuple(found.cues), mended=tuple(found.mended), left_out=tuple(found.left_out))


@dataclass
class _Found:
    """What was read so far: the cues, and whose words the last of them ended with, where names stand before lines."""

    times: re.Pattern[str]
    names: frozenset[str]
    cues: list[TimedCue] = field(default_factory=list)
    strays: list[Token] = field(default_factory=list)
    mended: list[str] = field(default_factory=list)
    left_out: list[str] = field(default_factory=list)
    speaker: str | None = None
    music: bool = False

    def add(self, timing: str, body: str) -> None:
        """Adds a cue. One that can't end where it says keeps its words, and ends when they are said."""
        match = self.times.match(timing)
        assert match is not None
        start, end = read_stamp(match[1]), read_stamp(match[2])
        if start is None or end is None:
            self.left_out.append(f"“{timing.strip()[:60]}” has a time that can't be read.")
            return
        read = read_cue_text(tagged(body, self.names, self.music))
        self.music = is_music(body)
        tokens = read.tokens
        wrong = wrong_end(start, end)
        if wrong is None:
            tokens = _inside(tokens, start, end)
        elif tokens:
            self.mended.append(f"“{timing.strip()[:60]}” {wrong}: its end was worked out from its words.")
        self.join_strays()
        speaker = self._goes_on(tokens, read.speaker)
        self.cues.append(TimedCue(start_ms=start, end_ms=None if wrong else end, tokens=tokens, speaker=speaker))

    def add_stray(self, text: str) -> None:
        """Text after a blank line inside a cue belongs to the cue before it."""
        if not text or (text.isdigit() and not self.cues):
            return
        if not self.cues:
            self.left_out.append(f"“{text[:60]}” stands before the first time.")
            return
        self.mended.append(f"“{text[:60]}” followed a blank line and was joined to the cue before it.")
        self.strays += read_cue_text(text).tokens

    def join_strays(self) -> None:
        """Gives stray words to the last cue."""
        if self.strays:
            self.cues[-1] = replace(self.cues[-1], tokens=(*self.cues[-1].tokens, *self.strays))
            self.strays.clear()

    def _goes_on(self, tokens: tuple[Token, ...], speaker: str | None) -> str | None:
        """Who says a cue: who it names; else, where names stand only where somebody begins, who spoke before."""
        if not self.names or not tokens:
            return speaker
        if speaker is None and not tokens[0].turn:
            speaker = self.speaker
        last = tokens[-1].speaker
        self.speaker = speaker if last is None else last or None
        return speaker


def _is_number_of(lines: list[str], following: list[str], times: re.Pattern[str]) -> bool:
    """Whether a block is no more than the number of the cue after it, which has none of its own."""
    alone = len(lines) == 1 and lines[0].strip().isdigit()
    return alone and bool(following and times.match(following[0]))


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
