"""What one person's large or slow doings cost the others: the longest transcript, many loupes, many searches, a colour
that must be mapped, and a database that is away."""

import asyncio
import random
import time
from collections.abc import Awaitable, Callable, Iterator
from pathlib import Path
from statistics import median

import httpx

from nimble_quote.jobs.reading import read_words
from nimble_quote.processes import computing_in
from tests.bench.table import Row, spread
from tests.conftest import RunningApp, bring_in, make_media, send

WORDS = 400_000
_SPOKEN = ("lamp", "oil", "wick", "keep", "the", "harbour", "story", "and", "we", "light")
_DAY_MS = 40 * 3600_000


def measure(running: RunningApp, scratch: Path) -> list[Row]:
    """Reads, sends and asks much at once, and times a plain request beside it."""
    return [*_reading(scratch), *asyncio.run(_beside(running, scratch))]


def _transcripts(folder: Path) -> Iterator[tuple[str, Path]]:
    words = random.Random(1).choices(_SPOKEN, k=WORDS)
    runs = [" ".join(words[i : i + 10]) for i in range(0, WORDS, 10)]
    stamp = "{:02}:{:02}:{:02}.{}".format

    def at(second: int, part: str) -> str:
        return stamp(second // 3600, second // 60 % 60, second % 60, part)

    cues = (f"{at(3 * i, '000')} --> {at(3 * i + 2, '900')}\n{run}.\n" for i, run in enumerate(runs))
    for name, ending, text in (
        ("WebVTT, ten words a cue", ".vtt", "WEBVTT\n\n" + "\n".join(cues)),
        ("WebVTT, one cue", ".vtt", "WEBVTT\n\n00:00.000 --> 09:00.000\n" + " ".join(words)),
        ("typed, without full stops or times", ".txt", " ".join(words)),
    ):
        path = folder / f"{name.split(',')[-1].strip().replace(' ', '-')}{ending}"
        path.write_text(text)
        yield name, path


def _reading(folder: Path) -> list[Row]:
    async def read(path: Path) -> float:
        async with computing_in(1) as computing:
            await computing.compute(len, "")
            began = time.monotonic()
            await read_words(computing, path, path.name, _DAY_MS)
            return time.monotonic() - began

    began = time.monotonic()
    sum(len(str(i)) for i in range(3_000_000))
    speed = time.monotonic() - began
    rows = []
    for name, path in _transcripts(folder):
        seconds = sorted(asyncio.run(read(path)) for _ in range(3))
        rows.append(
            Row(
                what=f"reading {WORDS:,} words: {name}",
                measured=f"median {median(seconds):.1f} s (best {seconds[0]:.1f} s)",
                baseline=f"{speed:.2f} s for a plain loop of 3 million",
                aim="5 s",
                met=median(seconds) < 5,
            )
        )
    return rows


async def _beside(running: RunningApp, folder: Path) -> list[Row]:
    async with httpx.AsyncClient(base_url=running.url, timeout=120, limits=httpx.Limits(max_connections=300)) as client:
        media = make_media(folder / "hours.wav", "sine=f=210:d=30")
        with running.client as own:
            talk = bring_in(own, media, None).json()["id"]
            upload = send(own, (folder / "ten-words-a-cue.vtt").read_bytes(), "hours.vtt")
        alone = await _asked(client, lambda: asyncio.sleep(2))

        async def attach() -> None:
            body = {"upload": upload, "name": "hours.vtt"}
            (await client.post(f"/api/recordings/{talk}/transcript", json=body)).raise_for_status()

        async def loupes() -> None:
            at = [100 + 250 * i for i in range(100)]
            answers = await asyncio.gather(*(client.get(f"/api/recordings/{talk}/loupe?at_ms={one}") for one in at))
            assert {one.status_code for one in answers} <= {200, 503}

        async def searches() -> None:
            answers = await asyncio.gather(
                *(client.get("/api/search", params={"q": f"harbour light {i}"}) for i in range(200))
            )
            assert {one.status_code for one in answers} <= {200, 503}

        rows = []
        for what, doing in (
            (f"keeping a transcript of {WORDS:,} words", attach),
            ("100 loupes at once", loupes),
            ("200 searches at once", searches),
        ):
            began = time.monotonic()
            times = await _asked(client, doing)
            took = time.monotonic() - began
            rows.append(
                Row(
                    what=f"a plain request beside {what} ({took:.1f} s)",
                    measured=f"{spread(times)}, longest {max(times):.0f} ms",
                    baseline=f"{spread(alone)} alone",
                    aim="95 %: 100 ms",
                    met=sorted(times)[int(len(times) * 0.95)] <= 100,
                )
            )
        return rows


async def _asked(client: httpx.AsyncClient, doing: Callable[[], Awaitable[None]]) -> list[float]:
    """How long a plain request takes, in milliseconds, again and again while something is done."""
    task = asyncio.ensure_future(doing())
    times = []
    while not task.done():
        began = time.monotonic()
        (await client.get("/api/series")).raise_for_status()
        times.append(1000 * (time.monotonic() - began))
        await asyncio.sleep(0.02)
    await task
    return times
