"""The Assembly: a document resolved for one destination into exactly what will be seen and heard.

The browser's preview draws it, the renderer turns it into an ffmpeg command, and preflight judges it.
"""

from collections.abc import Sequence
from fractions import Fraction
from math import ceil

from nimble_quote.core.captions.styles import STYLES, CaptionStyle
from nimble_quote.core.captions.timing import Cue, make_cues
from nimble_quote.core.captions.widths import text_width
from nimble_quote.core.captions.words import CaptionWord, shown_text
from nimble_quote.core.cutting.kept import kept_spans
from nimble_quote.core.destinations import Area, Destination
from nimble_quote.core.framing.window import Placed, place, source_pixels_per_output
from nimble_quote.core.model import Frozen
from nimble_quote.core.quote import Framing, QuoteDocument
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span, frame_at, ms_at, output_rate

EDGE = 0.04
"""The closest captions come to an edge of the picture, as a fraction of its height."""
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


class Segment(Frozen):
    """A stretch of source on the output's frame grid: `frames` frames from `source_frame`, shown from `out_frame`."""

    source_frame: int
    frames: int
    out_frame: int


class PlacedCaptions(Frozen):
    """The captions of a version: their cues, their look, and the height of their middle from the top (0..1)."""

    cues: tuple[Cue, ...]
    style: CaptionStyle
    height: float


class Assembly(Frozen):
    """One version, resolved. Lengths in frames of `rate`; the picture is None for a recording with sound only."""

    destination: Destination
    rate: Fraction
    frames: int
    segments: tuple[Segment, ...]
    framing: Framing
    picture: Placed | None
    sharpness: float | None
    """Source pixels for each output pixel, along a side."""
    captions: PlacedCaptions | None

    @property
    def length_ms(self) -> float:
        return ms_at(self.frames, self.rate)

    def source_ms(self, frame: int) -> float:
        """The moment of the source that an output frame shows."""
        segment = next((s for s in reversed(self.segments) if s.out_frame <= frame), self.segments[0])
        return ms_at(segment.source_frame + frame - segment.out_frame, self.rate)


def assemble(document: QuoteDocument, talk: Talk, facts: RecordingFacts, destination: Destination) -> Assembly:
    """Resolves a document for a destination. A destination without a version gets the defaults of one."""
    rate = output_rate(facts.rate)
    segments = lay_out(kept_spans(document), rate)
    frames = segments[-1].out_frame + segments[-1].frames
    version = document.version(destination.id)
    framing = version.framing if version else Framing()
    source, output = (facts.width, facts.height), (destination.width, destination.height)
    picture = place(framing, source, output) if facts.has_picture else None
    captions = None
    if document.captions.shown:
        style = STYLES[document.captions.style]
        cues = make_cues(caption_words(document, talk, segments, rate), style.limits, rate, frames)
        height = _inside_picture(version.caption_height if version else 0.5, style, destination)
        captions = PlacedCaptions(cues=cues, style=style, height=height)
    return Assembly(
        destination=destination,
        rate=rate,
        frames=frames,
        segments=segments,
        framing=framing,
        picture=picture,
        sharpness=source_pixels_per_output(picture, source) if picture else None,
        captions=captions,
    )


def cut_ms(document: QuoteDocument, facts: RecordingFacts) -> int:
    """How long the cut runs, on the frames it will be made of: what every gauge, check and file agrees on."""
    rate = output_rate(facts.rate)
    return ceil(ms_at(sum(segment.frames for segment in lay_out(kept_spans(document), rate)), rate))


def lay_out(spans: tuple[Span, ...], rate: Fraction) -> tuple[Segment, ...]:
    """Lays kept spans end to end on the frame grid of the output, for picture and sound alike.

    Each edge goes to its nearest frame, so picture and sound stay together to the sample whatever the number of joins.
    A span shorter than half a frame still shows one.
    """
    segments: list[Segment] = []
    at = 0
    for span in spans:
        first = frame_at(span.start_ms, rate)
        frames = max(1, frame_at(span.end_ms, rate) - first)
        segments.append(Segment(source_frame=first, frames=frames, out_frame=at))
        at += frames
    return tuple(segments)


def caption_words(
    document: QuoteDocument, talk: Talk, segments: tuple[Segment, ...], rate: Fraction
) -> tuple[CaptionWord, ...]:
    """The kept words with their corrected text, timed in milliseconds from the start of the output."""
    corrections = {c.at_ms: c.text for c in document.captions.corrections}
    out: list[CaptionWord] = []
    for span, segment in zip(kept_spans(document), segments, strict=True):
        shift = ms_at(segment.out_frame, rate) - ms_at(segment.source_frame, rate)
        low, high = ms_at(segment.out_frame, rate), ms_at(segment.out_frame + segment.frames, rate)
        for place_in_span, word in enumerate(talk.between(span.start_ms, span.end_ms)):
            out.append(
                CaptionWord(
                    text=shown_text(word, corrections),
                    start_ms=min(max(word.start_ms + shift, low), high),
                    end_ms=min(max(word.end_ms + shift, low), high),
                    index=word.index,
                    after_join=bool(out) and place_in_span == 0,
                )
            )
    return tuple(out)


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
