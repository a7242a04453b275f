"""What a person decided of the captions of a quote. All of it names words for good, or moments of the source, so that it
holds through other edits of the cut: what loses its words sleeps, and is there again when they are."""

from typing import Annotated, Literal, Self

from pydantic import Field, StringConstraints, model_validator

from nimble_quote.core.document.framing import Fraction01
from nimble_quote.core.document.looks import LanguageCode, LookChanges
from nimble_quote.core.model import Frozen
from nimble_quote.core.transcript.words import WordRef

DEFAULT_STYLE = "quay"
MOST = 4000
"""Of each kind of decision in one quote."""
CueText = Annotated[str, StringConstraints(max_length=1000)]
BreakKind = Literal["cue", "line", "join"]
Edge = Literal["in", "out"]
TranslationShown = Literal["none", "instead", "below"]


class WordCorrection(Frozen):
    """What the captions say for a word: one word, several, or none."""

    word: WordRef
    text: str = Field(max_length=200)


class Break(Frozen):
    """What a person said of the place between two words: a new cue begins there, or a new line, or both are in one cue (`join`).

    A break holds while one of its words is kept; words stay joined while what is struck between them was joined as well.
    """

    left: WordRef | None = None
    right: WordRef | None = None
    kind: BreakKind

    @model_validator(mode="after")
    def _is_somewhere(self) -> Self:
        if self.left is None and self.right is None:
            raise ValueError("a break stands beside a word")
        return self


class Retimed(Frozen):
    """A cue that begins with a word shows so much later (or earlier) than that begins; one that ends with it, than it ends.
    In ms of the clip."""

    word: WordRef
    edge: Edge
    shift_ms: int = Field(ge=-5000, le=5000)


class CueMark(Frozen):
    """What holds for the cues that show some words: hidden, at a height of their own, of another look."""

    first: WordRef
    last: WordRef
    hidden: bool = False
    height: Fraction01 | None = None
    look: LookChanges = Field(default_factory=dict)


class AddedCue(Frozen):
    """A cue where nothing was transcribed, as [laughter]: a stretch of the source, and what it says."""

    id: int = Field(ge=1)
    start_ms: int = Field(ge=0)
    end_ms: int = Field(ge=0)
    text: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=300)]

    @model_validator(mode="after")
    def _lasts(self) -> Self:
        if self.end_ms <= self.start_ms:
            raise ValueError("a cue ends after it begins")
        return self


class TranslatedText(Frozen):
    """What some words say in another language."""

    first: WordRef
    last: WordRef
    text: CueText


class Translation(Frozen):
    """A translation of the captions: its language, and what each stretch of words says in it."""

    language: LanguageCode
    texts: tuple[TranslatedText, ...] = Field(default=(), max_length=MOST)


class Captions(Frozen):
    """The captions of the quote, the same in every version but for their place."""

    shown: bool = True
    style: str = DEFAULT_STYLE
    held: int | None = Field(default=None, ge=1)
    """The version of the style that the quote holds; None follows the newest."""
    look: LookChanges = Field(default_factory=dict)
    """What of the look is otherwise than the style says."""
    corrections: tuple[WordCorrection, ...] = ()
    breaks: tuple[Break, ...] = Field(default=(), max_length=MOST)
    retimed: tuple[Retimed, ...] = Field(default=(), max_length=MOST)
    marked: tuple[CueMark, ...] = Field(default=(), max_length=MOST)
    emphasised: tuple[WordRef, ...] = Field(default=(), max_length=MOST)
    added: tuple[AddedCue, ...] = Field(default=(), max_length=500)
    translations: tuple[Translation, ...] = Field(default=(), max_length=20)
    translation: str | None = None
    """The language of the translation that is burned in, where one is."""
    translation_shown: TranslationShown = "none"
