"""The catalogue as it ships, for tests without a database; a test of the store holds it to what the database begins with."""

from nimble_quote.core.captions.styles import CaptionStyle, Face, Limits
from nimble_quote.core.catalogue import Catalogue
from nimble_quote.core.destinations import Area, Destination

_TALL = (
    Area(x=0, y=0, width=1, height=0.09, name="title bar"),
    Area(x=0, y=0.82, width=1, height=0.18, name="caption and account line"),
    Area(x=0.86, y=0.46, width=0.14, height=0.36, name="button column"),
)
_LOW = (Area(x=0, y=0.91, width=1, height=0.09, name="player bar"),)


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
    )


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
    styles=(
        CaptionStyle(
            id="quay", name="Quay", said="a calm plate, a bar under the spoken word",
            font="Atkinson Hyperlegible Bold", size=0.056, cell=1.24, colour="#FAF7F0", spoken=None, spoken_bar=True, edge="box",
            edge_colour="#0B5454", edge_size=0.016,
            limits=Limits(line_characters=26, lines=2, shortest_ms=1000, longest_ms=5000, fastest_cps=20),
        ),
        CaptionStyle(
            id="lamplight", name="Lamplight", said="short, bold, the spoken word lit", font="Lexend Bold", size=0.072,
            cell=1.59, colour="#FFFFFF", spoken="#F0B429", edge="outline", edge_colour="#161A22", edge_size=0.0065,
            limits=Limits(line_characters=18, lines=2, shortest_ms=700, longest_ms=3000, fastest_cps=24),
        ),
        CaptionStyle(
            id="slate", name="Slate", said="two calm lines on a dark plate", font="Atkinson Hyperlegible Bold", size=0.058,
            cell=1.24, colour="#FAF7F0", spoken=None, edge="box", edge_colour="#161A22", edge_size=0.014,
            limits=Limits(line_characters=26, lines=2, shortest_ms=1000, longest_ms=6000, fastest_cps=20),
        ),
        CaptionStyle(
            id="print", name="Print", said="a reading face, for a quiet voice", font="Nimble Serif SemiBold", size=0.062,
            cell=1.333, colour="#FAF7F0", spoken=None, edge="outline", edge_colour="#1C2330", edge_size=0.005,
            limits=Limits(line_characters=24, lines=2, shortest_ms=1000, longest_ms=6000, fastest_cps=20),
        ),
    ),
    faces=(
        Face(name="Atkinson Hyperlegible Bold", file="AtkinsonHyperlegible_700Bold.ttf"),
        Face(name="Lexend Bold", file="Lexend_700Bold.ttf"),
        Face(name="Nimble Serif SemiBold", file="NimbleSerif_600SemiBold.ttf"),
    ),
)  # fmt: skip
DESTINATIONS = {one.id: one for one in CATALOGUE.destinations}
STYLES = {one.id: one for one in CATALOGUE.styles}
