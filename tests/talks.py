"""Small talks for tests, written so that words, times and gaps can be read off."""

from collections.abc import Sequence
from fractions import Fraction

import numpy as np

from nimble_quote.core.assembly import RecordingFacts
from nimble_quote.core.context import Context, Shot, Sight
from nimble_quote.core.framing.following import Track
from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.talk import Talk
from nimble_quote.core.transcript.words import Word
from tests.shipped import CATALOGUE, LETTERING

HD = RecordingFacts(duration_ms=600_000, width=1920, height=1080, rate=Fraction(25))


def talk_of(text: str, *, word_ms: int = 300, gap_ms: int = 100, start_ms: int = 1000, **more: object) -> Talk:
    """A talk of evenly spoken words; '|' between words is a pause of a second."""
    words: list[Word] = []
    at = start_ms
    for token in text.split():
        if token == "|":
            at += 1000
            continue
        words.append(Word(index=len(words), text=token, start_ms=at, end_ms=at + word_ms))
        at += word_ms + gap_ms
    return Talk(words=words, duration_ms=at + 2000, **more)  # type: ignore[arg-type]


def face_at(at_ms: int, x: float, y: float = 0.3, size: float = 0.1, score: float = 0.9) -> FaceSample:
    """A face whose box has its top left at x, y."""
    return FaceSample(at_ms=at_ms, x=x, y=y, width=size, height=size * 1.6, score=score)


def context_of(talk: Talk, *, faces: Sequence[FaceSample] = (), shots: Sequence[Shot] = ()) -> Context:
    """What an edit may know: a talk, the faces of one subject, shots, and the catalogue that ships."""
    tracks = (track_of(faces),) if faces else ()
    return Context(
        talk=talk, sight=Sight(size=(1920, 1080), shots=shots, tracks=tracks), catalogue=CATALOGUE, lettering=LETTERING
    )


def track_of(faces: Sequence[FaceSample], subject: int = 0, turn: float = 0.0) -> Track:
    """Somebody who is seen at some moments, five a second for each that is told, so that none of them is passed over."""
    at = np.array([face.at_ms for face in faces for _ in range(5)], np.float64)
    boxes = np.array([(f.x, f.y, f.width, f.height, f.score) for f in faces for _ in range(5)])
    x, y, width, height, score = boxes.T
    return Track(
        subject=subject, at_ms=at, x=x, y=y, width=width, height=height, turn=np.full(len(at), turn), score=score
    )  # fmt: skip
