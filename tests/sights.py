"""What is seen and said in the demo recordings, without a database: for tests and benches of framing."""

from collections.abc import Sequence
from itertools import pairwise
from typing import Any

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.context import Context, Shot, Sight
from nimble_quote.core.framing.following import Track
from nimble_quote.core.framing.naming import Seen as SeenTurn
from nimble_quote.core.framing.naming import Turn, named_by_turns
from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.framing.shots import LOOK, shots
from nimble_quote.core.framing.subjects import SeenFace
from nimble_quote.core.framing.subjects import Track as FoundTrack
from nimble_quote.core.talk import Talk
from nimble_quote.core.transcript.words import Sentence, Word
from nimble_quote.media.seen import Seen
from tests.shipped import CATALOGUE, LETTERING
from tests.truth import RATE, truth_of


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
        talking=column([face.talking for face in track.faces]),
        inset=track.inset,
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
    there = [
        SeenTurn(subject=one.subject, start_ms=one.start_ms, end_ms=one.end_ms, track=followed(one))
        for one in seen.tracks
    ]
    sight = Sight(
        size=size,
        shots=[Shot(span=span, look=looks.get(span.start_ms, b"")) for span in shots(cuts, talk.duration_ms)],
        tracks=[followed(one) for one in seen.tracks],
        names=named_by_turns(turns, there),
    )
    return Context(talk=talk, sight=sight, catalogue=CATALOGUE, lettering=LETTERING)


SIZES = {
    "keep-the-wick-short": (1920, 1080),
    "two-kettles": (1280, 720),
    "rain-barrels": (1280, 720),
    "the-wall-and-the-boat": (1280, 720),
}
_LOOK_EVERY = 5
"""Frames from one look for faces to the next."""


def demo_context(name: str, seen: Seen | None = None) -> Context:
    """A demo recording as edits know it: with what was seen in it, or, without looking, with what was drawn."""
    truth = truth_of(name)
    talk = talk_from(truth["words"], len(next(iter(truth["faces"].values()))) * 1000 // RATE)
    return context_from(seen or drawn(truth, SIZES[name]), talk, SIZES[name])


def drawn(truth: dict[str, Any], size: tuple[int, int]) -> Seen:
    """What a perfect eye would see: each face where it was drawn, five times a second; cuts and slides where they are."""
    cuts = [round(at * 1000) for at in truth["cuts_s"]]
    changes = [(at, "cut") for at in cuts] + [(round(at * 1000), "slide") for at in truth["slides_s"]]
    edges = [0, *cuts, 1 << 40]
    tracks = []
    for subject, frames in enumerate(truth["faces"].values()):
        for start, end in pairwise(edges):
            looks = range(-(-start * RATE // 1000), min(len(frames), end * RATE // 1000))
            faces = [_drawn_face(frames[n], n, size) for n in looks if n % _LOOK_EVERY == 0 and frames[n]]
            if faces:
                tracks.append(FoundTrack(faces=tuple(faces), subject=subject))
    looks = [(start, _drawn_look(start, tracks)) for start in [0, *cuts]]
    return Seen(changes=sorted(changes), tracks=sorted(tracks, key=lambda one: one.start_ms), looks=looks)


def _drawn_look(start_ms: int, tracks: Sequence[FoundTrack]) -> bytes:
    """A look that is the same wherever the same people are seen, but for some noise."""
    who = sum(1 << one.subject for one in tracks if one.start_ms <= start_ms + 500 <= one.end_ms)
    cells = np.random.default_rng(who).uniform(40, 200, LOOK)
    return (cells + np.random.default_rng(start_ms).uniform(-3, 3, LOOK)).round().astype(np.uint8).tobytes()


def _drawn_face(box: list[float], frame: int, size: tuple[int, int]) -> SeenFace:
    left, top, width, height, turn = box
    at = FaceSample(
        at_ms=frame * 1000 // RATE, x=left / size[0], y=(top + 0.1 * height) / size[1], width=width / size[0],
        height=0.9 * height / size[1], score=0.95,
    )  # fmt: skip
    return SeenFace(sample=at, turn=turn / 90)
