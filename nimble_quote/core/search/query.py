"""A search as typed: words, "phrases", beginn*, near ~ words, -without, and filters such as by:name."""

import re
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import Literal

LONGEST = 200
_PARTS = re.compile(r'(-?)(?:([a-z]+):)?(?:"([^"]*)"?|(\S+))')
_DAY = re.compile(r"^(\d{4})(?:-(\d{1,2}))?(?:-(\d{1,2}))?$")
_LAST_DAYS = (31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31)

# Han, kana, Thai, Lao, Burmese and Khmer: written without spaces, so that what stands between two may be many words.
_WITHOUT_SPACES = re.compile(
    "[\u0e00-\u0eff\u1000-\u109f\u1780-\u17ff\u3040-\u30ff\u3400-\u4dbf\u4e00-\u9fff\uf900-\ufaff\U00020000-\U0003ffff]"
)

Kind = Literal["word", "phrase", "beginning", "near", "inside"]


@dataclass(frozen=True, kw_only=True)
class Part:
    """One thing that is searched for: a word, words that stand together, the beginning of words, words near each other, or
    what stands inside a run of a script that is written without spaces."""

    kind: Kind
    words: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class Query:
    """A search: what a passage answers with, what it must not have, and which passages are looked at."""

    parts: tuple[Part, ...] = ()
    without: tuple[Part, ...] = ()
    by: str | None = None
    """Part of a speaker's name."""
    series: str | None = None
    """Part of a series' name."""
    after: str | None = None
    """ISO day: talks held on it or later."""
    before: str | None = None
    """ISO day: talks held earlier."""
    used: bool | None = None
    """Whether a quote was taken there already."""
    wide: bool = False
    """Whether related words answer too."""
    by_meaning: bool = True
    """Whether what is close in meaning answers too."""
    bare: str = ""
    """What was typed, without the filters."""
    problems: tuple[str, ...] = field(default=())
    """What could not be read, in words."""

    @property
    def plain(self) -> str | None:
        """The words, where they are nothing but words and what they mean is looked for, too."""
        if not self.by_meaning or not self.parts or any(part.kind != "word" for part in self.parts):
            return None
        return " ".join(word for part in self.parts for word in part.words)


def plain_search(typed: str) -> str:
    """A search cut to length, its quotation marks straight, without NUL characters."""
    return typed[:LONGEST].replace("\x00", " ").replace("“", '"').replace("”", '"')


def read_query(typed: str) -> Query:
    """Reads a search as typed. Never fails; a quote left open runs to the end, an unknown filter is words.

    `lamp "keep the wick" light* storm ~ harbour -oil by:maren in:"Chapel evenings" after:2025-03 before:2026 used:no
    wide:yes meaning:no`
    """
    query = Query()
    parts: list[Part] = []
    without: list[Part] = []
    bare: list[str] = []
    near = False
    for match in _PARTS.finditer(plain_search(typed)):
        minus, name, quoted, plain = match.groups()
        value = (quoted if quoted is not None else plain).strip()
        if name and not minus and name in _FILTERS:
            query = _FILTERS[name](query, value)
            continue
        bare.append(match.group(0))
        if plain == "~" and not minus:
            near = bool(parts) and parts[-1].kind in ("word", "near")
            continue
        part = _part(f"{name}:{value}" if name else value, quoted is not None)
        if part and near and part.kind == "word":
            parts[-1] = Part(kind="near", words=(*parts[-1].words, *part.words))
        elif part:
            (without if minus else parts).append(part)
        near = False
    return replace(query, parts=tuple(parts), without=tuple(without), bare=" ".join(bare))


def _part(text: str, quoted: bool) -> Part | None:
    words = tuple(word for word in text.split() if any(c.isalnum() for c in word))
    if not words:
        return None
    if quoted and len(words) > 1:
        return Part(kind="phrase", words=words)
    if not quoted and words[0].endswith("*") and sum(c.isalnum() for c in words[0]) > 1:
        return Part(kind="beginning", words=(words[0].rstrip("*"),))
    return Part(kind="inside" if _WITHOUT_SPACES.search(text) and len(words) == 1 else "word", words=words)


def _dated(key: Literal["after", "before"]) -> Callable[[Query, str], Query]:
    def read(query: Query, value: str) -> Query:
        day = _day(value)
        if day is None:
            told = f"“{key}:{value}” is not a date. Write {key}:2026, {key}:2026-11 or {key}:2026-11-25."
            return replace(query, problems=(*query.problems, told))
        return replace(query, after=day) if key == "after" else replace(query, before=day)

    return read


def _day(value: str) -> str | None:
    match = _DAY.match(value)
    if not match:
        return None
    year, month, day = int(match[1]), int(match[2] or 1), int(match[3] or 1)
    if year < 1 or not 1 <= month <= 12:
        return None
    leap = month == 2 and ((year % 4 == 0 and year % 100 != 0) or year % 400 == 0)
    if not 1 <= day <= _LAST_DAYS[month - 1] + leap:
        return None
    return f"{year:04}-{month:02}-{day:02}"


def _yes(value: str) -> bool:
    return value.lower() not in ("no", "n", "not", "false", "0")


_FILTERS: dict[str, Callable[[Query, str], Query]] = {
    "by": lambda query, value: replace(query, by=value or None),
    "in": lambda query, value: replace(query, series=value or None),
    "after": _dated("after"),
    "before": _dated("before"),
    "used": lambda query, value: replace(query, used=_yes(value)),
    "wide": lambda query, value: replace(query, wide=_yes(value)),
    "meaning": lambda query, value: replace(query, by_meaning=_yes(value)),
}
