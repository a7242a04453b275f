"""Running ffmpeg and ffprobe: no shell, only local files, only the containers we know, and killed when cancelled."""

import asyncio
import json
import math
from collections.abc import AsyncIterator, Awaitable, Callable, Coroutine, Iterator, Sequence
from contextlib import asynccontextmanager, contextmanager
from contextvars import ContextVar
from pathlib import Path
from typing import Any

from nimble_quote.processes import tethered

CONTAINERS = "mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,mp3,wav,flac,ogg,aac,avi,mpeg,mpegts,flv,asf,aiff"
"""The demuxers a source may use. Playlists, which can name other files, are not among them, nor what only points at frames."""
GUARDS = ("-protocol_whitelist", "file,pipe", "-format_whitelist", CONTAINERS)
"""Options before each source that keep it from reaching beyond its own file."""

Progress = Callable[[float], Awaitable[None]]
"""Called with the part done, 0..1. Raising from it stops the work."""


_CAUSES = (
    ("No space left on device", "the disk is full"),
    ("Disk quota exceeded", "the disk is full"),
    ("Cannot allocate memory", "the machine is out of memory"),
    ("No such file or directory", "a file it needs is missing"),
    ("Invalid data found", "the recording can't be decoded there; it may be damaged"),
    ("moov atom not found", "the recording can't be decoded there; it may be damaged"),
    ("Error while decoding", "the recording can't be decoded there; it may be damaged"),
)


class MediaFailed(RuntimeError):
    """A media tool failed: its command and the tail of what it said, which is for the log. `cause` is for people."""

    def __init__(self, command: Sequence[str], printed: str) -> None:
        tail = "\n".join(printed.strip().splitlines()[-8:])
        super().__init__(f"{command[0]} failed: {tail or 'it printed nothing'}")
        self.command = tuple(command)
        self.printed = tail
        # From all that was printed: what went wrong may stand before a summary.
        found = next((cause for mark, cause in _CAUSES if mark in printed), None)
        self.cause = found or "the media tool ended with an error, which is in the log"
        """What went wrong, in words for whoever asked for the work."""

    @property
    def disk_full(self) -> bool:
        return self.cause == _CAUSES[0][1]


_GIVING_WAY: ContextVar[bool] = ContextVar("giving_way", default=False)


@contextmanager
def giving_way() -> Iterator[None]:
    """Tools that are run in the block take what others leave of the machine."""
    before = _GIVING_WAY.set(True)
    try:
        yield
    finally:
        _GIVING_WAY.reset(before)


@asynccontextmanager
async def running(
    command: Sequence[str], folder: Path | None = None, limit: int = 1 << 16
) -> AsyncIterator[tuple[asyncio.StreamReader, "asyncio.Future[bytes]"]]:
    """A child process that never outlives the block: what it writes, to be read to its end, and what it says.

    Raises `MediaFailed` at the end of the block where the process fails.
    """
    pipe = asyncio.subprocess.PIPE
    patient = ("nice", "-n", "10") if _GIVING_WAY.get() else ()
    process = await asyncio.create_subprocess_exec(
        *tethered([*patient, *command]),
        stdin=asyncio.subprocess.DEVNULL,
        stdout=pipe,
        stderr=pipe,
        cwd=folder,
        limit=limit,
    )
    assert process.stdout is not None
    assert process.stderr is not None
    printed = asyncio.ensure_future(process.stderr.read())
    try:
        yield process.stdout, printed
        await process.wait()
    finally:
        if process.returncode is None:
            process.kill()
        # It is known to have ended only when its pipes have, and what it wrote ahead of us holds its pipe open.
        await process.stdout.read()
        text = (await printed).decode(errors="replace")
        await process.wait()
    if process.returncode:
        raise MediaFailed(command, text)


async def run(command: Sequence[str], folder: Path | None = None) -> tuple[bytes, str]:
    """Runs a command to its end, in a folder: what it wrote, and what it said. Raises `MediaFailed` where it fails."""
    async with running(command, folder) as (out, printed):
        written = await out.read()
    return written, printed.result().decode(errors="replace")


async def run_with_progress(
    command: Sequence[str], length_ms: float, progress: Progress, folder: Path | None = None
) -> None:
    """Runs an ffmpeg command that writes its progress to standard output (`-progress pipe:1`), in a folder."""
    async with running(command, folder) as (out, _):
        async for line in out:
            key, _, value = line.decode().strip().partition("=")
            if key == "out_time_us" and value.isdigit():
                await progress(min(1.0, int(value) / 1000 / max(1.0, length_ms)))


@asynccontextmanager
async def blocks(command: list[str], size: int, folder: Path | None = None) -> AsyncIterator[AsyncIterator[bytes]]:
    """What a command, run in a folder, writes, in blocks of `size` bytes (the last may be shorter). Raises where it fails."""
    async with running(command, folder, limit=max(size, 1 << 16)) as (out, _):
        yield _blocks(out, size)


async def _blocks(out: asyncio.StreamReader, size: int) -> AsyncIterator[bytes]:
    while True:
        try:
            yield await out.readexactly(size)
        except asyncio.IncompleteReadError as last:
            if last.partial:
                yield last.partial
            return


def seconds_of(value: Any) -> float | None:
    """A number of seconds as ffprobe tells it; None where it tells none, or what is no number."""
    try:
        value = float(value)
    except (TypeError, ValueError):
        return None
    return value if math.isfinite(value) else None


async def ffprobe(path: Path, *options: str) -> dict[str, Any]:
    """What ffprobe tells of a file, as its JSON."""
    out, _ = await run(["ffprobe", "-v", "error", *GUARDS, "-of", "json", *options, "-i", str(path)])
    found: dict[str, Any] = json.loads(out)
    return found


_TOLD: dict[tuple[object, ...], dict[str, Any]] = {}
_MOST_TOLD = 256


async def ffprobe_once(path: Path, *options: str) -> dict[str, Any]:
    """The same, asked once for as long as the file stays as it is: several versions are made of a source. To be read only."""
    try:
        now = path.stat()
    except OSError:
        # The tool says best what is wrong with it.
        return await ffprobe(path, *options)
    asked = (path, now.st_size, now.st_mtime_ns, options)
    if asked not in _TOLD:
        if len(_TOLD) >= _MOST_TOLD:
            _TOLD.clear()
        _TOLD[asked] = await ffprobe(path, *options)
    return _TOLD[asked]


async def together(*works: Coroutine[Any, Any, Any]) -> tuple[Any, ...]:
    """Does several things at once, each of which may run a tool that uses one core. Raises what the first of them to fail raises;
    the others are stopped then."""
    try:
        async with asyncio.TaskGroup() as group:
            tasks = [group.create_task(work) for work in works]
    except BaseExceptionGroup as failed:
        raise failed.exceptions[0] from None
    return tuple(task.result() for task in tasks)
