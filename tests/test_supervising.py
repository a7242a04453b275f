"""The running application kept going: whatever of it is killed comes back, and nothing outlives what started it."""

import os
import signal
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from pathlib import Path

import httpx
import pytest

from nimble_quote import supervising
from nimble_quote.supervising import Child, keep_going
from tests.conftest import CODED, answers, bring_in, free_port, make_media, wait_for, wait_until_prepared
from tests.helpers import keep


def processes_under(pid: int) -> dict[int, str]:
    """The processes that were started by one, and by those, with their command lines."""
    listed = subprocess.run(["ps", "-ewwo", "pid=,ppid=,args="], capture_output=True, text=True, check=True)
    rows = [line.split(None, 2) for line in listed.stdout.splitlines()]
    found: dict[int, str] = {}
    while new := {int(p): args for p, parent, args in rows if int(parent) in {pid, *found} and int(p) not in found}:
        found |= new
    return found


def is_running(pid: int) -> bool:
    try:
        return not Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].strip().startswith("Z")
    except FileNotFoundError:
        return False


@dataclass
class Application:
    """The application as `./run` starts it."""

    data: Path
    port: int = field(default_factory=free_port)

    def start(self) -> None:
        command = [sys.executable, "-m", "nimble_quote.cli", "serve", "--no-demo", "--port", str(self.port), "--data"]
        with (self.data.parent / "said.txt").open("ab") as said:
            self.process = subprocess.Popen([*command, str(self.data)], stdout=said, stderr=said)
        wait_for(lambda: self.process.poll() is not None or answers(f"{self.url}/api/catalogue"), "it to come up")

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    @property
    def client(self) -> httpx.Client:
        return httpx.Client(base_url=self.url, timeout=30)

    @property
    def said(self) -> str:
        return (self.data.parent / "said.txt").read_text()

    def part(self, command: str) -> int:
        """The process that runs a part of the application."""
        mine = processes_under(self.process.pid)
        return next(pid for pid, args in sorted(mine.items()) if command in args)


WORKER, SERVER, DATABASE = "nimble_quote.cli work", "nimble_quote.api.serve", "bin/postgres"


@pytest.fixture(scope="module")
def application(open_folder: Path) -> Iterator[Application]:
    """One for all tests: each leaves it running."""
    data = open_folder / "supervised" / "data"
    data.parent.mkdir()
    data.parent.chmod(0o755)
    running = Application(data)
    running.start()
    yield running
    running.process.kill()
    running.process.wait()


@pytest.fixture(scope="module")
def long(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Ten seconds that take a moment to export."""
    target = tmp_path_factory.mktemp("long") / "long.mp4"
    return make_media(target, "smptebars=s=640x360:r=25:d=10", "sine=d=10", options=CODED)


@pytest.fixture(scope="module")
def talk(application: Application, long: Path) -> int:
    """A recording to export from, prepared."""
    with application.client as client:
        return int(wait_until_prepared(client, bring_in(client, long).json()["id"])["id"])


def begin_export(client: httpx.Client, recording_id: int) -> int:
    """An export that is under way."""
    quote = keep(client, recording_id, "Sentence number 1 is here.", until="Sentence number 4 is here.")
    (made,) = client.post(f"/api/quotes/{quote['id']}/exports", json={}).json()
    wait_for(lambda: export_of(client, made["id"])["progress"] > 0.1, "the export to be under way")
    return int(made["id"])


def export_of(client: httpx.Client, export_id: int) -> dict[str, object]:
    return next(one for one in client.get("/api/exports").json() if one["id"] == export_id)


def done(client: httpx.Client, export_id: int) -> Callable[[], bool]:
    return lambda: export_of(client, export_id)["state"] == "done"


def test_parts_that_are_killed_come_back_and_what_they_did_is_done(application: Application, talk: int):
    with application.client as client:
        export_id = begin_export(client, talk)

        worker = application.part(WORKER)
        children = processes_under(worker)
        assert any("ffmpeg" in args for args in children.values())
        os.kill(worker, signal.SIGKILL)
        wait_for(lambda: not any(is_running(pid) for pid in children), "what the worker started to end with it", 10)
        assert list((application.data / "media" / "exports").rglob("*.mp4")) == [], "no half of a clip is shown"
        wait_for(done(client, export_id), "the export by another worker", 60)
        assert list((application.data / "media" / "scratch").iterdir()) == []
        assert "The worker ended unexpectedly (SIGKILL). Restarting it now." in application.said

        export_id = begin_export(client, talk)
        # The starter is held meanwhile: it would have the database back before anybody could look.
        application.process.send_signal(signal.SIGSTOP)
        os.kill(application.part(DATABASE), signal.SIGKILL)
        began = time.monotonic()
        refused = wait_for(lambda: (got := client.get("/api/recordings")).status_code != 200 and got, "a refusal", 5)
        assert time.monotonic() - began < 5, "it is not waited for what is away"
        assert refused.status_code == 503
        assert refused.json()["code"] == "database-away"
        assert (
            "isn't answering right now and is being restarted. Everything you saved is safe."
            in refused.json()["detail"]
        )
        application.process.send_signal(signal.SIGCONT)
        wait_for(lambda: client.get("/api/recordings").is_success, "the database to be back", 60)
        wait_for(done(client, export_id), "the export after the database was away", 60)

        os.kill(application.part(SERVER), signal.SIGKILL)
        wait_for(lambda: answers(f"{application.url}/api/recordings"), "the server to be back", 60)
        assert application.process.poll() is None


def stopped_and_started(application: Application, stop: signal.Signals) -> None:
    """Stops the application and starts it as soon as a person can: what is left of a killed one is still ending."""
    parts = processes_under(application.process.pid)
    application.process.send_signal(stop)
    application.process.wait(20)
    application.start()
    assert application.process.poll() is None, application.said
    wait_for(lambda: not any(is_running(pid) for pid in parts), "what it had started to end", 10)


def test_what_went_on_when_it_was_stopped_goes_on_after_the_next_start(application: Application, talk: int):
    with application.client as client:
        for stop in (signal.SIGTERM, signal.SIGKILL):
            export_id = begin_export(client, talk)
            stopped_and_started(application, stop)
            wait_for(done(client, export_id), "the export after the stop", 60)
            assert export_of(client, export_id)["findings"] == []


def test_a_second_start_says_whom_to_stop(application: Application):
    second = [sys.executable, "-m", "nimble_quote.cli", "serve", "--no-demo"]
    same = subprocess.run([*second, "--data", str(application.data)], capture_output=True, text=True, check=False)
    assert same.stderr == (
        f"Nimble Quote can't start: it is already running with this data at {application.url} (process "
        f"{application.process.pid}). Use it there, or stop it first: kill {application.process.pid}\n"
    )
    other = [*second, "--data", str(application.data.parent / "other"), "--port", str(application.port)]
    taken = subprocess.run(other, capture_output=True, text=True, check=False)
    server = application.part(SERVER)
    assert f"port {application.port} is taken by process {server} (" in taken.stderr
    assert f"Stop that, or choose another: ./run --port {application.port + 1}" in taken.stderr


class Enough(Exception):
    """The test has seen enough."""


def test_what_ends_again_and_again_is_started_after_longer_and_longer_pauses(monkeypatch: pytest.MonkeyPatch):
    now, told = 0.0, []

    def sleep(seconds: float) -> None:
        nonlocal now
        now += 1.0
        if now > 60:
            raise Enough

    class Falling(Child):
        started: list[float] = []  # noqa: RUF012

        def start(self) -> None:
            self.started.append(now)

        def ended(self) -> str:
            return "exit code 1"

    monkeypatch.setattr(supervising.time, "sleep", sleep)
    monkeypatch.setattr(supervising.time, "monotonic", lambda: now)
    part = Falling("worker", [])
    with pytest.raises(Enough):
        keep_going([part], told.append)
    pauses = [b - a for a, b in zip(part.started, part.started[1:], strict=False)]
    assert pauses == sorted(pauses)
    assert pauses[0] <= 2
    assert pauses[-1] >= 10
    assert told[0] == "The worker ended unexpectedly (exit code 1). Restarting it now."
    assert told[2] == "The worker ended unexpectedly (exit code 1). Restarting it in 2 s."
