"""The inbox, with everything that people (or their programs) put into a folder."""

import os
from pathlib import Path

import pytest

from nimble_quote.jobs import inbox as module
from nimble_quote.jobs.inbox import REASON, reason_file, take_from_inbox
from nimble_quote.jobs.state import WorkerState
from nimble_quote.store import recordings
from tests.conftest import CODED, VTT, make_media

pytestmark = pytest.mark.anyio


@pytest.fixture
def inbox(worker: WorkerState, monkeypatch: pytest.MonkeyPatch) -> Path:
    monkeypatch.setattr(module, "SETTLED_S", 0)
    folder = worker.settings.inbox
    assert folder is not None
    folder.mkdir()
    return folder


async def titles(worker: WorkerState) -> set[str]:
    async with worker.pool.connection() as conn:
        on_shelf = [number for number, _ in await recordings.shelf(conn)]
        return {row.title for row in (await recordings.titles(conn, on_shelf)).values()}


def put(inbox: Path, name: str, seconds: float, *options: str) -> Path:
    """A recording like no other: two of the same content are one."""
    made = make_media(
        inbox.parent / f"made{seconds}.mkv", f"testsrc2=s=160x90:r=25:d={seconds}", f"sine=d={seconds}",
        options=(*CODED, *options),
    )  # fmt: skip
    return made.rename(inbox / name)


async def test_one_bad_file_is_set_aside_with_its_reason_and_the_rest_goes_on(worker: WorkerState, inbox: Path):
    put(inbox, "first.mkv", 2.0)
    (inbox / "bad.mp4").write_bytes(b"no recording")
    (inbox / "empty.mov").touch()
    long = "n" * 251 + ".mp4"
    (inbox / long).write_bytes(b"no recording either")
    (inbox / os.fsdecode(b"odd-\xff\xfe.mp4")).write_bytes(b"nor this")
    (inbox / "link.mp4").symlink_to("/etc/passwd")
    (inbox / "nowhere.mp4").symlink_to(inbox / "gone.mp4")
    (inbox / "folder.mp4").mkdir()
    nothing = ("-filter_complex", "[1:a]atrim=end=0[nothing]", "-map", "0:v", "-map", "[nothing]")
    put(inbox, "no-sound-in-its-track.mkv", 2.2, *nothing, "-c:a", "pcm_s16le")
    timed = put(inbox, "timed.mkv", 2.4)
    endless = f'<p begin="{"9" * 300}s" end="1s">a</p><p begin="{"9" * 300}:00:00.0" end="1s">b</p>'
    timed.with_suffix(".ttml").write_text(
        f'<tt xmlns="http://www.w3.org/ns/ttml"><body><div>{endless}</div></body></tt>'
    )
    last = put(inbox, "zz-last.mkv", 2.6)
    last.with_suffix(".vtt").write_bytes(VTT)
    await take_from_inbox(worker)
    assert await titles(worker) == {"First", "No sound in its track", "Timed", "Zz last"}
    reasons = {path.name: path.read_text() for path in inbox.iterdir() if path.name.endswith(REASON)}
    assert reason_file(inbox / long).name in reasons
    assert "this is a link to another place. Put the recording itself here." in reasons["link.mp4" + REASON]
    assert "this is a link to another place" in reasons["nowhere.mp4" + REASON]
    assert "the file is empty" in reasons["empty.mov" + REASON]
    assert "no cue with times and words" in reasons["timed.ttml" + REASON]
    assert "Its recording was brought in without it." in reasons["timed.ttml" + REASON]
    assert len(reasons) == 7
    assert all(text.endswith("Delete this file to try again.\n") for text in reasons.values())
    assert (inbox / "link.mp4").is_symlink()
    times = {path.name: path.lstat().st_mtime_ns for path in inbox.iterdir()}
    await take_from_inbox(worker)
    assert times == {path.name: path.lstat().st_mtime_ns for path in inbox.iterdir()}, "what was refused is left alone"


async def test_a_mistake_of_ours_over_one_file_keeps_no_other_out(
    worker: WorkerState, inbox: Path, monkeypatch: pytest.MonkeyPatch
):
    taken = module.take_in

    async def mistaken(intake, recording, *more, **named):  # type: ignore[no-untyped-def]
        if recording.name == "first.mkv":
            raise RecursionError
        return await taken(intake, recording, *more, **named)

    monkeypatch.setattr(module, "take_in", mistaken)
    put(inbox, "first.mkv", 2.0)
    put(inbox, "second.mkv", 2.2)
    await take_from_inbox(worker)
    assert await titles(worker) == {"Second"}
    said = (inbox / ("first.mkv" + REASON)).read_text()
    assert said.startswith("It could not be brought in (RecursionError); what happened is in the worker's log.")


async def test_deleting_the_reason_has_a_file_tried_again(worker: WorkerState, inbox: Path):
    bad = inbox / "talk.mkv"
    bad.write_bytes(b"half copied")
    await take_from_inbox(worker)
    whole = put(inbox.parent, "whole.mkv", 2.0)
    bad.write_bytes(whole.read_bytes())
    os.utime(bad, (0, 0))
    await take_from_inbox(worker)
    assert await titles(worker) == set()
    reason_file(bad).unlink()
    await take_from_inbox(worker)
    assert await titles(worker) == {"Talk"}
