"""The Assembly: what it is (`model`), and how a document becomes one."""

from nimble_quote.core.assembly.captions import caption_area
from nimble_quote.core.assembly.model import (
    RECORDING,
    Assembly,
    CueTrack,
    Key,
    Panel,
    PictureRun,
    Sound,
    SourceSize,
)
from nimble_quote.core.assembly.placed import PlacedLines, PlacedOverlay
from nimble_quote.core.assembly.resolving import RecordingFacts, assemble, clip_ms, cut_ms, picture_of
from nimble_quote.core.assembly.runs import frames_of
from nimble_quote.core.framing.layouts import Behind

__all__ = [
    "RECORDING",
    "Assembly",
    "Behind",
    "CueTrack",
    "Key",
    "Panel",
    "PictureRun",
    "PlacedLines",
    "PlacedOverlay",
    "RecordingFacts",
    "Sound",
    "SourceSize",
    "assemble",
    "caption_area",
    "clip_ms",
    "cut_ms",
    "frames_of",
    "picture_of",
]
