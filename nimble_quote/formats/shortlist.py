"""The shortlist on paper: a plain page to print, and a CSV table that a choice can be read back from.

The columns of the table: quote (its number), rank, mark, title, talk, date, speaker, seconds, first line, last line,
words, tags (with semicolons between), note. Read back are quote, rank, mark, tags and note; the others are for reading.
"""

import csv
import html
import io
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, get_args

from nimble_quote.core.refusal import Refused

SlipMark = Literal["candidate", "picked", "parked", "done"]
MARKS: tuple[SlipMark, ...] = get_args(SlipMark)
COLUMNS = (
    "quote", "rank", "mark", "title", "talk", "date", "speaker", "seconds", "first line", "last line", "words", "tags", "note",
)  # fmt: skip
LARGEST = 2_000_000
MOST_ROWS = 5000
_FORMULA = ("=", "+", "-", "@", "\t", "\r")


@dataclass(frozen=True, kw_only=True)
class Slip:
    """A quote as the shortlist shows it. `lines` are its sentences; `limits` what the length is against each limit."""

    quote: int
    mark: SlipMark
    title: str
    talk: str
    date: str
    speaker: str
    length_ms: int
    lines: Sequence[str]
    limits: Sequence[str]
    tags: Sequence[str]
    note: str
    told: Sequence[str]
    """What speaks for it, and its weak point."""


@dataclass(frozen=True, kw_only=True)
class ReadChoice:
    """What a row of a table says of a quote; None where it says nothing."""

    row: int
    quote: int
    rank: int | None
    mark: SlipMark | None
    tags: tuple[str, ...] | None
    note: str | None


class ShortlistUnreadable(Refused):
    """A table that can't be read back; the message says why."""

    code = "shortlist-unreadable"


def write_csv(slips: Sequence[Slip]) -> str:
    """The slips in their order as CSV (RFC 4180), with a byte order mark, so that spreadsheets read the letters right."""
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(COLUMNS)
    for rank, one in enumerate(slips, start=1):
        lines = [*one.lines] or [""]
        cells = [
            one.title, one.talk, one.date, one.speaker, f"{one.length_ms / 1000:.1f}", lines[0], lines[-1], " ".join(lines),
            "; ".join(one.tags), one.note,
        ]  # fmt: skip
        rows.writerow([one.quote, rank, one.mark, *map(_guarded, cells)])
    return "\ufeff" + out.getvalue()


def _guarded(cell: str) -> str:
    """A cell that no spreadsheet takes for a formula. One that looks guarded already is guarded once more."""
    return f"'{cell}" if cell.lstrip("'").startswith(_FORMULA) else cell


def _plain(cell: str) -> str:
    return cell[1:] if cell.startswith("'") and cell.lstrip("'").startswith(_FORMULA) else cell


def read_csv(table: bytes) -> tuple[list[ReadChoice], list[str]]:
    """What a table says of each quote, and what of it could not be read, by row.

    Reads commas, semicolons or tabs between cells, and UTF-8 or Windows-1252. Raises `ShortlistUnreadable` where it is
    no such table.
    """
    if len(table) > LARGEST:
        raise ShortlistUnreadable(f"This table is too large: {len(table) / 1e6:.1f} MB, at most 2 MB are read.")
    text = _decoded(table).replace("\x00", "")
    first = text.split("\n", 1)[0]
    between = max(",;\t", key=first.count)
    try:
        rows = list(csv.reader(io.StringIO(text), delimiter=between))
    except csv.Error as broken:
        raise ShortlistUnreadable(f"This is no table that can be read: {broken}.") from broken
    header = [cell.strip().lower() for cell in rows[0]] if rows else []
    if "quote" not in header or "mark" not in header:
        raise ShortlistUnreadable(
            "The first row must name the columns, “quote” and “mark” among them, as in the table saved here."
        )
    if len(rows) > MOST_ROWS:
        raise ShortlistUnreadable(f"This table has {len(rows):,} rows; at most {MOST_ROWS:,} are read.")
    found: list[ReadChoice] = []
    problems: list[str] = []
    for number, row in enumerate(rows[1:], start=2):
        cells = dict(zip(header, row, strict=False))
        if any(cell.strip() for cell in row):
            one = _choice(number, cells)
            if isinstance(one, str):
                problems.append(one)
            else:
                found.append(one)
    return found, problems


def _decoded(table: bytes) -> str:
    try:
        return table.decode("utf-8-sig")
    except UnicodeDecodeError:
        return table.decode("cp1252", "replace")


def _choice(number: int, cells: dict[str, str]) -> ReadChoice | str:
    quote, mark, rank = (cells.get(name, "").strip() for name in ("quote", "mark", "rank"))
    if not quote.isdecimal() or len(quote) > 18:
        return f"Row {number}: “{quote[:40]}” is no number of a quote."
    if mark and mark.lower() not in MARKS:
        return f"Row {number}: “{mark[:40]}” is no mark. Write {', '.join(MARKS[:-1])} or {MARKS[-1]}."
    if rank and not (rank.isdecimal() and len(rank) < 10):
        return f"Row {number}: “{rank[:40]}” is no rank. Write a whole number."
    tags = _plain(cells["tags"]) if "tags" in cells else None
    return ReadChoice(
        row=number, quote=int(quote), rank=int(rank) if rank else None,
        mark=next((one for one in MARKS if one == mark.lower()), None),
        tags=tuple(tag.strip()[:60] for tag in tags.split(";") if tag.strip())[:20] if tags is not None else None,
        note=_plain(cells["note"])[:2000] if "note" in cells else None,
    )  # fmt: skip


def write_page(title: str, slips: Sequence[Slip]) -> str:
    """The slips as a page of plain HTML that needs nothing else, to be printed or sent."""
    heads = "".join(_slip(rank, one) for rank, one in enumerate(slips, start=1))
    return (
        f'<!doctype html><html lang="en"><head><meta charset="utf-8"><title>{html.escape(title)}</title><style>{_STYLE}'
        f"</style></head><body><h1>{html.escape(title)}</h1><p>{len(slips)} quotes, in order. Tick those to post.</p>"
        f"{heads}</body></html>"
    )


def _slip(rank: int, one: Slip) -> str:
    said = [html.escape(line) for line in one.lines] or [""]
    middle = " ".join(said[1:-1])
    words = f'<p class="edge">{said[0]}</p>' + (f"<p>{middle}</p>" if middle else "")
    words += f'<p class="edge">{said[-1]}</p>' if len(said) > 1 else ""
    facts = " · ".join(filter(None, [one.speaker, one.talk, one.date, f"{one.length_ms / 1000:.1f} s", one.mark]))
    more = [*one.limits, *one.told]
    extra = "".join(f"<li>{html.escape(line)}</li>" for line in more)
    note = f"<p>Note: {html.escape(one.note)}</p>" if one.note else ""
    tags = f"<p>Tags: {html.escape(', '.join(one.tags))}</p>" if one.tags else ""
    return (
        f'<section><h2><span class="box"></span>{rank}. {html.escape(one.title)}</h2><p class="facts">{html.escape(facts)}'
        f" · quote {one.quote}</p>{words}<ul>{extra}</ul>{tags}{note}</section>"
    )


_STYLE = (
    "body{font:12pt/1.5 Georgia,serif;max-width:46em;margin:2em auto;color:#111}section{break-inside:avoid;"
    "border-top:1px solid #999;padding:.6em 0}h1{font-size:18pt}h2{font-size:13pt;margin:.3em 0}.box{display:inline-block;"
    "width:.9em;height:.9em;border:1.5px solid #111;margin-right:.6em}.facts,ul{font:10pt/1.4 sans-serif;color:#444}"
    ".edge{font-weight:bold}p{margin:.3em 0}"
)
