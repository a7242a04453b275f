"""The words that captions show: those kept in the cut, with corrections, at their place in the output."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from difflib import SequenceMatcher
from itertools import accumulate

from nimble_quote.core.document import WordCorrection
from nimble_quote.core.talk import Talk
from nimble_quote.core.transcript.words import Word, WordRef


@dataclass(frozen=True, kw_only=True)
class CaptionWord:
    """A word to show, and when in the output (in milliseconds from its start) it is spoken."""

    text: str
    start_ms: float
    end_ms: float
    index: int
    """The transcript word it stands for, or is a piece of."""
    after_join: bool
    """Whether something was cut out just before it."""
    glued: bool = False
    """Whether it follows without a space."""
    emphasised: bool = False
    speaker: int = 0
    """Who says it: 0 for the first of the quote, 1 for the second …"""


def in_pieces(word: CaptionWord, pieces: Callable[[str], Sequence[str]]) -> list[CaptionWord]:
    """A word in what a line may break between: the words of its correction, and the pieces that a script writes together. They
    share its time by their letters."""
    parts = [(piece, bool(n)) for token in word.text.split() for n, piece in enumerate(pieces(token))]
    if len(parts) <= 1:
        return [word]
    letters = [max(1, len(text)) for text, _ in parts]
    ends = [word.start_ms + (word.end_ms - word.start_ms) * done / sum(letters) for done in accumulate(letters)]
    starts = [word.start_ms, *ends[:-1]]
    return [
        replace(
            word,
            text=text,
            start_ms=start,
            end_ms=end,
            glued=glued,
            after_join=word.after_join and start == word.start_ms,
        )
        for (text, glued), start, end in zip(parts, starts, ends, strict=True)
    ]


AROUND = "\"'“”‘’«»()[]{}<>.,;:!?…–—-*_/¿¡"
"""Marks that stand around a word and are no part of it."""


def bare(token: str) -> str:
    """A word without the marks around it, with one kind of apostrophe."""
    return token.strip(AROUND).replace("’", "'")


def joined(texts: Sequence[tuple[str, bool]]) -> str:
    """Running text of some words, each with whether it follows without a space."""
    return "".join(f"{'' if glued or not n else ' '}{text}" for n, (text, glued) in enumerate(texts))


def shown_text(word: Word, corrections: Mapping[WordRef, str]) -> str:
    """What the captions say for a word: its correction, or what the transcript says.

    A word that several were written as has their corrections if all of them had one; where only some had, the transcript
    was corrected since and is believed. A word that was split off one with a correction goes silent: that says it all.
    """
    told = [corrections.get(ref) for ref in (word.ref, *word.lineage.joined)]
    if all(text is not None for text in told):
        return " ".join(text for text in told if text)
    whole = word.lineage.part_of
    return "" if whole is not None and whole in corrections else word.text


def corrected(
    words: Sequence[Word], text: str, earlier: Sequence[WordCorrection], talk: Talk
) -> tuple[WordCorrection, ...]:
    """The corrections after a person rewrote the text over `words` of a talk.

    Only what differs becomes a correction, so that timing follows the words left as they were. Where the new text has
    more words than it replaces, the last of those carries the rest; where it has fewer, the last ones go silent.
    A word put back to what the transcript says loses its correction.
    """
    mapped = {c.word: c.text for c in earlier}
    old = [shown_text(word, mapped) for word in words]
    now = list(old)
    new = text.split()
    for change, i, j, k, m in SequenceMatcher(a=old, b=new, autojunk=False).get_opcodes():
        if change == "insert":
            host = i - 1 if i else 0
            added = " ".join(new[k:m])
            now[host] = (f"{now[host]} {added}" if i else f"{added} {now[host]}").strip()
        elif change != "equal":
            now[i:j] = _dealt(new[k:m], j - i)
    for word, before, after in zip(words, old, now, strict=True):
        if before != after:
            _say(word, after, mapped, talk)
    return tuple(WordCorrection(word=ref, text=said) for ref, said in sorted(mapped.items()))


def _say(word: Word, text: str, mapped: dict[WordRef, str], talk: Talk) -> None:
    """Has the captions say a text for a word, and what they say for its parts stay."""
    parts = {part.ref: shown_text(part, mapped) for part in talk.parts_of(word.ref)}
    for ref in (word.ref, *word.lineage.joined):
        mapped.pop(ref, None)
    if text != shown_text(word, mapped):
        mapped[word.ref] = text
        mapped.update(dict.fromkeys(word.lineage.joined, ""))
    for part in talk.parts_of(word.ref):
        if shown_text(part, mapped) != parts[part.ref]:
            mapped[part.ref] = parts[part.ref]


def _dealt(tokens: Sequence[str], hands: int) -> list[str]:
    """Tokens dealt to a number of words: one each, the last takes what is left, words without one get nothing."""
    dealt = [*tokens[: hands - 1], " ".join(tokens[hands - 1 :])]
    return dealt + [""] * (hands - len(dealt))
