"""The pieces of an end card: logo, texts, code and address, one under the other, as large as all of them fit."""

from collections.abc import Sequence
from dataclasses import dataclass

import segno

from nimble_quote.core.assembly.overlays.texts import Block, Texts, block_of
from nimble_quote.core.assembly.placed import QUIET
from nimble_quote.core.captions.contrast import luminance, ratio
from nimble_quote.core.captions.making import Letters
from nimble_quote.core.document import Colour, EndCard, Lines, LookChanges, TitleLines
from nimble_quote.core.framing.window import even

_LIGHT, _DARK = "#FFFFFF", "#16181D"
_LOGO, _CODE = 0.42, 0.4
"""How large a logo and a code are, in shorter sides of the output."""
_AIR = 0.05
"""Between two pieces, in heights of the output."""
_TALLEST = 0.74
"""No card is taller: what apps cover is above and below it."""
_ADDRESS = 0.8
"""The size of an address against the texts."""


@dataclass(frozen=True, kw_only=True)
class Piece:
    """One piece of a card: how much of the output it takes, and what it is: texts, or the rows of a code; a logo where neither.
    `air` is what is free below it."""

    width: float
    height: float
    air: float = _AIR
    block: Block | None = None
    texts: Texts | None = None
    rows: tuple[str, ...] = ()
    cell_px: int = 0


def pieces_of(card: EndCard, behind: Colour, logo: tuple[int, int] | None, letters: Letters) -> list[Piece]:
    """The pieces of a card on a colour, in their order; `logo` is the size of its picture, where it has one."""
    for part in (1.0, 0.85, 0.7, 0.55, 0.4):
        pieces = list(_pieces(card, behind, logo, letters, part))
        if card_of(pieces)[1] <= _TALLEST:
            break
    return pieces


def card_of(pieces: Sequence[Piece]) -> tuple[float, float]:
    """The width and height of some pieces, one under the other, in fractions of the output."""
    wide = max((one.width for one in pieces), default=0.0)
    return wide, sum(one.height + one.air for one in pieces) - (pieces[-1].air if pieces else 0.0)


def letters_on(behind: Colour) -> Colour:
    """The colour that texts on another can be read in: white, or dark."""
    light, dark = (ratio(luminance(one), luminance(behind)) for one in (_LIGHT, _DARK))
    return _LIGHT if light >= dark else _DARK


def _pieces(card: EndCard, behind: Colour, logo: tuple[int, int] | None, letters: Letters, part: float) -> list[Piece]:
    width, height = letters.output
    shorter = min(width, height)
    look = {
        "plate": None,
        "outline": None,
        "alignment": "centre",
        "colour": card.letters or letters_on(behind),
    } | card.look
    out: list[Piece] = []
    if logo is not None:
        scale = _LOGO * part * shorter / max(logo)
        wide, high = max(2, even(logo[0] * scale)), max(2, even(logo[1] * scale))
        out.append(Piece(width=wide / width, height=high / height))
    if card.text or card.second:
        texts = TitleLines(text=card.text or card.second, second=card.second if card.text else "", look=look)
        out += _written(texts, letters, part)
    if card.code and card.address:
        rows = code_of(card.address)
        cells = len(rows) + 2 * QUIET
        # Whole pixels a cell, even ones, so that no edge of it is soft.
        cell = max(2, even(_CODE * part * shorter / cells))
        out.append(Piece(width=cell * cells / width, height=cell * cells / height, rows=rows, cell_px=cell))
    if card.address:
        size = letters.look.size * _ADDRESS
        out += _written(Lines(text=card.address[:120], look={"size": max(0.02, size)} | look), letters, part)
    return out


def _written(texts: TitleLines | Lines, letters: Letters, part: float) -> list[Piece]:
    size = float(texts.look.get("size", letters.look.size * (1.2 if texts.kind == "title" else 1.0)))
    look: LookChanges = texts.look | {"size": min(0.2, max(0.02, size * max(0.6, part)))}
    texts = texts.model_copy(update={"look": look})
    block = block_of(texts, texts.text, texts.second if isinstance(texts, TitleLines) else "", letters)
    return [Piece(width=block.width, height=block.height, block=block, texts=texts)] if block else []


def code_of(address: str) -> tuple[str, ...]:
    """The rows of the QR code of an address (ISO/IEC 18004, a seventh of it may be unreadable)."""
    made = segno.make_qr(address, error="m", boost_error=False)
    return tuple("".join("1" if cell else "0" for cell in row) for row in made.matrix)
