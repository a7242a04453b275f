"""The command line: `serve` starts everything, `add` brings recordings in, `work` runs one more worker, `openapi` prints
the API's description."""

import argparse
import asyncio
import contextlib
import json
import os
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path

from nimble_quote.settings import PROJECT, Settings
from nimble_quote.store.cluster import Cluster, ClusterFailed

_LEAST_FREE_BYTES = 1_000_000_000
_UP_WITHIN_S = 30


class CannotStart(RuntimeError):
    """Why the application can't start, in one line."""


def main() -> None:
    """Runs one command."""
    parser = argparse.ArgumentParser(
        prog="run", description="Nimble Quote: from a recorded talk to captioned soundbites."
    )
    commands = parser.add_subparsers(dest="command", required=True)
    serve = commands.add_parser("serve", prog="./run", help="start the application")
    serve.add_argument("--port", type=int, default=8320, help="the port to answer on (default: 8320)")
    serve.add_argument("--data", type=Path, default=PROJECT / "var", help="the folder for all data (default: var)")
    serve.add_argument("--no-demo", action="store_true", help="start without the demo talk")
    serve.add_argument(
        "--inbox", type=Path, help="a folder to watch: what is put there is brought in (default: DATA/inbox)"
    )
    add = commands.add_parser("add", help="bring recordings in to the running application")
    add.add_argument(
        "files", type=Path, nargs="+", metavar="FILE", help="recordings; a transcript of the same name goes along"
    )
    add.add_argument("--transcript", type=Path, help="the transcript, where one FILE is given")
    add.add_argument("--series", help="the series they belong to")
    add.add_argument("--port", type=int, default=8320, help="the port the application answers on (default: 8320)")
    commands.add_parser("work", help="run one worker")
    commands.add_parser("openapi", help="print the description of the API")
    options = parser.parse_args()
    try:
        if options.command == "serve":
            serve_all(options.port, options.data, demo=not options.no_demo, inbox=options.inbox)
        elif options.command == "add":
            from nimble_quote.adding import add_files

            sys.exit(add_files(options.files, options.transcript, options.series, options.port))
        elif options.command == "work":
            from nimble_quote.jobs import worker

            worker.main(Settings())
        else:
            from nimble_quote.api.app import make_app

            json.dump(make_app(Settings()).openapi(), sys.stdout, indent=1)
    except (CannotStart, ClusterFailed) as refused:
        sys.exit(f"Nimble Quote can't start: {refused}")


def serve_all(port: int, data: Path, demo: bool, inbox: Path | None) -> None:
    """Starts the database, the server and a worker, and stops them all when told to.

    With the demo come the stand-ins for a transcription service and a media host, on the next two ports.
    """
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    # Started in the background of a script, Ctrl-C would be ignored.
    signal.signal(signal.SIGINT, signal.default_int_handler)
    _check(port, data)
    settings = Settings(media_root=data / "media", port=port, inbox=inbox or data / "inbox")
    if demo:
        settings = _with_standins(settings)
    cluster = Cluster(data / "postgres")
    with contextlib.ExitStack() as started:
        started.callback(cluster.stop)
        settings = settings.model_copy(update={"database_url": cluster.start()})
        os.environ.update(_environment(settings))
        from nimble_quote.store.database import migrate

        migrate(settings.database_url)
        if demo:
            from nimble_quote.demo.load import load_demo

            asyncio.run(load_demo(settings))
            _start_standins(started, settings, data / "media-host")
        server = started.enter_context(_child([
            sys.executable, "-m", "uvicorn", "--factory", "nimble_quote.api.serve:app", "--host", "127.0.0.1",
            "--port", str(port), "--log-level", "warning", "--timeout-graceful-shutdown", "1",
        ]))  # fmt: skip
        worker = started.enter_context(_child([sys.executable, "-m", "nimble_quote.cli", "work"]))
        _wait_until_up(port, server)
        print(f"Nimble Quote is at http://127.0.0.1:{port}  (Ctrl-C stops it)", flush=True)
        with contextlib.suppress(KeyboardInterrupt):
            _watch(server, worker)


def _with_standins(settings: Settings) -> Settings:
    """The settings that point at the stand-ins, where no real service was set."""
    told = {
        "transcription_url": settings.transcription_url or f"http://127.0.0.1:{settings.port + 1}",
        "fetch_hosts": settings.fetch_hosts or f"127.0.0.1:{settings.port + 2}",
    }
    return settings.model_copy(update=told)


def _start_standins(started: contextlib.ExitStack, settings: Settings, folder: Path) -> None:
    from nimble_quote.demo.load import lay_out

    lay_out(folder)
    run = [sys.executable, "-m"]
    started.enter_context(_child([*run, "nimble_quote.standins.transcription", "--port", str(settings.port + 1)]))
    started.enter_context(
        _child([*run, "nimble_quote.standins.mediahost", "--port", str(settings.port + 2), str(folder)])
    )


def _check(port: int, data: Path) -> None:
    for program, package in (("ffmpeg", "ffmpeg"), ("ffprobe", "ffmpeg")):
        if shutil.which(program) is None:
            raise CannotStart(f"{program} is not installed: install the Debian package {package}.")
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError as taken:
            raise CannotStart(
                f"port {port} is taken ({taken.strerror}). Choose another: ./run --port {port + 1}"
            ) from None
        except OverflowError:
            raise CannotStart(f"{port} is not a port. Choose one from 1024 to 65535.") from None
    try:
        data.mkdir(parents=True, exist_ok=True)
        (data / ".writable").touch()
    except OSError as refused:
        raise CannotStart(f"{data} can't be written to ({refused.strerror}). Choose another: --data FOLDER") from None
    free = shutil.disk_usage(data).free
    if free < _LEAST_FREE_BYTES:
        raise CannotStart(f"only {free / 1e9:.1f} GB are free on the disk of {data}; it needs 1 GB at least.")


def _environment(settings: Settings) -> dict[str, str]:
    told = settings.model_dump()
    return {f"NIMBLE_QUOTE_{name.upper()}": str(value) for name, value in told.items() if value is not None}


@contextlib.contextmanager
def _child(command: list[str]) -> Iterator["subprocess.Popen[bytes]"]:
    """A process of its own session, so that Ctrl-C reaches it through us and in our order."""
    process = subprocess.Popen(command, start_new_session=True)
    try:
        yield process
    finally:
        if process.poll() is None:
            process.terminate()
            try:
                process.wait(8)
            except subprocess.TimeoutExpired:
                os.killpg(process.pid, signal.SIGKILL)
                process.wait()


def _wait_until_up(port: int, server: "subprocess.Popen[bytes]") -> None:
    until = time.monotonic() + _UP_WITHIN_S
    while time.monotonic() < until and server.poll() is None:
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/catalogue", timeout=2):
                return
        except (urllib.error.URLError, OSError):
            time.sleep(0.05)
    raise CannotStart("the server did not come up; what it said is above.")


def _watch(server: "subprocess.Popen[bytes]", worker: "subprocess.Popen[bytes]") -> None:
    while True:
        for name, process in (("server", server), ("worker", worker)):
            if process.poll() is not None:
                raise CannotStart(f"the {name} ended unasked (code {process.returncode}); what it said is above.")
        time.sleep(0.5)


if __name__ == "__main__":
    main()
