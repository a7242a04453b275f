"""Music laid under the sound of a cut: each piece so many dB below the voice, lowered ahead of each phrase."""

from collections.abc import Mapping

from nimble_quote.core.assembly.model import Sound
from nimble_quote.core.cutting.mixing import SAMPLES_MS, Samples
from nimble_quote.core.sound.ducking import gains
from nimble_quote.core.sound.looping import looped
from nimble_quote.core.timebase import Span

SILENT_LUFS = -20.0
"""How loud a voice is taken to be where none is heard."""


def with_music(bed: Samples, sound: Sound, pieces: Mapping[int, Samples], voice_lufs: float | None) -> Samples:
    """The sound of a cut (n x channels) with its music, whose samples are in `pieces`; the voice in it is so loud."""
    out = bed.copy()
    voice = SILENT_LUFS if voice_lufs is None else voice_lufs
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
        level = 10 ** ((voice - layer.below_db - layer.loudness_lufs) / 20)
        out[start:end] += piece * (gain[: end - start, None] * level).astype(out.dtype)
    return out
