"""The finder."""

from pathlib import Path

from tests.bench.table import Row
from tests.conftest import House


def measure(house: House, scratch: Path) -> list[Row]:
    return []
