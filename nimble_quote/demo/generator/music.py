"""Makes the three pieces of music that ship: plain chords and a few tones, of our own, by numpy alone.

Run once (`python -m nimble_quote.demo.generator.music`); what it makes is kept in `nimble_quote/music/`. Each piece is whole
bars, and the tails of its last tones sound on over its beginning, so that its end meets its start.
"""

import subprocess
import wave
from pathlib import Path

import numpy as np

RATE = 48_000
FOLDER = Path(__file__).parents[2] / "music"


def tone(pitch: float) -> float:
    """The frequency of a pitch, in semitones from the A below the middle C."""
    return 220.0 * 2 ** (pitch / 12)


def plucked(pitch: float, seconds: float, bright: float = 0.5) -> np.ndarray:
    """A plucked string: partials that die away, the higher the sooner."""
    at = np.arange(int(seconds * RATE)) / RATE
    out = np.zeros(len(at))
    for n in range(1, 9):
        out += np.sin(2 * np.pi * tone(pitch) * n * at + n) * bright ** (n - 1) * np.exp(-at * (1.6 + 0.9 * n))
    return out * np.minimum(1, at * 400)


def mallet(pitch: float, seconds: float) -> np.ndarray:
    """A bar struck with felt: its tone, and the fourth and tenth partial for a moment."""
    at = np.arange(int(seconds * RATE)) / RATE
    parts = ((1.0, 1.0, 2.2), (3.9, 0.22, 8.0), (9.8, 0.06, 16.0))
    return sum(
        np.sin(2 * np.pi * tone(pitch) * n * at) * loud * np.exp(-at * fast) for n, loud, fast in parts
    ) * np.minimum(1, at * 300)


def pad(pitches: list[float], seconds: float) -> np.ndarray:
    """A chord that swells and goes, each tone as two that are a little apart."""
    at = np.arange(int(seconds * RATE)) / RATE
    swell = np.sin(np.pi * np.clip(at / seconds, 0, 1)) ** 0.7
    out = np.zeros(len(at))
    for pitch in pitches:
        for apart in (-0.06, 0.05):
            for n, loud in ((1, 1.0), (2, 0.28), (3, 0.1)):
                out += np.sin(2 * np.pi * tone(pitch + apart) * n * at + pitch * n) * loud
    return out * swell / len(pitches)


class Piece:
    """A piece of so many beats; what goes past its end sounds on at its start."""

    def __init__(self, beats: int, tempo: float) -> None:
        self.beat = 60 / tempo
        self.samples = np.zeros((round(beats * self.beat * RATE), 2))

    def put(self, beat: float, sound: np.ndarray, loud: float, side: float = 0.0) -> None:
        """Adds a sound at a beat; `side` is -1 (left) to 1 (right)."""
        places = (int(beat * self.beat * RATE) + np.arange(len(sound))) % len(self.samples)
        for channel, share in enumerate((1 - max(0, side), 1 + min(0, side))):
            np.add.at(self.samples[:, channel], places, sound * loud * share)

    def write(self, name: str) -> None:
        """Writes it as Opus, which keeps the exact length."""
        wav = FOLDER / f"{name}.wav"
        samples = self.samples / np.abs(self.samples).max() * 0.7
        with wave.open(str(wav), "wb") as out:
            out.setnchannels(2)
            out.setsampwidth(2)
            out.setframerate(RATE)
            out.writeframes((samples * 32767).astype("<i2").tobytes())
        subprocess.run(
            [
                "ffmpeg",
                "-v",
                "error",
                "-y",
                "-i",
                wav,
                "-c:a",
                "libopus",
                "-b:a",
                "64k",
                "-map_metadata",
                "-1",
                FOLDER / f"{name}.opus",
            ],
            check=True,
        )
        wav.unlink()


def short_wick() -> Piece:
    """Plucked chords in a slow four: eight bars of I vi IV V."""
    piece = Piece(beats=32, tempo=76)
    for bar, chord in enumerate([(3, 7, 10), (0, 3, 7), (-4, 0, 3), (-2, 2, 5)] * 2):
        for step, which in enumerate((0, 1, 2, 1, 0, 2, 1, 2)):
            pitch = chord[which] + (12 if step in (5,) and bar % 2 else 0)
            piece.put(bar * 4 + step / 2, plucked(pitch, 2.4), 0.5, -0.3 if step % 2 else 0.3)
        piece.put(bar * 4, plucked(chord[0] - 12, 3.5, 0.35), 0.8)
    return piece


def still_water() -> Piece:
    """A pad: four chords that go over into each other."""
    piece = Piece(beats=32, tempo=64)
    for bar, chord in enumerate([(-2, 5, 9, 12), (-4, 3, 7, 12), (0, 3, 10, 14), (-5, 2, 7, 10)]):
        piece.put(bar * 8 - 1, pad(list(chord), 11 * piece.beat), 0.5)
        piece.put(bar * 8, pad([chord[0] - 12], 9 * piece.beat), 0.4)
    return piece


def first_light() -> Piece:
    """Mallets: a turning figure in three over a held tone."""
    piece = Piece(beats=36, tempo=92)
    for bar in range(12):
        low = (0, 0, 5, 5, 3, 3, 0, 0, -2, -2, 3, 3)[bar]
        for step, which in enumerate((0, 7, 12, 16 if bar % 4 < 2 else 15, 12, 7)):
            piece.put(bar * 3 + step / 2, mallet(low + which, 1.8), 0.5, 0.4 - 0.16 * step)
        piece.put(bar * 3, mallet(low - 12, 2.8), 0.6)
    return piece


if __name__ == "__main__":
    FOLDER.mkdir(exist_ok=True)
    for name, make in (("short-wick", short_wick), ("still-water", still_water), ("first-light", first_light)):
        make().write(name)
