"""How wide the characters of the caption faces are, in thousandths of the font size.

Taken from the faces that ship; a test compares the two. A character that is not listed counts as wide as an `n`, one of
the wide scripts (Chinese, Japanese, Korean) as the whole size.
"""

import unicodedata
from functools import lru_cache

_FIRST = 32
_ADVANCES: dict[str, tuple[int, ...]] = {
    "Lexend Bold": (
        320, 309, 477, 734, 634, 968, 776, 252, 390, 390, 440, 597, 287, 448, 257, 595, 675, 561, 548,
        591, 662, 596, 579, 553, 599, 577, 257, 291, 525, 623, 526, 536, 965, 694, 701, 694, 772, 645,
        618, 782, 779, 555, 665, 739, 609, 878, 807, 812, 662, 812, 702, 634, 655, 765, 712, 993, 705,
        689, 683, 420, 584, 420, 592, 687, 500, 659, 658, 545, 654, 586, 393, 669, 635, 319, 316, 626,
        304, 962, 635, 641, 659, 658, 455, 495, 398, 642, 605, 834, 606, 620, 550, 427, 318, 427, 558,
    ),
    "Atkinson Hyperlegible Bold": (
        320, 283, 410, 783, 619, 977, 702, 222, 366, 366, 434, 618, 243, 374, 243, 442, 652, 448, 586,
        605, 626, 612, 632, 543, 625, 561, 243, 243, 573, 618, 573, 614, 754, 690, 639, 673, 686, 580,
        544, 719, 679, 458, 560, 659, 537, 842, 700, 764, 626, 781, 654, 619, 617, 663, 656, 883, 699,
        687, 621, 333, 442, 333, 589, 430, 314, 553, 596, 520, 596, 566, 367, 597, 572, 315, 259, 567,
        314, 886, 572, 573, 596, 601, 372, 534, 379, 570, 526, 723, 533, 518, 516, 370, 234, 370, 533,
    ),
    "Nimble Serif SemiBold": (
        228, 314, 423, 544, 538, 949, 739, 206, 384, 384, 458, 548, 307, 335, 307, 364, 547, 547, 547,
        547, 547, 547, 547, 547, 547, 547, 307, 307, 548, 548, 548, 430, 867, 712, 668, 663, 744, 634,
        610, 725, 809, 387, 394, 726, 616, 930, 757, 742, 637, 742, 707, 560, 650, 757, 706, 1020, 678,
        667, 592, 356, 364, 356, 548, 528, 400, 554, 630, 527, 623, 540, 374, 573, 650, 336, 313, 615,
        337, 961, 652, 590, 632, 613, 475, 475, 368, 640, 581, 850, 585, 592, 497, 365, 301, 365, 548,
    ),
}  # fmt: skip


@lru_cache(maxsize=5_000)
def text_width(text: str, face: str) -> float:
    """The width of a line of text in font sizes, without kerning."""
    advances = _ADVANCES[face]
    return sum(_advance(character, advances) for character in text) / 1000


def _advance(character: str, advances: tuple[int, ...]) -> int:
    index = ord(character) - _FIRST
    if 0 <= index < len(advances):
        return advances[index]
    plain = ord(unicodedata.normalize("NFD", character)[0]) - _FIRST
    if 0 <= plain < len(advances):
        return advances[plain]
    return 1000 if unicodedata.east_asian_width(character) in "WF" else advances[ord("n") - _FIRST]
