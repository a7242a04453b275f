"""Speaks a script with the synthesiser and keeps when each word was said.

The speech model gives each phoneme a duration in steps of 25 ms; asking the network for that layer as well gives
word times that are exact to a step. A word before a pause is drawn out over the silence by the model, so its end is
pulled in to where its sound dies away. These times are the truth that tests compare with.
"""

import re
from dataclasses import dataclass
from pathlib import Path

import hibari
import numpy as np
import onnx
import onnxruntime
from hibari import dsp

SAMPLE_RATE = dsp.SR
STEP_S = 2 * dsp.HOP / dsp.SR
DURATIONS = "/Clip_output_0"
LEAD_S = 1.2
EDGE_S = 0.06
_MISHEARD = re.compile(r"\{([^=}]+)=([^}]+)\}")


@dataclass(frozen=True, kw_only=True)
class Line:
    """One sentence of a script: what is said, what the recogniser heard, and the pause after it."""

    said: str
    heard: str
    pause_s: float


@dataclass(frozen=True, kw_only=True)
class SpokenWord:
    """A word with its true time; `heard` is the recogniser's text for it."""

    said: str
    heard: str
    start_ms: int
    end_ms: int
    sentence: int


def read_script(path: Path) -> list[Line]:
    """The sentences of a script file (see the comment at the head of each)."""
    lines = []
    for raw in path.read_text(encoding="utf-8").splitlines():
        if not raw.strip() or raw.startswith("#"):
            continue
        text, pause = raw.rsplit("|", 1)
        said = _MISHEARD.sub(lambda m: m[1], text.strip())
        heard = _MISHEARD.sub(lambda m: m[2].replace(" ", "\u00a0"), text.strip())
        lines.append(Line(said=said, heard=heard, pause_s=float(pause)))
    return lines


class Voice:
    """The synthesiser, opened with its duration layer as one more output."""

    def __init__(self, scratch: Path, speed: float = 0.78) -> None:
        self._tts = hibari.Hibari(threads=2)
        model = onnx.load(self._tts.model_path)
        model.graph.output.append(onnx.helper.make_empty_tensor_value_info(DURATIONS))
        timed = scratch / "timed-voice.onnx"
        onnx.save(model, str(timed))
        self._session = onnxruntime.InferenceSession(str(timed), providers=["CPUExecutionProvider"])
        self._speed = speed

    def say(self, text: str, rng: np.random.Generator) -> tuple[np.ndarray, list[tuple[float, float]]]:
        """Samples (float32, 24 kHz) of one sentence and the (start, end) seconds of each of its words."""
        phonemes = " ".join(self._tts.phonemize(text))
        kept = [c for c in phonemes if c in self._tts.vocab]
        ids = np.asarray([[0, *(self._tts.vocab[c] for c in kept), 0]], np.int64)
        speed = np.asarray([self._speed], np.float32)
        *layers, durations = self._session.run(
            ["lh", "theta", "ln", "lr", "phi", "f0", DURATIONS], {"ids": ids, "speed": speed}
        )
        samples = dsp.synth(*(layer[0] for layer in layers), rng)
        ends = np.cumsum(np.asarray(durations).reshape(-1)) * STEP_S
        times = [(start, _dies_away(samples, start, end)) for start, end in _word_times(kept, ends)]
        return _trimmed(samples, times)

    def speak(self, lines: list[Line]) -> tuple[np.ndarray, list[SpokenWord]]:
        """The whole script: samples and every word with its time."""
        rng = np.random.default_rng(7)
        pieces, words, at = [np.zeros(int(LEAD_S * SAMPLE_RATE), np.float32)], [], LEAD_S
        for number, line in enumerate(lines):
            samples, times = self.say(line.said, rng)
            said, heard = line.said.split(), line.heard.split(" ")
            if not len(said) == len(heard) == len(times):
                raise ValueError(f"{line.said!r}: {len(said)} words, {len(times)} spoken")
            for one, other, (start, end) in zip(said, heard, times, strict=True):
                words.append(
                    SpokenWord(
                        said=one,
                        heard=other.replace("\u00a0", " "),
                        sentence=number,
                        start_ms=round((at + start) * 1000),
                        end_ms=round((at + end) * 1000),
                    )
                )
            silence = np.zeros(int(line.pause_s * SAMPLE_RATE), np.float32)
            pieces += [samples, silence]
            at += (len(samples) + len(silence)) / SAMPLE_RATE
        return _in_a_room(np.concatenate(pieces)), words


def _word_times(symbols: list[str], ends: np.ndarray) -> list[tuple[float, float]]:
    """Splits the phoneme times at spaces; punctuation is the silence after a word, not part of it."""
    words: list[tuple[float, float]] = []
    start: float | None = None
    last = 0.0
    for place, symbol in enumerate(symbols, start=1):
        if symbol == " ":
            if start is not None:
                words.append((start, last))
            start = None
        elif symbol not in ',.!?;:—…"“”':
            start = float(ends[place - 1]) if start is None else start
            last = float(ends[place])
    if start is not None:
        words.append((start, last))
    return words


def _trimmed(samples: np.ndarray, times: list[tuple[float, float]]) -> tuple[np.ndarray, list[tuple[float, float]]]:
    """A sentence without the silence the model leaves around it, which would make every pause the same."""
    first = max(0.0, times[0][0] - EDGE_S)
    last = min(len(samples) / SAMPLE_RATE, times[-1][1] + 2 * EDGE_S)
    fade = np.linspace(0, 1, int(0.02 * SAMPLE_RATE), dtype=np.float32)
    piece = samples[int(first * SAMPLE_RATE) : int(last * SAMPLE_RATE)].copy()
    piece[: len(fade)] *= fade
    piece[-len(fade) :] *= fade[::-1]
    return piece, [(start - first, end - first) for start, end in times]


def _dies_away(samples: np.ndarray, start: float, end: float) -> float:
    """The second after which a word is more than 32 dB under its own loudest 10 ms."""
    step = SAMPLE_RATE // 100
    piece = samples[int(start * SAMPLE_RATE) : int(end * SAMPLE_RATE)]
    frames = piece[: len(piece) // step * step].reshape(-1, step)
    if not len(frames):
        return end
    level = np.sqrt((frames**2).mean(axis=1))
    last = int(np.nonzero(level >= level.max() * 10 ** (-32 / 20))[0][-1])
    return min(end, start + (last + 1) / 100)


def _in_a_room(dry: np.ndarray) -> np.ndarray:
    """A little early reflection and room tone, so that silence is not digital silence."""
    rng = np.random.default_rng(11)
    wet = dry.copy()
    for delay_ms, gain in ((17, 0.12), (29, 0.08), (43, 0.05), (61, 0.03)):
        shift = delay_ms * SAMPLE_RATE // 1000
        wet[shift:] += gain * dry[:-shift]
    tone = np.convolve(rng.standard_normal(len(dry)), np.ones(24) / 24, mode="same").astype(np.float32) * 0.004
    mixed = wet + tone
    return (0.5 * mixed / np.max(np.abs(mixed))).astype(np.float32)
