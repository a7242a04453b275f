"""The command line works with the running application: adding, finding, keeping, exporting and waiting, for people and for programs."""

import json
import os
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

from tests.conftest import RunningApp, free_port, wait_until_prepared


def run(running: RunningApp, *options: str, **environment: str) -> "subprocess.CompletedProcess[str]":
    command = [sys.executable, "-m", "nimble_quote.cli", *options, "--port", str(running.settings.port)]
    return subprocess.run(command, capture_output=True, text=True, timeout=240, env={**os.environ, **environment})


def told(running: RunningApp, *options: str) -> Any:
    done = run(running, *options, "--json")
    assert done.returncode == 0, done.stderr + done.stdout
    return json.loads(done.stdout)


@pytest.fixture(scope="module")
def recording(running: RunningApp, tmp_path_factory: pytest.TempPathFactory, clip: Path) -> int:
    folder = tmp_path_factory.mktemp("commands")
    media, words = folder / "harbour-steps.mp4", folder / "harbour-steps.vtt"
    media.write_bytes(clip.read_bytes() + b"\0" * 7)
    words.write_text(
        "WEBVTT\n\n00:01.000 --> 00:04.000\n<v Ann>The harbour steps were laid by nobody we know.\n\n00:05.000 --> 00:08.000\n<v Ann>They hold.\n"
    )
    (added,) = told(running, "add", str(media))
    assert (added["title"], added["problem"], added["note"]) == ("Harbour steps", None, ", with harbour-steps.vtt")
    with running.client as client:
        wait_until_prepared(client, added["recording"])
    return int(added["recording"])


def test_what_was_said_is_found_kept_exported_waited_for_and_saved(running: RunningApp, recording: int, tmp_path: Path):
    (found,) = [one for one in told(running, "find", "harbour", "steps") if one["recording"] == recording]
    assert found["text"].startswith("The harbour steps were laid")
    kept = told(running, "keep", str(recording), "--first", str(found["first"]), "--last", str(found["last"]))
    by_words = told(running, "keep", str(recording), "--words", "they hold")
    assert by_words["title"].startswith("They hold")
    assert kept["length_ms"] > by_words["length_ms"]

    (asked,) = told(running, "export", str(kept["quote"]), "--quality", "small")
    assert asked["state"] in ("queued", "running")
    (made,) = told(running, "wait", str(asked["export"]), "--into", str(tmp_path / "clips"))
    assert (made["state"], made["findings"]) == ("done", made["findings"])
    assert (tmp_path / "clips" / made["file_name"]).stat().st_size > 1000
    (again,) = told(running, "export", str(kept["quote"]), "--quality", "small", "--wait")
    assert again["export"] == made["export"], "the same is not made twice"


def test_people_are_answered_in_words(running: RunningApp, recording: int):
    found = run(running, "find", "harbour", "steps")
    assert "The harbour steps were laid by nobody we know." in found.stdout
    nothing = run(running, "find", "zzyzx")
    assert (nothing.returncode, nothing.stdout.strip()) == (1, "Nothing was found.")
    kept = run(running, "keep", str(recording), "--words", "They hold.")
    assert kept.stdout.startswith("Quote ")


@pytest.mark.parametrize(
    ("options", "says"),
    [
        (("keep", "999999999", "--first", "0", "--last", "1"), "no such recording"),
        (("keep", "{recording}"), "Say what to keep"),
        (("keep", "{recording}", "--words", "never said at all"), "is not said in this recording"),
        (("export", "999999999"), "no such quote"),
        (("wait", "999999999"), "There is no export 999999999"),
        (("add", "/nonexistent/talk.mp4"), "can't be read"),
    ],
)  # fmt: skip
def test_what_can_not_be_done_is_said_and_told_by_the_exit(
    running: RunningApp, recording: int, options: tuple[str, ...], says: str
):
    asked = [one.format(recording=recording) for one in options]
    done = run(running, *asked)
    assert done.returncode == 1
    assert says in done.stderr
    assert "Traceback" not in done.stderr
    as_json = json.loads(run(running, *asked, "--json").stdout)
    assert says in str(as_json)


def test_an_application_that_is_not_there_and_a_token_that_is_none_are_told(running: RunningApp):
    command = [sys.executable, "-m", "nimble_quote.cli", "find", "x", "--url", f"http://127.0.0.1:{free_port()}"]
    away = subprocess.run(command, capture_output=True, text=True, timeout=60)
    assert (away.returncode, "Is ./run going?" in away.stderr) == (1, True)
    refused = run(running, "find", "x", NIMBLE_QUOTE_TOKEN="nq_made-up")
    assert (refused.returncode, "token is not known" in refused.stderr) == (1, True)
