"""Judging spans of a talk, choosing the best set of them, its topics, and a house's taste."""

import itertools
import random

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nimble_quote.core.language import NO_LANGUAGE
from nimble_quote.core.soundbites.choosing import choose, upper_bound
from nimble_quote.core.soundbites.facts import TalkSentence, TalkToJudge, facts_of
from nimble_quote.core.soundbites.finder import Finder, NotSentences, Soundbite, finder_of
from nimble_quote.core.soundbites.merits import FEATURES, Weights, all_spans, fitting
from nimble_quote.core.soundbites.taste import Choice, learned, shifts
from nimble_quote.core.soundbites.topics import segments
from nimble_quote.core.soundbites.worth import LISTS, SIGNS, signs_of
from nimble_quote.core.timebase import Span
from nimble_quote.formats.languages import LANGUAGES, finder_model, language
from tests.shipped import DESTINATIONS

EN = language("en")
MODEL = finder_model("en")
WEIGHTS = MODEL.weights
OPEN = WEIGHTS.model_copy(update={"threshold": 0.0})
"""Offers whatever there is."""
LEAST = 0.4
TALL = [DESTINATIONS["tall-30"], DESTINATIONS["tall-60"]]
COMMON = set("a the and of to in is it i you that he was we so on my me for not but had with".split())


def talk_of(
    text: str,
    *,
    levels: int | None = None,
    gap_ms: int = 400,
    library: dict[str, int] | None = None,
    timed: bool = True,
) -> TalkToJudge:
    """A talk of sentences parted by '|', with pauses between; 'Name:' before one tells who says it."""
    sentences, at, first, speaker = [], 1000, 0, "Ann"
    for said in text.split("|"):
        words = said.split()
        if words[0].endswith(":"):
            speaker, words = words[0][:-1], words[1:]
        starts = [at + i * 350 for i in range(len(words))]
        bare = [w.lower().strip(".,?!") for w in words]
        sentences.append(
            TalkSentence(
                first_word=first, speaker=speaker, words=words, starts_ms=starts, ends_ms=[s + 300 for s in starts],
                lexemes=[None if w in COMMON else w for w in bare], timed=timed,
            )
        )  # fmt: skip
        first, at = first + len(words), starts[-1] + 300 + gap_ms
    sound = np.full(at // 10 + 100, levels, np.uint8) if levels is not None else np.zeros(0, np.uint8)
    return TalkToJudge(sentences=sentences, levels=sound, library=library or {}, library_words=10_000)


def finder(text: str, **more: object) -> Finder:
    return finder_of(talk_of(text, **more), EN, MODEL)  # type: ignore[arg-type]


def judged(text: str, first: int, last: int, **more: object) -> Soundbite:
    return finder(text, **more).judged(first, last, TALL, WEIGHTS)


def value(bite: Soundbite, feature: str) -> float:
    return bite.features[feature]


def why(bite: Soundbite, feature: str) -> str:
    return next(one.text for one in bite.reasons if one.feature == feature)


def test_nothing_is_claimed_from_times_that_are_only_estimated():
    text = "Lamps burn all night. | A short wick burns longest. | The tide comes back. | We wait for it."
    known, estimated = (judged(text, 1, 2, levels=90, gap_ms=1500, timed=timed) for timed in (True, False))
    assert why(known, "lands").startswith("a pause of")
    assert why(estimated, "lands") == "at the end of a sentence"
    assert why(estimated, "alive") == "not judged: the times of its words are only estimated"
    assert (value(estimated, "alive"), value(estimated, "dense")) == (0.5, 1.0)
    assert value(known, "dense") < 1


def test_a_talk_without_marks_is_judged_by_its_words_and_pauses():
    text = "lamps burn all night long | we keep the wick short and the | tide comes back every day | and then we wait"
    assert "in the middle of a thought" in why(judged(text, 0, 1), "lands")
    assert "in the middle of a thought" not in why(judged(text, 0, 2), "lands")
    with_marks = "Lamps burn all night long. | We keep the wick short. | Tide comes back every day | And then we wait."
    assert "in the middle of a thought" in why(judged(with_marks, 0, 2), "lands"), "others have marks, and it has none"


def test_a_full_stop_ends_also_what_a_short_word_ends():
    assert "thought" not in why(judged("Lamps burn. | That is what we came in for. | The tide came in.", 0, 2), "lands")


def test_neither_an_empty_short_opening_nor_one_as_a_word_opens_strongly():
    assert "a short first sentence" in why(
        judged("Short wicks burn longest. | The others stayed with the lamps.", 0, 1), "opens_strongly"
    )
    assert "opens without" in why(
        judged("One of us went home early that night before the tide. | The others stayed with the lamps.", 0, 1),
        "opens_strongly",
    )
    assert "opens without" in why(
        judged("Lamps burn. | The others stayed with them all night long.", 0, 1), "opens_strongly"
    )


def test_the_ends_of_a_talk_are_edges_like_any():
    text = " | ".join(["lamps burn lamps"] * 9)
    assert value(judged(text, 0, 2), "one_thought") == value(judged(text, 3, 5), "one_thought")


def test_no_pause_is_made_up_after_the_last_word():
    text = "Lamps burn all night. | A short wick burns longest."
    assert why(judged(text, 0, 1, levels=90), "lands") == "at the end of a sentence"


@pytest.mark.parametrize(
    ("opening", "stands", "said"),
    [
        ("Lamps burn all night.", True, "needs nothing that was said before"),
        ("And that's why we went round.", False, "opens on “and that's why” with nothing before it"),
        ("He kept the lamps lit.", False, "opens on “he” with nothing before it"),
        ("As you can see here, it leaks.", False, "opens on “as you can see” with nothing before it"),
        ("A keeper knows when he is wrong.", True, "needs nothing that was said before"),
        ("But lamps burn all night.", False, "opens on “but” with nothing before it"),
    ],
)
def test_an_opening_stands_by_itself_or_hangs_on_what_was_said(opening: str, stands: bool, said: str):
    bite = judged(f"Nothing much here. | {opening} | The end is near now.", 1, 1)
    assert (value(bite, "opens_alone") >= 0.9) is stands
    assert why(bite, "opens_alone") == said


def test_an_answer_does_not_open_by_itself():
    assert value(judged("Ann: Does it leak? | Bo: Yes, the tap leaks.", 1, 1), "opens_alone") < 0.3


def test_a_question_a_number_and_a_word_to_the_listener_open_strongly():
    plain = judged("Lamps burn through the whole of every long dark winter night here.", 0, 0)
    strong = judged("Do you have two lamps?", 0, 0)
    assert value(strong, "opens_strongly") > 0.7 > 0.4 > value(plain, "opens_strongly")
    assert why(strong, "opens_strongly") == "with a question and a number"


@pytest.mark.parametrize(
    ("closing", "said"),
    [
        ("We mended it, so yeah.", "runs out with “so yeah”"),
        ("We mended it and", "stops at “and”, in the middle of a thought"),
    ],
)
def test_an_end_that_runs_out_is_told(closing: str, said: str):
    bite = judged(f"Lamps burn. | {closing}", 0, 1)
    assert value(bite, "lands") < 0.2
    assert why(bite, "lands") == said


def test_a_pause_lands_better_than_a_thought_that_goes_on():
    text = "Lamps burn all night. | {} we walk round."
    lands = judged(text.format("Later"), 0, 0, gap_ms=1500)
    goes_on = judged(text.format("Because"), 0, 0, gap_ms=100)
    assert value(lands, "lands") > 0.75 > 0.45 > value(goes_on, "lands")
    assert why(goes_on, "lands") == "the thought goes on with “because”"


def test_fillers_fresh_starts_and_greetings_make_a_span_less_dense():
    clean = judged("Lamps burn oil and wicks burn air.", 0, 0)
    thick = judged("Um, lamps, you know, lamps lamps burn, uh, oil.", 0, 0)
    greeting = judged("Good evening and thank you for coming.", 0, 0)
    assert value(clean, "dense") > 0.95
    assert value(thick, "dense") < 0.2
    assert value(greeting, "dense") < 0.2
    assert why(thick, "dense") == "3 fillers (“um”) and 1 fresh start"


def test_what_is_louder_than_the_speakers_average_is_said_with_life_and_silence_is_not_judged():
    text = "Lamps burn oil all night. | Wicks are cut short now. | Boats come home at dawn."
    talk = talk_of(text, levels=60)
    middle = talk.sentences[1]
    talk.levels[middle.start_ms // 10 : middle.end_ms // 10] = 200
    loud = finder_of(talk, EN, MODEL)
    assert value(loud.judged(1, 1, TALL, WEIGHTS), "alive") > 0.6 > value(loud.judged(0, 0, TALL, WEIGHTS), "alive")
    assert why(judged(text, 1, 1), "alive") == "not judged: the sound was not listened to yet"


def test_laughter_is_heard_in_a_pause_that_is_loud_and_read_in_brackets():
    facts = facts_of(talk_of("Lamps burn oil. | Boats come home.", levels=90, gap_ms=1500), EN, MODEL.worth)
    assert facts.laughed[0] == 1
    assert facts_of(talk_of("That was it. (laughter) | Boats come."), EN, MODEL.worth).laughed.tolist() == [1, 0]


ERRANDS = "Thank you for coming and see you next week. | The link is below so sign up for the newsletter."
SCREEN = "So I click here and then I drag this one over here. | Now I scroll down and you can see this column."
STORY = "My mother never told anybody how afraid she was. | People always think that courage is not to be afraid."


def test_what_says_something_to_others_is_worth_more_than_errands_and_pointing():
    talk = f"{ERRANDS} | {ERRANDS} | {SCREEN} | {SCREEN} | {STORY} | {STORY}"
    errands, screen, story = (judged(talk, first, first + 3) for first in (0, 4, 8))
    assert (
        value(story, "says_something")
        > 0.7
        > 0.4
        > max(value(errands, "says_something"), value(screen, "says_something"))
    )
    assert value(story, "stands_out") > 0.7
    assert why(errands, "says_something").startswith("greets, thanks or announces")
    assert "points at a screen or the room" in why(screen, "says_something")
    assert why(story, "stands_out") == "says more than what is around it"
    assert story.merit > max(errands.merit, screen.merit)


def test_errands_are_never_offered_and_nothing_is_where_nothing_is_likely_to_be_kept():
    assert not finder(" | ".join([ERRANDS] * 6)).offer(TALL, WEIGHTS, 9).soundbites
    assert not finder(" | ".join([SCREEN] * 6)).offer(TALL, WEIGHTS, 9).soundbites
    offered = (
        finder(f"{SCREEN} | {SCREEN} | {STORY} | {STORY} | {SCREEN} | {SCREEN}").offer(TALL, WEIGHTS, 9).soundbites
    )
    assert offered
    assert all(bite.merit >= WEIGHTS.threshold for bite in offered)


def test_signs_are_told_apart_by_their_lists_and_a_missing_list_says_nothing():
    words = [["people", "always", "say", "so"], ["click", "here"]]
    signs = signs_of(words, [False, True], [False, True], EN)
    assert signs.shape == (2, len(SIGNS))
    assert signs[0, SIGNS.index("questions")] == pytest.approx(1 / 5)
    assert MODEL.worth.parts(signs, NO_LANGUAGE)[:, : len(LISTS)].tolist() == [[0.0] * len(LISTS)] * 2


def test_a_length_is_best_well_inside_a_limit_and_worth_nothing_over_all():
    short, sweet, long, over = fitting(np.array([4_000.0, 18_000.0, 29_900.0, 31_000.0]), [DESTINATIONS["tall-30"]])
    assert sweet > 0.98
    assert short < 0.1
    assert 0.5 < long < sweet
    assert over == 0


WORDS = "lamp wick oil harbour boat fog gate bench tea rope net glass storm light keeper".split()


def made_talk(seed: int, sentences: int = 60) -> str:
    dice = random.Random(seed)
    starts = ["And", "But he", "They", "Because", "Lamps", "You", "Two boats", "So", "Um,", "Keepers"]
    return " | ".join(
        f"{dice.choice(starts)} {' '.join(dice.choice(WORDS) for _ in range(dice.randint(3, 14)))}{dice.choice(['.', '.', '?', ' and'])}"
        for _ in range(sentences)
    )


@settings(max_examples=30)
@given(st.integers(0, 10_000), st.integers(1, 12), st.sampled_from(["story-15", "tall-30", "tall-60", "wide-140"]))
def test_soundbites_are_whole_sentences_inside_the_limit_that_never_overlap(seed: int, count: int, name: str):
    ready = finder(made_talk(seed, 40), gap_ms=300 + seed % 900)
    offered = ready.offer([DESTINATIONS[name]], OPEN, count).soundbites
    assert len(offered) <= count
    said = ready.talk.sentences
    for bite in offered:
        assert bite.first_word == said[bite.first].first_word
        assert bite.last_word == said[bite.last].first_word + len(said[bite.last].words) - 1
        assert bite.length_ms <= DESTINATIONS[name].limit_ms
        assert said[bite.last].text.endswith((".", "?"))
        assert all(0 <= one.value <= 1 for one in bite.reasons)
    for a, b in itertools.combinations(offered, 2):
        assert a.last < b.first or b.last < a.first
    assert [one.merit for one in offered] == sorted((one.merit for one in offered), reverse=True)


def test_the_same_talk_is_offered_the_same_every_time():
    once, again = (finder(made_talk(4)).offer(TALL, OPEN, 8) for _ in range(2))
    assert once == again
    assert once.soundbites


def test_what_was_passed_over_is_not_offered_again_and_topic_and_length_narrow_it():
    ready = finder(made_talk(9, 80))
    first = ready.offer(TALL, OPEN, 6).soundbites
    others = ready.offer(TALL, OPEN, 6, but=[first[0].span]).soundbites
    assert first[0].span not in [one.span for one in others]
    assert {one.topic for one in ready.offer(TALL, OPEN, 6, topic=1).soundbites} == {1}
    short = ready.offer(TALL, OPEN, 6, limits_ms=(0, 20_000)).soundbites
    assert short
    assert max(one.length_ms for one in short) < 20_000


def test_sentences_that_are_not_there_are_refused():
    ready = finder("Lamps burn. | Boats come.")
    for first, last in ((0, 2), (-1, 0), (1, 0)):
        with pytest.raises(NotSentences):
            ready.judged(first, last, TALL, WEIGHTS)
    with pytest.raises(NotSentences, match="no words"):
        finder_of(TalkToJudge(sentences=[], levels=np.zeros(0, np.uint8), library={}, library_words=0), EN, MODEL)


def brute_force(first, last, merit, count, alike, topics, each):  # type: ignore[no-untyped-def]
    best = 0.0
    for size in range(count + 1):
        for places in itertools.combinations(range(len(first)), size):
            pairs = list(itertools.combinations(places, 2))
            if any(first[a] <= last[b] and first[b] <= last[a] for a, b in pairs) or any(alike[a][b] for a, b in pairs):
                continue
            if any(sum(topics[first[i]] == t for i in places) > each for t in set(topics)):
                continue
            best = max(best, sum(max(0.0, merit[i] - LEAST) for i in places))
    return best


@given(st.integers(0, 100_000))
def test_the_best_set_is_that_of_trying_all(seed: int):
    draw = np.random.default_rng(seed)
    size, sentences, count, each = 10, 12, int(draw.integers(1, 5)), int(draw.integers(1, 3))
    first = draw.integers(0, sentences, size)
    last = np.minimum(sentences - 1, first + draw.integers(0, 4, size))
    merit = np.round(draw.random(size), 3)
    words = [[str(w) for w in draw.integers(0, 4, 3)] for _ in range(sentences)]
    pairs = [frozenset(itertools.pairwise(one)) for one in words]
    topics = np.sort(draw.integers(0, 3, sentences))
    whole = [frozenset().union(*pairs[a : b + 1]) for a, b in zip(first, last, strict=True)]
    much = [[len(x & y) >= 0.3 * min(len(x), len(y)) for y in whole] for x in whole]
    chosen = choose(first, last, merit, count, pairs, topics, each, LEAST)
    assert chosen.gain == pytest.approx(brute_force(first, last, merit, count, much, topics, each), abs=1e-6)
    assert chosen.gain <= chosen.bound + 1e-9


@given(st.integers(0, 100_000))
def test_the_bound_is_the_best_of_spans_that_do_not_overlap(seed: int):
    draw = np.random.default_rng(seed)
    first = draw.integers(0, 9, 8)
    last = np.minimum(9, first + draw.integers(0, 4, 8))
    gain = np.round(draw.random(8), 3)
    nothing = np.zeros((8, 8), bool)
    best = brute_force(first, last, gain + LEAST, 3, nothing, [0] * 10, 9)
    assert upper_bound(first, last, gain, 3) == pytest.approx(best)


def test_topics_turn_where_the_words_do():
    lamps = " | ".join(["The lamp oil burns.", "A lamp needs a wick.", "Oil and wick make a lamp."] * 3)
    boats = " | ".join(["The boat has a rope.", "A rope ties a boat.", "Rope and net and boat."] * 3)
    ready = finder(f"{lamps} | {boats}")
    assert [(one.first, one.last) for one in ready.topics] == [(0, 8), (9, 17)]
    assert "lamp" in " ".join(ready.topics[0].phrases)
    assert "rope" in " ".join(ready.topics[1].phrases)


@given(st.integers(0, 100_000))
def test_segments_have_the_least_normalised_cut_of_all(seed: int):
    draw = np.random.default_rng(seed)
    half = draw.random((8, 8))
    alike = half + half.T

    def cut(edges: tuple[int, ...]) -> float:
        bounds = itertools.pairwise([0, *edges, 8])
        return sum(1 - alike[a:b, a:b].sum() / alike[a:b].sum() for a, b in bounds)

    found = segments(alike, 3)
    assert found[0] == 0
    assert cut(tuple(found[1:])) == pytest.approx(min(cut(e) for e in itertools.combinations(range(1, 8), 2)))


def test_choices_shift_what_counts_and_none_leave_it():
    prior = WEIGHTS
    assert learned(prior, []) == prior
    dense = dict.fromkeys(FEATURES, 0.5) | {"dense": 1.0, "lands": 0.2}
    landing = dict.fromkeys(FEATURES, 0.5) | {"dense": 0.2, "lands": 1.0}
    choices = [Choice(verdict="kept", features=dense), Choice(verdict="unlike", features=landing)] * 4
    now = learned(prior, choices)
    moved = {one.feature: one.times for one in shifts(prior, now)}
    assert moved["dense"] > 1.1 > 0.9 > moved["lands"]
    assert learned(prior, choices[:2]).counts["dense"] < now.counts["dense"]


def test_a_feature_that_was_not_judged_when_a_choice_was_made_says_nothing_of_it():
    old = Choice(verdict="kept", features={"dense": 1.0, "quotable": 0.9})
    moved = {one.feature: one.times for one in shifts(WEIGHTS, learned(WEIGHTS, [old] * 5))}
    assert moved["dense"] > 1
    assert {times for feature, times in moved.items() if feature != "dense"} == {1.0}


@given(
    st.lists(
        st.tuples(st.sampled_from(["kept", "parked", "unlike"]), st.lists(st.floats(0, 1), min_size=9, max_size=9)),
        max_size=30,
    )
)
def test_no_choices_make_a_weight_vanish_or_run_away(told: list[tuple[str, list[float]]]):
    choices = [Choice(verdict=v, features=dict(zip(FEATURES, row, strict=True))) for v, row in told]  # type: ignore[arg-type]
    now, prior = learned(WEIGHTS, choices), WEIGHTS
    assert all(0.15 * was < is_ < 7 * was for was, is_ in zip(prior.row, now.row, strict=True) if was)


@pytest.mark.parametrize("code", LANGUAGES)
def test_every_language_that_ships_judges(code: str):
    ready = finder_of(
        talk_of("Lampen brennen die ganze Nacht hindurch. | Sie brennen noch am Morgen hell."),
        language(code),
        finder_model(code),
    )
    assert 0 < ready.judged(0, 1, TALL, WEIGHTS).merit < 1


def test_german_hangs_on_its_own_words():
    ready = finder_of(talk_of("Weil Lampen brennen. | Lampen brennen, und deshalb ist es hell."), language("de"), MODEL)
    assert ready.judged(0, 0, TALL, WEIGHTS).features["opens_alone"] < 0.2
    assert ready.judged(1, 1, TALL, WEIGHTS).features["opens_alone"] == 1


def test_spans_begin_and_end_where_a_thought_does():
    facts = facts_of(
        talk_of(
            "Because lamps burn all night long here. | Lamps burn all night long and | Boats come home at dawn with fish."
        ),
        EN,
        MODEL.worth,
    )
    spans = all_spans(facts, TALL)
    assert 0 not in spans.first
    assert 1 not in spans.last


def test_the_words_chosen_on_a_page_belong_to_sentences():
    ready = finder("One two. | Three four five. | Six.")
    assert ready.sentences_of(3, 5) == (1, 2)
    assert ready.sentences_of(0, 1) == (0, 0)


def test_weights_must_all_be_there():
    with pytest.raises(ValueError, match="lands"):
        Weights.model_validate({**WEIGHTS.model_dump(), "counts": {name: 1.0 for name in FEATURES if name != "lands"}})


def test_a_span_mostly_taken_is_passed_over():
    ready = finder("Lamps burn all night long here. | Boats come home at dawn with fish.")
    hole = Span(start_ms=0, end_ms=3000)
    assert all(one.first == 1 for one in ready.offer(TALL, OPEN, 5, but=[hole]).soundbites)
