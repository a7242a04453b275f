"""Edit decision lists in the manner of CMX 3600: an event a line, with where in the media and where in the cut it is, and comments under it."""

import re
from fractions import Fraction

from nimble_quote.core.exchange import Stretch
from nimble_quote.formats.timelines import MOST_STRETCHES, Cut, ReadCut, TimelineUnreadable
from nimble_quote.formats.timelines.timecode import drops, frame_of, timecode

_REEL = "AX"
"""What stands for a file that came from no reel."""
_EVENT = re.compile(
    r"(?P<number>\d+)\s+(?P<reel>\S+)\s+(?P<track>[AV/0-9]+|NONE)\s+(?P<kind>\S+)\s+(?:\d+\s+)?"
    r"(?P<a>\d\d[:;.]\d\d[:;.]\d\d[:;.]\d\d)\s+(?P<b>\d\d[:;.]\d\d[:;.]\d\d[:;.]\d\d)\s+"
    r"(?P<c>\d\d[:;.]\d\d[:;.]\d\d[:;.]\d\d)\s+(?P<d>\d\d[:;.]\d\d[:;.]\d\d[:;.]\d\d)\s*"
)
_OUR_SPEED = re.compile(r"\*\s*NIMBLE QUOTE SPEED\s*:\s*([\d.]+)")
_SPEED = re.compile(r"M2\s+\S+\s+(-?[\d.]+)")
_TO_NAME = re.compile(r"\*\s*TO CLIP NAME\s*:\s*(.+)", re.IGNORECASE)
_NAME = re.compile(r"\*\s*(?:FROM CLIP NAME|SOURCE FILE)\s*:\s*(.+)", re.IGNORECASE)


def write_edl(cut: Cut) -> str:
    """A cut as an edit decision list, drop-frame where the rate has it."""
    drop = bool(drops(cut.rate))
    tracks = "AA/V" if cut.picture and cut.sound else "V" if cut.picture else "AA"

    def code(frame: int) -> str:
        return timecode(frame, cut.rate, drop=drop)

    lines = [f"TITLE: {_line(cut.title)}", f"FCM: {'DROP FRAME' if drop else 'NON-DROP FRAME'}", ""]
    for number, one in enumerate(cut.events, 1):
        times = f"{code(one.source_first)} {code(one.source_end)} {code(one.first)} {code(one.first + one.frames)}"
        lines.append(f"{number:03}  {_REEL:<8} {tracks:<5} C        {times}")
        if one.step != 1:
            lines.append(f"M2   {_REEL:<8} {float(one.step * cut.rate):05.1f}                {code(one.source_first)}")
            # A tenth of a frame a second is not exact at every rate.
            lines.append(f"* NIMBLE QUOTE SPEED: {float(one.step):g}")
        lines.append(f"* FROM CLIP NAME: {_line(cut.media)}")
    return "\r\n".join(lines) + "\r\n"


def read_edl(text: str, rate: Fraction) -> ReadCut:
    """The stretches of an edit decision list at a rate. Raises `TimelineUnreadable` with the line that can't be read."""
    title, drop, left_out = "Imported cut", bool(drops(rate)) and "FCM: NON" not in text.upper(), []
    events: list[_Read] = []
    for number, line in enumerate(text.splitlines(), 1):
        said = line.strip()
        if said.upper().startswith("TITLE:"):
            title = said[6:].strip() or title
        elif said.upper().startswith("FCM:"):
            drop = bool(drops(rate)) and "NON" not in said.upper()
        elif found := _EVENT.fullmatch(said):
            if found["kind"] != "C":
                left_out.append(f"line {number}: a transition, taken as a cut")
            events.append(_read(found, number, rate, drop))
        elif (named := _NAME.match(said)) and events and not events[-1].named:
            events[-1].media = named[1].strip()
        elif (named := _TO_NAME.match(said)) and events:
            # A transition names what it comes from, too: that was the event before.
            events[-1].media, events[-1].named = named[1].strip(), True
        elif (speed := _SPEED.match(said)) and events:
            events[-1].times = float(speed[1]) / float(rate)
        elif (ours := _OUR_SPEED.match(said)) and events:
            events[-1].times = float(ours[1])
        elif re.match(r"\d+\s", said):
            raise TimelineUnreadable(f"Line {number} is no event of an edit decision list: “{said[:60]}”.")
        if len(events) > MOST_STRETCHES:
            raise TimelineUnreadable(f"This list has more than {MOST_STRETCHES} events. Export a shorter part of it.")
    if not events:
        raise TimelineUnreadable(
            "This file has no event of an edit decision list. Export it as CMX 3600, or as OpenTimelineIO."
        )
    backwards = next((one for one in events if one.times <= 0), None)
    if backwards:
        raise TimelineUnreadable(f"Line {backwards.line} plays backwards or stands still, which a quote can't.")
    # What a transition comes from is told by an event of no frames.
    shown = [one for one in events if one.end > one.first]
    if not shown:
        raise TimelineUnreadable("No event of this list shows anything.")
    return ReadCut(title=title, stretches=_once(shown, rate), left_out=tuple(left_out))


class _Read:
    """An event, as far as it is read."""

    def __init__(self, line: int, reel: str, first: int, end: int, at: tuple[str, str]) -> None:
        self.line, self.media, self.first, self.end, self.times = line, reel, first, end, 1.0
        self.at, self.named = at, False
        """Where it stands in the cut, and whether its name is for good."""

    def stretch(self, rate: Fraction) -> Stretch:
        return Stretch(media=self.media, first=self.first, end=self.end, rate=rate, times=round(self.times, 4))


def _read(found: re.Match[str], number: int, rate: Fraction, drop: bool) -> _Read:
    try:
        first, end = (frame_of(found[name], rate, drop=drop) for name in ("a", "b"))
    except ValueError as wrong:
        raise TimelineUnreadable(f"Line {number}: {wrong}.") from wrong
    if end < first:
        raise TimelineUnreadable(f"Line {number} ends before it begins.")
    return _Read(number, found["reel"], first, end, (found["c"], found["d"]))


def _once(events: list[_Read], rate: Fraction) -> list[Stretch]:
    """Picture and sound may be told one by one: the same stretch twice in a row at one place of the cut is one."""
    told = [(one.stretch(rate), one.at) for one in events]
    return [one for number, (one, at) in enumerate(told) if number == 0 or (one, at) != told[number - 1]]


def _line(text: str) -> str:
    return " ".join(text.split())[:120]
