"""Times and plain text as subtitle files write them."""

import re

_STAMP = re.compile(r"^(?:(\d{1,4}):)?(\d{1,2}):(\d{1,2})(?:[.,](\d{1,3}))?$")


def read_stamp(text: str) -> int | None:
    """Milliseconds of `h:mm:ss.mmm`, `mm:ss.mmm`, with dot or comma, and of `h:mm:ss`; None where it is no time."""
    match = _STAMP.match(text.strip())
    if not match:
        return None
    hours, minutes, seconds, fraction = match.groups()
    if int(minutes) > 59 or int(seconds) > 59 or (hours is None and fraction is None):
        return None
    return (int(hours or 0) * 3600 + int(minutes) * 60 + int(seconds)) * 1000 + int((fraction or "").ljust(3, "0"))


def write_stamp(ms: int, mark: str = ".") -> str:
    """`hh:mm:ss.mmm`, with the mark before the milliseconds that the format wants."""
    seconds, thousandths = divmod(ms, 1000)
    return f"{seconds // 3600:02}:{seconds // 60 % 60:02}:{seconds % 60:02}{mark}{thousandths:03}"


def no_tags(text: str) -> str:
    """SubRip has no escape: what could be read as a tag or as a line of times is set apart."""
    return text.replace("<", "‹").replace(">", "›")
