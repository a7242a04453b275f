"""Captions of a clip as files of their own: for places that show their own, and to go on with elsewhere.

srt, vtt    text and times; WebVTT with the height of the captions
ttml        the text profile of IMSC 1.1, with colours and the height
ass         one event a cue, with face, size and colours
json        segments as speech recognisers write them
txt         the lines alone, a cue a paragraph
"""

import html
import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from fractions import Fraction

from nimble_quote.core.captions.cues import WrittenCue
from nimble_quote.core.document import CaptionLook
from nimble_quote.core.timebase import ms_at
from nimble_quote.formats.ass import plain
from nimble_quote.formats.stamps import no_tags, write_stamp


@dataclass(frozen=True, kw_only=True)
class WrittenCaptions:
    """Captions as they are written: their cues on a rate, and, where it is known, their look, the height of their middle (0..1
    from the top) and the size of the picture."""

    cues: Sequence[WrittenCue]
    rate: Fraction
    look: CaptionLook | None = None
    height: float | None = None
    size: tuple[int, int] = (1080, 1920)
    language: str = ""


def write_srt(captions: WrittenCaptions) -> str:
    """SubRip text of the cues."""
    return "\n".join(
        f"{number}\n{_times(cue, captions.rate, ',')}\n{no_tags(_lines(cue))}\n"
        for number, cue in enumerate(captions.cues, start=1)
    )


def write_webvtt(captions: WrittenCaptions) -> str:
    """WebVTT text of the cues."""
    place = "" if captions.height is None else f" line:{captions.height * 100:.0f}%,center"
    body = "\n".join(
        f"{_times(cue, captions.rate, '.')}{place}\n{html.escape(_lines(cue), quote=False)}\n" for cue in captions.cues
    )
    return f"WEBVTT\n\n{body}"


def write_ttml(captions: WrittenCaptions) -> str:
    """TTML of the text profile of IMSC 1.1."""
    look = captions.look
    middle = 0.8 if captions.height is None else captions.height
    origin = max(0.0, min(80.0, middle * 100 - 10))
    background = f' tts:backgroundColor="{look.plate.colour}"' if look and look.plate else ""
    style = f' tts:color="{look.colour}"{background}' if look else ""
    rows = []
    for cue in captions.cues:
        start, end = (write_stamp(round(ms_at(frame, captions.rate))) for frame in (cue.first_frame, cue.end_frame))
        text = "<br/>".join(html.escape(_writable(line)) for line in cue.lines)
        rows.append(f'<p begin="{start}" end="{end}"><span style="s">{text}</span></p>')
    body = "\n".join(rows)
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n<tt xmlns="http://www.w3.org/ns/ttml" '
        'xmlns:tts="http://www.w3.org/ns/ttml#styling" xmlns:ttp="http://www.w3.org/ns/ttml#parameter" '
        'ttp:contentProfiles="http://www.w3.org/ns/ttml/profile/imsc1.1/text" '
        f'xml:lang="{html.escape(captions.language)}">\n<head><styling><style xml:id="s"{style}/></styling>\n'
        f'<layout><region xml:id="r" tts:origin="7% {origin:.0f}%" tts:extent="86% 20%" tts:displayAlign="center" '
        f'tts:textAlign="center"/></layout></head>\n<body region="r"><div>\n{body}\n</div></body>\n</tt>\n'
    )


def write_ass_file(captions: WrittenCaptions) -> str:
    """An ASS file with an event for each cue."""
    look, (width, height) = captions.look, captions.size
    size = round((look.size if look else 0.056) * min(width, height) * 1.25)
    code = look.colour if look else "#FFFFFF"
    outline = look.outline.colour if look and look.outline else "#000000"
    colours = (f"&H00{one[5:7]}{one[3:5]}{one[1:3]}" for one in (code, outline))
    primary, edge = colours
    margin = round(height * (1 - (captions.height if captions.height is not None else 0.8)) - size)
    rows = []
    for cue in captions.cues:
        start, end = (_ass_time(frame, captions.rate) for frame in (cue.first_frame, cue.end_frame))
        text = r"\N".join(plain(line) for line in cue.lines)
        rows.append(f"Dialogue: 0,{start},{end},Captions,,0,0,0,,{text}\n")
    return (
        f"[Script Info]\nScriptType: v4.00+\nPlayResX: {width}\nPlayResY: {height}\nWrapStyle: 2\n\n[V4+ Styles]\n"
        "Format: Name, Fontname, Fontsize, PrimaryColour, OutlineColour, Outline, Alignment, MarginV, Encoding\n"
        f"Style: Captions,{look.face if look else 'sans-serif'},{size},{primary},{edge},2,2,{max(0, margin)},1\n\n"
        "[Events]\nFormat: Layer, Start, End, Style, Name, MarginL, MarginR, MarginV, Effect, Text\n" + "".join(rows)
    )


def write_json(captions: WrittenCaptions) -> str:
    """Segments as speech recognisers write them, in seconds; each with its lines."""
    segments = [
        {
            "start": round(ms_at(cue.first_frame, captions.rate) / 1000, 3),
            "end": round(ms_at(cue.end_frame, captions.rate) / 1000, 3),
            "text": " ".join(cue.lines),
            "lines": list(cue.lines),
        }
        for cue in captions.cues
    ]
    whole = {"format": "captions/1", "language": captions.language, "segments": segments}
    return json.dumps(whole, ensure_ascii=False, indent=1) + "\n"


def write_text(captions: WrittenCaptions) -> str:
    """The lines alone, a cue a paragraph."""
    return "\n\n".join(_lines(cue) for cue in captions.cues) + "\n"


WRITERS: dict[str, Callable[[WrittenCaptions], str]] = {
    "srt": write_srt,
    "vtt": write_webvtt,
    "ttml": write_ttml,
    "ass": write_ass_file,
    "json": write_json,
    "txt": write_text,
}
MEDIA_TYPES = {
    "srt": "application/x-subrip", "vtt": "text/vtt", "ttml": "application/ttml+xml", "ass": "text/x-ssa",
    "json": "application/json", "txt": "text/plain",
}  # fmt: skip


def _times(cue: WrittenCue, rate: Fraction, mark: str) -> str:
    start, end = (write_stamp(round(ms_at(frame, rate)), mark) for frame in (cue.first_frame, cue.end_frame))
    return f"{start} --> {end}"


def _ass_time(frame: int, rate: Fraction) -> str:
    hundredths = round(ms_at(frame, rate) / 10)
    seconds = hundredths // 100
    return f"{seconds // 3600}:{seconds // 60 % 60:02}:{seconds % 60:02}.{hundredths % 100:02}"


def _lines(cue: WrittenCue) -> str:
    return "\n".join(cue.lines)


def _writable(text: str) -> str:
    """A text without what XML can't hold."""
    return "".join(one for one in text if one >= " " and one not in "\ufffe\uffff" and not "\ud800" <= one <= "\udfff")
