"""Music: where it can be looped, how it makes room for the voice, and what is told of it."""

from dataclasses import replace

import numpy as np
import pytest

from nimble_quote.core.assembly import Assembly, assemble
from nimble_quote.core.assembly.model import MusicLayer, Sound
from nimble_quote.core.caption_checks import Checked
from nimble_quote.core.catalogue import HouseSound
from nimble_quote.core.context import Context
from nimble_quote.core.credits import credits_of, credits_owed
from nimble_quote.core.cutting.mixing import SAMPLE_RATE, SAMPLES_MS
from nimble_quote.core.document import EndCard, Music, QuoteDocument, SpeakingSound, What
from nimble_quote.core.edits import AddOverlay, AddVersion, Edit, SetSpeed, Shows, apply_edit, new_quote
from nimble_quote.core.overlay_checks import SPEECH_OVER_MUSIC_DB, check_overlays
from nimble_quote.core.sound.ducking import AHEAD_MS, HOLD_MS, gains, lowered, phrases
from nimble_quote.core.sound.laying import SILENT_LUFS, UNDER_VOICE_DB, with_film, with_music
from nimble_quote.core.sound.looping import CROSSFADE, Loop, find_loop, looped
from nimble_quote.core.timebase import Span
from tests.shipped import DESTINATIONS
from tests.talks import HD, context_of, talk_of

PIECE = HouseSound(
    id=1, name="Lamp music", duration_ms=20_000, loudness_lufs=-16.0, loop=Loop(start=0, end=960_000), licence="ours"
)
BELL = HouseSound(id=2, name="Bell", duration_ms=1500, loudness_lufs=-20.0)


def quote(*edits: Edit) -> tuple[QuoteDocument, Context]:
    context = context_of(talk_of("Keep the wick short. | | A long wick smokes."))
    context = replace(context, catalogue=context.catalogue.model_copy(update={"sounds": (PIECE, BELL)}))
    document = new_quote(context, 0, len(context.talk.words) - 1)
    for edit in edits:
        document = apply_edit(document, edit, context)
    return document, context


def added(what: What, **shows: object) -> AddOverlay:
    return AddOverlay(what=what, shows=Shows.model_validate(shows))


def made(*edits: Edit) -> Assembly:
    document, context = quote(*edits)
    return assemble(document, context, HD, DESTINATIONS["tall-60"])


# --- in the assembly ----------------------------------------------------------------------------------------------------


def test_music_is_heard_to_the_end_of_the_clip_its_card_too():
    assembly = made(added(Music(sound=1)), added(EndCard(text="Bye", length_ms=2000)))
    (layer,) = assembly.sound.music
    assert (layer.start_ms, layer.end_ms) == (0, round(assembly.length_ms))
    assert (layer.loop, layer.loudness_lufs, layer.revision) == (PIECE.loop, -16.0, 1)
    assert assembly.house_sounds == {1}
    assert assembly.overlays
    assert all(one.item == 2 for one in assembly.overlays), "nothing of it is seen"


def test_a_sound_at_words_is_heard_from_them_and_no_longer_than_it_is():
    assembly = made(added(Music(sound=2, repeats=False), kind="words", first=4, last=7))
    (layer,) = assembly.sound.music
    document, context = quote()
    assert layer.start_ms == pytest.approx(context.talk.word(4).start_ms - document.span.start_ms, abs=20)
    assert layer.end_ms - layer.start_ms <= BELL.duration_ms
    assert layer.loop is None


def test_when_somebody_speaks_is_told_in_the_time_of_the_clip():
    assembly = made(added(Music(sound=1)))
    faster = made(added(Music(sound=1)), AddVersion(destination="tall-60"), SetSpeed(destination="tall-60", speed=1.1))
    assert len(assembly.sound.voiced) == 2
    for one, other in zip(assembly.sound.voiced, faster.sound.voiced, strict=True):
        assert other.start_ms == pytest.approx(one.start_ms / 1.1, abs=1)
    assert made().sound.voiced == (), "nobody asks where there is no music"


def test_the_voice_is_cleaned_as_chosen():
    assert made().sound.cleaned is None
    assert made(added(SpeakingSound(strength="firm"))).sound.cleaned == "firm"


def test_credits_say_what_is_heard():
    document, context = quote(added(Music(sound=1)))
    assembly = assemble(document, context, HD, DESTINATIONS["tall-60"])
    assert [(one.name, one.licence) for one in credits_of(assembly, context.catalogue)] == [("Lamp music", "ours")]
    assert credits_owed(assembly, context.catalogue) == credits_of(assembly, context.catalogue)
    sounds = tuple(one.model_copy(update={"ships": True}) for one in context.catalogue.sounds)
    assert credits_owed(assembly, context.catalogue.model_copy(update={"sounds": sounds})) == ()


def test_music_that_is_loud_or_without_a_licence_note_is_told():
    document, context = quote(added(Music(sound=2, below_db=3, duck_db=4)))
    assembly = assemble(document, context, HD, DESTINATIONS["tall-60"])
    checked = Checked(context=context, overlays=document.overlays)
    told = {one.check: one for one in check_overlays(assembly, checked)}
    assert set(told) == {"music-licence", "music-loud"}
    mend = told["music-loud"].mend
    assert mend is not None
    what = apply_edit(document, mend, context).overlays[0].what
    assert isinstance(what, Music)
    assert what.below_db + what.duck_db == SPEECH_OVER_MUSIC_DB


# --- how loud -----------------------------------------------------------------------------------------------------------


def test_short_pauses_are_bridged():
    spans = [Span(start_ms=0, end_ms=1000), Span(start_ms=1800, end_ms=2000), Span(start_ms=4000, end_ms=4500)]
    assert [(one.start_ms, one.end_ms) for one in phrases(spans)] == [(0, 2000), (4000, 4500)]


def test_music_is_down_before_a_phrase_begins_and_stays_so_while_it_lasts():
    lower = lowered([Span(start_ms=3000, end_ms=5000)], 10_000, 14.0, 300)
    at = lambda ms: float(lower[ms // 5])  # noqa: E731
    assert at(3000 - AHEAD_MS) == pytest.approx(-14)
    assert (
        min(at(ms) for ms in range(2900, 5000 + HOLD_MS, 50))
        == max(at(ms) for ms in range(2900, 5000 + HOLD_MS, 50))
        == -14
    )
    assert at(3000 - AHEAD_MS - 300) == pytest.approx(0)
    assert at(5000 + HOLD_MS + 700) == pytest.approx(0)
    assert -14 < at(2650) < 0


def test_ends_fade_and_nothing_is_lowered_without_depth():
    gain = gains([Span(start_ms=1000, end_ms=2000)], 4000, 0.0, 300, 500, 1000)
    assert len(gain) == 4000 * SAMPLES_MS
    assert gain[0] < 0.01
    assert gain[500 * SAMPLES_MS : 3000 * SAMPLES_MS].min() == pytest.approx(1)
    assert gain[-1] < 0.01
    whole = gains([], 300, 0.0, 300, 500, 1000)
    assert len(whole) == 300 * SAMPLES_MS, "fades longer than the music are as long as it"


def layer(**more: object) -> MusicLayer:
    told = {
        "item": 1, "sound": 1, "revision": 1, "loop": None, "loudness_lufs": -20.0, "start_ms": 1000, "end_ms": 5000, "from_ms": 0,
        "below_db": 6.0, "duck_db": 12.0, "fall_ms": 200, "fade_in_ms": 0, "fade_out_ms": 0,
    }  # fmt: skip
    return MusicLayer.model_validate({**told, **more})


def test_music_is_so_many_db_below_the_voice_and_nowhere_else():
    bed = np.zeros((6000 * SAMPLES_MS, 2), np.float32)
    piece = np.full((6000 * SAMPLES_MS, 2), 0.1, np.float32)
    sound = Sound(speech=(), voiced=(Span(start_ms=2500, end_ms=3500),), music=(layer(),))
    out = with_music(bed, sound, {1: piece}, -20.0)
    assert not out[: 1000 * SAMPLES_MS].any()
    assert not out[5000 * SAMPLES_MS :].any()
    assert out[1100 * SAMPLES_MS, 0] == pytest.approx(0.1 * 10 ** (-6 / 20), rel=1e-3)
    assert out[3000 * SAMPLES_MS, 0] == pytest.approx(0.1 * 10 ** (-18 / 20), rel=1e-3)
    quiet = with_music(bed, sound, {1: piece}, SILENT_LUFS)
    assert quiet[1100 * SAMPLES_MS, 0] == pytest.approx(0.1 * 10 ** (-6 / 20), rel=1e-3), "nobody speaks: as if at -20"
    assert not bed.any()


# --- loops --------------------------------------------------------------------------------------------------------------


def bars(count: int, beats: int = 8, tempo: float = 100) -> np.ndarray:
    """Music of so many bars that are all alike, but for their bass, which repeats every second bar."""
    beat = 60 / tempo
    length = round(count * beats * beat * SAMPLE_RATE)
    out = np.zeros(length + SAMPLE_RATE)
    at = np.arange(SAMPLE_RATE // 2) / SAMPLE_RATE
    for bar in range(count):
        for step in range(beats):
            pitch = 220 * 2 ** (((0, 4, 7, 12, 7, 4, 5, 9)[step] + (0, 5)[bar % 2]) / 12)
            start = round((bar * beats + step) * beat * SAMPLE_RATE)
            out[start : start + len(at)] += np.sin(2 * np.pi * pitch * at) * np.exp(-at * 6)
    return np.stack([out[:length]] * 2, axis=1).astype(np.float32) * 0.3


def test_a_loop_is_whole_turns_to_the_sample():
    loop = find_loop(bars(6))
    assert loop is not None
    turn = 2 * 8 * 0.6 * SAMPLE_RATE
    assert abs((loop.end - loop.start) / turn - round((loop.end - loop.start) / turn)) * turn < 4
    assert loop.alike > 0.9


def test_a_long_piece_is_looped_to_the_sample_as_well():
    loop = find_loop(bars(22))
    assert loop is not None
    turns = (loop.end - loop.start) / (2 * 8 * 0.6 * SAMPLE_RATE)
    assert abs(turns - round(turns)) * 2 * 8 * 0.6 * SAMPLE_RATE < 4
    assert loop.alike > 0.9


def test_a_loop_has_no_click_and_no_bump():
    piece = bars(6)
    out = looped(piece, find_loop(piece), 0, 60 * SAMPLE_RATE)
    assert len(out) == 60 * SAMPLE_RATE
    assert np.abs(np.diff(out[:, 0], 2)).max() <= np.abs(np.diff(piece[:, 0], 2)).max() * 1.05
    assert np.abs(out).max() <= np.abs(piece).max() * 1.05


def test_a_piece_that_repeats_nowhere_goes_from_its_end_to_its_start_if_it_is_as_loud_there():
    rng = np.random.default_rng(3)
    sweep = np.cumsum(np.geomspace(100, 3000, 12 * SAMPLE_RATE)) * 2 * np.pi / SAMPLE_RATE
    steady = np.stack([np.sin(sweep)] * 2, axis=1).astype(np.float32)
    half = CROSSFADE // 2
    assert find_loop(steady) in (Loop(start=half, end=len(steady) - half), Loop(start=0, end=len(steady), alike=1.0))
    assert find_loop(np.concatenate([steady, steady[::-1]])) is not None
    stepped = steady[: int(np.flatnonzero(np.abs(steady[:, 0]) > 0.99)[-1]) + 1]
    assert find_loop(stepped) == Loop(start=half, end=len(stepped) - half), "a step is faded over"
    fading = steady * np.linspace(1, 0, len(steady), dtype=np.float32)[:, None]
    assert find_loop(fading) is None
    assert find_loop(rng.normal(size=(SAMPLE_RATE, 2)).astype(np.float32)) is None, "a second is too short"


def test_without_a_loop_a_piece_ends():
    piece = np.ones((1000, 2), np.float32)
    out = looped(piece, None, 200, 2000)
    assert (out[:800] == 1).all()
    assert not out[800:].any()


@pytest.mark.parametrize("first", [0, 30_000, 95_000])
def test_a_loop_goes_on_wherever_it_begins(first: int):
    piece = np.random.default_rng(1).normal(0, 0.1, (100_000, 2)).astype(np.float32)
    out = looped(piece, Loop(start=0, end=100_000), first, 400_000)
    power = np.square(out[: 400_000 // 5000 * 5000]).reshape(-1, 5000, 2).mean(axis=(1, 2))
    assert power.min() > 0.006, "it is as loud at each turn"
    assert power.max() < 0.014
    until = 95_000 - first
    assert np.array_equal(out[:until], piece[first:95_000]), "as it is, until it turns"


def test_footage_is_heard_under_the_voice_or_in_its_place_and_nowhere_else():
    voice = np.full((48_000, 2), 0.25, np.float32)
    film = np.full((24_000, 2), 0.5, np.float32)
    under = with_film(voice, film, 12_000, 0.0, alone=False)
    assert under[24_000, 0] == pytest.approx(0.25 + 0.5 * 10 ** (-UNDER_VOICE_DB / 20), rel=0.01)
    instead = with_film(voice, film, 12_000, -6.02, alone=True)
    assert instead[24_000, 0] == pytest.approx(0.25, rel=0.01), "as loud as the voice, and no voice"
    for made in (under, instead):
        assert np.array_equal(made[:12_000], voice[:12_000])
        assert np.array_equal(made[36_000:], voice[36_000:])
        assert np.abs(np.diff(made[:, 0])).max() < 0.01, "nothing clicks"
    late = with_film(voice, film, 40_000, 0.0, alone=True)
    assert len(late) == len(voice), "no longer than the clip"
    assert with_film(voice, film, 48_000, 0.0, alone=True) is voice
    hiss = with_film(voice, film, 12_000, 60.0, alone=True)
    assert hiss.max() < 0.5 * 10 ** (24.1 / 20), "what is all but silent is not made a roar"
