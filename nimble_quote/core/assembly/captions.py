"""The captions of an Assembly: which words show when, where, and how much of the picture they take."""

from collections.abc import Sequence
from fractions import Fraction

from nimble_quote.core.assembly.model import CueTrack
from nimble_quote.core.captions.pins import placed_pins
from nimble_quote.core.captions.styles import CaptionStyle, block_height
from nimble_quote.core.captions.timing import make_cues
from nimble_quote.core.captions.widths import text_width
from nimble_quote.core.captions.words import CaptionWord, shown_text
from nimble_quote.core.context import Context
from nimble_quote.core.destinations import Area, Destination
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span
from nimble_quote.core.transcript.words import Word

EDGE = 0.04
"""The closest captions come to an edge of the picture, as a fraction of its height."""


def cue_track(
    document: QuoteDocument,
    context: Context,
    words: tuple[CaptionWord, ...],
    rate: Fraction,
    frames: int,
    destination: Destination,
) -> CueTrack:
    """The captions of a version."""
    style = context.catalogue.style(document.captions.style)
    height = document.treatment(destination.id, destination.shape).caption_height
    return CueTrack(
        cues=make_cues(words, style.limits, rate, frames, placed_pins(document.captions.pins, words, context.talk)),
        style=style,
        height=_inside_picture(height, style, destination),
    )


def caption_words(
    document: QuoteDocument, talk: Talk, kept: Sequence[Span], speed: float = 1.0
) -> tuple[CaptionWord, ...]:
    """The kept words with their corrected text, timed in milliseconds from the start of the output."""
    corrections = {c.word: c.text for c in document.captions.corrections}
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


def caption_area(lines: Sequence[str], track: CueTrack, destination: Destination) -> Area:
    """The part of the picture that a caption of these lines takes, edges included."""
    style = track.style
    height = block_height(style, len(lines), destination.size)
    edges = 2 * style.edge_size
    across = max(text_width(line, style.font) for line in lines) * style.size + edges
    width = across * min(destination.width, destination.height) / destination.width
    return Area(x=0.5 - width / 2, y=track.height - height / 2, width=width, height=height, name="captions")


def _inside_picture(height: float, style: CaptionStyle, destination: Destination) -> float:
    room = EDGE + block_height(style, style.limits.lines, destination.size) / 2
    return min(max(height, room), 1 - room)
