"""Makes the demo media from the scripts beside it: `python -m nimble_quote.demo.generator.make`.

Needs the `demo` dependency group (the synthesiser and cairo), which neither start nor test installs: what it makes
is committed under `demo/media/`, in parts that are joined byte for byte at set-up.
"""

import hashlib
import json
import subprocess
import tempfile
from dataclasses import asdict
from pathlib import Path

import numpy as np
from hibari.tts import write_wav

from nimble_quote.demo.generator import picture
from nimble_quote.demo.generator.voice import SAMPLE_RATE, SpokenWord, Voice, read_script

HERE = Path(__file__).parent
MEDIA = HERE.parent / "media"
PART_BYTES = 3_900_000
PAUSE_MS = 100
SPEAKER = "Maren Tolley"
_COLOUR = ["-colorspace", "bt709", "-color_primaries", "bt709", "-color_trc", "bt709"]


def main() -> None:
    """Speaks, draws and writes the chapel talk."""
    with tempfile.TemporaryDirectory() as folder:
        scratch = Path(folder)
        samples, words = Voice(scratch).speak(read_script(HERE / "keep_the_wick_short.txt"))
        out = MEDIA / "keep-the-wick-short"
        out.mkdir(parents=True, exist_ok=True)
        for old in out.iterdir():
            old.unlink()
        original = _original(samples, scratch)
        proxy = _proxy(original, scratch)
        sums = {name: _in_parts(file, out, name) for name, file in (("original.mp4", original), ("proxy.mp4", proxy))}
        (out / "sums.json").write_text(json.dumps(sums, indent=1) + "\n")
        (out / "transcript.vtt").write_text(webvtt(words), encoding="utf-8")
        (out / "truth.json").write_text(json.dumps([asdict(word) for word in words], ensure_ascii=False) + "\n")


def webvtt(words: list[SpokenWord]) -> str:
    """The recogniser's transcript as WebVTT with a time before each word (and after it where a pause follows)."""
    cues = []
    for number in range(words[-1].sentence + 1):
        line = [word for word in words if word.sentence == number]
        text = " ".join(_timed(word, following) for word, following in zip(line, [*line[1:], None], strict=True))
        cues.append(f"{_stamp(line[0].start_ms)} --> {_stamp(line[-1].end_ms)}\n<v {SPEAKER}>{text}</v>\n")
    return "WEBVTT\n\n" + "\n".join(cues)


def _timed(word: SpokenWord, following: SpokenWord | None) -> str:
    tokens = word.heard.split()
    step = (word.end_ms - word.start_ms) / len(tokens)
    text = " ".join(f"<{_stamp(word.start_ms + round(i * step))}>{token}" for i, token in enumerate(tokens))
    pause = following is not None and following.start_ms - word.end_ms >= PAUSE_MS
    return f"{text}<{_stamp(word.end_ms)}>" if pause else text


def _stamp(ms: int) -> str:
    return f"{ms // 3600000:02}:{ms // 60000 % 60:02}:{ms // 1000 % 60:02}.{ms % 1000:03}"


def _original(samples: np.ndarray, scratch: Path) -> Path:
    sound, target = scratch / "voice.wav", scratch / "original.mp4"
    write_wav(str(sound), samples, SAMPLE_RATE)
    size = f"{picture.WIDTH}x{picture.HEIGHT}"
    command = [
        "ffmpeg",
        "-v",
        "error",
        "-y",
        "-f",
        "rawvideo",
        "-pix_fmt",
        "bgr0",
        "-s",
        size,
        "-r",
        str(picture.RATE),
        "-i",
        "-",
        "-i",
        str(sound),
        "-vf",
        "scale=out_color_matrix=bt709:out_range=tv,format=yuv420p",
        *_COLOUR,
        "-c:v",
        "libx264",
        "-preset",
        "veryfast",
        "-crf",
        "26",
        "-g",
        "250",
        "-c:a",
        "aac",
        "-b:a",
        "96k",
        "-ar",
        "48000",
        "-movflags",
        "+faststart",
        str(target),
    ]
    encoder = subprocess.Popen(command, stdin=subprocess.PIPE)
    assert encoder.stdin is not None
    for frame in picture.frames(picture.loudness_by_frame(samples, SAMPLE_RATE)):
        encoder.stdin.write(frame)
    encoder.stdin.close()
    if encoder.wait():
        raise RuntimeError("ffmpeg failed")
    return target


def _proxy(original: Path, scratch: Path) -> Path:
    target = scratch / "proxy.mp4"
    subprocess.run(
        [
            "ffmpeg",
            "-v",
            "error",
            "-y",
            "-i",
            str(original),
            "-vf",
            "scale=-2:540",
            *_COLOUR,
            "-c:v",
            "libx264",
            "-preset",
            "veryfast",
            "-crf",
            "27",
            "-g",
            str(picture.RATE),
            "-c:a",
            "copy",
            "-movflags",
            "+faststart",
            str(target),
        ],
        check=True,
    )
    return target


def _in_parts(file: Path, folder: Path, name: str) -> str:
    data = file.read_bytes()
    for number, start in enumerate(range(0, len(data), PART_BYTES)):
        (folder / f"{name}.{number:02}").write_bytes(data[start : start + PART_BYTES])
    return hashlib.sha256(data).hexdigest()


if __name__ == "__main__":
    main()
