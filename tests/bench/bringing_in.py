"""What bringing a recording in costs, and how near to the generator's truth it comes."""

import asyncio
import hashlib
import subprocess
import time
from itertools import groupby
from pathlib import Path
from statistics import median

import httpx
import numpy as np

from nimble_quote.core.framing.shots import find_changes
from nimble_quote.core.framing.subjects import find_tracks
from nimble_quote.core.timebase import Span
from nimble_quote.core.transcript.aligning import retimed, windows
from nimble_quote.core.transcript.cues import TimedCue, Token, timed_words
from nimble_quote.core.transcript.document import transcript_of
from nimble_quote.demo.load import DEMO, joined
from nimble_quote.media.aligner import align
from nimble_quote.media.coding import Coding
from nimble_quote.media.listening import SOUND_RATE, listen, read_speech, samples_of, write_speech
from nimble_quote.media.probe import probe_source
from nimble_quote.media.scanning import PROXY_ENCODER, PictureScan
from nimble_quote.settings import Settings
from tests.bench.table import Row
from tests.conftest import RunningApp, send
from tests.truth import RATE, face_at, place_of, truth_of

_ANALYSED_S = 150
_LOOPS = 8


async def _no_progress(part: float) -> None:
    return


def measure(running: RunningApp, scratch: Path, settings: Settings) -> list[Row]:
    """Every figure of bringing in."""
    originals = {
        one.name: joined(one.name, one.original, scratch / f"{one.name}{Path(one.original).suffix}") for one in DEMO
    }
    seen = {
        name: _looked(path, scratch / f"{name}-work", settings)
        for name, path in originals.items()
        if path.suffix == ".mp4"
    }
    return [
        _analysis(originals["keep-the-wick-short"], scratch, settings),
        _readable(running, originals["keep-the-wick-short"], scratch),
        _cuts(seen, originals),
        _faces(seen),
        *(_alignment(name, originals[name], scratch) for name in originals),
    ]


def _analysis(original: Path, scratch: Path, settings: Settings) -> Row:
    part = scratch / "part.mp4"
    _ffmpeg("-i", str(original), "-t", str(_ANALYSED_S), "-c", "copy", str(part))
    graph = ["-vf", "scale=960:540,format=yuv420p", *PROXY_ENCODER, "-g", "25", "-an"]
    started = time.perf_counter()
    _ffmpeg("-i", str(part), *graph, str(scratch / "bare.mp4"))
    bare = time.perf_counter() - started
    started = time.perf_counter()
    _looked(part, scratch / "part-work", settings, whole=True)
    ours = time.perf_counter() - started
    return Row(
        what=f"whole analysis of {_ANALYSED_S} s of a 1080p talk",
        measured=f"{ours:.1f} s = {ours / bare:.2f} x ({_ANALYSED_S / ours:.1f} x real time)",
        baseline=f"{bare:.1f} s bare decode and the proxy's encode",
        aim="2.00 x or less",
        met=ours / bare <= 2,
    )


def _looked(path: Path, folder: Path, settings: Settings, whole: bool = False) -> PictureScan:
    """Looks at a recording; with `whole`, listens too and joins the proxy, as preparing it does."""
    folder.mkdir()

    async def scanned() -> PictureScan:
        facts = await probe_source(path, path.name)
        if whole:
            await listen(path, 0, facts.duration_ms, folder, _no_progress)
        scan = PictureScan(
            source=path,
            facts=facts,
            model=settings.face_model,
            folder=folder / "looking",
            proxied=not whole,
            coding=Coding(),
        )
        await scan.scan(folder, _no_progress)
        if whole:
            await scan.join_proxy(folder / "sound.m4a", folder / "proxy.mp4", folder)
            find_tracks(scan.faces(), [change.frame for change in find_changes(scan.looks())])
        return scan

    return asyncio.run(scanned())


def _readable(running: RunningApp, original: Path, scratch: Path) -> Row:
    """From the last byte of an hour's upload until its page and a search answer."""
    hour = scratch / "hour.mp4"
    _ffmpeg("-stream_loop", str(_LOOPS - 1), "-i", str(original), "-c", "copy", str(hour))
    words = "WEBVTT\n\n" + "\n".join(
        f"{_stamp(i * 3000)} --> {_stamp(i * 3000 + 2900)}\nKeep the wick short and the glass clean, number {i}.\n"
        for i in range(1200)
    )
    with running.client as client:
        upload, transcript = send(client, hour.read_bytes()), send(client, words.encode())
        started = time.perf_counter()
        body = {
            "recording": {"upload": upload, "name": "hour.mp4"},
            "transcript": {"upload": transcript, "name": "h.vtt"},
        }
        talk = client.post("/api/recordings", json=body, timeout=120).json()["id"]
        client.get(f"/api/recordings/{talk}/transcript").raise_for_status()
        assert client.get("/api/search", params={"q": "glass", "recording": talk}).json()["hits"]
        ours = time.perf_counter() - started
        _stop_all(client)
    started = time.perf_counter()
    subprocess.run(["ffprobe", "-v", "error", "-show_streams", str(hour)], check=True, capture_output=True)
    hashlib.sha256(hour.read_bytes())
    bare = time.perf_counter() - started
    return Row(
        what=f"until an hour ({hour.stat().st_size / 1e6:.0f} MB, 12,000 words) can be read and searched, once sent",
        measured=f"{ours:.2f} s",
        baseline=f"{bare:.2f} s ffprobe and a sum of the file",
        aim="5 s",
        met=ours <= 5,
    )


def _stop_all(client: httpx.Client) -> None:
    for work in client.get("/api/work").json():
        client.post(f"/api/work/{work['id']}/stop")


def _cuts(seen: dict[str, PictureScan], originals: dict[str, Path]) -> Row:
    right = found = drawn = others = 0
    bare_right = bare_found = 0
    for name, scan in seen.items():
        truth = truth_of(name)
        wanted = {round(at * RATE) for at in truth["cuts_s"]}
        changes = list(find_changes(scan.looks()))
        got = {change.frame for change in changes if change.kind == "cut"}
        bare = _bare_cuts(originals[name])
        right, found, drawn = right + len(got & wanted), found + len(got), drawn + len(wanted)
        bare_right, bare_found = bare_right + len(bare & wanted), bare_found + len(bare)
        for key, kind in (("slides_s", "slide"), ("flashes_s", "flash")):
            at = {round(seconds * RATE) for seconds in truth[key]}
            others += len(at & {change.frame for change in changes if change.kind == kind})
    told = sum(len(truth_of(name)[key]) for name in seen for key in ("slides_s", "flashes_s"))
    return Row(
        what=f"{drawn} hard cuts in {len(seen)} recordings, to the frame",
        measured=f"recall {right / drawn:.3f}, precision {right / max(1, found):.3f}; {others} of {told} slides and flashes told",
        baseline=f"recall {bare_right / drawn:.3f}, precision {bare_right / max(1, bare_found):.3f} by ffmpeg's scene score",
        aim="1.000 and 1.000",
        met=right == drawn == found,
    )


def _bare_cuts(path: Path) -> set[int]:
    said = subprocess.run(
        ["ffmpeg", "-nostdin", "-i", str(path), "-vf", "scale=320:-2,select='gt(scene,0.3)',showinfo", "-f", "null", "-"],
        capture_output=True, text=True, check=True,
    ).stderr  # fmt: skip
    times = [part.split()[0] for part in said.split("pts_time:")[1:]]
    return {round(float(at) * RATE) for at in times}


def _faces(seen: dict[str, PictureScan]) -> Row:
    total = missed = 0
    errors: list[float] = []
    still: list[float] = []
    kept = True
    for name, scan in seen.items():
        truth = truth_of(name)
        width, height = scan.facts.width, scan.facts.height
        tracks = find_tracks(scan.faces(), [round(at * 1000) for at in truth["cuts_s"]])
        for who, frames in truth["faces"].items():
            subjects: set[int] = set()
            boxes = [box for box in frames if box]
            middle = [median(box[i] + box[i + 2] / 2 for box in boxes) for i in (0, 1)]
            for frame in range(len(frames)):
                box = face_at(truth, who, frame * 1000 / RATE)
                if not box:
                    continue
                total += 1
                x, y, size = box[0] + box[2] / 2, box[1] + box[3] / 2, box[3]
                still.append(float(np.hypot(middle[0] - x, middle[1] - y)) / size)
                near = [
                    (float(np.hypot(place[0] * width - x, place[1] * height - y)) / size, track.subject)
                    for track in tracks
                    if (place := place_of(track, frame * 1000 / RATE)) is not None
                ]
                best = min(near, default=(9.0, -1))
                missed += best[0] > 0.5
                if best[0] <= 0.5:
                    errors.append(best[0])
                    subjects.add(best[1])
            kept = kept and len(subjects) == 1
    return Row(
        what=f"faces, in {total} frames of {len(seen)} recordings",
        measured=f"{100 * (1 - missed / total):.1f} % found, median error {100 * median(errors):.1f} % of the face, identity "
        f"{'kept' if kept else 'LOST'}",
        baseline=f"median error {100 * median(still):.0f} % of a place that never moves",
        aim="98 %, 5 %, kept",
        met=missed / total <= 0.02 and median(errors) <= 0.05 and kept,
    )


def _alignment(name: str, path: Path, scratch: Path) -> Row:
    """Words of which only the sentences' times are known, found in the sound."""
    truth = truth_of(name)["words"]
    cues = [
        TimedCue(
            start_ms=run[0]["start_ms"], end_ms=run[-1]["end_ms"], tokens=tuple(Token(text=w["said"]) for w in run)
        )
        for run in (list(group) for _, group in groupby(truth, key=lambda w: w["sentence"]))
    ]
    transcript = transcript_of(timed_words(cues))
    rough = [word for sentence in transcript.sentences for word in sentence.words]
    firsts, at = set(), 0
    for sentence in transcript.sentences:
        firsts.add(at)
        at += len(sentence.words)
    folder = scratch / f"{name}-sound"
    folder.mkdir()
    write_speech(asyncio.run(listen(path, 0, 1, folder, _no_progress)), folder / "speech.json")
    samples = asyncio.run(samples_of(folder / "sound.m4a", Span(start_ms=0, end_ms=10_000_000)))
    length_ms = len(samples) * 1000 // SOUND_RATE
    started = time.perf_counter()
    found = []
    for window in windows(rough, firsts, read_speech(folder / "speech.json").speech, length_ms):
        run = samples[window.span.start_ms * SOUND_RATE // 1000 : window.span.end_ms * SOUND_RATE // 1000]
        found.append((window, align(run, [word.text for word in rough[window.first : window.end]])))
    aligned = retimed(rough, found)
    speed = length_ms / 1000 / (time.perf_counter() - started)
    errors, guessed = (_errors([word.start_ms for word in words], truth) for words in (aligned, rough))
    return Row(
        what=f"word starts of {name}, {len(truth)} words",
        measured=f"median {median(errors):.0f} ms, 95 %: {errors[int(len(errors) * 0.95)]:.0f} ms, {speed:.0f} x real time",
        baseline=f"median {median(guessed):.0f} ms, 95 %: {guessed[int(len(guessed) * 0.95)]:.0f} ms by the length of the text",
        aim="30 ms, 100 ms",
        met=median(errors) < 30 and errors[int(len(errors) * 0.95)] <= 100,
    )


def _errors(starts: list[int], truth: list[dict[str, int]]) -> list[int]:
    return sorted(abs(a - w["start_ms"]) for a, w in zip(starts, truth, strict=True))


def _stamp(ms: int) -> str:
    return f"{ms // 3600000:02}:{ms // 60000 % 60:02}:{ms // 1000 % 60:02}.{ms % 1000:03}"


def _ffmpeg(*options: str) -> None:
    subprocess.run(["ffmpeg", "-v", "error", "-nostdin", "-y", *options], check=True)
