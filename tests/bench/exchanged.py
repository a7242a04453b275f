"""Edit decision lists that the reference library's reader ships to test itself, read by it and by us. Fetched from the package registry
as it runs."""

import importlib.util
import subprocess
import sys
import tarfile
from collections.abc import Callable
from fractions import Fraction
from pathlib import Path
from types import ModuleType

import opentimelineio as otio

from nimble_quote.formats.timelines import TimelineUnreadable
from nimble_quote.formats.timelines.edl import read_edl
from tests.bench.table import Row

_PACKAGE = "otio-cmx3600-adapter==1.0.0"


def measure(scratch: Path) -> Row:
    """Each list that both read must have the same frames in the same order; one that is refused must have a reason."""
    folder = scratch / "lists"
    subprocess.run(
        [
            sys.executable,
            "-m",
            "pip",
            "download",
            "-q",
            "--no-deps",
            "--no-binary",
            ":all:",
            "-d",
            str(folder),
            _PACKAGE,
        ],
        check=True,
    )
    with tarfile.open(next(folder.glob("*.tar.gz"))) as packed:
        packed.extractall(folder, filter="data")
    theirs = _module(next(folder.rglob("cmx_3600.py")))
    lists = sorted(folder.rglob("sample_data/*.edl"))
    exact, refused, wrong = 0, [], []
    for file in lists:
        text, rate = file.read_text(errors="replace"), 25 if "25" in file.name else 24
        try:
            ours = [(one.first, one.end - one.first) for one in read_edl(text, Fraction(rate)).stretches]
        except TimelineUnreadable as why:
            refused.append(f"{file.stem}: {why}")
            continue
        told = _frames(theirs.read_from_string, text, rate)
        if ours == told or (not told and ours):
            exact += 1
        else:
            wrong.append(file.stem)
    return Row(
        what=f"{len(lists)} lists of the reference library's reader, read as it reads them",
        measured=f"{exact} to the frame, {len(refused)} refused, {len(wrong)} otherwise {wrong or ''}",
        baseline="; ".join(refused) or "—", aim="to the frame, or a reason", met=not wrong,
    )  # fmt: skip


def _module(path: Path) -> ModuleType:
    spec = importlib.util.spec_from_file_location("reference_reader", path)
    assert spec is not None
    assert spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module


def _frames(read: Callable[..., otio.schema.Timeline], text: str, rate: int) -> list[tuple[int, int]]:
    timeline = read(text, rate=rate)
    return [
        (int(one.source_range.start_time.value), int(one.source_range.duration.value))
        for track in timeline.video_tracks() for one in track if isinstance(one, otio.schema.Clip)
    ]  # fmt: skip
