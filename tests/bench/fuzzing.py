"""Ten thousand calls of the API, of what its description allows and of what it does not; beside it how many routes it has."""

import os
import re
import subprocess
import sys
from pathlib import Path

from nimble_quote.settings import PROJECT
from tests.api.test_every_route import ROUTES
from tests.bench.table import Row

CALLS = 10_000
_MODES = 2


def measure(scratch: Path) -> Row:
    """Has the tests of every route ask more often."""
    told = scratch / "calls"
    # Half as many again: of a simple route fewer calls differ than are asked for.
    each = -(-3 * CALLS // (2 * len(ROUTES) * _MODES))
    environment = {**os.environ, "NIMBLE_QUOTE_FUZZ_EACH": str(each), "NIMBLE_QUOTE_FUZZ_TOLD": str(told)}
    done = subprocess.run(
        [sys.executable, "-m", "pytest", "-q", "tests/api/test_every_route.py"], cwd=PROJECT, env=environment,
        capture_output=True, text=True,
    )  # fmt: skip
    failed = re.findall(r"^FAILED .*\[(.+)\]", done.stdout, re.MULTILINE)
    calls = int(told.read_text()) if told.exists() else 0
    return Row(
        what="calls of the API, as described and otherwise", measured=f"{calls:,}; {len(failed)} routes with a fault {failed or ''}",
        baseline=f"{len(ROUTES)} routes, {each} calls of each kind", aim="10,000; no 5xx, no answer outside its schema",
        met=calls >= CALLS and not failed,
    )  # fmt: skip
