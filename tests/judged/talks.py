"""Reads the judged talks."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

from nimble_quote.core.language import bare
from nimble_quote.core.transcript.cues import TimedWord, timed_words
from nimble_quote.formats.transcripts import read_transcript

FOLDER = Path(__file__).parent / "talks"
Verdict = Literal["post", "could", "never"]
_VERDICTS: dict[str, Verdict] = {"+": "post", "~": "could", "-": "never"}
_NAME = re.compile(r"(?m)^[A-Z][A-Z. ]*: ?")
_PIECES = re.compile(r"\{([+~-])([^|{}]*)\|([^{}]*)\}|([^{}]+)")


@dataclass(frozen=True, kw_only=True)
class Passage:
    """Words `first` up to `end`, what an editor would do with them, and why."""

    first: int
    end: int
    verdict: Verdict
    why: str


@dataclass(frozen=True, kw_only=True)
class JudgedTalk:
    """A talk with its passages. `learned_from` or only measured; `stripped` to what a recogniser gives or not."""

    name: str
    title: str
    register: str
    learned_from: bool
    stripped: bool
    text: str
    passages: tuple[Passage, ...]

    @property
    def given(self) -> str:
        """The text as a house would bring it."""
        return stripped(self.text) if self.stripped else self.text


def judged_talks() -> list[JudgedTalk]:
    """All of them, by name. Raises `ValueError` where one is not written as told above."""
    return [_read(path) for path in sorted(FOLDER.glob("*.txt"))]


def words_of(text: str) -> list[TimedWord]:
    """The words of a text as the application reads them, with times reckoned from its length."""
    return timed_words(read_transcript("talk.txt", text.encode()).cues)


def stripped(text: str) -> str:
    """A text without names, marks and capitals, in one paragraph."""
    return " ".join(word for word in (bare(one) for one in _NAME.sub("", text).split()) if word)


def true_ends(words: Sequence[TimedWord]) -> set[int]:
    """The words after which a sentence ends by its mark, with which the talks are written throughout."""
    return {index for index, one in enumerate(words) if re.search(r"[.?!][\"')]*$", one.word.text)}


def _read(path: Path) -> JudgedTalk:
    head, _, body = path.read_text("ascii").partition("\n\n")
    told = dict(line.split(": ", 1) for line in head.splitlines())
    plain, passages = _unmarked(body)
    talk = JudgedTalk(
        name=path.stem, title=told["title"], register=told["register"], learned_from=told["for"] == "learning",
        stripped=told["marks"] == "stripped", text=plain, passages=tuple(passages),
    )  # fmt: skip
    for text in (talk.text, talk.given):
        if len(words_of(text)) != len(_NAME.sub("", plain).split()):
            raise ValueError(f"{path.name}: its words are not read as they are written.")
    return talk


def _unmarked(body: str) -> tuple[str, list[Passage]]:
    """A text without the marks of its passages, and those."""
    plain, passages = "", []
    at = 0
    for piece in _PIECES.finditer(body):
        at = _whole(body, at, piece)
        sign, why, marked, between = piece.groups()
        first = _count(plain)
        plain += between or marked.lstrip()
        if sign:
            passages.append(Passage(first=first, end=_count(plain), verdict=_VERDICTS[sign], why=why))
    if at != len(body):
        raise ValueError(f"A passage is not closed: {body[at : at + 60]}")
    return plain, passages


def _whole(body: str, at: int, piece: "re.Match[str]") -> int:
    if piece.start() != at:
        raise ValueError(f"A passage is not closed: {body[at : at + 60]}")
    return piece.end()


def _count(text: str) -> int:
    return len(_NAME.sub("", text).split())
