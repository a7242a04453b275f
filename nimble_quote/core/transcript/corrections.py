"""Every change a person can make to a transcript, as a command: `(transcript, correction) -> transcript`.

To add one: a class with a new `kind` here, listed in `Correction`, with `applied` (the new transcript; raise
`CorrectionRefused` where it makes no sense) and `said` (what the history calls it).
"""

import itertools
import re
from collections.abc import Sequence
from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field, StringConstraints
from rapidfuzz.distance import Levenshtein

from nimble_quote.core.model import Frozen
from nimble_quote.core.refusal import Refused
from nimble_quote.core.transcript.document import COLOURS, SpokenSentence, SpokenWord, Transcript
from nimble_quote.core.transcript.words import Lineage, WordMissing

Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
_LEAST_WORD_MS = 60
_Run = tuple[bool, int, int, int, int]
"""Whether words stay, the run of old words, and the run of new ones."""
_AROUND = re.compile(r"^\W+|\W+$")


class CorrectionRefused(Refused):
    """A correction that makes no sense on this transcript; the message says why."""

    code = "correction-refused"


class CorrectWords(Frozen):
    """Writes other words for the words `first` to `last`; none takes them out."""

    kind: Literal["correct-words"] = "correct-words"
    first: int = Field(ge=0)
    last: int = Field(ge=0)
    text: str = Field(max_length=2000)

    def applied(self, transcript: Transcript) -> Transcript:
        return _corrected(transcript, self.first, self.last, self.text)

    def said(self, transcript: Transcript) -> str:
        old = " ".join(word.text for word in words_between(transcript, self.first, self.last))
        new = " ".join(self.text.split())
        return f"Corrected “{_short(old)}” to “{_short(new)}”" if new else f"Took out “{_short(old)}”"


class ReplaceAll(Frozen):
    """Writes other words at every one of some places where the same is said; each place is its first word."""

    kind: Literal["replace-all"] = "replace-all"
    find: str = Field(min_length=1, max_length=200)
    text: str = Field(max_length=200)
    places: tuple[int, ...] = Field(min_length=1, max_length=5000)

    def applied(self, transcript: Transcript) -> Transcript:
        there = {place.first: place for place in find_occurrences(transcript, self.find)}
        if missing := [first for first in self.places if first not in there]:
            raise CorrectionRefused(f"“{self.find}” is not said at word {missing[0] + 1} any more. Look for it again.")
        # From the last to the first, so that the numbers of those to come stay right.
        for first in sorted(self.places, reverse=True):
            last = there[first].last
            words = words_between(transcript, first, last)
            transcript = _corrected(transcript, first, last, _dressed(self.text, words))
        return transcript

    def said(self, transcript: Transcript) -> str:
        return f"Corrected “{_short(self.find)}” to “{_short(self.text)}” at {len(self.places)} places"


class AssignSpeaker(Frozen):
    """Says who speaks the words `first` to `last`; sentences are parted where the speaker changes in them."""

    kind: Literal["assign-speaker"] = "assign-speaker"
    first: int = Field(ge=0)
    last: int = Field(ge=0)
    speaker: Name | None

    def applied(self, transcript: Transcript) -> Transcript:
        from_sentence, from_word = transcript.place_of(min(self.first, self.last))
        to_sentence, to_word = transcript.place_of(max(self.first, self.last))
        out = list(transcript.sentences[:from_sentence])
        for number in range(from_sentence, to_sentence + 1):
            sentence = transcript.sentences[number]
            low = from_word if number == from_sentence else 0
            high = to_word + 1 if number == to_sentence else len(sentence.words)
            for words, speaker in (
                (sentence.words[:low], sentence.speaker),
                (sentence.words[low:high], self.speaker),
                (sentence.words[high:], sentence.speaker),
            ):
                if words:
                    out.append(SpokenSentence(words=words, speaker=speaker))
        return transcript.with_sentences([*out, *transcript.sentences[to_sentence + 1 :]])

    def said(self, transcript: Transcript) -> str:
        words = " ".join(word.text for word in words_between(transcript, self.first, self.last))
        return f"“{_short(words)}” is said by {self.speaker or 'nobody named'}"


class RenameSpeaker(Frozen):
    """Gives a speaker another name; where another has it already, the two become one."""

    kind: Literal["rename-speaker"] = "rename-speaker"
    name: Name
    to: Name

    def applied(self, transcript: Transcript) -> Transcript:
        if not any(sentence.speaker == self.name for sentence in transcript.sentences):
            raise CorrectionRefused(f"Nobody called “{self.name}” speaks here.")
        colours = dict(transcript.colours)
        colours.setdefault(self.to, colours.get(self.name, 0))
        renamed = tuple(
            replace(sentence, speaker=self.to) if sentence.speaker == self.name else sentence
            for sentence in transcript.sentences
        )
        return replace(transcript, sentences=renamed, colours=colours)

    def said(self, transcript: Transcript) -> str:
        merged = any(sentence.speaker == self.to for sentence in transcript.sentences)
        return f"{'Joined' if merged else 'Renamed'} {self.name} {'with' if merged else 'to'} {self.to}"


class RecolourSpeaker(Frozen):
    """Shows a speaker in another colour."""

    kind: Literal["recolour-speaker"] = "recolour-speaker"
    name: Name
    colour: int = Field(ge=0, lt=COLOURS)

    def applied(self, transcript: Transcript) -> Transcript:
        if self.name not in transcript.colours:
            raise CorrectionRefused(f"Nobody called “{self.name}” speaks here.")
        return replace(transcript, colours={**transcript.colours, self.name: self.colour})

    def said(self, transcript: Transcript) -> str:
        return f"Gave {self.name} another colour"


class EndSentence(Frozen):
    """Ends a sentence after a word; what was its rest is one of its own."""

    kind: Literal["end-sentence"] = "end-sentence"
    after: int = Field(ge=0)

    def applied(self, transcript: Transcript) -> Transcript:
        number, word = transcript.place_of(self.after)
        sentence = transcript.sentences[number]
        if word + 1 == len(sentence.words):
            raise CorrectionRefused("The sentence ends there already.")
        parts = (replace(sentence, words=run) for run in (sentence.words[: word + 1], sentence.words[word + 1 :]))
        return transcript.with_sentences([*transcript.sentences[:number], *parts, *transcript.sentences[number + 1 :]])

    def said(self, transcript: Transcript) -> str:
        return f"Ended a sentence at “{_short(words_between(transcript, self.after, self.after)[0].text)}”"


class JoinSentences(Frozen):
    """Joins the sentence that ends at a word with the next one of the same speaker."""

    kind: Literal["join-sentences"] = "join-sentences"
    after: int = Field(ge=0)

    def applied(self, transcript: Transcript) -> Transcript:
        number, word = transcript.place_of(self.after)
        sentence = transcript.sentences[number]
        if word + 1 < len(sentence.words):
            raise CorrectionRefused("No sentence ends there.")
        if number + 1 == len(transcript.sentences):
            raise CorrectionRefused("That is the last sentence: there is none to join it with.")
        following = transcript.sentences[number + 1]
        if following.speaker != sentence.speaker:
            raise CorrectionRefused("The next sentence is said by somebody else. Say first who speaks it.")
        joined = replace(sentence, words=(*sentence.words, *following.words))
        return transcript.with_sentences([*transcript.sentences[:number], joined, *transcript.sentences[number + 2 :]])

    def said(self, transcript: Transcript) -> str:
        return f"Joined two sentences after “{_short(words_between(transcript, self.after, self.after)[0].text)}”"


Correction = Annotated[
    CorrectWords | ReplaceAll | AssignSpeaker | RenameSpeaker | RecolourSpeaker | EndSentence | JoinSentences,
    Field(discriminator="kind"),
]


class Occurrence(Frozen):
    """Where something is said, by first and last word, with what stands around it."""

    first: int
    last: int
    text: str
    before: str
    after: str
    start_ms: int


def correct(transcript: Transcript, correction: Correction) -> tuple[Transcript, str]:
    """The transcript after a correction, and what the history calls it. Raises `CorrectionRefused`."""
    try:
        said = correction.said(transcript)
        changed = correction.applied(transcript)
    except WordMissing as missing:
        raise CorrectionRefused(f"{str(missing).capitalize()}.") from missing
    if not changed.sentences:
        raise CorrectionRefused("That would take out every word. Keep at least one.")
    return changed.with_ids(), said


def bare(text: str) -> str:
    """A word without the marks around it, in lower case: what it is compared by."""
    return _AROUND.sub("", text).casefold()


def words_between(transcript: Transcript, first: int, last: int) -> list[SpokenWord]:
    """The words `first` to `last`. Raises `WordMissing` where there is no such run."""
    transcript.place_of(min(first, last))
    transcript.place_of(max(first, last))
    flat = [word for sentence in transcript.sentences for word in sentence.words]
    return flat[min(first, last) : max(first, last) + 1]


def find_occurrences(transcript: Transcript, typed: str) -> list[Occurrence]:
    """Every place where some words are said, whatever the marks around them and their case; none overlaps another."""
    wanted = [word for word in (bare(part) for part in typed.split()) if word]
    flat = [word for sentence in transcript.sentences for word in sentence.words]
    plain = [bare(word.text) for word in flat]
    places: list[Occurrence] = []
    at = 0
    while wanted and at <= len(flat) - len(wanted):
        if plain[at : at + len(wanted)] == wanted:
            places.append(occurrence_at(flat, at, at + len(wanted) - 1))
            at += len(wanted)
        else:
            at += 1
    return places


def occurrence_at(flat: Sequence[SpokenWord], first: int, last: int) -> Occurrence:
    """A run of words with six words on either side."""

    def said(low: int, high: int) -> str:
        return " ".join(word.text for word in flat[max(0, low) : high])

    return Occurrence(
        first=first,
        last=last,
        text=said(first, last + 1),
        before=said(first - 6, first),
        after=said(last + 1, last + 7),
        start_ms=flat[first].start_ms,
    )


def _corrected(transcript: Transcript, first: int, last: int, text: str) -> Transcript:
    first, last = min(first, last), max(first, last)
    from_sentence, from_word = transcript.place_of(first)
    to_sentence, to_word = transcript.place_of(last)
    run = transcript.sentences[from_sentence : to_sentence + 1]
    if len({sentence.speaker for sentence in run}) > 1:
        raise CorrectionRefused("These words are said by more than one speaker. Correct the words of each alone.")
    words = [word for sentence in run for word in sentence.words]
    end = len(words) - len(run[-1].words) + to_word + 1
    new = rewritten(words[from_word:end], text.split())
    changed = (*words[:from_word], *new, *words[end:])
    joined = SpokenSentence(words=changed, speaker=run[0].speaker)
    return transcript.with_sentences(
        [*transcript.sentences[:from_sentence], joined, *transcript.sentences[to_sentence + 1 :]]
    )


def rewritten(old: Sequence[SpokenWord], texts: Sequence[str]) -> list[SpokenWord]:
    """Words for new texts in the time of the old ones.

    Words that stay keep everything. A run of words that gave way to as many keeps their times one by one; to fewer or
    more, they share the time of the run by their lengths. What was heard stays on the first word of a run. Each new word
    is the one whose place in the run it takes; the last stands for those that are left over, too.
    """
    out: list[SpokenWord] = []
    plan = Levenshtein.opcodes([bare(word.text) or word.text for word in old], [bare(t) or t for t in texts])
    steps = [(code.tag, code.src_start, code.src_end, code.dest_start, code.dest_end) for code in plan]
    for same, low, high, first, end in _with_room(_runs(steps), old):
        if same:
            out += [
                word if word.text == text else _as_said(word, text)
                for word, text in zip(old[low:high], texts[first:end], strict=True)
            ]
        elif high - low == end - first:
            out += [_as_said(word, text) for word, text in zip(old[low:high], texts[first:end], strict=True)]
        elif first < end:
            out += _sharing(old, low, high, texts[first:end])
        elif out:
            out[-1] = _also_before(out[-1], old[low:high])
    return out


def _runs(steps: Sequence[tuple[str, int, int, int, int]]) -> list[_Run]:
    """Opcodes with all that changes between two equal stretches made one run."""
    runs: list[_Run] = []
    for tag, low, high, first, end in steps:
        same = tag == "equal"
        if runs and not same and not runs[-1][0]:
            runs[-1] = (False, runs[-1][1], high, runs[-1][3], end)
        else:
            runs.append((same, low, high, first, end))
    return runs


def _with_room(runs: list[_Run], old: Sequence[SpokenWord]) -> list[_Run]:
    """Words put in where none gave way need a gap; where there is none, the word beside them shares its time."""
    out: list[_Run] = []
    at = 0
    while at < len(runs):
        same, low, high, first, end = runs[at]
        at += 1
        if same or low < high or _gap_ms(old, low) >= (end - first) * _LEAST_WORD_MS:
            out.append((same, low, high, first, end))
        elif out:
            before_same, before_low, before_high, before_first, before_end = out.pop()
            if not before_same:
                out.append((False, before_low, high, before_first, end))
                continue
            if before_low < before_high - 1:
                out.append((True, before_low, before_high - 1, before_first, before_end - 1))
            out.append((False, before_high - 1, high, before_end - 1, end))
        else:
            _, after_low, after_high, after_first, after_end = runs[at]
            out.append((False, low, after_low + 1, first, after_first + 1))
            if after_low + 1 < after_high:
                runs[at] = (True, after_low + 1, after_high, after_first + 1, after_end)
            else:
                del runs[at]
    return out


def _gap_ms(old: Sequence[SpokenWord], at: int) -> int:
    return old[at].start_ms - old[at - 1].end_ms if 0 < at < len(old) else 0


def _as_said(word: SpokenWord, text: str) -> SpokenWord:
    """One word for one: its time stays; a word put back to what was heard counts as never corrected."""
    heard = word.heard if word.heard is not None else word.text
    return replace(word, text=text, sure=None, heard=None if text == heard else heard)


def _sharing(old: Sequence[SpokenWord], low: int, high: int, texts: Sequence[str]) -> list[SpokenWord]:
    gone = old[low:high]
    if gone:
        start, end = gone[0].start_ms, gone[-1].end_ms
    else:
        start, end = old[low - 1].end_ms, old[low].start_ms
    if end - start < len(texts):
        raise CorrectionRefused(
            "There is no time here for so many words. Select the words beside it too, and write all."
        )
    heard = " ".join(word.heard if word.heard is not None else word.text for word in gone)
    edges = _shares(start, end, [len(text) + 1 for text in texts])
    made = [
        SpokenWord(text=text, start_ms=a, end_ms=b, timing="e", heard=heard if place == 0 else "")
        for place, (text, (a, b)) in enumerate(zip(texts, edges, strict=True))
    ]
    return [*_descended(made[: len(gone)], gone), *(_split_off(word, gone) for word in made[len(gone) :])]


def _descended(made: Sequence[SpokenWord], gone: Sequence[SpokenWord]) -> list[SpokenWord]:
    """New words as those whose places they take, the last also as those that are left over."""
    out = [replace(new, id=old.id, lineage=old.lineage) for new, old in zip(made, gone, strict=False)]
    left = gone[len(made) :]
    if out and left:
        lineage = out[-1].lineage
        joined = [ref for word in left for ref in (word.id, *word.lineage.joined) if ref is not None]
        taken = [ref for word in left for ref in word.lineage.gone]
        out[-1] = replace(
            out[-1],
            lineage=replace(lineage, joined=(*lineage.joined, *joined), gone=(*lineage.gone, *taken)),
        )
    return out


def _split_off(word: SpokenWord, gone: Sequence[SpokenWord]) -> SpokenWord:
    """A new word that came out of the last of those that gave way, where any did."""
    if not gone:
        return word
    whole = gone[-1].id if gone[-1].lineage.part_of is None else gone[-1].lineage.part_of
    return replace(word, lineage=Lineage(part_of=whole))


def _shares(start: int, end: int, weights: Sequence[int]) -> list[tuple[int, int]]:
    total, at, edges = sum(weights), 0, [start]
    for weight in weights:
        at += weight
        edges.append(max(edges[-1] + 1, start + round((end - start) * at / total)))
    return list(itertools.pairwise(edges))


def _also_before(word: SpokenWord, gone: Sequence[SpokenWord]) -> SpokenWord:
    told = word.heard if word.heard is not None else word.text
    lost = " ".join(w.heard if w.heard is not None else w.text for w in gone)
    taken = [ref for w in gone for ref in (w.id, *w.lineage.joined, *w.lineage.gone) if ref is not None]
    lineage = replace(word.lineage, gone=(*word.lineage.gone, *taken))
    return replace(word, heard=" ".join(f"{told} {lost}".split()), lineage=lineage)


def _dressed(text: str, old: Sequence[SpokenWord]) -> str:
    """A replacement with the marks that stood around what it replaces."""
    before = re.match(r"^\W*", old[0].text)
    after = re.search(r"\W*$", old[-1].text)
    return f"{before[0] if before else ''}{text}{after[0] if after else ''}" if text.strip() else ""


def _short(text: str) -> str:
    return text if len(text) <= 48 else f"{text[:47].rstrip()}…"
