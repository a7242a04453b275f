"""How a version is framed: for each stretch of its cut a layout with its cameras, in words, and what is doubtful."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TypeVar, cast

from nimble_quote.core.context import Context, Sight
from nimble_quote.core.cutting.kept import kept_spans
from nimble_quote.core.destinations import Destination
from nimble_quote.core.document import Choice, Framing, QuoteDocument, View
from nimble_quote.core.framing.answering import Answer, answer_for
from nimble_quote.core.framing.camera import Gate, Watched, closeness_of_camera, follow, watched
from nimble_quote.core.framing.clearing import Free, free_height
from nimble_quote.core.framing.composing import closeness_said
from nimble_quote.core.framing.doubting import doubts_of
from nimble_quote.core.framing.framed import FramedShot
from nimble_quote.core.framing.graphics import clear_of, cut_at
from nimble_quote.core.framing.layouts import (
    Behind,
    Box,
    Boxes,
    Camera,
    Hold,
    Layout,
    Move,
    Single,
    Tile,
    Tiles,
    Whole,
    pixels_of,
    tile_boxes,
)
from nimble_quote.core.framing.lighting import Light, light_on
from nimble_quote.core.framing.naming import Turn
from nimble_quote.core.framing.saying import called, framing_said
from nimble_quote.core.framing.scenes import Scene, scene_of, turns_of
from nimble_quote.core.framing.sharpness import sharpness_of_picture
from nimble_quote.core.framing.stretches import choice_for, pieces_of, stretches
from nimble_quote.core.framing.toning import tone_of
from nimble_quote.core.framing.views import moves_of
from nimble_quote.core.framing.window import fitting
from nimble_quote.core.refusal import Refused
from nimble_quote.core.timebase import Span

T = TypeVar("T")
Size = tuple[int, int]


class NoPicture(Refused):
    """A recording of sound only has nothing to frame."""

    code = "no-picture"

    def __init__(self) -> None:
        super().__init__("This recording has sound only: there is no picture to frame.")


Rectangle01 = tuple[float, float, float, float]
_ALL: Rectangle01 = (0.0, 0.0, 1.0, 1.0)
_SLIDE_CLOSE = 1.6
"""How close a talking head beside a slide is shown."""
_GAP = 0.02
"""The free part of the output between a slide and who speaks, and around them."""


@dataclass(frozen=True, kw_only=True)
class Surround:
    """What is around the picture of a version: the part of its height that nothing stands over, and the colour that stands
    behind where none is chosen."""

    free: Free = (0.0, 1.0)
    colour: str = Behind().colour


def _surround(document: QuoteDocument, destination: Destination, context: Context) -> Surround:
    return Surround(free=free_height(document, destination, context.catalogue), colour=context.catalogue.colour)


def framed_shots(
    document: QuoteDocument, context: Context, source: Size, destination: Destination, kept: Sequence[Span]
) -> tuple[FramedShot, ...]:
    """How the version for a destination is framed, which keeps some spans: stretch after stretch, in order of time."""
    levels = levels_for(document, destination)
    turns = turns_of(context.talk, document.span)
    output = destination.width, destination.height
    around = _surround(document, destination, context)
    made = []
    for span in stretches_of_cut(document, context):
        pieces = pieces_of(span, kept)
        if pieces:
            made.append(
                _framed_once(span, pieces, turns, choice_for(span, levels), context.sight, source, output, around)
            )
    return tuple(made)


def framed_shot(document: QuoteDocument, context: Context, destination_id: str, span: Span) -> FramedShot:
    """How a version frames one stretch, whether or not it keeps any of it. Raises `NoPicture`."""
    if 0 in context.sight.size:
        raise NoPicture
    destination = context.catalogue.destination(destination_id)
    pieces = pieces_of(span, kept_spans(document, destination_id)) or (span,)
    turns, output = turns_of(context.talk, document.span), (destination.width, destination.height)
    choice = choice_for(span, levels_for(document, destination))
    around = _surround(document, destination, context)
    return _framed_once(span, pieces, turns, choice, context.sight, context.sight.size, output, around)


def _framed_once(
    span: Span, pieces: tuple[Span, ...], turns: tuple[Turn, ...], choice: Choice, sight: Sight, source: Size, output: Size,
    around: Surround,
) -> FramedShot:  # fmt: skip
    about = tuple(one for one in turns if one.start_ms < span.end_ms and one.end_ms > span.start_ms)

    def scene() -> Scene:
        return _once(sight, ("scene", pieces, about), lambda: scene_of(span, pieces, sight, about))

    key = ("framed", span, pieces, about, choice, source, output, around)
    return _once(sight, key, lambda: framed(scene(), choice, sight, source, output, around))


def stretches_of_cut(document: QuoteDocument, context: Context) -> tuple[Span, ...]:
    """The stretches that are framed each by itself: shots, and what a person parted of them in any shape."""
    shots = [shot.span for shot in context.sight.shots] or [Span(start_ms=0, end_ms=max(1, context.talk.duration_ms))]
    return stretches(shots, [one for level in levels_of(document) for one in level.shots])


MOST_FOLLOWED_MS = 10 * 60_000
"""Nothing is followed for longer at once."""
_BEYOND_MS = 10_000


def followed_span(document: QuoteDocument, context: Context, at_ms: int) -> Span:
    """The stretch that something drawn at a moment is followed through: its shot, as far as the quote reaches and a little
    beyond, about that moment. Raises `NoPicture` where the recording has none then."""
    shot = next((one.span for one in context.sight.shots if one.span.holds(at_ms)), None)
    if shot is None:
        raise NoPicture
    quote = document.span
    start = max(shot.start_ms, min(at_ms, quote.start_ms - _BEYOND_MS), at_ms - MOST_FOLLOWED_MS // 2)
    end = min(shot.end_ms, max(at_ms + 1, quote.end_ms + _BEYOND_MS), at_ms + MOST_FOLLOWED_MS // 2)
    return Span(start_ms=start, end_ms=end)


def levels_for(document: QuoteDocument, destination: Destination) -> tuple[Framing, Framing]:
    """The framings that hold for a version, the nearer one last."""
    return document.framing, document.treatment(destination.id, destination.shape).framing


_PICTURES = ("picture", "soft-picture")
"""A picture of the house's, as it is or blurred."""


def behind_of(choice: Choice, first: Behind) -> Behind:
    """What was chosen to stand behind a picture that leaves some of the output free."""
    kind = choice.backdrop or first.kind
    return Behind(
        # Without a picture that is told, what there would be without one.
        kind=first.kind if kind in _PICTURES and choice.picture is None else kind,
        colour=choice.colour or first.colour,
        picture=choice.picture if kind in _PICTURES else None,
        blur=choice.blur or first.blur,
    )


def levels_of(document: QuoteDocument) -> list[Framing]:
    """All framings of a document: of all shapes, of each shape, of versions that are treated by themselves."""
    alone = [version.treatment for version in document.versions if version.treatment is not None]
    return [document.framing, *(one.framing for one in (*document.treatments.values(), *alone))]


@dataclass(frozen=True, kw_only=True)
class _Panel:
    """A box of a layout, whom its camera follows, and how close it is at first."""

    gate: Gate
    subjects: tuple[int, ...] = ()
    close: float | None = None


def framed(
    scene: Scene, choice: Choice, sight: Sight, source: Size, output: Size, around: Surround | None = None
) -> FramedShot:  # fmt: skip
    """How one stretch is framed in a shape."""
    around = around or Surround()
    gate = Gate(source=source, box=output)
    answer = answer_for(scene, choice, gate)
    inset = scene.tracks[answer.subjects[0]].inset if answer.subjects else None
    panels = _panels(answer, choice, (source, output), around.free, inset)
    cameras = [_camera(number, panel, scene, choice, sight) for number, panel in enumerate(panels)]
    following = [(panel, camera) for panel, camera in zip(panels, cameras, strict=True) if panel.subjects]
    seen = [_watched(panel, camera, scene, sight) for panel, camera in following]
    close = _closeness(following, scene)
    moves = sum(moves_of(camera) for camera in cameras)
    layout = _layout(answer, choice, cameras, source, output)
    who = [called(one, sight.names, thing=scene.tracks[one].thing, others=sight.several) for one in answer.subjects]
    return FramedShot(
        span=scene.span,
        kept=scene.pieces,
        layout=layout,
        behind=behind_of(choice, Behind(kind="colour" if answer.name == "slide" else "blur", colour=around.colour)),
        tone=tone_of(choice),
        lights=_lights(panels, scene, choice),
        name=answer.name,
        subjects=answer.subjects,
        closeness=round(close, 3),
        close_says=closeness_said(close),
        choice=choice,
        says=framing_said(answer.name, who, moves, close, choice),
        moves=moves,
        heads_inside=min((one.heads for one in seen), default=None),
        bodies_inside=min((one.bodies for one in seen), default=None),
        sharpness=sharpness_of_picture(1 / _enlarged(layout, panels, cameras, source, output)),
        doubts=doubts_of(
            scene,
            seen,
            [panel.gate.enlarged(1.0) for panel, _ in following],
            choice,
            all_of_it=gate.all_of_it,
            graphic_ms=_graphic_ms(panels, cameras, sight),
        ),
    )


def _panels(
    answer: Answer, choice: Choice, sizes: tuple[Size, Size], free: Free, inset: Rectangle01 | None
) -> list[_Panel]:  # fmt: skip
    """The boxes of a layout and whom each shows; none for the whole picture, which no camera is solved for. `sizes` are those of
    the source and the output; `inset` is the picture that who speaks stands in."""
    source, output = sizes
    if answer.name == "whole":
        return []
    if answer.name in ("stacked", "beside"):
        tiles = _tiles(answer, choice, [Hold()] * max(2, len(answer.subjects)))
        boxes = [(width, height) for _, _, width, height in tile_boxes(tiles, output)]
        whom = [(who,) for who in answer.subjects] + [()] * (2 - len(answer.subjects))
        return [_Panel(gate=Gate(source=source, box=size), subjects=who) for size, who in zip(boxes, whom, strict=True)]
    if answer.name == "slide":
        upper, lower = (
            (width, height) for _, _, width, height in (pixels_of(box, output) for box in slide_boxes(source, output))
        )
        return [
            _Panel(gate=Gate(source=source, box=upper)),
            _Panel(
                gate=Gate(source=source, box=lower, within=inset or _ALL), subjects=answer.subjects, close=_SLIDE_CLOSE
            ),
        ]
    return [_Panel(gate=Gate(source=source, box=output, free=free), subjects=answer.subjects)]


def slide_boxes(source: Size, output: Size) -> tuple[Box, Box]:
    """Where a slide stands, as wide as the output, and who speaks under it, no wider than three quarters of that."""
    slide = min(0.55, source[1] / source[0] * output[0] / output[1])
    room = 1 - slide - 3 * _GAP
    height = min(room, 0.75 * output[0] / output[1])
    top = max(_GAP, (1 - slide - _GAP - height) * 0.45)
    wide = min(0.75, height * 1.25 * output[1] / output[0])
    return (
        Box(x=0, y=top, width=1, height=slide),
        Box(x=(1 - wide) / 2, y=top + slide + _GAP, width=wide, height=height),
    )


def _camera(number: int, panel: _Panel, scene: Scene, choice: Choice, sight: Sight) -> Camera:
    """The camera of a panel: as it was placed by hand, or solved."""
    placed = next((one for one in choice.placed or () if one.panel == number), None)
    if placed is not None:
        if len(placed.rests) == 1:
            return Hold(at=placed.rests[0].at)
        return Move(rests=placed.rests, ease=placed.ease)
    if not panel.subjects:
        return Hold()
    close = choice.closeness if choice.closeness is not None else panel.close
    moves = choice.moves or "usual"
    key = ("follow", panel.subjects, scene.pieces, panel.gate, close, moves)
    tracks = [scene.tracks[who] for who in panel.subjects]
    solved = _once(sight, key, lambda: follow(tracks, scene.pieces, panel.gate, close, moves))
    if not sight.graphics:
        return solved
    shows = _watched(panel, solved, scene, sight)

    def as_good(tried: Camera) -> bool:
        """Whether no head and no shoulders are outside that were inside."""
        seen = _watched(panel, tried, scene, sight)
        return seen.heads >= shows.heads and seen.bodies >= shows.bodies

    return _once(sight, ("clear", *key), lambda: clear_of(solved, sight.graphics, panel.gate, as_good))


def _graphic_ms(panels: Sequence[_Panel], cameras: Sequence[Camera], sight: Sight) -> int | None:
    """When a camera first cuts through a graphic; a panel that shows all it can cuts none."""
    cut = (cut_at(camera, sight.graphics, panel.gate) for panel, camera in zip(panels, cameras, strict=True))
    return min((ms for ms in cut if ms is not None), default=None)


def _lights(panels: Sequence[_Panel], scene: Scene, choice: Choice) -> tuple[Light, ...]:
    """The light on each face that a panel follows first, where some was chosen."""
    if not choice.lift:
        return ()
    faces = [(number, scene.tracks[panel.subjects[0]]) for number, panel in enumerate(panels) if panel.subjects]
    return tuple(light_on(number, choice.lift, face, scene.pieces) for number, face in faces if not face.thing)


def _watched(panel: _Panel, camera: Camera, scene: Scene, sight: Sight) -> Watched:
    key = ("watched", panel.subjects, scene.pieces, panel.gate, camera)
    tracks = [scene.tracks[who] for who in panel.subjects]
    return _once(sight, key, lambda: watched(camera, tracks, scene.pieces, panel.gate))


_MOST_KEPT = 4000


def _once(sight: Sight, key: tuple[object, ...], work: Callable[[], T]) -> T:
    """What some work gives, done once for as long as the same is seen."""
    if key not in sight.solved:
        if len(sight.solved) > _MOST_KEPT:
            sight.solved.clear()
        sight.solved[key] = work()
    return cast(T, sight.solved[key])


def _closeness(following: Sequence[tuple[_Panel, Camera]], scene: Scene) -> float:
    if not following:
        return 1.0
    panel, camera = following[0]
    return closeness_of_camera(camera, [scene.tracks[who] for who in panel.subjects], scene.pieces, panel.gate)


def _layout(answer: Answer, choice: Choice, cameras: Sequence[Camera], source: Size, output: Size) -> Layout:
    if answer.name == "whole":
        placed = choice.placed[0].rests[0].at if choice.placed else View()
        at = View(x=placed.x, y=placed.y)
        return Whole(at=at, size=choice.size or 1.0, height=0.5 if choice.height is None else choice.height)
    if answer.name in ("stacked", "beside"):
        return _tiles(answer, choice, cameras)
    if answer.name == "slide":
        boxes = slide_boxes(source, output)
        return Boxes(
            boxes=tuple(box.model_copy(update={"camera": camera}) for box, camera in zip(boxes, cameras, strict=True))
        )
    return Single(camera=cameras[0])


def _tiles(answer: Answer, choice: Choice, cameras: Sequence[Camera]) -> Tiles:
    first = 0.5 if choice.share is None else choice.share
    shares = [first, *[(1 - first) / (len(cameras) - 1)] * (len(cameras) - 1)]
    tiles = tuple(Tile(camera=camera, share=share) for camera, share in zip(cameras, shares, strict=True))
    return Tiles(arrangement="stacked" if answer.name == "stacked" else "beside", tiles=tiles)


def _enlarged(layout: Layout, panels: Sequence[_Panel], cameras: Sequence[Camera], source: Size, output: Size) -> float:
    """How many times the picture is enlarged, where it is most."""
    if layout.kind == "whole":
        window, box = fitting(layout.at, source, output, layout.size)
        return box[2] / (window.width * source[0])
    zooms = [
        camera.at.zoom if camera.kind == "hold" else max(rest.at.zoom for rest in camera.rests) for camera in cameras
    ]
    return max(panel.gate.enlarged(zoom) for panel, zoom in zip(panels, zooms, strict=True))
