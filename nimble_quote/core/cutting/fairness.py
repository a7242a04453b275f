"""Whether a cut stays fair to the speaker: what was said, against what is heard.

Each check looks at the cut as a person would who reads both: at the sentences that lost words, at the joins between
sentences, and at the opening. What it finds is explained with the words before and after, to be mended or accepted.
The checks go by word lists (`core/language.py`) and punctuation, so that they err on the side of asking.

To add one: a function from a `Comparison` to findings, listed in `CHECKS`.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from itertools import pairwise
from typing import Literal

from nimble_quote.core.captions.words import shown_text
from nimble_quote.core.cutting.kept import kept_words, text_of
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.language import Language, bare
from nimble_quote.core.model import Frozen
from nimble_quote.core.talk import Talk
from nimble_quote.core.transcript.words import Sentence, Word, WordRef

RuleName = Literal[
    "negation", "condition", "hedge", "attribution", "correction",
    "far-apart", "other-question", "no-question", "points-back", "speaker-change", "caption",
]  # fmt: skip
FAR_APART_MS = 30_000
"""Two sentences that were said farther apart than this were hardly one thought."""
_CORRECTION_REACH = 12
_LONGEST_SPEAKER = 5
"""Who is quoted is named in so many words at most."""
_OPENING_WORDS = 8
_ENDS = ".?!;:—…"
_CLAUSE_ENDS = ",.?!;:—–…"


class Unfair(Frozen):
    """Something a cut does to what was said: `said` and `kept` are the words before and after.

    `id` names it across edits that leave it as it is. `first` and `last` are the words of the talk that it is about.
    """

    id: str
    rule: RuleName
    says: str
    do: str
    said: str
    kept: str
    first: int
    last: int


@dataclass(frozen=True, kw_only=True)
class Token:
    """A word as the checks read it."""

    word: Word
    bare: str
    kept: bool


@dataclass(frozen=True, kw_only=True)
class Comparison:
    """What was said from the sentence before the quote to the one in which it ends, and which of it is kept."""

    talk: Talk
    sentences: Sequence[Sentence]
    kept: frozenset[int]
    far_apart_ms: int
    captions: Mapping[WordRef, str] = field(default_factory=dict)
    """What captions say instead of words; empty where none are shown."""

    @property
    def language(self) -> Language:
        return self.talk.language

    @cached_property
    def tokens(self) -> list[list[Token]]:
        """The words of each sentence."""
        return [
            [Token(word=w, bare=bare(w.text), kept=w.index in self.kept) for w in self.talk.words_of(one)]
            for one in self.sentences
        ]

    @cached_property
    def whole(self) -> list[bool]:
        """Of each sentence, whether all of it is kept."""
        return [bool(words) and all(one.kept for one in words) for words in self.tokens]

    @cached_property
    def any_kept(self) -> list[bool]:
        return [any(one.kept for one in words) for words in self.tokens]

    def is_question(self, index: int) -> bool:
        """Whether a sentence asks something."""
        return self.tokens[index][-1].word.text.rstrip("\"'”’)").endswith("?")


def check_fairness(
    document: QuoteDocument, talk: Talk, destination: str | None = None, far_apart_ms: int = FAR_APART_MS
) -> tuple[Unfair, ...]:
    """All that the cut of a version, or of the base, does to what was said, in order of time."""
    compared = _compare(document, talk, destination, far_apart_ms)
    found = [one for check in CHECKS for one in check(compared)] if compared else []
    return tuple(sorted(found, key=lambda one: (one.first, one.rule)))


def unfair_without(talk: Talk, sentence: Sentence, kept: frozenset[int]) -> int:
    """How many things would be unfair inside a sentence of which only some words are kept."""
    compared = Comparison(talk=talk, sentences=(sentence,), kept=kept, far_apart_ms=FAR_APART_MS)
    return sum(1 for check in _WITHIN for _ in check(compared))


def _compare(document: QuoteDocument, talk: Talk, destination: str | None, far_apart_ms: int) -> Comparison | None:
    kept = frozenset(word.index for word in kept_words(document, talk, destination))
    if not kept or not talk.sentences:
        return None
    first, last = min(kept), max(kept)
    inside = [i for i, one in enumerate(talk.sentences) if one.first <= last and one.end > first]
    sentences = talk.sentences[max(0, inside[0] - 1) : inside[-1] + 1] if inside else ()
    captions = {one.word: one.text for one in document.captions.corrections} if document.captions.shown else {}
    return Comparison(talk=talk, sentences=sentences, kept=kept, far_apart_ms=far_apart_ms, captions=captions)


def _unfair(rule: RuleName, says: str, do: str, about: Sequence[Word], said: Sequence[Token]) -> Unfair:
    return Unfair(
        id=f"{rule}:{about[0].ref}", rule=rule, says=says, do=do, first=about[0].index, last=about[-1].index,
        said=text_of([one.word for one in said], most=400),
        kept=text_of([one.word for one in said if one.kept], most=400),
    )  # fmt: skip


# ---- Inside a sentence


def _clauses(words: Sequence[Token], language: Language) -> list[tuple[int, int]]:
    """A sentence in half-open runs of words: parted after punctuation, and before a word that begins a clause."""
    bounds = [0]
    for index in range(1, len(words)):
        after_mark = words[index - 1].word.text[-1:] in _CLAUSE_ENDS
        if after_mark or language.opening([one.bare for one in words[index : index + 3]], "clause_starts"):
            bounds.append(index)
    return [(a, b) for a, b in pairwise([*bounds, len(words)]) if b > a]


def _phrases(words: Sequence[Token], language: Language, of: str) -> Iterator[tuple[int, int]]:
    """The places, half-open, of the entries of a word list."""
    end = 0
    for at, one in enumerate(words):
        if at < end or not language.may_open(one.bare, of):
            continue
        found = language.opening([token.bare for token in words[at:]], of)
        if found:
            end = at + len(found.split())
            yield at, end


def _clause_of(clauses: Sequence[tuple[int, int]], index: int) -> tuple[int, int]:
    return next(one for one in clauses if one[0] <= index < one[1])


def _dropped(words: Sequence[Token], run: tuple[int, int]) -> bool:
    return all(not one.kept for one in words[run[0] : run[1]])


def _kept_in(words: Sequence[Token], run: tuple[int, int], language: Language) -> bool:
    """Whether something of a run is heard that says anything."""
    return any(one.kept and one.bare not in language.empty for one in words[run[0] : run[1]])


def _partly(compared: Comparison) -> Iterator[list[Token]]:
    """The sentences that lost words and are heard all the same."""
    for index, words in enumerate(compared.tokens):
        if compared.any_kept[index] and not compared.whole[index]:
            yield words


def _dropped_negation(compared: Comparison) -> Iterator[Unfair]:
    for words in _partly(compared):
        negated = [i for i, one in enumerate(words) if not one.kept and _negates(one.bare, compared.language)]
        clauses = _clauses(words, compared.language) if negated else []
        for i in negated:
            reach = _reach_of_negation(words, clauses, i, compared.language)
            if not _kept_in(words, reach, compared.language):
                continue
            yield _unfair(
                "negation", f"“{words[i].word.text}” is struck, and what it denies is kept.",
                "Put it back, or strike what it denies too.", [words[i].word], words,
            )  # fmt: skip


def _captions_deny_otherwise(compared: Comparison) -> Iterator[Unfair]:
    """What is burned in denies what was said, or does not deny what was."""
    for words in compared.tokens if compared.captions else ():
        kept = [one for one in words if one.kept]
        shown = [shown_text(one.word, compared.captions) for one in kept]
        said_count = sum(_negates(one.bare, compared.language) for one in kept)
        shown_count = sum(_negates(bare(part), compared.language) for text in shown for part in text.split())
        if said_count == shown_count:
            continue
        changed = [one for one, text in zip(kept, shown, strict=True) if text != one.word.text]
        denied = [one for one in changed if _negates(one.bare, compared.language)] or changed
        says = "leave out a denial that was said" if shown_count < said_count else "deny what was not denied"
        yield _unfair(
            "caption", f"The captions {says}: “{' '.join(' '.join(shown).split())}”",
            "Correct the captions to what was said.", [denied[0].word], words,
        )  # fmt: skip


def _negates(word: str, language: Language) -> bool:
    return word in language.negations or word.endswith(("n't", "n’t"))


def _reach_of_negation(
    words: Sequence[Token], clauses: Sequence[tuple[int, int]], index: int, language: Language
) -> tuple[int, int]:
    """What a negation denies: its clause, and after "I do not think" what is not thought."""
    start, end = _clause_of(clauses, index)
    # "I do not think, though, that…": the verb stands at the end of its clause.
    thinking = any(one.bare in language.thinking for one in words[max(index + 1, end - 2) : end])
    following = next((b for a, b in clauses if a == end), end)
    return start, following if thinking else end


def _dropped_condition(compared: Comparison) -> Iterator[Unfair]:
    for words in _partly(compared):
        found = [(a, b) for a, b in _phrases(words, compared.language, "conditions") if _dropped(words, (a, b))]
        clauses = _clauses(words, compared.language) if found else []
        for a, b in found:
            clause = _clause_of(clauses, a)
            if any(_kept_in(words, one, compared.language) for one in clauses):
                yield _unfair(
                    "condition", f"A condition is struck (“{text_of([w.word for w in words[clause[0] : clause[1]]])}”), "
                    "and what hangs on it is kept.", "Put the condition back, or strike what hangs on it.",
                    [one.word for one in words[a:b]], words,
                )  # fmt: skip


def _dropped_hedge(compared: Comparison) -> Iterator[Unfair]:
    says = "is struck: what the speaker was unsure of is said as if it were certain."
    yield from _dropped_phrase(compared, _hedges, "hedge", says)


def _hedges(words: Sequence[Token], language: Language) -> Iterator[tuple[int, int]]:
    ascribed = {index for a, b in _attributions(words, language) for index in range(a, b)}
    for a, b in _phrases(words, language, "hedges"):
        # A name of a month or a person in capitals is no doubt.
        if a not in ascribed and (a == 0 or words[a].word.text[0].islower() or words[a].bare == "i"):
            yield a, b
    for a, b in _phrases(words, language, "approximations"):
        if b < len(words) and _is_number(words[b].bare, language):
            yield a, b


def _dropped_attribution(compared: Comparison) -> Iterator[Unfair]:
    says = "is struck: somebody else's words become the speaker's own."
    yield from _dropped_phrase(compared, _attributions, "attribution", says, beyond=True)


def _attributions(words: Sequence[Token], language: Language) -> Iterator[tuple[int, int]]:
    """Set phrases, and somebody else with a word of saying: "the old men say"."""
    known = list(_phrases(words, language, "attributions"))
    yield from known
    start = 0
    for at, one in enumerate(words):
        if one.bare in language.saying and 0 < at - start <= _LONGEST_SPEAKER:
            alone = all(not a <= at < b for a, b in known)
            if alone and words[start].bare not in language.oneself:
                yield start, at + 1
        if one.word.text[-1] in _CLAUSE_ENDS:
            start = at + 1


def _dropped_phrase(
    compared: Comparison,
    find: Callable[[Sequence[Token], Language], Iterator[tuple[int, int]]],
    rule: RuleName,
    says: str,
    *,
    beyond: bool = False,
) -> Iterator[Unfair]:
    """A phrase that weakens or ascribes its clause is struck, and something of the clause is kept; `beyond`: or of the
    clause beside it."""
    for words in _partly(compared):
        found = [(a, b) for a, b in find(words, compared.language) if _dropped(words, (a, b))]
        clauses = _clauses(words, compared.language) if found else []
        for a, b in found:
            index = clauses.index(_clause_of(clauses, a))
            own = clauses[index]
            alone = all(a <= i < b or words[i].bare in compared.language.connectives for i in range(*own))
            reach = clauses[max(0, index - 1) : index + 2] if alone or beyond else [own]
            if any(_kept_in(words, one, compared.language) for one in reach):
                phrase = text_of([one.word for one in words[a:b]])
                yield _unfair(
                    rule, f"“{phrase.rstrip(',')}” {says}", "Put it back, or strike what it belongs to.",
                    [one.word for one in words[a:b]], words,
                )  # fmt: skip


def _dropped_correction(compared: Comparison) -> Iterator[Unfair]:
    """What was said wrongly is kept, and what it was corrected to is not: "I said forty, I mean fourteen"."""
    run = [one for words in compared.tokens for one in words]
    language = compared.language
    for a, b in _phrases(run, language, "corrections"):
        wrong = _last_telling(run, a, language)
        right = _first_telling(run, b, language, like=run[wrong].bare if wrong is not None else "")
        if wrong is None or right is None or not run[wrong].kept or run[right].kept:
            continue
        yield _unfair(
            "correction", f"“{run[wrong].word.text.rstrip(',.')}” is kept, and its correction to "
            f"“{run[right].word.text.rstrip(',.')}” is struck.", "Keep the correction, or strike both.",
            [run[wrong].word, run[right].word], run[max(0, wrong - 4) : right + 3],
        )  # fmt: skip


def _last_telling(run: Sequence[Token], before: int, language: Language) -> int | None:
    """The number just before a correction; where there is none, the last word that says something."""
    near = range(before - 1, max(-1, before - _CORRECTION_REACH), -1)
    numbers = [i for i in near if _is_number(run[i].bare, language)]
    others = [i for i in near if _tells(run[i].bare, language)]
    return next(iter(numbers or others), None)


def _first_telling(run: Sequence[Token], after: int, language: Language, like: str) -> int | None:
    """What a word is corrected to: a number for a number."""
    near = range(after, min(len(run), after + _CORRECTION_REACH))
    numbers = [i for i in near if _is_number(run[i].bare, language)]
    others = [i for i in near if _tells(run[i].bare, language)]
    return next(iter((numbers or others) if _is_number(like, language) else others), None)


def _tells(word: str, language: Language) -> bool:
    return bool(word) and not any(word in one for one in (language.empty, language.negations, language.corrections))


def _is_number(word: str, language: Language) -> bool:
    parts = word.split("-")
    return word[:1].isdigit() or all(part in language.numbers for part in parts)


# ---- Between sentences


def _joins(compared: Comparison) -> Iterator[tuple[int, int]]:
    """Pairs of sentences, by place, that follow one another in the cut and did not in the talk."""
    kept_at = [index for index, kept in enumerate(compared.any_kept) if kept]
    return ((a, b) for a, b in pairwise(kept_at) if b > a + 1)


def _far_apart(compared: Comparison) -> Iterator[Unfair]:
    for a, b in _joins(compared):
        last = next(one for one in reversed(compared.tokens[a]) if one.kept)
        first = next(one for one in compared.tokens[b] if one.kept)
        apart = first.word.start_ms - last.word.end_ms
        if apart > compared.far_apart_ms:
            yield _unfair(
                "far-apart", f"These sentences were said {apart / 1000:.0f} s apart and are heard as one thought.",
                "Keep what leads from one to the other, or make two quotes.", [first.word],
                [*compared.tokens[a], *compared.tokens[b]],
            )  # fmt: skip


def _other_question(compared: Comparison) -> Iterator[Unfair]:
    """Two answers are joined, and the question between them is gone."""
    for a, b in _joins(compared):
        asked = [index for index in range(a + 1, b) if compared.is_question(index) and _asks_somebody(compared, index)]
        same = compared.sentences[a].speaker == compared.sentences[b].speaker
        if asked and same:
            first = next(one for one in compared.tokens[b] if one.kept)
            yield _unfair(
                "other-question", f"Answers to two questions are joined: “{_text(compared, asked[-1])}” is struck.",
                "Put the question back, or keep one answer.", [first.word],
                [*compared.tokens[a], *compared.tokens[asked[-1]], *compared.tokens[b]],
            )  # fmt: skip


def _no_question(compared: Comparison) -> Iterator[Unfair]:
    """An answer is heard without its question, and leans on it."""
    for index in range(1, len(compared.tokens)):
        asked = index - 1
        if not compared.any_kept[index] or compared.any_kept[asked] or not compared.is_question(asked):
            continue
        words = [one for one in compared.tokens[index] if one.kept]
        leans = compared.language.opening([one.bare for one in words], "replies")
        if leans:
            yield _unfair(
                "no-question", f"“{leans.capitalize()}” answers “{_text(compared, asked)}”, which is not heard.",
                "Take the question in, or start after the reply.", [words[0].word],
                [*compared.tokens[asked], *compared.tokens[index]],
            )  # fmt: skip


def _points_back(compared: Comparison) -> Iterator[Unfair]:
    """The opening, or what follows a join, points at something that is not heard."""
    kept_at = [index for index, kept in enumerate(compared.any_kept) if kept]
    for number, index in enumerate(kept_at):
        if index == 0:
            # Nothing was said before it that it could point at.
            continue
        words = [one for one in compared.tokens[index] if one.kept]
        cut_into = words[0] is not compared.tokens[index][0]
        if not (number == 0 or kept_at[number - 1] < index - 1 or cut_into):
            continue
        on = _hangs_on(words, compared.language, after_join=number > 0)
        if on:
            where = "The quote opens" if number == 0 else "What follows the join opens"
            yield _unfair(
                "points-back", f"{where} on “{on}”, which points at something that is not heard.",
                "Take in what it points at, or start later.", [words[0].word],
                [*compared.tokens[index - 1], *compared.tokens[index]],
            )  # fmt: skip


def _hangs_on(words: Sequence[Token], language: Language, *, after_join: bool) -> str | None:
    said = [one.bare for one in words]
    if dangling := language.opening(said, "dangling"):
        return dangling
    joined = language.opening(said, "connectives")
    said = said[len(joined.split()) if joined else 0 :]
    for index, word in enumerate(said[:2]):
        # After a join a pronoun may still mean somebody named before it; at the opening there is nobody. "This lamp"
        # names what "this" alone points at.
        points = language.pointing.get(word, 1.0) < (0.3 if after_join else 0.46)
        if points and not (
            word in language.naming and said[index + 1 : index + 2] and _tells(said[index + 1], language)
        ):
            return word
        if word not in language.plain and word not in language.empty:
            return None
    return None


def _speaker_change(compared: Comparison) -> Iterator[Unfair]:
    """A join makes two people one: the end of what one said and the beginning of what the other said are struck."""
    kept_at = [index for index, kept in enumerate(compared.any_kept) if kept]
    for a, b in pairwise(kept_at):
        before, after = compared.sentences[a].speaker, compared.sentences[b].speaker
        if before == after or before is None or after is None:
            continue
        ends = compared.tokens[a][-1].kept
        begins = compared.tokens[b][0].kept
        if not (ends and begins):
            first = next(one for one in compared.tokens[b] if one.kept)
            yield _unfair(
                "speaker-change", f"A join runs the words of {before} and {after} together as if one person spoke.",
                f"Keep the end of what {before} says, or the beginning of what {after} says.", [first.word],
                [*compared.tokens[a], *compared.tokens[b]],
            )  # fmt: skip


def _asks_somebody(compared: Comparison, index: int) -> bool:
    """Whether a question was put by somebody else than who speaks after it: a speaker's own goes on as one thought."""
    following = compared.sentences[index + 1].speaker if index + 1 < len(compared.sentences) else None
    return compared.sentences[index].speaker != following


def _text(compared: Comparison, index: int) -> str:
    return text_of([one.word for one in compared.tokens[index]])


Check = Callable[[Comparison], Iterator[Unfair]]
_WITHIN: tuple[Check, ...] = (
    _dropped_negation,
    _dropped_condition,
    _dropped_hedge,
    _dropped_attribution,
    _dropped_correction,
)
CHECKS: tuple[Check, ...] = (
    *_WITHIN,
    _far_apart,
    _other_question,
    _no_question,
    _points_back,
    _speaker_change,
    _captions_deny_otherwise,
)
