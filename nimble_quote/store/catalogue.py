"""The catalogue of a house: destinations, caption styles, faces, and the number that counts up with each change of them."""

from dataclasses import dataclass, field

from psycopg.rows import dict_row, scalar_row

from nimble_quote.core.captions.styles import CaptionStyle, Face
from nimble_quote.core.catalogue import Catalogue
from nimble_quote.core.destinations import Destination
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
            """select id, name, shape, width, height, limit_ms, largest_mb, covered, retired_at is not null as retired
               from destination order by place, id"""
        )
        destinations = tuple(Destination.model_validate(row) for row in await cursor.fetchall())
        await cursor.execute(
            """select s.id, s.name, said, face as font, size, f.cell, colour, spoken, spoken_bar, edge, edge_colour, edge_size,
                   jsonb_build_object('line_characters', line_characters, 'lines', lines, 'shortest_ms', shortest_ms,
                       'longest_ms', longest_ms, 'fastest_cps', fastest_cps) as limits,
                   retired_at is not null as retired
               from caption_style s join face f on f.name = s.face order by place, s.id"""
        )
        styles = tuple(CaptionStyle.model_validate(row) for row in await cursor.fetchall())
        await cursor.execute("select name, file from face order by name")
        faces = tuple(Face.model_validate(row) for row in await cursor.fetchall())
    return Catalogue(version=number, destinations=destinations, styles=styles, faces=faces)


@dataclass
class Catalogues:
    """The catalogue, read again only when it was changed."""

    _kept: Catalogue | None = field(default=None)

    async def now(self, conn: Connection) -> Catalogue:
        """The catalogue as it is now."""
        if self._kept is None or self._kept.version != await version(conn):
            self._kept = await whole(conn)
        return self._kept
