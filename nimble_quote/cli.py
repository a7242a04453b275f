"""The command line: `serve` starts everything; `add`, `find`, `keep`, `export` and `wait` work with what was started
(`commands.py`); `work` runs one more worker, `openapi` prints the API's description."""

import argparse
import asyncio
import contextlib
import json
import os
import shutil
import signal
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path

from nimble_quote.commands import add_commands, run_command
from nimble_quote.settings import PROJECT, Settings
from nimble_quote.store.cluster import Cluster, ClusterFailed
from nimble_quote.supervising import Child, RunningAlready, keep_going, only_one, tell_terminal, wait_for_port

_LEAST_FREE_BYTES = 1_000_000_000
_UP_WITHIN_S = 30
_LET_GO_WITHIN_S = 5
"""What is left of an application that was killed has let go of its port by then."""


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
    add_commands(commands)
    commands.add_parser("work", help="run one worker")
    commands.add_parser("openapi", help="print the description of the API")
    options = parser.parse_args()
    try:
        if options.command == "serve":
            serve_all(options.port, options.data, demo=not options.no_demo, inbox=options.inbox)
        elif "doing" in options:
            sys.exit(run_command(options))
        elif options.command == "work":
            from nimble_quote.jobs import worker

            worker.main(Settings())
        else:
            from nimble_quote.api.app import make_app

            json.dump(make_app(Settings()).openapi(), sys.stdout, indent=1)
    except (CannotStart, ClusterFailed, RunningAlready) as refused:
        sys.exit(f"Nimble Quote can't start: {refused}")


def serve_all(port: int, data: Path, demo: bool, inbox: Path | None) -> None:
    """Starts the database, the server and a worker, keeps them going, and stops them all when told to.

    With the demo come the stand-ins for a transcription service, a media host and a place to post to, on the next three ports.
    """
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    # Started in the background of a script, Ctrl-C would be ignored.
    signal.signal(signal.SIGINT, signal.default_int_handler)
    _check_programs()
    _check_folder(data)
    settings = Settings(
        media_root=data / "media", port=port, inbox=inbox or data / "inbox", secret_key=data / "secret.key"
    )
    if demo:
        settings = _with_standins(settings)
    cluster = Cluster(data / "postgres")
    with contextlib.ExitStack() as started:
        started.enter_context(only_one(data, port))
        _check_port(port)
        started.callback(cluster.stop)
        settings = settings.model_copy(update={"database_url": cluster.start()})
        os.environ.update(_environment(settings))
        from nimble_quote.store.database import migrate

        migrate(settings.database_url)
        if demo:
            from nimble_quote.demo.load import lay_out, load_demo

            asyncio.run(load_demo(settings))
            lay_out(data / "media-host")
        children = _children(settings, data if demo else None)
        for child in children:
            child.start()
            started.callback(child.stop)
        _wait_until_up(port, children[0])
        print(f"Nimble Quote is at http://127.0.0.1:{port}  (Ctrl-C stops it)", flush=True)
        with contextlib.suppress(KeyboardInterrupt):
            keep_going([cluster, *children], tell_terminal)


def _children(settings: Settings, demo_data: Path | None) -> list[Child]:
    """The processes of the application, the server first, with the stand-ins where the demo is shown."""
    python, port = sys.executable, settings.port
    children = [
        Child("server", [
            python, "-m", "uvicorn", "--factory", "nimble_quote.api.serve:app", "--host", "127.0.0.1",
            "--port", str(port), "--log-level", "warning", "--timeout-graceful-shutdown", "1",
        ]),
        Child("worker", [python, "-m", "nimble_quote.cli", "work"]),
    ]  # fmt: skip
    if demo_data is not None:
        standins = "nimble_quote.standins"
        transcribing = [python, "-m", f"{standins}.transcription", "--port", str(port + 1)]
        hosting = [python, "-m", f"{standins}.mediahost", "--port", str(port + 2), str(demo_data / "media-host")]
        posting = [python, "-m", f"{standins}.posting", "--port", str(port + 3), str(demo_data / "board")]
        children += [
            Child("stand-in for transcription", transcribing),
            Child("stand-in for a media host", hosting),
            Child("stand-in for posting", posting),
        ]
    return children


def _with_standins(settings: Settings) -> Settings:
    """The settings that point at the stand-ins, where no real service was set."""
    values = {
        "transcription_url": settings.transcription_url or f"http://127.0.0.1:{settings.port + 1}",
        "fetch_hosts": settings.fetch_hosts or f"127.0.0.1:{settings.port + 2}",
        "posting_services": settings.posting_services or f"http://127.0.0.1:{settings.port + 3}",
    }
    return settings.model_copy(update=values)


def _check_programs() -> None:
    for program, package in (("ffmpeg", "ffmpeg"), ("ffprobe", "ffmpeg"), ("setpriv", "util-linux")):
        if shutil.which(program) is None:
            raise CannotStart(f"{program} is not installed: install the Debian package {package}.")


def _check_folder(data: Path) -> None:
    try:
        data.mkdir(parents=True, exist_ok=True)
        (data / ".writable").touch()
    except OSError as refused:
        raise CannotStart(f"{data} can't be written to ({refused.strerror}). Choose another: --data FOLDER") from None
    free = shutil.disk_usage(data).free
    if free < _LEAST_FREE_BYTES:
        raise CannotStart(f"only {free / 1e9:.1f} GB are free on the disk of {data}; it needs 1 GB at least.")


def _check_port(port: int) -> None:
    try:
        holder = wait_for_port(port, _LET_GO_WITHIN_S)
    except OverflowError:
        raise CannotStart(f"{port} is not a port. Choose one from 1024 to 65535.") from None
    if holder:
        raise CannotStart(f"port {port} is taken by {holder}. Stop that, or choose another: ./run --port {port + 1}")


def _environment(settings: Settings) -> dict[str, str]:
    values = settings.model_dump()
    return {f"NIMBLE_QUOTE_{name.upper()}": str(value) for name, value in values.items() if value is not None}


def _wait_until_up(port: int, server: Child) -> None:
    until = time.monotonic() + _UP_WITHIN_S
    while time.monotonic() < until and server.ended() is None:
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/catalogue", timeout=2):
                return
        except (urllib.error.URLError, OSError):
            time.sleep(0.05)
    raise CannotStart("the server did not come up; what it said is above.")


if __name__ == "__main__":
    main()
