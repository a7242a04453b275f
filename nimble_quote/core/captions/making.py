"""Making the cues of a cut: its words divided and broken into lines, timed, and with all that a person decided of them."""

from bisect import bisect_right
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

from nimble_quote.core.captions.binding import bindings
from nimble_quote.core.captions.cues import Cue, CueWord, Line
from nimble_quote.core.captions.dividing import Atom, Room, divided, line_ends
from nimble_quote.core.captions.fixed import Fixed, Mark
from nimble_quote.core.captions.lettering import Lettering, characters
from nimble_quote.core.captions.timing import Clip, Said, times_of
from nimble_quote.core.captions.words import CaptionWord, joined
from nimble_quote.core.document import CaptionLook, Limits, Shape
from nimble_quote.core.language import Language

WIDER, _WIDE_FROM, _MOST_CHARACTERS = 1.4, 1.34, 42
"""A wide output holds longer lines, where there are more than one: by so much from this aspect on, and no more than are
read in one go."""
DASH = "– "


@dataclass(frozen=True, kw_only=True)
class Letters:
    """The look that captions are set in, in an output of a size in pixels, and what measures them."""

    look: CaptionLook
    output: tuple[int, int]
    shape: Shape
    lettering: Lettering
    language: Language
    across: float
    """How much of the output's width lines may take."""

    def width(self, text: str) -> float:
        """The width of a text as the look writes it, in font sizes."""
        look = self.look
        return self.lettering.width(look.cased(text), look.face, look.letter_spacing, self.language.code)

    @property
    def room(self) -> Room:
        """What a cue may take."""
        width, height = self.output
        return Room(limits=self.limits, line=self.across * width / (self.look.size * min(width, height)))

    @property
    def limits(self) -> Limits:
        """The limits of the look in this shape and language: where it has none for the shape, those of a wide one are wider."""
        own = self.look.limits_for(self.shape, self.language.code)
        limits = own.limits if own else self.look.limits
        if (own and own.shape) or limits.lines == 1 or self.output[0] < _WIDE_FROM * self.output[1]:
            return limits
        longer = max(limits.line_characters, min(_MOST_CHARACTERS, round(limits.line_characters * WIDER)))
        return limits.model_copy(update={"line_characters": longer})


@dataclass(frozen=True, kw_only=True)
class Added:
    """A cue that was put in by hand: its number, its text, and when it shows (ms of the output)."""

    id: int
    text: str
    start_ms: float
    end_ms: float


@dataclass(frozen=True, kw_only=True)
class Made:
    """The cues of a cut, in order and apart, and those that were hidden, as they would be shown."""

    cues: tuple[Cue, ...]
    hidden: tuple[Cue, ...] = ()


@dataclass(frozen=True, kw_only=True)
class _Part:
    """A cue before it is timed: the places of its words `first` up to before `end`, in lines that end at places; or one that
    was added."""

    first: int = 0
    end: int = 0
    line_ends: tuple[int, ...] = ()
    added: Added | None = None


def make_cues(
    words: Sequence[CaptionWord], fixed: Fixed, letters: Letters, clip: Clip, added: Sequence[Added] = (),
    names: Sequence[str] = (),
) -> Made:  # fmt: skip
    """The cues of a cut. `names` are those of its speakers, in the order of their numbers."""
    leads = _leads(words, letters.look, names)
    atoms = atoms_of(words, fixed, letters, leads)
    parts = [_Part(first=one.first, end=one.end, line_ends=one.line_ends) for one in divided(atoms, letters.room)]
    ordered = _with_added(parts, added, words)
    said = [_said(one, words, fixed) for one in ordered]
    times = times_of(said, letters.limits, clip)
    shown: list[Cue] = []
    hidden: list[Cue] = []
    for part, (first, end) in zip(ordered, times, strict=True):
        if end <= first:
            continue
        cue = (
            _added(part.added, letters, first, end)
            if part.added
            else _cue(part, words, fixed, leads, (first, end), clip)
        )
        away = any(mark.mark.hidden for mark in _marks_of(part, fixed))
        (hidden if away else shown).append(cue)
    return Made(cues=tuple(shown), hidden=tuple(hidden))


def atoms_of(words: Sequence[CaptionWord], fixed: Fixed, letters: Letters, leads: dict[int, str]) -> list[Atom]:
    """Words as what lines and cues may part."""
    binds = [*bindings(words, letters.language), 0.0] if words else []
    space = letters.width(" ")
    out = []
    for place, word in enumerate(words):
        after = place + 1
        kind = fixed.breaks.get(after, "")
        if after < len(words) and not kind and words[after].speaker != word.speaker:
            kind = "cue"
        text = leads.get(place, "") + word.text
        out.append(
            Atom(
                width=letters.width(text),
                space=0.0 if word.glued else space,
                characters=characters(text),
                start_ms=word.start_ms,
                end_ms=word.end_ms,
                binding=binds[place],
                after_join=word.after_join,
                fixed=kind,
            )
        )
    return out


def lines_of(text: str, letters: Letters, lines: int) -> tuple[str, ...]:
    """A text by itself in lines that fit, as few as do up to so many; where they don't, the last takes what is left."""
    pieces = [(piece, bool(n)) for token in text.split() for n, piece in enumerate(letters.lettering.pieces(token))]
    words = [
        CaptionWord(text=piece, start_ms=0, end_ms=0, index=n, after_join=False, glued=glued)
        for n, (piece, glued) in enumerate(pieces)
    ]
    if not words:
        return ()
    nothing = Fixed(breaks={}, shifts_in={}, shifts_out={}, marks=())
    edges = (0, *line_ends(atoms_of(words, nothing, letters, {}), letters.room, lines))
    return tuple(_text(words[a:b]) for a, b in pairwise(edges))


def _text(words: Sequence[CaptionWord]) -> str:
    return joined([(one.text, one.glued) for one in words])


def _leads(words: Sequence[CaptionWord], look: CaptionLook, names: Sequence[str]) -> dict[int, str]:
    """What stands before the words at which another person begins to speak; nothing where one person says all."""
    mark = look.speakers.mark
    if mark not in ("dash", "name") or len({word.speaker for word in words}) < 2:
        return {}
    out = {}
    for place, word in enumerate(words):
        if place == 0 or word.speaker != words[place - 1].speaker:
            name = names[word.speaker] if word.speaker < len(names) else ""
            out[place] = f"{name}: " if mark == "name" and name else DASH
    return out


def _with_added(parts: list[_Part], added: Sequence[Added], words: Sequence[CaptionWord]) -> list[_Part]:
    starts = [words[one.first].start_ms for one in parts]
    out = list(parts)
    for one in sorted(added, key=lambda one: -one.start_ms):
        out.insert(bisect_right(starts, one.start_ms), _Part(added=one))
    return out


def _said(part: _Part, words: Sequence[CaptionWord], fixed: Fixed) -> Said:
    if part.added:
        one = part.added
        word = CaptionWord(text=one.text, start_ms=one.start_ms, end_ms=one.end_ms, index=-1, after_join=False)
        return Said(words=[word], shift_in=0, shift_out=0)
    return Said(
        words=words[part.first : part.end],
        shift_in=fixed.shifts_in.get(part.first),
        shift_out=fixed.shifts_out.get(part.end - 1),
    )


def _added(added: Added, letters: Letters, first: int, end: int) -> Cue:
    lines = lines_of(added.text, letters, letters.limits.lines)
    words = [(CueWord(text=line, index=-1, first_frame=first, end_frame=end),) for line in lines]
    return Cue(
        first_frame=first,
        end_frame=end,
        lines=tuple(words),
        added=added.id,
        fixed=True,
        said_from_ms=added.start_ms,
        said_to_ms=added.end_ms,
    )


def _cue(
    part: _Part, words: Sequence[CaptionWord], fixed: Fixed, leads: dict[int, str], shown: tuple[int, int], clip: Clip
) -> Cue:
    first, end = shown
    spoken = _spoken(words[part.first : part.end], first, end, clip)
    edges = (part.first, *part.line_ends)
    marks = [one.mark for one in _marks_of(part, fixed)]
    inside = {*range(part.first, part.end + 1)}
    return Cue(
        first_frame=first,
        end_frame=end,
        lines=tuple(spoken[a - part.first : b - part.first] for a, b in pairwise(edges)),
        said_from_ms=words[part.first].start_ms,
        said_to_ms=words[part.end - 1].end_ms,
        speaker=words[part.first].speaker,
        lead=leads.get(part.first, ""),
        height=next((one.height for one in marks if one.height is not None), None),
        look={field: value for one in marks for field, value in one.look.items()},
        fixed=bool(marks or inside & fixed.places),
    )


def _marks_of(part: _Part, fixed: Fixed) -> Iterator[Mark]:
    if part.added is None:
        yield from (one for one in fixed.marks if one.first < part.end and part.first < one.end)


def _spoken(words: Sequence[CaptionWord], first: int, end: int, clip: Clip) -> Line:
    """Each word is the spoken one until the next begins, so that the mark never goes out between two words."""
    starts = [first, *(min(max(clip.frame(word.start_ms), first), end) for word in words[1:]), end]
    return tuple(
        CueWord(
            text=word.text, index=word.index, first_frame=starts[i], end_frame=starts[i + 1], glued=word.glued,
            emphasised=word.emphasised,
        )
        for i, word in enumerate(words)
    )  # fmt: skip
