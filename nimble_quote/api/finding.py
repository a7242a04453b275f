"""Talks made ready for the finder, kept while they stay as they are."""

import asyncio
from collections import OrderedDict
from dataclasses import dataclass, field

import numpy as np

from nimble_quote.core.soundbites.facts import TalkToJudge
from nimble_quote.core.soundbites.finder import Finder, finder_of
from nimble_quote.core.soundbites.merits import Weights
from nimble_quote.core.soundbites.taste import learned
from nimble_quote.formats.languages import finder_model, language
from nimble_quote.media.files import MediaRoot
from nimble_quote.store import soundbites
from nimble_quote.store.database import Connection
from nimble_quote.store.recordings import RecordingRow

_KEPT = 8


@dataclass
class Finders:
    """The finders of the talks asked for last."""

    media: MediaRoot
    _kept: OrderedDict[tuple[object, ...], Finder] = field(default_factory=OrderedDict)

    async def of(self, conn: Connection, recording: RecordingRow) -> Finder:
        """The finder of a talk. Raises `NotSentences` where it has no words."""
        key = (recording.id, recording.words_version, recording.language, recording.sound_track, recording.peaks)
        if key in self._kept:
            self._kept.move_to_end(key)
            return self._kept[key]
        library, library_words = await soundbites.library(conn, recording.id)
        # A file that is gone from the disk leaves the words to judge by.
        there = recording.peaks is not None and self.media.store.stat(recording.peaks) is not None
        peaks = self.media.store.read(recording.peaks) if recording.peaks and there else b""
        talk = TalkToJudge(
            sentences=await soundbites.sentences(conn, recording.id),
            levels=np.frombuffer(peaks, np.uint8),
            library=library,
            library_words=library_words,
        )
        found = await asyncio.to_thread(finder_of, talk, language(recording.language), finder_model(recording.language))
        self._kept[key] = found
        while len(self._kept) > _KEPT:
            self._kept.popitem(last=False)
        return found


async def weights_of_house(conn: Connection, finder: Finder) -> Weights:
    """How much each feature counts in a talk, by what was learned of its language and the choices that were made here."""
    return learned(finder.model.weights, [one.choice for one in await soundbites.choices(conn)])
