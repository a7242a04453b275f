"""What a worker needs at hand for its tasks, and a progress report that does not flood the database."""

import time
from collections.abc import Awaitable, Callable, Iterator
from contextlib import contextmanager, nullcontext
from dataclasses import dataclass, field
from functools import cached_property

from nimble_quote.media.ffmpeg import Progress, giving_way
from nimble_quote.media.files import MediaRoot
from nimble_quote.processes import Computing
from nimble_quote.settings import Settings
from nimble_quote.store.contexts import Contexts
from nimble_quote.store.database import Pool
from nimble_quote.store.sealing import Sealing

_REPORT_EVERY_S = 0.3


@dataclass(frozen=True, kw_only=True)
class WorkerState:
    """The database, the media root, the settings, and processes of its own for pure computation."""

    pool: Pool
    media: MediaRoot
    settings: Settings
    computing: Computing = field(default_factory=lambda: Computing(2), repr=False)
    _exporting: set[int] = field(default_factory=set, repr=False)

    @cached_property
    def contexts(self) -> Contexts:
        """What edits and Assemblies may know of recordings."""
        return Contexts(self.media, self.settings.fonts.resolve())

    @cached_property
    def sealing(self) -> Sealing:
        """How secrets are kept."""
        return Sealing(self.settings.secret_key)

    @contextmanager
    def exporting(self, export_id: int) -> Iterator[None]:
        """While an export is made. One that is begun beside another takes what that leaves of the machine, so that the first that
        was asked for is ready first."""
        others = len(self._exporting)
        self._exporting.add(export_id)
        try:
            with giving_way() if others else nullcontext():
                yield
        finally:
            self._exporting.discard(export_id)

    def close(self) -> None:
        """Ends the processes."""
        self.computing.close()


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
