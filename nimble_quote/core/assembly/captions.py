"""The captions of an Assembly: which words show when, where, and how much of the picture they take."""

from collections.abc import Sequence

from nimble_quote.core.assembly.model import CueTrack, PictureRun
from nimble_quote.core.captions.cues import Cue
from nimble_quote.core.captions.fixed import fixed_in
from nimble_quote.core.captions.making import Added, Letters, Made, lines_of, make_cues
from nimble_quote.core.captions.placing import caption_height, clear_width, look_of
from nimble_quote.core.captions.styles import block_height
from nimble_quote.core.captions.timing import Clip
from nimble_quote.core.captions.words import CaptionWord, in_pieces, shown_text
from nimble_quote.core.context import Context
from nimble_quote.core.cutting.playing import Played
from nimble_quote.core.destinations import Area, Destination
from nimble_quote.core.document import CaptionLook, QuoteDocument, TranslatedText, Translation
from nimble_quote.core.talk import Talk
from nimble_quote.core.transcript.words import Word

EDGE = 0.04
"""The closest captions come to an edge of the picture, as a fraction of its height."""
_TRANSLATION_LINES = 2


def letters_for(document: QuoteDocument, context: Context, destination: Destination) -> Letters:
    """What the captions of a version are set in."""
    look = look_of(document, context.catalogue)
    return Letters(
        look=look,
        output=destination.size,
        shape=destination.shape,
        lettering=context.lettering,
        language=context.talk.language,
        across=clear_width(look, destination, caption_height(document, destination, look)),
    )


def cue_track(
    document: QuoteDocument,
    context: Context,
    words: Sequence[CaptionWord],
    stretches: Sequence[Played],
    picture: Sequence[PictureRun],
    clip: Clip,
    destination: Destination,
) -> CueTrack:
    """The captions of a version, whose words are those of `caption_words` in pieces."""
    letters = letters_for(document, context, destination)
    pieces = [
        piece
        for word in words
        if word.text
        for piece in in_pieces(word, lambda text: context.lettering.pieces(text, context.talk.language.code))
    ]
    clip = Clip(rate=clip.rate, frames=clip.frames, cuts=tuple(run.first_frame for run in picture if run.first_frame))
    fixed = fixed_in(document.captions, pieces, context.talk)
    made = make_cues(pieces, fixed, letters, clip, added_in(document, stretches), speakers_of(context.talk, document))
    made = _translated(made, document, context.talk, letters)
    return CueTrack(
        style=document.captions.style,
        look=letters.look,
        limits=letters.limits,
        language=context.talk.language.code,
        cues=made.cues,
        hidden=made.hidden,
        height=_inside_picture(caption_height(document, destination, letters.look), letters.look, destination),
    )


def caption_words(document: QuoteDocument, talk: Talk, stretches: Sequence[Played]) -> tuple[CaptionWord, ...]:
    """The kept words with their corrected text, timed in milliseconds from the start of the output."""
    corrections = {c.word: c.text for c in document.captions.corrections}
    names = {name: number for number, name in enumerate(speakers_of(talk, document))}
    emphasised = {word.ref for ref in document.captions.emphasised if (word := talk.lasting(ref))}
    out: list[CaptionWord] = []
    joined = False
    for stretch in stretches:
        joined = joined or not stretch.goes_on
        start_ms, end_ms = stretch.source_ms, stretch.source_end_ms
        for word in talk.between(start_ms, end_ms):
            if _hushed(word, document):
                continue
            start, end = max(word.start_ms, start_ms), min(word.end_ms, end_ms)
            sentence = talk.sentence_of(word.index)
            out.append(
                CaptionWord(
                    text=shown_text(word, corrections),
                    start_ms=stretch.out_at(start),
                    end_ms=stretch.out_at(end),
                    index=word.index,
                    after_join=bool(out) and joined,
                    emphasised=word.ref in emphasised,
                    speaker=names.get(sentence.speaker or "", 0) if sentence else 0,
                )
            )
            joined = False
    return tuple(out)


def speakers_of(talk: Talk, document: QuoteDocument) -> tuple[str, ...]:
    """The names of those who speak in a quote, in the order in which they first do, also in what is struck: so that nobody
    changes colour with the cut."""
    words = talk.between(document.span.start_ms, document.span.end_ms)
    if not words:
        return ()
    names = (one.speaker or "" for one in talk.sentences if one.first <= words[-1].index and one.end > words[0].index)
    return tuple(dict.fromkeys(names))


def added_in(document: QuoteDocument, stretches: Sequence[Played]) -> list[Added]:
    """The cues that were put in by hand, as far as their stretch of the source is kept."""
    out: list[Added] = []
    for one in document.captions.added:
        shown = []
        for stretch in stretches:
            start, end = max(one.start_ms, stretch.source_ms), min(one.end_ms, stretch.source_end_ms)
            if start < end:
                shown.append((stretch.out_at(start), stretch.out_at(end)))
        if shown:
            out.append(Added(id=one.id, text=one.text, start_ms=shown[0][0], end_ms=shown[-1][1]))
    return out


def translation_of(document: QuoteDocument) -> Translation | None:
    """The translation that is chosen, where one is."""
    captions = document.captions
    return next((one for one in captions.translations if one.language == captions.translation), None)


def translated_at(translation: Translation, talk: Talk, first: int, last: int) -> TranslatedText | None:
    """What words `first` to `last` say in a translation: the text that begins among them, or that goes on there."""
    found: TranslatedText | None = None
    for one in translation.texts:
        begins, ends = talk.lasting(one.first), talk.lasting(one.last)
        if begins is None or ends is None or ends.index < first or begins.index > last:
            continue
        if begins.index >= first:
            return one
        found = one
    return found


def _translated(made: Made, document: QuoteDocument, talk: Talk, letters: Letters) -> Made:
    """The cues with the lines of a translation that stand below their words or instead of them."""
    translation, shown = translation_of(document), document.captions.translation_shown
    if translation is None:
        return made

    def one(cue: Cue) -> Cue:
        indexes = [word.index for word in cue.words if word.index >= 0]
        text = translated_at(translation, talk, indexes[0], indexes[-1]) if indexes else None
        if text is None or not text.text.strip():
            return cue
        told: dict[str, object] = {"translated": text.text}
        if shown != "none":
            told[shown] = lines_of(text.text, letters, _TRANSLATION_LINES)
        return cue.model_copy(update=told)

    return Made(cues=tuple(one(cue) for cue in made.cues), hidden=made.hidden)


def _hushed(word: Word, document: QuoteDocument) -> bool:
    return any(span.holds(word.middle_ms) for span in document.hushed)


def caption_area(cue: Cue, track: CueTrack, context: Context, destination: Destination) -> Area:
    """The part of the picture that a cue takes, plates and edges included, as far as it is inside."""
    look = track.look.with_changes(cue.look)
    width = min(1.0, caption_width(cue, track, context, destination))
    height = min(1.0, block_height(look, len(cue.shown_texts), destination.size))
    middle = track.height if cue.height is None else cue.height
    x, y = look.left_of(width), middle - height / 2
    return Area(x=_within(x, width), y=_within(y, height), width=width, height=height, name="captions")


def caption_width(cue: Cue, track: CueTrack, context: Context, destination: Destination) -> float:
    """How wide a cue is, plates and edges included, in widths of the output: over 1 where it is too wide for it."""
    look = track.look.with_changes(cue.look)
    across = max(
        context.lettering.width(look.cased(line), look.face, look.letter_spacing, track.language)
        for line in cue.shown_texts
    )
    return (across + 2 * look.beyond[0]) * look.size * min(destination.size) / destination.width


def _within(start: float, length: float) -> float:
    return min(max(0.0, start), 1 - length)


def line_areas(cue: Cue, track: CueTrack, context: Context, destination: Destination) -> list[Area]:
    """The part of the picture that the letters of each line of a cue take, without what lies under them."""
    look = track.look.with_changes(cue.look)
    whole = caption_area(cue, track, context, destination)
    shorter = min(destination.size)
    step = look.size * look.line_spacing * shorter / destination.height
    beyond = look.beyond[1] * look.size * shorter / destination.height
    out = []
    for number, line in enumerate(cue.shown_texts):
        measured = context.lettering.width(look.cased(line), look.face, look.letter_spacing, track.language)
        width = measured * look.size * shorter / destination.width
        # Letters stand in the middle four fifths of their line.
        top = whole.y + beyond + step * (number + 0.1)
        width, high = min(1.0, width), min(1.0, step * 0.8)
        x, y = _within(look.left_of(width), width), _within(top, high)
        out.append(Area(x=x, y=y, width=width, height=high, name="line"))
    return out


def _inside_picture(height: float, look: CaptionLook, destination: Destination) -> float:
    room = EDGE + block_height(look, look.limits.lines, destination.size) / 2
    return min(max(height, room), 1 - room)
