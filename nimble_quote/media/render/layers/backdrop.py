"""Backdrops: what stands behind panels that leave some of the output free, and the panels put on it."""

from collections.abc import Sequence

from nimble_quote.core.assembly import Behind, Panel
from nimble_quote.core.destinations import Destination
from nimble_quote.media.colour import for_old_matrix
from nimble_quote.media.render.graph import Filter, Graph, Label, node

_BLUR_SIDE = 136
"""A backdrop is blurred at this size, where it costs little, and enlarged: it has no detail to lose."""


def put_together(
    graph: Graph, source: Label, drawn: Sequence[tuple[Panel, Label]], behind: Behind, output: Destination
) -> Label:
    """The panels of a layout as one picture: side by side where they fill the output, else on their backdrop."""
    if stacked := _stacked(graph, drawn, output):
        return stacked
    width, height = output.width, output.height
    if behind.kind == "colour" and len(drawn) == 1:
        panel, label = drawn[0]
        colour = for_old_matrix(behind.colour)
        pad = node("pad", width, height, panel.x_px, panel.y_px, color=colour)
        return graph.through(label, node("format", "yuv420p"), pad)
    back = graph.through(source, *_behind(behind, output))
    back = cover(graph, back, behind, output)
    for panel, label in drawn:
        back = graph.joined([back, label], node("overlay", panel.x_px, panel.y_px))
    return back


def cover(graph: Graph, back: Label, behind: Behind, output: Destination) -> Label:
    """A stream with the house's picture over all of it, where that is what stands behind; it lasts as long as the stream does."""
    if behind.picture is None:
        return back
    shown = graph.label()
    size = output.width, output.height
    coded = {"force_original_aspect_ratio": "increase", "out_color_matrix": "bt709", "out_range": "tv"}
    filters = [node("scale", *size, **coded), node("crop", *size)]
    if behind.kind == "soft-picture":
        small = _small(output)
        filters = [node("scale", *small, **coded), node("crop", *small), *_blurred(behind, output)]
    graph.chain(
        [],
        [node("movie", picture_file(behind.picture)), *filters, node("setsar", 1), node("format", "yuv420p")],
        [shown],
    )
    return graph.joined([back, shown], node("overlay", 0, 0))


def picture_file(picture: int) -> str:
    """What the file of a picture is called in the folder that ffmpeg runs in."""
    return f"picture-{picture}.jpg"


def needs_source(drawn: Sequence[Panel], behind: Behind, output: Destination) -> bool:
    """Whether the backdrop is made from the source's picture."""
    if _fill(drawn, output):
        return False
    return behind.kind != "colour" or len(drawn) > 1


def _behind(behind: Behind, output: Destination) -> list[Filter]:
    width, height = output.width, output.height
    small = _small(output)
    if behind.kind != "blur":
        colour = for_old_matrix(behind.colour)
        return [
            node("scale", *small),
            node("scale", width, height),
            node("format", "yuv420p"),
            node("drawbox", w="iw", h="ih", color=colour, t="fill"),
        ]
    return [
        node("scale", *small, force_original_aspect_ratio="increase"),
        node("crop", *small),
        *_blurred(behind, output),
    ]


def _small(output: Destination) -> tuple[int, int]:
    """The size at which a backdrop is blurred."""
    scale = _BLUR_SIDE / min(output.width, output.height)
    return round(output.width * scale / 2) * 2, round(output.height * scale / 2) * 2


def _blurred(behind: Behind, output: Destination) -> list[Filter]:
    return [
        # At full size in every plane: the blur of a plane at half size would reach twice as far.
        node("format", "yuv444p"),
        node("gblur", f"{behind.blur:.2f}", steps=3),
        node("scale", output.width, output.height),
    ]


def _fill(panels: Sequence[Panel], output: Destination) -> bool:
    return sum(panel.width_px * panel.height_px for panel in panels) == output.width * output.height


def _stacked(graph: Graph, drawn: Sequence[tuple[Panel, Label]], output: Destination) -> Label | None:
    """Panels that fill the output without a backdrop; None where they leave some of it free."""
    panels = [panel for panel, _ in drawn]
    if not _fill(panels, output):
        return None
    if len(drawn) == 1:
        return drawn[0][1]
    stack = "vstack" if all(panel.width_px == output.width for panel in panels) else "hstack"
    return graph.joined([label for _, label in drawn], node(stack, inputs=len(drawn)))
