"""The sound of a cut as it will be: mixed by what makes the clip, from a stretch of source that is kept in memory."""

import asyncio
from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np

from nimble_quote.core.assembly import RECORDING, Assembly
from nimble_quote.core.cutting.mixing import Samples, reach_ms
from nimble_quote.core.refusal import Refused
from nimble_quote.core.timebase import Span
from nimble_quote.media.sound import decoded, hear_stretch, slices, write_sound
from nimble_quote.media.source import Source

_KEPT_BYTES = 400_000_000
_MARGIN_MS = 20_000
_KEPT_PIECES = 4
_LONGEST_MS = 20 * 60_000
"""A quote that reaches over more than this is not held in memory: its joins are heard in the clip."""


class TooLongToHear(Refused):
    """A quote reaches over more of its recording than is held in memory."""

    code = "too-long-to-hear"


@dataclass(frozen=True, kw_only=True)
class _Stretch:
    span: Span
    samples: Samples


@dataclass
class Sounds:
    """The stretches of recordings that were heard last, so that a cut sounds at once after an edit."""

    _kept: OrderedDict[str, _Stretch] = field(default_factory=OrderedDict)
    _music: OrderedDict[tuple[int, int], Samples] = field(default_factory=OrderedDict)
    _lock: asyncio.Lock = field(default_factory=asyncio.Lock)

    async def wav(
        self, assembly: Assembly, content: str, sources: Mapping[str, Source], scratch: Path, music: Mapping[int, Samples],
        *, plain: bool = False,
    ) -> bytes:  # fmt: skip
        """The sound of an Assembly, whose recording has one, as a WAV file, made in a scratch folder, with `music` of the house's by its numbers; `plain` as
        `write_sound` says. Raises `TooLongToHear`."""
        reaches = [reach_ms(piece) for piece in assembly.sound.speech]
        span = Span(start_ms=max(0, min(a for a, _ in reaches)), end_ms=max(b for _, b in reaches))
        if span.length_ms > _LONGEST_MS:
            raise TooLongToHear("A quote over more than 20 minutes can't be heard as one. Play it stretch by stretch.")
        async with self._lock:
            recording = sources[RECORDING]
            stretch = await self._stretch(content, recording.path, recording.sound_track or 0, span)
        pieces = slices(assembly.sound.speech, stretch.samples, stretch.span.start_ms)
        target = scratch / "cut.wav"
        await write_sound(assembly, [one.astype(np.float32) for one in pieces], target, music, sources, plain=plain)
        return target.read_bytes()

    def held(self, assembly: Assembly) -> dict[int, Samples]:
        """The samples of the house's sounds that are heard in an Assembly, as far as they are kept here."""
        keys = {one.sound: (one.sound, one.revision) for one in assembly.sound.music}
        return {number: self._music[key] for number, key in keys.items() if key in self._music}

    async def taken(self, assembly: Assembly, contents: Mapping[int, bytes]) -> dict[int, Samples]:
        """The samples of other sounds that are heard in it, by their contents; those asked for last are kept."""
        revisions = {one.sound: one.revision for one in assembly.sound.music}
        found = {number: await decoded(content) for number, content in contents.items()}
        self._music.update({(number, revisions[number]): samples for number, samples in found.items()})
        while len(self._music) > _KEPT_PIECES:
            self._music.popitem(last=False)
        return found

    async def _stretch(self, content: str, source: Path, track: int, span: Span) -> _Stretch:
        kept = self._kept.get(f"{content}:{track}")
        if kept and kept.span.start_ms <= span.start_ms and span.end_ms <= kept.span.end_ms:
            self._kept.move_to_end(f"{content}:{track}")
            return kept
        wide = Span(start_ms=max(0, span.start_ms - _MARGIN_MS), end_ms=span.end_ms + _MARGIN_MS)
        found = _Stretch(span=wide, samples=(await hear_stretch(source, track, wide)).astype(np.float16))
        self._kept[f"{content}:{track}"] = found
        while sum(one.samples.nbytes for one in self._kept.values()) > _KEPT_BYTES and len(self._kept) > 1:
            self._kept.popitem(last=False)
        return found
