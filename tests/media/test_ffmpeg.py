"""Child processes: ended with the block they belong to, whatever they were doing."""

import asyncio
import os
import time
from pathlib import Path

import pytest

from nimble_quote.media.ffmpeg import (
    MediaFailed,
    blocks,
    ffprobe_once,
    giving_way,
    run,
    run_with_progress,
    running,
    together,
)

pytestmark = pytest.mark.anyio

WRITES_MUCH = ["ffmpeg", "-v", "error", "-f", "lavfi", "-i", "testsrc2=s=640x360:r=25", "-f", "rawvideo", "pipe:1"]
"""Writes without end, and far faster than anybody reads."""


class Enough(Exception):
    """Whoever asked wants no more."""


async def test_a_process_that_has_written_far_ahead_ends_with_its_block():
    began = time.monotonic()
    with pytest.raises(Enough):
        async with running(WRITES_MUCH) as (out, _):
            await out.readexactly(1 << 16)
            # Long enough for its pipe to be full and to be read on no more.
            await asyncio.sleep(0.5)
            raise Enough
    assert time.monotonic() - began < 10


async def test_a_cancelled_reader_ends_its_process():
    async def read() -> None:
        async with blocks(WRITES_MUCH, 1 << 20) as parts:
            async for _ in parts:
                await asyncio.sleep(60)

    reading = asyncio.ensure_future(read())
    await asyncio.sleep(0.5)
    reading.cancel()
    done, _ = await asyncio.wait([reading], timeout=10)
    assert done == {reading}


async def test_progress_that_raises_stops_the_work():
    async def refuse(part: float) -> None:
        raise Enough

    with pytest.raises(Enough):
        await asyncio.wait_for(
            run_with_progress([*WRITES_MUCH[:-3], "-f", "null", "-", "-progress", "pipe:1"], 1000, refuse), 10
        )


async def test_what_a_failed_process_said_is_told():
    with pytest.raises(MediaFailed, match="no-such-file"):
        await run(["ffmpeg", "-v", "error", "-i", "no-such-file", "-f", "null", "-"])
    with pytest.raises(MediaFailed, match="no-such-file"):
        async with blocks(["ffmpeg", "-v", "error", "-i", "no-such-file", "-f", "s16le", "-"], 100) as parts:
            assert [one async for one in parts] == []
    assert await run(["ffmpeg", "-version"]) != (b"", "")


async def test_what_is_run_beside_something_else_gives_way_to_it():
    nice = ["bash", "-c", "nice"]
    with giving_way():
        (written, _), *_ = await together(run(nice))
    assert int(written) == os.nice(0) + 10
    assert int((await run(nice))[0]) == os.nice(0)


async def test_of_things_done_together_the_first_that_fails_stops_the_others():
    async def fails() -> None:
        await asyncio.sleep(0.2)
        raise Enough

    began = time.monotonic()
    with pytest.raises(Enough):
        await together(run(["sleep", "60"]), fails())
    assert time.monotonic() - began < 10
    assert await together(asyncio.sleep(0.1, 1), asyncio.sleep(0, 2)) == (1, 2)


async def test_a_file_is_asked_once_for_as_long_as_it_stays_as_it_is(clip: Path, tmp_path: Path):
    path, asked = tmp_path / "clip.mp4", ("-show_entries", "format=duration")
    path.write_bytes(clip.read_bytes())
    told = await ffprobe_once(path, *asked)
    assert await ffprobe_once(path, *asked) is told
    os.utime(path, (1, 1))
    assert await ffprobe_once(path, *asked) is not told
    path.unlink()
    with pytest.raises(MediaFailed, match="No such file"):
        await ffprobe_once(path, *asked)
