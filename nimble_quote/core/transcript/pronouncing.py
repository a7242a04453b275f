"""How the words of a text are spoken, for an aligner that knows words by their sounds.

Sounds are those of the CMU pronouncing dictionary without stress (ARPAbet). What is not in the aligner's dictionary, names
above all, is sounded out by letter: crude, but an aligner only has to tell where a word is, not which.
"""

import re
import unicodedata

_ONES = (
    "zero one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen seventeen "
    "eighteen nineteen"
).split()
_TENS = "zero ten twenty thirty forty fifty sixty seventy eighty ninety".split()
_SIGNS = {
    "&": "and",
    "%": "percent",
    "+": "plus",
    "£": "pounds",
    "$": "dollars",
    "€": "euros",
    "@": "at",
    "°": "degrees",
}
_PIECES = re.compile(r"\d+(?:[.,]\d+)*|[^\W\d_]+(?:['’][^\W\d_]+)*|[&%+£$€@°]")

_GRAPHEMES: tuple[tuple[str, str], ...] = (
    ("tch", "CH"), ("sch", "SH"), ("igh", "AY"), ("eau", "OW"), ("ch", "CH"), ("sh", "SH"), ("th", "TH"), ("ph", "F"),
    ("gh", "G"), ("wh", "W"), ("ck", "K"), ("ng", "NG"), ("qu", "K W"), ("kn", "N"), ("wr", "R"), ("ee", "IY"), ("ea", "IY"),
    ("ie", "IY"), ("ei", "EY"), ("ey", "IY"), ("ai", "EY"), ("ay", "EY"), ("oa", "OW"), ("oo", "UW"), ("ou", "AW"),
    ("ow", "OW"), ("oi", "OY"), ("oy", "OY"), ("au", "AO"), ("aw", "AO"), ("er", "ER"), ("ir", "ER"), ("ur", "ER"),
    ("ar", "AA R"), ("or", "AO R"), ("bb", "B"), ("cc", "K"), ("dd", "D"), ("ff", "F"), ("gg", "G"), ("ll", "L"),
    ("mm", "M"), ("nn", "N"), ("pp", "P"), ("rr", "R"), ("ss", "S"), ("tt", "T"), ("zz", "Z"), ("ce", "S"), ("ci", "S IH"),
    ("a", "AE"), ("b", "B"), ("c", "K"), ("d", "D"), ("e", "EH"), ("f", "F"), ("g", "G"), ("h", "HH"), ("i", "IH"),
    ("j", "JH"), ("k", "K"), ("l", "L"), ("m", "M"), ("n", "N"), ("o", "AA"), ("p", "P"), ("q", "K"), ("r", "R"), ("s", "S"),
    ("t", "T"), ("u", "AH"), ("v", "V"), ("w", "W"), ("x", "K S"), ("y", "IY"), ("z", "Z"),
)  # fmt: skip


def spoken_forms(text: str) -> list[str]:
    """The words that are said for a word as written: `well-known` two, `250` three, `—` none. Lower case."""
    forms: list[str] = []
    for piece in _PIECES.findall(text):
        if piece[0].isdigit():
            forms += number_words(piece)
        elif piece in _SIGNS:
            forms.append(_SIGNS[piece])
        else:
            forms.append(piece.casefold().replace("’", "'"))
    return forms


def number_words(digits: str) -> list[str]:
    """A number as it is said in English: years by the hundred (1952), decimals by digit, the rest in full."""
    whole, _, fraction = digits.replace(",", "").partition(".")
    if len(whole) > 9:
        words = [_ONES[int(d)] for d in whole]
    elif len(whole) == 4 and 1100 <= int(whole) <= 2099 and whole[2] != "0" and int(whole) // 100 % 10:
        words = _full(int(whole[:2])) + _full(int(whole[2:]))
    else:
        words = _full(int(whole))
    return words + (["point", *(_ONES[int(d)] for d in fraction if d.isdigit())] if fraction else [])


def _full(value: int) -> list[str]:
    for size, name in ((1_000_000, "million"), (1000, "thousand"), (100, "hundred")):
        if value >= size:
            rest = value % size
            joined = (["and"] if rest < 100 else []) + _full(rest) if rest else []
            return [*_full(value // size), name, *joined]
    if value < 20:
        return [_ONES[value]]
    return [_TENS[value // 10], *([_ONES[value % 10]] if value % 10 else [])]


def sounded_out(word: str) -> str:
    """The sounds of a word by its letters, separated by spaces; a neutral vowel where none can be told."""
    plain = "".join(c for c in unicodedata.normalize("NFD", word.casefold()) if c.isascii() and c.isalpha())
    silent_e = len(plain) > 3 and plain.endswith("e") and plain[-2] not in "aeiou"
    rest, sounds = plain[:-1] if silent_e else plain, []
    while rest:
        letters, sound = next((pair for pair in _GRAPHEMES if rest.startswith(pair[0])), (rest[0], ""))
        sounds += sound.split()
        rest = rest[len(letters) :]
    return " ".join(sounds) or "AH"
