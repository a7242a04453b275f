"""A first draft of what a quote is posted with, put together from the quote's own words: nothing is said that was not."""

import re
from collections.abc import Sequence

from nimble_quote.core.document.posting import PostText
from nimble_quote.core.posting.counting import TextLimits, length_of

TAGS = 3
_TITLE, _WORDS = 80, 280
"""How many graphemes a drafted title and the words of a drafted description have at most."""
_FEWEST_WORDS = 3
_BY_GRAPHEMES = TextLimits()
_ENDS = re.compile(r"(?<=[.!?…。！？])[\"”’»)]*\s+")


def written_out(words: str) -> str:
    """What is heard as it is written: a sentence whose beginning was cut away begins with a capital all the same."""
    return " ".join(one[:1].upper() + one[1:] for one in sentences_in(words))


def sentences_in(text: str) -> list[str]:
    """The sentences of a text, as its marks tell."""
    return [one.strip() for one in _ENDS.split(text) if one and one.strip()]


def drafted(words: str, title: str, pattern: str, phrases: Sequence[str], speaker: str, recording: str) -> PostText:
    """A draft for a quote that says `words`, called `title`, out of the house's `pattern` for descriptions and the key phrases of
    its talk."""
    return PostText(
        title=drafted_title(words, title), description=pattern, tags=suggested_tags(words, phrases, TAGS),
        alt=f"{speaker or 'Someone'} speaking at “{recording}”. The captions read: “{excerpt(words)}”"[:2000],
    )  # fmt: skip


def drafted_title(words: str, title: str) -> str:
    """The title that a person gave a quote; for one that is only called as it opens, its shortest whole sentence."""
    opening = re.sub(r"\W+", "", title.casefold())
    if not re.sub(r"\W+", "", words.casefold()).startswith(opening):
        return title
    whole = [
        one for one in sentences_in(words)
        if len(one.split()) >= _FEWEST_WORDS and length_of(one, _BY_GRAPHEMES) <= _TITLE
    ]  # fmt: skip
    best = min(whole, key=len, default=title)
    return best if best.endswith(("?", "!", "…")) else best.rstrip(".。")


def excerpt(words: str, most: int = _WORDS) -> str:
    """How a quote begins: as many whole sentences as there is room for; where the first is too long, its first words."""
    out = ""
    for sentence in sentences_in(words):
        longer = f"{out} {sentence}".strip()
        if length_of(longer, _BY_GRAPHEMES) > most:
            break
        out = longer
    if out or not words:
        return out
    cut = words[:most].rsplit(None, 1)[0]
    return cut.rstrip(",;:") + " …"


def suggested_tags(words: str, phrases: Sequence[str], most: int) -> tuple[str, ...]:
    """Key phrases of a talk, those that the quote itself says first; none that only repeats part of another."""
    said = " ".join(["", *re.findall(r"\w+", words.casefold()), ""])
    ranked = sorted(dict.fromkeys(phrases), key=lambda phrase: f" {phrase.casefold()} " not in said)
    out: list[str] = []
    for phrase in ranked:
        parts = set(phrase.casefold().split())
        if not any(parts & set(other.casefold().split()) for other in out):
            out.append(phrase)
    return tuple(out[:most])
