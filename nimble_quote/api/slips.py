"""Quotes as slips: how the shortlist shows them."""

from collections.abc import Mapping, Sequence
from typing import NamedTuple

from pydantic import TypeAdapter

from nimble_quote.api.approving import approval_view
from nimble_quote.api.long_lists import Written
from nimble_quote.api.readings import Reading, Readings
from nimble_quote.api.views.approvals import ApprovalView
from nimble_quote.api.views.shortlist import SlipView
from nimble_quote.core.assembly.bookends import added_ms
from nimble_quote.core.catalogue import Catalogue
from nimble_quote.core.destinations import gauge
from nimble_quote.store import approvals
from nimble_quote.store.database import Connection
from nimble_quote.store.shortlist import SlipRow


class SlipKey(NamedTuple):
    """All that a slip is made of, and the quote's row."""

    row: SlipRow
    approval: ApprovalView | None
    catalogue: int


class Slips:
    """The slips asked for last."""

    def __init__(self, readings: Readings) -> None:
        self._readings = readings
        self._written = Written(TypeAdapter(SlipView), most=5000)

    async def written(self, conn: Connection, rows: Sequence[SlipRow], catalogue: Catalogue) -> bytes:
        """Quotes as slips, as a JSON array; with as many queries for five hundred as for one."""
        keys = await _keys(conn, rows, catalogue)
        new = [key.row for key in keys if not self._written.has(key)]
        readings = dict(zip(new, await self._readings.of(conn, new), strict=True))
        return self._written.list_of(keys, lambda key: _slip(key, readings[key.row], catalogue))

    async def views(self, conn: Connection, rows: Sequence[SlipRow], catalogue: Catalogue) -> list[SlipView]:
        """Quotes as slips, to go on working with."""
        keys = await _keys(conn, rows, catalogue)
        readings = await self._readings.of(conn, rows)
        return [_slip(key, reading, catalogue) for key, reading in zip(keys, readings, strict=True)]


async def _keys(conn: Connection, rows: Sequence[SlipRow], catalogue: Catalogue) -> list[SlipKey]:
    asked = await approvals.newest_of(conn, [row.quote_id for row in rows])
    views: Mapping[int, ApprovalView] = {
        row.quote_id: approval_view(asked[row.quote_id], row.revision) for row in rows if row.quote_id in asked
    }
    return [SlipKey(row, views.get(row.quote_id), catalogue.version) for row in rows]


def _slip(key: SlipKey, read: Reading, catalogue: Catalogue) -> SlipView:
    row = key.row
    length = read.length_ms + added_ms(read.finished, catalogue, read.length_ms)
    return SlipView(
        id=row.quote_id, recording_id=row.recording_id, title=read.title, span=read.span, length_ms=length,
        text=read.text, destinations=read.destinations, made=row.made, posted=row.posted, recording_title=row.recording_title,
        series=row.series, held_on=row.held_on, has_picture=row.has_picture, mark=row.mark, tags=list(row.tags),
        note=row.note, lines=read.lines, speakers=read.speakers,
        gauges=[gauge(length, one) for one in catalogue.offered], approval=key.approval,
    )  # fmt: skip
