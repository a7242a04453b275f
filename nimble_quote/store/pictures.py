"""What is found in the picture of a recording: sudden changes, cuts set by hand, faces followed through shots."""

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from psycopg.rows import class_row

from nimble_quote.core.context import Shot, Sight
from nimble_quote.core.framing.following import Track as FollowedTrack
from nimble_quote.core.framing.graphics import Rectangle
from nimble_quote.core.framing.lasting import renumbered
from nimble_quote.core.framing.naming import Seen, Turn, named_by_turns
from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.framing.shots import HandCut, cuts, shots
from nimble_quote.core.framing.subjects import Track
from nimble_quote.core.timebase import Span
from nimble_quote.store.database import Connection


@dataclass(frozen=True, kw_only=True)
class TrackRow:
    """A face through a shot: the moments it was seen at, and its places side by side."""

    number: int
    subject: int
    at_ms: list[int]
    x: list[float]
    y: list[float]
    width: list[float]
    height: list[float]
    turn: list[float]
    score: list[float]
    talking: list[float]
    inset: list[float]


async def replace_found(
    conn: Connection, recording_id: int, changes: Sequence[tuple[int, str]], tracks: Sequence[Track]
) -> None:
    """Keeps the changes (ms, kind) and tracks found, instead of any kept before. What was set by hand stays, and subjects
    keep their numbers, by which quotes and names know them."""
    await counted(conn, recording_id)
    tracks = renumbered(tracks, [_followed(row) for row in await _rows_of(conn, recording_id)])
    await conn.execute("delete from picture_change where recording_id = %s", [recording_id])
    await conn.execute("delete from subject_track where recording_id = %s", [recording_id])
    async with conn.cursor() as cursor:
        await cursor.executemany(
            "insert into picture_change (recording_id, at_ms, kind) values (%s, %s, %s) on conflict do nothing",
            [[recording_id, at, kind] for at, kind in changes],
        )
        await cursor.executemany(
            """insert into subject_track (recording_id, number, subject, at_ms, x, y, width, height, turn, score, talking, inset)
               values (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)""",
            [[recording_id, number, track.subject, *_columns(track)] for number, track in enumerate(tracks)],
        )


async def replace_looks(conn: Connection, recording_id: int, looks: Sequence[tuple[int, bytes]]) -> None:
    """Keeps the looks of shots: where each begins, and its look."""
    await counted(conn, recording_id)
    await conn.execute("delete from shot_look where recording_id = %s", [recording_id])
    async with conn.cursor() as cursor:
        await cursor.executemany(
            "insert into shot_look (recording_id, at_ms, look) values (%s, %s, %s)",
            [[recording_id, *one] for one in looks],
        )


async def replace_graphics(conn: Connection, recording_id: int, graphics: Sequence[Rectangle]) -> None:
    """Keeps what stands still over the picture."""
    await counted(conn, recording_id)
    await conn.execute("delete from still_graphic where recording_id = %s", [recording_id])
    async with conn.cursor() as cursor:
        await cursor.executemany(
            """insert into still_graphic (recording_id, x, y, width, height) values (%s, %s, %s, %s, %s)
               on conflict do nothing""",
            [[recording_id, *one] for one in graphics],
        )


async def _graphics_of(conn: Connection, recording_id: int) -> list[Rectangle]:
    cursor = await conn.execute(
        "select x, y, width, height from still_graphic where recording_id = %s order by x, y", [recording_id]
    )
    rows: list[Any] = await cursor.fetchall()
    return [(x, y, width, height) for x, y, width, height in rows]


async def name_subject(conn: Connection, recording_id: int, subject: int, name: str | None) -> None:
    """Names a subject by hand; None leaves it to what words and faces agree on."""
    await counted(conn, recording_id)
    await conn.execute("delete from subject_name where recording_id = %s and subject = %s", [recording_id, subject])
    if name is not None:
        await conn.execute(
            "insert into subject_name (recording_id, subject, name, by_hand) values (%s, %s, %s, true)",
            [recording_id, subject, name],
        )


async def name_by_turns(conn: Connection, recording_id: int) -> None:
    """Names the subjects that are not named by hand, where words and faces agree on a speaker."""
    await counted(conn, recording_id)
    seen = [
        Seen(subject=row.subject, start_ms=row.at_ms[0], end_ms=row.at_ms[-1], track=_followed(row))
        for row in await tracks(conn, recording_id)
    ]
    cursor = await conn.execute(
        "select speaker, start_ms, end_ms from sentence where recording_id = %s and speaker is not null",
        [recording_id],
    )
    turns = [
        Turn(speaker=str(speaker), start_ms=int(str(start)), end_ms=int(str(end)))
        for speaker, start, end in await cursor.fetchall()
    ]
    await conn.execute("delete from subject_name where recording_id = %s and not by_hand", [recording_id])
    async with conn.cursor() as names:
        await names.executemany(
            """insert into subject_name (recording_id, subject, name, by_hand) values (%s, %s, %s, false)
               on conflict do nothing""",
            [[recording_id, subject, name] for subject, name in named_by_turns(turns, seen).items()],
        )


def _columns(track: Track) -> list[object]:
    samples = [face.sample for face in track.faces]
    return [
        [s.at_ms for s in samples], [s.x for s in samples], [s.y for s in samples], [s.width for s in samples],
        [s.height for s in samples], [face.turn for face in track.faces], [s.score for s in samples],
        [face.talking for face in track.faces] if any(face.talking >= 0 for face in track.faces) else [],
        list(track.inset) if track.inset else [],
    ]  # fmt: skip


async def changes(conn: Connection, recording_id: int) -> list[tuple[int, str]]:
    """The sudden changes found, in order of time."""
    cursor = await conn.execute(
        "select at_ms, kind from picture_change where recording_id = %s order by at_ms", [recording_id]
    )
    return [(int(str(at)), str(kind)) for at, kind in await cursor.fetchall()]


async def by_hand(conn: Connection, recording_id: int) -> list[HandCut]:
    """What a person said of cuts."""
    cursor = await conn.execute(
        "select at_ms, there from cut_by_hand where recording_id = %s order by at_ms", [recording_id]
    )
    return [HandCut(at_ms=int(str(at)), there=bool(there)) for at, there in await cursor.fetchall()]


async def cuts_of(conn: Connection, recording_id: int) -> tuple[int, ...]:
    """The camera cuts of a recording, in ms: those found, but for what a person said otherwise."""
    found = [at for at, kind in await changes(conn, recording_id) if kind == "cut"]
    return cuts(found, await by_hand(conn, recording_id))


async def say_of_cut(conn: Connection, recording_id: int, hand: HandCut, near_ms: int) -> None:
    """Keeps what a person says of a moment, instead of what was said within `near_ms` of it before."""
    await counted(conn, recording_id)
    await conn.execute(
        "delete from cut_by_hand where recording_id = %s and abs(at_ms - %s) <= %s", [recording_id, hand.at_ms, near_ms]
    )
    await conn.execute(
        "insert into cut_by_hand (recording_id, at_ms, there) values (%s, %s, %s)",
        [recording_id, hand.at_ms, hand.there],
    )


async def tracks(conn: Connection, recording_id: int) -> list[TrackRow]:
    """The faces of a recording, in order of when they come in."""
    return await _rows_of(conn, recording_id)


async def _rows_of(conn: Connection, recording_id: int) -> list[TrackRow]:
    async with conn.cursor(row_factory=class_row(TrackRow)) as cursor:
        await cursor.execute(
            """select number, subject, at_ms, x, y, width, height, turn, score, talking, inset from subject_track
               where recording_id = %s order by number""",
            [recording_id],
        )
        return await cursor.fetchall()


async def sight_in(conn: Connection, recording_id: int, size: tuple[int, int], span: Span) -> Sight:
    """What is seen in a stretch of a recording, whose picture has that size: whole shots that lie in it, and all of their faces
    within it."""
    return Sight(
        size=size,
        shots=await _shots_in(conn, recording_id, span),
        tracks=await _tracks_in(conn, recording_id, span),
        names={subject: name for subject, name, _ in await names_of_subjects(conn, recording_id)},
        graphics=await _graphics_of(conn, recording_id),
    )


async def _shots_in(conn: Connection, recording_id: int, span: Span) -> list[Shot]:
    """The shots that a stretch reaches into."""
    found = await conn.execute(
        """select r.duration_ms, array(select at_ms from shot_look l where l.recording_id = r.id order by at_ms)
           from recording r where r.id = %s""",
        [recording_id],
    )
    row: Any = await found.fetchone()
    wanted = [
        one
        for one in shots(await cuts_of(conn, recording_id), row[0])
        if one.start_ms < span.end_ms and one.end_ms > span.start_ms
    ]
    starts = [row[1][place - 1] if (place := bisect_right(row[1], one.start_ms)) else None for one in wanted]
    cursor = await conn.execute(
        "select at_ms, look from shot_look where recording_id = %s and at_ms = any(%s)",
        [recording_id, [at for at in starts if at is not None]],
    )
    rows: list[Any] = await cursor.fetchall()
    looks = {at: bytes(look) for at, look in rows}
    return [
        Shot(span=one, look=looks.get(start, b"") if start is not None else b"")
        for one, start in zip(wanted, starts, strict=True)
    ]


async def names_of_subjects(conn: Connection, recording_id: int) -> list[tuple[int, str, bool]]:
    """The subjects of a recording that have a name, each with whether it was given by hand."""
    cursor = await conn.execute(
        "select subject, name, by_hand from subject_name where recording_id = %s order by subject", [recording_id]
    )
    return [(int(str(subject)), str(name), bool(hand)) for subject, name, hand in await cursor.fetchall()]


async def _tracks_in(conn: Connection, recording_id: int, span: Span) -> list[FollowedTrack]:
    """What is followed in a stretch, by track, in order of when it comes in."""
    async with conn.cursor(row_factory=class_row(TrackRow), binary=True) as cursor:
        await cursor.execute(
            """select number, subject, at_ms, x, y, width, height, turn, score, talking, inset from subject_track
               where recording_id = %(id)s and start_ms < %(end)s and end_ms >= %(start)s order by number""",
            {"id": recording_id, "start": span.start_ms, "end": span.end_ms},
        )
        rows = await cursor.fetchall()
    parts = (_followed(row).within(span.start_ms, span.end_ms) for row in rows)
    return [part for part in parts if part is not None]


def column(values: Sequence[float]) -> NDArray[np.float64]:
    """A column of a track, as framing has it."""
    return np.array(values, np.float64)


def _followed(row: TrackRow) -> FollowedTrack:
    return FollowedTrack(
        subject=row.subject, at_ms=column(row.at_ms), x=column(row.x), y=column(row.y), width=column(row.width),
        height=column(row.height), turn=column(row.turn), score=column(row.score), talking=column(row.talking),
        inset=(row.inset[0], row.inset[1], row.inset[2], row.inset[3]) if row.inset else None,
    )  # fmt: skip


async def faces_in(conn: Connection, recording_id: int, span: Span) -> list[FaceSample]:
    """The faces seen in a stretch of a recording, about one a second of each, in order of time."""
    return Sight(tracks=await _tracks_in(conn, recording_id, span)).faces


async def counted(conn: Connection, recording_id: int) -> None:
    """Counts a change of what is seen, so that whoever holds a copy knows it is old."""
    await conn.execute("update recording set picture_version = picture_version + 1 where id = %s", [recording_id])
