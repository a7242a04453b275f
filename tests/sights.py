"""What is seen and said in the demo recordings, without a database: for tests and benches of framing."""

from collections.abc import Sequence
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.context import Context, Shot, Sight
from nimble_quote.core.framing.following import Track
from nimble_quote.core.framing.naming import Seen as SeenTurn
from nimble_quote.core.framing.naming import Turn, named_by_turns
from nimble_quote.core.framing.shots import shots
from nimble_quote.core.framing.subjects import Track as FoundTrack
from nimble_quote.core.talk import Talk
from nimble_quote.core.transcript.words import Sentence, Word
from nimble_quote.media.seen import Seen
from tests.shipped import CATALOGUE


def followed(track: FoundTrack) -> Track:
    """A track as framing has it."""

    def column(values: Sequence[float]) -> NDArray[np.float64]:
        return np.array(values, np.float64)

    samples = [face.sample for face in track.faces]
    return Track(
        subject=track.subject,
        at_ms=column([one.at_ms for one in samples]),
        x=column([one.x for one in samples]),
        y=column([one.y for one in samples]),
        width=column([one.width for one in samples]),
        height=column([one.height for one in samples]),
        turn=column([face.turn for face in track.faces]),
        score=column([one.score for one in samples]),
    )


def talk_from(words: Sequence[dict[str, object]], duration_ms: int) -> Talk:
    """A talk of the words that the generator told: a sentence for each that it numbers."""
    said = [
        Word(index=number, text=str(one["said"]), start_ms=int(str(one["start_ms"])), end_ms=int(str(one["end_ms"])))
        for number, one in enumerate(words)
    ]
    edges = [0, *(n for n in range(1, len(words)) if words[n]["sentence"] != words[n - 1]["sentence"]), len(words)]
    sentences = [Sentence(first=a, end=b, speaker=str(words[a]["who"])) for a, b in pairwise(edges)]
    return Talk(words=said, sentences=sentences, duration_ms=duration_ms)


def context_from(seen: Seen, talk: Talk, size: tuple[int, int]) -> Context:
    """What an edit may know, from what was seen and said."""
    cuts = [at for at, kind in seen.changes if kind == "cut"]
    looks = dict(seen.looks)
    turns = [
        Turn(speaker=one.speaker or "", start_ms=talk.words[one.first].start_ms, end_ms=talk.words[one.end - 1].end_ms)
        for one in talk.sentences
    ]
    there = [SeenTurn(subject=one.subject, start_ms=one.start_ms, end_ms=one.end_ms) for one in seen.tracks]
    sight = Sight(
        size=size,
        shots=[Shot(span=span, look=looks.get(span.start_ms, b"")) for span in shots(cuts, talk.duration_ms)],
        tracks=[followed(one) for one in seen.tracks],
        names=named_by_turns(turns, there),
    )
    return Context(talk=talk, sight=sight, catalogue=CATALOGUE)
