"""The memory of looking and listening, by the length of the recording: `.venv/bin/python -m tests.bench --long`."""

import asyncio
import json
import multiprocessing
import resource
import subprocess
from pathlib import Path

from nimble_quote.core.framing.shots import find_changes
from nimble_quote.core.framing.subjects import find_tracks
from nimble_quote.media import scanning
from nimble_quote.media.coding import Coding
from nimble_quote.media.listening import listen
from nimble_quote.media.probe import probe_source
from nimble_quote.media.scanning import PictureScan
from nimble_quote.settings import Settings
from tests.bench.table import Row

_HOURS = (0.1, 3.0)


async def _no_progress(part: float) -> None:
    return


def measure(scratch: Path) -> list[Row]:
    """Prepares a short and a three-hour recording, each in a process of its own, and compares their peaks."""
    peaks = {}
    for hours in _HOURS:
        media = scratch / f"{hours}.mp4"
        subprocess.run(
            ["ffmpeg", "-v", "error", "-y", "-f", "lavfi", "-i", f"testsrc2=s=256x144:r=5:d={hours * 3600}", "-f", "lavfi",
             "-i", f"anoisesrc=a=0.1:d={hours * 3600}:r=16000", "-c:v", "libx264", "-preset", "ultrafast", "-c:a", "aac", str(media)],
            check=True,
        )  # fmt: skip
        context = multiprocessing.get_context("spawn")
        with context.Pool(1) as pool:
            peaks[hours] = pool.apply(_prepared, (media, scratch / f"{hours}-work"))
    short, long = (peaks[hours] for hours in _HOURS)
    return [
        Row(
            what="memory of preparing a recording of 3 hours",
            measured=f"{long:.0f} MB",
            baseline=f"{short:.0f} MB for one of 6 minutes",
            aim="under 1000 MB, constant",
            met=long < 1000 and long < 1.5 * short,
        )
    ]


def _prepared(media: Path, folder: Path) -> float:
    """The peak of this process in MB after it listened, looked, and followed two faces through the whole of it.

    The network looks at fewer frames than it would, since what it takes is the same for each; the faces are made up, as
    many as two people give in that time.
    """
    folder.mkdir()
    scanning.FACE_CHECKS_A_SECOND = 0.5  # type: ignore[assignment]

    async def prepare() -> None:
        facts = await probe_source(media, media.name)
        await listen(media, 0, facts.duration_ms, folder, _no_progress)
        looker = PictureScan(
            source=media, facts=facts, model=Settings().face_model, folder=folder / "l", proxied=True, coding=Coding()
        )
        await looker.look(folder, _no_progress)
        for number, chunk in enumerate(sorted(looker.folder.glob("*.json"))):
            chunk.write_text(
                json.dumps([_face(number * 60_000 + at, x) for at in range(0, 60_000, 200) for x in (0.2, 0.7)])
            )
        cuts = [change.frame for change in find_changes(looker.looks())]
        print(f"  {len(cuts)} changes, {len(find_tracks(looker.faces(), cuts))} tracks in {media.name}")

    asyncio.run(prepare())
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def _face(at_ms: int, x: float) -> dict[str, object]:
    sample = {"at_ms": at_ms, "x": x, "y": 0.3, "width": 0.1, "height": 0.2, "score": 0.9}
    return {"sample": sample, "turn": 0.0, "colours": [x] * 12}
