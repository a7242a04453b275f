"""A talk of three hours, put on the shelf of a running application without three hours of media."""

import asyncio
import hashlib
import random
from concurrent.futures import ThreadPoolExecutor
from fractions import Fraction
from pathlib import Path

import psycopg

from nimble_quote.core.transcript.cues import TimedWord
from nimble_quote.core.transcript.document import transcript_of
from nimble_quote.core.transcript.words import Word
from nimble_quote.demo.load import DEMO
from nimble_quote.media.files import MediaRoot
from nimble_quote.media.keys import PROXY, derived_key
from nimble_quote.media.listening import ZOOMS_MS, peaks_name
from nimble_quote.media.probe import SoundTrack, SourceFacts
from nimble_quote.store import media_files, recordings, transcripts
from tests.conftest import RunningApp
from tests.library import talk_words, vocabulary
from tests.truth import truth_of

WORDS = 30_000
HOURS_MS = 3 * 3600 * 1000
_OWN_EACH = 6
"""Every so many words the talk has one of its own, so that no sentence is said twice alike."""


def long_words() -> list[TimedWord]:
    """Thirty thousand words, the same each time: the sentences of the demo talks over and over, in no order, with other
    words between."""
    dice = random.Random(3)
    own = talk_words(3, vocabulary(), WORDS)
    said = [sentence for demo in DEMO for sentence in _sentences(demo.name)]
    words: list[TimedWord] = []
    while len(words) < WORDS:
        for text in dice.choice(said):
            index = len(words)
            start = index * HOURS_MS // WORDS
            told = own[index % WORDS] + text[len(text.rstrip(".,?!;:")) :] if index % _OWN_EACH == 3 else text
            word = Word(index=index, text=told, start_ms=start, end_ms=start + 280)
            words.append(TimedWord(word=word, speaker="Ann" if index < 20_000 else "Bo"))
    return words[:WORDS]


def _sentences(demo: str) -> list[list[str]]:
    """The sentences of a demo talk as they were said."""
    by_number: dict[int, list[str]] = {}
    for word in truth_of(demo)["words"]:
        by_number.setdefault(word["sentence"], []).append(word["said"])
    return list(by_number.values())


def put_on_shelf(running: RunningApp, media: Path, title: str = "A very long evening") -> int:
    """The talk, ready to be read; its id. `media` stands in for its picture and sound.

    In a thread of its own, since the browser's driver keeps a loop running in this one.
    """
    with ThreadPoolExecutor(1) as thread:
        return thread.submit(lambda: asyncio.run(_put(running, media, title))).result()


async def _put(running: RunningApp, media: Path, title: str) -> int:
    content = hashlib.sha256(title.encode()).hexdigest()
    root = MediaRoot(running.settings.media_root)
    made = {peaks_name(zoom): random.Random(4).randbytes(HOURS_MS // zoom) for zoom in ZOOMS_MS}
    made[PROXY] = media.read_bytes()
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
    async with await psycopg.AsyncConnection.connect(running.settings.database_url) as conn:
        talk = await recordings.add(
            conn,
            title=title,
            file_name="long.mp4",
            content=content,
            media_path=f"derived/{content}",
            facts=facts,
        )
        assert talk is not None
        for name, data in made.items():
            path = root.folder / "scratch" / name
            path.write_bytes(data)
            await media_files.keep(conn, root, path, derived_key(content, name), recording_id=talk)
        await transcripts.keep(conn, talk, transcripts.rows_of(transcript_of(words)))
    return talk
