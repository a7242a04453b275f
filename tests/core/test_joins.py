"""The sound of joins: how pieces lie, how they are faded, and that none of it clicks, clips or doubles."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.cutting.joins import LONGEST_FADE_MS, SHORTEST_FADE_MS, SoundPiece, sound_pieces
from nimble_quote.core.cutting.mixing import SAMPLES_MS, mix, reach_ms, with_faded_ends
from nimble_quote.core.cutting.playing import played, source_at
from nimble_quote.core.cutting.reading import joins
from nimble_quote.core.timebase import Span
from tests.talks import talk_of


def span(start: int, end: int) -> Span:
    return Span(start_ms=start, end_ms=end)


def source(freq: float, ms: int = 4000, level: float = 0.5) -> np.ndarray:
    t = np.arange(ms * SAMPLES_MS) / (SAMPLES_MS * 1000)
    return np.stack([level * np.sin(2 * np.pi * freq * t)] * 2, axis=1).astype(np.float32)


def heard(pieces: tuple[SoundPiece, ...], samples: np.ndarray) -> list[np.ndarray]:
    out = []
    for piece in pieces:
        start, end = reach_ms(piece)
        before = max(0, -start) * SAMPLES_MS
        part = samples[max(0, start) * SAMPLES_MS : end * SAMPLES_MS]
        out.append(np.pad(part, ((before, (end - start) * SAMPLES_MS - before - len(part)), (0, 0))))
    return out


def test_pieces_lie_end_to_end_and_hushed_stretches_are_pieces_of_their_own():
    talk = talk_of("one two three four")
    pieces = sound_pieces([span(900, 1350), span(2150, 2600)], [span(1320, 1350)], talk)
    assert [(p.source_ms, p.length_ms, p.out_ms, p.hushed) for p in pieces] == [
        (900, 420, 0, False), (1320, 30, 420, True), (2150, 450, 450, False),
    ]  # fmt: skip


def test_a_fade_is_as_long_as_the_gap_allows():
    talk = talk_of("one two three four", gap_ms=100)
    wide = sound_pieces([span(900, 1350), span(2150, 2600)], [], talk)
    assert wide[0].fade_out_ms == wide[1].fade_in_ms == LONGEST_FADE_MS
    tight = sound_pieces([span(900, 1303), span(2197, 2600)], [], talk)
    assert tight[0].fade_out_ms == 6
    inside = sound_pieces([span(900, 1200), span(2300, 2600)], [], talk)
    assert inside[0].fade_out_ms == SHORTEST_FADE_MS


@given(st.lists(st.integers(100, 900), min_size=2, max_size=6), st.sampled_from([83.0, 110.0, 317.0]))
def test_no_join_of_a_tone_clicks_at_any_phase(lengths: list[int], freq: float):
    spans, at = [], 50
    for length in lengths:
        spans.append(span(at, at + length))
        at += length + 37
    pieces = sound_pieces(spans, [], talk_of("one", start_ms=3_000_000))
    bed = with_faded_ends(mix(pieces, heard(pieces, source(freq, at + 100))))
    assert len(bed) == sum(lengths) * SAMPLES_MS
    steepest = 0.5 * 2 * np.pi * freq / (SAMPLES_MS * 1000)
    assert np.abs(np.diff(bed[:, 0])).max() < 3 * steepest
    assert bed[0, 0] == pytest.approx(0, abs=0.01)


def test_sounds_that_have_nothing_in_common_keep_their_power_through_a_join():
    dice = np.random.default_rng(4)
    noise = dice.normal(0, 0.1, (4000 * SAMPLES_MS, 2)).astype(np.float32)
    pieces = sound_pieces([span(100, 1100), span(2000, 3000)], [], talk_of("one", start_ms=100_000))
    bed = mix(pieces, heard(pieces, noise))
    around = bed[(1000 - 10) * SAMPLES_MS : (1000 + 10) * SAMPLES_MS]
    assert float(np.sqrt(np.square(around).mean())) == pytest.approx(0.1, rel=0.15)


def test_a_join_falls_where_both_sides_are_nearest_to_zero():
    tone = source(50)
    pieces = sound_pieces([span(103, 1105), span(2003, 3000)], [], talk_of("one", start_ms=100_000))
    bed = mix(pieces, heard(pieces, tone))
    assert np.abs(np.diff(bed[:, 0])).max() < 3 * 0.5 * 2 * np.pi * 50 / 48_000


def test_what_is_hushed_is_heard_as_the_room():
    samples = source(220, level=0.6)
    room = np.random.default_rng(1).normal(0, 0.002, samples.shape).astype(np.float32)
    samples[2000 * SAMPLES_MS : 2400 * SAMPLES_MS] = room[2000 * SAMPLES_MS : 2400 * SAMPLES_MS]
    pieces = sound_pieces([span(500, 2400)], [span(1000, 1300)], talk_of("one", start_ms=100_000))
    bed = mix(pieces, heard(pieces, samples))
    hushed = bed[530 * SAMPLES_MS : 770 * SAMPLES_MS]
    assert 0.0005 < float(np.sqrt(np.square(hushed).mean())) < 0.01
    loud = bed[100 * SAMPLES_MS : 400 * SAMPLES_MS]
    assert float(np.abs(loud).max()) > 0.5


def test_joins_and_moments_of_a_cut_are_found_in_the_source():
    kept = played([span(1000, 1500), span(3000, 3200), span(9000, 9900)])
    assert [(j.before_ms, j.after_ms, j.out_ms) for j in joins(kept)] == [(1500, 3000, 500), (3200, 9000, 700)]
    assert [source_at(kept, ms) for ms in (0, 499, 500, 650, 700, 1599, 1600)] == [
        1000,
        1499,
        3000,
        3150,
        9000,
        9899,
        None,
    ]
