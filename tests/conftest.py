"""What tests share: a database server of their own, made media, and the application running as a person has it."""

import contextlib
import os
import signal
import socket
import sqlite3
import subprocess
import sys
import tempfile
import time
from base64 import b64encode
from collections.abc import AsyncIterator, Iterator
from dataclasses import dataclass
from pathlib import Path

import httpx
import hypothesis
import psycopg
import pytest

from nimble_quote.demo.load import DEMO
from nimble_quote.settings import PROJECT, Settings
from nimble_quote.store.cluster import Cluster
from nimble_quote.store.database import Connection, migrate

VTT = b"WEBVTT\n\n" + b"\n".join(
    b"00:%02d.000 --> 00:%02d.800\n<v Ann>Sentence number %d is here.</v>\n" % (i, i, i) for i in range(1, 9)
)


# A slow or busy machine is no fault of what is tested.
hypothesis.settings.register_profile(
    "house", deadline=None, suppress_health_check=[hypothesis.HealthCheck.too_slow], max_examples=50
)
hypothesis.settings.load_profile("house")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """The browser's driver keeps an event loop running from its first test on, so its tests come last."""
    items.sort(key=lambda item: "/browser/" in str(item.path))


@pytest.fixture
def anyio_backend() -> str:
    return "asyncio"


@pytest.fixture(scope="session")
def open_folder() -> Iterator[Path]:
    """A folder that the database server's own user can come into, as it can't into pytest's."""
    with tempfile.TemporaryDirectory(prefix="nimble-quote-", dir="/tmp") as folder:
        Path(folder).chmod(0o755)
        yield Path(folder)


@pytest.fixture(scope="session")
def cluster(open_folder: Path) -> Iterator[Cluster]:
    server = Cluster(open_folder / "postgres", durable=False)
    server.start()
    yield server
    server.stop()


def new_database(cluster: Cluster, name: str, like: str = "template1") -> str:
    """A database of its own, empty or like another; instead of one of that name."""
    with psycopg.connect(cluster.url, autocommit=True) as conn:
        conn.execute(f"drop database if exists {name} with (force)")
        conn.execute(f"create database {name} template {like}")
    return url_of(cluster, name)


def migrated_database(cluster: Cluster, name: str) -> str:
    """A database of its own of the current shape. The migrations are run once, and copied from then on."""
    with psycopg.connect(cluster.url, autocommit=True) as conn:
        known = conn.execute("select from pg_database where datname = 'migrated'").rowcount
    if not known:
        migrate(new_database(cluster, "migrated"))
    return new_database(cluster, name, "migrated")


def url_of(cluster: Cluster, name: str) -> str:
    return cluster.url.rsplit("/", 1)[0] + f"/{name}"


@pytest.fixture(scope="session")
def database_url(cluster: Cluster) -> str:
    """A migrated database for tests that roll back."""
    return migrated_database(cluster, "store_tests")


@pytest.fixture
async def conn(database_url: str) -> AsyncIterator[Connection]:
    """A connection whose changes are undone after the test."""
    async with await psycopg.AsyncConnection.connect(database_url) as connection:
        yield connection
        await connection.rollback()


def make_media(target: Path, *inputs: str, options: tuple[str, ...] = ()) -> Path:
    """A small file made by ffmpeg from its own sources."""
    sources = [part for source in inputs for part in ("-f", "lavfi", "-i", source)]
    subprocess.run(["ffmpeg", "-v", "error", "-y", *sources, *options, str(target)], check=True)
    return target


PICTURE = "smptebars=s=640x360:r=25:d=10"
TONE = "sine=f=300:r=48000:d=10"
CODED = ("-c:v", "libx264", "-preset", "ultrafast", "-c:a", "aac", "-pix_fmt", "yuv420p")


@pytest.fixture(scope="session")
def clip(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Ten seconds of test picture and tone."""
    return make_media(tmp_path_factory.mktemp("media") / "clip.mp4", PICTURE, TONE, options=CODED)


def three_scenes(target: Path) -> Path:
    """Nine seconds with a cut after each third."""
    scenes = (
        "testsrc2=s=320x180:r=25:d=3",
        "smptebars=s=320x180:r=25:d=3",
        "mandelbrot=s=320x180:r=25,trim=duration=3",
    )
    joined = ("-filter_complex", "[0][1][2]concat=n=3[v]", "-map", "[v]", "-map", "3:a")
    return make_media(target, *scenes, "sine=f=610:d=9", options=(*joined, *CODED))


@dataclass(frozen=True)
class RunningApp:
    """The running application: where it answers, its worker, and what it needs to start another."""

    url: str
    settings: Settings
    environment: dict[str, str]
    workers: list["subprocess.Popen[bytes]"]
    servers: list["subprocess.Popen[bytes]"]

    @property
    def client(self) -> httpx.Client:
        return httpx.Client(base_url=self.url, timeout=30)

    def start_worker(self) -> None:
        command = [sys.executable, "-m", "nimble_quote.cli", "work"]
        self.workers.append(subprocess.Popen(command, env=self.environment, start_new_session=True))

    def start_server(self) -> None:
        command = [sys.executable, "-m", "uvicorn", "--factory", "nimble_quote.api.serve:app", "--log-level", "warning",
                   "--port", str(self.settings.port), "--timeout-graceful-shutdown", "1"]  # fmt: skip
        self.servers.append(subprocess.Popen(command, env=self.environment, start_new_session=True))
        wait_for(lambda: answers(f"{self.url}/api/catalogue"), "the server to come up")

    def kill(self, processes: list["subprocess.Popen[bytes]"]) -> None:
        """As if the power had gone: no signal that could be handled, children too."""
        for process in processes:
            with contextlib.suppress(ProcessLookupError):
                os.killpg(process.pid, signal.SIGKILL)
            process.wait()
        processes.clear()


@dataclass
class Board:
    """The stand-in for a service that clips are posted to, as a process of its own."""

    folder: Path
    port: int
    process: "subprocess.Popen[bytes] | None" = None

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        command = [sys.executable, "-m", "nimble_quote.standins.posting", "--port", str(self.port), str(self.folder)]
        self.process = subprocess.Popen(command, start_new_session=True)
        wait_for(lambda: answers(f"{self.url}/v1/service"), "the stand-in to come up")

    def kill(self) -> None:
        assert self.process is not None
        self.process.kill()
        self.process.wait()

    def faults(self, *, signed_out: bool = False, **faults: float) -> None:
        """Has things go wrong there from now on; nothing without faults."""
        httpx.put(f"{self.url}/faults", json=faults, params={"signed_out": signed_out}).raise_for_status()

    def posted(self) -> list[tuple[str, str, int]]:
        """The key, the state and how often it was published, of each post it has."""
        with sqlite3.connect(self.folder / "board.sqlite") as kept:
            return kept.execute("select key, state, published from post").fetchall()


@pytest.fixture(scope="session")
def board(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Board]:
    made = Board(tmp_path_factory.mktemp("board"), free_port())
    made.start()
    yield made
    made.kill()


def answers(url: str) -> bool:
    try:
        return httpx.get(url).is_success
    except httpx.TransportError:
        return False


def wait_for(done, what: str, seconds: float = 60):  # type: ignore[no-untyped-def]
    """Waits until `done()` gives something true, and gives that."""
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        if result := done():
            return result
        time.sleep(0.1)
    raise AssertionError(f"waited {seconds} s in vain for {what}")


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def start_app(cluster: Cluster, folder: Path, name: str, *, keep: bool = False, **more: object) -> RunningApp:
    """The application on a database of its own, or on one that is there already."""
    port = free_port()
    url = url_of(cluster, name) if keep else migrated_database(cluster, name)
    if keep:
        migrate(url)
    # Reading for meaning would keep a core busy under tests that are about something else.
    asked = {"search_by_meaning": False, **more}
    return start(Settings(
        database_url=url, media_root=folder / "media", port=port, inbox=folder / "inbox", secret_key=folder / "secret.key",
        phone_address="127.0.0.1", **asked,
    ))  # fmt: skip


def start(settings: Settings) -> RunningApp:
    """A server and a worker with some settings."""
    told = {k: v for k, v in settings.model_dump().items() if v is not None}
    environment = {**os.environ, **{f"NIMBLE_QUOTE_{k.upper()}": str(v) for k, v in told.items()}}
    running = RunningApp(f"http://127.0.0.1:{settings.port}", settings, environment, [], [])
    running.start_server()
    running.start_worker()
    return running


@pytest.fixture(scope="session")
def running(cluster: Cluster, board: Board, tmp_path_factory: pytest.TempPathFactory) -> Iterator[RunningApp]:
    """The application with a worker, for all tests that use it from outside."""
    running = start_app(cluster, tmp_path_factory.mktemp("house"), "house_tests", posting_services=board.url)
    yield running
    running.kill(running.workers)
    running.kill(running.servers)


def put_demo(running: RunningApp, name: str) -> int:
    """One of the demo recordings on the shelf of the running application, fully prepared; its id."""
    title = next(one.title for one in DEMO if one.name == name)
    script = (
        "import asyncio; from nimble_quote.demo.load import DEMO, load_demo; from nimble_quote.settings import settings;"
        f"asyncio.run(load_demo(settings(), [one for one in DEMO if one.name == {name!r}]))"
    )
    subprocess.run([sys.executable, "-c", script], env=running.environment, check=True, cwd=PROJECT)
    with running.client as client:
        found = next(one for one in client.get("/api/recordings").json() if one["title"] == title)
        return int(wait_until_prepared(client, found["id"], 240)["id"])


@pytest.fixture(scope="session")
def demo(running: RunningApp) -> int:
    """The chapel talk."""
    return put_demo(running, "keep-the-wick-short")


@pytest.fixture(scope="session")
def kettles(running: RunningApp) -> int:
    """The podcast, of three cameras."""
    return put_demo(running, "two-kettles")


@pytest.fixture(scope="session")
def barrels(running: RunningApp) -> int:
    """The webinar, with slides and the speaker in a corner."""
    return put_demo(running, "rain-barrels")


@pytest.fixture(scope="session")
def wall(running: RunningApp) -> int:
    """The walk along the harbour wall, in one take."""
    return put_demo(running, "the-wall-and-the-boat")


@pytest.fixture(scope="session")
def ferry(running: RunningApp) -> int:
    """The piece for listening, whose transcript was typed by hand."""
    return put_demo(running, "night-ferry-notes")


def is_live(recording: dict) -> bool:  # type: ignore[type-arg]
    """Whether long work on a recording is waiting or going on."""
    return any(work["state"] in ("queued", "running") for work in recording["work"])


def wait_until_prepared(client: httpx.Client, recording_id: int, seconds: float = 90) -> dict:  # type: ignore[type-arg]
    """A recording when no work on it is left."""

    def done() -> dict | None:  # type: ignore[type-arg]
        found = client.get(f"/api/recordings/{recording_id}").json()
        return None if is_live(found) else found

    return wait_for(done, "a recording to be prepared", seconds)


def send(client: httpx.Client, data: bytes, name: str = "talk.mp4") -> str:
    """Sends a file as the browser does, in one piece; the id of its upload."""
    told = f"filename {b64encode(name.encode()).decode()}"
    headers = {"Upload-Length": str(len(data)), "Upload-Metadata": told, "Tus-Resumable": "1.0.0"}
    place = client.post("/api/uploads", headers=headers).headers["location"]
    headers = {"Upload-Offset": "0", "Content-Type": "application/offset+octet-stream"}
    assert client.patch(place, content=data, headers=headers).status_code == 204
    return place.rsplit("/", 1)[1]


def bring_in(
    client: httpx.Client, media: Path, transcript: bytes | None = VTT, name: str = "talk.vtt", **more: object
) -> httpx.Response:
    """Brings a recording in as the browser does."""
    body: dict[str, object] = {**more, "recording": {"upload": send(client, media.read_bytes()), "name": media.name}}
    if transcript is not None:
        body["transcript"] = {"upload": send(client, transcript), "name": name}
    return client.post("/api/recordings", json=body)


def words_of(client: httpx.Client, recording_id: int) -> list[str]:
    """The words of a talk."""
    sentences = client.get(f"/api/recordings/{recording_id}/transcript").json()["sentences"]
    return [word for sentence in sentences for word in sentence["words"]]


def find_words(words: list[str], text: str) -> tuple[int, int]:
    """The first and last word of the first place where a text is said."""
    wanted = text.split()
    first = next(i for i in range(len(words)) if words[i : i + len(wanted)] == wanted)
    return first, first + len(wanted) - 1
