"""The faces that ship are drawn alike by the preview and by the burn-in, to the pixel."""

import re
import subprocess
import time
from base64 import b64decode
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from nimble_quote.core.document import AddedCue, Captions, Version
from nimble_quote.core.timebase import Span
from tests.browser.test_layers import LAYOUTS, document, put
from tests.conftest import RunningApp
from tests.lettering.texts import TEXTS
from tests.shipped import LETTERING

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
AT = 0.75


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
@pytest.mark.parametrize("style", ["quay", "spark", "slate", "print"])
def test_a_style_is_drawn_alike_on_both_sides(style: str, desk: Page, running: RunningApp, demo: int, tmp_path: Path):
    version = opened(desk, running, demo, Captions(style=style), tmp_path)
    compare(desk, "Tall 60", version, AT, tmp_path)


BARE = {"plate": None, "spoken": {"mark": "none"}}
EDGED = {"outline": {"colour": "#10231F", "width": 0.1}}
LOOKS: dict[str, dict[str, object]] = {
    "coloured word": {**BARE, **EDGED, "spoken": {"mark": "colour", "colour": "#F2C14E"}},
    "grows": {**BARE, **EDGED, "spoken": {"mark": "grow", "colour": "#F2C14E"}},
    "appears": {**BARE, "spoken": {"mark": "appear"}, "shadow": {"opacity": 0.7, "blur": 0.1, "down": 0.08}},
    "glassy block": {
        "plate": {"behind": "block", "opacity": 0.5, "radius": 0.5},
        "letter_spacing": 0.08,
        "case": "upper",
    },
    "rises": {"entrance": "rise", "exit": "fade", "alignment": "left", "line_spacing": 1.6},
    "types": {**BARE, **EDGED, "entrance": "type", "alignment": "right", "face": "Lexend Bold"},
}


@pytest.mark.browser_context_args(device_scale_factor=3)
@pytest.mark.parametrize("look", LOOKS)
def test_a_look_is_drawn_alike_on_both_sides(look: str, desk: Page, running: RunningApp, demo: int, tmp_path: Path):
    version = opened(desk, running, demo, Captions(style="quay", look=LOOKS[look]), tmp_path)
    compare(desk, "Tall 60", version, AT, tmp_path)


@pytest.mark.browser_context_args(device_scale_factor=3)
@pytest.mark.parametrize("leaving", ["rise", "type"])
def test_captions_go_alike_on_both_sides(leaving: str, desk: Page, running: RunningApp, demo: int, tmp_path: Path):
    version = opened(desk, running, demo, Captions(style="quay", look={**BARE, **EDGED, "exit": leaving}), tmp_path)
    first = version["assembly"]["cue_tracks"][0]["cues"][0]
    compare(
        desk,
        "Tall 60",
        version,
        (first["end_frame"] - 2.5) / version["assembly"]["frames"],
        tmp_path,
        least=400,
        apart=0.002,
    )


SHAPES = {"Square 60": "square-60", "Portrait 60": "portrait-60", "Wide 140": "wide-140"}


@pytest.mark.browser_context_args(device_scale_factor=2)
def test_captions_are_drawn_alike_in_every_shape(desk: Page, running: RunningApp, demo: int, tmp_path: Path):
    for name, destination in SHAPES.items():
        folder = tmp_path / destination
        folder.mkdir()
        version = opened(desk, running, demo, Captions(style="quay"), folder, destination)
        compare(desk, name, version, AT, folder, least=800)


STEP_MS = 700


@pytest.mark.browser_context_args(device_scale_factor=2)
def test_every_script_is_drawn_alike_on_both_sides(desk: Page, running: RunningApp, demo: int, tmp_path: Path):
    """A text of each script as a cue that was put in, one after another, over a stretch of the talk."""
    texts = [texts[number] for number, (_, texts) in enumerate(TEXTS.values())]
    added = tuple(
        AddedCue(id=n + 1, start_ms=60_300 + n * STEP_MS, end_ms=60_300 + (n + 1) * STEP_MS, text=text)
        for n, text in enumerate(texts)
    )
    long = {"span": Span(start_ms=60_200, end_ms=60_500 + len(texts) * STEP_MS)}
    version = opened(desk, running, demo, Captions(style="slate", added=added), tmp_path, **long)
    assert len(version["faces"]) >= 8
    cues = {cue["added"]: cue for cue in version["assembly"]["cue_tracks"][0]["cues"]}
    frames = version["assembly"]["frames"]
    for one in added:
        middle = (cues[one.id]["first_frame"] + cues[one.id]["end_frame"]) / 2
        compare(desk, "Tall 60", version, middle / frames, tmp_path, least=200)


def opened(
    desk: Page,
    running: RunningApp,
    demo: int,
    captions: Captions,
    folder: Path,
    destination: str = "tall-60",
    **more: object,
) -> dict[str, Any]:
    """The version of a quote with some captions, open in the workbench; its script is in the folder."""
    versions = (Version(destination=destination),)
    quote_id = put(running, demo, document(LAYOUTS["single"], captions, **{"versions": versions, **more}))
    with running.client as client:
        version = dict(client.get(f"/api/quotes/{quote_id}/versions").json()["versions"][0])
    desk.goto(f"{running.url}/quote/{quote_id}/captions")
    (folder / "captions.ass").write_text(version["script"], encoding="utf-8")
    (folder / "fonts").mkdir()
    for name in version["faces"]:
        file = LETTERING.file_of(name).resolve()
        (folder / "fonts" / file.name).symlink_to(file)
    return version


def compare(
    desk: Page, name: str, version: dict[str, Any], part: float, tmp_path: Path, least: int = 3000, apart: float = 0.001
) -> None:  # fmt: skip
    """Holds the captions as the page draws them at a part of the clip against those that are burned in. The edge of what is typed
    off as it goes may be a pixel apart."""
    shape = desk.get_by_label(f"{name} as it will be")
    expect(shape).to_be_visible()
    part = round(part * 2000) / 2000
    desk.get_by_label(re.compile("^Place in")).fill(f"{part:.4f}")
    frame = int(part * version["assembly"]["frames"] + 1e-6)
    # Drawing is done when the picture is there, however long that takes on a busy machine; then it stays.
    until = time.monotonic() + 15
    while True:
        desk.wait_for_timeout(500)
        (tmp_path / "drawn.png").write_bytes(b64decode(shape.evaluate(ON_BLACK).split(",")[1]))
        burned, off = compared(tmp_path, frame)
        if is_alike(burned, off, apart) or time.monotonic() > until:
            break
    assert (burned.max(axis=2) > 128).sum() > least, "there are letters to compare"
    assert is_alike(burned, off, apart)


def compared(folder: Path, frame: int) -> tuple[np.ndarray, np.ndarray]:
    """What ffmpeg burns in on black in a frame, at the size that was drawn, and how far apart the two are."""
    size = size_of(folder / "drawn.png")
    black = f"color=black:s={size[0]}x{size[1]}:r=25,format=gbrp,ass=f=captions.ass:fontsdir=fonts"
    burned = raw(["-f", "lavfi", "-i", black, "-ss", f"{(frame - 0.5) / 25:.3f}"], folder, size)
    return burned, np.abs(burned - raw(["-i", "drawn.png"], folder, size)).max(axis=2)


def is_alike(burned: np.ndarray, off: np.ndarray, apart: float = 0.001) -> bool:
    """A rounding of the blending apart at most, but for a few pixels of soft edges."""
    return bool((off > 24).sum() <= apart * (burned.max(axis=2) > 16).sum())
