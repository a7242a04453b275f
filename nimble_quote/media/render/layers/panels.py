"""Panels: windows of the source cut out and scaled to their boxes.

A window edge rarely falls on a whole source pixel (a 9:16 window of 1080 lines is 607.5 wide). Cropping a little wide to
even pixels, scaling, and cropping what is left over in output pixels places it to a part of a pixel without stretching
anything. Where the window moves, both crops follow it by expressions in `n`, the number of the frame in its branch.
"""

from collections.abc import Callable, Sequence
from math import ceil

from nimble_quote.core.assembly import Panel, PictureRun, SourceSize
from nimble_quote.core.framing.window import Window
from nimble_quote.media.render.graph import Filter, Graph, Label, node, quoted
from nimble_quote.media.render.layers.light import draw_light
from nimble_quote.media.render.paths import straight

_SAME = 1e-9
_CLOSER, _WIDER = "lanczos", "bicubic"
"""How a picture is enlarged, and made smaller: enlarged this keeps a little more of it, at 3 ms a frame."""
_ROOM_PX = 2


def draw_panels(graph: Graph, source: Label, runs: Sequence[PictureRun], size: SourceSize) -> list[tuple[Panel, Label]]:
    """Each panel of some runs that share their boxes, drawn in its box."""
    panels = runs[0].panels
    ways = graph.split(source, len(panels))
    drawn = []
    for index, (panel, way) in enumerate(zip(panels, ways, strict=True)):
        shown = [run.panels[index] for run in runs]
        label = graph.through(way, *window_filters(shown, runs, size))
        drawn.append((panel, draw_light(graph, label, shown, runs)))
    return drawn


def window_filters(panels: Sequence[Panel], runs: Sequence[PictureRun], size: SourceSize) -> list[Filter]:
    """The filters that fill one box from the windows it has in some runs."""
    windows = [key.window for panel in panels for key in panel.keys]
    if all(window == windows[0] for window in windows):
        return _still(windows[0], panels[0], size)
    if all(abs(window.width - windows[0].width) < _SAME for window in windows):
        return _panning(panels, runs, size)
    return _zooming(panels, runs, size)


def _still(window: Window, panel: Panel, size: SourceSize) -> list[Filter]:
    x, crop_width = _even_around(window.x * size.width, window.width * size.width, size.width)
    y, crop_height = _even_around(window.y * size.height, window.height * size.height, size.height)
    scale = panel.width_px / (window.width * size.width)
    full_width = max(panel.width_px, round(crop_width * scale / 2) * 2)
    full_height = max(panel.height_px, round(crop_height * scale / 2) * 2)
    left = min(round((window.x * size.width - x) * scale), full_width - panel.width_px)
    top = min(round((window.y * size.height - y) * scale), full_height - panel.height_px)
    return [
        node("crop", crop_width, crop_height, x, y),
        node("scale", full_width, full_height, flags=_CLOSER if scale > 1 else _WIDER),
        node("crop", panel.width_px, panel.height_px, left, top, exact=1),
    ]


def _panning(panels: Sequence[Panel], runs: Sequence[PictureRun], size: SourceSize) -> list[Filter]:
    """A window that keeps its size: the same as where it is still, with places that move."""
    panel, window = panels[0], panels[0].keys[0].window
    scale = panel.width_px / (window.width * size.width)
    crop_width = min(size.width, _even_up(window.width * size.width) + _ROOM_PX)
    crop_height = min(size.height, _even_up(window.height * size.height) + _ROOM_PX)
    full_width = max(panel.width_px, round(crop_width * scale / 2) * 2)
    full_height = max(panel.height_px, round(crop_height * scale / 2) * 2)
    x = _path(panels, runs, lambda window: window.x * size.width)
    y = _path(panels, runs, lambda window: window.y * size.height)
    crop_x, crop_y = _even_inside(x, size.width - crop_width), _even_inside(y, size.height - crop_height)
    left = f"clip(round(({x}-{crop_x})*{scale:.8f}),0,{full_width - panel.width_px})"
    top = f"clip(round(({y}-{crop_y})*{scale:.8f}),0,{full_height - panel.height_px})"
    return [
        node("crop", crop_width, crop_height, quoted(crop_x), quoted(crop_y)),
        node("scale", full_width, full_height, flags=_CLOSER if scale > 1 else _WIDER),
        node("crop", panel.width_px, panel.height_px, quoted(left), quoted(top), exact=1),
    ]


def _zooming(panels: Sequence[Panel], runs: Sequence[PictureRun], size: SourceSize) -> list[Filter]:
    """A window that changes its size: the largest is cropped around it, and scaled anew for each frame."""
    panel = panels[0]
    windows = [key.window for one in panels for key in one.keys]
    crop_width = min(size.width, _even_up(max(w.width for w in windows) * size.width) + _ROOM_PX)
    crop_height = min(size.height, _even_up(max(w.height for w in windows) * size.height) + _ROOM_PX)
    x = _path(panels, runs, lambda window: window.x * size.width)
    y = _path(panels, runs, lambda window: window.y * size.height)
    wide = _path(panels, runs, lambda window: window.width * size.width)
    scale = f"({panel.width_px}/({wide}))"
    crop_x, crop_y = _even_inside(x, size.width - crop_width), _even_inside(y, size.height - crop_height)
    # Never smaller than the box, or there would be nothing to crop the box from.
    full_width = f"max({panel.width_px},2*round({crop_width}*{scale}/2))"
    full_height = f"max({panel.height_px},2*round({crop_height}*{scale}/2))"
    left = f"clip(round(({x}-{crop_x})*({full_width})/{crop_width}),0,({full_width})-{panel.width_px})"
    top = f"clip(round(({y}-{crop_y})*({full_height})/{crop_height}),0,({full_height})-{panel.height_px})"
    return [
        node("crop", crop_width, crop_height, quoted(crop_x), quoted(crop_y)),
        node("scale", w=quoted(full_width), h=quoted(full_height), eval="frame", flags="bicubic"),
        node("crop", panel.width_px, panel.height_px, quoted(left), quoted(top), exact=1),
    ]


def _path(panels: Sequence[Panel], runs: Sequence[PictureRun], value: Callable[[Window], float]) -> str:
    """A value of the window over time, as an expression in the number of the branch's frame."""
    points = [[(key.frame, value(key.window)) for key in panel.keys] for panel in panels]
    return straight("n", points, [run.first_frame for run in runs])


def _even_inside(x: str, most: int) -> str:
    """A place as an even number of pixels below it, as far as the crop can go."""
    return f"clip(floor(({x})/2)*2,0,{most})"


def _even_up(length: float) -> int:
    return 2 * ceil(length / 2)


def _even_around(start: float, length: float, whole: int) -> tuple[int, int]:
    """The even start and length of a stretch of pixels that holds another, inside the whole."""
    first = int(start // 2) * 2
    end = min(whole, -int(-(start + length) // 2) * 2)
    return first, end - first
