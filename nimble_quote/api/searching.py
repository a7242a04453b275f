"""Answering a search: what the words stand for, widened where little is found, and the passages that answer."""

import asyncio
import itertools
import time
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from nimble_quote.api.meanings import Meanings
from nimble_quote.core.search.meaning import Near
from nimble_quote.core.search.passages import (
    Passage,
    SearchedSentence,
    apart,
    best_passage,
    by_story,
    near_passage,
    rarity,
    with_near,
)
from nimble_quote.core.search.query import Part, Query
from nimble_quote.core.search.wanted import Slot, Wanted, all_but_one, condition, marks, merged_marks
from nimble_quote.services.thesaurus import Thesaurus
from nimble_quote.store import search
from nimble_quote.store.database import Connection
from nimble_quote.store.search import StretchRow

FEW = 4
"""Fewer stretches than this that answer, and the search is widened."""
_LEAST_TOLD = 3
"""Words of a phrase that are not too common to be searched for, from which on one of them may be another."""
_MOST_LOOSENED = 12
"""Words of a phrase up to which each is tried as another: it takes a query for each."""
MOST_NEAR = 10
"""So many passages are shown at most for their meaning."""
MOST_NEAR_HERE = 5
"""The same in one talk."""
NEAR_ENOUGH = 0.3
"""Passages less near than this are about something else: of what no talk speaks of, hardly anything comes nearer."""
BESIDE_THE_NEAREST = 0.65
"""The same of those that are so much less near than the nearest."""
_OF_FORMS = {"beginning": search.beginning, "inside": search.holding}
"""Parts of a search that stand for many forms of words."""
_MOST_WIDENED = 3
"""Searches of more words tell something, and what they mean is looked for: words that sound like theirs would only be in the way."""
SOME_OF_IT = "No passage has all of these words. Shown is what has some of them."
CLOSE = "No passage has all of these words. Shown first is what is close in meaning."
CLOSE_AS_WELL = "What is close in meaning is shown as well."
CLOSE_HERE = "Nothing here has all of these words. Marked is what comes closest in meaning."
TOO_COMMON = "These words are too common to search for. Add a rarer one."


@dataclass
class Library:
    """What searches share: the thesaurus, what talks mean, and how many words all talks have together, counted once a
    minute."""

    thesaurus: Thesaurus
    meanings: Meanings
    _words: int = 0
    _until: float = 0.0

    async def words(self, conn: Connection) -> int:
        """How many words all talks have together, not more than a minute ago."""
        if time.monotonic() > self._until:
            self._words, self._until = await search.library_size(conn), time.monotonic() + 60
        return self._words


@dataclass(frozen=True, kw_only=True)
class Found:
    """The stretches that answer a search, by what, and what is to be said of it. `by`: all
    words answered as they were typed or meant to be, or words that sound or mean alike did; or just some of them did."""

    rows: list[StretchRow]
    wanted: tuple[Wanted, ...]
    notes: list[str]
    by: Literal["all", "alike", "some"] = "some"


@dataclass(frozen=True, kw_only=True)
class Searching:
    """One search while it is being answered."""

    conn: Connection
    library: Library
    query: Query
    recording_id: int | None = None
    newest: bool = False
    count: int = 20
    """So many passages are wanted."""

    async def passages(self) -> tuple[list[Passage], list[str]]:
        """The passages that answer, best first, or the newest first; and what is to be said of them."""
        found = await self._found()
        stretches = await search.sentences(self.conn, found.rows, _lexemes(found.wanted))
        best = (best_passage(stretch, found.wanted, self.query.by) for stretch in stretches)
        passages = [one for one in best if one is not None]
        if not self.newest:
            passages.sort(key=lambda one: -one.score)
        passages = apart(passages)
        enough = found.by == "all" and len(passages) > self.count
        near = [] if enough else await self._near(found)
        passages = apart([*passages, *near]) if self.newest else with_near(passages, near)
        return by_story(passages), await self._notes(found, bool(near))

    async def places(self) -> tuple[list[tuple[int, int, int]], list[str]]:
        """Where in one talk the search is answered: half-open ranges of its words, each with the moment it begins."""
        found = await self._found()
        near = await self._nearest(found) if found.by == "some" else []
        notes = await self._notes(found, bool(near))
        if near:
            best = [_stretch(one.recording_id, one.first_best, one.last_best) for one in near[:MOST_NEAR_HERE]]
            marked = await self._as_passages(best, found)
            return sorted((one.first_word, one.last_word + 1, one.start_ms) for one in marked), notes
        out: list[tuple[int, int, int]] = []
        for run in await search.matches(self.conn, _joined(found.rows), _lexemes(found.wanted)):
            first = run[0].first_word
            times = [one.start_ms for one in run for _ in one.lexemes]
            text = [word for one in run for word in one.lexemes]
            ranges = merged_marks([hit for part in found.wanted for hit in marks(text, part)])
            out += [(first + a, first + b, times[a]) for a, b in ranges]
        return out, notes

    async def _nearest(self, found: Found) -> list[Near]:
        """What is near in meaning, nearest first; nothing where more than words was typed, or words that mean nothing alone."""
        if self.query.plain is None or not any(part.told for part in found.wanted):
            return []
        talks = [self.recording_id] if self.recording_id is not None else await search.talks(self.conn, self.query)
        among = None if talks is None else frozenset(talks)
        near = await self.library.meanings.nearest(self.conn, self.query.plain, among, MOST_NEAR)
        return [one for one in near if one.score >= max(NEAR_ENOUGH, BESIDE_THE_NEAREST * near[0].score)]

    async def _near(self, found: Found) -> list[Passage]:
        """The passages that are near in meaning, nearest first."""
        near = await self._nearest(found)
        return await self._as_passages(
            [_stretch(o.recording_id, o.first_sentence, o.last_sentence) for o in near], found
        )

    async def _as_passages(self, rows: Sequence[StretchRow], found: Found) -> list[Passage]:
        """Stretches that are near in meaning, but for those that have what was to be left out or are not said by whom was asked."""
        without, _ = await self._wanted(self.query.without)
        stretches = await search.sentences(self.conn, rows, _lexemes([*found.wanted, *without]))
        likely = [near_passage(one, found.wanted, self.query.by) for one in stretches if not _has(one, without)]
        return [one for one in likely if one is not None]

    async def _notes(self, found: Found, near: bool) -> list[str]:
        """What is to be said of the answers; of those by meaning, where the words alone did not answer."""
        if found.by == "all" or self.query.plain is None:
            return found.notes
        notes = found.notes
        if near:
            close = CLOSE_AS_WELL if found.by == "alike" else CLOSE_HERE if self.recording_id else CLOSE
            notes = [*(note for note in notes if note != SOME_OF_IT), close]
        missing = await self.library.meanings.missing(self.conn)
        return [*notes, missing] if missing else notes

    async def _found(self) -> Found:
        """Looks for what was typed, and wider where that finds little."""
        notes = list(self.query.problems)
        wanted, unknown = await self._wanted(self.query.parts)
        if not any(part.told for part in wanted):
            return Found(rows=[], wanted=wanted, notes=notes + ([TOO_COMMON] if self.query.parts else []))
        wanted, told = await self._respelt(wanted, unknown)
        notes += told
        rows = await self._stretches(wanted, every=True)
        told_enough = len(wanted) > _MOST_WIDENED and self.query.plain and await self.library.meanings.there()
        by: Literal["all", "alike", "some"] = "all" if rows and not (unknown and told_enough) else "some"
        if self.query.wide or (len(rows) < FEW and not told_enough):
            wider, told = await self._wider(wanted)
            more = await self._stretches(wider, every=True) if told else rows
            if len(more) > len(rows):
                wanted, rows, notes, by = wider, more, notes + told, "alike"
        if not rows:
            for looser, note in await self._looser(wanted):
                more = await self._stretches(looser, every=True)
                if len(more) > len(rows):
                    kept, rows, said = looser, more, note
            if rows:
                wanted, notes, by = kept, [*notes, said], "alike"
        if not rows and len(wanted) > 1:
            rows = await self._stretches(wanted, every=False)
            if rows:
                notes.append(SOME_OF_IT)
        return Found(rows=rows, wanted=wanted, notes=notes, by=by)

    async def _wanted(self, parts: Sequence[Part]) -> tuple[tuple[Wanted, ...], list[str]]:
        """The parts with the lexemes that their words stand for, and the words that no talk has."""
        words = [word for part in parts if part.kind not in _OF_FORMS for word in part.words]
        known = await search.typed_words(self.conn, words) if words else {}
        library = await self.library.words(self.conn)
        out = []
        for part in parts:
            if part.kind in _OF_FORMS:
                forms = await _OF_FORMS[part.kind](self.conn, part.words[0])
                slots = [Slot(lexemes=frozenset(one for form in forms for one in form.lexemes[:1]))]
                uses = sum(form.uses for form in forms)
            else:
                stems = [known[word].lexeme for word in part.words]
                slots = [Slot(lexemes=frozenset([one])) if one else Slot(common=True) for one in stems]
                uses = min((known[word].uses for word in part.words if known[word].lexeme), default=0)
            out.append(Wanted(part=part, slots=tuple(slots), weight=rarity(uses, library)))
        return tuple(out), [one.word for one in known.values() if one.lexeme and not one.uses]

    async def _respelt(
        self, wanted: tuple[Wanted, ...], unknown: Sequence[str]
    ) -> tuple[tuple[Wanted, ...], list[str]]:
        """Words that no talk has give way to those that they may have been meant for."""
        notes = []
        for word in unknown:
            forms = await search.spelt_alike(self.conn, word)
            if forms:
                shown = _listed([form.form for form in forms])
                notes.append(f"No talk says “{word}”. Shown is what is like it: {shown}.")
                meant = frozenset(form.lexemes[0] for form in forms)
                wanted = tuple(_answered_by(part, word, meant) for part in wanted)
            else:
                notes.append(f"No talk says “{word}” or anything like it.")
        return wanted, notes

    async def _wider(self, wanted: tuple[Wanted, ...]) -> tuple[tuple[Wanted, ...], list[str]]:
        """The same search answered by words that sound alike or mean nearly the same, and what was added."""
        added: list[str] = []
        for word in [part.part.words[0] for part in wanted if part.part.kind == "word" and len(part.part.words) == 1]:
            alike = await search.sounding_alike(self.conn, word)
            related = await asyncio.to_thread(self.library.thesaurus.related, word)
            meant = await search.typed_words(self.conn, related) if related else {}
            found = {form.lexemes[0]: form.form for form in reversed(alike)}
            found |= {one.lexeme: one.word for one in reversed(meant.values()) if one.lexeme and one.uses}
            if found:
                wanted = tuple(_answered_by(part, word, frozenset(found)) for part in wanted)
                added += [one for one in found.values() if one not in added]
        return wanted, [f"Also looked for what sounds or means alike: {_listed(added[:8])}."] if added else []

    async def _looser(self, wanted: tuple[Wanted, ...]) -> list[tuple[tuple[Wanted, ...], str]]:
        """Phrases that nobody said as they were typed: with words that sound alike, and with any one word another."""
        phrases = [
            (at, one)
            for at, one in enumerate(wanted)
            if 1 < len(one.part.words) <= _MOST_LOOSENED and one.part.kind != "near"
        ]
        out = []
        for at, phrase in phrases:
            typed = f"“{' '.join(phrase.part.words)}”"
            heard = phrase
            for word in dict.fromkeys(phrase.part.words):
                alike = await search.sounding_alike(self.conn, word)
                heard = _answered_by(heard, word, frozenset(form.lexemes[0] for form in alike))
            if heard != phrase:
                out.append((_with(wanted, at, heard), f"No talk says {typed}. Shown is what sounds like it."))
            if len(phrase.told) >= _LEAST_TOLD:
                out += [
                    (
                        _with(wanted, at, loose),
                        f"No talk says {typed} word for word. Shown is what differs in one word.",
                    )
                    for loose in all_but_one(phrase)
                ]
        return out

    async def _stretches(self, wanted: tuple[Wanted, ...], every: bool) -> list[StretchRow]:
        without, _ = await self._wanted(self.query.without)
        asked = condition(wanted, without, every)
        if asked is None:
            return []
        if self.recording_id is not None:
            return await search.stretches(self.conn, asked, talks=[self.recording_id], order="time", most=100_000)
        talks = await search.talks(self.conn, self.query)
        order: Literal["newest", "best"] = "newest" if self.newest else "best"
        # Each place may be in two stretches: what is left over shows whether there is more.
        most = self.count + self.count // 2 + 6
        return await search.stretches(self.conn, asked, talks=talks, used=bool(self.query.used), order=order, most=most)


def _with(wanted: tuple[Wanted, ...], at: int, part: Wanted) -> tuple[Wanted, ...]:
    return (*wanted[:at], part, *wanted[at + 1 :])


def _stretch(recording_id: int, first: int, last: int) -> StretchRow:
    return StretchRow(recording_id=recording_id, first_sentence=first, last_sentence=last)


def _has(stretch: Sequence[SearchedSentence], without: Sequence[Wanted]) -> bool:
    text = [word for one in stretch for word in one.lexemes]
    return any(marks(text, part) for part in without)


def _lexemes(wanted: Sequence[Wanted]) -> set[str]:
    return {lexeme for part in wanted for slot in part.slots for lexeme in slot.lexemes}


def _joined(rows: Sequence[StretchRow]) -> list[StretchRow]:
    """The stretches of one talk, in order, those that share sentences made one."""
    out: list[StretchRow] = []
    for row in rows:
        if out and row.first_sentence <= out[-1].last_sentence:
            out[-1] = replace(out[-1], last_sentence=max(out[-1].last_sentence, row.last_sentence))
        else:
            out.append(row)
    return out


def _answered_by(wanted: Wanted, word: str, lexemes: frozenset[str]) -> Wanted:
    """A part in which a word is answered by more lexemes."""
    if word not in wanted.part.words:
        return wanted
    slots = [
        replace(slot, lexemes=slot.lexemes | lexemes) if typed == word else slot
        for typed, slot in itertools.zip_longest(wanted.part.words, wanted.slots)
    ]
    return replace(wanted, slots=tuple(slots))


def _listed(words: Sequence[str]) -> str:
    return ", ".join(f"“{word}”" for word in words)
