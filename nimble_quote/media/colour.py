"""Keeping colours true through filters that only know the older colour matrix.

ffmpeg's subtitle, pad and colour filters turn RGB into Y'CbCr by ITU-R BT.601, while clips are BT.709. A colour that is
given to them is therefore changed first, so that the numbers they arrive at are those of the wanted colour in BT.709.
This costs nothing for each frame; it is exact but for colours so saturated that the changed one can't be written.
"""

import re

import numpy as np

_SCRIPT_COLOUR = re.compile(r"&H([0-9A-F]{2})?([0-9A-F]{2})([0-9A-F]{2})([0-9A-F]{2})(?![0-9A-F])")
"""`&HAABBGGRR` of a style, `&HBBGGRR&` of a tag; the alpha stays as it is."""


def _matrix(red: float, blue: float) -> np.ndarray:
    """R'G'B' to Y'CbCr for the luma weights of red and blue."""
    green = 1 - red - blue
    luma = np.array([red, green, blue])
    return np.stack([luma, (np.array([0, 0, 1]) - luma) / (2 - 2 * blue), (np.array([1, 0, 0]) - luma) / (2 - 2 * red)])


_BT601, _BT709 = _matrix(0.299, 0.114), _matrix(0.2126, 0.0722)
_CHANGE = np.linalg.inv(_BT601) @ _BT709


def for_old_matrix(code: str) -> str:
    """The colour to give a BT.601 filter so that `#RRGGBB` comes out in BT.709, in the same notation."""
    wanted = np.array([int(code[i : i + 2], 16) for i in (1, 3, 5)], float)
    red, green, blue = np.clip(np.rint(_CHANGE @ wanted), 0, 255).astype(int)
    return f"#{red:02X}{green:02X}{blue:02X}"


def script_for_burning(script: str) -> str:
    """An ASS script with each of its colours changed so."""

    def changed(match: re.Match[str]) -> str:
        alpha, blue, green, red = match.groups()
        code = for_old_matrix(f"#{red}{green}{blue}")
        return f"&H{alpha or ''}{code[5:7]}{code[3:5]}{code[1:3]}"

    return _SCRIPT_COLOUR.sub(changed, script)
