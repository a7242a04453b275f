"""Makes the demo media from the scripts beside it: `python -m nimble_quote.demo.generator.make [name …]`.

Needs the `demo` dependency group (the synthesiser and cairo), which neither start nor test installs: what it makes
is committed under `demo/media/`, in parts that are joined byte for byte at set-up. Beside each recording stands the
truth about it: its words, what happens in the picture, and where each face is in each frame. What our own looking sees in
it is shipped by `see.py`, to be run after this.
"""

import json
import subprocess
import sys
import tempfile
from collections.abc import Callable, Iterator
from dataclasses import asdict, dataclass, replace
from pathlib import Path
from types import ModuleType

from hibari.tts import write_wav

from nimble_quote.demo.generator import barrels, chapel, harbour, kettles
from nimble_quote.demo.generator.parts import ship
from nimble_quote.demo.generator.people import RATE, Face, loudness_by_frame
from nimble_quote.demo.generator.scene import Drawn, Shown
from nimble_quote.demo.generator.voice import SAMPLE_RATE, Line, Spoken, SpokenWord, Timbre, Voice, read_script

HERE = Path(__file__).parent
MEDIA = HERE.parent / "media"
PAUSE_MS = 100
_COLOUR = ["-colorspace", "bt709", "-color_primaries", "bt709", "-color_trc", "bt709"]


@dataclass(frozen=True, kw_only=True)
class Production:
    """A recording to make: its script, its voices, its picture, and how its transcript is written."""

    name: str
    script: str
    timbres: dict[str, Timbre]
    names: dict[str, str]
    scene: ModuleType | None = None
    crf: int = 27
    proxy: bool = False
    transcript: Callable[[list[SpokenWord], dict[str, str]], tuple[str, str]]


def webvtt(words: list[SpokenWord], names: dict[str, str]) -> tuple[str, str]:
    """The recogniser's transcript as WebVTT with a time before each word (and after it where a pause follows)."""
    cues = []
    for line in _by_sentence(words):
        text = " ".join(_timed(word, following) for word, following in zip(line, [*line[1:], None], strict=True))
        cues.append(f"{_stamp(line[0].start_ms)} --> {_stamp(line[-1].end_ms)}\n<v {names[line[0].who]}>{text}</v>\n")
    return "transcript.vtt", "WEBVTT\n\n" + "\n".join(cues)


def srt(words: list[SpokenWord], names: dict[str, str]) -> tuple[str, str]:
    """A transcript with a time for each sentence only, as most captions are."""
    cues = []
    for number, line in enumerate(_by_sentence(words), start=1):
        times = f"{_stamp(line[0].start_ms)} --> {_stamp(line[-1].end_ms)}".replace(".", ",")
        cues.append(f"{number}\n{times}\n{' '.join(word.heard for word in line)}\n")
    return "transcript.srt", "\n".join(cues)


def notes(words: list[SpokenWord], names: dict[str, str]) -> tuple[str, str]:
    """A transcript typed by hand: paragraphs, now and then a time."""
    lines = _by_sentence(words)
    text = []
    for number, line in enumerate(lines):
        said = " ".join(word.heard for word in line)
        stamp = f"[{line[0].start_ms // 60000}:{line[0].start_ms // 1000 % 60:02}] {names[line[0].who]}: "
        text.append(f"\n\n{stamp}{said}" if number % 6 == 0 else f" {said}")
    return "transcript.txt", "".join(text).strip() + "\n"


PRODUCTIONS = {
    one.name: one
    for one in (
        Production(
            name="keep-the-wick-short", script="keep_the_wick_short.txt", timbres={"Maren": Timbre()},
            names={"Maren": "Maren Tolley"}, scene=chapel, crf=28, proxy=True, transcript=webvtt,
        ),
        Production(
            name="two-kettles", script="two_kettles.txt",
            timbres={"Ivo": Timbre(lower=1.34, speed=0.86), "Sanna": Timbre(lower=1.04, speed=0.9)},
            names={"Ivo": "Ivo Brandt", "Sanna": "Sanna Quill"}, scene=kettles, transcript=webvtt,
        ),
        Production(
            name="rain-barrels", script="rain_barrels.txt", timbres={"Petra": Timbre(lower=1.1, speed=0.84)},
            names={"Petra": "Petra Lowe"}, scene=barrels, transcript=srt,
        ),
        Production(
            name="the-wall-and-the-boat", script="the_wall_and_the_boat.txt",
            timbres={"Edda": Timbre(lower=1.07, speed=0.83)}, names={"Edda": "Edda Marsh"}, scene=harbour, transcript=webvtt,
        ),
        Production(
            name="night-ferry-notes", script="night_ferry_notes.txt", timbres={"Osk": Timbre(lower=1.42, speed=0.8)},
            names={"Osk": "Osk Hallam"}, transcript=notes,
        ),
    )
}  # fmt: skip


def main() -> None:
    """Makes the recordings that are named, or all."""
    for name in sys.argv[1:] or PRODUCTIONS:
        with tempfile.TemporaryDirectory() as folder:
            make(PRODUCTIONS[name], Path(folder))


def make(one: Production, scratch: Path) -> None:
    """Speaks, draws and writes one recording."""
    lines = read_script(HERE / one.script)
    spoken = Voice(scratch).speak(lines, one.timbres)
    out = MEDIA / one.name
    out.mkdir(parents=True, exist_ok=True)
    for old in out.iterdir():
        old.unlink()
    sound = scratch / "voice.wav"
    write_wav(str(sound), spoken.samples, SAMPLE_RATE)
    truth: dict[str, object] = {"words": [asdict(word) for word in spoken.words]}
    if one.scene is None:
        files = {"original.m4a": _sound_only(sound, scratch / "original.m4a")}
    else:
        shown = _shown(lines, spoken)
        truth |= one.scene.events(shown)
        drawn: list[Drawn] = []
        mouths = {who: loudness_by_frame(alone, SAMPLE_RATE) for who, alone in spoken.alone.items()}
        original = _filmed(one, _noted(one.scene.frames(mouths, shown), drawn), sound, scratch / "original.mp4")
        truth["faces"] = _tracks([frame.faces for frame in drawn])
        # Where a head is that can't be seen, and what else matters: where there is any of it.
        for name, boxes in (("heads", [f.heads for f in drawn]), ("things", [f.things for f in drawn])):
            if any(boxes):
                truth[name] = _tracks(boxes)
        files = {"original.mp4": original}
        if one.proxy:
            files["proxy.mp4"] = _proxy(original, scratch)
    for name, file in files.items():
        ship(file, out, name)
    name, text = one.transcript(spoken.words, one.names)
    (out / name).write_text(text, encoding="utf-8")
    (out / "truth.json").write_text(json.dumps(truth, ensure_ascii=False) + "\n")


def _by_sentence(words: list[SpokenWord]) -> list[list[SpokenWord]]:
    numbers = sorted({word.sentence for word in words})
    return [[word for word in words if word.sentence == number] for number in numbers]


def _timed(word: SpokenWord, following: SpokenWord | None) -> str:
    tokens = word.heard.split()
    step = (word.end_ms - word.start_ms) / len(tokens)
    text = " ".join(f"<{_stamp(word.start_ms + round(i * step))}>{token}" for i, token in enumerate(tokens))
    pause = following is not None and following.start_ms - word.end_ms >= PAUSE_MS
    return f"{text}<{_stamp(word.end_ms)}>" if pause else text


def _stamp(ms: int) -> str:
    return f"{ms // 3600000:02}:{ms // 60000 % 60:02}:{ms // 1000 % 60:02}.{ms % 1000:03}"


def _shown(lines: list[Line], spoken: Spoken) -> list[Shown]:
    """What is seen from when on, on whole frames; a picture begins a little before its sentence, as an editor cuts."""
    changes = [
        Shown(from_s=max(0, round((start - 0.16) * RATE)) / RATE, picture=line.picture)
        for line, start in zip(lines, spoken.starts_s, strict=True)
        if line.picture
    ]
    return [Shown(from_s=0, picture=changes[0].picture), *changes[1:]] if changes else [Shown(from_s=0, picture="")]


def _noted(frames: Iterator[Drawn], noted: list[Drawn]) -> Iterator[memoryview]:
    for drawn in frames:
        noted.append(replace(drawn, pixels=memoryview(b"")))
        yield drawn.pixels


def _tracks(faces: list[list[Face]]) -> dict[str, list[list[int] | None]]:
    """For each person or thing, for each frame: left, top, width, height in pixels and the turn of the head in percent."""
    names = sorted({face.who for frame in faces for face in frame})

    def box(frame: list[Face], name: str) -> list[int] | None:
        face = next((one for one in frame if one.who == name), None)
        if face is None:
            return None
        return [round(face.x), round(face.y), round(face.width), round(face.height), round(face.turn * 100)]

    return {name: [box(frame, name) for frame in faces] for name in names}


def _sound_only(sound: Path, target: Path) -> Path:
    subprocess.run(["ffmpeg", "-v", "error", "-y", "-i", str(sound), "-c:a", "aac", "-b:a", "96k", "-ar", "48000",
                    str(target)], check=True)  # fmt: skip
    return target


def _filmed(one: Production, frames: Iterator[memoryview], sound: Path, target: Path) -> Path:
    assert one.scene is not None
    command = [
        "ffmpeg", "-v", "error", "-y", "-f", "rawvideo", "-pix_fmt", "bgr0", "-s", f"{one.scene.WIDTH}x{one.scene.HEIGHT}",
        "-r", str(RATE), "-i", "-", "-i", str(sound), "-vf", "scale=out_color_matrix=bt709:out_range=tv,format=yuv420p",
        *_COLOUR, "-c:v", "libx264", "-preset", "veryfast", "-crf", str(one.crf), "-g", "250" if one.proxy else str(RATE), "-c:a", "aac",
        "-b:a", "96k", "-ar", "48000", "-movflags", "+faststart", str(target),
    ]  # fmt: skip
    encoder = subprocess.Popen(command, stdin=subprocess.PIPE)
    assert encoder.stdin is not None
    for frame in frames:
        encoder.stdin.write(frame)
    encoder.stdin.close()
    if encoder.wait():
        raise RuntimeError("ffmpeg failed")
    return target


def _proxy(original: Path, scratch: Path) -> Path:
    target = scratch / "proxy.mp4"
    subprocess.run(
        ["ffmpeg", "-v", "error", "-y", "-i", str(original), "-vf", "scale=-2:540", *_COLOUR, "-c:v", "libx264",
         "-preset", "veryfast", "-crf", "28", "-bf", "0", "-g", str(RATE), "-c:a", "copy", "-movflags", "+faststart",
         str(target)],
        check=True,
    )  # fmt: skip
    return target


if __name__ == "__main__":
    main()
