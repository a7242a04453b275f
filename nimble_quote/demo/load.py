"""Puts the demo talk on the shelf, from the media that ship."""

import json
import shutil
from pathlib import Path

from nimble_quote.jobs.intake import Brought, take_in
from nimble_quote.jobs.prepare import PROXY
from nimble_quote.jobs.queue import queue
from nimble_quote.media.files import MediaRoot, content_of, put_in_place
from nimble_quote.settings import Settings
from nimble_quote.store import recordings
from nimble_quote.store.database import open_pool

MEDIA = Path(__file__).parent / "media"
TITLES = {"keep-the-wick-short": "Keep the wick short"}


class DemoDamaged(RuntimeError):
    """The shipped demo media are not what was made."""


def joined(name: str, file: str, target: Path) -> Path:
    """Joins the parts of a shipped file, byte for byte, and checks the sum of the whole."""
    folder = MEDIA / name
    with target.open("wb") as out:
        for part in sorted(folder.glob(f"{file}.[0-9][0-9]")):
            with part.open("rb") as piece:
                shutil.copyfileobj(piece, out)
    wanted = json.loads((folder / "sums.json").read_text())[file]
    if content_of(target) != wanted:
        raise DemoDamaged(f"{folder / file} is damaged. Check out the repository again.")
    return target


async def load_demo(settings: Settings) -> None:
    """Puts each demo talk on the shelf that is not there. Its proxy ships too, so that nothing has to be rendered."""
    media = MediaRoot(settings.media_root)
    media.prepare()
    async with open_pool(settings.database_url) as pool, queue.open_async(), pool.connection() as conn:
        for name, title in TITLES.items():
            sums = json.loads((MEDIA / name / "sums.json").read_text())
            if await recordings.with_content(conn, sums["original.mp4"]):
                continue
            with media.scratch("demo") as scratch:
                proxy = joined(name, "proxy.mp4", scratch / "proxy.mp4")
                put_in_place(proxy, media.derived(sums["original.mp4"], PROXY))
                original = joined(name, "original.mp4", scratch / "original.mp4")
                transcript = MEDIA / name / "transcript.vtt"
                await take_in(
                    conn, media, Brought(path=original, name=f"{name}.mp4"),
                    Brought(path=transcript, name=transcript.name), title,
                )  # fmt: skip
