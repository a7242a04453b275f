"""What is heard in a version: the pieces of its cut, what is done to them, and music under them, when and how loud."""

from collections.abc import Sequence
from fractions import Fraction

from nimble_quote.core.assembly.bookends import Bookends
from nimble_quote.core.assembly.model import MusicLayer, Sound
from nimble_quote.core.assembly.overlays.when import frames_of_when
from nimble_quote.core.captions.words import CaptionWord
from nimble_quote.core.context import Context
from nimble_quote.core.cutting.joins import sound_pieces
from nimble_quote.core.cutting.kept import kept_spans
from nimble_quote.core.cutting.playing import Played
from nimble_quote.core.destinations import Destination
from nimble_quote.core.document import Music, Overlay, QuoteDocument, SpeakingSound
from nimble_quote.core.timebase import Span, ms_at

_TOGETHER_MS = 120
"""Words nearer to each other than this are said in one breath."""


def sound_of(
    document: QuoteDocument,
    context: Context,
    words: Sequence[CaptionWord],
    stretches: Sequence[Played],
    destination: Destination,
    rate: Fraction,
    ends: Bookends,
) -> Sound:
    """The sound of a version. Music at the clip goes on under its end card."""
    cleaning = context.catalogue.alone(document, "speaking-sound")
    layers = [
        _layer(one, one.what, shown, context, rate)
        for one in context.catalogue.overlays(document)
        if isinstance(one.what, Music) and not one.hidden
        for shown in (frames_of_when(one.when, context, words, rate, ends.frames),)
        if shown is not None
    ]
    return Sound(
        speech=sound_pieces(kept_spans(document, destination.id), document.hushed, context.talk),
        played=tuple(stretches),
        cleaned=cleaning.what.strength if cleaning and isinstance(cleaning.what, SpeakingSound) else None,
        voiced=_voiced(words) if layers else (),
        music=tuple(layers),
    )


def _layer(one: Overlay, what: Music, shown: tuple[int, int], context: Context, rate: Fraction) -> MusicLayer:
    piece = context.catalogue.sound(what.sound)
    start, end = (round(ms_at(frame, rate)) for frame in shown)
    if not what.repeats:
        end = min(end, start + max(1, piece.duration_ms - what.from_ms))
    return MusicLayer(
        item=one.id, sound=piece.id, revision=piece.revision, loop=piece.loop if what.repeats else None,
        loudness_lufs=piece.loudness_lufs, start_ms=start, end_ms=max(start + 1, end),
        from_ms=min(what.from_ms, max(0, piece.duration_ms - 1)),
        below_db=what.below_db, duck_db=what.duck_db, fall_ms=what.fall_ms, fade_in_ms=what.fade_in_ms,
        fade_out_ms=what.fade_out_ms,
    )  # fmt: skip


def _voiced(words: Sequence[CaptionWord]) -> tuple[Span, ...]:
    """When somebody speaks, in milliseconds of the output, words near one another as one."""
    out: list[Span] = []
    for word in words:
        start, end = int(word.start_ms), max(int(word.start_ms) + 1, round(word.end_ms))
        if out and start - out[-1].end_ms < _TOGETHER_MS:
            out[-1] = Span(start_ms=out[-1].start_ms, end_ms=max(out[-1].end_ms, end))
        else:
            out.append(Span(start_ms=start, end_ms=end))
    return tuple(out)
