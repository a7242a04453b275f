"""A library of made-up talks of any size, put straight into a database: words as often as in speech (Zipf's law)."""

import random
from collections.abc import Iterator
from datetime import date, timedelta

import numpy as np
import psycopg

WORDS_EACH = 9_000
SENTENCE_WORDS = 13
WORD_MS = 400
_COMMON = (
    "the and to of a i it that in you is was we so they on have but not for be with he this do at what all as are my "
    "there had one me she when no if or know can just about from up an like them then out were your said him go"
).split()
_SYLLABLES = (
    "ba ke lo mi tu ran sel dor vin pal gur hem tis lor wen cas fid jol nar pem rus sid tov bren clo dra fle".split()
)


def vocabulary(count: int = 40_000, seed: int = 5) -> list[str]:
    """So many different words, the most used first."""
    dice = random.Random(seed)
    words = dict.fromkeys(_COMMON)
    while len(words) < count:
        words["".join(dice.choice(_SYLLABLES) for _ in range(dice.randint(2, 4)))] = None
    return list(words)


def talk_words(number: int, words: list[str], count: int = WORDS_EACH) -> list[str]:
    """The words of one talk: a tenth of them are of its own few subjects."""
    draw = np.random.default_rng(number)
    chance = 1 / (np.arange(len(words)) + 2.7)
    picked = draw.choice(len(words), count, p=chance / chance.sum())
    own = draw.integers(200, len(words), 30)
    turn = draw.random(count) < 0.1
    picked[turn] = own[draw.integers(0, len(own), int(turn.sum()))]
    return [words[i] for i in picked]


def sentences(text: list[str]) -> Iterator[list[str]]:
    """The words in sentences, each with its full stop."""
    for at in range(0, len(text), SENTENCE_WORDS):
        run = text[at : at + SENTENCE_WORDS]
        yield [run[0].capitalize(), *run[1:-1], f"{run[-1]}."] if len(run) > 1 else [f"{run[0]}."]


def fill(conn: "psycopg.Connection[tuple[object, ...]]", talks: int) -> list[int]:
    """Puts so many talks on the shelf; their ids. Their words are still to be counted, and what is searched to be made."""
    words = vocabulary()
    conn.execute("alter table sentence disable trigger sentence_added")
    ids = []
    for number in range(talks):
        row = conn.execute(
            """insert into recording (title, series, held_on, file_name, content, media_path, duration_ms, width, height,
                   rate_num, rate_den, audio_codec, size_bytes)
               values (%s, %s, %s, 'a.m4a', encode(sha256(%s::bytea), 'hex'), 'originals/a.m4a', %s, 0, 0, 25, 1, 'aac', 9)
               returning id""",
            [f"Talk {number}", f"Series {number % 20}", date(2023, 11, 1) + timedelta(days=number),
             f"library {number}".encode(), WORDS_EACH * WORD_MS],
        ).fetchone()  # fmt: skip
        assert row is not None
        ids.append(int(str(row[0])))
        speaker = f"Speaker {number % 40}"
        conn.execute("insert into speaker (recording_id, name, colour) values (%s, %s, 0)", [ids[-1], speaker])
        copy = """copy sentence (recording_id, number, first_word, speaker, words, starts_ms, ends_ms, timing, body, ids)
                  from stdin"""
        with conn.cursor() as cursor, cursor.copy(copy) as rows:
            first = 0
            for place, said in enumerate(sentences(talk_words(number, words))):
                starts = [(first + i) * WORD_MS for i in range(len(said))]
                rows.write_row([
                    ids[-1], place, first, speaker, said, starts, [at + 300 for at in starts], "g" * len(said), " ".join(said),
                    [*range(first, first + len(said))],
                ])  # fmt: skip
                first += len(said)
    conn.execute("alter table sentence enable trigger sentence_added")
    conn.execute("update recording set next_word_id = %s where id = any(%s)", [WORDS_EACH, ids])
    return ids
