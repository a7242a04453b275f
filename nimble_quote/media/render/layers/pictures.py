"""Pictures over the picture: logos, inserts and spotlights, each drawn once as a file, and laid over for as long as it shows."""

from collections.abc import Mapping, Sequence

import numpy as np

from nimble_quote.core.assembly import Assembly
from nimble_quote.core.assembly.placed import SOFT, PlacedPicture, PlacedSpotlight
from nimble_quote.core.framing.window import even
from nimble_quote.media.house_pictures import png_of, scaled_picture
from nimble_quote.media.render.graph import Filter, Graph, Label, node, quoted, written
from nimble_quote.media.render.paths import straight
from nimble_quote.media.render.runs import at_frame

LaidOver = PlacedPicture | PlacedSpotlight


def laid_over(assembly: Assembly) -> Sequence[LaidOver]:
    """What of an Assembly stands over it as a picture, those behind first."""
    return [one for one in assembly.overlays if isinstance(one, PlacedPicture | PlacedSpotlight)]


def overlay_file(one: LaidOver) -> str:
    """What the file of a picture is called in the folder that ffmpeg runs in, at the size it has."""
    if isinstance(one, PlacedSpotlight):
        return f"spotlight-{one.item}.png"
    width, height = _largest(one)
    return f"overlay-{one.picture}-{width}x{height}{'-round' if one.round else ''}.png"


async def overlay_picture(one: LaidOver, assembly: Assembly, pictures: Mapping[int, bytes]) -> bytes:
    """The file of a picture, as PNG. Raises `MediaFailed`."""
    if isinstance(one, PlacedSpotlight):
        return await png_of(_dark_around(one, assembly))
    return await scaled_picture(pictures[one.picture], *_largest(one), round_=one.round)


def draw_pictures(graph: Graph, picture: Label, assembly: Assembly) -> Label:
    """A picture with all that stand over it."""
    for one in laid_over(assembly):
        shown = graph.label()
        graph.chain([], [node("movie", overlay_file(one)), *_shown(one, assembly)], [shown])
        during = quoted(f"between(n,{one.first_frame},{one.end_frame - 1})")
        picture = graph.joined([picture, shown], node("overlay", **_at(one, assembly), enable=during))
    return picture


def _at(one: LaidOver, assembly: Assembly) -> dict[str, object]:
    """Where a picture is laid, in even pixels: the burn-in halves the colours' planes, and would snap what stands on odd ones."""
    if isinstance(one, PlacedPicture):
        return {"x": one.x_px, "y": one.y_px}
    width, height = assembly.destination.size
    left, top = one.x_px - width, one.y_px - height
    if not one.path:
        return {"x": even(left), "y": even(top)}
    ways = ([(key.frame, left + key.x) for key in one.path], [(key.frame, top + key.y) for key in one.path])
    x, y = (quoted(f"2*round(({straight('n', [way], [0])})/2)") for way in ways)
    return {"x": x, "y": y, "eval": "frame"}


def _shown(one: LaidOver, assembly: Assembly) -> list[Filter]:
    """What makes of a file what is laid over: seen through as told, coming closer, and coming and going where it does."""
    filters = [node("format", "rgba")]
    frames, fade = one.end_frame - one.first_frame, one.fade_frames
    if isinstance(one, PlacedPicture) and one.opacity < 1:
        filters.append(node("colorchannelmixer", aa=f"{one.opacity:.4f}"))
    if fade or _pushed(one):
        filters += [
            node("loop", loop=-1, size=1),
            node("trim", end_frame=frames),
            node("setpts", at_frame("N", assembly.rate)),
            *_closer(one, frames),
        ]
        if fade:
            filters.append(node("fade", "in", 0, fade, alpha=1))
        if fade and isinstance(one, PlacedPicture):
            filters.append(node("fade", "out", frames - fade, fade, alpha=1))
        filters.append(node("setpts", at_frame(f"N+{one.first_frame}", assembly.rate)))
    return [
        *filters,
        written("scale=out_color_matrix=bt709:out_range=tv"),
        node("format", "yuva420p"),
        node("setsar", 1),
    ]


def _pushed(one: LaidOver) -> float:
    return one.push if isinstance(one, PlacedPicture) else 0.0


def _largest(one: PlacedPicture) -> tuple[int, int]:
    """The size of a picture in its last frame, beyond its box where it comes closer."""
    return even(one.width_px * (1 + one.push)), even(one.height_px * (1 + one.push))


def _closer(one: LaidOver, frames: int) -> list[Filter]:
    """Has a picture come closer from frame to frame, about its middle; the preview's sizes are rounded as these are."""
    if not isinstance(one, PlacedPicture) or not one.push:
        return []
    grown = f"(1+{one.push}*n/{max(1, frames - 1)})"
    width, height = (f"2*round({side}*{grown}/2)" for side in (one.width_px, one.height_px))
    # The crop knows the size of its first frame only, and would take its middle for that of all.
    left, top = f"({width}-{one.width_px})/2", f"({height}-{one.height_px})/2"
    return [
        node("scale", w=quoted(width), h=quoted(height), eval="frame", flags="bicubic"),
        node("crop", one.width_px, one.height_px, quoted(left), quoted(top), exact=1),
    ]


def _dark_around(one: PlacedSpotlight, assembly: Assembly) -> np.ndarray:
    """The dark around a spotlight, as RGBA, twice as large as the output, so that it reaches its edges wherever the light is."""
    width, height = assembly.destination.size
    x = (np.arange(2 * width, dtype=np.float32) + 0.5 - width) / one.across_px
    y = (np.arange(2 * height, dtype=np.float32) + 0.5 - height) / one.down_px
    away = np.hypot(x[None, :], y[:, None])
    out = np.zeros((2 * height, 2 * width, 4), np.uint8)
    out[..., 3] = np.round(255 * one.darkness * np.clip((away - SOFT) / (1 - SOFT), 0, 1))
    return out
