"""The ends of sentences in the demo talks, their marks and capitals taken away, by what is heard."""

import subprocess
import tempfile
from collections.abc import Sequence
from pathlib import Path

import numpy as np

from nimble_quote.core.language import bare
from nimble_quote.core.transcript.aligning import marked
from nimble_quote.core.transcript.cues import TimedCue, timed_words
from nimble_quote.core.transcript.document import SpokenSentence, SpokenWord, Transcript, resentenced, transcript_of
from nimble_quote.demo.load import DEMO, joined
from nimble_quote.formats.languages import language
from nimble_quote.media.likelihoods import ends_by_wording
from nimble_quote.media.listening import SOUND_RATE
from nimble_quote.media.recogniser import model_folder, recognise
from tests.truth import truth_of

_BLOCK = 90 * SOUND_RATE


def by_ear() -> tuple[float, float]:
    """F1 of the ends with the marks that the recogniser hears, and without, in all demo talks together."""
    with_marks, without, true = 0, 0, 0
    called = [0, 0]
    for one in DEMO:
        words, ends = _words(one.name)
        heard = _heard(one.name, one.original)
        found = [_ends(marked(words, heard), True), _ends(words, False)]
        with_marks += len(found[0] & ends)
        without += len(found[1] & ends)
        called = [count + len(those) for count, those in zip(called, found, strict=True)]
        true += len(ends)
    return 2 * with_marks / (called[0] + true), 2 * without / (called[1] + true)


def _words(name: str) -> tuple[list[SpokenWord], set[int]]:
    """The words of a demo talk without marks, with their true times, and the gaps where its sentences end."""
    said = [word for word in truth_of(name)["words"] if bare(word["said"])]
    ends = {i for i in range(1, len(said)) if said[i]["sentence"] != said[i - 1]["sentence"]}
    words = [
        SpokenWord(text=bare(word["said"]), start_ms=word["start_ms"], end_ms=word["end_ms"], timing="a")
        for word in said
    ]
    return words, ends


def _ends(words: Sequence[SpokenWord], by_ear: bool) -> set[int]:
    whole = Transcript(sentences=(SpokenSentence(words=tuple(words)),))
    sizes = [len(one.words) for one in resentenced(whole, language("en"), ends_by_wording("en"), by_ear).sentences]
    return {int(end) for end in np.cumsum(sizes)[:-1]}


def _heard(name: str, original: str) -> list[SpokenWord]:
    with tempfile.TemporaryDirectory() as folder:
        source = Path(folder) / original
        joined(name, original, source)
        raw = subprocess.run(
            ["ffmpeg", "-v", "error", "-i", source, "-ar", str(SOUND_RATE), "-ac", "1", "-f", "f32le", "-"],
            capture_output=True, check=True,
        ).stdout  # fmt: skip
    samples = np.frombuffer(raw, np.float32)
    cues: list[TimedCue] = []
    for start in range(0, len(samples), _BLOCK):
        cues += recognise(samples[start : start + _BLOCK], model_folder(None), "en")
    return [word for one in transcript_of(timed_words(cues)).sentences for word in one.words]
