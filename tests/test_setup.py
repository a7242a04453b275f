"""What the set-up decides by: when the front end is built anew."""

import shutil
import subprocess
from pathlib import Path

from nimble_quote.settings import PROJECT


def web_sum(folder: Path) -> str:
    out = subprocess.run(
        ["bash", "-c", ". scripts/setup.sh; web_sum"], cwd=folder, capture_output=True, text=True, check=True
    )
    return out.stdout


def test_the_front_end_is_built_anew_when_any_file_changes_that_its_types_come_from(tmp_path: Path):
    for part in ("scripts", "nimble_quote"):
        shutil.copytree(
            PROJECT / part, tmp_path / part, ignore=shutil.ignore_patterns("media", "*.mp4*", "__pycache__")
        )
    shutil.copytree(PROJECT / "web" / "src", tmp_path / "web" / "src")
    (tmp_path / "web" / "static").mkdir()
    for name in ("vite.config.ts", "svelte.config.js", "package-lock.json"):
        (tmp_path / "web" / name).write_text("{}")
    before = web_sum(tmp_path)
    assert web_sum(tmp_path) == before
    # A model of the formats is in the description of the API, as those of the core are.
    for changed in ("nimble_quote/formats/shortlist.py", "nimble_quote/core/preflight.py", "web/src/app.css"):
        path = tmp_path / changed
        path.write_text(path.read_text() + "\n")
        after = web_sum(tmp_path)
        assert after != before, changed
        before = after
