"""The transcript of a recording as a person corrects it: sentences of words, and the colours of their speakers."""

import itertools
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from nimble_quote.core.language import NO_LANGUAGE, Language
from nimble_quote.core.transcript.cues import TimedWord, Timing
from nimble_quote.core.transcript.sentences import EndOdds, into_sentences, is_punctuated
from nimble_quote.core.transcript.words import ALONE, Lineage, Word, WordMissing, WordRef

COLOURS = 8
"""Colours of speakers, numbered from 0."""


@dataclass(frozen=True, kw_only=True, slots=True)
class SpokenWord:
    """A word as it stands in a transcript, without its number, which its place gives."""

    text: str
    start_ms: int
    end_ms: int
    timing: str = "g"
    """`g` given by the file, `a` aligned to the sound, `e` estimated from the text."""
    sure: int | None = None
    """Percent, where a recogniser told."""
    heard: str | None = None
    """What stood here before it was corrected: None where it was not, empty where a correction added it."""
    id: WordRef | None = None
    """The word for good; None until it is first kept."""
    lineage: Lineage = ALONE


@dataclass(frozen=True, kw_only=True, slots=True)
class SpokenSentence:
    """A sentence, never empty, and who says it."""

    words: tuple[SpokenWord, ...]
    speaker: str | None = None

    @property
    def text(self) -> str:
        return " ".join(word.text for word in self.words)


@dataclass(frozen=True, kw_only=True)
class Transcript:
    """All sentences of a recording in order of time, and a colour for each speaker that ever was named in it."""

    sentences: tuple[SpokenSentence, ...]
    colours: dict[str, int] = field(default_factory=dict)
    next_id: WordRef = 0
    """The number of the next new word."""

    @property
    def word_count(self) -> int:
        return sum(len(sentence.words) for sentence in self.sentences)

    def place_of(self, index: int) -> tuple[int, int]:
        """The sentence that holds a word, and the word's place in it. Raises `WordMissing` where there is none."""
        left = index
        for number, sentence in enumerate(self.sentences):
            if 0 <= left < len(sentence.words):
                return number, left
            left -= len(sentence.words)
        raise WordMissing(index)

    def with_sentences(self, sentences: Iterable[SpokenSentence]) -> "Transcript":
        """The same transcript with other sentences, every speaker of which has a colour."""
        kept = tuple(sentence for sentence in sentences if sentence.words)
        return replace(self, sentences=kept, colours=coloured(kept, self.colours))

    def with_ids(self) -> "Transcript":
        """The same transcript with a number for each new word."""
        counter = itertools.count(self.next_id)
        sentences = tuple(
            one
            if all(word.id is not None for word in one.words)
            else replace(one, words=tuple(w if w.id is not None else replace(w, id=next(counter)) for w in one.words))
            for one in self.sentences
        )
        return replace(self, sentences=sentences, next_id=next(counter))


def coloured(sentences: Sequence[SpokenSentence], colours: dict[str, int]) -> dict[str, int]:
    """A colour for every speaker: those there are, and for new ones the least used."""
    out = dict(colours)
    for sentence in sentences:
        if sentence.speaker is not None and sentence.speaker not in out:
            used = list(out.values())
            out[sentence.speaker] = min(range(COLOURS), key=lambda colour: (used.count(colour), colour))
    return out


_TIMINGS: dict[str, Timing] = {"g": "given", "a": "aligned", "e": "estimated"}
_LETTERS = {timing: letter for letter, timing in _TIMINGS.items()}


def transcript_of(
    words: Sequence[TimedWord], language: Language = NO_LANGUAGE, by_wording: EndOdds | None = None
) -> Transcript:
    """The transcript that words as they were read make; the language, and what was learned of its wording, tell where sentences
    end that no mark ends."""
    sentences = tuple(
        SpokenSentence(
            words=tuple(_spoken(heard) for heard in words[one.first : one.end]), speaker=words[one.first].speaker
        )
        for one in into_sentences(words, language, by_wording)
    )
    return Transcript(sentences=sentences, colours=coloured(sentences, {}))


def resentenced(
    transcript: Transcript,
    language: Language = NO_LANGUAGE,
    by_wording: EndOdds | None = None,
    marks_by_ear: bool = False,
    by_hand: Mapping[WordRef, bool] | None = None,
) -> Transcript:
    """The same words in the sentences that their times tell of, where no marks do: pauses are known once words are aligned,
    and marks where a recogniser heard them (`marks_by_ear`). `by_hand`: the words after which somebody ended a sentence, or had
    it go on (`ends_set`), which stays.

    Every word keeps its number, so that what hangs on words stays where it is.
    """
    timed = [word for sentence in timed_sentences(transcript) for word in sentence]
    if is_punctuated(timed) and not marks_by_ear:
        return transcript
    spoken = [word for sentence in transcript.sentences for word in sentence.words]
    ends = {one.end for one in into_sentences(timed, language, by_wording, marks_by_ear)}
    for place, (word, following) in enumerate(itertools.pairwise(timed), 1):
        ref = spoken[place - 1].id
        if ref is None or not by_hand or ref not in by_hand:
            continue
        if by_hand[ref]:
            ends.add(place)
        elif word.speaker == following.speaker:
            ends.discard(place)
    return transcript.with_sentences(
        SpokenSentence(words=tuple(spoken[first:end]), speaker=timed[first].speaker)
        for first, end in itertools.pairwise([0, *sorted(ends)])
    )


def ends_set(changes: Iterable[Sequence["Piece"]]) -> dict[WordRef, bool]:
    """The words after which sentences were ended by changes, in order, or made to go on."""
    out: dict[WordRef, bool] = {}
    for piece in (one for pieces in changes for one in pieces):
        before, after = (
            {sentence.words[-1].id for sentence in side if sentence.words} for side in (piece.removed, piece.added)
        )
        if [w.id for s in piece.removed for w in s.words] == [w.id for s in piece.added for w in s.words]:
            out |= {word: True for word in after - before if word is not None}
            out |= {word: False for word in before - after if word is not None}
    return out


def has_marks(transcript: Transcript) -> bool:
    """Whether marks tell where the sentences of a talk end."""
    return is_punctuated([word for sentence in timed_sentences(transcript) for word in sentence])


def _spoken(heard: TimedWord) -> SpokenWord:
    return SpokenWord(
        text=heard.word.text,
        start_ms=heard.word.start_ms,
        end_ms=heard.word.end_ms,
        timing=_LETTERS[heard.timing],
        sure=round(heard.sure * 100) if heard.sure is not None else None,
        heard=heard.heard,
    )


def numbered(sentences: Iterable[SpokenSentence], first: int = 0) -> list[Word]:
    """The words of sentences that follow one another, with their numbers in the talk."""
    flat = (word for sentence in sentences for word in sentence.words)
    return [
        Word(
            index=first + i,
            text=word.text,
            start_ms=word.start_ms,
            end_ms=word.end_ms,
            lasting=word.id,
            lineage=word.lineage,
        )
        for i, word in enumerate(flat)
    ]


def timed_sentences(transcript: Transcript) -> list[list[TimedWord]]:
    """The words of a transcript by sentence, numbered, each with its speaker: what is written to files."""
    out: list[list[TimedWord]] = []
    index = 0
    for sentence in transcript.sentences:
        run = numbered([sentence], index)
        index += len(run)
        out.append(
            [
                TimedWord(
                    word=word,
                    speaker=sentence.speaker,
                    timing=_TIMINGS[spoken.timing],
                    sure=spoken.sure / 100 if spoken.sure is not None else None,
                    heard=spoken.heard,
                )
                for word, spoken in zip(run, sentence.words, strict=True)
            ]
        )
    return out


@dataclass(frozen=True, kw_only=True)
class Piece:
    """Sentences that were changed: at sentence `at`, `removed` gave way to `added`."""

    at: int
    removed: tuple[SpokenSentence, ...]
    added: tuple[SpokenSentence, ...]


def pieces_between(before: Transcript, after: Transcript) -> list[Piece]:
    """What changed from one transcript to the next, as few sentences as may be, in order; apply them from the last.

    Where no sentence was split or joined, each changed sentence is a piece; otherwise one piece spans all changes.
    """
    old, new = before.sentences, after.sentences
    if len(old) == len(new):
        return [
            Piece(at=number, removed=(a,), added=(b,))
            for number, (a, b) in enumerate(zip(old, new, strict=True))
            if a is not b and a != b
        ]
    first = next((i for i, (a, b) in enumerate(zip(old, new, strict=False)) if a != b), min(len(old), len(new)))
    room = min(len(old), len(new)) - first
    tail = next((i for i in range(room) if old[-1 - i] != new[-1 - i]), room)
    return [Piece(at=first, removed=old[first : len(old) - tail], added=new[first : len(new) - tail])]


def undoing(pieces: Sequence[Piece]) -> list[Piece]:
    """The pieces that take some pieces back, in order; each has moved by what those before it added."""
    out, shift = [], 0
    for piece in pieces:
        out.append(Piece(at=piece.at + shift, removed=piece.added, added=piece.removed))
        shift += len(piece.added) - len(piece.removed)
    return out


def numbered_by_time(pieces: Sequence[Piece], now: Transcript) -> tuple[list[Piece], WordRef]:
    """Pieces whose words were kept before words had numbers, with those of the words that begin where they do now, and
    with new ones for the rest; and the number that comes next."""
    counter = itertools.count(now.next_id)
    known = {word.start_ms: word.id for one in now.sentences for word in one.words}

    def numbered_too(one: SpokenSentence) -> SpokenSentence:
        words = (word if word.id is not None else replace(word, id=_known(word)) for word in one.words)
        return replace(one, words=tuple(words))

    def _known(word: SpokenWord) -> WordRef | None:
        if known.get(word.start_ms) is None:
            known[word.start_ms] = next(counter)
        return known[word.start_ms]

    made = [
        Piece(
            at=piece.at,
            removed=tuple(numbered_too(one) for one in piece.removed),
            added=tuple(numbered_too(one) for one in piece.added),
        )
        for piece in pieces
    ]
    return made, next(counter)
