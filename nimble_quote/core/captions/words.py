"""The words that captions show: those kept in the cut, with corrections, at their place in the output."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from difflib import SequenceMatcher

from nimble_quote.core.quote import WordCorrection
from nimble_quote.core.transcript.words import Word


@dataclass(frozen=True, kw_only=True)
class CaptionWord:
    """A word to show, and when in the output (in milliseconds from its start) it is spoken."""

    text: str
    start_ms: float
    end_ms: float
    index: int
    """The transcript word it stands for."""
    after_join: bool
    """Whether something was cut out just before it."""


def shown_text(word: Word, corrections: Mapping[int, str]) -> str:
    """What the captions say for a word: its correction, or what the transcript says."""
    return corrections.get(word.start_ms, word.text)


def corrected(words: Sequence[Word], text: str, earlier: Sequence[WordCorrection]) -> tuple[WordCorrection, ...]:
    """The corrections after a person rewrote the text over `words`.

    Only what differs becomes a correction, so that timing follows the words left as they were. Where the new text has
    more words than it replaces, the last of those carries the rest; where it has fewer, the last ones go silent.
    A word put back to what the transcript says loses its correction.
    """
    mapped = {c.at_ms: c.text for c in earlier}
    old = [shown_text(word, mapped) for word in words]
    new = text.split()
    for change, i, j, k, m in SequenceMatcher(a=old, b=new, autojunk=False).get_opcodes():
        if change == "equal":
            continue
        if change == "insert":
            host = i - 1 if i else 0
            added = " ".join(new[k:m])
            now = shown_text(words[host], mapped)
            mapped[words[host].start_ms] = (f"{now} {added}" if i else f"{added} {now}").strip()
            continue
        run = range(i, j)
        for place, token in zip(run, _dealt(new[k:m], len(run)), strict=True):
            mapped[words[place].start_ms] = token
    original = {word.start_ms: word.text for word in words}
    return tuple(WordCorrection(at_ms=at, text=said) for at, said in sorted(mapped.items()) if original.get(at) != said)


def _dealt(tokens: Sequence[str], hands: int) -> list[str]:
    """Tokens dealt to a number of words: one each, the last takes what is left, words without one get nothing."""
    dealt = [*tokens[: hands - 1], " ".join(tokens[hands - 1 :])]
    return dealt + [""] * (hands - len(dealt))
