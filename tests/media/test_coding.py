"""Colours by what comes out: a patch of a known colour, coded in every way people bring, is the same in proxy and export."""

import subprocess
from fractions import Fraction
from pathlib import Path

import pytest

from nimble_quote.core.assembly import RecordingFacts
from nimble_quote.media.coding import Coding, coding_of
from nimble_quote.media.probe import probe_source
from nimble_quote.media.scanning import PictureScan
from nimble_quote.settings import Settings
from tests.media.test_render import NO_CAPTIONS, assembly_of, no_progress, pixel, rendered

pytestmark = pytest.mark.anyio

PATCH = (200, 40, 60)
GREY = (108, 108, 108)
"""An 18 % grey card as standard range shows it; 38 % of the signal in both ways of coding high range (ITU-R BT.2408)."""


def coded(space: str, full: bool) -> tuple[str, ...]:
    matrix = {"bt709": "bt709", "smpte170m": "bt601"}[space]
    kind, wide = ("yuvj420p", "pc") if full else ("yuv420p", "tv")
    return (
        "-vf", f"scale=out_color_matrix={matrix}:out_range={wide},format={kind}", "-colorspace", space,
        "-color_primaries", space, "-color_trc", space, "-color_range", wide,
    )  # fmt: skip


def high_range(transfer: str) -> tuple[str, ...]:
    tagged = f"setparams=range=tv:color_primaries=bt2020:color_trc={transfer}:colorspace=bt2020nc"
    return ("-vf", f"format=yuv420p10le,lutyuv=y=397:u=512:v=512,{tagged}")


WAYS = {
    "full": (coded("bt709", True), PATCH),
    "older": (coded("smpte170m", False), PATCH),
    "HLG": (high_range("arib-std-b67"), GREY),
    "PQ": (high_range("smpte2084"), GREY),
}


@pytest.mark.parametrize("way", WAYS)
async def test_a_colour_is_the_same_in_proxy_and_export_however_it_is_coded(way: str, tmp_path: Path):
    options, wanted = WAYS[way]
    media = tmp_path / "patch.mp4"
    subprocess.run(
        ["ffmpeg", "-v", "error", "-f", "lavfi", "-i", "color=c=0xC8283C:s=320x180:r=25:d=8",
         "-f", "lavfi", "-i", "sine=d=8", *options,
         "-c:v", "libx264", "-preset", "ultrafast", str(media)], check=True,
    )  # fmt: skip
    facts = await probe_source(media, "patch.mp4")
    scan = PictureScan(
        source=media, facts=facts, model=Settings().face_model, folder=tmp_path / "looking", proxied=False,
        coding=await coding_of(media),
    )  # fmt: skip
    await scan.scan(tmp_path, no_progress)
    await scan.join_proxy(None, tmp_path / "proxy.mp4", tmp_path)
    seen = RecordingFacts(duration_ms=8000, width=320, height=180, rate=Fraction(25))
    clip = await rendered(assembly_of(seen, NO_CAPTIONS), media, tmp_path / "work")
    shown, exported = pixel(tmp_path / "proxy.mp4", 100, 100), pixel(clip, 400, 400)
    assert max(abs(a - b) for a, b in zip(shown, exported, strict=True)) <= 3
    assert max(abs(a - b) for a, b in zip(exported, wanted, strict=True)) <= 6
    for made in (tmp_path / "proxy.mp4", clip):
        assert await coding_of(made) == Coding(), "players are told how it is coded"
