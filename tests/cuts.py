"""Talks and cuts written as one line: [struck words] in brackets, <Name> before what somebody says, {40} for a silence."""

import re

from nimble_quote.core.document import QuoteDocument, Version
from nimble_quote.core.edits import StrikeWords, apply_edit
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span
from nimble_quote.core.transcript.words import Sentence, Word
from nimble_quote.formats.languages import language
from tests.talks import context_of

_TOKEN = re.compile(r"<\w+>|\{\d+\}|\[|\]|[^\s\[\]{}<>]+")


def cut_of(line: str) -> tuple[QuoteDocument, Talk]:
    """The talk of a line, and a quote of all of it with the words in brackets struck."""
    words: list[Word] = []
    sentences: list[Sentence] = []
    struck: list[int] = []
    at, first, speaker, inside = 1000, 0, None, False
    for token in _TOKEN.findall(line):
        if token in "[]":
            inside = token == "["
        elif token[0] == "{":
            at += int(token[1:-1]) * 1000
        elif token[0] == "<":
            speaker = token[1:-1]
        elif not re.search(r"\w", token) and words:
            # A mark that a bracket parted from its word.
            words[-1] = Word(
                index=len(words) - 1, text=words[-1].text + token, start_ms=words[-1].start_ms, end_ms=words[-1].end_ms
            )
            if token[-1] in ".?!":
                sentences.append(Sentence(first=first, end=len(words), speaker=speaker))
                first = len(words)
        else:
            words.append(Word(index=len(words), text=token, start_ms=at, end_ms=at + 300))
            at += 380
            if inside:
                struck.append(words[-1].index)
            if token[-1] in ".?!":
                sentences.append(Sentence(first=first, end=len(words), speaker=speaker))
                first, at = len(words), at + 400
    if first < len(words):
        sentences.append(Sentence(first=first, end=len(words), speaker=speaker))
    talk = Talk(words=words, sentences=sentences, duration_ms=at + 2000, language=language("en"))
    document = QuoteDocument(
        title="A cut",
        span=Span(start_ms=words[0].start_ms - 80, end_ms=at + 100),
        versions=(Version(destination="tall-60"),),
    )
    for word in struck:
        document = apply_edit(document, StrikeWords(first=word, last=word), context_of(talk))
    return document, talk
