"""An Assembly made into a file: one ffmpeg filter graph for the picture, the sound laid beside it.

sources -> passes -> branches -> layers -> H.264
source  -> pieces, fades -> loudness    -> AAC
"""

from nimble_quote.media.render.command import render, render_cover
from nimble_quote.media.source import Source

__all__ = ["Source", "render", "render_cover"]
