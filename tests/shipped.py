"""The catalogue as it ships, for tests without a database; a test of the store holds it to what the database begins with."""

from typing import Any

from nimble_quote.core.captions.styles import CaptionStyle, Face
from nimble_quote.core.catalogue import Catalogue, HouseSound
from nimble_quote.core.destinations import Area, Destination
from nimble_quote.core.document import (
    CaptionLook,
    Limits,
    NameStrap,
    Outline,
    Plate,
    Progress,
    Shadow,
    SoundWave,
    Spoken,
    TimeLeft,
    TitleLines,
    When,
)
from nimble_quote.core.finishes import Finish, FinishItem
from nimble_quote.core.posting.counting import TextLimits
from nimble_quote.core.sound.looping import Loop
from nimble_quote.lettering.shaping import Faces
from nimble_quote.lettering.shipped import CHAIN
from nimble_quote.settings import Settings

_TALL = (
    Area(x=0, y=0, width=1, height=0.09, name="title bar"),
    Area(x=0, y=0.82, width=1, height=0.18, name="caption and account line"),
    Area(x=0.86, y=0.46, width=0.14, height=0.36, name="button column"),
)
_LOW = (Area(x=0, y=0.91, width=1, height=0.09, name="player bar"),)


_SHORT = TextLimits(title=60, description=300, tags=5, link_length=24)


def _destination(id_: str, name: str, shape: str, width: int, height: int, seconds: int, mb: int = 100) -> Destination:
    covered = _TALL if shape == "tall" else _LOW
    return Destination(
        id=id_,
        name=name,
        shape=shape,
        width=width,
        height=height,
        limit_ms=seconds * 1000,
        largest_mb=mb,
        covered=covered,
        texts=_SHORT if seconds <= 15 else TextLimits(),
    )


def _style(id_: str, name: str, said: str, retired: bool = False, **look: Any) -> CaptionStyle:
    return CaptionStyle(id=id_, name=name, said=said, look=CaptionLook(**look), retired=retired)


STYLES_SHIPPED = (
    _style(
        "quay", "Quay", "quiet talk: a calm plate, a bar under the spoken word", face="Atkinson Hyperlegible Bold", size=0.056,
        colour="#FAF7F0", spoken=Spoken(mark="bar"),
        plate=Plate(behind="line", colour="#0B5454", across=0.2857, down=0.2657, radius=0.1),
        limits=Limits(line_characters=26, lines=2, shortest_ms=1000, longest_ms=5000, fastest_cps=20),
    ),
    _style(
        "lamplight", "Lamplight", "short, bold, the spoken word lit", True, face="Lexend Bold", size=0.072, colour="#FFFFFF",
        spoken=Spoken(mark="colour", colour="#F0B429"), outline=Outline(colour="#161A22", width=0.0903),
        limits=Limits(line_characters=18, lines=2, shortest_ms=700, longest_ms=3000, fastest_cps=24),
    ),
    _style(
        "spark", "Spark", "quick podcast: one short line, the spoken word on a plate", face="Lexend Bold", size=0.07,
        case="lower", colour="#FAF7F0", emphasis="#F2C14E", spoken=Spoken(mark="plate", colour="#0B5454"),
        outline=Outline(colour="#10231F", width=0.1), shadow=Shadow(opacity=0.5, across=0, down=0.05, blur=0.08),
        heights={"wide": 0.82},
        limits=Limits(line_characters=16, lines=1, shortest_ms=400, longest_ms=2500, fastest_cps=26),
    ),
    _style(
        "slate", "Slate", "slides: two lines on a dark plate", face="Atkinson Hyperlegible Bold", size=0.058, colour="#FAF7F0",
        plate=Plate(behind="line", colour="#161A22", across=0.2414, down=0.2214, radius=0.1),
        limits=Limits(line_characters=26, lines=2, shortest_ms=1000, longest_ms=6000, fastest_cps=20),
    ),
    _style(
        "print", "Print", "sound only: a reading face, for a quiet voice", face="Nimble Serif SemiBold", size=0.062,
        colour="#FAF7F0", outline=Outline(colour="#1C2330", width=0.0806),
        limits=Limits(line_characters=24, lines=2, shortest_ms=1000, longest_ms=6000, fastest_cps=20),
    ),
)  # fmt: skip
_WHOLE = When(kind="whole")
FINISHES_SHIPPED = (
    Finish(
        id="quiet-title", name="Quiet title", said="a talk: its title, who speaks, how far it is",
        items=(
            FinishItem(number=1, when=_WHOLE, what=TitleLines(text="{title}")),
            FinishItem(
                number=2, when=When(kind="start", offset_ms=800, length_ms=4000),
                what=NameStrap(look={"entrance": "slide", "exit": "fade"}),
            ),
            FinishItem(number=3, when=_WHOLE, what=Progress(edge="bottom", colour="#F2C14E")),
        ),
    ),
    Finish(
        id="sound-only", name="Sound only", said="a talk without a picture: its title and the voice",
        items=(
            FinishItem(number=1, when=_WHOLE, what=TitleLines(text="{title}")),
            FinishItem(number=2, when=_WHOLE, what=SoundWave(form="bars", width=0.8, height=0.3)),
            FinishItem(number=3, when=_WHOLE, what=TimeLeft(), wish="bottom-right"),
        ),
    ),
)  # fmt: skip
_OURS = "Made for Nimble Quote: free to use, without credit"


def _sound(number: int, name: str, duration_ms: int, loudness: float, samples: int) -> HouseSound:
    return HouseSound(
        id=number, name=name, duration_ms=duration_ms, loudness_lufs=loudness, licence=_OURS, ships=True,
        loop=Loop(start=0, end=samples, alike=1),
    )  # fmt: skip


CATALOGUE = Catalogue(
    version=0,
    destinations=(
        _destination("story-15", "Tall 15", "tall", 1080, 1920, 15),
        _destination("tall-30", "Tall 30", "tall", 1080, 1920, 30),
        _destination("tall-60", "Tall 60", "tall", 1080, 1920, 60),
        _destination("tall-90", "Tall 90", "tall", 1080, 1920, 90),
        _destination("square-60", "Square 60", "square", 1080, 1080, 60),
        _destination("portrait-60", "Portrait 60", "portrait", 1080, 1350, 60),
        _destination("wide-140", "Wide 140", "wide", 1920, 1080, 140, 500),
    ),
    styles=STYLES_SHIPPED,
    earlier=STYLES_SHIPPED,
    finishes=FINISHES_SHIPPED,
    sounds=(
        _sound(1, "Short wick", 25_263, -16.3, 1_212_632),
        _sound(2, "Still water", 30_000, -13.6, 1_440_000),
        _sound(3, "First light", 23_478, -13.5, 1_126_957),
    ),
    earlier_finishes=FINISHES_SHIPPED,
    faces=(
        Face(name="Atkinson Hyperlegible Bold", file="AtkinsonHyperlegible_700Bold.ttf"),
        Face(name="Atkinson Hyperlegible Regular", file="AtkinsonHyperlegible_400Regular.ttf"),
        Face(name="Lexend Bold", file="Lexend_700Bold.ttf"),
        Face(name="Nimble Serif SemiBold", file="NimbleSerif_600SemiBold.ttf"),
        *(Face(name=one.name, file=one.file, offered=one.name == "Noto Sans Bold") for one in sorted(CHAIN, key=lambda one: one.name)),
    ),
    palette=("#FAF7F0", "#FFFFFF", "#1C2330", "#161A22", "#0B5454", "#F2C14E"),
)  # fmt: skip
DESTINATIONS = {one.id: one for one in CATALOGUE.destinations}
STYLES = {one.id: one for one in CATALOGUE.styles}
LETTERING = Faces((Settings().fonts,), {one.name: one.file for one in CATALOGUE.faces})
