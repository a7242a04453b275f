"""The shortlist on paper, and read back from it."""

import csv
import io

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from nimble_quote.formats.shortlist import MARKS, ShortlistUnreadable, Slip, read_csv, write_csv, write_page


def slip(**more: object) -> Slip:
    told: dict[str, object] = {
        "quote": 7, "mark": "picked", "title": "Keep it short", "talk": "Lamps", "date": "2026-10-03", "speaker": "Ann",
        "length_ms": 18_240, "lines": ["First line.", "Middle one.", "Last line."], "limits": ["Tall 30: 11.7 s to spare"],
        "tags": ["storm", "opening"], "note": "Ask first", "told": ["+ Lands: a pause of 1.3 s follows"],
    }  # fmt: skip
    return Slip(**(told | more))  # type: ignore[arg-type]


def test_a_table_has_a_row_for_each_quote_in_order():
    rows = list(csv.DictReader(io.StringIO(write_csv([slip(), slip(quote=3, lines=[])]).lstrip("\ufeff"))))
    assert rows[0] == {
        "quote": "7", "rank": "1", "mark": "picked", "title": "Keep it short", "talk": "Lamps", "date": "2026-10-03",
        "speaker": "Ann", "seconds": "18.2", "first line": "First line.", "last line": "Last line.",
        "words": "First line. Middle one. Last line.", "tags": "storm; opening", "note": "Ask first",
    }  # fmt: skip
    assert (rows[1]["quote"], rows[1]["rank"], rows[1]["words"]) == ("3", "2", "")


@example("'=", ["'=1", "''+"], MARKS[0])
@given(
    st.text(max_size=80),
    st.lists(
        st.text(st.characters(blacklist_characters=";\x00\r\n", blacklist_categories=["Cs"]), min_size=1, max_size=20),
        max_size=4,
    ),
    st.sampled_from(MARKS),
)
def test_what_was_written_is_read_back(note: str, tags: list[str], mark: str):
    note = note.replace("\x00", "").encode("utf-8", "ignore").decode().replace("\r\n", "\n").replace("\r", "\n")
    tags = [tag.strip() for tag in tags if tag.strip()]
    (choice,), problems = read_csv(write_csv([slip(note=note, tags=tags, mark=mark)]).encode())
    assert problems == []
    assert (choice.quote, choice.rank, choice.mark) == (7, 1, mark)
    assert choice.note is not None
    assert choice.note.replace("\r\n", "\n") == note
    # A tag that begins as a formula does is guarded with the whole cell.
    assert choice.tags == tuple(tags)


def test_no_cell_is_taken_for_a_formula():
    table = write_csv([slip(title="=HYPERLINK(1)", note="+1", lines=["@x", "-y"])])
    cells = next(csv.reader(io.StringIO(table.split("\r\n")[1])))
    assert not any(cell.startswith(("=", "+", "-", "@")) for cell in cells)
    assert read_csv(table.encode())[0][0].note == "+1"


def test_tables_of_other_spreadsheets_are_read():
    for table in (
        b"Quote;Mark\r\n7;PICKED\r\n",
        "quote\tmark\tnote\n7\tpicked\tgrün\n".encode("cp1252"),
        b"\xef\xbb\xbfmark,quote\npicked,7\n\n",
    ):
        (choice,), problems = read_csv(table)
        assert (choice.quote, choice.mark, problems) == (7, "picked", [])


def test_rows_that_can_not_be_used_are_told_and_the_others_are_read():
    found, problems = read_csv(b"quote,mark,rank\nx,picked,1\n7,maybe,1\n8,done,1.5\n9,,\n")
    assert [one.quote for one in found] == [9]
    assert problems == [
        "Row 2: “x” is no number of a quote.",
        "Row 3: “maybe” is no mark. Write candidate, picked, parked or done.",
        "Row 4: “1.5” is no rank. Write a whole number.",
    ]


@pytest.mark.parametrize(
    "table",
    [b"", b"a,b\n1,2\n", b"\xff\xfe\x00", b"%PDF-1.7 \x00\x01", b"quote,mark\n" + b"1,done\n" * 6000, b"x" * 2_000_001],
)
def test_what_is_no_such_table_is_refused(table: bytes):
    with pytest.raises(ShortlistUnreadable):
        read_csv(table)


@given(st.binary(max_size=400))
def test_no_table_makes_reading_fail_otherwise(table: bytes):
    try:
        read_csv(b"quote,mark\n" + table)
    except ShortlistUnreadable as refused:
        assert str(refused)


def test_a_page_has_every_word_and_no_markup_of_theirs():
    page = write_page("Lamps <b>", [slip(title="<script>x</script>", note="a & b"), slip(lines=["Only one."])])
    assert "<script>" not in page
    assert "Lamps &lt;b&gt;" in page
    assert all(
        text in page
        for text in ("First line.", "Middle one.", "Last line.", "a &amp; b", "Tall 30: 11.7 s to spare", "Only one.")
    )
