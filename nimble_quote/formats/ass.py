"""The captions and lines of an Assembly as an ASS script, drawn by libass in the browser's preview and in the burn-in alike.

Each line of a cue is an event of its own with its place in pixels, so that nothing is left to a renderer's wrapping;
where the style marks the spoken word, each word's time is an event too.
"""

from collections.abc import Iterator
from fractions import Fraction

from nimble_quote.core.assembly import Assembly, CueTrack
from nimble_quote.core.captions.styles import LINE_STEP, CaptionStyle
from nimble_quote.core.captions.timing import Cue, CueWord
from nimble_quote.core.document import Colour
from nimble_quote.core.timebase import ms_at

_HEADER = """[Script Info]
ScriptType: v4.00+
PlayResX: {width}
PlayResY: {height}
LayoutResX: {width}
LayoutResY: {height}
WrapStyle: 2
ScaledBorderAndShadow: yes
YCbCr Matrix: None
Kerning: yes

[V4+ Styles]
Format: Name, Fontname, Fontsize, PrimaryColour, SecondaryColour, OutlineColour, BackColour, Bold, Italic, Underline, \
StrikeOut, ScaleX, ScaleY, Spacing, Angle, BorderStyle, Outline, Shadow, Alignment, MarginL, MarginR, MarginV, Encoding
Style: Cue,{font},{size},{colour},{colour},{edge},{edge},0,0,0,0,100,100,0,0,{border},{edge_px:g},0,5,0,0,0,1

[Events]
Format: Layer, Start, End, Style, Name, MarginL, MarginR, MarginV, Effect, Text
"""
# Characters that libass would read as markup, each as the nearest that it shows as itself.
_HARMLESS = str.maketrans({"\\": "\uff3c", "{": "\uff5b", "}": "\uff5d", "\n": " ", "\r": " "})


def write_ass(assembly: Assembly) -> str:
    """The script of an Assembly; without events where it shows no captions and no lines."""
    styles = [track.style for track in assembly.cue_tracks] + [one.style for one in assembly.overlays]
    if not styles:
        return ""
    header = _header(styles[0], assembly)
    cues = (line for track in assembly.cue_tracks for cue in track.cues for line in _events(cue, track, assembly))
    return header + "".join([*cues, *_lines(assembly)])


def _header(style: CaptionStyle, assembly: Assembly) -> str:
    size = min(assembly.destination.width, assembly.destination.height)
    return _HEADER.format(
        width=assembly.destination.width,
        height=assembly.destination.height,
        font=style.font,
        size=round(style.size * style.cell * size),
        colour=_colour(style.colour),
        edge=_colour(style.edge_colour),
        border=3 if style.edge == "box" else 1,
        edge_px=round(style.edge_size * size, 1),
    )


def plain(text: str) -> str:
    """Text that no ASS renderer can read as markup."""
    return text.translate(_HARMLESS)


def _events(cue: Cue, captions: CueTrack, assembly: Assembly) -> Iterator[str]:
    width, height = assembly.destination.width, assembly.destination.height
    step = captions.style.size * LINE_STEP * min(width, height)
    middle = captions.height if cue.height is None else cue.height
    top = middle * height - step * (len(cue.lines) - 1) / 2
    for number, line in enumerate(cue.lines):
        tag = f"{{\\pos({width // 2},{round(top + step * number)})}}"
        for first, end, spoken in _stretches(cue, line, captions.style.marks_spoken):
            text = " ".join(_word(word, word is spoken, captions) for word in line)
            yield f"Dialogue: 0,{_time(first, assembly.rate)},{_time(end, assembly.rate)},Cue,,0,0,0,,{tag}{text}\n"


def _lines(assembly: Assembly) -> Iterator[str]:
    width, height = assembly.destination.width, assembly.destination.height
    for one in assembly.overlays:
        step = one.style.size * LINE_STEP * min(width, height)
        top = max(one.height * height - step * (len(one.lines) - 1) / 2, step)
        for number, line in enumerate(one.lines):
            tag = f"{{\\pos({width // 2},{round(top + step * number)})}}"
            start, end = _time(one.first_frame, assembly.rate), _time(one.end_frame, assembly.rate)
            yield f"Dialogue: 0,{start},{end},Cue,,0,0,0,,{tag}{plain(line)}\n"


def _stretches(cue: Cue, line: tuple[CueWord, ...], marked: bool) -> list[tuple[int, int, CueWord | None]]:
    """The stretches of a cue in which a line looks the same, and which of its words is lit in each."""
    if not marked:
        return [(cue.first_frame, cue.end_frame, None)]
    stretches: list[tuple[int, int, CueWord | None]] = [(cue.first_frame, line[0].first_frame, None)]
    stretches += [(word.first_frame, word.end_frame, word) for word in line]
    stretches.append((line[-1].end_frame, cue.end_frame, None))
    return [s for s in stretches if s[1] > s[0]]


def _word(word: CueWord, lit: bool, captions: CueTrack) -> str:
    style, text = captions.style, plain(word.text)
    if not lit:
        return text
    if style.spoken_bar:
        text = f"{{\\u1}}{text}{{\\u0}}"
    if style.spoken is not None:
        text = f"{{\\1c{_colour(style.spoken)}&}}{text}{{\\1c{_colour(style.colour)}&}}"
    return text


def _colour(code: Colour) -> str:
    """`#RRGGBB` as ASS writes it: alpha, blue, green, red."""
    return f"&H00{code[5:7]}{code[3:5]}{code[1:3]}"


def _time(frame: int, rate: Fraction) -> str:
    """A frame's time in hundredths, half a frame early: then no rounding can shift an event to the next frame."""
    hundredths = max(0, round((ms_at(frame, rate) - ms_at(1, rate) / 2) / 10))
    seconds = hundredths // 100
    return f"{seconds // 3600}:{seconds // 60 % 60:02}:{seconds % 60:02}.{hundredths % 100:02}"
