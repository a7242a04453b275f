"""Posts as an iCalendar file (RFC 5545), for any calendar program."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from icalendar import Calendar, Event

from nimble_quote.core.posting.timing import zone_named

MEDIA_TYPE = "text/calendar"
_SHOWN_FOR = timedelta(minutes=15)
"""A post takes no time; an event of none is not seen in most programs."""


@dataclass(frozen=True, kw_only=True)
class PlannedEvent:
    """A post as an event: `wall` is the time on the clock of `zone`, `made` when the file is."""

    uid: str
    wall: datetime
    zone: str
    title: str
    description: str
    address: str | None
    tentative: bool


def write_calendar(name: str, events: Sequence[PlannedEvent], made: datetime) -> bytes:
    """A calendar of posts, with the rules of the zones that they are in."""
    calendar = Calendar()
    calendar.add("prodid", "-//Nimble Quote//Posts//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    for one in events:
        event = Event()
        event.add("uid", one.uid)
        event.add("dtstamp", made)
        event.add("dtstart", one.wall.replace(tzinfo=zone_named(one.zone)))
        event.add("duration", _SHOWN_FOR)
        event.add("summary", one.title)
        if one.description:
            event.add("description", one.description)
        if one.address:
            event.add("url", one.address)
        event.add("status", "TENTATIVE" if one.tentative else "CONFIRMED")
        event.add("transp", "TRANSPARENT")
        calendar.add_component(event)
    calendar.add_missing_timezones()
    return bytes(calendar.to_ical())
