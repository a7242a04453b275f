"""Two quotes side by side: which of their words they share."""

from collections.abc import Sequence

Lexemes = Sequence[str | None]
"""For each word its lexeme; None for one too common to tell anything."""


def shared_words(a: Lexemes, b: Lexemes) -> tuple[list[int], list[int]]:
    """The places in each of two texts of the words whose lexeme the other has too."""
    both = {lexeme for lexeme in a if lexeme} & {lexeme for lexeme in b if lexeme}
    return [i for i, lexeme in enumerate(a) if lexeme in both], [i for i, lexeme in enumerate(b) if lexeme in both]
