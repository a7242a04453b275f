"""Who speaks: mouths against loudness, labels against mouths, and names from both."""

import numpy as np
import pytest

from nimble_quote.core.framing.following import Track, talked
from nimble_quote.core.framing.naming import Seen, Turn, named_by_turns
from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.framing.scenes import who_speaks
from nimble_quote.core.framing.subjects import SeenFace
from nimble_quote.core.framing.subjects import Track as FoundTrack
from nimble_quote.core.framing.talking import STEP_MS, Spoke, stretches_to_watch, talking, who_spoke
from nimble_quote.core.timebase import Span

MADE = np.random.default_rng(3)
SECONDS = 20
LOOKS = SECONDS * 1000 // STEP_MS


def syllables(on: np.ndarray) -> np.ndarray:
    """How loud it is where somebody speaks: syllables, five a second, of different strength."""
    at = np.arange(LOOKS) * STEP_MS / 1000
    return on * (0.5 + 0.5 * np.sin(2 * np.pi * 4.6 * at)) * MADE.uniform(0.5, 1, LOOKS) * 200


FIRST_HALF = (np.arange(LOOKS) < LOOKS // 2).astype(float)
LOUD = syllables(np.ones(LOOKS))
SPEAKS = 0.02 + LOUD / 200 * 0.13 + MADE.normal(0, 0.004, LOOKS)
LISTENS = 0.02 + MADE.normal(0, 0.004, LOOKS)
CHEWS = 0.05 + 0.04 * np.sin(2 * np.pi * 1.3 * np.arange(LOOKS) * STEP_MS / 1000)


def test_a_mouth_in_time_with_the_sound_talks_and_one_that_is_shut_or_chews_does_not():
    assert talking(SPEAKS, LOUD).mean() > 0.8
    assert talking(LISTENS, LOUD).mean() < 0.1
    assert talking(CHEWS, LOUD).mean() < 0.5 * talking(SPEAKS, LOUD).mean()


def test_a_mouth_may_be_a_little_late_on_the_sound():
    assert talking(np.roll(SPEAKS, 2), LOUD).mean() == pytest.approx(talking(SPEAKS, LOUD).mean(), abs=0.1)


def test_it_is_told_when_who_speaks_changes():
    first = talking(0.02 + FIRST_HALF * (SPEAKS - 0.02), LOUD)
    second = talking(0.02 + (1 - FIRST_HALF) * (SPEAKS - 0.02), LOUD)
    edge = LOOKS // 2
    assert np.all(first[: edge - 8] > second[: edge - 8])
    assert np.all(second[edge + 8 :] > first[edge + 8 :])


def test_nothing_talks_in_silence():
    assert talking(SPEAKS, np.zeros(LOOKS)).max() == 0.0


@pytest.mark.parametrize(
    ("mouths", "named", "spoke"),
    [
        ({0: 0.7, 1: 0.1}, None, Spoke(who=0, sure=True)),
        ({0: 0.7, 1: 0.1}, 0, Spoke(who=0, sure=True)),
        ({0: 0.7, 1: 0.1}, 1, Spoke(who=0, sure=True)),  # much surer than the label
        ({0: 0.4, 1: 0.25}, 1, Spoke(who=1, sure=True)),  # not so much surer
        ({0: 0.32, 1: 0.3}, None, Spoke(who=None, sure=False)),
        ({0: -1.0, 1: -1.0}, 1, Spoke(who=1, sure=True)),
        ({0: -1.0, 1: -1.0}, None, Spoke(who=None, sure=False)),
        ({0: 0.01, 1: 0.0}, None, Spoke(who=None, sure=False)),  # nobody's mouth moved
    ],
)
def test_who_spoke_is_by_mouths_and_labels(mouths: dict[int, float], named: int | None, spoke: Spoke):
    assert who_spoke(mouths, named) == spoke


def track(subject: int, talks: list[float]) -> Track:
    """Somebody who is there all the time, with a mouth that talks so much in each second."""
    at = np.arange(0, len(talks) * 1000, 200).astype(float)
    same = np.full(len(at), 0.1)
    return Track(
        subject=subject, at_ms=at, x=same + subject * 0.4, y=same, width=same, height=same, turn=0 * at, score=0 * at + 1,
        talking=np.repeat(talks, 5).astype(float),
    )  # fmt: skip


TRACKS = {0: track(0, [0.8] * 5 + [0.05] * 5), 1: track(1, [0.05] * 5 + [0.8] * 5)}


def test_a_turn_is_that_of_the_mouth_that_talks_in_it():
    assert talked(TRACKS[0], 0, 5000) == pytest.approx(0.8)
    assert who_speaks(Turn(speaker="", start_ms=500, end_ms=4500), TRACKS, None).who == 0
    assert who_speaks(Turn(speaker="", start_ms=5500, end_ms=9500), TRACKS, None).who == 1
    assert not who_speaks(Turn(speaker="", start_ms=0, end_ms=10_000), TRACKS, None).sure
    assert who_speaks(Turn(speaker="", start_ms=0, end_ms=900), {0: TRACKS[0]}, None) == Spoke(who=None, sure=False)


def test_two_who_are_never_seen_alone_are_named_by_their_mouths():
    turns = [Turn(speaker="Ivo", start_ms=0, end_ms=5000), Turn(speaker="Sanna", start_ms=5000, end_ms=10_000)]
    seen = [Seen(subject=who, start_ms=0, end_ms=10_000, track=one) for who, one in TRACKS.items()]
    assert named_by_turns(turns * 3, seen) == {0: "Ivo", 1: "Sanna"}
    blind = [Seen(subject=who, start_ms=0, end_ms=10_000) for who in TRACKS]
    assert named_by_turns(turns * 3, blind) == {}


def found(subject: int, start_ms: int, end_ms: int) -> FoundTrack:
    faces = tuple(
        SeenFace(sample=FaceSample(at_ms=at, x=0.1, y=0.1, width=0.1, height=0.1, score=0.9), turn=0.0)
        for at in range(start_ms, end_ms, 200)
    )
    return FoundTrack(faces=faces, subject=subject)


def test_mouths_are_looked_at_where_several_are_seen_and_somebody_speaks():
    tracks = [found(0, 0, 20_000), found(1, 8000, 30_000)]
    speech = [Span(start_ms=0, end_ms=12_000), Span(start_ms=16_000, end_ms=17_000)]
    watched = stretches_to_watch(tracks, speech)
    assert [(one.start_ms, one.end_ms) for one in watched] == [(8000, 12_500 + 500), (15_500, 18_000)]
    assert stretches_to_watch(tracks[:1], speech) == []
    assert stretches_to_watch([], speech) == []
