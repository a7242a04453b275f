"""The faces that ship are drawn alike by the preview and by the burn-in, to the pixel."""

import re
import subprocess
import time
from base64 import b64decode
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from nimble_quote.core.document import Captions
from tests.browser.test_layers import LAYOUTS, document, put
from tests.conftest import RunningApp

# The captions as they were drawn, on black.
ON_BLACK = """shape => {
    const captions = shape.querySelector("[data-captions]");
    const whole = document.createElement("canvas");
    whole.width = captions.width, whole.height = captions.height;
    const pen = whole.getContext("2d");
    pen.fillRect(0, 0, whole.width, whole.height);
    pen.drawImage(captions, 0, 0);
    return whole.toDataURL("image/png");
}"""
AT = 0.5


def raw(command: list[str], folder: Path, size: tuple[int, int]) -> np.ndarray:
    out = subprocess.run(
        ["ffmpeg", "-v", "error", *command, "-frames:v", "1", "-f", "rawvideo", "-pix_fmt", "rgb24", "-"],
        capture_output=True, check=True, cwd=folder,
    ).stdout  # fmt: skip
    return np.frombuffer(out, np.uint8).reshape(size[1], size[0], 3).astype(int)


def size_of(picture: Path) -> tuple[int, int]:
    """Width and height, as a PNG's head tells them."""
    head = picture.read_bytes()[16:24]
    return int.from_bytes(head[:4], "big"), int.from_bytes(head[4:], "big")


@pytest.mark.browser_context_args(device_scale_factor=3)
@pytest.mark.parametrize("style", ["quay", "lamplight", "slate", "print"])
def test_a_face_is_drawn_alike_on_both_sides(style: str, desk: Page, running: RunningApp, demo: int, tmp_path: Path):
    quote_id = put(running, demo, document(LAYOUTS["single"], Captions(style=style)))
    with running.client as client:
        version = client.get(f"/api/quotes/{quote_id}/versions").json()["versions"][0]
    desk.goto(f"{running.url}/quote/{quote_id}/captions")
    shape = desk.get_by_label("Tall 60 as it will be")
    expect(shape).to_be_visible()
    desk.get_by_label(re.compile("^Place in")).fill(f"{AT}")
    (tmp_path / "captions.ass").write_text(version["script"], encoding="utf-8")
    (tmp_path / "fonts").symlink_to(running.settings.fonts.resolve())
    frame = int(AT * version["assembly"]["frames"])
    # Drawing is done when the picture is there, however long that takes on a busy machine; then it stays.
    until = time.monotonic() + 15
    while True:
        desk.wait_for_timeout(500)
        (tmp_path / "drawn.png").write_bytes(b64decode(shape.evaluate(ON_BLACK).split(",")[1]))
        burned, apart = compared(tmp_path, frame)
        if is_alike(burned, apart) or time.monotonic() > until:
            break
    assert (burned.max(axis=2) > 128).sum() > 3000, "there are letters to compare"
    assert is_alike(burned, apart)


def compared(folder: Path, frame: int) -> tuple[np.ndarray, np.ndarray]:
    """What ffmpeg burns in on black in a frame, at the size that was drawn, and how far apart the two are."""
    size = size_of(folder / "drawn.png")
    black = f"color=black:s={size[0]}x{size[1]}:r=25,format=gbrp,ass=f=captions.ass:fontsdir=fonts"
    burned = raw(["-f", "lavfi", "-i", black, "-ss", f"{(frame - 0.5) / 25:.3f}"], folder, size)
    return burned, np.abs(burned - raw(["-i", "drawn.png"], folder, size)).max(axis=2)


def is_alike(burned: np.ndarray, apart: np.ndarray) -> bool:
    """A rounding of the blending apart at most, but for a few pixels of soft edges."""
    return bool((apart > 24).sum() <= 0.001 * (burned.max(axis=2) > 16).sum())
