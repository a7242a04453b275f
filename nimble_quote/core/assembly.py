"""The Assembly: a document resolved for one destination into exactly what will be seen and heard.

The browser's preview draws it, the renderer turns it into an ffmpeg command, and preflight judges it.
"""

from collections.abc import Sequence
from fractions import Fraction
from itertools import pairwise
from math import ceil, floor

from nimble_quote.core.captions.linebreak import break_lines
from nimble_quote.core.captions.styles import STYLES, CaptionStyle
from nimble_quote.core.captions.timing import Cue, make_cues
from nimble_quote.core.captions.widths import text_width
from nimble_quote.core.captions.words import CaptionWord, shown_text
from nimble_quote.core.cutting.joins import SoundPiece, sound_pieces
from nimble_quote.core.cutting.kept import kept_spans
from nimble_quote.core.destinations import Area, Destination
from nimble_quote.core.framing.window import Placed, place, source_pixels_per_output
from nimble_quote.core.model import Frozen
from nimble_quote.core.quote import Framing, QuoteDocument, Version
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span, frame_at, ms_at, output_rate, total_ms
from nimble_quote.core.transcript.words import Word

EDGE = 0.04
"""The closest captions come to an edge of the picture, as a fraction of its height."""
STANDING_HEIGHT, STANDING_MS, MOST_STANDING_LINES = 0.18, 2500, 5
"""Where the middle of standing lines is, below what apps cover at the top, and how long they stand."""
LINE_STEP = 1.28
"""The distance from line to line, in font sizes."""


class RecordingFacts(Frozen):
    """What the Assembly needs to know of a source. Width and height are 0 where it has no picture."""

    duration_ms: int
    width: int
    height: int
    rate: Fraction

    @property
    def has_picture(self) -> bool:
        return self.width > 0


SOFTENED_SCALE = 1.06
"""How much larger every other segment is shown where jumps are softened: enough to look meant, too little to go soft."""


class Segment(Frozen):
    """A stretch of source on the cut's frame grid: `frames` frames from `source_frame`, shown from `out_frame`.

    The cut's frames are the output's before any change of speed. `scale` enlarges the picture about its middle.
    """

    source_frame: int
    frames: int
    out_frame: int
    scale: float = 1.0


class StandingLines(Frozen):
    """Lines that stand at one place for a while, as text that fits: what a part begins or ends with."""

    lines: tuple[str, ...]
    first_frame: int
    end_frame: int
    height: float


class PlacedCaptions(Frozen):
    """The captions of a version: their cues, their look, and the height of their middle from the top (0..1); and the
    lines that a part begins and ends with."""

    cues: tuple[Cue, ...]
    style: CaptionStyle
    height: float
    standing: tuple[StandingLines, ...] = ()


class Assembly(Frozen):
    """One version, resolved. Lengths in frames of `rate`; the picture is None for a recording with sound only.

    The cut (`segments`, `sound`) runs at the speed it was said; `frames`, cues and length are those of the output,
    which is the cut played `speed` times as fast.
    """

    destination: Destination
    rate: Fraction
    frames: int
    segments: tuple[Segment, ...]
    sound: tuple[SoundPiece, ...] = ()
    speed: float = 1.0
    framing: Framing
    picture: Placed | None
    sharpness: float | None
    """Source pixels for each output pixel, along a side."""
    captions: PlacedCaptions | None

    @property
    def length_ms(self) -> float:
        return ms_at(self.frames, self.rate)

    @property
    def cut_frames(self) -> int:
        """The length of the cut before any change of speed."""
        return self.segments[-1].out_frame + self.segments[-1].frames

    def source_ms(self, frame: int) -> float:
        """The moment of the source that an output frame shows."""
        at = frame * self.speed
        segment = next((s for s in reversed(self.segments) if s.out_frame <= at), self.segments[0])
        return ms_at(1, self.rate) * (segment.source_frame + at - segment.out_frame)


def assemble(document: QuoteDocument, talk: Talk, facts: RecordingFacts, destination: Destination) -> Assembly:
    """Resolves a document for a destination. A destination without a version gets the defaults of one."""
    rate = output_rate(facts.rate)
    version = document.version(destination.id) or Version(destination=destination.id, caption_height=0.5)
    kept = kept_spans(document, destination.id)
    sound = sound_pieces(kept, document.hushed, talk)
    segments = lay_out(kept, rate, softened=version.soften == "scale")
    frames = frames_of(kept, rate, version.speed)
    source, output = (facts.width, facts.height), (destination.width, destination.height)
    picture = place(version.framing, source, output) if facts.has_picture else None
    return Assembly(
        destination=destination,
        rate=rate,
        frames=frames,
        segments=segments,
        sound=sound,
        speed=version.speed,
        framing=version.framing,
        picture=picture,
        # Where some of the picture is enlarged to soften joins, that is what goes soft first.
        sharpness=source_pixels_per_output(picture, source) / max(s.scale for s in segments) if picture else None,
        captions=_captions(
            document, version, caption_words(document, talk, kept, version.speed), rate, frames, destination
        ),
    )


def _captions(
    document: QuoteDocument,
    version: Version,
    words: tuple[CaptionWord, ...],
    rate: Fraction,
    frames: int,
    destination: Destination,
) -> PlacedCaptions | None:
    style = STYLES[document.captions.style]
    standing = _part_lines(document, style, rate, frames)
    if not document.captions.shown and not standing:
        return None
    cues = make_cues(words, style.limits, rate, frames) if document.captions.shown else ()
    height = _inside_picture(version.caption_height, style, destination)
    return PlacedCaptions(cues=cues, style=style, height=height, standing=standing)


def _part_lines(document: QuoteDocument, style: CaptionStyle, rate: Fraction, frames: int) -> tuple[StandingLines, ...]:
    """What a part begins with, for its first seconds, and what it ends with, for its last."""
    if document.part is None:
        return ()
    long = min(frames // 2, frame_at(STANDING_MS, rate))
    out = []
    for text, first in ((document.part.recap, 0), (document.part.end_line, frames - long)):
        words = text.split()
        ends = break_lines(words, style.limits.line_characters, MOST_STANDING_LINES) if words else ()
        starts = (0, *(ends or (len(words),)))
        lines = tuple(" ".join(words[a:b]) for a, b in pairwise(starts))
        if lines:
            out.append(StandingLines(lines=lines, first_frame=first, end_frame=first + long, height=STANDING_HEIGHT))
    return tuple(out)


def cut_ms(document: QuoteDocument, facts: RecordingFacts, destination: str | None = None) -> int:
    """How long the cut of a version (or of the base) runs, on the frames it will be made of: what every gauge, check
    and file agrees on."""
    rate = output_rate(facts.rate)
    version = document.version(destination) if destination else None
    return ceil(ms_at(frames_of(kept_spans(document, destination), rate, version.speed if version else 1.0), rate))


def frames_of(kept: Sequence[Span], rate: Fraction, speed: float = 1.0) -> int:
    """How many frames some kept spans make: the whole frames in their length, so that no limit is passed by rounding."""
    # A thousandth of a frame is no sound that anybody misses, and no length that a limit is passed by.
    return max(1, floor(total_ms(kept) / speed * rate.numerator / rate.denominator / 1000 + 1e-3))


def lay_out(spans: Sequence[Span], rate: Fraction, *, softened: bool = False) -> tuple[Segment, ...]:
    """Lays the picture of kept spans end to end on the frame grid, under the sound, which is cut to the millisecond.

    Each join falls on the frame nearest to that of the sound, so that picture and sound are never more than half a
    frame apart, whatever the number of joins. A span too short for a frame shows none.
    """
    segments: list[Segment] = []
    at_ms, frame, end = 0, 0, frames_of(spans, rate)
    for span in spans:
        until = min(end, frame_at(at_ms + span.length_ms, rate)) if span is not spans[-1] else end
        if until > frame:
            source = max(0, frame_at(span.start_ms + round(ms_at(frame, rate)) - at_ms, rate))
            scale = SOFTENED_SCALE if softened and len(segments) % 2 else 1.0
            segments.append(Segment(source_frame=source, frames=until - frame, out_frame=frame, scale=scale))
            frame = until
        at_ms += span.length_ms
    return tuple(segments)


def caption_words(
    document: QuoteDocument, talk: Talk, kept: Sequence[Span], speed: float = 1.0
) -> tuple[CaptionWord, ...]:
    """The kept words with their corrected text, timed in milliseconds from the start of the output."""
    corrections = {c.at_ms: c.text for c in document.captions.corrections}
    out: list[CaptionWord] = []
    at_ms = 0
    for span in kept:
        words = [word for word in talk.between(span.start_ms, span.end_ms) if not _hushed(word, document)]
        for place_in_span, word in enumerate(words):
            start, end = max(word.start_ms, span.start_ms), min(word.end_ms, span.end_ms)
            out.append(
                CaptionWord(
                    text=shown_text(word, corrections),
                    start_ms=(at_ms + start - span.start_ms) / speed,
                    end_ms=(at_ms + end - span.start_ms) / speed,
                    index=word.index,
                    after_join=bool(out) and place_in_span == 0,
                )
            )
        at_ms += span.length_ms
    return tuple(out)


def _hushed(word: Word, document: QuoteDocument) -> bool:
    return any(span.holds(word.middle_ms) for span in document.hushed)


def caption_area(lines: Sequence[str], captions: PlacedCaptions, destination: Destination) -> Area:
    """The part of the picture that a caption of these lines takes, edges included."""
    style = captions.style
    height = _block_height(style, len(lines), destination)
    edges = 2 * style.edge_size
    across = max(text_width(line, style.font) for line in lines) * style.size + edges
    width = across * min(destination.width, destination.height) / destination.width
    return Area(x=0.5 - width / 2, y=captions.height - height / 2, width=width, height=height, name="captions")


def _block_height(style: CaptionStyle, lines: int, destination: Destination) -> float:
    short_side = min(destination.width, destination.height)
    return (style.size * LINE_STEP * lines + 2 * style.edge_size) * short_side / destination.height


def _inside_picture(height: float, style: CaptionStyle, destination: Destination) -> float:
    room = EDGE + _block_height(style, style.limits.lines, destination) / 2
    return min(max(height, room), 1 - room)
