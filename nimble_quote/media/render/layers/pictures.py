"""Pictures over the picture: logos, inserts and spotlights, each drawn once as a file, and laid over for as long as it shows."""

from collections.abc import Mapping, Sequence
from fractions import Fraction

import numpy as np

from nimble_quote.core.assembly import Assembly
from nimble_quote.core.assembly.placed import SOFT, PlacedFootage, PlacedPicture, PlacedSpotlight
from nimble_quote.core.framing.window import even
from nimble_quote.media.house_pictures import png_of, scaled_picture
from nimble_quote.media.render.graph import Filter, Graph, Label, node, quoted, written
from nimble_quote.media.render.paths import straight
from nimble_quote.media.render.runs import at_frame, rate_of

Drawn = PlacedPicture | PlacedSpotlight
LaidOver = Drawn | PlacedFootage


def drawn_over(assembly: Assembly) -> Sequence[Drawn]:
    """What of an Assembly is drawn once, as a file, to stand over it."""
    return [one for one in assembly.overlays if isinstance(one, PlacedPicture | PlacedSpotlight)]


def _laid_over(assembly: Assembly) -> Sequence[LaidOver]:
    """What of an Assembly stands over it as a picture, those behind first."""
    return [one for one in assembly.overlays if isinstance(one, PlacedPicture | PlacedSpotlight | PlacedFootage)]


def overlay_file(one: Drawn) -> str:
    """What the file of a picture is called in the folder that ffmpeg runs in, at the size it has."""
    if isinstance(one, PlacedSpotlight):
        return f"spotlight-{one.item}.png"
    width, height = _largest(one)
    return f"overlay-{one.picture}-{width}x{height}{'-round' if one.round else ''}.png"


async def overlay_picture(one: Drawn, assembly: Assembly, pictures: Mapping[int, bytes]) -> bytes:
    """The file of a picture, as PNG. Raises `MediaFailed`."""
    if isinstance(one, PlacedSpotlight):
        return await png_of(_dark_around(one, assembly))
    return await scaled_picture(pictures[one.picture], *_largest(one), round_=one.round)


def draw_pictures(graph: Graph, picture: Label, assembly: Assembly, footage: Mapping[int, Label]) -> Label:
    """A picture with all that stand over it; `footage` are the pictures of other recordings, by the items that show them."""
    for one in _laid_over(assembly):
        shown = graph.label()
        if isinstance(one, PlacedFootage):
            graph.chain([footage[one.item]], _timed(one, assembly), [shown])
        else:
            graph.chain([], [node("movie", overlay_file(one)), *_shown(one, assembly)], [shown])
        # By time: the number of a frame is that of the last one taken in, which may be ahead of the one that is drawn.
        first, end = (float((frame - Fraction(1, 2)) / assembly.rate) for frame in (one.first_frame, one.end_frame))
        during = quoted(f"between(t,{first:.6f},{end:.6f})")
        picture = graph.joined([picture, shown], node("overlay", **_at(one, assembly), enable=during))
    return picture


def _at(one: LaidOver, assembly: Assembly) -> dict[str, object]:
    """Where a picture is laid, in even pixels: the burn-in halves the colours' planes, and would snap what stands on odd ones."""
    if not isinstance(one, PlacedSpotlight):
        return {"x": one.x_px, "y": one.y_px}
    width, height = assembly.destination.size
    left, top = one.x_px - width, one.y_px - height
    if not one.path:
        return {"x": even(left), "y": even(top)}
    ways = ([(key.frame, left + key.x) for key in one.path], [(key.frame, top + key.y) for key in one.path])
    frame = f"floor(t*{rate_of(assembly.rate)}+0.45)"
    x, y = (quoted(f"2*round(({straight(frame, [way], [0])})/2)") for way in ways)
    return {"x": x, "y": y, "eval": "frame"}


def _timed(one: PlacedFootage, assembly: Assembly) -> list[Filter]:
    """When footage shows, and how it comes and goes."""
    frames, fade = one.end_frame - one.first_frame, one.fade_frames
    fades = [node("fade", "in", 0, fade, alpha=1), node("fade", "out", frames - fade, fade, alpha=1)] if fade else []
    return [
        *([node("format", "yuva420p")] if fade else []),
        *fades,
        node("setpts", at_frame(f"N+{one.first_frame}", assembly.rate)),
    ]


def _shown(one: Drawn, assembly: Assembly) -> list[Filter]:
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


def _pushed(one: Drawn) -> float:
    return one.push if isinstance(one, PlacedPicture) else 0.0


def _largest(one: PlacedPicture) -> tuple[int, int]:
    """The size of a picture in its last frame, beyond its box where it comes closer."""
    return even(one.width_px * (1 + one.push)), even(one.height_px * (1 + one.push))


def _closer(one: Drawn, frames: int) -> list[Filter]:
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
