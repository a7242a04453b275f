"""Cuts, slides and flashes in made pictures, and faces followed through them."""

import numpy as np
import pytest

from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.framing.shots import LOOK, HandCut, Looks, cuts, find_changes, parted, shot_looks, shots
from nimble_quote.core.framing.subjects import SeenFace, find_tracks


def scene(seed: int, frames: int, moving: float = 0.0) -> Looks:
    """A still picture of a seed, a bright patch walking across it where `moving` is the cells it goes in a frame."""
    still = np.random.default_rng(seed).integers(20, 230, LOOK).astype(np.uint8)
    looks = np.repeat(still[None], frames, axis=0)
    for n in range(frames if moving else 0):
        at = (n * moving) % (LOOK[1] - 2)
        left, part = int(at), at - int(at)
        looks[n, 3:, left] = (looks[n, 3:, left] * part + 250 * (1 - part)).astype(np.uint8)
        looks[n, 3:, left + 1] = 250
        looks[n, 3:, left + 2] = (looks[n, 3:, left + 2] * (1 - part) + 250 * part).astype(np.uint8)
    return looks


def found(*runs: Looks) -> list[tuple[int, str]]:
    return [(change.frame, change.kind) for change in find_changes(runs)]


def test_a_cut_is_found_at_its_frame_wherever_the_runs_are_parted():
    whole = np.concatenate([scene(1, 60), scene(2, 50), scene(3, 12), scene(1, 40)])
    wanted = [(60, "cut"), (110, "cut"), (122, "cut")]
    assert found(whole) == wanted
    for size in (1, 7, 59, 60, 61):
        assert found(*(whole[i : i + size] for i in range(0, len(whole), size))) == wanted


def test_walking_is_no_cut():
    assert found(scene(4, 300, moving=0.04)) == []


def test_a_fade_is_no_cut():
    a, b = scene(5, 1)[0].astype(float), scene(6, 1)[0].astype(float)
    fade = np.stack([a + (b - a) * i / 50 for i in range(51)]).astype(np.uint8)
    assert found(np.concatenate([scene(5, 30), fade, scene(6, 30)])) == []


def test_a_flash_is_a_flash_and_not_two_cuts():
    looks = scene(7, 100)
    looks[50], looks[51] = 250, 180
    assert found(looks) == [(50, "flash")]


def test_a_slide_changes_a_part_and_leaves_the_rest_as_it_was():
    looks = np.full((120, *LOOK), 255, np.uint8)
    looks[60:, 2:5, 3:9] = 90
    assert found(looks) == [(60, "slide")]


def test_nothing_is_found_in_nothing():
    assert found() == found(scene(1, 1)) == []


def test_what_a_person_said_of_a_cut_stays_whatever_is_found():
    hand = [HandCut(at_ms=5000, there=True), HandCut(at_ms=9000, there=False)]
    assert cuts([3000, 8960, 12_000], hand) == (3000, 5000, 12_000)
    assert cuts([3040, 5040, 9000], hand) == (3040, 5000)
    assert [(s.start_ms, s.end_ms) for s in shots((3000, 5000), 8000)] == [(0, 3000), (3000, 5000), (5000, 8000)]


def test_moments_are_parted_at_cuts_and_none_is_lost():
    assert parted([0, 200, 400, 600], [200, 500]) == [range(0, 1), range(1, 3), range(3, 4)]
    assert parted([0, 200], [0, 900]) == [range(0, 2)]
    assert parted([], [100]) == []


def face(at_ms: int, x: float, colour: float, y: float = 0.3, size: float = 0.2, score: float = 0.9) -> SeenFace:
    sample = FaceSample(at_ms=at_ms, x=x, y=y, width=size * 0.6, height=size, score=score)
    return SeenFace(sample=sample, turn=0.0, colours=np.full(12, colour, np.float32))


def test_two_faces_are_two_tracks_and_keep_their_names_over_a_cut():
    wide = [f for t in range(0, 2000, 200) for f in (face(t, 0.2 + t / 20_000, 0.2), face(t, 0.7, 0.8))]
    close = [face(t, 0.4, 0.8, size=0.4) for t in range(2000, 5000, 200)]
    tracks = find_tracks(wide + close, [2000])
    assert [(t.start_ms, t.end_ms, t.subject) for t in tracks] == [(0, 1800, 1), (0, 1800, 0), (2000, 4800, 0)]


def test_two_that_are_seen_together_are_never_one_subject():
    twins = [f for t in range(0, 2000, 200) for f in (face(t, 0.2, 0.5), face(t, 0.7, 0.5))]
    assert {track.subject for track in find_tracks(twins, [])} == {0, 1}


def test_what_does_not_last_or_is_unsure_is_no_face():
    speaker = [face(t, 0.5, 0.4) for t in range(0, 6000, 200)]
    ball = [face(1000, 0.9, 0.9), face(1200, 0.9, 0.9)]
    machine = [face(t, 0.1, 0.1, score=0.63) for t in range(0, 3000, 200)]
    seen = sorted(speaker + ball + machine, key=lambda one: one.sample.at_ms)
    (track,) = find_tracks(seen, [])
    assert len(track.faces) == 30


@pytest.mark.parametrize(("gap_ms", "tracks"), [(800, 1), (1600, 2)])
def test_a_face_that_looks_away_for_a_moment_is_still_the_same_track(gap_ms: int, tracks: int):
    seen = [face(t, 0.5, 0.4) for t in [*range(0, 2000, 200), *range(1800 + gap_ms, 5000, 200)]]
    assert len(find_tracks(seen, [])) == tracks


def test_the_look_of_a_shot_is_the_mean_of_its_frames_in_runs_of_any_length():
    frames = np.zeros((100, *LOOK), np.uint8)
    frames[:40], frames[40:50], frames[50:] = 10, np.arange(0, 100, 10, dtype=np.uint8)[:, None, None, None], 200
    for size in (100, 7, 33):
        runs = [frames[at : at + size] for at in range(0, 100, size)]
        looks = [np.frombuffer(one, np.uint8).reshape(LOOK) for one in shot_looks(runs, [0, 40, 50])]
        assert [int(one[0, 0, 0]) for one in looks] == [10, 45, 200]
        assert all((one == one[0, 0, 0]).all() for one in looks)
