"""Lanes of work: clips are made in turn and in the order asked, and keep no other work from being begun."""

import os
import shutil
from collections.abc import Iterator
from pathlib import Path
from uuid import uuid4

import psycopg
import pytest

from nimble_quote.core.edits import RenameQuote
from nimble_quote.jobs.export import ask_for_export
from nimble_quote.jobs.inbox import take_from_inbox
from nimble_quote.jobs.queue import HELD, LANE_OF, WORK, pause
from nimble_quote.jobs.state import WorkerState
from nimble_quote.jobs.tasks import DOING
from nimble_quote.jobs.worker import lane_sizes, queue_of
from nimble_quote.jobs.working import ask_for
from nimble_quote.media.ffmpeg import run
from nimble_quote.settings import Settings
from nimble_quote.store import exports, quotes, work
from nimble_quote.store.cluster import Cluster
from nimble_quote.store.database import Connection
from nimble_quote.store.work import on_recording
from tests.conftest import CODED, RunningApp, bring_in, make_media, start_app, wait_for, wait_until_prepared
from tests.helpers import edit, keep
from tests.jobs.conftest import an_export, brought_in


@pytest.fixture
def own_app(cluster: Cluster, tmp_path: Path) -> Iterator[RunningApp]:
    running = start_app(cluster, tmp_path, "lanes", exports_at_once=1)
    yield running
    running.kill(running.workers)
    running.kill(running.servers)


async def lanes_of(conn: Connection) -> list[str]:
    """Where the jobs wait that nobody has begun."""
    found = await conn.execute("select queue_name from procrastinate_jobs where status = 'todo'")
    return [str(lane) for (lane,) in await found.fetchall()]


def test_every_kind_of_work_has_a_lane_that_is_worked_on():
    lanes = lane_sizes(Settings(exports_at_once=3))
    assert set(LANE_OF) == set(DOING)
    assert set(LANE_OF.values()) < set(lanes)
    assert lanes["render"] == 3
    assert all(lanes.values())
    assert [lane for lane in lanes if queue_of(lane).periodic_registry.periodic_tasks] == ["upkeep"], "asked for once"
    assert all(WORK in queue_of(lane).tasks for lane in lanes)


@pytest.mark.anyio
async def test_what_nobody_waits_for_waits_by_itself_until_somebody_does(
    worker: WorkerState, clip: Path, tmp_path: Path
):
    inbox = worker.settings.inbox
    assert inbox is not None
    inbox.mkdir()
    shutil.copy(clip, inbox / "talk.mp4")
    os.utime(inbox / "talk.mp4", (0, 0))
    await take_from_inbox(worker)

    async with worker.pool.connection() as conn:
        (row,) = await work.unfinished(conn)
        assert (row.waited, await lanes_of(conn)) == (False, ["background"])
        asked = await ask_for(conn, "prepare", on_recording(row.recording_id or 0))
        assert (asked.new, await lanes_of(conn)) == (False, ["analyse"]), "the same job, not one more"


@pytest.mark.anyio
async def test_a_newer_revision_takes_the_place_of_an_older_that_waits_and_stands_behind_one_that_is_made(
    worker: WorkerState, clip: Path, tmp_path: Path
):
    recording_id = await brought_in(worker, clip, tmp_path)
    first = await an_export(worker, recording_id)
    async with worker.pool.connection() as conn:
        row = await exports.one(conn, first)
        assembly = await worker.contexts.assembly_of(conn, row.quote_id, 1, row.destination)
        quote = await quotes.one(conn, row.quote_id)

        def asked(revision: int) -> exports.NewExport:
            return exports.NewExport(quote_id=row.quote_id, revision=revision, assembly=assembly)

        assert await ask_for_export(conn, asked(1)) is None, "just this waits already"
        assert [one.id for one in await exports.newest(conn)] == [first]
        for _ in range(2):
            quote = await quotes.one(conn, quote.id)
            await quotes.revise(conn, quote, RenameQuote(title="Again"), "Renamed", quote.document)
        newer = await ask_for_export(conn, asked(2))
        assert newer is not None
        await work.begin(conn, (await exports.one(conn, newer)).work_id, uuid4())
        newest = await ask_for_export(conn, asked(3))
        assert newest is not None
        states = [(await exports.one(conn, one)).state for one in (first, newer, newest)]
    assert states == ["stopped", "running", "queued"]


@pytest.mark.anyio
async def test_a_clip_asked_for_again_while_exports_are_paused_is_not_begun(
    worker: WorkerState, clip: Path, tmp_path: Path
):
    recording_id = await brought_in(worker, clip, tmp_path)
    async with worker.pool.connection() as conn:
        await pause(conn, True)
    export_id = await an_export(worker, recording_id)
    async with worker.pool.connection() as conn:
        row = await exports.one(conn, export_id)
        assembly = await worker.contexts.assembly_of(conn, row.quote_id, 1, row.destination)
        again = exports.NewExport(quote_id=row.quote_id, revision=1, assembly=assembly)
        assert await ask_for_export(conn, again) is None, "just this waits already"
        assert set(await lanes_of(conn)) == {"analyse", HELD}
        await pause(conn, False)
        assert set(await lanes_of(conn)) == {"analyse", "render"}


@pytest.mark.anyio
async def test_the_pace_of_exports_is_that_of_the_machine_and_not_of_each_clip(
    worker: WorkerState, clip: Path, tmp_path: Path
):
    recording_id = await brought_in(worker, clip, tmp_path)
    made = [await an_export(worker, recording_id) for _ in range(3)]
    async with worker.pool.connection() as conn:
        assert await exports.pace(conn) is None
        rows = [await exports.one(conn, one) for one in made]
        # Two side by side, and a third after a while.
        for row, (began, ended) in zip(rows, ((0, 10), (2, 12), (60, 66)), strict=True):
            await conn.execute(
                """update work set state = 'done', tries = 1, finished_at = '2026-01-01'::timestamptz + make_interval(secs => %s),
                       started_at = '2026-01-01'::timestamptz + make_interval(secs => %s), attempt = gen_random_uuid()
                   where id = %s""",
                [ended, began, row.work_id],
            )
        pixels = sum(row.planned_frames * row.width * row.height for row in rows)
        assert await exports.pace(conn) == pytest.approx(18 / (pixels / 1e6))


@pytest.mark.anyio
async def test_a_clip_that_is_begun_beside_another_takes_what_that_leaves(worker: WorkerState):
    async def nice() -> int:
        return int((await run(["nice"]))[0]) - os.nice(0)

    with worker.exporting(1):
        assert await nice() == 0
        with worker.exporting(2):
            assert await nice() == 10
    with worker.exporting(3):
        assert await nice() == 0, "alone again"


def test_how_many_run_at_once_follows_cores_and_memory(monkeypatch: pytest.MonkeyPatch):
    page, gigabyte = os.sysconf("SC_PAGE_SIZE"), 10**9
    for cores, memory, exports_at_once, analyses in (
        (2, 4, 2, 2),
        (16, 64, 4, 9),
        (16, 5, 2, 2),
        (8, 2, 1, 2),
        (1, 1, 1, 2),
    ):
        monkeypatch.setattr(os, "cpu_count", lambda cores=cores: cores)
        monkeypatch.setattr(
            os, "sysconf", {"SC_PAGE_SIZE": page, "SC_PHYS_PAGES": memory * gigabyte // page + 1}.__getitem__
        )
        told = Settings()
        assert (told.exports_at_once, told.analyses_at_once) == (exports_at_once, analyses)


def test_clips_are_made_in_turn_and_a_recording_is_begun_meanwhile(own_app: RunningApp, tmp_path: Path):
    long = make_media(tmp_path / "long.mp4", "smptebars=s=640x360:r=25:d=10", "sine=d=10", options=CODED)
    other = make_media(tmp_path / "other.mp4", "testsrc2=s=320x180:r=25:d=3", "sine=f=500:d=3", options=CODED)
    with own_app.client as client:
        talk = bring_in(client, long).json()["id"]
        wait_until_prepared(client, talk)
        quote = keep(client, talk, "Sentence number 1 is here.", until="Sentence number 2 is here.")
        for destination in ("square-60", "portrait-60"):
            quote = edit(client, quote, kind="add-version", destination=destination).json()
        asked = [one["id"] for one in client.post(f"/api/quotes/{quote['id']}/exports", json={}).json()]
        assert len(asked) == 3

        def states() -> list[str]:
            found = {one["id"]: one["state"] for one in client.get("/api/exports").json()}
            return [found[export_id] for export_id in asked]

        wait_for(lambda: states()[0] == "running", "the first clip to be begun")
        # Taken up while clips wait: nothing stands behind them.
        second = bring_in(client, other).json()["id"]
        seen: list[list[str]] = []
        begun_at: int | None = None
        while not all(state == "done" for state in states()):
            seen.append(states())
            works = client.get(f"/api/recordings/{second}").json()["work"]
            if begun_at is None and any(one["state"] != "queued" for one in works):
                begun_at = seen[-1].count("done")
        assert max(one.count("running") for one in seen) == 1
        assert all(one == sorted(one, key=["done", "running", "queued"].index) for one in seen), "in the order asked"
        assert begun_at is not None
        assert begun_at < 2, "it does not wait until the clips are made"


def test_what_a_killed_worker_left_is_given_up_where_the_next_of_its_kind_waits_already(
    own_app: RunningApp, clip: Path
):
    own_app.kill(own_app.workers)
    with psycopg.connect(own_app.settings.database_url, autocommit=True) as conn:
        conn.execute("delete from procrastinate_jobs")
        row = conn.execute(
            """with gone as (
                   insert into procrastinate_workers (last_heartbeat) values (now() - interval '1 hour') returning id),
               waiting as (
                   insert into procrastinate_jobs (queue_name, task_name, lock, queueing_lock, args, status)
                   values ('upkeep', 'look-into-inbox', 'inbox', 'look-into-inbox', '{"timestamp": 1}', 'todo'))
               insert into procrastinate_jobs (queue_name, task_name, lock, queueing_lock, args, status, worker_id)
               select 'upkeep', 'look-into-inbox', 'inbox', 'look-into-inbox', '{"timestamp": 0}', 'doing', id from gone
               returning id"""
        ).fetchone()
        assert row is not None
        own_app.start_worker()

        def left() -> list[tuple[object, ...]]:
            return conn.execute("select id from procrastinate_jobs where id = %s", row).fetchall()

        wait_for(lambda: not left(), "the job of the worker that was killed to be given up", 40)
        inbox = own_app.settings.inbox
        assert inbox is not None
        inbox.mkdir(exist_ok=True)
        shutil.copy(clip, inbox / "talk.mp4")
        os.utime(inbox / "talk.mp4", (0, 0))
        with own_app.client as client:
            wait_for(lambda: client.get("/api/recordings").json(), "the inbox to be looked into again", 40)
