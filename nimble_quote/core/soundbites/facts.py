"""What is known of each sentence of a talk before spans are judged: counted once, so that judging a span is a few sums.

Words are compared in small letters without punctuation. Levels are those of the waveform: a byte for each 10 ms, on a
square-root scale.
"""

import itertools
import math
import re
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.language import Language, bare
from nimble_quote.core.soundbites.worth import WorthModel, signs_of

LEVEL_MS = 10
_LONG_PAUSE_MS = 800
_LEAST_GAP_MS = 400
_TAIL_MS = 300
_OPENING_WORDS = 8
_ENOUGH_SAID = 3
"""Words that tell something, from which on a short sentence says enough to open with; “One and two.” does not."""
_COUNTED = ("fillers", "repairs", "courtesies", "errands")
_MARKED = re.compile(r"[\[(](\w+)[\])]")

Numbers = NDArray[np.float64]


@dataclass(frozen=True, kw_only=True)
class TalkSentence:
    """A sentence to be judged: words with their times, and their lexemes (None for one too common to tell anything)."""

    first_word: int
    speaker: str | None
    words: Sequence[str]
    starts_ms: Sequence[int]
    ends_ms: Sequence[int]
    lexemes: Sequence[str | None]
    timed: bool = True
    """Whether its times are known. Of estimated ones nothing can be told: no pause, no pace, no loudness."""

    @cached_property
    def bare(self) -> tuple[str, ...]:
        """The words in small letters, without punctuation."""
        return tuple(bare(word) for word in self.words)

    @property
    def text(self) -> str:
        return " ".join(self.words)

    @property
    def start_ms(self) -> int:
        return self.starts_ms[0]

    @property
    def end_ms(self) -> int:
        return self.ends_ms[-1]


@dataclass(frozen=True, kw_only=True)
class TalkToJudge:
    """A talk: its sentences, its waveform (empty where there is none), and how often the library has each lexeme."""

    sentences: Sequence[TalkSentence]
    levels: NDArray[np.uint8]
    library: Mapping[str, int]
    library_words: int


@dataclass(frozen=True, kw_only=True)
class Facts:
    """Numbers for each sentence, side by side; `opens` and `lands` are 0..1 with what spoke against them."""

    start_ms: Numbers
    end_ms: Numbers
    words: Numbers
    fillers: Numbers
    repairs: Numbers
    courtesies: Numbers
    """Words of greetings, thanks and announcements."""
    long_pauses_ms: Numbers
    opens: Numbers
    opens_on: tuple[str, ...]
    strength: Numbers
    strong_by: tuple[str, ...]
    lands: Numbers
    lands_on: tuple[str, ...]
    timed: NDArray[np.bool_]
    """Where the times of the words are known."""
    level: Numbers
    """Mean level against the speaker's own average, in standard deviations; 0 without sound or known times."""
    pace: Numbers
    """Words a second, likewise."""
    laughed: Numbers
    """1 where laughter or applause is written or heard in or after it."""
    telling: Numbers
    """How quotable it is by itself, 0..1: what a sentence tells that could be cut, not which to offer."""
    signs: Numbers
    """What each of `SIGNS` around it adds to its worth: a row a sentence, a column a sign."""
    worth: Numbers
    """How much there is in it for somebody who was not there: the sum of what its signs add, 0 on average."""
    errands: Numbers
    """Words of greetings, thanks, announcements, introductions and calls to do something."""
    speaker: NDArray[np.int64]
    vectors: NDArray[np.float32]
    """A row a sentence: how often it has each lexeme, times the lexeme's rarity."""
    pairs: tuple[frozenset[tuple[str, str]], ...]
    """For each sentence, the pairs of its telling lexemes that follow one another."""
    heard: bool


class Loudness:
    """The mean level of any stretch of a talk."""

    def __init__(self, levels: NDArray[np.uint8]) -> None:
        self._running = np.concatenate([[0], np.cumsum(levels, dtype=np.int64)])

    def mean(self, start_ms: int, end_ms: int) -> float:
        """The mean of a stretch; 0 where there is no sound."""
        last = len(self._running) - 1
        low, high = min(last, start_ms // LEVEL_MS), min(last, end_ms // LEVEL_MS)
        return float(self._running[high] - self._running[low]) / (high - low) if high > low else 0.0


def facts_of(talk: TalkToJudge, language: Language, worth: WorthModel) -> Facts:
    """The facts of every sentence of a talk, which has one at least."""
    said = talk.sentences
    parts = worth.parts(signs_of_sentences(said, language), language)
    counted = np.array([language.tally(one.bare, _COUNTED) for one in said], float)
    sizes = np.array([len(one.words) for one in said], float)
    openings = [_opening(one, said[i - 1] if i else None, language) for i, one in enumerate(said)]
    strengths = [_strength(one, language) for one in said]
    start = np.array([one.start_ms for one in said], float)
    end = np.array([one.end_ms for one in said], float)
    speakers = {name: number for number, name in enumerate(dict.fromkeys(one.speaker for one in said))}
    speaker = np.array([speakers[one.speaker] for one in said])
    timed = np.array([one.timed for one in said])
    loudness = Loudness(talk.levels)
    level, laughed = _heard(talk, language, loudness)
    pace = np.array([len(one.words) / max(0.2, (one.end_ms - one.start_ms) / 1000) for one in said])
    marked = sum(_has_mark(one) for one in said) * 2 >= len(said)
    landings = [_landing(i, talk, language, loudness, marked) for i in range(len(said))]
    return Facts(
        start_ms=start,
        end_ms=end,
        words=sizes,
        fillers=counted[:, 0],
        repairs=counted[:, 1] + np.array([_stammers(one.bare) for one in said], float),
        courtesies=np.where(counted[:, 2] > 0, sizes, 0.0),
        long_pauses_ms=np.array([_long_pauses(one) for one in said], float),
        opens=np.array([value for value, _ in openings]),
        opens_on=tuple(on for _, on in openings),
        strength=np.array([value for value, _ in strengths]),
        strong_by=tuple(by for _, by in strengths),
        lands=np.array([value for value, _ in landings]),
        lands_on=tuple(on for _, on in landings),
        timed=timed,
        level=_against_own(level, speaker, timed),
        pace=_against_own(pace, speaker, timed),
        laughed=laughed,
        telling=_telling(talk),
        signs=parts,
        worth=parts.sum(axis=1),
        errands=np.where(counted[:, 3] > 0, sizes, 0.0),
        speaker=speaker,
        vectors=_vectors(talk),
        pairs=_pairs(talk),
        heard=talk.levels.size > 0,
    )


def signs_of_sentences(said: Sequence[TalkSentence], language: Language) -> Numbers:
    """The signs of the sentences of a talk: a row for each, a column for each of `SIGNS`."""
    turned = [False, *(a.speaker != b.speaker for a, b in itertools.pairwise(said))]
    asked = [one.text.rstrip("\"'”’)").endswith("?") for one in said]
    return signs_of([one.bare for one in said], asked, turned, language)


def _opening(one: TalkSentence, before: TalkSentence | None, language: Language) -> tuple[float, str]:
    """How well a sentence opens for somebody who heard nothing before it, and what speaks against it."""
    words = one.bare
    if hanging := language.opening(words, "dangling"):
        return 0.1, hanging
    if before is not None and before.text.rstrip("\"'”’)").endswith("?") and language.opening(words, "replies"):
        return 0.2, language.opening(words, "replies") or ""
    value, on = 1.0, ""
    joined = language.opening(words, "connectives")
    if joined:
        value, on = 0.72, joined
        words = words[len(joined.split()) :]
    lexemes = one.lexemes[len(one.bare) - len(words) :]
    for index, word in enumerate(words[:_OPENING_WORDS]):
        found = language.pointing.get(word)
        if found is not None:
            # The farther in it is, the less it matters.
            return min(value, found + 0.08 * index), word
        if lexemes[index] and word not in language.plain:
            # What comes after it may point at this.
            break
    return value, on


def _telling_words(one: TalkSentence) -> int:
    return len({lexeme for lexeme in one.lexemes if lexeme})


def _strength(one: TalkSentence, language: Language) -> tuple[float, str]:
    """How strongly a sentence opens, and by what: each of several things adds to what the others leave."""
    signs = [
        (0.5, "a question", one.text.rstrip("\"'”’)").endswith("?")),
        (0.4, "a number", bool(language.within(one.bare, "numbers")) or any(w[:1].isdigit() for w in one.bare)),
        (0.35, "a contrast", bool(language.within(one.bare, "contrast"))),
        (0.35, "a word to the listener", bool(language.within(one.bare[:8], "address"))),
        (0.4, "a short first sentence", len(one.words) <= 8 and _telling_words(one) >= _ENOUGH_SAID),
    ]
    there = [(weight, name) for weight, name, has in signs if has]
    return 1 - 0.75 * math.prod(1 - weight for weight, _ in there), " and ".join(name for _, name in there[:2])


def _has_mark(one: TalkSentence) -> bool:
    return one.text.rstrip("\"'”’»)")[-1:] in ".!?…؟।。！？"


def _stops_short(one: TalkSentence, language: Language, marked: bool) -> bool:
    """Whether a sentence stops in the middle of a thought: at a word that leads on, or without a mark in a talk that has
    them. In one that has none, its words and pauses tell alone."""
    if _has_mark(one):
        return bool(language.closing(one.bare, "leading_on"))
    return marked or bool(language.closing(one.bare, "unfinished") or language.closing(one.bare, "leading_on"))


def _landing(i: int, talk: TalkToJudge, language: Language, loudness: Loudness, marked: bool) -> tuple[float, str]:
    """How well a span ends with a sentence: its last words, the pause after it, the fall of the voice. `marked`: whether
    the talk has marks at the ends of its sentences."""
    one = talk.sentences[i]
    following = talk.sentences[i + 1] if i + 1 < len(talk.sentences) else None
    closing = one.text.rstrip("\"'”’)")
    if trailing := language.closing(one.bare, "trailing"):
        return (0.12 if len(one.words) > len(trailing.split()) else 0.05), f"runs out with “{trailing}”"
    if _stops_short(one, language, marked):
        return 0.08, f"stops at “{one.bare[-1]}”, in the middle of a thought"
    pause = _pause_after(one, following)
    value = 0.5 + 0.3 * min(1.0, max(0, pause) / 900) + 0.12 * _falls(one, loudness)
    value += 0.08 if len(one.words) <= 10 else 0.0
    told = f"a pause of {pause / 1000:.1f} s follows" if pause >= 600 else ""
    if following and following.speaker == one.speaker:
        if joined := language.opening(following.bare, "continuing"):
            value -= 0.3 if pause < 500 else 0.12
            told = f"the thought goes on with “{joined}”"
        elif (language.pointing.get(following.bare[0]) or 1.0) < 0.5:
            value -= 0.14
            told = f"the next sentence goes on with “{following.bare[0]}”"
    if closing.endswith("?"):
        value, told = min(value, 0.4), "ends on a question that is not answered in it"
    return min(1.0, max(0.0, value)), told


def _pause_after(one: TalkSentence, following: TalkSentence | None) -> int:
    """The pause after a sentence in ms; none that is known after the last, or where times are only estimated."""
    return following.start_ms - one.end_ms if following and one.timed and following.timed else 0


def _falls(one: TalkSentence, loudness: Loudness) -> float:
    """How much quieter the end of a sentence is than the whole of it, 0..1; a half without sound or known times."""
    if not one.timed:
        return 0.5
    whole = loudness.mean(one.start_ms, one.end_ms)
    tail = loudness.mean(max(one.start_ms, one.end_ms - _TAIL_MS), one.end_ms)
    return min(1.0, max(0.0, (whole - tail) / whole * 2)) if whole > 0 else 0.5


def _stammers(words: Sequence[str]) -> int:
    """Words said twice running, as when a speaker starts again."""
    return sum(1 for a, b in itertools.pairwise(words) if a and a == b)


def _long_pauses(one: TalkSentence) -> float:
    if not one.timed:
        return 0.0
    gaps = (b - a for a, b in zip(one.ends_ms, one.starts_ms[1:], strict=False))
    return float(sum(gap - _LONG_PAUSE_MS // 2 for gap in gaps if gap >= _LONG_PAUSE_MS))


def _heard(talk: TalkToJudge, language: Language, loudness: Loudness) -> tuple[Numbers, Numbers]:
    """The mean level of each sentence, and whether laughter or applause is written in it or heard after it."""
    said = talk.sentences
    own = np.array([loudness.mean(one.start_ms, one.end_ms) for one in said])
    laughed = np.zeros(len(said))
    for i, one in enumerate(said):
        gap_ms = _pause_after(one, said[i + 1] if i + 1 < len(said) else None)
        loud = 0.0
        if gap_ms >= _LEAST_GAP_MS:
            loud = loudness.mean(one.end_ms + 150, one.end_ms + gap_ms - 100)
        written = any(found.lower() in language.laughter for found in _MARKED.findall(one.text))
        # A gap without words as loud as half of the speech beside it is no room tone.
        laughed[i] = float(written or (own[i] > 0 and loud > 0.6 * own[i]))
    return own, laughed


def _against_own(values: Numbers, speaker: NDArray[np.int64], timed: NDArray[np.bool_]) -> Numbers:
    """Values against the average of their speaker, in standard deviations; 0 where times are not known."""
    out = np.zeros(len(values))
    for one in np.unique(speaker[timed]):
        mine = (speaker == one) & timed
        spread = values[mine].std()
        if spread > 1e-9:
            out[mine] = (values[mine] - values[mine].mean()) / spread
    return out


def _telling(talk: TalkToJudge) -> Numbers:
    """How quotable each sentence is: short, of words that this talk has more than the library, with two halves that
    answer each other (a word said again).

    The words' part is their log-likelihood ratio against the library (Dunning 1993), as a share of the talk's best.
    """
    keyness = _keyness(talk)
    out = np.zeros(len(talk.sentences))
    for i, one in enumerate(talk.sentences):
        told = [lexeme for lexeme in one.lexemes if lexeme]
        if len(told) < 2:
            continue
        best = sorted((keyness.get(lexeme, 0.0) for lexeme in set(told)), reverse=True)[:3]
        key = sum(best) / len(best)
        count = len(one.words)
        short = 1.0 if 3 <= count <= 12 else max(0.0, 1 - (count - 12) / 16) if count > 12 else 0.4
        echo = 1.0 if len(set(told)) < len(told) else 0.0
        out[i] = 0.45 * short + 0.4 * key + 0.15 * echo
    return out


def _keyness(talk: TalkToJudge) -> dict[str, float]:
    counts = Counter(lexeme for one in talk.sentences for lexeme in one.lexemes if lexeme)
    here = sum(len(one.words) for one in talk.sentences)
    elsewhere = max(1, talk.library_words - here)
    scores = {}
    for lexeme, count in counts.items():
        others = max(0, talk.library.get(lexeme, 0) - count)
        expected = here * (count + others) / (here + elsewhere)
        scores[lexeme] = max(0.0, count * math.log(count / expected)) if count > expected else 0.0
    # As a share of the best but for the few at the very top, which would dwarf all others.
    top = float(np.quantile(list(scores.values()), 0.97)) if scores else 0.0
    return {lexeme: min(1.0, score / top) if top > 0 else 0.0 for lexeme, score in scores.items()}


def _vectors(talk: TalkToJudge) -> NDArray[np.float32]:
    """Rows of lexeme counts times their rarity among the sentences of the talk (tf-idf, Spärck Jones 1972), for the
    lexemes that more than one sentence has: the others make no two sentences alike."""
    among = Counter(lexeme for one in talk.sentences for lexeme in set(one.lexemes) if lexeme)
    indexes = {lexeme: index for index, lexeme in enumerate(sorted(one for one, count in among.items() if count > 1))}
    out = np.zeros((len(talk.sentences), max(1, len(indexes))), np.float32)
    for number, one in enumerate(talk.sentences):
        for lexeme in one.lexemes:
            if lexeme in indexes:
                out[number, indexes[lexeme]] += 1
    rarity = np.log((1 + len(talk.sentences)) / (1 + np.maximum(1, (out > 0).sum(axis=0))))
    return np.asarray(out * rarity, np.float32)


def _pairs(talk: TalkToJudge) -> tuple[frozenset[tuple[str, str]], ...]:
    """For each sentence, the pairs of words that tell something and follow one another."""
    told = ([lexeme for lexeme in one.lexemes if lexeme] for one in talk.sentences)
    return tuple(frozenset(itertools.pairwise(lexemes)) for lexemes in told)
