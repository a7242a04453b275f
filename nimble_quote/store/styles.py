"""Caption styles of the house with their versions, its faces and its palette."""

from collections.abc import Sequence

from psycopg.rows import scalar_row
from psycopg.types.json import Jsonb

from nimble_quote.core.captions.styles import StyleWanted
from nimble_quote.core.document import CaptionLook
from nimble_quote.store.database import Connection, NotFound


async def add(conn: Connection, wanted: StyleWanted, by: str | None) -> str:
    """Adds a style, offered last; its id."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """insert into caption_style (id, name, said, place)
               values ('own-' || nextval('own_style'), %s, %s, (select coalesce(max(place), 0) + 1 from caption_style))
               returning id""",
            [wanted.name, wanted.said],
        )
        id_ = str(await cursor.fetchone())
    await _add_version(conn, id_, 1, wanted.look, by)
    return id_


async def change(conn: Connection, id_: str, wanted: StyleWanted, by: str | None) -> int:
    """Sets what a style is from now on; its version then, a new one where its look is another. Raises `NotFound`."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute("select id from caption_style where id = %s for update", [id_])
        if await cursor.fetchone() is None:
            raise NotFound("There is no such caption style.")
        await cursor.execute(
            "update caption_style set name = %s, said = %s where id = %s", [wanted.name, wanted.said, id_]
        )
        await cursor.execute(
            "select version from caption_style_version where style = %s order by version desc limit 1", [id_]
        )
        version = int(str(await cursor.fetchone()))
        await cursor.execute("select look from caption_style_version where style = %s and version = %s", [id_, version])
        if CaptionLook.model_validate(await cursor.fetchone()) == wanted.look:
            return version
    await _add_version(conn, id_, version + 1, wanted.look, by)
    return version + 1


async def _add_version(conn: Connection, id_: str, version: int, look: CaptionLook, by: str | None) -> None:
    await conn.execute(
        "insert into caption_style_version (style, version, look, by) values (%s, %s, %s, %s)",
        [id_, version, Jsonb(look.model_dump(mode="json")), by],
    )


async def retire(conn: Connection, id_: str, retired: bool) -> None:
    """Offers a style no more, or again. Where it was chosen it stays. Raises `NotFound`."""
    cursor = await conn.execute(
        "update caption_style set retired_at = case when %s then now() end where id = %s", [retired, id_]
    )
    if cursor.rowcount != 1:
        raise NotFound("There is no such caption style.")


async def following(conn: Connection, id_: str) -> tuple[list[int], list[int]]:
    """The quotes whose captions follow a style: those of which nothing was exported as they are now, and those of which it
    was."""
    cursor = await conn.execute(
        """select q.id, exists (select from export e where e.quote_id = q.id and e.revision = q.head and e.made_at is not null)
           from quote q join quote_revision r on r.quote_id = q.id and r.number = q.head
           where q.removed_at is null and coalesce(r.document->'captions'->>'style', 'quay') = %s
               and coalesce(jsonb_typeof(r.document->'captions'->'held'), 'null') = 'null'
           order by q.id""",
        [id_],
    )
    rows = await cursor.fetchall()
    return [int(str(id_)) for id_, exported in rows if not exported], [
        int(str(id_)) for id_, exported in rows if exported
    ]


async def add_face(conn: Connection, name: str, file: str, licence: str, content: bytes) -> None:
    """Keeps a face of the house's, or brings one again: its file is then the new one."""
    await conn.execute(
        """insert into face (name, file, own, licence, content) values (%s, %s, true, %s, %s)
           on conflict (name) do update set file = excluded.file, licence = excluded.licence, content = excluded.content,
               retired_at = null where face.own""",
        [name, file, licence, content],
    )


async def face(conn: Connection, file: str) -> bytes:
    """A face of the house's. Raises `NotFound`."""
    cursor = await conn.execute("select content from face where file = %s and own", [file], binary=True)
    row = await cursor.fetchone()
    if row is None:
        raise NotFound("The house has no such face.")
    content = row[0]
    assert isinstance(content, bytes)
    return content


async def retire_face(conn: Connection, name: str, retired: bool) -> None:
    """Offers a face of the house's no more, or again. Where it was chosen it stays. Raises `NotFound`."""
    cursor = await conn.execute(
        "update face set retired_at = case when %s then now() end where name = %s and own", [retired, name]
    )
    if cursor.rowcount != 1:
        raise NotFound("The house has no such face.")


async def set_palette(conn: Connection, colours: Sequence[str]) -> None:
    """Sets the house's colours to choose from."""
    await conn.execute("update house_colour set palette = %s", [Jsonb(list(colours))])
