"""Pictures over the picture: logos and inserts, each drawn once at the size it has, and laid over for as long as it shows."""

from collections.abc import Sequence

from nimble_quote.core.assembly import Assembly
from nimble_quote.core.assembly.placed import PlacedPicture
from nimble_quote.media.render.graph import Filter, Graph, Label, node, quoted, written
from nimble_quote.media.render.runs import at_frame


def pictures_over(assembly: Assembly) -> Sequence[PlacedPicture]:
    """The pictures of an Assembly that stand over it, those behind first."""
    return [one for one in assembly.overlays if isinstance(one, PlacedPicture)]


def overlay_file(one: PlacedPicture) -> str:
    """What the file of a picture is called in the folder that ffmpeg runs in, at the size it has."""
    return f"overlay-{one.picture}-{one.width_px}x{one.height_px}.png"


def draw_pictures(graph: Graph, picture: Label, assembly: Assembly) -> Label:
    """A picture with all that stand over it."""
    for one in pictures_over(assembly):
        shown = graph.label()
        graph.chain([], [node("movie", overlay_file(one)), *_shown(one, assembly)], [shown])
        during = quoted(f"between(n,{one.first_frame},{one.end_frame - 1})")
        picture = graph.joined([picture, shown], node("overlay", one.x_px, one.y_px, enable=during))
    return picture


def _shown(one: PlacedPicture, assembly: Assembly) -> list[Filter]:
    """What makes of a file what is laid over: seen through as told, and coming and going where it does."""
    filters = [node("format", "rgba")]
    if one.opacity < 1:
        filters.append(node("colorchannelmixer", aa=f"{one.opacity:.4f}"))
    if one.fade_frames:
        frames, fade = one.end_frame - one.first_frame, one.fade_frames
        filters += [
            node("loop", loop=-1, size=1),
            node("trim", end_frame=frames),
            node("setpts", at_frame("N", assembly.rate)),
            node("fade", "in", 0, fade, alpha=1),
            node("fade", "out", frames - fade, fade, alpha=1),
            node("setpts", at_frame(f"N+{one.first_frame}", assembly.rate)),
        ]
    return [
        *filters,
        written("scale=out_color_matrix=bt709:out_range=tv"),
        node("format", "yuva420p"),
        node("setsar", 1),
    ]
