"""Aligning words to sound with a small acoustic model of English (PocketSphinx): when, to a hundredth of a second, each
word of a known text was said."""

import logging
from collections.abc import Sequence
from functools import cache
from typing import Any

import numpy as np

from nimble_quote.core.transcript.aligning import AlignedWord
from nimble_quote.core.transcript.pronouncing import sounded_out, spoken_forms
from nimble_quote.media.listening import SOUND_RATE, Samples

_FRAME_MS = 10
_INTO_FRAME_MS = 8
"""A frame looks at 25.6 ms of sound from its start: what it hears lies this much later."""


@cache
def _decoder() -> Any:
    from pocketsphinx import Decoder

    logging.getLogger("pocketsphinx").setLevel(logging.CRITICAL)
    return Decoder(
        samprate=SOUND_RATE, lm=None, bestpath=False, beam=1e-100, wbeam=1e-80, pbeam=1e-100, loglevel="FATAL"
    )


def align(samples: Samples, texts: Sequence[str]) -> list[AlignedWord | None]:
    """When each of some words was said in a stretch of sound that holds them and nothing else.

    A word that is not spoken (a dash) is told by None, and all of them are where the words do not fit the sound.
    """
    spoken = [[form for form in spoken_forms(text) if form.isascii()] for text in texts]
    flat = [form for forms in spoken for form in forms]
    if not flat or len(samples) < SOUND_RATE // 10:
        return [None] * len(texts)
    times = _aligned(samples, flat)
    if times is None:
        return [None] * len(texts)
    found: list[AlignedWord | None] = []
    at = 0
    for forms in spoken:
        run = times[at : at + len(forms)]
        at += len(forms)
        found.append(AlignedWord(start_ms=run[0][0], end_ms=run[-1][1]) if run else None)
    return found


def _aligned(samples: Samples, forms: Sequence[str]) -> list[tuple[int, int]] | None:
    decoder = _decoder()
    for form in set(forms):
        if decoder.lookup_word(form) is None:
            decoder.add_word(form, sounded_out(form), True)
    decoder.set_align_text(" ".join(forms))
    decoder.start_utt()
    decoder.process_raw((samples * 32767).astype(np.int16).tobytes(), no_search=False, full_utt=True)
    decoder.end_utt()
    if decoder.hyp() is None:
        return None
    words = [
        (seg.start_frame * _FRAME_MS + _INTO_FRAME_MS, (seg.end_frame + 1) * _FRAME_MS + _INTO_FRAME_MS)
        for seg in decoder.seg()
        if not seg.word.startswith(("<", "[", "+"))
    ]
    return words if len(words) == len(forms) else None


def known_share(texts: Sequence[str]) -> float:
    """The part of some words that the English dictionary knows: low for a text in another language."""
    forms = [form for text in texts for form in spoken_forms(text)]
    known = sum(1 for form in forms if form.isascii() and _decoder().lookup_word(form) is not None)
    return known / max(1, len(forms))
