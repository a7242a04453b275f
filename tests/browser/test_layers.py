"""Preview and export show the same picture: each layout and each layer, at the same moment, in the real workbench."""

import asyncio
import re
import subprocess
from base64 import b64decode
from concurrent.futures import ThreadPoolExecutor
from functools import lru_cache
from pathlib import Path

import numpy as np
import psycopg
import pytest
from playwright.sync_api import Page, expect
from psycopg.types.json import Jsonb

from nimble_quote.core.assembly import RECORDING, Assembly
from nimble_quote.core.document import (
    At,
    Break,
    Captions,
    Choice,
    Cover,
    CoverPicture,
    CueMark,
    EndCard,
    Footage,
    Framing,
    Insert,
    Lines,
    Logo,
    Mark,
    NameStrap,
    Overlay,
    Progress,
    QuoteDocument,
    ShotChoice,
    SoundWave,
    TimeLeft,
    TitleLines,
    Treatment,
    Version,
    What,
    When,
)
from nimble_quote.core.document.upgrades import stored
from nimble_quote.core.finishes import pictures_in
from nimble_quote.core.timebase import Span
from nimble_quote.media.files import MediaRoot
from nimble_quote.media.keys import PROXY, derived_key
from nimble_quote.media.render import Source, render
from tests.conftest import RunningApp
from tests.framings import held, moving, tiled
from tests.shipped import LETTERING

MOMENT_MS = 1500
# What the canvases of a shape show together, without anything that stands around them on the screen.
PIXELS = """shape => {
    const [picture, captions] = shape.querySelectorAll("canvas");
    const whole = document.createElement("canvas");
    whole.width = picture.width, whole.height = picture.height;
    const pen = whole.getContext("2d");
    pen.drawImage(picture, 0, 0);
    if (captions) pen.drawImage(captions, 0, 0, whole.width, whole.height);
    return whole.toDataURL("image/png");
}"""
LEAST_SSIM = 0.98

PANNING = moving((60_000, 60_500, 0.3, 1.0), (64_000, 66_000, 0.7, 1.0))
ZOOMING = moving((60_000, 60_500, 0.4, 1.0), (64_000, 66_000, 0.5, 1.6))
TONES = {"exposure": 0.8, "contrast": 0.25, "warmth": 0.6, "saturation": 1.3}
LAYOUTS = {
    "single": Framing(usual=held(0.45, zoom=1.2)),
    "panning": Framing(usual=Choice(layout="one", placed=(PANNING,))),
    "zooming": Framing(usual=Choice(layout="one", placed=(ZOOMING,))),
    "whole-blur": Framing(usual=Choice(layout="whole", blur=9)),
    "whole-colour": Framing(usual=Choice(layout="whole", size=1.3, height=0.35, backdrop="colour", colour="#3E4C9A")),
    "stacked": Framing(usual=tiled("stacked", 0.3, 0.7, share=2 / 3)),
    "beside": Framing(usual=tiled("beside", 0.3, 0.7)),
    "slide": Framing(usual=Choice(layout="slide")),
    "whole-soft-picture": Framing(usual=Choice(layout="whole", backdrop="soft-picture", picture=1, blur=6)),
    "whole-picture": Framing(usual=Choice(layout="whole", backdrop="picture", picture=1)),
    "toned": Framing(usual=held(0.45).model_copy(update=TONES)),
    "toned-blur": Framing(usual=Choice(layout="whole", blur=9, exposure=-0.7, saturation=0.3)),
    "lit": Framing(usual=Choice(layout="one", placed=(PANNING,), subjects=(0,), lift=1.0)),
    "followed": Framing(usual=Choice(moves="lively")),
    "by-shot": Framing(
        usual=Choice(layout="whole"),
        shots=(ShotChoice(span=Span(start_ms=61_200, end_ms=64_000), choice=held(0.6)),),
    ),
}
HIDDEN = Captions(shown=False)
LINES = (Overlay(id=1, when=When(kind="start", length_ms=2500), what=Lines(text="Before: the oil")),)


WHOLE = When(kind="whole")
AROUND_IT = (At(x=0.42, y=0.3), At(x=0.58, y=0.6))
OVER: dict[str, tuple[What, ...]] = {
    "title": (
        TitleLines(text="Keep the wick short", second="Lamp-oil talk"),
        NameStrap(name="Maren Tolley", role="Keeper"),
    ),
    "clock and progress": (TimeLeft(), Progress(edge="around", colour="#F2C14E", track="#1C2330", thickness=0.02)),
    "bars": (SoundWave(form="bars", height=0.3), Progress(edge="top", colour="#F2C14E")),
    "ring": (SoundWave(form="ring", width=0.5),),
    "dots": (SoundWave(form="dots"), TitleLines(text="Pops", look={"entrance": "pop"})),
    "line": (SoundWave(form="line", width=0.9, colour="#F2C14E"),),
    "logo": (Logo(picture=1, size=0.3, opacity=0.7), Insert(picture=1, covers="half", comes="fade")),
    "marks": tuple(
        Mark(form=form, points=AROUND_IT, colour="#F2C14E") for form in ("arrow", "ring", "box", "freehand")
    ),
    "spotlight": (Mark(form="spotlight", points=AROUND_IT, follows=0),),
    "followed": (Mark(form="ring", points=AROUND_IT, colour="#F2C14E", follows=0),),
    "portrait": (Logo(picture=1, size=0.4, round=True),),
    "pushed": (Insert(picture=1, covers="all", push=0.2),),
    "footage": (
        Insert(
            footage=Footage(recording=1, from_ms=20_000, width=1920, height=1080, duration_ms=90_000),
            covers="half",
            comes="fade",
        ),
    ),
    "cover": (Cover(shows=CoverPicture(at_ms=62_000)),),
    "cover of a picture": (Cover(shows=CoverPicture(picture=1), text="Wicks"),),
    "card": (
        EndCard(text="Hear the whole talk", second="Lamp House", address="lamphouse.example", code=True, picture=1),
    ),
}
SHAPES = {"tall-60": "Tall 60", "square-60": "Square 60", "portrait-60": "Portrait 60", "wide-140": "Wide 140"}
MOMENTS_MS = {"over: cover": 10, "over: cover of a picture": 10, "over: card": 3500}
"""Where something else is to be looked at than the cut."""


def document(
    framing: Framing, captions: Captions = HIDDEN, destination: str = "tall-60", **more: object
) -> QuoteDocument:
    shape = destination.partition("-")[0]
    return QuoteDocument.model_validate(
        {
            "title": "Layers", "span": Span(start_ms=60_200, end_ms=62_200), "captions": captions,
            "treatments": {shape: Treatment(framing=framing)}, "versions": (Version(destination=destination),), **more,
        }
    )  # fmt: skip


def over(name: str, destination: str) -> QuoteDocument:
    """What stands over a picture, in a shape."""
    return document(
        LAYOUTS["panning" if name == "spotlight" else "single"],
        destination=destination,
        overlays=tuple(Overlay(id=n + 1, when=WHOLE, what=what) for n, what in enumerate(OVER[name])),
    )


CASES = {
    **{name: document(framing) for name, framing in LAYOUTS.items()},
    "softened": document(
        LAYOUTS["single"],
        struck=(Span(start_ms=60_900, end_ms=61_100),),
        versions=(Version(destination="tall-60", soften="scale"),),
    ),
    "faster": document(LAYOUTS["panning"], versions=(Version(destination="tall-60", speed=1.1),)),
    "lines": document(LAYOUTS["single"], overlays=LINES),
    # Each in one shape; the bench has each in all of them.
    **{f"over: {name}": over(name, list(SHAPES)[number % len(SHAPES)]) for number, name in enumerate(OVER)},
    # The other faces are compared to the pixel by themselves.
    "captions": document(LAYOUTS["single"], Captions(style="lamplight")),
    "pinned": document(
        LAYOUTS["single"],
        Captions(
            style="slate",
            breaks=(Break(right=141, kind="cue"), Break(right=143, kind="line"), Break(left=144, kind="cue")),
            marked=(CueMark(first=141, last=144, height=0.3),),
        ),
    ),
}


IN_EVERY_SHAPE = {f"over: {name}, {SHAPES[place]}": over(name, place) for name in OVER for place in SHAPES}


def proxy_of(running: RunningApp, recording_id: int) -> Path:
    """What the preview plays of a recording. The clip is made from it too, so that only the drawing is compared."""
    with psycopg.connect(running.settings.database_url) as conn:
        row = conn.execute("select content from recording where id = %s", [recording_id]).fetchone()
    assert row
    return MediaRoot(running.settings.media_root, 0).store.local(derived_key(str(row[0]), PROXY))


def put(running: RunningApp, recording_id: int, of: QuoteDocument) -> int:
    """A quote with a document of our choice, as if it had been edited to be so."""
    with psycopg.connect(running.settings.database_url) as conn:
        row = conn.execute(
            "insert into quote (recording_id, head) values (%s, 1) returning id", [recording_id]
        ).fetchone()
        assert row
        conn.execute(
            "insert into quote_revision (quote_id, number, said, document) values (%s, 1, 'Kept', %s)",
            [row[0], Jsonb(stored(of))],
        )
        return int(row[0])


@lru_cache
def wash() -> bytes:
    """A wash of colours, neither as tall nor as wide as any shape."""
    made = subprocess.run(
        ["ffmpeg", "-v", "error", "-f", "lavfi", "-i", "gradients=s=800x600:c0=0x20405A:c1=0xC0A080:c2=0x406040:nb_colors=3", "-frames:v", "1", "-q:v", "2", "-f", "mjpeg", "-"],
        capture_output=True, check=True,
    )  # fmt: skip
    return made.stdout


def with_picture(running: RunningApp, of: QuoteDocument) -> QuoteDocument:
    """A document that shows a picture of the house's, which the house has."""
    ((shape, treatment),) = of.treatments.items()
    usual = treatment.framing.usual
    if usual.picture is None and not any(pictures_in(one.what) for one in of.overlays):
        return of
    with running.client as client:
        number = client.post("/api/house/pictures", params={"name": "Wash"}, content=wash()).json()["id"]
    framing = Framing(usual=usual.model_copy(update={"picture": number if usual.picture else None}))
    over = tuple(
        one.model_copy(update={"what": shown_as(one.what, number)}) if pictures_in(one.what) else one
        for one in of.overlays
    )
    return of.model_copy(update={"treatments": {shape: Treatment(framing=framing)}, "overlays": over})


def with_footage(recording_id: int, of: QuoteDocument) -> QuoteDocument:
    """A document that shows footage of a recording that is there: of its own."""
    over = tuple(
        one.model_copy(
            update={
                "what": one.what.model_copy(
                    update={"footage": one.what.footage.model_copy(update={"recording": recording_id})}
                )
            }
        )
        if isinstance(one.what, Insert) and one.what.footage
        else one
        for one in of.overlays
    )
    return of.model_copy(update={"overlays": over})


def shown_as(what: What, number: int) -> What:
    """What shows a picture, with that of a number."""
    if isinstance(what, Cover):
        return what.model_copy(update={"shows": CoverPicture(picture=number)})
    return what.model_copy(update={"picture": number})


async def no_progress(part: float) -> None:
    assert 0 <= part <= 1


def exported(running: RunningApp, quote_id: int, media: Path, folder: Path) -> tuple[Assembly, Path]:
    """The clip of a quote, made from the Assembly that its preview draws."""
    with running.client as client:
        told = client.get(f"/api/quotes/{quote_id}/versions").json()["versions"][0]["assembly"]
        assembly = Assembly.model_validate(told)
        pictures = {one: client.get(f"/api/house/pictures/{one}").content for one in assembly.house_pictures}
    scratch = folder / "work"
    scratch.mkdir()
    sources = {RECORDING: Source(path=media), **{one.source: Source(path=media) for one in assembly.footage}}
    making = render(assembly, sources, LETTERING, scratch, no_progress, pictures)
    # In a thread of its own: the browser's driver has a loop running in this one.
    with ThreadPoolExecutor(1) as pool:
        return assembly, pool.submit(asyncio.run, making).result()


def alike(preview: Path, clip: Path, seconds: float) -> float:
    """How alike a picture and a frame of a clip are, by their structure (SSIM), both made smaller alike, so that neither
    the codec nor how a browser makes a picture smaller counts."""
    told = subprocess.run(
        ["ffmpeg", "-v", "info", "-i", str(preview), "-ss", f"{seconds:.3f}", "-i", str(clip), "-frames:v", "1", "-lavfi",
         "[0:v]scale=iw/4:-1:flags=area,format=gbrp[a];[1:v]trim=end_frame=1[f];[f][a]scale2ref=flags=area:in_color_matrix=bt709[b][c];[b]format=gbrp[d];[d][c]ssim",
         "-f", "null", "-"],
        capture_output=True, text=True, check=True,
    ).stderr  # fmt: skip
    found = re.search(r"All:([0-9.]+)", told)
    assert found, told
    return float(found[1])


def likeness(page: Page, running: RunningApp, recording_id: int, name: str, folder: Path, enough: float) -> float:
    """How alike the preview and the clip of a case are, looked at until they are enough so or nothing moves any more."""
    quote_id = put(
        running, recording_id, with_footage(recording_id, with_picture(running, {**CASES, **IN_EVERY_SHAPE}[name]))
    )
    assembly, clip = exported(running, quote_id, proxy_of(running, recording_id), folder)
    heights = [cue.height for track in assembly.cue_tracks for cue in track.cues]
    assert (name == "pinned") == (0.3 in heights), "the pin is of words that are in the quote"
    # In the middle of a frame, as the slider can be set.
    part = round(MOMENTS_MS.get(name.partition(",")[0], MOMENT_MS) / assembly.length_ms * 2000) / 2000
    frame = int(part * assembly.length_ms * assembly.rate / 1000)
    page.goto(f"{running.url}/quote/{quote_id}/frame")
    shape = page.get_by_label(f"{SHAPES[assembly.destination.id]} as it will be")
    expect(shape).to_be_visible()
    page.get_by_label(re.compile("^Place in")).fill(f"{part:.4f}")
    preview, found = folder / "preview.png", 0.0
    # The picture is drawn once it has been sought, the captions once their face is there.
    for _ in range(10):
        page.wait_for_timeout(300)
        preview.write_bytes(b64decode(shape.evaluate(PIXELS).split(",")[1]))
        # A seek finds the first frame that is not before it.
        found = max(found, alike(preview, clip, max(0.0, float((frame - 0.5) / assembly.rate))))
        if found >= enough:
            break
    return found


def colours(picture: Path, seconds: float = 0.0) -> np.ndarray:
    """The colours of a picture, or of a frame of a clip, in patches (rows, columns, RGB)."""
    raw = subprocess.run(
        ["ffmpeg", "-v", "error", "-i", str(picture), "-ss", f"{seconds:.3f}", "-frames:v", "1", "-vf",
         "scale=18:32:flags=area:in_color_matrix=bt709,format=rgb24", "-f", "rawvideo", "-"],
        capture_output=True, check=True,
    ).stdout  # fmt: skip
    return np.frombuffer(raw, np.uint8).reshape(32, 18, 3).astype(float)


@pytest.mark.browser_context_args(device_scale_factor=3)
def test_a_tone_has_the_same_colours_in_the_preview_and_the_clip(
    desk: Page, running: RunningApp, demo: int, tmp_path: Path
):
    looks = {}
    for name in ("single", "toned"):
        folder = tmp_path / name
        folder.mkdir()
        assert likeness(desk, running, demo, name, folder, LEAST_SSIM) >= LEAST_SSIM
        (clip,) = (folder / "work").glob("*.mp4")
        looks[name] = colours(folder / "preview.png"), colours(clip, MOMENT_MS / 1000)
    off = {name: np.abs(preview - clip).mean() for name, (preview, clip) in looks.items()}
    assert off["toned"] < off["single"] + 2.5
    assert np.abs(looks["toned"][1] - looks["single"][1]).mean() > 15, "the tone is one that is seen"


@pytest.mark.browser_context_args(device_scale_factor=3)
@pytest.mark.parametrize("name", CASES)
def test_the_preview_of_a_layer_is_what_the_export_shows(
    name: str, desk: Page, running: RunningApp, demo: int, tmp_path: Path
):
    assert likeness(desk, running, demo, name, tmp_path, LEAST_SSIM) >= LEAST_SSIM
