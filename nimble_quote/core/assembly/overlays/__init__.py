"""The overlays of an Assembly: when each shows, where it stands in this shape, and as what.

Each kind is resolved by one function of `_KINDS`, from the overlay and what is around it.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import cached_property

from nimble_quote.core.assembly.bands import bands_of
from nimble_quote.core.assembly.captions import caption_area, letters_for
from nimble_quote.core.assembly.faces import ShownFace, areas_of_faces
from nimble_quote.core.assembly.model import Assembly
from nimble_quote.core.assembly.overlays.cards import Piece, card_of, pieces_of
from nimble_quote.core.assembly.overlays.drawn import (
    box_of_picture,
    levels_of_wave,
    step_of_wave,
    strips_of,
    strokes_of,
)
from nimble_quote.core.assembly.overlays.marking import marked
from nimble_quote.core.assembly.overlays.places import (
    MARGIN,
    Obstacle,
    Stands,
    Wanted,
    clear,
    stands,
    wished,
)
from nimble_quote.core.assembly.overlays.texts import Block, Texts, block_of, seconds_left
from nimble_quote.core.assembly.overlays.when import frames_of_when
from nimble_quote.core.assembly.placed import (
    PlacedBar,
    PlacedClock,
    PlacedCode,
    PlacedFootage,
    PlacedLines,
    PlacedOverlay,
    PlacedPicture,
    PlacedSpotlight,
    PlacedStrokes,
    PlacedWave,
)
from nimble_quote.core.captions.making import Letters
from nimble_quote.core.captions.styles import block_height
from nimble_quote.core.captions.words import CaptionWord
from nimble_quote.core.context import Context
from nimble_quote.core.destinations import Area
from nimble_quote.core.document import (
    Cover,
    EndCard,
    Footage,
    Insert,
    Lines,
    Logo,
    Mark,
    NameStrap,
    Overlay,
    Progress,
    QuoteDocument,
    SoundWave,
    TimeLeft,
    TitleLines,
    View,
    Wish,
)
from nimble_quote.core.document.overlays import ALONE
from nimble_quote.core.framing.window import even, filling
from nimble_quote.core.timebase import frame_at

WISHES: dict[str, Wish] = {
    "lines": "top", "title": "top", "name-strap": "above-captions", "time-left": "top-right", "logo": "top-right",
    "sound-wave": "middle", "insert": "top-right", "end-card": "middle", "cover": "top",
}  # fmt: skip
"""Where things of a kind stand, where nobody says it."""
_CAPTIONS, _COVERED, _FACE, _OTHER = 6.0, 4.0, 3.0, 2.0
"""What is dearest to be kept clear."""
TITLE = "{title}"
"""Stands for the title of the quote, so that one finish serves many."""
_FADE_MS = 320
_CORNER = 0.42
"""How wide an insert in a corner is, in widths of the output."""
PLACED = ("lines", "title", "name-strap", "time-left", "sound-wave", "logo")
"""Kinds that a place is found for."""


@dataclass(kw_only=True)
class _Around:
    """What is around the overlays of a version: it, without them; what is said; the faces that are followed; and, growing as they
    are placed, what stands already."""

    document: QuoteDocument
    context: Context
    words: Sequence[CaptionWord]
    assembly: Assembly
    letters: Letters
    faces: Sequence[ShownFace]
    taken: list[tuple[int, int, Obstacle]] = field(default_factory=list)

    @property
    def output(self) -> tuple[int, int]:
        return self.assembly.destination.size

    @cached_property
    def captions(self) -> list[tuple[int, int, Area]]:
        """When captions show, and what they take: all of the width that they may, so that nothing stands beside them."""
        return [
            (cue.first_frame, cue.end_frame, area.model_copy(update={"x": (1 - look.width) / 2, "width": look.width}))
            for track in self.assembly.cue_tracks
            for cue in track.cues
            for look in (track.look.with_changes(cue.look),)
            for area in (caption_area(cue, track, self.context, self.assembly.destination),)
        ]

    def captions_top(self, first: int, end: int) -> float:
        """Where captions begin, from the top, that show between two frames; the bottom where none do."""
        return min((area.y for a, b, area in self.captions if a < end and first < b), default=1 - MARGIN)

    def in_the_way(self, first: int, end: int) -> list[Obstacle]:
        """What is in the way between two frames, each once."""
        found = [Obstacle(area=area, weight=_COVERED) for area in self.assembly.destination.covered]
        found += [Obstacle(area=area, weight=_CAPTIONS) for area in _distinct(self.captions, first, end)]
        faces = areas_of_faces(self.faces, first, end, self.assembly)
        found += [Obstacle(area=area, weight=_FACE) for area in _merged(faces)]
        return found + [one for a, b, one in self.taken if a < end and first < b]


def placed_overlays(
    document: QuoteDocument,
    context: Context,
    words: Sequence[CaptionWord],
    assembly: Assembly,
    faces: Sequence[ShownFace],
) -> tuple[PlacedOverlay, ...]:
    """The overlays of a version that show at some time, in their order, over an Assembly without any. One that is hidden, or whose
    words are not kept, sleeps."""
    letters = letters_for(document, context, assembly.destination)
    around = _Around(
        document=document, context=context, words=words, assembly=assembly, letters=letters, faces=faces
    )  # fmt: skip
    out: list[PlacedOverlay] = []
    for one in context.catalogue.overlays(document):
        shown = _when_shown(one, around) if one.what.kind in _KINDS else None
        if shown is not None and not one.hidden:
            by_hand = assembly.destination.shape in one.placed
            made = [each.model_copy(update={"by_hand": by_hand}) for each in _KINDS[one.what.kind](one, shown, around)]
            if one.what.kind in PLACED or (isinstance(one.what, Insert) and one.what.covers == "corner"):
                around.taken += [(*shown, Obstacle(area=each.area, weight=_OTHER)) for each in made]
            out += made
    return tuple(out)


Shown = tuple[int, int]
_TO_THE_END = ("progress", "time-left")
"""Kinds that go on over the end card: they tell how long the whole clip is."""


def _when_shown(one: Overlay, around: _Around) -> Shown | None:
    """The frames in which an overlay shows: over the cut, but for the cover and the end card, which are before and after it."""
    assembly, kind = around.assembly, one.what.kind
    first, end = assembly.body
    if kind in ALONE:
        if around.context.catalogue.alone(around.document, kind) != one:
            return None
        shown = (0, first) if kind == "cover" else (end, assembly.frames)
    else:
        until = assembly.frames if kind in _TO_THE_END else end
        found = frames_of_when(one.when, around.context, around.words, assembly.rate, until)
        if found is None:
            return None
        shown = max(first, found[0]), found[1]
    return shown if shown[0] < shown[1] else None


def _texts(one: Overlay, shown: Shown, around: _Around) -> Iterator[PlacedOverlay]:
    what = one.what
    if isinstance(what, Cover):
        if not what.text:
            return
        what = TitleLines(text=what.text, look=what.look)
    assert isinstance(what, Lines | TitleLines | NameStrap | TimeLeft)
    texts = _said(what, shown, around)
    block = block_of(what, *texts, around.letters)
    if block is None:
        return
    place = _place(one, block.width, block.height, shown, around)
    yield from _block(block, place, what, one, shown, around)


def _block(
    block: Block, place: Stands, what: Texts, one: Overlay, shown: Shown, around: _Around
) -> Iterator[PlacedOverlay]:
    top = place.area.y
    for part in block.parts:
        high = min(1.0, block_height(part.look, len(part.lines), around.output))
        area = place.area.model_copy(update={"y": min(top, 1 - high), "height": high})
        top += high
        told = {"item": one.id, "first_frame": shown[0], "end_frame": shown[1], "area": area, "free": place.free,
                "look": part.look, "language": around.letters.language.code}  # fmt: skip
        if isinstance(what, TimeLeft):
            times = seconds_left(*shown, around.assembly.frames, around.assembly.rate)
            yield PlacedClock.model_validate({**told, "times": times})
        else:
            yield PlacedLines.model_validate({**told, "lines": part.lines, "whole": part.whole})


def _card(one: Overlay, shown: Shown, around: _Around) -> Iterator[PlacedOverlay]:
    """An end card: its pieces one under the other, in the middle of what is free."""
    what = one.what
    assert isinstance(what, EndCard)
    behind = what.colour or around.context.catalogue.colour
    logo = around.context.catalogue.picture(what.picture) if what.picture is not None else None
    told = what.model_copy(update={field: _titled(getattr(what, field), around) for field in ("text", "second")})
    pieces = pieces_of(told, behind, (logo.width, logo.height) if logo else None, around.letters)
    if not pieces:
        return
    width, height = card_of(pieces)
    place = _place(one, min(1.0, width), min(1.0, height), shown, around)
    top = place.area.y
    for piece in pieces:
        x = place.area.x + (place.area.width - piece.width) / 2
        area = Area(x=max(0.0, x), y=min(top, 1 - piece.height), width=piece.width, height=piece.height, name="overlay")
        top += piece.height + piece.air
        yield from _piece(piece, Stands(area=area, free=place.free), one, what, shown, around)


def _piece(
    piece: Piece, place: Stands, one: Overlay, what: EndCard, shown: Shown, around: _Around
) -> Iterator[PlacedOverlay]:
    width, height = around.output
    if piece.block is not None and piece.texts is not None:
        yield from _block(piece.block, place, piece.texts, one, shown, around)
    elif piece.rows:
        x, y = even(place.area.x * width), even(place.area.y * height)
        yield PlacedCode(
            item=one.id, first_frame=shown[0], end_frame=shown[1], area=place.area, free=place.free, rows=piece.rows,
            cell_px=piece.cell_px, x_px=x, y_px=y,
        )  # fmt: skip
    elif what.picture is not None:
        size = even(place.area.width * width), even(place.area.height * height)
        yield _picture(one, what.picture, shown, around, place, size)


def _titled(text: str, around: _Around) -> str:
    return text.replace(TITLE, around.document.title)


def _said(what: Lines | TitleLines | NameStrap | TimeLeft, shown: Shown, around: _Around) -> tuple[str, str]:
    if isinstance(what, TimeLeft):
        # As wide as the longest of its times, in the widest of figures.
        longest = seconds_left(*shown, around.assembly.frames, around.assembly.rate)[0].text
        return "".join("0" if one.isdigit() else one for one in longest), ""
    if isinstance(what, NameStrap):
        name = what.name or _who_speaks(shown, around)
        return name, what.role or around.context.catalogue.roles.get(name, "")
    text, second = what.text, what.second if isinstance(what, TitleLines) else ""
    return _titled(text, around), _titled(second, around)


def _who_speaks(shown: Shown, around: _Around) -> str:
    """The name of who says the first word that is heard while something shows."""
    rate = around.assembly.rate
    for word in around.words:
        if word.end_ms * rate / 1000 > shown[0]:
            sentence = around.context.talk.sentence_of(word.index)
            return (sentence.speaker or "") if sentence else ""
    return ""


def _place(one: Overlay, width: float, height: float, shown: Shown, around: _Around, margin: float = MARGIN) -> Stands:
    """Where an overlay stands: where it was put by hand in this shape, or as near to its wish as is free."""
    shorter = min(around.output)
    margins = margin * shorter / around.output[0], margin * shorter / around.output[1]
    obstacles = around.in_the_way(*shown)
    by_hand = one.placed.get(around.assembly.destination.shape)
    if by_hand is not None:
        area = Area(
            x=_inside(by_hand.x - width / 2, width), y=_inside(by_hand.y - height / 2, height), width=width, height=height,
            name="overlay",
        )  # fmt: skip
        return Stands(area=area, free=clear(area, obstacles))
    wish = one.wish or WISHES[one.what.kind]
    x, y = wished(wish, width, height, around.captions_top(*shown), margins)
    if one.wish is None and one.what.kind in ("title", "lines"):
        y = _in_the_band(height, around) or y
    return stands(Wanted(width=width, height=height, x=x, y=y, margin=margins), obstacles)


def _in_the_band(height: float, around: _Around) -> float | None:
    """The middle of the band above the picture, where there is one and it has room."""
    place = around.assembly.destination
    for band in bands_of(around.assembly.picture, place, around.letters.look):
        top = max(
            (area.y + area.height for area in place.covered if area.width > 0.5 and area.y < band.top + 0.01),
            default=band.top,
        )
        if band.place == "above" and band.bottom - top >= height:
            return (top + band.bottom) / 2
    return None


def _progress(one: Overlay, shown: Shown, around: _Around) -> Iterator[PlacedOverlay]:
    what = one.what
    assert isinstance(what, Progress)
    strips = strips_of(what, around.output)
    whole = around.output
    one_strip = strips[0]
    area = Area(
        x=one_strip.x / whole[0], y=one_strip.y / whole[1], width=one_strip.width / whole[0],
        height=one_strip.height / whole[1], name="overlay",
    )  # fmt: skip
    colour = what.colour or around.context.catalogue.colour
    yield PlacedBar(
        item=one.id, first_frame=shown[0], end_frame=shown[1], area=area, strips=strips, colour=colour, track=what.track
    )


def _wave(one: Overlay, shown: Shown, around: _Around) -> Iterator[PlacedOverlay]:
    what = one.what
    assert isinstance(what, SoundWave)
    width, height = around.output
    wide, high = what.width, min(1.0, what.height * min(around.output) / height)
    if what.form == "ring":
        high = min(1.0, wide * width / height)
    place = _place(one, wide, high, shown, around)
    levels = levels_of_wave(what, around.assembly, around.context.talk.levels, *shown)
    yield PlacedWave(
        item=one.id, first_frame=shown[0], end_frame=shown[1], area=place.area, free=place.free, form=what.form,
        colour=what.colour or around.letters.look.colour, step_frames=step_of_wave(around.assembly), levels=levels,
    )  # fmt: skip


def _logo(one: Overlay, shown: Shown, around: _Around) -> Iterator[PlacedOverlay]:
    what = one.what
    assert isinstance(what, Logo)
    size = around.context.catalogue.picture(what.picture)
    of = (1, 1) if what.round else (size.width, size.height)
    wide, high = box_of_picture(what.size * min(around.output), of)
    place = _place(one, wide / around.output[0], high / around.output[1], shown, around, what.margin)
    made = _picture(one, what.picture, shown, around, place, (wide, high), what.opacity)
    yield made.model_copy(update={"round": what.round})


def _insert(one: Overlay, shown: Shown, around: _Around) -> Iterator[PlacedOverlay]:
    what = one.what
    assert isinstance(what, Insert)
    width, height = around.output
    film = what.footage
    shown = _as_long_as(film, shown, around) if film else shown
    size = film or around.context.catalogue.picture(what.picture or 0)
    fade = frame_at(_FADE_MS, around.assembly.rate) if what.comes == "fade" else 0
    if what.covers == "corner":
        wide, high = box_of_picture(_CORNER * width * max(1.0, size.height / size.width), (size.width, size.height))
        place = _place(one, wide / width, high / height, shown, around)
    elif what.covers == "half":
        upright = height >= width
        wide, high = (width, even(height / 2)) if upright else (even(width / 2), height)
        place = _half(one, upright, shown, around)
    else:
        wide, high = width, height
        place = Stands(area=Area(x=0, y=0, width=1, height=1, name="overlay"), free=True)
    fade = min(fade, (shown[1] - shown[0]) // 2)
    if film:
        x, y = (min(even(at * side), side - long) for at, side, long in
                ((place.area.x, width, wide), (place.area.y, height, high)))  # fmt: skip
        yield PlacedFootage(
            item=one.id, first_frame=shown[0], end_frame=shown[1], area=place.area, free=place.free, recording=film.recording, heard=film.heard,
            source_frame=frame_at(film.from_ms, around.assembly.rate), source_width=film.width, source_height=film.height,
            window=filling(View(), (film.width, film.height), (wide, high)), x_px=x, y_px=y, width_px=wide,
            height_px=high, fade_frames=fade,
        )  # fmt: skip
        return
    made = _picture(one, what.picture or 0, shown, around, place, (wide, high), fade_frames=fade)
    yield made.model_copy(update={"push": what.push})


def _as_long_as(film: Footage, shown: Shown, around: _Around) -> Shown:
    """When footage shows: no longer than there is of it."""
    left = frame_at(max(0, film.duration_ms - film.from_ms), around.assembly.rate)
    return shown[0], min(shown[1], shown[0] + max(1, left))


def _half(one: Overlay, upright: bool, shown: Shown, around: _Around) -> Stands:
    """The half of the output that covers fewer faces; the first where it is all the same."""
    faces = [each for each in around.in_the_way(*shown) if each.weight == _FACE]
    halves = [Area(x=0, y=y, width=1, height=0.5, name="overlay") if upright else Area(x=y, y=0, width=0.5, height=1, name="overlay")
              for y in (0.0, 0.5)]  # fmt: skip
    by_hand = one.placed.get(around.assembly.destination.shape)
    if by_hand is not None:
        second = (by_hand.y if upright else by_hand.x) > 0.5
        return Stands(area=halves[second], free=clear(halves[second], faces))
    hit = [sum(each.area.meets(half) for each in faces) for half in halves]
    chosen = int(hit[1] < hit[0])
    return Stands(area=halves[chosen], free=hit[chosen] == 0)


def _picture(
    one: Overlay,
    picture: int,
    shown: Shown,
    around: _Around,
    place: Stands,
    size: tuple[int, int],
    opacity: float = 1.0,
    fade_frames: int = 0,
) -> PlacedPicture:
    # The burn-in halves the colours' planes, and would snap what stands on odd pixels.
    x, y = even(place.area.x * around.output[0]), even(place.area.y * around.output[1])
    return PlacedPicture(
        item=one.id, first_frame=shown[0], end_frame=shown[1], area=place.area, free=place.free, picture=picture,
        revision=around.context.catalogue.picture(picture).revision,
        x_px=min(x, around.output[0] - size[0]), y_px=min(y, around.output[1] - size[1]), width_px=size[0], height_px=size[1],
        opacity=opacity, fade_frames=fade_frames,
    )  # fmt: skip


def _mark(one: Overlay, shown: Shown, around: _Around) -> Iterator[PlacedOverlay]:
    """A mark where the recording's picture is shown; where what it marks is not in the window, it is not there."""
    what = one.what
    assert isinstance(what, Mark)
    place = marked(what, shown, around.assembly, around.context.sight)
    if place is None:
        return
    width, height = around.output
    wide = max(1.0, what.width * min(around.output))
    strokes = strokes_of(what, place.panel, shown[0], wide)
    spots = [spot for stroke in strokes for spot in stroke]
    xs, ys = [spot.x for spot in spots], [spot.y for spot in spots]
    left, top = max(0.0, min(xs) / width), max(0.0, min(ys) / height)
    area = Area(x=min(1.0, left), y=min(1.0, top), width=max(0.0, min(1.0, max(xs) / width) - left),
                height=max(0.0, min(1.0, max(ys) / height) - top), name="overlay")  # fmt: skip
    frames = min(frame_at(what.draws_ms, around.assembly.rate), place.end - shown[0])
    told = {"item": one.id, "first_frame": shown[0], "end_frame": place.end, "area": area, "path": place.path}
    if what.form == "spotlight":
        yield PlacedSpotlight.model_validate({
            **told, "x_px": (min(xs) + max(xs)) / 2, "y_px": (min(ys) + max(ys)) / 2, "across_px": max(2.0, (max(xs) - min(xs)) / 2),
            "down_px": max(2.0, (max(ys) - min(ys)) / 2), "darkness": what.darkness, "fade_frames": frames,
        })  # fmt: skip
        return
    colour = what.colour or around.context.catalogue.colour
    yield PlacedStrokes.model_validate(
        {**told, "strokes": strokes, "width_px": wide, "draw_frames": frames, "colour": colour}
    )


_KINDS: dict[str, Callable[[Overlay, Shown, _Around], Iterator[PlacedOverlay]]] = {
    "lines": _texts,
    "title": _texts,
    "name-strap": _texts,
    "time-left": _texts,
    "progress": _progress,
    "sound-wave": _wave,
    "logo": _logo,
    "insert": _insert,
    "mark": _mark,
    "end-card": _card,
    "cover": _texts,
}


def _distinct(shown: Sequence[tuple[int, int, Area]], first: int, end: int) -> list[Area]:
    """What shows between two frames, of those at one place the largest."""
    found: dict[float, Area] = {}
    for a, b, area in shown:
        if a < end and first < b:
            middle = round(area.y + area.height / 2, 2)
            if middle not in found or area.height > found[middle].height:
                found[middle] = area
    return list(found.values())


_CELL = 0.04


def _merged(areas: Iterator[Area]) -> list[Area]:
    """Areas that are nearly at one place as one that holds them: a face that hardly moves is seen many times."""
    found: dict[tuple[int, ...], Area] = {}
    for area in areas:
        cell = (int(area.x / _CELL), int(area.y / _CELL), int(area.width / _CELL), int(area.height / _CELL))
        found[cell] = _around_both(found[cell], area) if cell in found else area
    return list(found.values())


def _around_both(one: Area, other: Area) -> Area:
    x, y = min(one.x, other.x), min(one.y, other.y)
    right, bottom = max(one.x + one.width, other.x + other.width), max(one.y + one.height, other.y + other.height)
    return Area(x=x, y=y, width=right - x, height=bottom - y, name=one.name)


def _inside(start: float, length: float) -> float:
    return min(max(0.0, start), max(0.0, 1 - length))
