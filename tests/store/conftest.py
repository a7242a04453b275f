"""Houses of versions that landed before: of each a dump of its database, and what it showed, made by that version itself from
the demo. A module of tests says which it opens as `BEFORE`."""

import gzip
import json
import os
import subprocess
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from nimble_quote.store.cluster import Cluster
from tests.conftest import RunningApp, new_database, start_app

LANDED = Path(__file__).parent / "landed"


@pytest.fixture(scope="module")
def told(request: pytest.FixtureRequest) -> dict[str, Any]:
    """What the version before showed."""
    return dict(json.loads(gzip.decompress((LANDED / f"{request.module.BEFORE}.json.gz").read_bytes())))


@pytest.fixture(scope="module")
def opened(
    cluster: Cluster, tmp_path_factory: pytest.TempPathFactory, request: pytest.FixtureRequest
) -> Iterator[RunningApp]:
    """The house, opened by this version; its media are elsewhere."""
    before = request.module.BEFORE
    name = f"landed_{before}"
    restore(new_database(cluster, name), gzip.decompress((LANDED / f"{before}.sql.gz").read_bytes()).decode())
    running = start_app(cluster, tmp_path_factory.mktemp("landed"), name, keep=True)
    yield running
    running.kill(running.workers)
    running.kill(running.servers)


def restore(url: str, dump: str) -> None:
    # The dump's own commands to its reader are not of the database.
    script = "\n".join(
        line for line in dump.splitlines() if not line.startswith("\\restrict") and not line.startswith("\\unrestrict")
    )
    psql = next(Path("/usr/lib/postgresql").glob("*/bin/psql"))
    subprocess.run(
        [psql, "-q", "-v", "ON_ERROR_STOP=1", url], input=script, text=True, check=True, capture_output=True,
        env={**os.environ, "PGOPTIONS": "--client-min-messages=warning"},
    )  # fmt: skip
