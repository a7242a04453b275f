"""The faces that ship besides those of the styles: one for every script, made ready from open packages at set-up.

    python -m nimble_quote.lettering.shipped MODULES TARGET

takes each file from the front end's packages (or Debian's), makes it fit, and puts it into the folder of faces.
"""

import sys
from dataclasses import dataclass
from pathlib import Path

from nimble_quote.lettering.fitting import fitted

DEBIAN = Path("/usr/share/fonts/truetype/noto")


@dataclass(frozen=True, kw_only=True)
class ShippedFace:
    """A face: its name, its file, and the package folder it comes from; None for Debian's. `languages` are those that prefer it
    to others with the same characters."""

    name: str
    file: str
    package: str | None
    languages: tuple[str, ...] = ()


CHAIN = (
    ShippedFace(name="Noto Sans Bold", file="NotoSans_700Bold.ttf", package="noto-sans/700Bold"),
    ShippedFace(name="Noto Sans Hebrew Bold", file="NotoSansHebrew_700Bold.ttf", package="noto-sans-hebrew/700Bold"),
    ShippedFace(name="Noto Sans Arabic Bold", file="NotoSansArabic-Bold.ttf", package=None),
    ShippedFace(name="Noto Sans Devanagari Bold", file="NotoSansDevanagari_700Bold.ttf", package="noto-sans-devanagari/700Bold"),
    ShippedFace(name="Noto Sans Thai Bold", file="NotoSansThai_700Bold.ttf", package="noto-sans-thai/700Bold"),
    ShippedFace(name="Noto Sans SC Bold", file="NotoSansSC_700Bold.ttf", package="noto-sans-sc/700Bold", languages=("zh",)),
    ShippedFace(name="Noto Sans JP Bold", file="NotoSansJP_700Bold.ttf", package="noto-sans-jp/700Bold", languages=("ja",)),
    ShippedFace(name="Noto Sans KR Bold", file="NotoSansKR_700Bold.ttf", package="noto-sans-kr/700Bold", languages=("ko",)),
    ShippedFace(name="Noto Emoji Bold", file="NotoEmoji_700Bold.ttf", package="noto-emoji/700Bold"),
)  # fmt: skip
"""Asked in this order for what the face of a style does not have; one of the text's language before others."""


def main(modules: Path, target: Path) -> None:
    """Makes every face ready that is not there."""
    for face in CHAIN:
        if (target / face.file).exists():
            continue
        source = (
            DEBIAN / face.file if face.package is None else modules / "@expo-google-fonts" / face.package / face.file
        )
        made = target / f"{face.file}.part"
        made.write_bytes(fitted(source.read_bytes()))
        made.rename(target / face.file)


if __name__ == "__main__":
    main(Path(sys.argv[1]), Path(sys.argv[2]))
