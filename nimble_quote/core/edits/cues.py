"""Edits of single cues: where they begin and end, how they break, when and where they show, what is put in between.

Each names words by their places in the talk, and is kept by words for good, so that it holds through other edits.
"""

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from nimble_quote.core.captions.placing import look_of
from nimble_quote.core.context import Context
from nimble_quote.core.cutting.kept import kept_words
from nimble_quote.core.document import (
    AddedCue,
    Break,
    BreakKind,
    CueMark,
    Edge,
    Fraction01,
    LookChanges,
    QuoteDocument,
    Retimed,
    with_change,
)
from nimble_quote.core.edits.captions import look_changes, shown_only, with_captions, words_between
from nimble_quote.core.edits.changing import EditRefused, Index, ordered
from nimble_quote.core.edits.touching import Touches, subject, words_of_cut
from nimble_quote.core.model import Frozen
from nimble_quote.core.transcript.words import Word, WordRef


class PartCaption(Frozen):
    """Begins a new cue, or a new line, with a word."""

    kind: Literal["part-caption"] = "part-caption"
    word: Index
    at: Literal["cue", "line"] = "cue"

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        return with_break(document, self.word, self.at, context)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Began a {'caption' if self.at == 'cue' else 'line'} at “{context.talk.word(self.word).text}”"

    def touches(self, context: Context) -> Touches:
        return words_of_cut(max(0, self.word - 1), self.word)


class JoinCaptions(Frozen):
    """Has the words from one to another in one cue, whatever lines it then takes."""

    kind: Literal["join-captions"] = "join-captions"
    first: Index
    last: Index

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        words = words_between(document, self.first, self.last, context)
        lines = {one.right for one in document.captions.breaks if one.kind == "line"}
        out = document
        for word in words[1:]:
            if word.ref not in lines:
                out = with_break(out, word.index, "join", context)
        return out

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Joined the captions of “{_quoted(self.first, self.last, context)}”"

    def touches(self, context: Context) -> Touches:
        return words_of_cut(max(0, self.first - 1), self.last + 1)


class MoveBreak(Frozen):
    """Moves the beginning of a cue, or of a line, from one word to another."""

    kind: Literal["move-break"] = "move-break"
    word: Index
    to: Index
    at: Literal["cue", "line"] = "cue"

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        if self.word == self.to:
            return document
        low, high = sorted((self.word, self.to))
        between = {word.index for word in kept_words(document, context.talk) if low <= word.index <= high}
        cleared = document
        for index in between:
            cleared = _without_break(cleared, index, context)
        joined = with_break(cleared, self.word, "join", context)
        return with_break(joined, self.to, self.at, context)

    def said(self, document: QuoteDocument, context: Context) -> str:
        what = "caption" if self.at == "cue" else "line"
        return f"Moved the start of a {what} to “{context.talk.word(self.to).text}”"

    def touches(self, context: Context) -> Touches:
        return words_of_cut(max(0, min(self.word, self.to) - 1), max(self.word, self.to))


class TimeCaption(Frozen):
    """Has the cue that begins (or ends) with a word show so much later, or earlier, than that is said. It then begins, or ends,
    with that word for good."""

    kind: Literal["time-caption"] = "time-caption"
    word: Index
    edge: Edge
    shift_ms: int | None = Field(ge=-5000, le=5000)
    """In ms of the source; None leaves it to the program."""

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        word = context.talk.word(self.word)
        others = [one for one in document.captions.retimed if (one.word, one.edge) != (word.ref, self.edge)]
        if self.shift_ms is None:
            return with_captions(document, retimed=tuple(others))
        kept = kept_words(document, context.talk)
        place = next((n for n, one in enumerate(kept) if one.index == word.index), None)
        if place is None:
            raise EditRefused("That word is not in the cut, so no caption begins or ends with it.")
        at = place if self.edge == "in" else place + 1
        there = with_break(document, kept[at].index, "cue", context) if 0 < at < len(kept) else document
        mine = Retimed(word=word.ref, edge=self.edge, shift_ms=self.shift_ms)
        beside = [one for one in there.captions.retimed if (one.word, one.edge) != (word.ref, self.edge)]
        return with_captions(there, retimed=(*beside, mine))

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Changed when the caption {'with' if self.edge == 'in' else 'up to'} “{context.talk.word(self.word).text}” {'shows' if self.edge == 'in' else 'goes'}"

    def touches(self, context: Context) -> Touches:
        return words_of_cut(max(0, self.word - 1), self.word + 1)


class HideCaption(Frozen):
    """Shows no captions for some words, or shows them again."""

    kind: Literal["hide-caption"] = "hide-caption"
    first: Index
    last: Index
    hidden: bool = True

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        return _marked(document, self.first, self.last, context, hidden=self.hidden)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"{'Hid' if self.hidden else 'Showed'} the caption “{_quoted(self.first, self.last, context)}”"

    def touches(self, context: Context) -> Touches:
        return words_of_cut(self.first, self.last)


class PlaceCaption(Frozen):
    """Has the cue of some words stand at a height of its own, or with the others again."""

    kind: Literal["place-caption"] = "place-caption"
    first: Index
    last: Index
    height: Fraction01 | None

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        return _marked(document, self.first, self.last, context, height=self.height)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Moved the caption “{_quoted(self.first, self.last, context)}”"

    def touches(self, context: Context) -> Touches:
        return words_of_cut(self.first, self.last)


class ChangeCueLook(Frozen):
    """Has the cue of some words look otherwise than the others. What else it has of its own stays; no change at all resets that."""

    kind: Literal["change-cue-look"] = "change-cue-look"
    first: Index
    last: Index
    look: LookChanges = Field(default_factory=dict, max_length=40)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        look = look_of(document, context.catalogue)
        own = _own_look(document, self.first, self.last, context)
        changes = look_changes(with_change(own, self.look, look) if self.look else {}, look, context)
        return _marked(document, self.first, self.last, context, look=changes)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Changed the look of the caption “{_quoted(self.first, self.last, context)}”"

    def touches(self, context: Context) -> Touches:
        return words_of_cut(self.first, self.last)


class EmphasiseWords(Frozen):
    """Emphasises words in the captions, or no more."""

    kind: Literal["emphasise-words"] = "emphasise-words"
    first: Index
    last: Index
    on: bool = True

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        refs = [word.ref for word in words_between(document, self.first, self.last, context)]
        others = [ref for ref in document.captions.emphasised if ref not in refs]
        return with_captions(document, emphasised=tuple([*others, *refs] if self.on else others))

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"{'Emphasised' if self.on else 'No more emphasised'} “{_quoted(self.first, self.last, context)}”"

    def touches(self, context: Context) -> Touches:
        return words_of_cut(self.first, self.last)


class LetGoCaptions(Frozen):
    """Leaves how the words from one to another are captioned to the program again: breaks, times, places, and what is hidden. What
    they say stays."""

    kind: Literal["let-go-captions"] = "let-go-captions"
    first: Index
    last: Index

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        words = words_between(document, self.first, self.last, context)
        refs = {word.ref for word in words}
        captions = document.captions
        return with_captions(
            document,
            breaks=tuple(one for one in captions.breaks if one.left not in refs and one.right not in refs),
            retimed=tuple(one for one in captions.retimed if one.word not in refs),
            marked=tuple(one for one in captions.marked if not _meets(one, words[0], words[-1], context)),
        )

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Let the captions of “{_quoted(self.first, self.last, context)}” go"

    def touches(self, context: Context) -> Touches:
        return words_of_cut(max(0, self.first - 1), self.last + 1)


class AddCaption(Frozen):
    """Puts a cue in where nothing is transcribed, over a stretch of the source."""

    kind: Literal["add-caption"] = "add-caption"
    start_ms: Index
    end_ms: Index
    text: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=300)]

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        number = max((one.id for one in document.captions.added), default=0) + 1
        return with_captions(document, added=(*document.captions.added, self.cue(number)))

    def cue(self, number: int) -> AddedCue:
        """The cue of that number."""
        if self.end_ms - self.start_ms < 100:
            raise EditRefused("A caption shows for a tenth of a second at least.")
        return AddedCue(id=number, start_ms=self.start_ms, end_ms=self.end_ms, text=shown_only(self.text))

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Put in the caption “{self.text}”"

    def touches(self, context: Context) -> Touches:
        return subject("added captions")


class ChangeAddedCaption(AddCaption):
    """Says anew what a cue that was put in says, and when."""

    kind: Literal["change-added-caption"] = "change-added-caption"  # type: ignore[assignment]
    id: int = Field(ge=1)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        if all(one.id != self.id for one in document.captions.added):
            raise EditRefused("That caption is no longer there.")
        added = (self.cue(self.id) if one.id == self.id else one for one in document.captions.added)
        return with_captions(document, added=tuple(added))

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Changed the caption “{self.text}”"


class RemoveAddedCaption(Frozen):
    """Takes a cue out that was put in."""

    kind: Literal["remove-added-caption"] = "remove-added-caption"
    id: int = Field(ge=1)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        kept = tuple(one for one in document.captions.added if one.id != self.id)
        if len(kept) == len(document.captions.added):
            raise EditRefused("That caption is no longer there.")
        return with_captions(document, added=kept)

    def said(self, document: QuoteDocument, context: Context) -> str:
        gone = next((one.text for one in document.captions.added if one.id == self.id), "")
        return f"Took out the caption “{gone}”"

    def touches(self, context: Context) -> Touches:
        return subject("added captions")


def with_break(document: QuoteDocument, index: int, kind: BreakKind, context: Context) -> QuoteDocument:
    """The document with a decision about the place before a word that is kept. Raises `EditRefused` where nothing is there."""
    left, right = _beside(document, index, context)
    # Where a cue begins already, the times that were given to it stay.
    cleared = _without_break(document, index, context, retimed=kind != "cue")
    made = Break(left=left, right=right, kind=kind)
    return with_captions(cleared, breaks=(*cleared.captions.breaks, made))


def _without_break(document: QuoteDocument, index: int, context: Context, *, retimed: bool = True) -> QuoteDocument:
    """The document without a decision about the place before a word; nor, where that goes as well, one about when a cue begins
    or ends there."""
    kept = kept_words(document, context.talk)
    place = next((n for n, word in enumerate(kept) if word.index == index), None)
    if not place:
        return document
    left, right = kept[place - 1].ref, kept[place].ref
    captions = document.captions
    gone = ((left, "out"), (right, "in")) if retimed else ()
    return with_captions(
        document,
        breaks=tuple(one for one in captions.breaks if one.left != left and one.right != right),
        retimed=tuple(one for one in captions.retimed if (one.word, one.edge) not in gone),
    )


def _beside(document: QuoteDocument, index: int, context: Context) -> tuple[WordRef, WordRef]:
    kept = kept_words(document, context.talk)
    place = next((n for n, word in enumerate(kept) if word.index == index), None)
    if place is None:
        raise EditRefused("That word is not in the cut, so no caption shows it.")
    if place == 0:
        raise EditRefused("Nothing is said before the first word, so there is nothing to part it from.")
    return kept[place - 1].ref, kept[place].ref


def _marked(document: QuoteDocument, first: int, last: int, context: Context, **fields: object) -> QuoteDocument:
    """The document with a mark on some words; what other marks on any of them say of the same is taken away."""
    words = words_between(document, first, last, context)
    refs = words[0].ref, words[-1].ref
    marks: list[CueMark] = []
    mine = CueMark(first=refs[0], last=refs[1])
    for one in document.captions.marked:
        if (one.first, one.last) == refs:
            mine = one
        elif _meets(one, words[0], words[-1], context):
            marks.append(
                one.model_copy(
                    update={
                        field: CueMark.model_fields[field].get_default(call_default_factory=True) for field in fields
                    }
                )
            )
        else:
            marks.append(one)
    marks.append(CueMark.model_validate({**dict(mine), **fields}))
    return with_captions(
        document, marked=tuple(one for one in marks if one.hidden or one.height is not None or one.look)
    )


def _own_look(document: QuoteDocument, first: int, last: int, context: Context) -> LookChanges:
    """What some words have of a look of their own."""
    words = words_between(document, first, last, context)
    own: LookChanges = {}
    for one in document.captions.marked:
        if _meets(one, words[0], words[-1], context):
            own = own | one.look
    return own


def _meets(mark: CueMark, first: Word, last: Word, context: Context) -> bool:
    begins, ends = context.talk.lasting(mark.first), context.talk.lasting(mark.last)
    return begins is not None and ends is not None and begins.index <= last.index and ends.index >= first.index


def _quoted(first: int, last: int, context: Context) -> str:
    low, high = ordered(first, last, context)
    words = [one.text for one in context.talk.words if low <= one.index <= high]
    text = " ".join(words)
    return text if len(text) <= 40 else f"{text[:39]}…"
