"""Playable passages: whole sentences around what answers a search, how well they answer, and which tell the same story.

A passage's score adds, in this order of importance:

    completeness   the rarity of the parts it has, as a share of all that were asked for            0..1
    closeness      how few words hold all of them: parts / words from the first to the last         0..0.5
    phrase         whether they follow one another as they were typed                               0 or 0.5
    exactness      the share of marked words that stand as typed (not a stem, a related word)       0..0.2

Rarity is the inverse document frequency of a part over the library (Spärck Jones 1972).
"""

import itertools
import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from nimble_quote.core.search.wanted import Lexemes, Wanted, marks, merged_marks

WIDEST = 12
"""A passage has so many sentences at most before it is rounded off."""
ENOUGH_WORDS = 25
"""A shorter passage is rounded off with its neighbours."""
SAME_STORY = 0.6
"""Passages are one story when so much of the shorter one's wording is in the other."""
_SHORTEST_STORY = 8


@dataclass(frozen=True, kw_only=True)
class SearchedSentence:
    """A sentence of a talk, its words with their lexemes."""

    recording_id: int
    number: int
    first_word: int
    speaker: str | None
    words: Sequence[str]
    lexemes: Lexemes
    start_ms: int
    end_ms: int


@dataclass(frozen=True, kw_only=True)
class Passage:
    """A run of whole sentences of one talk; `marks` are half-open ranges of its words, counted from its first."""

    sentences: tuple[SearchedSentence, ...]
    marks: tuple[tuple[int, int], ...]
    score: float
    missing: tuple[str, ...] = ()
    """The parts of the search that it does not have."""
    also: tuple["Passage", ...] = ()
    """Other passages that tell the same story."""

    @property
    def recording_id(self) -> int:
        return self.sentences[0].recording_id

    @property
    def first_word(self) -> int:
        return self.sentences[0].first_word

    @property
    def last_word(self) -> int:
        return self.sentences[-1].first_word + len(self.sentences[-1].words) - 1

    @property
    def start_ms(self) -> int:
        return self.sentences[0].start_ms

    @property
    def end_ms(self) -> int:
        return self.sentences[-1].end_ms


def rarity(uses: int, library: int) -> float:
    """How much a part says: its inverse frequency among all words of the library, never below a half."""
    return max(0.5, math.log((library + 1) / (uses + 1)))


def best_passage(
    stretch: Sequence[SearchedSentence], wanted: Sequence[Wanted], by: str | None = None
) -> Passage | None:
    """The best passage of a stretch of neighbouring sentences; None where none answers.

    With `by`, one of the sentences with a mark must be said by somebody with this in their name.
    """
    starts = [0, *itertools.accumulate(len(one.words) for one in stretch)]
    text = [word for one in stretch for word in one.lexemes]
    found = [(part, marks(text, part)) for part in wanted if part.told]
    owners = [number for number, one in enumerate(stretch) for _ in one.words]
    places = {owners[at] for _, hits in found for hit in hits for at in range(*hit)}
    if by is not None:
        places = {at for at in places if by.casefold() in (stretch[at].speaker or "").casefold()}
    best: Passage | None = None
    for first in sorted(places):
        for last in (at for at in sorted(places) if first <= at < first + WIDEST):
            one = _judged(stretch, starts, found, first, last)
            if best is None or one.score > best.score:
                best = one
    return _rounded(stretch, found, best) if best else None


def _judged(
    stretch: Sequence[SearchedSentence],
    starts: Sequence[int],
    found: Sequence[tuple[Wanted, list[tuple[int, int]]]],
    first: int,
    last: int,
) -> Passage:
    low, high = starts[first], starts[last + 1]
    inside = [(part, [hit for hit in hits if low <= hit[0] and hit[1] <= high]) for part, hits in found]
    have = [(part, hits) for part, hits in inside if hits]
    missing = tuple(" ".join(part.part.words) for part, hits in inside if not hits)
    total = sum(part.weight for part, _ in inside)
    complete = sum(part.weight for part, _ in have) / total
    wide, in_order = _tightest([hits for _, hits in have])
    needed = sum(len(part.slots) for part, _ in have)
    phrase = 0.5 if len(have) > 1 and in_order and wide == needed and not missing else 0.0
    all_marks = merged_marks([hit for _, hits in have for hit in hits])
    words = [word for one in stretch[first : last + 1] for word in one.words]
    exact = _exactness(words, [(a - low, b - low) for a, b in all_marks], [part for part, _ in have])
    return Passage(
        sentences=tuple(stretch[first : last + 1]),
        marks=tuple((a - low, b - low) for a, b in all_marks),
        score=complete + 0.5 * min(1.0, needed / max(1, wide)) + phrase + 0.2 * exact,
        missing=missing,
    )


def _tightest(hits: Sequence[Sequence[tuple[int, int]]]) -> tuple[int, bool]:
    """The fewest words that hold one hit of each part, and whether they are in the order of the parts there."""
    if not hits:
        return 0, False
    tagged = sorted((start, end, part) for part, ranges in enumerate(hits) for start, end in ranges)
    newest: dict[int, tuple[int, int]] = {}
    best, in_order = math.inf, False
    for start, end, part in tagged:
        newest[part] = (start, end)
        if len(newest) < len(hits):
            continue
        wide = max(e for _, e in newest.values()) - min(s for s, _ in newest.values())
        ordered = all(newest[a][1] <= newest[a + 1][0] for a in range(len(hits) - 1))
        if (wide, not ordered) < (best, not in_order):
            best, in_order = wide, ordered
    return int(best), in_order


def _exactness(words: Sequence[str], ranges: Iterable[tuple[int, int]], wanted: Sequence[Wanted]) -> float:
    typed = {word.casefold() for part in wanted for word in part.part.words}
    marked = [words[at].strip(".,;:!?…\"'“”‘’()").casefold() for a, b in ranges for at in range(a, b)]
    return sum(word in typed for word in marked) / len(marked) if marked else 0.0


def _rounded(
    stretch: Sequence[SearchedSentence], found: Sequence[tuple[Wanted, list[tuple[int, int]]]], passage: Passage
) -> Passage:
    """A short passage with the sentence after it, or else before it, so that it can be understood."""
    numbers = [one.number for one in stretch]
    first, last = numbers.index(passage.sentences[0].number), numbers.index(passage.sentences[-1].number)
    while sum(len(one.words) for one in stretch[first : last + 1]) < ENOUGH_WORDS:
        if last + 1 < len(stretch):
            last += 1
        elif first > 0:
            first -= 1
        else:
            break
    sentences = tuple(stretch[first : last + 1])
    low = stretch[first].first_word - stretch[0].first_word
    high = low + sum(len(one.words) for one in sentences)
    ranges = merged_marks([hit for _, hits in found for hit in hits if low <= hit[0] and hit[1] <= high])
    return replace(passage, sentences=sentences, marks=tuple((a - low, b - low) for a, b in ranges))


def apart(passages: Iterable[Passage]) -> list[Passage]:
    """The passages in the order given, without those that overlap one before them."""
    kept: list[Passage] = []
    taken: dict[int, list[Passage]] = {}
    for one in passages:
        others = taken.setdefault(one.recording_id, [])
        if all(one.last_word < other.first_word or other.last_word < one.first_word for other in others):
            others.append(one)
            kept.append(one)
    return kept


def by_story(passages: Sequence[Passage]) -> list[Passage]:
    """The passages in order, those from other talks that tell a story told before put under the first that does.

    Two tell the same story where `SAME_STORY` of the shorter one's pairs of neighbouring searchable words are in the
    other (containment of shingles, Broder 1997).
    """
    leaders: list[tuple[set[tuple[str, str]], list[Passage]]] = []
    for one in passages:
        pairs = _pairs(one)
        home = next(
            (group for theirs, group in leaders if group[0].recording_id != one.recording_id and _alike(pairs, theirs)),
            None,
        )
        if home is None:
            leaders.append((pairs, [one]))
        else:
            home.append(one)
    return [replace(group[0], also=tuple(group[1:])) for _, group in leaders]


def _pairs(passage: Passage) -> set[tuple[str, str]]:
    told = [min(word) for one in passage.sentences for word in one.lexemes if word]
    return set(itertools.pairwise(told))


def _alike(a: set[tuple[str, str]], b: set[tuple[str, str]]) -> bool:
    least = min(len(a), len(b))
    return least >= _SHORTEST_STORY and len(a & b) >= SAME_STORY * least
