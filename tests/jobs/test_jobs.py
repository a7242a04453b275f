"""Jobs run in place, against the real database and ffmpeg: what they leave when all goes well, and when it does not."""

from pathlib import Path

import pytest

from nimble_quote.core.timebase import Span
from nimble_quote.jobs.intake import AlreadyHere, Brought, file_name_of, intake_of, take_in, title_from
from nimble_quote.jobs.queue import queue
from nimble_quote.jobs.state import WorkerState, spaced
from nimble_quote.jobs.tasks import DOING
from nimble_quote.jobs.working import Attempt, ask_for, do_work
from nimble_quote.media.ffmpeg import Progress, run
from nimble_quote.media.keys import PROXY, SEEN, SOUND, SPEECH
from nimble_quote.media.probe import probe_source
from nimble_quote.media.scanning import First, PictureScan
from nimble_quote.media.seen import VERSION
from nimble_quote.store import exports, pictures, recordings, work
from nimble_quote.store.work import WorkRow, on_recording
from tests.conftest import CODED, make_media
from tests.jobs.conftest import an_export, brought_in, clips_of, make_clip

pytestmark = pytest.mark.anyio


async def do_all(worker: WorkerState) -> list[WorkRow]:
    """Does all work that waits, also what that asks for; all of it afterwards."""
    async with worker.pool.connection() as conn:
        while waiting := [row for row in await work.unfinished(conn) if row.state == "queued"]:
            await conn.commit()
            for row in waiting:
                await do_work(worker, row.id, DOING)
        ids = await (await conn.execute("select id from work order by id")).fetchall()
        return [await work.one(conn, int(str(one[0]))) for one in ids]


async def test_taking_in_keeps_the_file_by_its_content_and_queues_its_preparation(
    worker: WorkerState, clip: Path, tmp_path: Path
):
    recording_id = await brought_in(worker, clip, tmp_path)
    async with worker.pool.connection() as conn:
        row = await recordings.one(conn, recording_id)
        (asked,) = await work.of_recording(conn, recording_id)
        jobs = await (await conn.execute("select task_name, args from procrastinate_jobs")).fetchall()
    assert (row.title, asked.kind, asked.state) == ("My long talk", "prepare", "queued")
    assert worker.media.store.local(row.media_path).read_bytes() == clip.read_bytes()
    assert jobs == [("do-work", {"work_id": asked.id})]
    with pytest.raises(AlreadyHere, match="on the shelf already, as “My long talk”"):
        await brought_in(worker, clip, tmp_path)
    async with worker.pool.connection() as conn:
        await recordings.set_removed(conn, recording_id, True)
    with pytest.raises(AlreadyHere, match="was removed from the shelf as “My long talk”"):
        await brought_in(worker, clip, tmp_path)


async def never(*_: object) -> None:
    raise AssertionError("it was done before")


async def test_preparing_makes_what_is_missing_and_nothing_twice(
    worker: WorkerState, clip: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
):
    recording_id = await brought_in(worker, clip, tmp_path)
    done = await do_all(worker)
    assert {(row.kind, row.state) for row in done} == {("prepare", "done"), ("align", "failed")}
    assert "Only English" not in str([row.problem for row in done])
    async with worker.pool.connection() as conn:
        row = await recordings.one(conn, recording_id)
    made = sorted(worker.media.store.local(row.derived(SPEECH)).parent.iterdir())
    # The clip has a key frame each ten seconds only, so it needs a proxy.
    assert {PROXY, SEEN, SPEECH, SOUND, "peaks-10.u8"} <= {path.name for path in made}
    times = [path.stat().st_mtime_ns for path in made if path.is_file()]
    async with worker.pool.connection() as conn:
        looks = await conn.execute("delete from shot_look returning at_ms")
        await ask_for(conn, "prepare", on_recording(recording_id))
    monkeypatch.setattr(PictureScan, "scan", never)
    assert {row.state for row in await do_all(worker) if row.kind == "prepare"} == {"done"}
    async with worker.pool.connection() as conn:
        again = await (await conn.execute("select at_ms from shot_look")).fetchall()
    assert again == await looks.fetchall() == [(0,)], "what was seen is read again"
    assert [path.stat().st_mtime_ns for path in made if path.is_file()] == times
    assert list((worker.media.folder / "scratch").iterdir()) == []


SOURCES: dict[str, tuple[tuple[str, ...], tuple[str, ...], tuple[int, int] | None]] = {
    "a.webm": (("testsrc2=s=640x360:r=25:d=3", "sine=d=3"), ("-c:v", "libvpx", "-deadline", "realtime", "-c:a", "libopus"), (640, 360)),
    "deep.mkv": (("testsrc2=s=640x360:r=25:d=3", "sine=d=3"), ("-c:v", "libx264", "-preset", "ultrafast", "-pix_fmt", "yuv420p10le"), (640, 360)),
    "wide.mp4": (("testsrc2=s=480x360:r=25:d=3", "sine=d=3"), ("-vf", "setsar=4/3", *CODED), (640, 360)),
    "phone.mov": (("testsrc2=s=1280x720:r=30:d=3", "sine=d=3"), (*CODED, "-metadata:s:v", "rotate=90"), (540, 960)),
    "uneven.mp4": (("testsrc2=s=320x180:r=30:d=3,select='not(eq(mod(n\\,10)\\,3))'", "sine=d=3"), ("-vsync", "vfr", *CODED), (320, 180)),
    "mute.mp4": (("testsrc2=s=320x180:r=25:d=3",), ("-c:v", "libx264", "-preset", "ultrafast"), (320, 180)),
    "sound.flac": (("sine=d=3",), (), None),
}  # fmt: skip


@pytest.mark.parametrize("name", SOURCES)
async def test_what_people_really_have_becomes_a_proxy_that_plays(worker: WorkerState, name: str, tmp_path: Path):
    inputs, options, size = SOURCES[name]
    media = make_media(tmp_path / name, *inputs, options=options)
    if "rotate" in str(options):
        turned = tmp_path / f"turned-{name}"
        await run(["ffmpeg", "-v", "error", "-i", str(media), "-c", "copy", "-metadata:s:v", "rotate=90", str(turned)])
        media = turned
    recording_id = await take_in(intake_of(worker), Brought(path=media, name=name))
    (done,) = await do_all(worker)
    assert (done.state, done.problem) == ("done", None)
    async with worker.pool.connection() as conn:
        row = await recordings.one(conn, recording_id)
    facts = await probe_source(worker.media.store.local(row.plays), name)
    assert (facts.width, facts.height) == (size or (0, 0))
    assert facts.duration_ms == pytest.approx(3000, abs=120)
    assert bool(facts.sound_tracks) == (name != "mute.mp4")


async def test_preparing_a_recording_whose_file_is_gone_says_so(worker: WorkerState, clip: Path, tmp_path: Path):
    recording_id = await brought_in(worker, clip, tmp_path)
    async with worker.pool.connection() as conn:
        row = await recordings.one(conn, recording_id)
    worker.media.store.local(row.media_path).unlink()
    (failed,) = await do_all(worker)
    assert failed.state == "failed"
    assert failed.problem == "A file could not be used (No such file or directory). Check the disk, then try again."


async def test_an_export_of_a_damaged_recording_fails_with_what_to_do(worker: WorkerState, clip: Path, tmp_path: Path):
    recording_id = await brought_in(worker, clip, tmp_path)
    export_id = await an_export(worker, recording_id)
    async with worker.pool.connection() as conn:
        row = await recordings.one(conn, recording_id)
    worker.media.store.local(row.media_path).write_bytes(b"gone bad")
    failed = await make_clip(worker, export_id)
    assert failed.state == "failed"
    assert failed.problem is not None
    assert failed.problem == (
        "The recording can't be decoded there; it may be damaged. Check the recording, then try again."
    )
    assert clips_of(worker, export_id) == []


async def test_an_export_runs_once_and_a_second_run_changes_nothing(worker: WorkerState, clip: Path, tmp_path: Path):
    export_id = await an_export(worker, await brought_in(worker, clip, tmp_path))
    await make_clip(worker, export_id)
    (final,) = clips_of(worker, export_id)
    made = final.stat().st_mtime_ns
    row = await make_clip(worker, export_id)
    assert final.stat().st_mtime_ns == made
    assert (row.state, row.findings) == ("done", [])


async def test_an_export_cancelled_before_its_turn_is_never_begun(worker: WorkerState, clip: Path, tmp_path: Path):
    export_id = await an_export(worker, await brought_in(worker, clip, tmp_path))
    async with worker.pool.connection() as conn:
        await work.request_stop(conn, (await exports.one(conn, export_id)).work_id)
    await make_clip(worker, export_id)
    assert clips_of(worker, export_id) == []


async def test_progress_is_passed_on_a_few_times_a_second_only():
    passed: list[float] = []

    async def report(part: float) -> None:
        passed.append(part)

    progress = spaced(report)
    for step in range(1000):
        await progress(step / 1000)
    assert 1 <= len(passed) <= 3


@pytest.mark.parametrize(
    ("name", "title", "file_name"),
    [
        ("keep-the-wick-short.mp4", "Keep the wick short", "keep-the-wick-short.mp4"),
        ("C:\\Users\\ann\\Evening_talk.MOV", "Evening talk", "Evening_talk.MOV"),
        ("../../etc/passwd", "Passwd", "passwd"),
        ("3.5 lamps", "3.5 lamps", "3.5 lamps"),
        ("\x00\x1b[31m", "[31m", "[31m"),
        ("\u202e", "Recording", "recording"),
    ],
)
def test_titles_are_made_from_names(name: str, title: str, file_name: str):
    assert (title_from(name), file_name_of(name)) == (title, file_name)


def test_every_task_that_is_queued_by_name_exists():
    queue.perform_import_paths()
    assert {"do-work", "take-up-stalled", "look-into-inbox", "tidy"} <= set(queue.tasks)


async def test_a_mistake_of_ours_ends_the_work_and_says_where_to_look(worker: WorkerState, clip: Path, tmp_path: Path):
    async def mistaken(attempt: Attempt) -> None:
        raise KeyError("what nobody thought of")

    recording_id = await brought_in(worker, clip, tmp_path)
    async with worker.pool.connection() as conn:
        (asked,) = await work.of_recording(conn, recording_id)
    with pytest.raises(KeyError):
        await do_work(worker, asked.id, {**DOING, "prepare": mistaken})
    async with worker.pool.connection() as conn:
        ended = await work.one(conn, asked.id)
    assert (ended.state, "unforeseen went wrong (KeyError)" in str(ended.problem)) == ("failed", True)


async def test_a_quote_that_somebody_opens_is_looked_at_before_the_rest(
    worker: WorkerState, clip: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
):
    recording_id = await brought_in(worker, clip, tmp_path)
    async with worker.pool.connection() as conn:
        assert await work.look_first(conn, recording_id, 4000, 6000) == "new"
        assert await work.look_first(conn, recording_id, 4000, 6000) == "known"
    told = []
    scan = PictureScan.scan

    async def watched(self: PictureScan, scratch: Path, progress: Progress, first: First | None = None) -> None:
        assert first
        told.append(await first.wanted())
        await scan(self, scratch, progress)
        await first.made(range(1))
        async with worker.pool.connection() as conn:
            told.append(await pictures.changes(conn, recording_id) is not None)

    monkeypatch.setattr(PictureScan, "scan", watched)
    await do_all(worker)
    assert told == [Span(start_ms=4000, end_ms=6000), True]
    async with worker.pool.connection() as conn:
        assert not await work.look_first(conn, recording_id, 4000, 6000), "it is prepared"
        assert (await recordings.one(conn, recording_id)).seen_version == VERSION
