"""What could be left out of a cut to make it shorter: each way with what it gains and what it loses.

A cut is read as sentences and the gaps between them, which tile the quote:

        |  B0  sentence 0  A0 | gap |  B1  sentence 1  A1 | gap | …   An |

`B` is the cut before a sentence's first word, `A` the cut after its last. What lies inside a sentence (fillers, repairs,
asides, pauses) and the pauses in the gaps can go one by one; sentences can go whole. Since the stretches tile, what a
combination gains is the sum of what its parts gain.

Losses are in the worth of an average sentence. They come from the finder's features (how well a sentence opens and
lands, how much it tells), from the check of fairness, and from how many joins a way makes.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations, pairwise
from math import floor
from typing import Literal

from pydantic import computed_field

from nimble_quote.core.cutting.edges import cut_after, cut_before, instead_of_words
from nimble_quote.core.cutting.fairness import unfair_without
from nimble_quote.core.cutting.kept import kept_spans, kept_words, text_of
from nimble_quote.core.cutting.pauses import pauses, tightened
from nimble_quote.core.cutting.playing import Played, played
from nimble_quote.core.cutting.strikes import Rule, RuleName, strikes
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.language import bare
from nimble_quote.core.model import Frozen
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span, merged
from nimble_quote.core.transcript.words import Sentence, Word

WayKind = Literal["pause", "filler", "repair", "aside", "sentence", "start-later", "end-sooner", "speed"]

Felt = Literal["hardly", "a little", "somewhat", "much"]
_FELT: tuple[tuple[float, Felt], ...] = ((0.1, "hardly"), (0.5, "a little"), (1.2, "somewhat"))

TIGHT_MS, TIGHT_FROM_MS = 300, 450
"""Pauses longer than the second are brought down to the first."""
JOIN_LOSS = 0.06
"""Every join of words may be seen or heard."""
_PAUSE_LOSS = 0.01
"""Losing a second of pause, besides the fixed price of touching it, which is as much again."""
_FILLER_LOSS = 0.01
_ASIDE_LOSS = 0.02
"""For each word of it."""
UNFAIR_LOSS = 2.0
"""What is unfair costs more than any sentence is worth."""
OPENING_LOSS, LANDING_LOSS, HANGING_LOSS = 1.6, 1.2, 1.0
_LONGEST_ASIDE = 14
_MOST_TOGETHER = 5
"""More places than this that overlap one another are not all tried together; the shortest of them are left."""


class Priced(Frozen):
    """Something that can be left out, with what it loses."""

    loss: float

    @computed_field  # type: ignore[prop-decorator]
    @property
    def felt(self) -> Felt:
        """How much it is felt, for people."""
        return next((said for most, said in _FELT if self.loss < most), "much")


class Piece(Priced):
    """One thing that could be left out: words `first` to `last`, or the pause before `first`; `spans` is what goes."""

    id: str
    kind: WayKind
    text: str
    first: int
    last: int
    spans: tuple[Span, ...]
    gain_ms: int


@dataclass(frozen=True, kw_only=True)
class Worth:
    """What the finder knows of a sentence, 0..1: how it opens and lands, and how much it tells."""

    opens: float = 0.7
    lands: float = 0.7
    tells: float = 0.5


@dataclass(frozen=True, kw_only=True)
class Option:
    """Some pieces taken together, or none."""

    pieces: tuple[Piece, ...]
    gain_ms: int
    loss: float


@dataclass(frozen=True, kw_only=True)
class CutSentence:
    """A sentence of the cut with what could go of it. `whole_ms` is how long it runs from `B` to `A`; `gap_ms` the gap
    before it; `drops` the loss of leaving it out."""

    sentence: Sentence
    words: tuple[Word, ...]
    start_ms: int
    end_ms: int
    whole_ms: int
    gap_ms: int
    worth: Worth
    drops: float
    hangs: float
    """The loss where it is heard without the sentence before it."""
    inside: tuple[tuple[Option, ...], ...]
    """Independent choices inside it: one option of each is taken."""
    before: tuple[Option, ...]
    """Choices for the pause before it, where the sentence before is heard too."""

    @property
    def id(self) -> str:
        return f"sentence:{self.words[0].start_ms}"

    @property
    def text(self) -> str:
        return text_of(self.words, most=80)


def parts_of(document: QuoteDocument, talk: Talk, destination: str, worth: dict[int, Worth]) -> tuple[CutSentence, ...]:
    """The sentences of a version's cut; `worth` is by the first word of a sentence in the talk."""
    kept = played(kept_spans(document, destination), document.fast)
    groups = _by_sentence(kept_words(document, talk, destination), talk)
    small = _small_pieces(document, talk, destination, groups)
    out: list[CutSentence] = []
    for number, (sentence, words) in enumerate(groups):
        start = cut_before(talk, words[0].index) if number else document.span.start_ms
        end = cut_after(talk, words[-1].index) if number + 1 < len(groups) else document.span.end_ms
        previous = out[-1] if out else None
        known = worth.get(sentence.first, Worth())
        mine = [one for one in small if one.first >= words[0].index and one.last <= words[-1].index]
        gap = [one for one in mine if one.kind == "pause" and one.first == words[0].index]
        out.append(
            CutSentence(
                sentence=sentence, words=tuple(words), start_ms=start, end_ms=end,
                whole_ms=_kept_ms(kept, start, end),
                gap_ms=_kept_ms(kept, previous.end_ms, start) if previous else 0,
                worth=known, drops=_drop_loss(words, known, talk),
                hangs=_hanging(sentence, words, known, previous, talk),
                inside=_clusters(_clipped(mine, gap, start, end, kept), kept),
                before=_options(_clipped(gap, [], previous.end_ms if previous else start, start, kept), kept),
            )
        )  # fmt: skip
    return tuple(out)


def _by_sentence(words: Sequence[Word], talk: Talk) -> list[tuple[Sentence, list[Word]]]:
    groups: list[tuple[Sentence, list[Word]]] = []
    for word in words:
        sentence = talk.sentence_of(word.index) or Sentence(first=word.index, end=word.index + 1, speaker=None)
        if groups and groups[-1][0] == sentence:
            groups[-1][1].append(word)
        else:
            groups.append((sentence, [word]))
    return groups


def _small_pieces(
    document: QuoteDocument, talk: Talk, destination: str, groups: Sequence[tuple[Sentence, list[Word]]]
) -> list[Piece]:
    """Fillers, repairs, asides and pauses of the whole cut."""
    kinds: tuple[tuple[RuleName, WayKind], ...] = (("fillers", "filler"), ("repeats", "repair"), ("stammers", "repair"))
    found = [
        Piece(
            id=one.id, kind=kind, text=one.text, first=one.first, last=one.last, spans=(one.span,), gain_ms=one.gain_ms,
            loss=JOIN_LOSS + _FILLER_LOSS * (one.last - one.first + 1),
        )
        for rule, kind in kinds
        for one in strikes(document, talk, Rule(name=rule), destination)
    ]  # fmt: skip
    for pause, made in tightened(pauses(document, talk, destination), TIGHT_FROM_MS, TIGHT_MS, talk):
        gone = pause.kept_ms - TIGHT_MS
        found.append(
            Piece(
                id=f"pauses:{pause.before}", kind="pause", text=f"{pause.kept_ms / 1000:.1f} s pause before “{talk.word(pause.before).text}”",
                first=pause.before, last=pause.before, spans=made.struck, gain_ms=gone,
                loss=_PAUSE_LOSS * (1 + gone / 1000),
            )
        )  # fmt: skip
    return found + [one for sentence, words in groups for one in _asides(sentence, words, talk)]


def _asides(sentence: Sentence, words: Sequence[Word], talk: Talk) -> list[Piece]:
    """What stands between two commas and begins as something put in does."""
    commas = [i for i, word in enumerate(words[:-1]) if word.text.endswith((",", "—", "–"))]
    found = []
    for a, b in pairwise(commas):
        inner = words[a + 1 : b + 1]
        whole = inner[-1].index - inner[0].index == len(inner) - 1
        if (
            not whole
            or len(inner) > _LONGEST_ASIDE
            or not talk.language.opening([bare(w.text) for w in inner], "asides")
        ):
            continue
        kept = frozenset(word.index for word in words) - {word.index for word in inner}
        hole = instead_of_words(talk, inner[0].index, inner[-1].index)
        found.append(
            Piece(
                id=f"aside:{inner[0].index}-{inner[-1].index}", kind="aside", text=text_of(inner), first=inner[0].index,
                last=inner[-1].index, spans=(hole,), gain_ms=hole.length_ms,
                loss=JOIN_LOSS + _ASIDE_LOSS * len(inner) + UNFAIR_LOSS * unfair_without(talk, sentence, kept),
            )
        )  # fmt: skip
    return found


def _clipped(
    pieces: Sequence[Piece], but: Sequence[Piece], start_ms: int, end_ms: int, kept: Sequence[Played]
) -> list[Piece]:
    """Pieces cut down to a stretch, with what they gain there; those that gain nothing are left out."""
    out = []
    for piece in pieces:
        if piece in but:
            continue
        spans = tuple(
            Span(start_ms=max(s.start_ms, start_ms), end_ms=min(s.end_ms, end_ms))
            for s in piece.spans
            if max(s.start_ms, start_ms) < min(s.end_ms, end_ms)
        )
        gain = _gain(kept, spans)
        if gain > 0:
            out.append(piece.model_copy(update={"spans": spans, "gain_ms": gain}))
    return out


def _clusters(pieces: Sequence[Piece], kept: Sequence[Played]) -> tuple[tuple[Option, ...], ...]:
    """Pieces that overlap are one choice; those that do not are choices of their own."""
    groups: list[list[Piece]] = []
    reach = -1
    for piece in sorted(pieces, key=lambda one: one.spans[0].start_ms):
        if groups and piece.spans[0].start_ms < reach:
            groups[-1].append(piece)
        else:
            groups.append([piece])
        reach = max(reach, piece.spans[-1].end_ms)
    return tuple(_options(group, kept) for group in groups)


def _options(pieces: Sequence[Piece], kept: Sequence[Played]) -> tuple[Option, ...]:
    """Every combination of some pieces, with what it gains together."""
    chosen = sorted(pieces, key=lambda one: -one.gain_ms)[:_MOST_TOGETHER]
    return tuple(
        Option(
            pieces=some,
            gain_ms=_gain(kept, [span for one in some for span in one.spans]),
            loss=sum(one.loss for one in some),
        )
        for size in range(len(chosen) + 1)
        for some in combinations(chosen, size)
    )


def _gain(kept: Sequence[Played], holes: Sequence[Span]) -> int:
    gone = merged(holes)
    return sum(_kept_ms(kept, hole.start_ms, hole.end_ms) for hole in gone)


def _kept_ms(kept: Sequence[Played], start_ms: int, end_ms: int) -> int:
    """How long a stretch is heard, before the version's own speed."""
    heard = ((max(one.source_ms, start_ms), min(one.source_end_ms, end_ms), one.times) for one in kept)
    return floor(sum((end - start) / times for start, end, times in heard if end > start))


def _drop_loss(words: Sequence[Word], worth: Worth, talk: Talk) -> float:
    """What is lost with a sentence: more the longer it is and the more it tells."""
    telling = sum(1 for word in words if bare(word.text) not in talk.language.empty)
    return (0.25 + 1.5 * worth.tells) * min(2.5, max(0.2, telling / 7))


def _hanging(
    sentence: Sentence, words: Sequence[Word], worth: Worth, previous: CutSentence | None, talk: Talk
) -> float:
    """What is lost where a sentence is heard without the one before it: its beginning hangs, or it was an answer."""
    if previous is None:
        return 0.0
    asked = previous.words[-1].text.rstrip("\"'”’)").endswith("?")
    answers = asked and (
        previous.sentence.speaker != sentence.speaker
        or talk.language.opening([bare(word.text) for word in words], "replies") is not None
    )
    return HANGING_LOSS * (1 - worth.opens) + (UNFAIR_LOSS if answers else 0.0)
