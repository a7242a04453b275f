"""What is measured, each beside its baseline in the same run: `.venv/bin/python -m tests.bench [PART …] [--long]`.

The parts are `export`, `load`, `screens`, `bringing-in`, `readers`, `search`, `finder`, `judging`, `fixtures`, `trim`, `lists`, `layers`, `framing`, `captions`, `finishing`, `delivering`, `posting` and `fuzz`; all of them where none
is named. `--long` adds the memory of a three-hour recording, which takes a quarter of an hour.
"""

import sys
import tempfile
import traceback
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path

from nimble_quote.settings import Settings
from nimble_quote.store.cluster import Cluster
from tests.bench import (
    bringing_in,
    captions,
    delivering,
    export,
    finding,
    finishing,
    fixtures,
    framing,
    fuzzing,
    judging,
    layers,
    lists,
    load,
    memory,
    posting,
    readers,
    screens,
    searching,
    trimming,
)
from tests.bench.table import Row, print_head, print_row
from tests.conftest import RunningApp, start_app

PARTS = (
    "export",
    "load",
    "screens",
    "bringing-in",
    "readers",
    "search",
    "finder",
    "judging",
    "fixtures",
    "trim",
    "lists",
    "layers",
    "framing",
    "captions",
    "finishing",
    "delivering",
    "posting",
    "fuzz",
)


def main() -> None:
    """Runs every measurement and prints each row as it comes. A part that stops with a fault is told, and the others run."""
    parts = [part for part in sys.argv[1:] if part != "--long"] or list(PARTS)
    if unknown := set(parts) - set(PARTS):
        sys.exit(f"There is no part {min(unknown)}. There are: {', '.join(PARTS)}.")
    print_head()
    faults = 0
    with tempfile.TemporaryDirectory(dir="/tmp") as folder:
        scratch = Path(folder)
        scratch.chmod(0o755)
        with _running(scratch) as running:
            measuring = {
                "readers": readers.measure,
                "export": lambda: export.measure(running, scratch),
                "load": lambda: load.measure(running, scratch),
                "bringing-in": lambda: bringing_in.measure(running, scratch, Settings()),
                "screens": lambda: screens.measure(running, scratch),
                "finder": lambda: finding.measure(running, scratch),
                "judging": lambda: judging.measure(running),
                "fixtures": lambda: fixtures.measure(scratch),
                "trim": lambda: trimming.measure(running),
                "search": lambda: searching.measure(running),
                "layers": lambda: layers.measure(running, scratch),
                "captions": lambda: captions.measure(running, scratch),
                "finishing": lambda: finishing.measure(running, scratch),
                "delivering": lambda: delivering.measure(running, scratch),
                "fuzz": lambda: [fuzzing.measure(scratch)],
                "posting": lambda: posting.measure(scratch),
                "framing": lambda: framing.measure(running, scratch),
                "lists": lambda: lists.measure(running),
                "memory": lambda: memory.measure(scratch),
            }
            for part, measure in measuring.items():
                if part in parts or (part == "memory" and "--long" in sys.argv):
                    faults += _measured(part, measure)
    sys.exit(1 if faults else 0)


def _measured(part: str, measure: Callable[[], Iterable[Row]]) -> int:
    """Prints what a part measures; how many faults stopped it."""
    try:
        for row in measure():
            print_row(row)
    except Exception:
        print(f"{part} stopped with a fault:", flush=True)
        traceback.print_exc()
        return 1
    return 0


@contextmanager
def _running(scratch: Path) -> Iterator[RunningApp]:
    cluster = Cluster(scratch / "postgres", durable=False)
    cluster.start()
    try:
        running = start_app(cluster, scratch / "house", "bench")
        try:
            yield running
        finally:
            running.kill(running.workers)
            running.kill(running.servers)
    finally:
        cluster.stop()


if __name__ == "__main__":
    main()
