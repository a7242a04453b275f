"""An Assembly compiled into a filter graph: its passes over the sources, its branches, and the layers over them.

        pass -> frames in order -> branches (panels, backdrop) -> \
                                                                   > concat -> pictures over it -> script -> [out]
        pass -> frames in order -> branches (panels, backdrop) -> /
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from nimble_quote.core.assembly import Assembly, Key, Panel, PictureRun, SourceSize
from nimble_quote.core.assembly.placed import PlacedFootage
from nimble_quote.media.coding import Coding
from nimble_quote.media.reach import Reach
from nimble_quote.media.render.branches import Branch, branches_of
from nimble_quote.media.render.graph import Graph, Label, node, written
from nimble_quote.media.render.layers.backdrop import cover, needs_source, put_together
from nimble_quote.media.render.layers.panels import draw_panels
from nimble_quote.media.render.layers.pictures import draw_pictures
from nimble_quote.media.render.layers.tone import tone_filters
from nimble_quote.media.render.runs import Pass, at_frame, passes_of, shown_frames

OUT: Label = "out"
CAPTIONS_FILE, FONTS_FOLDER = "captions.ass", "fonts"
"""By plain names in the folder that ffmpeg runs in: a path can't be misread as filter syntax."""


@dataclass(frozen=True)
class Input:
    """What ffmpeg reads for one pass: how far, and how its colours are coded; neither where nothing is read."""

    read: Pass
    reach: Reach | None = None
    coding: Coding = field(default_factory=Coding)


def compile_graph(assembly: Assembly, inputs: Sequence[Input], footage: Sequence[Input] = ()) -> str:
    """The filter graph of an Assembly, from the picture of each input to `[out]`; `footage` are inputs, after the others, for what
    it shows of other recordings."""
    graph = Graph()
    sizes = {one.id: one for one in assembly.sources}
    parts = [_drawn(graph, f"{number}:v:0", one, assembly, sizes) for number, one in enumerate(inputs)]
    picture = parts[0] if len(parts) == 1 else _one_after_another(graph, parts, assembly)
    films = {one.item: (number, one) for number, one in enumerate(assembly.footage, start=len(inputs))}
    shown = {
        item: _drawn(graph, f"{number}:v:0", footage[number - len(inputs)], *_alone(one, assembly))
        for item, (number, one) in films.items()
    }
    picture = draw_pictures(graph, picture, assembly, shown)
    layers = [node("ass", f=CAPTIONS_FILE, fontsdir=FONTS_FOLDER)] if assembly.is_written else []
    # Ends the picture here and not with an option on the output, which would end the sound with it.
    last = (node("format", "yuv420p"), node("setsar", 1), node("trim", end_frame=assembly.frames))
    graph.chain([picture], [*layers, *last], [OUT])
    return str(graph)


def inputs_of(assembly: Assembly) -> list[Pass]:
    """The passes over the sources that an Assembly needs, in order: an input of ffmpeg each."""
    return passes_of(assembly.picture)


def footage_of(assembly: Assembly) -> list[Pass]:
    """The passes over other recordings that an Assembly shows pieces of, one each."""
    return [Pass(one.source, (_run_of(one, assembly),)) for one in assembly.footage]


def _run_of(one: PlacedFootage, assembly: Assembly) -> PictureRun:
    """Footage as a run by itself, that fills a picture of its box."""
    panel = Panel(
        x_px=0, y_px=0, width_px=one.width_px, height_px=one.height_px, keys=(Key(frame=0, window=one.window),)
    )
    return PictureRun(
        first_frame=0, frames=one.end_frame - one.first_frame, source=one.source, source_frame=one.source_frame, panels=(panel,),
        behind=assembly.picture[0].behind,
    )  # fmt: skip


def _alone(one: PlacedFootage, assembly: Assembly) -> tuple[Assembly, dict[str, SourceSize]]:
    """The Assembly that footage is by itself, and the size of its source."""
    box = assembly.destination.model_copy(update={"width": one.width_px, "height": one.height_px})
    size = SourceSize(id=one.source, width=one.source_width, height=one.source_height)
    return assembly.model_copy(update={"destination": box, "overlays": (), "sources": (size,)}), {one.source: size}


def _drawn(graph: Graph, source: Label, one: Input, assembly: Assembly, sizes: Mapping[str, SourceSize]) -> Label:
    """The picture of one pass."""
    if one.read.source is None or one.reach is None:
        plain = graph.through(source, node("trim", end_frame=one.read.frames), node("setsar", 1))
        return cover(graph, plain, one.read.runs[0].behind, assembly.destination)
    size = sizes[one.read.source]
    frames = graph.joined(
        [source],
        *shown_frames(one.read, one.reach),
        written(one.coding.scaled(size.width, size.height)),
        node("setsar", 1),
    )
    branches = branches_of(one.read.runs)
    if len(branches) == 1:
        return _laid_out(graph, frames, branches[0].runs, size, assembly)
    ways = graph.split(frames, len(branches))
    start = one.read.runs[0].first_frame
    parts = [
        _laid_out(graph, _cut_out(graph, way, branch, start), branch.runs, size, assembly)
        for way, branch in zip(ways, branches, strict=True)
    ]
    return _one_after_another(graph, parts, assembly)


def _cut_out(graph: Graph, way: Label, branch: Branch, start: int) -> Label:
    first, end = branch.first_frame - start, branch.end_frame - start
    return graph.through(way, node("trim", start_frame=first, end_frame=end), node("setpts", "PTS-STARTPTS"))


def _laid_out(graph: Graph, frames: Label, runs: Sequence[PictureRun], size: SourceSize, assembly: Assembly) -> Label:
    """The layout of runs that share one."""
    output, behind = assembly.destination, runs[0].behind
    frames = graph.through(frames, *tone_filters(runs[0].tone))
    if not needs_source(runs[0].panels, behind, output):
        return put_together(graph, frames, draw_panels(graph, frames, runs, size), behind, output)
    back, front = graph.split(frames, 2)
    return put_together(graph, back, draw_panels(graph, front, runs, size), behind, output)


def _one_after_another(graph: Graph, parts: Sequence[Label], assembly: Assembly) -> Label:
    even = [graph.through(part, node("format", "yuv420p"), node("setsar", 1)) for part in parts]
    number = node("setpts", at_frame("N", assembly.rate))
    return graph.joined(even, node("concat", n=len(even), v=1, a=0), number)
