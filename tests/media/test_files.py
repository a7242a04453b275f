import time
from pathlib import Path
from uuid import uuid4

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.media.files import MediaRoot, download_name
from nimble_quote.media.keys import clip_key, derived_key, is_key, original_key, safe_ending


def test_no_path_from_the_database_leaves_the_media_root(tmp_path: Path):
    root = MediaRoot(tmp_path / "media")
    root.prepare()
    (tmp_path / "secret").write_text("no")
    (root.folder / "link").symlink_to(tmp_path / "secret")
    for path in ("../secret", "originals/../../secret", "/etc/passwd", "link"):
        with pytest.raises(ValueError, match="outside the media root"):
            root.store.local(path)


@pytest.mark.parametrize(("content", "ending"), [("../x", ".mp4"), ("a" * 64, "/../x"), ("a" * 63, ".mp4")])
def test_originals_are_named_by_content_only(content: str, ending: str):
    with pytest.raises(ValueError, match="not a content hash"):
        original_key(content, ending)


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
    assert list((root.folder / "scratch").iterdir()) == []


def test_a_file_is_kept_read_in_parts_and_freed_with_its_folders(tmp_path: Path):
    root = MediaRoot(tmp_path / "media")
    root.prepare()
    key = clip_key(7, uuid4())
    assert (root.store.stat(key), root.store.url(key)) == (None, None)
    made = root.folder / "scratch" / "made.mp4"
    made.write_bytes(b"a whole clip")
    root.store.put(made, key)
    assert not made.exists()
    assert (root.store.stat(key), root.store.read(key), root.store.read(key, 2, 5)) == (12, b"a whole clip", b"whole")
    (root.folder / "exports" / "from the camera.mp4").write_bytes(b"not ours")
    soon = time.time() + 60
    assert list(root.store.every_key(older_than=soon)) == [key]
    assert list(root.store.every_key(older_than=soon - 3600)) == []
    root.store.remove(key)
    root.store.remove(key)
    assert [path.name for path in (root.folder / "exports").iterdir()] == ["from the camera.mp4"]
    with pytest.raises(FileNotFoundError):
        root.store.read(key)


def test_only_keys_of_ours_are_keys():
    content = "ab" * 32
    for ours in (original_key(content, ".mp4"), derived_key(content, "peaks-10.u8"), clip_key(1, uuid4())):
        assert is_key(ours)
    for other in ("exports/1/x.mp4", "originals/ff/" + content + ".mp4", "derived/ab/" + content + "/looking/0.h264"):
        assert not is_key(other)
