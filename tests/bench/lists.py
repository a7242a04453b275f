"""The shelf of a large house, and a long shortlist: how long a request takes, beside one that asks for nothing much."""

import time
from collections.abc import Callable

import httpx
import psycopg

from nimble_quote.core.document import QuoteDocument, Version
from nimble_quote.core.document.upgrades import stored
from nimble_quote.core.timebase import Span
from tests.bench.table import Row, spread
from tests.conftest import RunningApp

RECORDINGS, SENTENCES, QUOTES, ROUNDS = 2000, 150, 500, 40
_LONGEST_MS = SENTENCES * 5000


def measure(running: RunningApp) -> list[Row]:
    """Fills the database with made-up recordings and quotes, and asks for the lists of them."""
    with psycopg.connect(running.settings.database_url, autocommit=True) as conn:
        _fill(conn)
    with running.client as client:
        bare = _times(lambda: client.get("/api/catalogue"))
        shelf = _times(lambda: client.get("/api/recordings"))
        shortlist = _times(lambda: client.get("/api/shortlist"))
        shown = len(client.get("/api/recordings").json()), len(client.get("/api/shortlist").json()["slips"])
    assert shown[0] >= RECORDINGS
    assert shown[1] >= QUOTES
    return [
        _row(f"the shelf with {shown[0]} recordings, in the API", shelf, bare),
        _row(f"the shortlist with {shown[1]} quotes, in the API", shortlist, bare),
    ]


def _row(what: str, times: list[float], bare: list[float]) -> Row:
    slow = sorted(times[1:])[int(len(times) * 0.95)]
    return Row(
        what=what,
        measured=f"{spread(times[1:])}; the first ask {times[0]:.0f} ms",
        baseline=f"{spread(bare[1:])} the catalogue",
        aim="95 %: 100 ms",
        met=slow <= 100,
    )


def _times(ask: Callable[[], httpx.Response]) -> list[float]:
    times = []
    for _ in range(ROUNDS + 1):
        start = time.perf_counter()
        ask().raise_for_status()
        times.append((time.perf_counter() - start) * 1000)
    return times


def _fill(conn: "psycopg.Connection[object]") -> None:
    conn.execute(
        """insert into recording (title, series, file_name, content, media_path, duration_ms, width, height, rate_num, rate_den,
               video_codec, audio_codec, size_bytes, transcript_origin)
           select 'Evening ' || n, 'Series ' || mod(n, 40), 'a.mp4', encode(sha256(n::text::bytea), 'hex'), 'originals/a' || n || '.mp4',
               %s, 1920, 1080, 25, 1, 'h264', 'aac', 9, 'file' from generate_series(1, %s) n""",
        [_LONGEST_MS, RECORDINGS],
    )
    conn.execute(
        """insert into speaker (recording_id, name, colour)
           select r.id, 'Speaker ' || s, s from recording r, generate_series(0, 2) s where r.title ^@ 'Evening '"""
    )
    conn.execute(
        """insert into sentence (recording_id, number, first_word, speaker, words, starts_ms, ends_ms, body, timing, ids)
           select r.id, n, n * 10, 'Speaker ' || mod(n / 7, 3), string_to_array(said, ' '),
               array(select n * 5000 + w * 400 from generate_series(0, 9) w),
               array(select n * 5000 + w * 400 + 350 from generate_series(0, 9) w), said, 'gggggggggg',
               array(select n * 10 + w from generate_series(0, 9) w)
           from recording r, generate_series(0, %s) n,
               lateral (select 'we kept the lamp lit all through that long night.' as said) as one
           where r.title ^@ 'Evening '""",
        [SENTENCES - 1],
    )
    conn.execute(
        """insert into work (recording_id, target, kind, state, attempt, started_at, finished_at, stage, progress)
           select id, 'recording ' || id, kind::work_kind, 'done', gen_random_uuid(), now(), now(), 'Done', 1
           from recording, unnest(array['prepare', 'align']) as kind where title ^@ 'Evening '"""
    )
    conn.execute(
        """insert into media_file (key, recording_id, bytes)
           select 'derived/' || left(content, 2) || '/' || content || '/' || name, id, 9
           from recording, unnest(array['proxy.mp4', 'speech.json', 'sound.m4a', 'peaks-10.u8', 'still-100-face.jpg']) as name
           where title ^@ 'Evening '"""
    )
    talks = conn.execute("select id from recording where title ^@ 'Evening ' order by id limit %s", [QUOTES]).fetchall()
    for number, (talk,) in enumerate(talks):  # type: ignore[misc]
        start = 5000 * (number % 100)
        document = QuoteDocument(
            title=f"Quote {number}",
            span=Span(start_ms=start, end_ms=start + 45_000),
            versions=(Version(destination="tall-60"),),
        )
        conn.execute(
            """with kept as (insert into quote (recording_id, head) values (%s, 1) returning id)
               insert into quote_revision (quote_id, number, said, document) select id, 1, 'Kept', %s from kept""",
            [talk, psycopg.types.json.Jsonb(stored(document))],
        )
    conn.execute(
        "update recording set words = %s, speakers = '{Speaker 0,Speaker 1,Speaker 2}' where title ^@ 'Evening '",
        [SENTENCES * 10],
    )
    conn.execute("analyze")
