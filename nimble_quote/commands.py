"""What can be done with the running application from the command line: adding, finding, keeping, exporting, waiting."""

import argparse
import json
import sys
import time
from collections.abc import Sequence
from dataclasses import asdict
from pathlib import Path
from typing import Any

from nimble_quote.adding import add_files
from nimble_quote.asking import Door, NotDone

_LOOK_EVERY_S = 1.0
Told = dict[str, Any]


def add_commands(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Adds what they are called, and what they take, to the command line."""
    add = commands.add_parser("add", help="bring recordings in")
    add.add_argument(
        "files", type=Path, nargs="+", metavar="FILE", help="recordings; a transcript of the same name goes along"
    )
    add.add_argument("--transcript", type=Path, help="the transcript, where one FILE is given")
    add.add_argument("--series", help="the series they belong to")
    find = commands.add_parser("find", help="search what was said")
    find.add_argument("words", nargs="+", metavar="WORD", help="what to look for, as in the search field")
    find.add_argument("--most", type=int, default=10, help="how many passages (default: 10)")
    keep = commands.add_parser("keep", help="keep a passage as a quote")
    keep.add_argument("recording", type=int, help="the number of the recording")
    keep.add_argument("--words", help="what is said there, from its first word to its last")
    keep.add_argument("--first", type=int, help="its first word, as `find` tells it")
    keep.add_argument("--last", type=int, help="its last word")
    export = commands.add_parser("export", help="make the clips of a quote")
    export.add_argument("quote", type=int, help="the number of the quote")
    export.add_argument(
        "--to", action="append", default=[], metavar="DESTINATION", help="which versions (default: all)"
    )
    export.add_argument("--quality", choices=["small", "usual", "crisp"], default="usual")
    export.add_argument("--wait", action="store_true", help="until they are made")
    export.add_argument("--into", type=Path, metavar="FOLDER", help="wait, and save them there")
    wait = commands.add_parser("wait", help="wait until exports are made")
    wait.add_argument("exports", type=int, nargs="+", metavar="EXPORT", help="the numbers of the exports")
    wait.add_argument("--into", type=Path, metavar="FOLDER", help="save them there")
    for one in (add, find, keep, export, wait):
        one.add_argument("--json", action="store_true", help="answer as JSON, for programs")
        one.add_argument("--port", type=int, default=8320, help="the port the application answers on (default: 8320)")
        one.add_argument(
            "--url", help="where it answers, where that is another machine; NIMBLE_QUOTE_TOKEN is its token"
        )
        one.set_defaults(doing={add: _add, find: _find, keep: _keep, export: _export, wait: _wait}[one])


def run_command(options: argparse.Namespace) -> int:
    """Does what was asked for, and says how it went; 0 where all of it was done."""
    door = Door(address=(options.url or f"http://127.0.0.1:{options.port}").rstrip("/"))
    try:
        return int(options.doing(options, door))
    except NotDone as why:
        if options.json:
            print(json.dumps({"problem": str(why), "code": why.code}))
        print(f"{why}", file=sys.stderr)
        return 1


def _say(options: argparse.Namespace, told: Any, lines: Sequence[str]) -> None:
    print(json.dumps(told, ensure_ascii=False) if options.json else "\n".join(lines))


def _add(options: argparse.Namespace, door: Door) -> int:
    added = add_files(options.files, options.transcript, options.series, door)
    if options.json:
        print(json.dumps([asdict(one) for one in added], ensure_ascii=False))
    for one in added:
        if one.problem or not options.json:
            print(one.said, file=sys.stderr if one.problem else sys.stdout)
    return 1 if any(one.problem for one in added) else 0


def _find(options: argparse.Namespace, door: Door) -> int:
    answer = door.ask("GET", "/api/search", params={"q": " ".join(options.words)}).json()
    found = [_passage(one) for one in answer["passages"][: max(0, options.most)]]
    _say(options, found, [
        f"{one['recording']}  {_clock(one['start_ms'])}  words {one['first']}–{one['last']}  {one['title']}\n   {one['text']}" for one in found
    ] or ["Nothing was found."])  # fmt: skip
    return 0 if found else 1


def _passage(one: Told) -> Told:
    return {
        "recording": one["recording_id"], "title": one["title"], "start_ms": one["start_ms"], "end_ms": one["end_ms"],
        "first": one["first_word"], "last": one["last_word"], "fits": one["fits"],
        "text": " ".join(word for line in one["lines"] for word in line["words"]),
        "quotes": [quote["id"] for quote in one["quotes"]],
    }  # fmt: skip


def _keep(options: argparse.Namespace, door: Door) -> int:
    first, last = options.first, options.last
    if options.words is not None:
        first, last = _words_at(door, options.recording, options.words.split())
    if first is None or last is None:
        raise NotDone("Say what to keep: --words “…”, or --first and --last.")
    kept = door.ask("POST", f"/api/recordings/{options.recording}/quotes", json={"first": first, "last": last}).json()
    told = {
        "quote": kept["id"],
        "title": kept["title"],
        "length_ms": kept["length_ms"],
        "destinations": kept["destinations"],
    }
    _say(options, told, [f"Quote {told['quote']}: “{told['title']}”, {told['length_ms'] / 1000:.1f} s"])
    return 0


def _words_at(door: Door, recording: int, wanted: list[str]) -> tuple[int, int]:
    """The first and last of some words, where they are said first. Raises `NotDone`."""
    sentences = door.ask("GET", f"/api/recordings/{recording}/transcript").json()["sentences"]
    words = [_bare(word) for sentence in sentences for word in sentence["words"]]
    bare = [_bare(word) for word in wanted]
    for first in range(len(words) - len(bare) + 1 if bare else 0):
        if words[first : first + len(bare)] == bare:
            return first, first + len(bare) - 1
    raise NotDone(f"“{' '.join(wanted)[:80]}” is not said in this recording. `find` tells what is.")


def _bare(word: str) -> str:
    return "".join(one for one in word.casefold() if one.isalnum())


def _export(options: argparse.Namespace, door: Door) -> int:
    body = {"destinations": options.to, "quality": options.quality}
    made = door.ask("POST", f"/api/quotes/{options.quote}/exports", json=body).json()
    if options.wait or options.into:
        return _waited(options, door, [one["id"] for one in made])
    _told(options, made)
    return 0


def _wait(options: argparse.Namespace, door: Door) -> int:
    return _waited(options, door, options.exports)


def _waited(options: argparse.Namespace, door: Door, ids: Sequence[int]) -> int:
    while True:
        known = {one["id"]: one for one in door.ask("GET", "/api/exports").json()}
        missing = [one for one in ids if one not in known]
        if missing:
            raise NotDone(f"There is no export {missing[0]}.")
        rows = [known[one] for one in ids]
        if all(one["state"] not in ("queued", "running") for one in rows):
            break
        time.sleep(_LOOK_EVERY_S)
    for one in rows:
        if options.into and one["state"] == "done":
            options.into.mkdir(parents=True, exist_ok=True)
            door.save(f"/api/exports/{one['id']}/clip", options.into / Path(one["file_name"]).name)
    _told(options, rows)
    return 0 if all(one["state"] == "done" for one in rows) else 1


def _told(options: argparse.Namespace, rows: Sequence[Told]) -> None:
    told = [
        {"export": one["id"], "destination": one["destination"]["id"], "state": one["state"], "file_name": one["file_name"],
         "findings": [finding["says"] for finding in one["findings"]], "problem": one["problem"]}
        for one in rows
    ]  # fmt: skip
    _say(
        options, told, [f"Export {one['export']}: {one['state']}, {one['problem'] or one['file_name']}" for one in told]
    )


def _clock(ms: int) -> str:
    return f"{ms // 3_600_000}:{ms // 60_000 % 60:02}:{ms // 1000 % 60:02}"
