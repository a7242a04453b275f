"""What is measured, each beside its baseline in the same run: `.venv/bin/python -m tests.bench [PART …] [--long]`.

The parts are `export`, `load`, `screens`, `bringing-in`, `readers`, `search`, `finder` and `trim`; all of them where none
is named. `--long` adds the memory of a three-hour recording, which takes a quarter of an hour.
"""

import sys
import tempfile
from pathlib import Path

from nimble_quote.settings import Settings
from nimble_quote.store.cluster import Cluster
from tests.bench import bringing_in, export, finding, load, memory, readers, screens, searching, trimming
from tests.bench.table import Row, print_table
from tests.conftest import start_house

PARTS = ("export", "load", "screens", "bringing-in", "readers", "search", "finder", "trim")


def main() -> None:
    """Runs every measurement and prints one table."""
    rows: list[Row] = []
    parts = [part for part in sys.argv[1:] if part != "--long"] or list(PARTS)
    with tempfile.TemporaryDirectory(dir="/tmp") as folder:
        scratch = Path(folder)
        scratch.chmod(0o755)
        rows += readers.measure() if "readers" in parts else []
        rows += export.measure(scratch, Settings()) if "export" in parts else []
        rows += memory.measure(scratch) if "--long" in sys.argv else []
        cluster = Cluster(scratch / "postgres", durable=False)
        cluster.start()
        try:
            house = start_house(cluster, scratch / "house", "bench")
            try:
                rows += load.measure(house, scratch) if "load" in parts else []
                rows += bringing_in.measure(house, scratch, Settings()) if "bringing-in" in parts else []
                rows += screens.measure(house, scratch) if "screens" in parts else []
                rows += finding.measure(house, scratch) if "finder" in parts else []
                rows += trimming.measure(house) if "trim" in parts else []
                rows += searching.measure(house) if "search" in parts else []
            finally:
                house.kill(house.workers)
                house.kill(house.servers)
        finally:
            cluster.stop()
    print_table(rows)


if __name__ == "__main__":
    main()
