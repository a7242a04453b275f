"""What is measured, each beside its baseline in the same run: `.venv/bin/python -m tests.bench`."""

import tempfile
from pathlib import Path

from nimble_quote.settings import Settings
from nimble_quote.store.cluster import Cluster
from tests.bench import export, screens
from tests.bench.table import Row, print_table
from tests.conftest import start_house


def main() -> None:
    """Runs every measurement and prints one table."""
    rows: list[Row] = []
    with tempfile.TemporaryDirectory(dir="/tmp") as folder:
        scratch = Path(folder)
        scratch.chmod(0o755)
        rows += export.measure(scratch, Settings())
        cluster = Cluster(scratch / "postgres", durable=False)
        cluster.start()
        try:
            house = start_house(cluster, scratch / "house", "bench")
            try:
                rows += screens.measure(house, scratch)
            finally:
                house.kill(house.workers)
                house.kill(house.servers)
        finally:
            cluster.stop()
    print_table(rows)


main()
