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
NEARLY_ALL = 0.75
"""A passage with so much of what was asked for, by rarity, goes before those that only mean it."""
_SHORTEST_STORY = 8


@dataclass(frozen=True, kw_only=True)
class SearchedSentence:
    """A sentence of a talk; its words have those of the lexemes searched for that they stand for."""

    recording_id: int
    number: int
    first_word: int
    speaker: str | None
    words: Sequence[str]
    forms: Sequence[str]
    """The words in small letters, without accents and punctuation."""
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
    has: float = 1.0
    """How much it has of what was asked for, by rarity."""
    by_meaning: bool = False
    """Whether it was found by what it means, not by its words."""
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
    hits = _hits(stretch, wanted)
    indexes = sorted(
        {
            hit.sentence
            for hit in hits
            if by is None or by.casefold() in (stretch[hit.sentence].speaker or "").casefold()
        }
    )
    windows = [_window(hits, index, len(wanted)) for index in indexes]
    best = max((_judged(hits, wanted, *window) for window in windows), key=lambda one: one.score, default=None)
    return _passage(stretch, hits, wanted, best) if best else None


@dataclass(frozen=True, kw_only=True)
class _Hit:
    """Words `start` to `end` (half-open) of a stretch that answer a part; `exact` is the share that stands as typed."""

    part: int
    start: int
    end: int
    sentence: int
    exact: float


@dataclass(frozen=True, kw_only=True)
class _Judged:
    first: int
    last: int
    has: float
    score: float


def _hits(stretch: Sequence[SearchedSentence], wanted: Sequence[Wanted]) -> list[_Hit]:
    """All hits in a stretch, in order."""
    text = list(itertools.chain.from_iterable(one.lexemes for one in stretch))
    forms = list(itertools.chain.from_iterable(one.forms for one in stretch))
    owners = list(itertools.chain.from_iterable([number] * len(one.words) for number, one in enumerate(stretch)))
    found = []
    for index, part in enumerate(wanted):
        typed = {word.casefold() for word in part.part.words}
        found += [
            _Hit(
                part=index, start=a, end=b, sentence=owners[a],
                exact=sum(form in typed for form in forms[a:b]) / (b - a),
            )
            for a, b in marks(text, part)
        ]  # fmt: skip
    return sorted(found, key=lambda hit: (hit.start, hit.end, hit.part))


def _window(hits: Sequence[_Hit], first: int, parts: int) -> tuple[int, int]:
    """The fewest sentences from a place on that have every part there is to have within `WIDEST`."""
    have: set[int] = set()
    last = first
    for hit in hits:
        if first <= hit.sentence < first + WIDEST and hit.part not in have:
            have.add(hit.part)
            last = max(last, hit.sentence)
            if len(have) == parts:
                break
    return first, last


def _judged(hits: Sequence[_Hit], wanted: Sequence[Wanted], first: int, last: int) -> _Judged:
    inside = [hit for hit in hits if first <= hit.sentence <= last]
    have = {hit.part for hit in inside}
    told = [index for index, part in enumerate(wanted) if part.told]
    complete = sum(wanted[part].weight for part in have) / sum(wanted[part].weight for part in told)
    wide, in_order = _tightest(inside, sorted(have))
    needed = sum(len(wanted[part].slots) for part in have)
    phrase = 0.5 if len(have) > 1 and in_order and wide == needed and len(have) == len(told) else 0.0
    exact = sum(hit.exact for hit in inside) / len(inside)
    return _Judged(
        first=first,
        last=last,
        has=complete,
        score=complete + 0.5 * min(1.0, needed / max(1, wide)) + phrase + 0.2 * exact,
    )


def _tightest(hits: Sequence[_Hit], parts: Sequence[int]) -> tuple[int, bool]:
    """The fewest words that hold one hit of each part, and whether they are in the order of the parts there."""
    newest: dict[int, _Hit] = {}
    best, in_order = math.inf, False
    for hit in hits:
        newest[hit.part] = hit
        if len(newest) < len(parts):
            continue
        wide = max(one.end for one in newest.values()) - min(one.start for one in newest.values())
        ordered = all(newest[a].end <= newest[b].start for a, b in itertools.pairwise(parts))
        if (wide, not ordered) < (best, not in_order):
            best, in_order = wide, ordered
    return int(best), in_order


def _passage(
    stretch: Sequence[SearchedSentence], hits: Sequence[_Hit], wanted: Sequence[Wanted], best: _Judged
) -> Passage:
    """What was judged best as a passage; a short one with the sentence after it, or else before it, so that it can be
    understood."""
    first, last = best.first, best.last
    have = {hit.part for hit in hits if first <= hit.sentence <= last}
    while sum(len(one.words) for one in stretch[first : last + 1]) < ENOUGH_WORDS:
        if last + 1 < len(stretch):
            last += 1
        elif first > 0:
            first -= 1
        else:
            break
    sentences = tuple(stretch[first : last + 1])
    low = sentences[0].first_word - stretch[0].first_word
    ranges = merged_marks([(hit.start - low, hit.end - low) for hit in hits if first <= hit.sentence <= last])
    high = sum(len(one.words) for one in sentences)
    missing = [" ".join(part.part.words) for index, part in enumerate(wanted) if part.told and index not in have]
    return Passage(
        sentences=sentences,
        marks=tuple((a, min(b, high)) for a, b in ranges),
        score=best.score,
        has=best.has,
        missing=tuple(missing),
    )


def near_passage(
    stretch: Sequence[SearchedSentence], wanted: Sequence[Wanted], by: str | None = None
) -> Passage | None:
    """A stretch that is near in meaning as a passage, with what it has of the words as well; None where nobody with `by` in
    their name speaks in it."""
    if by is not None and not any(by.casefold() in (one.speaker or "").casefold() for one in stretch):
        return None
    ranges = merged_marks([(hit.start, hit.end) for hit in _hits(stretch, wanted)])
    return Passage(sentences=tuple(stretch), marks=tuple(ranges), score=0.0, by_meaning=True)


def with_near(said: Sequence[Passage], near: Sequence[Passage]) -> list[Passage]:
    """Passages found by their words and by their meaning, each the best first, as one list: those that have the words, then
    those that mean what was asked, then those that have some of the words, none over one before it."""
    return apart(
        [
            *(one for one in said if one.has >= NEARLY_ALL),
            *near,
            *(one for one in said if one.has < NEARLY_ALL),
        ]
    )


def _overlap(one: Passage, other: Passage) -> bool:
    return (
        one.recording_id == other.recording_id
        and one.first_word <= other.last_word
        and other.first_word <= one.last_word
    )


def apart(passages: Iterable[Passage]) -> list[Passage]:
    """The passages in the order given, without those that overlap one before them."""
    kept: list[Passage] = []
    taken: dict[int, list[Passage]] = {}
    for one in passages:
        others = taken.setdefault(one.recording_id, [])
        if not any(_overlap(one, other) for other in others):
            others.append(one)
            kept.append(one)
    return kept


def by_story(passages: Sequence[Passage]) -> list[Passage]:
    """The passages in order, those from other talks that tell a story told before put under the first that does.

    Two tell the same story where `SAME_STORY` of the shorter one's pairs of neighbouring longer words are in the other
    (containment of shingles, Broder 1997).
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
    told = [form for one in passage.sentences for form in one.forms if len(form) > 3]
    return set(itertools.pairwise(told))


def _alike(a: set[tuple[str, str]], b: set[tuple[str, str]]) -> bool:
    least = min(len(a), len(b))
    return least >= _SHORTEST_STORY and len(a & b) >= SAME_STORY * least
