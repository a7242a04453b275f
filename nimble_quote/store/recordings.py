"""Recordings: their facts, and what a person tells of them."""

from collections.abc import Sequence
from dataclasses import asdict, dataclass
from datetime import date, datetime
from fractions import Fraction
from typing import Any, Literal

from psycopg.rows import class_row, scalar_row
from psycopg.types.json import Jsonb

from nimble_quote.core.assembly import RecordingFacts
from nimble_quote.media.keys import PROXY, SPEECH, derived_key
from nimble_quote.media.listening import ZOOMS_MS, peaks_name
from nimble_quote.media.probe import SourceFacts
from nimble_quote.store.database import Connection, NotFound

KEPT_DAYS = 1
"""A removed recording can be put back for so long."""


@dataclass(frozen=True, kw_only=True)
class RecordingRow:
    """A recording as the shelf shows it."""

    id: int
    title: str
    series: str | None
    held_on: date | None
    notes: str
    link: str
    file_name: str
    content: str
    media_path: str
    duration_ms: int
    width: int
    height: int
    rate_num: int
    rate_den: int
    video_codec: str | None
    audio_codec: str | None
    sound_tracks: list[dict[str, Any]]
    sound_track: int
    loudness_lufs: float | None
    size_bytes: int
    transcript_notes: list[str]
    transcript_origin: Literal["file", "recogniser", "service"] | None
    transcript_rough: bool
    language: str
    language_chosen: bool
    words_version: int
    picture_version: int
    seen_version: int
    removed_at: datetime | None
    created_at: datetime
    words: int
    speakers: list[str]
    quotes: int
    made: list[str]

    @property
    def listened(self) -> bool:
        """Whether its sound has been listened to."""
        return SPEECH in self.made

    @property
    def plays(self) -> str:
        """The key of what plays in a browser: its proxy, or itself where there is none."""
        return self.derived(PROXY) if PROXY in self.made else self.media_path

    @property
    def peaks(self) -> str | None:
        """The key of its finest waveform; None where it has not been listened to."""
        name = peaks_name(ZOOMS_MS[0])
        return self.derived(name) if name in self.made else None

    def derived(self, name: str) -> str:
        """The key of something that is made from it."""
        return derived_key(self.content, name)

    @property
    def facts(self) -> RecordingFacts:
        """What the core needs to know of it."""
        return RecordingFacts(
            duration_ms=self.duration_ms,
            width=self.width,
            height=self.height,
            rate=Fraction(self.rate_num, self.rate_den),
        )


@dataclass(frozen=True, kw_only=True)
class TitleRow:
    """What a recording is called, and what it belongs to."""

    id: int
    title: str
    series: str | None
    held_on: date | None


_SELECT = """
    select r.id, r.title, r.series, r.held_on, r.notes, r.link, r.file_name, r.content, r.media_path, r.duration_ms, r.width,
        r.height, r.rate_num, r.rate_den, r.video_codec, r.audio_codec, r.sound_tracks, r.sound_track, r.loudness_lufs,
        r.size_bytes, r.transcript_notes, r.transcript_origin, r.transcript_rough, r.language, r.language_chosen, r.words_version, r.picture_version, r.seen_version, r.removed_at, r.created_at,
        r.words, r.speakers,
        (select count(*) from quote q where q.recording_id = r.id and q.removed_at is null) as quotes,
        array(select f.name from media_file f where f.recording_id = r.id
            and starts_with(f.key, 'derived/') and not starts_with(f.name, 'still-')) as made
    from recording r
"""


async def shelf(conn: Connection, removed: bool = False) -> list[tuple[int, str]]:
    """All recordings, newest first: those on the shelf, or those removed that can still be put back. The id of each, and a
    mark that is another once its row was changed."""
    cursor = await conn.execute(
        """select r.id, r.xmin::text || r.ctid::text from recording r where (r.removed_at is not null) = %s
           order by coalesce(r.held_on, r.created_at::date) desc, r.created_at desc, r.id desc""",
        [removed],
    )
    return [(int(str(recording_id)), str(version)) for recording_id, version in await cursor.fetchall()]


async def one(conn: Connection, recording_id: int) -> RecordingRow:
    """One recording, also a removed one. Raises `NotFound`."""
    async with conn.cursor(row_factory=class_row(RecordingRow)) as cursor:
        await cursor.execute(_SELECT + " where r.id = %s", [recording_id])
        row = await cursor.fetchone()
    if row is None:
        raise NotFound("There is no such recording.")
    return row


async def many(conn: Connection, recording_ids: Sequence[int]) -> dict[int, RecordingRow]:
    """Some recordings, by id; those that are not there are left out."""
    async with conn.cursor(row_factory=class_row(RecordingRow)) as cursor:
        await cursor.execute(_SELECT + " where r.id = any(%s)", [list(recording_ids)])
        return {row.id: row for row in await cursor.fetchall()}


async def titles(conn: Connection, wanted: Sequence[int]) -> dict[int, TitleRow]:
    """What some recordings are called."""
    async with conn.cursor(row_factory=class_row(TitleRow)) as cursor:
        await cursor.execute("select id, title, series, held_on from recording where id = any(%s)", [list(wanted)])
        return {row.id: row for row in await cursor.fetchall()}


async def called(conn: Connection, file_name: str, duration_ms: int) -> int | None:
    """The recording of a file of this name that is as long, to a second; None where there is none, or several."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """select id from recording where removed_at is null and lower(file_name) = lower(%s)
                   and abs(duration_ms - %s) <= 1000 limit 2""",
            [file_name, duration_ms],
        )
        found = await cursor.fetchall()
    return int(found[0]) if len(found) == 1 else None


async def with_content(conn: Connection, content: str) -> tuple[int, str] | None:
    """The id and title of the recording with this content, where it is on the shelf already (or was removed)."""
    cursor = await conn.execute("select id, title from recording where content = %s", [content])
    row = await cursor.fetchone()
    return (int(str(row[0])), str(row[1])) if row else None


async def add(
    conn: Connection,
    *,
    title: str,
    file_name: str,
    content: str,
    media_path: str,
    facts: SourceFacts,
    series: str | None = None,
) -> int | None:
    """Puts a recording on the shelf; its id, or None where one with this content is there."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """insert into recording (title, series, file_name, content, media_path, duration_ms, width, height, rate_num,
                   rate_den, video_codec, audio_codec, sound_tracks, size_bytes)
               values (%(title)s, %(series)s, %(file_name)s, %(content)s, %(media_path)s, %(duration_ms)s, %(width)s,
                   %(height)s, %(rate_num)s, %(rate_den)s, %(video_codec)s, %(audio_codec)s, %(sound_tracks)s, %(size_bytes)s)
               on conflict (content) do nothing returning id""",
            {
                "title": title,
                "series": series,
                "file_name": file_name,
                "content": content,
                "media_path": media_path,
                "duration_ms": facts.duration_ms,
                "width": facts.width,
                "height": facts.height,
                "rate_num": facts.rate.numerator,
                "rate_den": facts.rate.denominator,
                "video_codec": facts.video_codec,
                "audio_codec": facts.audio_codec,
                "sound_tracks": Jsonb([asdict(track) for track in facts.sound_tracks]),
                "size_bytes": facts.size_bytes,
            },
        )
        found = await cursor.fetchone()
    return int(found) if found is not None else None


async def describe(
    conn: Connection, recording_id: int, *, title: str, series: str | None, held_on: date | None, notes: str,
    link: str | None = None,
) -> None:  # fmt: skip
    """Keeps what a person tells of a recording; without a `link` that stays as it is."""
    await conn.execute(
        """update recording set title = %s, series = %s, held_on = %s, notes = %s, link = coalesce(%s, link) where id = %s""",
        [title, series, held_on, notes, link, recording_id],
    )


async def choose_language(conn: Connection, recording_id: int, language: str) -> None:
    """Takes a language as that of a recording, whatever its words tell from now on."""
    await conn.execute(
        "update recording set language = %s, language_chosen = true where id = %s", [language, recording_id]
    )


async def choose_sound(conn: Connection, recording_id: int, track: int) -> None:
    """Takes another of a recording's sound tracks."""
    await conn.execute("update recording set sound_track = %s where id = %s", [track, recording_id])


async def set_seen_version(conn: Connection, recording_id: int, version: int) -> None:
    """Keeps by which version of looking a recording's picture was looked at."""
    await conn.execute("update recording set seen_version = %s where id = %s", [version, recording_id])


async def set_loudness(conn: Connection, recording_id: int, loudness_lufs: float | None) -> None:
    """Keeps how loud a recording is."""
    await conn.execute("update recording set loudness_lufs = %s where id = %s", [loudness_lufs, recording_id])


async def set_transcript_facts(
    conn: Connection, recording_id: int, *, origin: str, rough: bool, notes: list[str], language: str
) -> None:
    """Keeps where a recording's words are from, whether stretches of them have no times of their own, what was mended or
    left out when they were read, and the language they are in, unless a person chose one."""
    await conn.execute(
        """update recording set transcript_origin = %s, transcript_rough = %s, transcript_notes = %s,
               language = case when language_chosen then language else %s end
           where id = %s""",
        [origin, rough, notes, language, recording_id],
    )


async def set_removed(conn: Connection, recording_id: int, removed: bool) -> None:
    """Takes a recording off the shelf, or puts it back. Nothing of it is lost until it is purged."""
    await conn.execute(
        "update recording set removed_at = case when %s then now() end where id = %s", [removed, recording_id]
    )


async def purge(conn: Connection) -> list[str]:
    """Drops recordings that were removed over a day ago, with all that hangs on them; their contents. Their files belong to
    nothing any more, and are freed (`media_files.free`). One that is still to be posted of is kept until that is settled."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """delete from recording r where removed_at < now() - make_interval(days => %s) and not exists (
                   select from post p join quote q on q.id = p.quote_id
                   where q.recording_id = r.id and p.state in ('scheduled', 'sending', 'removing'))
               returning content""",
            [KEPT_DAYS],
        )
        return await cursor.fetchall()


async def what_goes_with(conn: Connection, recording_id: int) -> tuple[int, int]:
    """How many quotes and finished clips are of a recording."""
    cursor = await conn.execute(
        """select (select count(*) from quote where recording_id = %(id)s and removed_at is null),
               (select count(*) from export e join quote q on q.id = e.quote_id
                where q.recording_id = %(id)s and e.made_at is not null)""",
        {"id": recording_id},
    )
    row = await cursor.fetchone()
    assert row is not None
    return int(str(row[0])), int(str(row[1]))


async def series_names(conn: Connection) -> list[str]:
    """The names of all series."""
    cursor = await conn.execute(
        "select distinct series from recording where series is not null and removed_at is null order by series"
    )
    return [str(row[0]) for row in await cursor.fetchall()]
