"""Shipped files in parts, none too large for a repository, and their sums."""

import hashlib
import json
from pathlib import Path

PART_BYTES = 3_900_000


def ship(file: Path, folder: Path, name: str) -> None:
    """Puts a file into a recording's folder, in parts, and notes its sum; instead of one of that name."""
    for old in folder.glob(f"{name}.[0-9][0-9]"):
        old.unlink()
    data = file.read_bytes()
    for number, start in enumerate(range(0, len(data), PART_BYTES)):
        (folder / f"{name}.{number:02}").write_bytes(data[start : start + PART_BYTES])
    listed = folder / "sums.json"
    sums = json.loads(listed.read_text()) if listed.exists() else {}
    listed.write_text(json.dumps({**sums, name: hashlib.sha256(data).hexdigest()}, indent=1) + "\n")
