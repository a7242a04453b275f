"""What a worker needs at hand for its tasks, and a progress report that does not flood the database."""

import time
from collections.abc import Awaitable, Callable
from dataclasses import dataclass
from pathlib import Path

from nimble_quote.media.ffmpeg import Progress
from nimble_quote.media.files import MediaRoot
from nimble_quote.store.database import Pool

_REPORT_EVERY_S = 0.3


@dataclass(frozen=True, kw_only=True)
class Workshop:
    """The database, the media root, and the files that ship."""

    pool: Pool
    media: MediaRoot
    fonts: Path
    face_model: Path


def spaced(report: Callable[[float], Awaitable[None]]) -> Progress:
    """A progress that passes on at most a few reports a second."""
    last = 0.0

    async def progress(part: float) -> None:
        nonlocal last
        now = time.monotonic()
        if now - last >= _REPORT_EVERY_S:
            last = now
            await report(part)

    return progress
