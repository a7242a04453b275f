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
LAUGH = "(laughs)"
_HEAD = re.compile(r"^(\w*)(?:@(\w+))?> ")
_MISHEARD = re.compile(r"\{([^=}]+)=([^}]+)\}")


@dataclass(frozen=True, kw_only=True)
class Line:
    """One sentence of a script: who says what, what the recogniser heard, the pause after it (less than none where
    the next speaker breaks in), and the picture that begins with it."""

    said: str
    heard: str
    pause_s: float
    who: str
    picture: str | None


@dataclass(frozen=True, kw_only=True)
class Timbre:
    """A voice made from the one there is: everything lower by a factor, and how fast it speaks."""

    lower: float = 1.0
    speed: float = 0.78


@dataclass(frozen=True, kw_only=True)
class SpokenWord:
    """A word with its true time; `heard` is the recogniser's text for it."""

    said: str
    heard: str
    start_ms: int
    end_ms: int
    sentence: int
    who: str


@dataclass(frozen=True, kw_only=True)
class Spoken:
    """A script spoken: its sound, the sound of each speaker alone, its words, and when each line begins (seconds)."""

    samples: np.ndarray
    alone: dict[str, np.ndarray]
    words: list[SpokenWord]
    starts_s: list[float]


def read_script(path: Path) -> list[Line]:
    """The sentences of a script file (see the comment at the head of each)."""
    lines = []
    for raw in path.read_text(encoding="utf-8").splitlines():
        if not raw.strip() or raw.startswith("#"):
            continue
        text, pause = raw.rsplit("|", 1)
        head = _HEAD.match(text)
        text = text[head.end() :] if head else text
        said = _MISHEARD.sub(lambda m: m[1], text.strip())
        heard = _MISHEARD.sub(lambda m: m[2].replace(" ", "\u00a0"), text.strip())
        lines.append(
            Line(
                said=said,
                heard=heard,
                pause_s=float(pause),
                who=(head[1] if head else None) or (lines[-1].who if lines else "Maren"),
                picture=head[2] if head else None,
            )
        )
    return lines


class Voice:
    """The synthesiser, opened with its duration layer as one more output."""

    def __init__(self, scratch: Path) -> None:
        self._tts = hibari.Hibari(threads=2)
        model = onnx.load(self._tts.model_path)
        model.graph.output.append(onnx.helper.make_empty_tensor_value_info(DURATIONS))
        timed = scratch / "timed-voice.onnx"
        onnx.save(model, str(timed))
        self._session = onnxruntime.InferenceSession(str(timed), providers=["CPUExecutionProvider"])

    def say(self, text: str, rng: np.random.Generator, timbre: Timbre) -> tuple[np.ndarray, list[tuple[float, float]]]:
        """Samples (float32, 24 kHz) of one sentence and the (start, end) seconds of each of its words."""
        phonemes = " ".join(self._tts.phonemize(text))
        kept = [c for c in phonemes if c in self._tts.vocab]
        ids = np.asarray([[0, *(self._tts.vocab[c] for c in kept), 0]], np.int64)
        speed = np.asarray([timbre.speed * timbre.lower], np.float32)
        *layers, durations = self._session.run(
            ["lh", "theta", "ln", "lr", "phi", "f0", DURATIONS], {"ids": ids, "speed": speed}
        )
        samples = _lowered(dsp.synth(*(layer[0] for layer in layers), rng), timbre.lower)
        told = _word_times(kept, np.cumsum(np.asarray(durations).reshape(-1)) * STEP_S)
        times = []
        for start, end, paused in told:
            before = times[-1][1] if times else 0.0
            first = _rises(samples, start * timbre.lower, before) if paused else max(before, start * timbre.lower)
            times.append((first, _dies_away(samples, first, end * timbre.lower)))
        return _trimmed(samples, times)

    def speak(self, lines: list[Line], timbres: dict[str, Timbre]) -> Spoken:
        """The whole script."""
        rng = np.random.default_rng(7)
        pieces: list[tuple[str, float, np.ndarray]] = []
        words: list[SpokenWord] = []
        starts, at = [], LEAD_S
        for number, line in enumerate(lines):
            starts.append(at)
            if line.said == LAUGH:
                samples, times = _laugh(self.say("Ha.", rng, timbres[line.who])[0]), []
            else:
                samples, times = self.say(line.said, rng, timbres[line.who])
                words += _words_of(line, number, times, at)
            pieces.append((line.who, at, samples))
            at += len(samples) / SAMPLE_RATE + line.pause_s
        total = int((at + 0.5) * SAMPLE_RATE)
        alone = {who: np.zeros(total, np.float32) for who in timbres}
        for who, start, samples in pieces:
            first = int(start * SAMPLE_RATE)
            alone[who][first : first + len(samples)] += samples
        mixed = np.sum(list(alone.values()), axis=0)
        ordered = sorted(words, key=lambda word: (word.sentence, word.start_ms))
        return Spoken(samples=_in_a_room(mixed), alone=alone, words=ordered, starts_s=starts)


def _words_of(line: Line, number: int, times: list[tuple[float, float]], at: float) -> list[SpokenWord]:
    said, heard = line.said.split(), line.heard.split(" ")
    if not len(said) == len(heard) == len(times):
        raise ValueError(f"{line.said!r}: {len(said)} words, {len(times)} spoken")
    return [
        SpokenWord(
            said=one,
            heard=other.replace("\u00a0", " "),
            sentence=number,
            start_ms=round((at + start) * 1000),
            end_ms=round((at + end) * 1000),
            who=line.who,
        )
        for one, other, (start, end) in zip(said, heard, times, strict=True)
    ]


def _lowered(samples: np.ndarray, factor: float) -> np.ndarray:
    """Pitch and formants lower by a factor, and as much longer: what a larger throat does."""
    if factor == 1.0:
        return samples
    at = np.arange(int(len(samples) * factor)) / factor
    return np.interp(at, np.arange(len(samples)), samples).astype(np.float32)


def _laugh(ha: np.ndarray) -> np.ndarray:
    """A short laugh: one syllable over and over, quicker and softer."""
    piece = ha[: int(0.26 * SAMPLE_RATE)]
    out = np.zeros(int(2.2 * SAMPLE_RATE), np.float32)
    for number in range(8):
        first = int((number * 0.21 + 0.012 * number * (number % 2)) * SAMPLE_RATE)
        out[first : first + len(piece)] += piece * 0.9**number
    return out


def _word_times(symbols: list[str], ends: np.ndarray) -> list[tuple[float, float, bool]]:
    """Splits the phoneme times at spaces: start, end, and whether a pause may stand before the word.

    Punctuation is the silence after a word, not part of it. The step that a space takes is sounded as the beginning
    of the next word, and each sound begins half a step before the network's own account: measured on plosives, whose
    closures and bursts can be seen in the samples.
    """
    words: list[tuple[float, float, bool]] = []
    start: float | None = None
    last, paused = 0.0, True
    for index, symbol in enumerate(symbols, start=1):
        if symbol == " ":
            if start is not None:
                words.append((start, last, paused))
                paused = False
            start = None
        elif symbol in ',.!?;:—…"“”':
            paused = True
        else:
            if start is None:
                start = float(ends[index - 1]) if paused or not words else words[-1][1]
            last = float(ends[index]) - STEP_S / 2
    if start is not None:
        words.append((start, last, paused))
    return words


def _rises(samples: np.ndarray, start: float, after: float) -> float:
    """The second, near the one told, at which the sound of a word after a pause stands 15 dB out of the silence."""
    step = SAMPLE_RATE // 200
    first = int(max(after, start - 0.15) * SAMPLE_RATE)
    piece = samples[first : int((start + 0.06) * SAMPLE_RATE)]
    frames = piece[: len(piece) // step * step].reshape(-1, step)
    if len(frames) < 6:
        return max(after, start - STEP_S)
    level = 20 * np.log10(np.sqrt((frames**2).mean(axis=1)) + 1e-5)
    out = np.nonzero(level >= level[:-2].min() + 15)[0]
    return first / SAMPLE_RATE + int(out[0]) / 200 if len(out) else max(after, start - STEP_S)


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
