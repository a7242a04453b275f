"""When a post is due: a time on the clock of a place, also where that clock is put forward or back."""

from collections.abc import Collection
from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from nimble_quote.core.model import Frozen
from nimble_quote.core.refusal import Refused

SOON_DAYS = 14
"""One more post is planned for one of the next days, so many."""


class NoSuchZone(Refused):
    """A time zone that nobody knows."""

    code = "no-such-zone"


class Due(Frozen):
    """When a post is due: `wall` is what the clock there shows, `note` what is odd about it, in words."""

    wall: datetime
    zone: str
    at: datetime
    note: str = ""


def zone_named(name: str) -> ZoneInfo:
    """A time zone of the IANA database by its name ('Europe/Lisbon'). Raises `NoSuchZone`."""
    try:
        return ZoneInfo(name)
    except (ZoneInfoNotFoundError, ValueError, OSError) as unknown:
        raise NoSuchZone(f"“{name[:60]}” is no time zone. Choose one from the list.") from unknown


def due(wall: datetime, zone: str) -> Due:
    """When the clock of a zone shows a time. A time that the clock leaps over is taken as much later as it leaps; of one that it
    shows twice the first counts (PEP 495). Raises `NoSuchZone`."""
    there = zone_named(zone)
    plain = wall.replace(tzinfo=None, fold=0)
    first, second = (plain.replace(tzinfo=there, fold=fold) for fold in (0, 1))
    back = first.astimezone(UTC).astimezone(there).replace(tzinfo=None, fold=0)
    at = first.astimezone(UTC)
    if back != plain:
        return Due(
            wall=back, zone=zone, at=at, note=f"The clocks go forward that night: {plain:%H:%M} is {back:%H:%M}."
        )
    if first.utcoffset() != second.utcoffset():
        return Due(
            wall=plain, zone=zone, at=at, note=f"The clocks go back that night: the first {plain:%H:%M} is meant."
        )
    return Due(wall=plain, zone=zone, at=at)


def monday_of(day: date) -> date:
    """The Monday of a day's week."""
    return day - timedelta(days=day.weekday())


def next_free(today: date, usual: time, taken: Collection[date]) -> datetime:
    """When one more post is best planned for: the first day after this one that has none, at the usual time; tomorrow where all
    of the next two weeks have one."""
    days = [today + timedelta(days=n) for n in range(1, SOON_DAYS + 1)]
    return datetime.combine(next((day for day in days if day not in taken), days[0]), usual)


def spread(
    count: int, monday: date, usual: time, taken: Collection[date] = (), not_before: date = date.min
) -> list[datetime]:
    """Days for `count` posts of a week, as far apart as they can be, at the usual time. Days that are taken are used last; those
    before `not_before` are not used, and where none is left the next week is."""
    monday = max(monday, monday_of(not_before)) if not_before > date.min else monday
    days = [monday + timedelta(days=n) for n in range(7) if monday + timedelta(days=n) >= not_before]
    free = [day for day in days if day not in taken] or days
    chosen = [free[min(len(free) - 1, (2 * n + 1) * len(free) // (2 * count))] for n in range(count)]
    return [datetime.combine(day, usual) for day in chosen]
