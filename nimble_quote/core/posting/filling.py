"""Names in braces in the texts of a post, and what they stand for."""

import re
from collections.abc import Mapping

from nimble_quote.core.document.posting import PostText

NAMES = ("words", "quote", "speaker", "recording", "series", "date", "link", "credits", "destination")
"""What can stand in braces."""
_NAME = re.compile(r"\{([^{}\n]{1,40})\}")


def unknown_names(text: PostText) -> list[str]:
    """Names in braces that stand for nothing, in the order they are met."""
    found = [name for part in (text.title, text.description, text.alt) for name in _NAME.findall(part)]
    return list(dict.fromkeys(name for name in found if name not in NAMES))


def filled(text: PostText, values: Mapping[str, str]) -> PostText:
    """The texts with what the names stand for. A line all of whose names stand for nothing is left out; so is an empty line that
    would follow another."""
    return PostText(
        title=_one_line(text.title, values)[:300],
        description=_lines(text.description, values)[:10_000],
        tags=text.tags,
        alt=_lines(text.alt, values)[:2000],
    )


def _one_line(text: str, values: Mapping[str, str]) -> str:
    return " ".join(_in(text, values).split())


def _lines(text: str, values: Mapping[str, str]) -> str:
    out: list[str] = []
    for line in text.split("\n"):
        names = [name for name in _NAME.findall(line) if name in NAMES]
        if names and not any(values.get(name) for name in names):
            continue
        written = re.sub(r"^[\s,·]+|[\s,·]+$", "", _in(line, values)) if names else line.rstrip()
        if written or (out and out[-1]):
            out.append(written)
    return "\n".join(out).strip()


def _in(text: str, values: Mapping[str, str]) -> str:
    return _NAME.sub(lambda found: values.get(found[1], "") if found[1] in NAMES else found[0], text)
