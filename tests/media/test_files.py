from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.media.files import MediaRoot, download_name, put_in_place, safe_ending


def test_no_path_from_the_database_leaves_the_media_root(tmp_path: Path):
    root = MediaRoot(tmp_path / "media")
    root.prepare()
    (tmp_path / "secret").write_text("no")
    (root.folder / "link").symlink_to(tmp_path / "secret")
    for path in ("../secret", "originals/../../secret", "/etc/passwd", "link"):
        with pytest.raises(ValueError, match="outside the media root"):
            root.inside(path)
    assert root.inside("exports/1") == root.clips(1)


@pytest.mark.parametrize(("content", "ending"), [("../x", ".mp4"), ("a" * 64, "/../x"), ("a" * 63, ".mp4")])
def test_originals_are_named_by_content_only(tmp_path: Path, content: str, ending: str):
    with pytest.raises(ValueError, match="not a content hash"):
        MediaRoot(tmp_path).original(content, ending)


@given(st.text(max_size=80))
def test_no_file_name_makes_an_odd_ending(name: str):
    ending = safe_ending(name)
    assert ending.isascii()
    assert "/" not in ending
    assert len(ending) <= 6


@given(st.lists(st.text(max_size=200), min_size=1, max_size=3))
def test_download_names_are_names_on_every_system(parts: list[str]):
    name = download_name(*parts, ending=".mp4")
    assert not set(name) & set('/\\:*?"<>|\n\r\t\0')
    assert not name.startswith(".")
    assert len(name) <= 160


def test_a_download_is_named_by_talk_quote_and_shape():
    assert download_name("Keep the wick short", "So, what is “patience”?", "Tall 60", ending=".mp4") == (
        "Keep the wick short - So, what is “patience” - Tall 60.mp4"
    )


def test_scratch_is_gone_afterwards_and_leftovers_go_first(tmp_path: Path):
    root = MediaRoot(tmp_path)
    root.prepare()
    leftover = root.folder / "scratch" / "export-7-old"
    leftover.mkdir()
    with root.scratch("export-7") as folder:
        assert not leftover.exists()
        (folder / "clip.mp4").write_text("half")
        put_in_place(folder / "clip.mp4", root.clips(7) / "a.mp4")
    assert (root.clips(7) / "a.mp4").read_text() == "half"
    assert list((root.folder / "scratch").iterdir()) == []
