"""Finding a text in what captions say, and replacing it: over words, not inside the letters of one."""

from collections.abc import Sequence
from dataclasses import dataclass

from nimble_quote.core.captions.words import AROUND, bare, corrected, shown_text
from nimble_quote.core.document import WordCorrection
from nimble_quote.core.talk import Talk
from nimble_quote.core.transcript.words import Word


@dataclass(frozen=True, kw_only=True)
class Occurrence:
    """Words `first` to `last` (their indexes) that say a text, and what stands around it in them: quotation marks, a comma."""

    first: int
    last: int
    before: str
    after: str


def occurrences(
    words: Sequence[Word], corrections: Sequence[WordCorrection], find: str, *, match_case: bool = False
) -> list[Occurrence]:
    """Where some words say a text, whole words of it: in order, none inside another."""
    wanted = [_compared(one, match_case) for one in find.split()]
    mapped = {one.word: one.text for one in corrections}
    told = [(word.index, token) for word in words for token in shown_text(word, mapped).split()]
    found: list[Occurrence] = []
    at = 0
    while wanted and at + len(wanted) <= len(told):
        run = told[at : at + len(wanted)]
        if [_compared(token, match_case) for _, token in run] == wanted:
            first, last = run[0][1], run[-1][1]
            found.append(
                Occurrence(
                    first=run[0][0],
                    last=run[-1][0],
                    before=first[: len(first) - len(first.lstrip(AROUND))],
                    after=last[len(last.rstrip(AROUND)) :],
                )
            )
            at += len(wanted)
        else:
            at += 1
    return found


def replaced(
    words: Sequence[Word], corrections: Sequence[WordCorrection], found: Sequence[Occurrence], to: str, talk: Talk
) -> tuple[WordCorrection, ...]:
    """The corrections after a text was replaced at some places; the marks around it stay."""
    out = tuple(corrections)
    for one in found:
        run = [word for word in words if one.first <= word.index <= one.last]
        out = corrected(run, f"{one.before}{to}{one.after}".strip() if to else "", out, talk)
    return out


def _compared(token: str, match_case: bool) -> str:
    return bare(token) if match_case else bare(token).casefold()
