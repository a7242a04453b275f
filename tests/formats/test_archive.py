"""Archives that are made while they are sent: as long as told, readable by others, and never in memory as a whole."""

import io
import tracemalloc
import zipfile
from pathlib import Path

from nimble_quote.formats.archive import Packed, zip_of


def test_an_archive_is_as_long_as_told_and_reads_back(tmp_path: Path):
    clip = tmp_path / "made.mp4"
    clip.write_bytes(b"\x00clip" * 1000)
    archive = zip_of(
        [Packed(files={"Talk - Keep.mp4": clip}, texts={"Talk - Keep.srt": b"1\n"}),
         Packed(files={"talk - keep.mp4": clip}, texts={"größer.txt": "ü".encode()})]
    )  # fmt: skip
    length = len(archive)
    content = b"".join(archive)
    assert len(content) == length
    with zipfile.ZipFile(io.BytesIO(content)) as read:
        assert read.testzip() is None
        assert read.namelist() == ["Talk - Keep.mp4", "Talk - Keep.srt", "talk - keep (2).mp4", "größer.txt"]
        assert read.read("talk - keep (2).mp4") == clip.read_bytes()


def test_a_large_archive_takes_little_memory(tmp_path: Path):
    large = tmp_path / "large.mp4"
    with large.open("wb") as file:
        file.truncate(400_000_000)
    tracemalloc.start()
    sent = sum(len(block) for block in zip_of([Packed(files={"large.mp4": large})]))
    _, peak = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    assert sent > 400_000_000
    assert peak < 20_000_000
