"""The readers over other people's files: `NIMBLE_QUOTE_FIXTURES` names a folder of subtitle libraries' own test data.

pip download --no-deps --no-binary :all: -d FOLDER pysubs2 srt webvtt-py …    and unpack what came
"""

import os
import time
from collections import Counter
from pathlib import Path

from nimble_quote.formats.transcripts import READERS, TranscriptUnreadable, read_transcript
from tests.bench.table import Row


def measure() -> list[Row]:
    """Nothing where no folder is named."""
    folder = os.environ.get("NIMBLE_QUOTE_FIXTURES")
    if not folder:
        return []
    read = words = 0
    refused: Counter[str] = Counter()
    files = sorted(p for p in Path(folder).rglob("*") if p.suffix.lower() in READERS and p.is_file() and _is_data(p))
    started = time.perf_counter()
    for path in files:
        try:
            words += sum(len(cue.tokens) for cue in read_transcript(path.name, path.read_bytes()).cues)
            read += 1
        except TranscriptUnreadable as why:
            refused[str(why).partition(": ")[2].split("(")[0][:80]] += 1
            print(f"  refused {path.relative_to(folder)}: {str(why).partition(': ')[2]}")
    spent = time.perf_counter() - started
    return [
        Row(
            what=f"{len(files)} files of other libraries' test data",
            measured=f"{read} read ({words} words), {sum(refused.values())} refused with a reason, none crashed, {spent:.1f} s",
            baseline=f"{sum(p.stat().st_size for p in files) / 1e6:.1f} MB of files",
            aim="all read, or refused with a reason",
            met=read + sum(refused.values()) == len(files),
        )
    ]


def _is_data(path: Path) -> bool:
    """Not a library's own notes and settings."""
    return not any(part.endswith(".egg-info") for part in path.parts) and path.name.lower() not in (
        "requirements.txt", "readme.txt", "license.txt", "package.json", "changelog.txt", "pom.xml", "authors.txt",
    )  # fmt: skip
