"""A talk of three hours, put on the shelf of a running application without three hours of media."""

import asyncio
import hashlib
import random
import shutil
from concurrent.futures import ThreadPoolExecutor
from fractions import Fraction
from pathlib import Path

import psycopg

from nimble_quote.core.transcript.cues import HeardWord
from nimble_quote.core.transcript.document import transcript_of
from nimble_quote.core.transcript.words import Word
from nimble_quote.jobs.prepare import PROXY
from nimble_quote.media.files import MediaRoot
from nimble_quote.media.listening import ZOOMS_MS, peaks_name
from nimble_quote.media.probe import SoundTrack, SourceFacts
from nimble_quote.store import recordings, transcripts
from tests.conftest import House
from tests.library import talk_words, vocabulary

WORDS = 30_000
HOURS_MS = 3 * 3600 * 1000
_SAID = "lamp oil harbour wick short light glass keep mend boat fog gate scissors patience evening".split()
_SAID_EACH = 40
"""Every so many words one of these is said, the others are as rare and as common as in any talk."""


def long_words() -> list[HeardWord]:
    """Thirty thousand words in sentences of 4 to 24, the same each time."""
    dice = random.Random(3)
    others = talk_words(3, vocabulary(), WORDS)
    words: list[HeardWord] = []
    left = 0
    for index in range(WORDS):
        left = left - 1 if left else dice.randint(4, 24)
        start = index * HOURS_MS // WORDS
        text = dice.choice(_SAID) if index % _SAID_EACH == 0 else others[index]
        text += "." if left == 0 else ""
        word = Word(index=index, text=text, start_ms=start, end_ms=start + 280)
        words.append(HeardWord(word=word, speaker="Ann" if index < 20_000 else "Bo"))
    return words


def put_on_shelf(house: House, media: Path, title: str = "A very long evening") -> int:
    """The talk, ready to be read; its id. `media` stands in for its picture and sound.

    In a thread of its own, since the browser's driver keeps a loop running in this one.
    """
    with ThreadPoolExecutor(1) as thread:
        return thread.submit(lambda: asyncio.run(_put(house, media, title))).result()


async def _put(house: House, media: Path, title: str) -> int:
    content = hashlib.sha256(title.encode()).hexdigest()
    root = MediaRoot(house.settings.media_root)
    root.derived(content, PROXY).parent.mkdir(parents=True, exist_ok=True)
    shutil.copy(media, root.derived(content, PROXY))
    for zoom in ZOOMS_MS:
        root.derived(content, peaks_name(zoom)).write_bytes(random.Random(4).randbytes(HOURS_MS // zoom))
    facts = SourceFacts(
        duration_ms=HOURS_MS,
        width=640,
        height=360,
        rate=Fraction(25),
        video_codec="h264",
        sound_tracks=(SoundTrack(codec="aac", channels=2, language=None, title=None),),
        size_bytes=9,
    )
    words = long_words()
    async with await psycopg.AsyncConnection.connect(house.settings.database_url) as conn:
        talk = await recordings.add(
            conn,
            title=title,
            file_name="long.mp4",
            content=content,
            media_path=f"derived/{content}",
            facts=facts,
        )
        assert talk is not None
        await transcripts.keep(conn, talk, transcript_of(words))
    return talk
