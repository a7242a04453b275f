"""An Assembly made into a file: one ffmpeg filter graph for the picture, the sound laid beside it.

sources -> passes -> branches -> layers -> H.264
source  -> pieces, fades -> loudness    -> AAC
"""

from nimble_quote.media.render.command import probe, render, render_cover, render_first, render_sound
from nimble_quote.media.source import Source

__all__ = ["Source", "probe", "render", "render_cover", "render_first", "render_sound"]
