"""Processes of ours: none outlives its parent, and a computation outlives the process it was begun in."""

import asyncio
import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from nimble_quote.processes import TookTooLong, computing_in, ending_of, tethered
from tests.conftest import wait_for

pytestmark = pytest.mark.anyio


def slow_double(number: int, folder: str) -> int:
    """Says which process it is in, and takes a moment the first time."""
    first = not any(Path(folder).iterdir())
    (Path(folder) / str(os.getpid())).touch()
    time.sleep(5 if first else 0)
    return 2 * number


def count_for_ever() -> None:
    while True:
        sum(range(1000))


def is_running(pid: int) -> bool:
    stat = Path(f"/proc/{pid}/stat")
    return stat.exists() and ") Z " not in stat.read_text()


async def test_what_is_computed_in_a_process_that_is_killed_is_computed_again(tmp_path: Path):
    async with computing_in(1) as computing:
        doubling = asyncio.create_task(computing.compute(slow_double, 21, str(tmp_path)))
        while not (begun := list(tmp_path.iterdir())):  # noqa: ASYNC110 - another process has no event of ours
            await asyncio.sleep(0.05)
        os.kill(int(begun[0].name), signal.SIGKILL)
        assert await doubling == 42
        assert await computing.compute(slow_double, 4, str(tmp_path)) == 8
    assert len(list(tmp_path.iterdir())) == 2, "one other process did the rest"


async def test_what_takes_too_long_is_ended_and_the_process_goes_on():
    async with computing_in(1) as computing:
        began = time.monotonic()
        with pytest.raises(TookTooLong):
            await computing.compute(count_for_ever, within_s=0.5)
        assert time.monotonic() - began < 30
        assert await computing.compute(len, "wick") == 4


@pytest.mark.parametrize("ending", [signal.SIGKILL, signal.SIGTERM])
def test_a_tethered_process_ends_with_its_parent_however_that_ends(ending: signal.Signals):
    parent = f"import subprocess, time; print(subprocess.Popen({tethered(['sleep', '60'], ending)!r}).pid, flush=True); time.sleep(60)"
    with subprocess.Popen([sys.executable, "-c", parent], stdout=subprocess.PIPE, text=True) as starter:
        assert starter.stdout
        child = int(starter.stdout.readline())
        # It is tethered once it has become the command.
        wait_for(lambda: Path(f"/proc/{child}/comm").read_text() == "sleep\n", "the command to run", 5)
        starter.kill()
    wait_for(lambda: not is_running(child), "the child to end", 5)


def test_how_a_process_ended_is_said():
    assert [ending_of(code) for code in (0, 3, -9, -15)] == ["exit code 0", "exit code 3", "SIGKILL", "SIGTERM"]
