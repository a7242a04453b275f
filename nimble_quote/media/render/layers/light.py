"""Light: a soft white oval over the face in a panel, drawn once and laid over each frame."""

from collections.abc import Sequence

from nimble_quote.core.assembly import Panel, PictureRun
from nimble_quote.media.render.graph import Graph, Label, node, quoted
from nimble_quote.media.render.paths import straight

_SIDE = 96
"""The oval is drawn at this size and enlarged: it has no detail to lose."""


def draw_light(graph: Graph, picture: Label, panels: Sequence[Panel], runs: Sequence[PictureRun]) -> Label:
    """A panel through some runs with its light; as it is where it has none."""
    lights = [panel.light for panel in panels if panel.light is not None]
    if not lights:
        return picture
    light = lights[0]
    half = _SIDE / 2
    left = f"pow((X+0.5-{half:g})/{half:g},2)+pow((Y+0.5-{half:g})/{half:g},2)"
    oval = graph.label()
    graph.chain([], [
        node("color", c="white", s=f"{_SIDE}x{_SIDE}", d=0.04, r=25), node("format", "yuva444p"),
        node("geq", lum=235, cb=128, cr=128, a=quoted(f"{255 * light.strength:.3f}*pow(max(0,1-({left})),2)")),
        node("scale", light.width_px, light.height_px, flags="bilinear"), node("format", "yuva420p"),
    ], [oval])  # fmt: skip
    starts = [run.first_frame for run in runs]
    x = straight("n", [[(key.frame, key.x) for key in one.keys] for one in lights], starts)
    y = straight("n", [[(key.frame, key.y) for key in one.keys] for one in lights], starts)
    at = {"x": quoted(f"round({x}-{light.width_px}/2)"), "y": quoted(f"round({y}-{light.height_px}/2)")}
    # The one frame of the oval stands for as long as there is a picture.
    return graph.joined([picture, oval], node("overlay", **at, eval="frame"))
