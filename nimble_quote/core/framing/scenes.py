"""Who is seen in a stretch of a cut, and who speaks while they are."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from nimble_quote.core.context import Sight
from nimble_quote.core.framing.following import Track, one_track, talked
from nimble_quote.core.framing.naming import Turn
from nimble_quote.core.framing.talking import Spoke, who_spoke
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span, total_ms

_LEAST_PRESENT, _LEAST_PRESENT_MS = 0.3, 4000
"""Somebody counts who is there for so much of the time, or for so long: others pass by."""
_LEAST_HEIGHT = 0.4
"""And whose face is so large against the largest: others are in the audience."""
_UNSURE = 0.2
"""It is unsure who speaks where that is so of this part of what is said."""
_GAP_MS = 1200
_SPEAKS_MS, _SPEAKS_SHORT, _SPEAKS = 1200, 0.3, 0.15
"""Somebody speaks in a stretch who says so much in it, or, where little is said, that part; and no less than the last part of
all that is said."""


@dataclass(frozen=True, kw_only=True)
class Scene:
    """A stretch of a cut: who is seen in it, most prominent first, and who of them speaks for how long (ms)."""

    span: Span
    pieces: tuple[Span, ...]
    tracks: dict[int, Track]
    spoken: dict[int, float]
    all_named: bool = False
    """Whether everybody in the picture is known by name."""
    unheard_of_ms: float
    """What is said by somebody who is not known to be in the picture."""
    unsure_ms: float = 0.0
    """For how long it is not known who of them speaks."""

    @property
    def people(self) -> list[int]:
        """Those of whom a face was found."""
        return [subject for subject, track in self.tracks.items() if not track.thing]

    @property
    def speakers(self) -> list[int]:
        """Those who speak, most first."""
        said = sum(self.spoken.values()) + self.unheard_of_ms
        return sorted(
            (
                who
                for who, ms in self.spoken.items()
                if ms >= min(_SPEAKS_MS, _SPEAKS_SHORT * said) and ms >= _SPEAKS * said
            ),
            key=lambda who: -self.spoken[who],
        )

    @property
    def unsure(self) -> bool:
        """Whether several are seen, and of much that is said it is not known by whom of them. Where all of them are known by
        name, whoever has another is not in the picture."""
        said = sum(self.spoken.values()) + self.unheard_of_ms
        return len(self.people) > 1 and not self.all_named and self.unsure_ms > _UNSURE * said


def turns_of(talk: Talk, span: Span) -> tuple[Turn, ...]:
    """Who speaks when, near a quote: a turn for each sentence; without a name where none is known."""
    out = []
    for sentence in talk.sentences:
        words = talk.words_of(sentence)
        if words and words[-1].end_ms > span.start_ms and words[0].start_ms < span.end_ms:
            out.append(Turn(speaker=sentence.speaker or "", start_ms=words[0].start_ms, end_ms=words[-1].end_ms))
    return tuple(out)


def scene_of(span: Span, pieces: tuple[Span, ...], sight: Sight, turns: Sequence[Turn]) -> Scene:
    """What there is to frame in a stretch of a cut, of which some pieces are kept."""
    tracks = _present(pieces, sight)
    by_name = {
        sight.names[subject]: subject for subject, track in tracks.items() if subject in sight.names and not track.thing
    }
    spoken: dict[int, float] = {}
    unheard_of = 0.0
    unsure = 0.0
    for turn in turns:
        ms = sum(max(0, min(one.end_ms, turn.end_ms) - max(one.start_ms, turn.start_ms)) for one in pieces)
        if not ms:
            continue
        found = who_speaks(turn, tracks, by_name.get(turn.speaker))
        if found.who is None:
            unheard_of += ms
        else:
            spoken[found.who] = spoken.get(found.who, 0.0) + ms
        unsure += 0 if found.sure else ms
    for subject in by_name.values():
        spoken.setdefault(subject, 0.0)
    return Scene(
        span=span, pieces=pieces, tracks=tracks, spoken=spoken, unheard_of_ms=unheard_of, unsure_ms=unsure,
        all_named=all(who in by_name.values() for who, track in tracks.items() if not track.thing),
    )  # fmt: skip


def who_speaks(turn: Turn, tracks: Mapping[int, Track], named: int | None) -> Spoke:
    """Who of those in the picture speaks in a turn: by the name that the transcript tells, and by the mouths where several are
    seen. `named` is whom of them the name is of."""
    people = [who for who, track in tracks.items() if not track.thing]
    if len(people) < 2:
        return Spoke(who=named, sure=named is not None)
    mouths = {who: talked(tracks[who], turn.start_ms, turn.end_ms) for who in people}
    return who_spoke(mouths, named)


def _present(pieces: tuple[Span, ...], sight: Sight) -> dict[int, Track]:
    """The subjects that are there for long enough, most prominent first, each with where it is around the pieces."""
    start, end = pieces[0].start_ms, pieces[-1].end_ms
    found: dict[int, list[Track]] = {}
    for track in sight.tracks:
        if track.start_ms < end + _GAP_MS and track.end_ms >= start - _GAP_MS:
            part = track.within(start - _GAP_MS, end + _GAP_MS)
            if part is not None:
                found.setdefault(track.subject, []).append(part)
    whole = {subject: one_track(parts) for subject, parts in found.items()}
    there = {subject: _there_ms(track, pieces) for subject, track in whole.items()}
    lasting = [who for who in whole if there[who] >= min(_LEAST_PRESENT * total_ms(pieces), _LEAST_PRESENT_MS)]
    tallest = max((float(np.median(whole[who].height)) for who in lasting if not whole[who].thing), default=0.0)
    large = [who for who in lasting if whole[who].thing or np.median(whole[who].height) >= _LEAST_HEIGHT * tallest]
    return {who: whole[who] for who in sorted(large, key=lambda who: -there[who] * float(np.median(whole[who].height)))}


def _there_ms(track: Track, pieces: Sequence[Span]) -> float:
    """For how much of the pieces somebody is seen; who is not for a moment only is there all the same."""
    times = track.at_ms
    begins = np.concatenate([times[:1], times[1:][np.diff(times) > _GAP_MS]])
    ends = np.concatenate([times[:-1][np.diff(times) > _GAP_MS], times[-1:]])
    return float(
        sum(
            np.maximum(0, np.minimum(ends + 200, one.end_ms) - np.maximum(begins - 200, one.start_ms)).sum()
            for one in pieces
        )
    )
