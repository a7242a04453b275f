"""A disk that is full, really: what is told then, and that work goes on once there is room."""

import subprocess
from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest

from nimble_quote.api.problems import problem
from nimble_quote.api.uploads import Uploads
from nimble_quote.jobs.state import WorkerState
from nimble_quote.jobs.tasks import DOING
from nimble_quote.jobs.working import do_work
from nimble_quote.media.files import MediaRoot
from nimble_quote.media.room import DiskFull, Room
from nimble_quote.store import work
from nimble_quote.store.cluster import Cluster
from nimble_quote.store.database import DatabaseAway
from tests.api.test_problems import answer
from tests.conftest import CODED, make_media
from tests.jobs.conftest import an_export, brought_in, make_clip

pytestmark = pytest.mark.anyio


def mounted(folder: Path, megabytes: int) -> Iterator[Path]:
    folder.mkdir()
    mount = ["mount", "-t", "tmpfs", "-o", f"size={megabytes}m,mode=755", "none", str(folder)]
    if subprocess.run(mount, check=False, capture_output=True).returncode:
        pytest.skip("a small disk can be made by root only")
    yield folder
    subprocess.run(["umount", "-l", str(folder)], check=True)


@pytest.fixture
def disk(tmp_path: Path) -> Iterator[Path]:
    """A disk of 40 MB."""
    yield from mounted(tmp_path / "disk", 40)


@pytest.fixture
def small(worker: WorkerState, disk: Path) -> WorkerState:
    """A worker whose media are on that disk, with nothing kept in reserve."""
    media = MediaRoot(disk / "media")
    media.prepare()
    return WorkerState(pool=worker.pool, media=media, settings=worker.settings, computing=worker.computing)


def with_reserve(worker: WorkerState, reserve_bytes: int) -> WorkerState:
    media = MediaRoot(worker.media.folder, reserve_bytes)
    return WorkerState(pool=worker.pool, media=media, settings=worker.settings, computing=worker.computing)


def fill(disk: Path, but_bytes: int) -> Path:
    """A file that takes all room on a disk but so much."""
    filler = disk / "filler"
    free = Room(folder=disk, reserve_bytes=0)
    with filler.open("wb") as out:
        while (room := free_bytes(free)) > but_bytes:
            out.write(b"\0" * min(1 << 20, room - but_bytes))
            out.flush()
    return filler


def free_bytes(room: Room) -> int:
    from shutil import disk_usage

    return disk_usage(room.folder).free


@pytest.fixture(scope="module")
def large(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Ten seconds that make a proxy of some megabytes."""
    noise = "color=gray:s=960x540:r=25:d=10,noise=alls=40:allf=t"
    target = tmp_path_factory.mktemp("large") / "large.mp4"
    return make_media(target, noise, "sine=d=10", options=(*CODED, "-crf", "45", "-g", "500"))


async def prepared(worker: WorkerState, work_id: int) -> work.WorkRow:
    await do_work(worker, work_id, DOING)
    async with worker.pool.connection() as conn:
        return await work.one(conn, work_id)


async def test_work_that_finds_the_disk_full_says_so_and_goes_on_when_there_is_room(
    small: WorkerState, large: Path, disk: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
):
    recording_id = await brought_in(small, large, tmp_path)
    async with small.pool.connection() as conn:
        (asked,) = await work.of_recording(conn, recording_id)

    before = await prepared(with_reserve(small, 100_000_000), asked.id)
    assert before.problem is not None
    assert before.problem.startswith("The disk is full: ")
    assert "MB more is needed, and only" in before.problem
    assert "100 MB is kept in reserve so that your work can still be saved. Free up at least" in before.problem

    # The same in the middle, where nobody could know before.
    monkeypatch.setattr("nimble_quote.jobs.prepare._needed_bytes", lambda *_: 0)
    filler = fill(disk, 700_000)
    async with small.pool.connection() as conn:
        assert await work.resume(conn, asked.id)
    middle = await prepared(small, asked.id)
    assert (middle.state, str(middle.problem)[:17]) == ("failed", "The disk is full:")
    for unwanted in (str(disk), "ffmpeg", "damaged", "Errno"):
        assert unwanted not in str(middle.problem)

    filler.unlink()
    async with small.pool.connection() as conn:
        assert await work.resume(conn, asked.id)
    assert (await prepared(small, asked.id)).state == "done"


async def test_an_export_that_finds_the_disk_full_says_so_and_leaves_nothing(
    small: WorkerState, large: Path, disk: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
):
    export_id = await an_export(small, await brought_in(small, large, tmp_path))
    monkeypatch.setattr("nimble_quote.jobs.export._BYTES_A_MS", 0)
    fill(disk, 500_000)
    failed = await make_clip(small, export_id)
    assert (failed.state, str(failed.problem)[:17]) == ("failed", "The disk is full:")
    assert "damaged" not in str(failed.problem)
    left = {path.parent.parent.name for path in small.media.folder.rglob("*.*")}
    assert left == {"originals"}, "nothing of the clip is left"


async def test_an_export_begins_only_where_there_is_room_for_it(small: WorkerState, large: Path, tmp_path: Path):
    export_id = await an_export(small, await brought_in(small, large, tmp_path))
    failed = await make_clip(with_reserve(small, 10**9), export_id)
    assert "1.0 GB is kept in reserve" in str(failed.problem)


def test_an_upload_that_has_no_room_is_not_begun(disk: Path):
    uploads = Uploads(disk / "uploads", Room(folder=disk, reserve_bytes=10_000_000))
    with pytest.raises(DiskFull, match=r"35 MB more is needed, and only 4\d MB is free\. 10 MB is kept in reserve"):
        uploads.begin("a.mp4", 35_000_000, "")
    assert uploads.begin("a.mp4", 25_000_000, "").length == 25_000_000


async def test_a_disk_too_full_for_the_database_is_told_as_that(disk: Path):
    fill(disk, 1_000_000)
    told = await answer(DatabaseAway(), Room(folder=disk, reserve_bytes=0))
    assert (told.status_code, told.json()["code"]) == (507, "disk-full")
    assert problem(503, "x").headers["retry-after"] == "2"


def test_a_database_whose_disk_is_full_says_so_and_keeps_what_it_had(open_folder: Path, tmp_path: Path):
    for disk in mounted(open_folder / "small-disk", 120):
        server = Cluster(disk / "postgres", durable=False)
        url = server.start()
        try:
            with psycopg.connect(url, autocommit=True) as conn:
                conn.execute("create table kept as select 'wick' as word")
                with pytest.raises(psycopg.errors.DiskFull):
                    # In one statement, whose log of changes is left out: only its rows fill the disk.
                    conn.execute(
                        "create unlogged table much as select repeat(md5(n::text), 60) from generate_series(1, 100000) n"
                    )
                assert conn.execute("select word from kept").fetchone() == ("wick",)
        finally:
            server.stop()
