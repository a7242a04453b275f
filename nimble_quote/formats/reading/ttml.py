"""Timed Text Markup Language (W3C TTML 2, and its IMSC profiles): XML, times on any element, spans as timed words."""

import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any
from xml.etree.ElementTree import ParseError, TreeBuilder

from defusedxml.common import DefusedXmlException
from defusedxml.ElementTree import DefusedXMLParser

from nimble_quote.core.transcript.cues import Reading, TimedCue, Token
from nimble_quote.formats.reading.cuetext import clean, glued_to, speaker_name
from nimble_quote.formats.reading.problems import TranscriptUnreadable

DEEPEST = 60
LONGEST_S = 24 * 3600
_CLOCK = re.compile(r"^(\d{1,4}):(\d\d):(\d\d)(?:(\.\d{1,9})|:(\d{1,4})(?:\.(\d{1,9}))?)?$")
_OFFSET = re.compile(r"^(\d{1,15}(?:\.\d{1,9})?)(h|m|s|ms|f|t)$")
_SECONDS = {"h": 3600.0, "m": 60.0, "s": 1.0, "ms": 0.001}
_DOCUMENT_TYPE = re.compile(r"^<!DOCTYPE\s+[\w:]+[^\[>]{0,400}>")
"""One that declares nothing itself. What it points to is never fetched."""
_PARAMETER = "{http://www.w3.org/ns/ttml#parameter}"
_METADATA = "{http://www.w3.org/ns/ttml#metadata}"
_XML_ID = "{http://www.w3.org/XML/1998/namespace}id"


class _NoTime(ValueError):
    """A time that can't be read, or is later than any recording is long."""

    def __init__(self, value: str) -> None:
        super().__init__(f"“{value[:40]}” isn't a time that can be read")


class _Shallow(TreeBuilder):
    """Builds the tree of a document, and refuses one nested deeper than any caption file is."""

    def __init__(self) -> None:
        super().__init__()
        self._depth = 0

    def start(self, tag: Any, attrs: Any, /) -> Any:
        self._depth += 1
        if self._depth > DEEPEST:
            raise TranscriptUnreadable(f"it is nested more than {DEEPEST} deep, which no caption file is.")
        return super().start(tag, attrs)

    def end(self, tag: Any, /) -> Any:
        self._depth -= 1
        return super().end(tag)


@dataclass
class _Document:
    """What the root says of times, the names of the agents, and what was read so far."""

    frame_rate: float
    tick_rate: float
    agents: dict[str, str]
    cues: list[TimedCue] = field(default_factory=list)
    left_out: list[str] = field(default_factory=list)

    def seconds(self, value: str) -> float | None:
        """A TTML time expression in seconds (TTML 2, 12.3.1), None where there is none. Raises `_NoTime`."""
        value = value.strip()
        if not value:
            return None
        seconds = self._read(value)
        if seconds is None or seconds > LONGEST_S:
            raise _NoTime(value)
        return seconds

    def _read(self, value: str) -> float | None:
        if clock := _CLOCK.match(value):
            hours, minutes, seconds, fraction, frames, _ = clock.groups()
            whole = int(hours) * 3600 + int(minutes) * 60 + int(seconds)
            return whole + float(fraction or 0) + int(frames or 0) / self.frame_rate
        if offset := _OFFSET.match(value):
            if offset[2] == "f":
                return float(offset[1]) / self.frame_rate
            return float(offset[1]) / self.tick_rate if offset[2] == "t" else float(offset[1]) * _SECONDS[offset[2]]
        return None


def read_ttml(text: str) -> Reading:
    """TTML and IMSC text: each `p` is a cue, a `span` with times in it a word or words. Entities are not allowed."""
    parser = DefusedXMLParser(target=_Shallow(), forbid_dtd=True)
    try:
        parser.feed(_DOCUMENT_TYPE.sub("", re.sub(r"^<\?xml[^>]*\?>", "", text.lstrip()).lstrip()))
        root = parser.close()
    except DefusedXmlException as bomb:
        raise TranscriptUnreadable("it declares entities or a document type, which a caption file may not.") from bomb
    except (ParseError, ValueError) as broken:
        if isinstance(broken, TranscriptUnreadable):
            raise
        raise TranscriptUnreadable(f"it is not well-formed XML ({broken}).") from broken
    if _name(root) != "tt":
        raise TranscriptUnreadable("it is XML, but not TTML: its outermost element is not “tt”.")
    document = _document(root)
    body = next((child for child in root if _name(child) == "body"), None)
    if body is not None:
        _walk(body, 0.0, None, None, document)
    return Reading(cues=tuple(document.cues), left_out=tuple(document.left_out))


def _document(root: Any) -> _Document:
    rate = _number(root.get(f"{_PARAMETER}frameRate"), 30.0)
    above, _, below = root.get(f"{_PARAMETER}frameRateMultiplier", "1 1").partition(" ")
    rate *= _number(above, 1.0) / _number(below, 1.0)
    ticks = _number(root.get(f"{_PARAMETER}tickRate"), 1.0)
    agents: dict[str, str] = {}
    for agent in root.iter(f"{_METADATA}agent"):
        name = agent.find(f"{_METADATA}name")
        if (said := speaker_name("".join(name.itertext()) if name is not None else "")) and agent.get(_XML_ID):
            agents[agent.get(_XML_ID)] = said
    return _Document(frame_rate=rate, tick_rate=ticks, agents=agents)


def _number(text: str | None, otherwise: float) -> float:
    try:
        value = float(text) if text is not None else otherwise
    except ValueError:
        return otherwise
    return value if 0 < value < 1e9 else otherwise


def _walk(element: Any, origin: float, until: float | None, agent: str | None, document: _Document) -> None:
    """Goes through body and div, whose times shift those of what they hold; each `p` becomes a cue."""
    agent = element.get(f"{_METADATA}agent", agent)
    try:
        start, end = _span(element, origin, until, document)
        if _name(element) == "p":
            _cue(element, start, end, agent, document)
            return
    except _NoTime as odd:
        words = " ".join(clean("".join(element.itertext())).split())[:60]
        document.left_out.append(f"“{words}” was left out: {odd}.")
        return
    at = start
    for child in element:
        if _name(child) in ("div", "p"):
            _walk(child, at, end, agent, document)
            if element.get("timeContainer") == "seq":
                at = _end_of(child, at, end, document)


def _end_of(child: Any, at: float, until: float | None, document: _Document) -> float:
    """Where a part of a sequence ends, and the next begins."""
    try:
        return _span(child, at, until, document)[1] or at
    except _NoTime:
        return at


def _span(element: Any, origin: float, until: float | None, document: _Document) -> tuple[float, float | None]:
    begin = document.seconds(element.get("begin", "")) or 0.0
    start = origin + begin
    ends = []
    if (duration := document.seconds(element.get("dur", ""))) is not None:
        ends.append(start + duration)
    if (end := document.seconds(element.get("end", ""))) is not None:
        ends.append(origin + end)
    if until is not None:
        ends.append(until)
    return start, min(ends, default=None)


def _cue(element: Any, start: float, end: float | None, agent: str | None, document: _Document) -> None:
    words = " ".join(clean("".join(element.itertext())).split())[:60]
    if not words:
        return
    if end is None or (element.get("begin") is None and element.get("end") is None and end - start > 600):
        timed = [s for s in element.iter() if s is not element and s.get("begin")]
        if not timed and element.get("begin") is None:
            document.left_out.append(f"“{words}” has no time of its own.")
            return
    if end is not None and end <= start:
        document.left_out.append(f"“{words}” ends before it starts.")
        return
    tokens: list[Token] = []
    glued = False
    for text, at, until in _texts(element, start, None, None, document):
        said = clean(text).split()
        if said and glued and tokens and at is None and not text[0].isspace():
            tokens[-1] = glued_to(tokens[-1], said.pop(0))
        for index, word in enumerate(said):
            first, last = index == 0, index == len(said) - 1
            tokens.append(
                Token(
                    text=word,
                    start_ms=round(at * 1000) if at is not None and first else None,
                    end_ms=round(until * 1000) if until is not None and last else None,
                )
            )
        glued = bool(text) and not text[-1].isspace()
    latest = max((token.end_ms or token.start_ms or 0) for token in tokens)
    if end is None and latest:
        end = latest / 1000 + 1
    document.cues.append(
        TimedCue(
            start_ms=round(start * 1000),
            end_ms=None if end is None else max(round(start * 1000) + 1, round(end * 1000)),
            tokens=tuple(tokens),
            speaker=document.agents.get((agent or "").split(" ")[0]),
        )
    )


def _texts(
    element: Any, origin: float, at: float | None, until: float | None, document: _Document
) -> Iterator[tuple[str, float | None, float | None]]:
    """The pieces of text in a cue, each with the times of the span it is in, where that has any."""
    if element.text:
        yield element.text, at, until
    for child in element:
        name = _name(child)
        if name == "br":
            yield " ", None, None
        elif name == "span":
            start, end = _span(child, origin, None, document)
            timed = child.get("begin") is not None
            yield from _texts(child, start, start if timed else at, end if timed else until, document)
        if child.tail:
            yield child.tail, None, None


def _name(element: Any) -> str:
    return str(element.tag).rpartition("}")[2]
