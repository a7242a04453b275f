"""Puts the demo recordings on the shelf, from the media that ship."""

import json
import shutil
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from pathlib import Path

from nimble_quote.jobs.intake import Brought, Intake, take_in
from nimble_quote.jobs.queue import queue
from nimble_quote.media.files import MediaRoot, content_of
from nimble_quote.media.keys import PROXY, SEEN
from nimble_quote.processes import computing_in
from nimble_quote.settings import Settings
from nimble_quote.store import recordings, transcripts
from nimble_quote.store.database import open_pool

MEDIA = Path(__file__).parent / "media"


@dataclass(frozen=True, kw_only=True)
class DemoRecording:
    """A recording that ships: its folder, what it is called, and its files there."""

    name: str
    title: str
    series: str
    held_on: date
    original: str
    transcript: str
    notes: str


DEMO = (
    DemoRecording(
        name="keep-the-wick-short", title="Keep the wick short", series="Chapel evenings", held_on=date(2026, 10, 3),
        original="original.mp4", transcript="transcript.vtt", notes="Given in the chapel, without a microphone stand.",
    ),
    DemoRecording(
        name="two-kettles", title="The toaster and the third handle", series="Two Kettles", held_on=date(2026, 10, 21),
        original="original.mp4", transcript="transcript.vtt", notes="Three cameras. The toaster survived.",
    ),
    DemoRecording(
        name="rain-barrels", title="Rain barrels for small roofs", series="Garden hour", held_on=date(2026, 11, 9),
        original="original.mp4", transcript="transcript.srt", notes="Webinar with slides; questions at the end.",
    ),
    DemoRecording(
        name="the-wall-and-the-boat", title="The wall and the boat", series="Walks with Edda", held_on=date(2026, 11, 12),
        original="original.mp4", transcript="transcript.vtt", notes="One take along the harbour wall. Tam walked through.",
    ),
    DemoRecording(
        name="night-ferry-notes", title="Night ferry notes", series="Listening pieces", held_on=date(2026, 11, 16),
        original="original.m4a", transcript="transcript.txt", notes="Sound only. The transcript was typed by hand.",
    ),
)  # fmt: skip
NAMES = (
    "Maren Tolley",
    "Skerry Sound",
    "Ivo Brandt",
    "Sanna Quill",
    "Petra Lowe",
    "Edda Marsh",
    "Osk Hallam",
    "Kessel light",
)


class DemoDamaged(RuntimeError):
    """The shipped demo media are not what was made."""


def joined(name: str, file: str, target: Path) -> Path:
    """Joins the parts of a shipped file, byte for byte, and checks the sum of the whole."""
    folder = MEDIA / name
    with target.open("wb") as out:
        for part in sorted(folder.glob(f"{file}.[0-9][0-9]")):
            with part.open("rb") as piece:
                shutil.copyfileobj(piece, out)
    if content_of(target) != sums(name)[file]:
        raise DemoDamaged(f"{folder / file} is damaged. Check out the repository again.")
    return target


def sums(name: str) -> dict[str, str]:
    """The SHA-256 of each shipped media file of a demo recording."""
    told: dict[str, str] = json.loads((MEDIA / name / "sums.json").read_text())
    return told


async def load_demo(settings: Settings, wanted: Sequence[DemoRecording] = DEMO) -> None:
    """Puts each demo recording on the shelf that is not there. A proxy, and what is seen in it, ship where preparing would take long."""
    media = MediaRoot(settings.media_root, settings.reserve_bytes)
    media.prepare()
    async with open_pool(settings.database_url) as pool, queue.open_async(), computing_in(1) as computing:
        intake = Intake(connect=pool.connection, media=media, computing=computing)
        for one in wanted:
            content = sums(one.name)[one.original]
            async with pool.connection() as conn:
                if await recordings.with_content(conn, content):
                    continue
            with media.scratch("demo") as scratch:
                made = [joined(one.name, name, scratch / name) for name in (PROXY, SEEN) if name in sums(one.name)]
                original = joined(one.name, one.original, scratch / one.original)
                words = MEDIA / one.name / one.transcript
                recording_id = await take_in(
                    intake, Brought(path=original, name=f"{one.name}{original.suffix}", content=content),
                    Brought(path=words, name=words.name), one.title, one.series, made=made,
                )  # fmt: skip
            async with pool.connection() as conn:
                await recordings.describe(
                    conn, recording_id, title=one.title, series=one.series, held_on=one.held_on, notes=one.notes
                )
        async with pool.connection() as conn:
            for name in NAMES:
                await transcripts.add_name(conn, name)


def lay_out(folder: Path) -> None:
    """Puts the demo's original files into a folder, for the stand-in media host to serve."""
    folder.mkdir(parents=True, exist_ok=True)
    for one in DEMO:
        target = folder / f"{one.name}{Path(one.original).suffix}"
        if not target.exists():
            joined(one.name, one.original, target.with_suffix(".part")).replace(target)
