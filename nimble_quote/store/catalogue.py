"""The catalogue of a house: destinations, caption styles, faces, and the number that counts up with each change of them."""

from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any

from psycopg.rows import dict_row, scalar_row
from psycopg.types.json import Jsonb

from nimble_quote.core.captions.styles import CaptionStyle, Face
from nimble_quote.core.catalogue import Catalogue
from nimble_quote.core.destinations import RATES, Destination, Wanted
from nimble_quote.core.document import Shape
from nimble_quote.core.finishes import Finish
from nimble_quote.store import finishes, house, house_sounds
from nimble_quote.store.database import Connection


async def version(conn: Connection) -> int:
    """The number of the catalogue as it is now."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute("select version from catalogue_version")
        return int(await cursor.fetchone() or 0)


async def whole(conn: Connection) -> Catalogue:
    """All of the catalogue, each list in the order it is offered in."""
    # The number first: if something changes meanwhile, the next look sees another number.
    number = await version(conn)
    async with conn.cursor(row_factory=dict_row) as cursor:
        await cursor.execute(
            """select id, name, shape, width, height, limit_ms, largest_mb, covered, rate_num, rate_den, file_name, texts,
                   retired_at is not null as retired
               from destination order by place, id"""
        )
        destinations = tuple(_destination(row) for row in await cursor.fetchall())
        await cursor.execute(
            """select s.id, s.name, said, v.version, v.look, retired_at is not null as retired
               from caption_style s join caption_style_version v on v.style = s.id order by place, s.id, v.version desc"""
        )
        versions = [CaptionStyle.model_validate(row) for row in await cursor.fetchall()]
        newest: dict[str, CaptionStyle] = {}
        for one in versions:
            newest.setdefault(one.id, one)
        await cursor.execute(
            """select name, file, own, offered, licence, retired_at is not null as retired from face order by name"""
        )
        faces = tuple(Face.model_validate(row) for row in await cursor.fetchall())
        await cursor.execute("""select colour, palette, copyright, (select coalesce(jsonb_object_agg(series, finish), '{}') from series_finish) as series_finishes,
                   (select coalesce(jsonb_object_agg(name, role), '{}') from house_person) as roles
               from house_colour""")
        own = await cursor.fetchone() or {}
    pictures = tuple(await house.all_pictures(conn))
    sounds = await house_sounds.every(conn)
    every = tuple(await finishes.every(conn))
    newest_finishes: dict[str, Finish] = {}
    for finish in every:
        newest_finishes.setdefault(finish.id, finish)
    return Catalogue(
        version=number, destinations=destinations, styles=tuple(newest.values()), earlier=tuple(versions), faces=faces, pictures=pictures,
        sounds=tuple(sounds),
        finishes=tuple(newest_finishes.values()), earlier_finishes=every,
        series_finishes=own["series_finishes"], roles=own["roles"],
        copyright=own["copyright"], colour=own["colour"], palette=tuple(own["palette"]),
    )  # fmt: skip


def _destination(row: dict[str, Any]) -> Destination:
    above, below = row.pop("rate_num"), row.pop("rate_den")
    return Destination.model_validate({**row, "rate": Fraction(above, below) if above else None})


async def add_destination(conn: Connection, wanted: Wanted, shape: Shape) -> str:
    """Adds a destination, offered last; its id."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """insert into destination (id, name, shape, width, height, limit_ms, largest_mb, covered, rate_num, rate_den,
                   file_name, texts, place)
               values ('own-' || nextval('own_destination'), %(name)s, %(shape)s, %(width)s, %(height)s, %(limit_ms)s,
                   %(largest_mb)s, %(covered)s, %(rate_num)s, %(rate_den)s, %(file_name)s,
                   %(texts)s, (select coalesce(max(place), 0) + 1 from destination))
               returning id""",
            _columns(wanted, shape),
        )
        return str(await cursor.fetchone())


async def change_destination(conn: Connection, id_: str, wanted: Wanted, shape: Shape) -> None:
    """Sets what a destination is from now on; clips that were made stay as they are."""
    await conn.execute(
        """update destination set name = %(name)s, shape = %(shape)s, width = %(width)s, height = %(height)s,
               limit_ms = %(limit_ms)s, largest_mb = %(largest_mb)s, covered = %(covered)s, rate_num = %(rate_num)s,
               rate_den = %(rate_den)s, file_name = %(file_name)s, texts = %(texts)s
           where id = %(id)s""",
        {**_columns(wanted, shape), "id": id_},
    )


async def retire_destination(conn: Connection, id_: str, retired: bool) -> None:
    """Offers a destination no more, or again."""
    await conn.execute("update destination set retired_at = case when %s then now() end where id = %s", [retired, id_])


def _columns(wanted: Wanted, shape: Shape) -> dict[str, Any]:
    told = wanted.model_dump(exclude={"rate", "covered"})
    rate = RATES[wanted.rate] if wanted.rate else None
    return {
        **told,
        "shape": shape,
        "texts": Jsonb(told["texts"]),
        "covered": Jsonb([area.model_dump() for area in wanted.covered]),
        "rate_num": rate.numerator if rate else None,
        "rate_den": rate.denominator if rate else None,
    }


@dataclass
class Catalogues:
    """The catalogue, read again only when it was changed."""

    _kept: Catalogue | None = field(default=None)

    async def now(self, conn: Connection) -> Catalogue:
        """The catalogue as it is now."""
        if self._kept is None or self._kept.version != await version(conn):
            self._kept = await whole(conn)
        return self._kept
