"""Why a span is judged as it is: for each feature, its value in words."""

from dataclasses import dataclass

import numpy as np

from nimble_quote.core.destinations import Destination, seconds
from nimble_quote.core.language import Language
from nimble_quote.core.model import Frozen
from nimble_quote.core.soundbites.facts import Facts, TalkToJudge
from nimble_quote.core.soundbites.merits import FEATURES, Weights, fitting, length_ms
from nimble_quote.core.soundbites.worth import SIGNS

_NAMES = {
    "opens_alone": "Opens by itself",
    "opens_strongly": "Opens strongly",
    "lands": "Lands",
    "one_thought": "One thought",
    "dense": "Dense",
    "alive": "Said with life",
    "says_something": "Says something",
    "stands_out": "Stands out",
    "fits": "Fits",
}
_FOR = {
    "general": "a general claim",
    "contrast": "a contrast",
    "reasons": "a reason",
    "story": "a story",
    "persons": "people",
    "feelings": "feelings",
    "surprise": "a surprise",
    "address": "a word to the listener",
    "first_person": "first-hand experience",
}
_AGAINST = {
    "general": "little that holds for others",
    "reasons": "no reason given",
    "persons": "nothing about people",
    "hesitations": "hesitates a lot",
    "screen": "points at a screen or the room",
    "errands": "greets, thanks or announces",
    "questions": "asks more than it answers",
    "turns": "many turns of speakers",
}
"""What a sign that speaks for a span, and one that speaks against it, is called; those that have no name are not told."""
_GOOD = 0.62
_WEAK = 0.5


class Reason(Frozen):
    """A feature of a soundbite: its name, its value 0..1, and what makes it so."""

    feature: str
    name: str
    value: float
    text: str


@dataclass(frozen=True, kw_only=True)
class SpanFacts:
    """A span that reasons are asked for, first and last sentence included, with its features."""

    first: int
    last: int
    features: tuple[float, ...]

    def value(self, feature: str) -> float:
        """How much it has of a feature."""
        return self.features[FEATURES.index(feature)]


def reasons(
    span: SpanFacts, talk: TalkToJudge, facts: Facts, language: Language, destinations: tuple[Destination, ...]
) -> tuple[Reason, ...]:
    """All features of a span in words."""
    said = {
        "opens_alone": _opens(span, facts),
        "opens_strongly": _strongly(span, facts),
        "lands": _lands(span, facts),
        "one_thought": _thought(span),
        "dense": _density(span, talk, facts, language),
        "alive": _life(span, facts),
        "says_something": _something(span, facts),
        "stands_out": _stands(span),
        "fits": _fit(span, facts, destinations),
    }
    return tuple(
        Reason(feature=name, name=_NAMES[name], value=round(float(value), 3), text=said[name])
        for name, value in zip(FEATURES, span.features, strict=True)
    )


def best_and_weak(told: tuple[Reason, ...], weights: Weights) -> tuple[tuple[Reason, ...], Reason | None]:
    """The up to three reasons that speak most for a span, and the one that speaks most against it."""
    by_feature = dict(zip(FEATURES, weights.row, strict=True))
    good = sorted((one for one in told if one.value >= _GOOD), key=lambda one: -one.value * by_feature[one.feature])
    weak = sorted((one for one in told if one.value < _WEAK), key=lambda one: (one.value - 1) * by_feature[one.feature])
    return tuple(good[:3]), weak[0] if weak else None


def _opens(span: SpanFacts, facts: Facts) -> str:
    on = facts.opens_on[span.first]
    if span.value("opens_alone") >= 0.9:
        return "needs nothing that was said before"
    return f"opens on “{on}” with nothing before it" if on else "leans on what was said before"


def _strongly(span: SpanFacts, facts: Facts) -> str:
    by = facts.strong_by[span.first]
    return f"with {by}" if by else "opens without a question, number, contrast or word to the listener"


def _lands(span: SpanFacts, facts: Facts) -> str:
    on = facts.lands_on[span.last]
    if span.value("lands") >= _GOOD:
        return on if on.startswith("a pause") else "at the end of a sentence"
    known = facts.timed[span.last] and span.last + 1 < len(facts.timed)
    return on or ("ends without a pause" if known else "at the end of a sentence")


def _thought(span: SpanFacts) -> str:
    if span.value("one_thought") >= _GOOD:
        return "its sentences belong together, apart from what surrounds them"
    return "its edges are in the middle of a thought" if span.value("one_thought") < _WEAK else "mostly one thought"


def _density(span: SpanFacts, talk: TalkToJudge, facts: Facts, language: Language) -> str:
    run = slice(span.first, span.last + 1)
    said = [one for sentence in talk.sentences[run] for one in language.within(sentence.bare, "fillers")]
    repairs = int(facts.repairs[run].sum())
    parts = []
    if said:
        parts.append(f"{len(said)} filler{'s' if len(said) > 1 else ''} (“{said[0]}”)")
    if repairs:
        parts.append(f"{repairs} fresh start{'s' if repairs > 1 else ''}")
    if facts.courtesies[run].any():
        parts.append("greetings or thanks")
    if not parts:
        return "no fillers or fresh starts" if span.value("dense") >= _GOOD else "long pauses in it"
    return " and ".join(parts) + ("" if span.value("dense") < _WEAK else ", no more")


def _life(span: SpanFacts, facts: Facts) -> str:
    run = slice(span.first, span.last + 1)
    if not facts.heard:
        return "not judged: the sound was not listened to yet"
    if facts.laughed[run].any():
        return "laughter or applause is heard"
    if not facts.timed[run].any():
        return "not judged: the times of its words are only estimated"
    louder, quicker = float(np.mean(facts.level[run])), float(np.mean(facts.pace[run]))
    if span.value("alive") < _WEAK:
        return "said more quietly or slowly than the speaker's average"
    return "louder than the speaker's average" if louder >= quicker else "quicker than the speaker's average"


def _something(span: SpanFacts, facts: Facts) -> str:
    """The signs that speak most for or against what is said."""
    words = facts.words[span.first : span.last + 1, None]
    adds = (facts.signs[span.first : span.last + 1] * words).sum(axis=0) / max(1.0, float(words.sum()))
    good = span.value("says_something") >= _WEAK
    words_of = _FOR if good else _AGAINST
    order = [i for i in np.argsort(-adds if good else adds) if SIGNS[i] in words_of]
    told = [words_of[SIGNS[i]] for i in order[:2] if (adds[i] > 0.05 if good else adds[i] < -0.05)]
    return " and ".join(told) or (
        "in plain words, without hesitation" if good else "little that others would want to hear"
    )


def _stands(span: SpanFacts) -> str:
    if span.value("stands_out") >= _GOOD:
        return "says more than what is around it"
    return "what is around it says more" if span.value("stands_out") < _WEAK else "says as much as what is around it"


def _fit(span: SpanFacts, facts: Facts, destinations: tuple[Destination, ...]) -> str:
    length = float(length_ms(facts, np.array([span.first]), np.array([span.last]))[0])
    inside = [one for one in destinations if length <= one.limit_ms]
    if not inside:
        return f"{seconds(length)}: over every limit chosen"
    best = max(inside, key=lambda one: float(fitting(np.array([length]), [one])[0]))
    how = "a good length" if span.value("fits") >= _GOOD else "short" if length < 0.62 * best.limit_ms else "long"
    return f"{seconds(length)}: {how} for {best.name}"
