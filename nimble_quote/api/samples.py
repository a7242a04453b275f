"""Words to show a caption style on."""

from fractions import Fraction

from nimble_quote.core.assembly import RecordingFacts
from nimble_quote.core.talk import Talk
from nimble_quote.core.transcript.words import Word
from nimble_quote.formats.languages import language

SAMPLE_TEXT = "Keep the wick short, and there will be a light on when they come home."
SAMPLE_FACTS = RecordingFacts(duration_ms=60_000, width=0, height=0, rate=Fraction(25))
_A_LETTER_MS, _PAUSE_MS = 62, 30


def sample_talk(text: str) -> Talk:
    """A talk that says a text at the pace of speech."""
    words: list[Word] = []
    at = 0
    for index, token in enumerate((text.split() or SAMPLE_TEXT.split())[:60]):
        long = 120 + len(token) * _A_LETTER_MS
        words.append(Word(index=index, text=token[:60], start_ms=at, end_ms=at + long))
        at += long + _PAUSE_MS
    return Talk(words=words, duration_ms=at + 1000, language=language("en"))
