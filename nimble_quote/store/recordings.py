"""Recordings: their facts and how far their preparation is."""

from dataclasses import dataclass
from datetime import datetime
from fractions import Fraction

from psycopg.rows import class_row, scalar_row

from nimble_quote.core.assembly import RecordingFacts
from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.timebase import Span
from nimble_quote.media.probe import SourceFacts
from nimble_quote.store.database import Connection, NotFound


@dataclass(frozen=True, kw_only=True)
class RecordingRow:
    """A recording as the shelf shows it."""

    id: int
    title: str
    file_name: str
    content: str
    media_path: str
    duration_ms: int
    width: int
    height: int
    rate_num: int
    rate_den: int
    video_codec: str | None
    audio_codec: str
    size_bytes: int
    transcript_notes: list[str]
    state: str
    stage: str
    progress: float
    stage_started_at: datetime
    problem: str | None
    created_at: datetime
    words: int
    speakers: list[str]
    quotes: int

    @property
    def facts(self) -> RecordingFacts:
        """What the core needs to know of it."""
        return RecordingFacts(
            duration_ms=self.duration_ms,
            width=self.width,
            height=self.height,
            rate=Fraction(self.rate_num, self.rate_den),
        )


_SELECT = """
    select r.id, r.title, r.file_name, r.content, r.media_path, r.duration_ms, r.width, r.height, r.rate_num, r.rate_den,
        r.video_codec, r.audio_codec, r.size_bytes, r.transcript_notes, r.state::text, r.stage, r.progress,
        r.stage_started_at, r.problem, r.created_at,
        coalesce((select max(s.first_word + cardinality(s.words)) from sentence s where s.recording_id = r.id), 0) as words,
        coalesce((select array_agg(distinct s.speaker order by s.speaker) from sentence s
            where s.recording_id = r.id and s.speaker is not null), '{}') as speakers,
        (select count(*) from quote q where q.recording_id = r.id and q.removed_at is null) as quotes
    from recording r
"""


async def shelf(conn: Connection) -> list[RecordingRow]:
    """All recordings, newest first."""
    async with conn.cursor(row_factory=class_row(RecordingRow)) as cursor:
        await cursor.execute(_SELECT + " order by r.created_at desc, r.id desc")
        return await cursor.fetchall()


async def one(conn: Connection, recording_id: int) -> RecordingRow:
    """One recording. Raises `NotFound`."""
    async with conn.cursor(row_factory=class_row(RecordingRow)) as cursor:
        await cursor.execute(_SELECT + " where r.id = %s", [recording_id])
        row = await cursor.fetchone()
    if row is None:
        raise NotFound("There is no such recording.")
    return row


async def with_content(conn: Connection, content: str) -> tuple[int, str] | None:
    """The id and title of the recording with this content, where it is on the shelf already."""
    cursor = await conn.execute("select id, title from recording where content = %s", [content])
    row = await cursor.fetchone()
    return (int(str(row[0])), str(row[1])) if row else None


async def add(
    conn: Connection, *, title: str, file_name: str, content: str, media_path: str, facts: SourceFacts, notes: list[str]
) -> int:
    """Puts a recording on the shelf, to be prepared; its id."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """insert into recording (title, file_name, content, media_path, duration_ms, width, height, rate_num,
                   rate_den, video_codec, audio_codec, size_bytes, transcript_notes)
               values (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s) returning id""",
            [
                title,
                file_name,
                content,
                media_path,
                facts.duration_ms,
                facts.width,
                facts.height,
                facts.rate.numerator,
                facts.rate.denominator,
                facts.video_codec,
                facts.audio_codec,
                facts.size_bytes,
                notes,
            ],
        )
        return int(await cursor.fetchone() or 0)


async def set_stage(conn: Connection, recording_id: int, stage: str) -> None:
    """Says what is being made from a recording now."""
    await conn.execute(
        """update recording set state = 'preparing', problem = null, stage = %s, progress = 0, stage_started_at = now()
           where id = %s""",
        [stage, recording_id],
    )


async def set_progress(conn: Connection, recording_id: int, progress: float) -> None:
    """Says how far the stage is."""
    await conn.execute("update recording set progress = %s where id = %s", [progress, recording_id])


async def set_ready(conn: Connection, recording_id: int) -> None:
    """Says that a recording is fully prepared."""
    await conn.execute(
        "update recording set state = 'ready', stage = 'Ready', progress = 1, problem = null where id = %s",
        [recording_id],
    )


async def set_failed(conn: Connection, recording_id: int, problem: str) -> None:
    """Says why preparing a recording failed."""
    await conn.execute("update recording set state = 'failed', problem = %s where id = %s", [problem, recording_id])


async def replace_faces(conn: Connection, recording_id: int, faces: list[FaceSample]) -> None:
    """Keeps the faces found in a recording, instead of any kept before."""
    await conn.execute("delete from face where recording_id = %s", [recording_id])
    async with conn.cursor() as cursor:
        await cursor.executemany(
            "insert into face (recording_id, at_ms, x, y, width, height, score) values (%s, %s, %s, %s, %s, %s, %s)",
            [[recording_id, f.at_ms, f.x, f.y, f.width, f.height, f.score] for f in faces],
        )


async def faces_in(conn: Connection, recording_id: int, span: Span) -> list[FaceSample]:
    """The faces found in a stretch of a recording, in order of time."""
    cursor = await conn.execute(
        """select at_ms, x, y, width, height, score from face
           where recording_id = %s and at_ms >= %s and at_ms < %s order by at_ms""",
        [recording_id, span.start_ms, span.end_ms],
    )
    names = ("at_ms", "x", "y", "width", "height", "score")
    return [FaceSample.model_validate(dict(zip(names, row, strict=True))) for row in await cursor.fetchall()]
