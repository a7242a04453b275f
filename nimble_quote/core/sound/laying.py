"""What is laid under the sound of a cut: music, each piece so many dB below the voice, lowered ahead of each phrase; and the sound
of footage, under the voice or in its place."""

from collections.abc import Mapping

import numpy as np

from nimble_quote.core.assembly.model import Sound
from nimble_quote.core.cutting.mixing import SAMPLES_MS, Samples
from nimble_quote.core.sound.ducking import gains
from nimble_quote.core.sound.looping import looped
from nimble_quote.core.timebase import Span

UNDER_VOICE_DB = 16.0
"""How far below the voice footage is heard under it."""
_FILM_FADE_MS = 60
_MOST_LOUDER_DB = 24.0
"""What is all but silent is not made a roar."""
SILENT_LUFS = -20.0
"""How loud a voice is taken to be where none is heard."""


def with_film(bed: Samples, heard: Samples, start: int, louder_db: float, *, alone: bool) -> Samples:
    """The sound of a cut (n x channels) with that of footage from a sample on, so much louder than it was recorded to be as loud as
    the voice: `alone` in its place, otherwise well below it."""
    length = min(len(heard), len(bed) - start)
    if length <= 0:
        return bed
    out = bed.copy()
    fade = min(_FILM_FADE_MS * SAMPLES_MS, length // 2)
    there = np.ones(length, np.float32)
    there[:fade] = np.sin((np.arange(fade) + 0.5) * np.pi / 2 / max(1, fade))
    there[length - fade :] = there[:fade][::-1]
    if alone:
        out[start : start + length] *= np.sqrt(1 - np.square(there))[:, None]
    level = 10 ** ((min(louder_db, _MOST_LOUDER_DB) - (0 if alone else UNDER_VOICE_DB)) / 20)
    out[start : start + length] += heard[:length] * (there[:, None] * np.float32(level))
    return out


def with_music(bed: Samples, sound: Sound, pieces: Mapping[int, Samples], voice_lufs: float) -> Samples:
    """The sound of a cut (n x channels) with its music, whose samples are in `pieces`; the voice in it is so loud."""
    out = bed.copy()
    for layer in sound.music:
        start, end = layer.start_ms * SAMPLES_MS, min(layer.end_ms * SAMPLES_MS, len(out))
        if start >= end:
            continue
        piece = looped(pieces[layer.sound], layer.loop, layer.from_ms * SAMPLES_MS, end - start)
        voiced = [
            Span(start_ms=max(0, one.start_ms - layer.start_ms), end_ms=one.end_ms - layer.start_ms)
            for one in sound.voiced
            if one.end_ms > layer.start_ms
        ]
        gain = gains(
            voiced, layer.end_ms - layer.start_ms, layer.duck_db, layer.fall_ms, layer.fade_in_ms, layer.fade_out_ms
        )
        level = 10 ** ((voice_lufs - layer.below_db - layer.loudness_lufs) / 20)
        out[start:end] += piece * (gain[: end - start, None] * level).astype(out.dtype)
    return out
