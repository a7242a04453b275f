"""Makes the faces of the captions from those they come from: without the table of instructions that only one of the two
renderers follows, so that both draw them alike to the pixel. A changed copy whose name is reserved gets another.

    python scripts/caption-faces.py SOURCE.ttf TARGET.ttf ["Other family" "Style"]
"""

import sys

from fontTools.ttLib import TTFont


def main(source: str, target: str, family: str = "", style: str = "") -> None:
    """Writes the changed copy."""
    font = TTFont(source, lazy=True)
    if "prep" in font:
        del font["prep"]
    if family:
        whole = f"{family} {style}"
        names = {1: whole, 2: "Regular", 3: whole, 4: whole, 6: whole.replace(" ", "-"), 16: family, 17: style}
        for record in list(font["name"].names):
            if record.nameID in names:
                record.string = names[record.nameID]
    font.save(target)


if __name__ == "__main__":
    main(*sys.argv[1:])
