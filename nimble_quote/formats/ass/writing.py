"""Writing the script: each line of a cue is an event of its own with its place in pixels, so that nothing is left to a
renderer's wrapping. What moves or lies under the letters is an event besides:

    layer 0   plates                                                             of captions; of what stands
          1   what marks the spoken word: a bar, a plate; shadows                over the picture the same in
          2   letters                                                            layers of its own, from 10 on
"""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from nimble_quote.core.assembly import Assembly, CueTrack
from nimble_quote.core.assembly.placed import (
    PlacedBar,
    PlacedClock,
    PlacedCode,
    PlacedFootage,
    PlacedLines,
    PlacedPicture,
    PlacedSpotlight,
    PlacedStrokes,
    PlacedWave,
)
from nimble_quote.core.captions.cues import Cue, CueWord
from nimble_quote.core.captions.lettering import Lettering
from nimble_quote.core.document import CaptionLook, Colour, Limits
from nimble_quote.core.timebase import frame_at, ms_at
from nimble_quote.formats.ass.drawn import bar, code, strokes, wave
from nimble_quote.formats.ass.lines import PlacedLine, PlacedWord, Setting, middles_of, placed_in, placed_lines
from nimble_quote.formats.ass.notation import alpha, colour, plain, rounded, style_colour, time

ENTRANCE_MS, EXIT_MS = 160, 120
_FADES = ("fade", "rise", "slide", "pop")
"""What comes or goes so is seen through meanwhile."""
_RISE = 0.35
"""How far captions rise that do, in font sizes."""
_SLIDE = 1.2
"""How far what slides comes from the side."""
_POP = r"\fscx60\fscy60\t(0,200,0.5,\fscx100\fscy100)"
_OVERLAYS, _EACH = 10, 3
"""The layer of the first overlay, and how many each has."""
_DRAWING = CaptionLook(
    face="Lexend Bold", size=0.05, colour="#FFFFFF",
    limits=Limits(line_characters=30, lines=1, shortest_ms=1000, longest_ms=2000, fastest_cps=20),
)  # fmt: skip
"""What drawings are in, of which nothing is seen but the drawing."""
_GROWN, _GROWS_MS = 112, 80
_BAR, _BAR_DOWN = 0.09, 0.56
"""The height of the bar under a spoken word, and how far its middle is below the line's, in font sizes."""
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
{styles}
[Events]
Format: Layer, Start, End, Style, Name, MarginL, MarginR, MarginV, Effect, Text
"""
_STYLE = (
    "Style: {name},{face},{size:g},{colour},{colour},{outline},{outline},0,0,0,0,100,100,{spacing:g},0,1,{border:g},0,4,0,0,0,"
    "{encoding}\n"
)
_FACES = re.compile(r"^Style: [^,]*,([^,]+),|\\fn([^\\}]+)", re.MULTILINE)


def write_ass(assembly: Assembly, lettering: Lettering) -> str:
    """The script of an Assembly; without events where it shows no captions and no lines."""
    if not assembly.is_written:
        return ""
    writer = _Writer(assembly, lettering)
    events = [
        *(writer.cue(cue, track) for track in assembly.cue_tracks for cue in track.cues),
        *writer.overlays(),
    ]
    width, height = assembly.destination.size
    return _HEADER.format(width=width, height=height, styles="".join(writer.styles())) + "".join(events)


def _fading(look: CaptionLook) -> str:
    """How what a look has comes and goes that does not move."""
    return _fade(ENTRANCE_MS if look.entrance in _FADES else 0, EXIT_MS if look.exit in _FADES else 0)


def _fade(into: int, out: int) -> str:
    return rf"\fad({into},{out})" if into or out else ""


def _clips(line: PlacedLine, setting: Setting) -> tuple[str, str]:
    """The box that shows nothing of a line yet, and the one that shows all of it."""
    top, bottom, reach = round(line.middle - setting.step), round(line.middle + setting.step), round(setting.em)
    left, right = round(line.left - reach), round(line.left + line.width + reach)
    if line.from_right:
        return f"{right},{top},{right},{bottom}", f"{left},{top},{right},{bottom}"
    return f"{left},{top},{left},{bottom}", f"{left},{top},{right},{bottom}"


def faces_in(script: str) -> set[str]:
    """The faces that a script names."""
    return {one or other for one, other in _FACES.findall(script)}


@dataclass(frozen=True, kw_only=True)
class _Shown:
    """When a cue shows, and the name of the script's style that it is in."""

    first: int
    end: int
    style: str
    layer: int = 0


_WRITTEN: dict[tuple[object, ...], str] = {}
"""The events of cues that were written last: an edit changes one of many."""
_MOST_WRITTEN = 20_000


class _Writer:
    def __init__(self, assembly: Assembly, lettering: Lettering) -> None:
        self._assembly, self._lettering = assembly, lettering
        self._styles: dict[str, tuple[str, CaptionLook]] = {}
        self._looks: dict[str, str] = {}

    def styles(self) -> Iterator[str]:
        """The script's styles: of each look one for each direction of reading."""
        for name, look in self._styles.values():
            setting = self._setting(look, "")
            cell = self._lettering.runs("n", look.face)[0].cell
            for suffix, encoding in (("", 1), ("R", -1)):
                yield _STYLE.format(
                    name=name + suffix, face=look.face, size=round(setting.em * cell, 2), colour=style_colour(look.colour),
                    outline=style_colour(look.outline.colour if look.outline else look.colour),
                    spacing=round(look.letter_spacing * setting.em, 2),
                    border=round(look.outline.width * setting.em, 2) if look.outline else 0, encoding=encoding,
                )  # fmt: skip

    def cue(self, cue: Cue, track: CueTrack) -> str:
        """The events of a cue, written once for as long as it and what is around it are the same."""
        look = track.look.with_changes(cue.look)
        style = self._style(look)
        height = track.height if cue.height is None else cue.height
        key = (cue.model_dump_json(), style, self._looks[style], track.language, height, self._assembly.destination.size,
               self._assembly.rate, self._lettering)  # fmt: skip
        if key not in _WRITTEN:
            if len(_WRITTEN) > _MOST_WRITTEN:
                _WRITTEN.clear()
            _WRITTEN[key] = "".join(self._cue(cue, look, height, track.language, style))
        return _WRITTEN[key]

    def _cue(self, cue: Cue, look: CaptionLook, height: float, language: str, style: str) -> Iterator[str]:
        setting = self._setting(look, language)
        lines = placed_lines(cue, height, setting)
        shown = _Shown(first=cue.first_frame, end=cue.end_frame, style=style)
        yield from self._plates(lines, setting, shown)
        letters = look.letters_of(cue.speaker)
        for line in lines:
            yield from self._spoken_marks(line, setting, shown)
            yield from self._letters(line, setting, shown, letters)

    def overlays(self) -> Iterator[str]:
        """The events of what stands over the picture, each kind in layers of its own: later ones stand in front."""
        for number, one in enumerate(self._assembly.overlays):
            layer = _OVERLAYS + number * _EACH
            if one.kind == "lines":
                yield from self._standing(one.lines, one, (one.first_frame, one.end_frame), layer)
            elif one.kind == "clock":
                ends = [*(said.frame for said in one.times[1:]), one.end_frame]
                for said, end in zip(one.times, ends, strict=True):
                    yield from self._standing((said.text,), one, (said.frame, end), layer)
            elif not isinstance(one, PlacedPicture | PlacedSpotlight | PlacedFootage):
                yield from self._drawn(one, layer)

    def _standing(
        self, texts: Sequence[str], one: PlacedLines | PlacedClock, shown: tuple[int, int], layer: int
    ) -> Iterator[str]:
        """Lines of text in their box."""
        setting = self._setting(one.look, one.language)
        during = _Shown(first=shown[0], end=shown[1], style=self._style(one.look), layer=layer)
        middles = middles_of(len(texts), one.area.y + one.area.height / 2, setting)
        lines = [placed_in(text, one.area, middle, setting) for text, middle in zip(texts, middles, strict=True)]
        yield from self._plates(lines, setting, during)
        for line in lines:
            yield from self._letters(line, setting, during, one.look.colour)

    def _drawn(self, one: PlacedBar | PlacedWave | PlacedStrokes | PlacedCode, layer: int) -> Iterator[str]:
        rate = self._assembly.rate
        if isinstance(one, PlacedBar):
            events = bar(one, rate)
        elif isinstance(one, PlacedCode):
            events = code(one)
        else:
            events = wave(one, self._assembly.destination.size, rate) if isinstance(one, PlacedWave) else strokes(one)
        style = self._style(_DRAWING)
        for first, end, tags, shape in events:
            yield self._event(layer, first, end, style, rf"{tags}\bord0\p4", shape)

    def _setting(self, look: CaptionLook, language: str) -> Setting:
        return Setting(look=look, language=language, output=self._assembly.destination.size, lettering=self._lettering)

    def _style(self, look: CaptionLook) -> str:
        told = look.model_dump_json()
        name, _ = self._styles.setdefault(told, (f"L{len(self._styles)}", look))
        self._looks[name] = told
        return name

    def _event(self, layer: int, first: int, end: int, style: str, tags: str, text: str) -> str:
        rate = self._assembly.rate
        return f"Dialogue: {layer},{time(first, rate)},{time(end, rate)},{style},,0,0,0,,{{{tags}}}{text}\n"

    def _plates(self, lines: Sequence[PlacedLine], setting: Setting, shown: _Shown) -> Iterator[str]:
        plate = setting.look.plate
        if plate is None or not lines:
            return
        em, step = setting.em, setting.step
        boxes = [
            (line.left - plate.across * em, line.middle - step / 2 - plate.down * em, line.width + 2 * plate.across * em,
             step + 2 * plate.down * em)
            for line in lines
        ]  # fmt: skip
        if plate.behind == "block":
            left, right = min(box[0] for box in boxes), max(box[0] + box[2] for box in boxes)
            boxes = [(left, boxes[0][1], right - left, boxes[-1][1] + boxes[-1][3] - boxes[0][1])]
        shape = rounded(boxes, plate.radius * em)
        tags = rf"\an7\pos(0,0){_fading(setting.look)}\bord0\1c{colour(plate.colour)}\1a{alpha(plate.opacity)}\p4"
        yield self._event(shown.layer, shown.first, shown.end, shown.style, tags, shape)

    def _spoken_marks(self, line: PlacedLine, setting: Setting, shown: _Shown) -> Iterator[str]:
        """What lies under the word being spoken."""
        look, em = setting.look, setting.em
        if look.spoken.mark not in ("bar", "plate") or not line.one_way:
            return
        code = look.spoken.colour or look.colour
        for one in line.words:
            if one.word.end_frame <= one.word.first_frame:
                continue
            if look.spoken.mark == "bar":
                box = (one.left, line.middle + (_BAR_DOWN - _BAR / 2) * em, one.width, _BAR * em)
                radius = _BAR / 2
            else:
                box = (one.left - 0.1 * em, line.middle - setting.step / 2, one.width + 0.2 * em, setting.step)
                radius = 0.14
            tags = rf"\an7\pos(0,0){self._marked(one, look, shown)}\bord0\1c{colour(code)}\p4"
            yield self._event(
                shown.layer + 1,
                one.word.first_frame,
                one.word.end_frame,
                shown.style,
                tags,
                rounded([box], radius * em),
            )

    def _letters(self, line: PlacedLine, setting: Setting, shown: _Shown, letters: Colour) -> Iterator[str]:
        look = setting.look
        base = rf"\1c{colour(letters)}" if letters != look.colour else ""
        if look.spoken.mark in ("grow", "appear") and line.one_way and line.words:
            yield from self._word_by_word(line, setting, shown, base)
            return
        for part, while_shown in self._phases(setting, shown):
            yield from self._line(line, part, while_shown, letters, base)

    def _phases(self, setting: Setting, shown: _Shown) -> Iterator[tuple[Setting, _Shown]]:
        """A line that goes with a movement in two events, since one can move only once: until it goes, and while it does."""
        look = setting.look
        if look.exit not in ("rise", "type"):
            yield setting, shown
            return
        goes = max(shown.end - frame_at(EXIT_MS, self._assembly.rate), (shown.first + shown.end) // 2)
        yield replace(setting, look=look.model_copy(update={"exit": "none"})), replace(shown, end=goes)
        yield replace(setting, look=look.model_copy(update={"entrance": "none"})), replace(shown, first=goes)

    def _line(self, line: PlacedLine, setting: Setting, shown: _Shown, letters: Colour, base: str) -> Iterator[str]:
        look = setting.look
        style = shown.style + ("R" if line.from_right else "")
        text = self._text(line, setting, shown, letters)
        place = self._place(line, setting, shown)
        if look.shadow:
            shade = look.shadow
            across, down = shade.across * setting.em, shade.down * setting.em
            tags = (
                rf"{self._place(line, setting, shown, across, down)}\bord0\1c{colour(shade.colour)}\1a{alpha(shade.opacity)}"
                rf"\blur{shade.blur * setting.em:.1f}"
            )
            yield self._event(shown.layer + 1, shown.first, shown.end, style, tags, self._runs(line.text, setting))
        yield self._event(shown.layer + 2, shown.first, shown.end, style, rf"{place}{base}", text)

    def _place(self, line: PlacedLine, setting: Setting, shown: _Shown, across: float = 0.0, down: float = 0.0) -> str:
        """Where a line stands, and how it comes and goes."""
        look, em = setting.look, setting.em
        x, y = line.left + across, line.middle + down
        goes_ms = self._since(shown.end, shown)
        fading = _fading(look)
        if look.entrance == "pop":
            middle = x + line.width / 2
            return rf"\an5\pos({middle:.1f},{y:.1f}){fading}{_POP}"
        if look.entrance in ("rise", "slide"):
            from_x, from_y = (x, y + _RISE * em) if look.entrance == "rise" else (x - _SLIDE * em, y)
            return rf"\an4\move({from_x:.1f},{from_y:.1f},{x:.1f},{y:.1f},0,{ENTRANCE_MS}){fading}"
        if look.exit == "rise":
            return rf"\an4\move({x:.1f},{y:.1f},{x:.1f},{y - _RISE * em:.1f},0,{goes_ms}){fading}"
        place = rf"\an4\pos({x:.1f},{y:.1f}){fading}"
        if "type" not in (look.entrance, look.exit):
            return place
        nothing, all_of_it = _clips(line, setting)
        if look.exit == "type":
            return rf"{place}\clip({all_of_it})\t(0,{goes_ms},\clip({nothing}))"
        end_ms = max(ENTRANCE_MS, round(line.width / em * 25))
        return rf"{place}\clip({nothing})\t(0,{end_ms},\clip({all_of_it}))"

    def _marked(self, one: PlacedWord, look: CaptionLook, shown: _Shown) -> str:
        """How the mark of a word comes and goes: with all of it at the first word and at the last."""
        into = ENTRANCE_MS if look.entrance in _FADES and one.word.first_frame <= shown.first else 0
        out = EXIT_MS if look.exit in _FADES and one.word.end_frame >= shown.end else 0
        return _fade(into, out)

    def _text(self, line: PlacedLine, setting: Setting, shown: _Shown, letters: Colour) -> str:
        """The words of a line with what each is marked by."""
        if not line.words:
            return self._runs(line.text, setting)
        parts = [self._runs(line.lead, setting)] if line.lead else []
        for number, one in enumerate(line.words):
            if number and not one.word.glued:
                parts.append(" ")
            parts.append(self._word(one.word, setting, shown, letters, one_way=line.one_way))
        return "".join(parts)

    def _word(self, word: CueWord, setting: Setting, shown: _Shown, letters: Colour, *, one_way: bool) -> str:
        look = setting.look
        resting = look.emphasis if word.emphasised and look.emphasis else letters
        underlined = word.emphasised and look.emphasis is None
        lit = look.spoken.colour if look.spoken.mark == "colour" or not one_way else None
        before = after = ""
        if lit is not None and word.end_frame > word.first_frame:
            on, off = self._since(word.first_frame, shown), self._since(word.end_frame, shown)
            before = rf"\1c{colour(lit if on <= 0 < off else resting)}"
            before += rf"\t({on},{on},\1c{colour(lit)})" if on > 0 and word.first_frame < shown.end else ""
            before += rf"\t({off},{off},\1c{colour(resting)})" if off > 0 and word.end_frame < shown.end else ""
            after = rf"\1c{colour(letters)}"
        elif resting != letters:
            before, after = rf"\1c{colour(resting)}", rf"\1c{colour(letters)}"
        if underlined:
            before, after = before + r"\u1", after + r"\u0"
        text = self._runs(word.text, setting)
        return f"{{{before}}}{text}{{{after}}}" if before else text

    def _word_by_word(self, line: PlacedLine, setting: Setting, shown: _Shown, base: str) -> Iterator[str]:
        """Each word as an event of its own: it grows, or appears, and moves none of the others."""
        look = setting.look
        if line.lead:
            lead = rf"\an4\pos({line.left:.1f},{line.middle:.1f}){_fading(look)}{base}"
            yield self._event(
                shown.layer + 2, shown.first, shown.end, shown.style, lead, self._runs(line.lead, setting)
            )
        for one in line.words:
            tags = rf"\an5\pos({one.left + one.width / 2:.1f},{line.middle:.1f}){_fading(look)}{base}{self._emphasis(one, look)}"
            first = one.word.first_frame if look.spoken.mark == "appear" else shown.first
            if look.spoken.mark == "grow" and one.word.end_frame > one.word.first_frame:
                on, off = self._since(one.word.first_frame, shown), self._since(one.word.end_frame, shown)
                lit = rf"\1c{colour(look.spoken.colour)}" if look.spoken.colour else ""
                rest = rf"\1c{colour(look.colour)}" if look.spoken.colour else ""
                tags += rf"\t({on},{on + _GROWS_MS},\fscx{_GROWN}\fscy{_GROWN}{lit})"
                tags += rf"\t({off},{off + _GROWS_MS},\fscx100\fscy100{rest})"
            if first < shown.end:
                yield self._event(
                    shown.layer + 2, first, shown.end, shown.style, tags, self._runs(one.word.text, setting)
                )

    def _emphasis(self, one: PlacedWord, look: CaptionLook) -> str:
        if not one.word.emphasised:
            return ""
        return rf"\1c{colour(look.emphasis)}" if look.emphasis else r"\u1"

    def _runs(self, text: str, setting: Setting) -> str:
        """A text with the face of each stretch of it; the face of the style is told where another was before."""
        runs = setting.runs(text)
        if all(run.face == setting.look.face for run in runs):
            return plain("".join(run.text for run in runs))
        return (
            "".join(rf"{{\fn{run.face}\fs{run.cell * setting.em:.2f}}}{plain(run.text)}" for run in runs)
            + rf"{{\fn{setting.look.face}\fs{self._lettering.runs('n', setting.look.face)[0].cell * setting.em:.2f}}}"
        )

    def _since(self, frame: int, shown: _Shown) -> int:
        """The ms from when an event that begins with a cue begins to a frame: no rounding can shift it to another."""
        return round(ms_at(frame - shown.first, self._assembly.rate))
