"""Judged talks on the shelf of a database, as the application has them, and how windows of them are judged."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from hashlib import sha256

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.soundbites.facts import TalkToJudge
from nimble_quote.core.transcript.document import transcript_of
from nimble_quote.formats.languages import language
from nimble_quote.media.likelihoods import ends_by_wording
from nimble_quote.media.probe import SourceFacts
from nimble_quote.store import recordings, soundbites, transcripts
from nimble_quote.store.database import Connection
from tests.judged.talks import JudgedTalk, Passage, words_of

SAME = 0.5
"""Words are a passage where they and it share so much of what they have together."""
PART = 0.3
Indices = NDArray[np.int64]


@dataclass(frozen=True, kw_only=True)
class ReadyTalk:
    """A judged talk as the finder gets it."""

    talk: JudgedTalk
    to_judge: TalkToJudge

    def marks(self, first: Indices, last: Indices) -> Indices:
        """What spans of its sentences are worth: 2 for a passage to post, 1 for a part of one or one that could be, else 0."""
        said = self.to_judge.sentences
        starts = np.array([one.first_word for one in said])[first]
        ends = np.array([one.first_word + len(one.words) for one in said])[last]
        worth = np.zeros(len(first), int)
        for one in self.talk.passages:
            share = shared(one, starts, ends)
            if one.verdict == "post":
                worth = np.maximum(worth, np.where(share >= SAME, 2, np.where(share >= PART, 1, 0)))
            elif one.verdict == "could":
                worth = np.maximum(worth, np.where(share >= SAME, 1, 0))
        return worth

    def nevers(self, first: Indices, last: Indices) -> NDArray[np.bool_]:
        """Which spans are mostly words that nobody would post: half of them are, or half of a passage of those is in it."""
        said = self.to_judge.sentences
        starts = np.array([one.first_word for one in said])[first]
        ends = np.array([one.first_word + len(one.words) for one in said])[last]
        within = np.zeros(len(first))
        for one in self.talk.passages:
            if one.verdict == "never":
                within += np.maximum(0, np.minimum(ends, one.end) - np.maximum(starts, one.first))
        return np.asarray(within >= 0.5 * (ends - starts))


def shared(passage: Passage, starts: Indices, ends: Indices) -> NDArray[np.float64]:
    """The words that runs and a passage both have, as a share of those that either has."""
    both = np.minimum(ends, passage.end) - np.maximum(starts, passage.first)
    either = np.maximum(ends, passage.end) - np.minimum(starts, passage.first)
    return np.asarray(np.maximum(0, both) / either)


async def made_ready(conn: Connection, talks: Sequence[JudgedTalk]) -> list[ReadyTalk]:
    """Puts talks on the shelf and reads them as the finder does."""
    ids = [await _put(conn, one) for one in talks]
    out = []
    for talk, recording in zip(talks, ids, strict=True):
        library, words = await soundbites.library(conn, recording)
        sentences = await soundbites.sentences(conn, recording)
        to_judge = TalkToJudge(sentences=sentences, levels=np.zeros(0, np.uint8), library=library, library_words=words)
        out.append(ReadyTalk(talk=talk, to_judge=to_judge))
    return out


async def _put(conn: Connection, talk: JudgedTalk) -> int:
    words = words_of(talk.given)
    facts = SourceFacts(
        duration_ms=words[-1].word.end_ms + 1000, width=640, height=360, rate=Fraction(25), video_codec="h264",
        sound_tracks=(), size_bytes=1,
    )  # fmt: skip
    content = sha256(talk.name.encode()).hexdigest()
    recording = await recordings.add(
        conn, title=talk.title, file_name=f"{talk.name}.mp4", content=content, media_path=f"originals/{content}", facts=facts
    )  # fmt: skip
    assert recording is not None
    transcript = transcript_of(words, language("en"), ends_by_wording("en"))
    await transcripts.keep(conn, recording, transcripts.rows_of(transcript))
    return recording
