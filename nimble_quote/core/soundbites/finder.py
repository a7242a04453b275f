"""The finder: from a talk and the destinations chosen to the soundbites worth a look, each with its reasons."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from nimble_quote.core.destinations import Destination
from nimble_quote.core.language import Language
from nimble_quote.core.model import Frozen
from nimble_quote.core.refusal import Refused
from nimble_quote.core.soundbites.choosing import choose
from nimble_quote.core.soundbites.facts import Facts, TalkToJudge, facts_of
from nimble_quote.core.soundbites.learned import FinderModel
from nimble_quote.core.soundbites.merits import Spans, Weights, all_spans, judge, length_ms
from nimble_quote.core.soundbites.reasons import Reason, SpanFacts, best_and_weak, reasons
from nimble_quote.core.soundbites.topics import Topic, topics_of
from nimble_quote.core.timebase import Span


class NotSentences(Refused):
    """A soundbite was asked for that a talk does not have."""

    code = "not-sentences"


class Soundbite(Frozen):
    """A span of whole sentences `first` to `last` (both included), judged. Words are those of the talk."""

    first: int
    last: int
    first_word: int
    last_word: int
    span: Span
    """From the first word to the last, without air."""
    length_ms: int
    """With air at both ends, as a quote."""
    merit: float
    topic: int
    reasons: tuple[Reason, ...]
    best: tuple[Reason, ...]
    weak: Reason | None

    @property
    def features(self) -> dict[str, float]:
        return {one.feature: one.value for one in self.reasons}


@dataclass(frozen=True, kw_only=True)
class Offer:
    """The soundbites of a talk, best first; `gap` is how far, at most, their summed merit is below the best possible."""

    soundbites: tuple[Soundbite, ...]
    gap: float


NOT_JUDGED = "There are no word lists for {} yet. What is said is not judged: these go by pauses, length, and what belongs together."


@dataclass(frozen=True, kw_only=True)
class Finder:
    """A talk made ready to be judged, for some destinations and weights."""

    talk: TalkToJudge
    language: Language
    model: FinderModel
    facts: Facts
    topics: tuple[Topic, ...]

    @property
    def unjudged(self) -> str | None:
        """What can't be judged of this talk, in words; None where all can."""
        if self.language.general:
            return None
        return NOT_JUDGED.format(self.language.name or "this language")

    def offer(
        self,
        destinations: Sequence[Destination],
        weights: Weights,
        count: int,
        but: Sequence[Span] = (),
        topic: int | None = None,
        limits_ms: tuple[int, int] = (0, 10**9),
        weaker: bool = False,
    ) -> Offer:
        """At most `count` soundbites; none that is mostly one of those in `but`, of other lengths or topics. Those that an
        editor would hardly keep are left out, unless they are asked for (`weaker`) or the words can't be judged."""
        least = 0.0 if weaker or self.unjudged else weights.threshold
        spans = all_spans(self.facts, destinations)
        of_topic = self._topic_of()
        length = length_ms(self.facts, spans.first, spans.last)
        wanted = (length >= limits_ms[0]) & (length <= limits_ms[1])
        if topic is not None:
            wanted &= of_topic[spans.first] == topic
        for hole in but:
            wanted &= ~self._mostly(spans, hole)
        spans = spans.chosen(wanted)
        each = count if topic is not None else max(1, math.ceil(2 * count / max(1, len(self.topics))))
        chosen = choose(
            spans.first, spans.last, spans.merits(weights), count, self.facts.pairs, of_topic, each, least
        )  # fmt: skip
        told = self._told(spans.chosen(np.array(chosen.indexes, int)), destinations, weights)
        gap = (chosen.bound - chosen.gain) / chosen.bound if chosen.bound else 0.0
        return Offer(soundbites=told, gap=round(max(0.0, gap), 4))

    def judged(self, first: int, last: int, destinations: Sequence[Destination], weights: Weights) -> Soundbite:
        """One span of whole sentences, judged. Raises `NotSentences` where the talk has no such sentences."""
        if not 0 <= first <= last < len(self.talk.sentences):
            raise NotSentences("There are no such sentences in this talk.")
        spans = judge(self.facts, np.array([first]), np.array([last]), destinations)
        return self._told(spans, destinations, weights)[0]

    def sentences_of(self, first_word: int, last_word: int) -> tuple[int, int]:
        """The sentences that some words lie in, first and last included."""
        firsts = [one.first_word for one in self.talk.sentences]
        low = int(np.searchsorted(firsts, first_word, side="right")) - 1
        high = int(np.searchsorted(firsts, last_word, side="right")) - 1
        return max(0, low), max(0, high)

    def _topic_of(self) -> "np.ndarray[tuple[int], np.dtype[np.int64]]":
        return np.repeat(np.arange(len(self.topics)), [one.last - one.first + 1 for one in self.topics])

    def _mostly(self, spans: Spans, hole: Span) -> "np.ndarray[tuple[int], np.dtype[np.bool_]]":
        """Which spans share more than half of the shorter of the two with a stretch of time."""
        start, end = self.facts.start_ms[spans.first], self.facts.end_ms[spans.last]
        shared = np.minimum(end, hole.end_ms) - np.maximum(start, hole.start_ms)
        return np.asarray(shared > 0.5 * np.minimum(end - start, hole.length_ms))

    def _told(self, spans: Spans, destinations: Sequence[Destination], weights: Weights) -> tuple[Soundbite, ...]:
        of_topic, merits = self._topic_of(), spans.merits(weights)
        lengths = length_ms(self.facts, spans.first, spans.last)
        out = []
        for index in range(len(spans.first)):
            first, last = int(spans.first[index]), int(spans.last[index])
            facts = SpanFacts(first=first, last=last, features=tuple(spans.features[index].tolist()))
            told = reasons(facts, self.talk, self.facts, self.language, tuple(destinations))
            best, weak = best_and_weak(told, weights)
            opening, closing = self.talk.sentences[first], self.talk.sentences[last]
            out.append(
                Soundbite(
                    first=first, last=last, first_word=opening.first_word,
                    last_word=closing.first_word + len(closing.words) - 1,
                    span=Span(start_ms=opening.start_ms, end_ms=max(closing.end_ms, opening.start_ms + 1)),
                    length_ms=int(lengths[index]), merit=round(float(merits[index]), 4), topic=int(of_topic[first]),
                    reasons=told, best=best, weak=weak,
                )
            )  # fmt: skip
        return tuple(out)


def finder_of(talk: TalkToJudge, language: Language, model: FinderModel) -> Finder:
    """A talk made ready. Raises `NotSentences` where it has none."""
    if not talk.sentences:
        raise NotSentences("This talk has no words yet.")
    facts = facts_of(talk, language, model.worth)
    return Finder(
        talk=talk,
        language=language,
        model=model,
        facts=facts,
        topics=topics_of(talk.sentences, facts.vectors, language.plain),
    )
