"""What a quote is posted with, and when: counted as places count, drafted from its own words, due by the clock of a zone."""

from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.document.posting import Posting, PostText
from nimble_quote.core.posting.checking import text_faults
from nimble_quote.core.posting.counting import TextLimits, counted, length_of, sent_description, tag_written, tighter
from nimble_quote.core.posting.drafting import (
    drafted,
    drafted_title,
    excerpt,
    sentences_in,
    suggested_tags,
    written_out,
)
from nimble_quote.core.posting.filling import NAMES, filled, unknown_names
from nimble_quote.core.posting.timing import NoSuchZone, due, monday_of, next_free, spread, zone_named
from nimble_quote.core.scopes import needed_scope

FAMILY = "\N{MAN}\N{ZERO WIDTH JOINER}\N{WOMAN}\N{ZERO WIDTH JOINER}\N{GIRL}"
SAID = (
    "So people ask me, what is the secret? You know, there is no secret. Keep the wick short. "
    "A long wick looks brighter for an hour, and then it smokes."
)


def texts(**told: object) -> PostText:
    return PostText.model_validate({"title": "Keep the wick short", **told})


@pytest.mark.parametrize(
    ("unit", "text", "length"),
    [
        ("graphemes", FAMILY, 1), ("graphemes", "e\N{COMBINING ACUTE ACCENT}", 1), ("graphemes", "a\r\nb", 3),
        ("graphemes", "\N{REGIONAL INDICATOR SYMBOL LETTER P}\N{REGIONAL INDICATOR SYMBOL LETTER T}", 1),
        ("code points", FAMILY, 5), ("UTF-16 units", FAMILY, 8), ("bytes", FAMILY, 18), ("bytes", "wick", 4),
    ],
)  # fmt: skip
def test_a_text_is_as_long_as_its_place_counts(unit: str, text: str, length: int):
    assert length_of(text, TextLimits.model_validate({"unit": unit})) == length


def test_a_link_counts_as_its_place_says_and_the_full_stop_after_it_is_text():
    by_length, fixed = TextLimits(), TextLimits(link_length=24)
    text = "See https://example.org/talks/keep-the-wick-short?from=the-quote. Then (http://example.org/a)."
    assert length_of(text, by_length) == len(text)
    assert length_of(text, fixed) == len("See . Then ().") + 2 * 24
    assert length_of("no link: example.org", fixed) == 20


def test_tags_are_one_word_behind_a_hash_and_count_with_the_description_they_stand_in():
    assert [tag_written(one) for one in ("oil", "lamp oil", "#Wick", "l’été", "…")] == [
        "#oil",
        "#LampOil",
        "#Wick",
        "#LÉté",
        "",
    ]
    text = texts(description="Short.", tags=("lamp oil",))
    assert sent_description(text, TextLimits()) == "Short.\n\n#LampOil"
    apart = TextLimits(tags_in_description=False)
    assert sent_description(text, apart) == "Short."
    assert {one.what: one.length for one in counted(text, apart)} == {
        "title": 19,
        "description": 6,
        "tags": 1,
        "alt": 0,
    }


def test_what_is_too_long_is_told_with_how_much_of_it():
    tight = TextLimits(title=10, description=12, tags=1, alt=5)
    text = texts(description="Twelve and a bit", tags=("a", "b"), alt="A lamp.")
    faults = text_faults(text, tight, "Tall 15")
    assert faults[0] == "The title is 9 over the 10 that Tall 15 takes. Shorten it."
    assert "The description with its tags is 11 over the 12" in faults[1]
    assert faults[2] == "2 tags, and Tall 15 takes 1. Remove 1."
    assert "The picture description is 2 over the 5" in faults[3]
    assert text_faults(texts(description="Fine."), TextLimits(), "Tall 15") == []
    assert "neither a title nor a description" in text_faults(PostText(), TextLimits(), "Tall 15")[0]


def test_the_tighter_of_two_limits_counts_in_the_unit_of_the_account():
    both = tighter(TextLimits(title=50, tags=3), TextLimits(title=80, tags=8, description=900, unit="bytes"))
    assert (both.title, both.tags, both.description, both.unit) == (50, 3, 900, "bytes")


def test_names_in_braces_are_filled_and_lines_of_nothing_but_empty_names_go():
    text = texts(
        description="“{words}”\n{speaker}, {recording}\n\nThe full talk: {link}\n{credits}\n\nJoin us.",
        alt="{speaker} speaks",
    )
    values = {"words": "Keep it short.", "speaker": "Maren", "recording": "Lamps", "link": "", "credits": ""}
    assert filled(text, values).description == "“Keep it short.”\nMaren, Lamps\n\nJoin us."
    assert filled(text, {**values, "speaker": ""}).description.split("\n")[1] == "Lamps"
    assert filled(text, values).alt == "Maren speaks"
    assert unknown_names(texts(description="{speaker} {spekaer} {x}", alt="{x}")) == ["spekaer", "x"]
    assert "{spekaer} stands for nothing" in text_faults(texts(description="{spekaer}"), TextLimits(), "Tall 15")[0]


@given(st.text(max_size=200), st.dictionaries(st.sampled_from(NAMES), st.text(max_size=30)))
def test_whatever_is_filled_in_stays_text_that_can_be_posted(text: str, values: dict[str, str]):
    out = filled(PostText.model_validate({"title": "t", "description": text}), values)
    assert PostText.model_validate(out.model_dump()) == out
    assert filled(out, dict.fromkeys(NAMES, "")).description.count("\n") <= out.description.count("\n")


def test_texts_have_no_character_that_nobody_sees():
    text = texts(title="Keep\nthe\x00 wick\x1b", description="one\ntwo\x00\x07")
    assert (text.title, text.description) == ("Keep the wick", "one\ntwo")


def test_a_draft_says_nothing_that_was_not_said():
    draft = drafted(
        SAID,
        "So people ask me, what is the secret? You know…",
        "“{words}”",
        ["wick", "long wick", "harbour"],
        "Maren",
        "Lamps",
    )
    assert draft.title == "Keep the wick short"
    assert draft.title in SAID
    assert draft.tags == ("wick", "harbour")
    assert draft.alt.startswith("Maren speaking at “Lamps”.")
    assert drafted_title(SAID, "A title of ours") == "A title of ours"
    assert drafted_title("Really? Is it so?", "Really? Is it so?") == "Is it so?"


@given(
    st.lists(
        st.sampled_from(["Keep the wick short.", "No!", "Is that so?", "And then it smokes, it blackens the glass."]),
        min_size=1,
        max_size=30,
    )
)
def test_an_excerpt_is_how_a_quote_begins_in_whole_sentences(sentences: list[str]):
    words = " ".join(sentences)
    begun = excerpt(words, most=90)
    assert words.startswith(begun)
    assert len(begun) <= 90
    assert begun[-1] in ".!?"
    assert sentences_in(words) == sentences


def test_a_sentence_whose_beginning_was_cut_away_begins_with_a_capital():
    assert (
        written_out("What is the secret? there is no secret. “so” it is.")
        == "What is the secret? There is no secret. “so” it is."
    )
    assert written_out("") == ""


def test_an_excerpt_of_one_long_sentence_ends_at_a_word():
    assert excerpt("a lamp that burns twice the oil and gives half the light", most=20) == "a lamp that burns …"
    assert excerpt("") == ""


def test_tags_that_the_quote_says_come_first_and_none_repeats_another():
    assert suggested_tags(SAID, ["small repairs", "long wick", "wick", "hour"], 3) == (
        "long wick",
        "hour",
        "small repairs",
    )


@pytest.mark.parametrize(
    ("zone", "wall", "utc", "note"),
    [
        ("Europe/Lisbon", "2027-01-12T17:00", "2027-01-12T17:00", ""),
        ("Europe/Lisbon", "2027-07-12T17:00", "2027-07-12T16:00", ""),
        ("Europe/Berlin", "2027-03-28T02:30", "2027-03-28T01:30", "02:30 is 03:30"),
        ("Europe/Berlin", "2027-10-31T02:30", "2027-10-31T00:30", "the first 02:30 is meant"),
        ("America/New_York", "2027-03-14T02:15", "2027-03-14T07:15", "02:15 is 03:15"),
        ("Australia/Lord_Howe", "2027-10-03T02:10", "2027-10-02T15:40", "02:10 is 02:40"),
        ("Asia/Kathmandu", "2027-05-01T09:00", "2027-05-01T03:15", ""),
    ],
)
def test_a_post_is_due_by_the_clock_of_its_zone_also_where_that_is_changed(zone: str, wall: str, utc: str, note: str):
    found = due(datetime.fromisoformat(wall), zone)
    assert found.at == datetime.fromisoformat(utc).replace(tzinfo=UTC)
    assert note in found.note
    assert bool(found.note) == bool(note)
    assert found.at.astimezone(ZoneInfo(zone)).replace(tzinfo=None, fold=0) == found.wall


@given(
    st.datetimes(datetime(2020, 1, 1), datetime(2040, 1, 1)),
    st.sampled_from(
        ["Europe/Lisbon", "America/St_Johns", "Australia/Lord_Howe", "Africa/Casablanca", "Pacific/Apia", "Etc/UTC"]
    ),
)
def test_whenever_a_post_is_due_the_clock_there_shows_what_is_told(wall: datetime, zone: str):
    found = due(wall, zone)
    assert found.at.astimezone(ZoneInfo(zone)).replace(tzinfo=None, fold=0) == found.wall
    assert found.wall == wall or (found.wall > wall and found.note)


@pytest.mark.parametrize(
    "name", ["Mars/Olympus", "", "../etc/passwd", "/etc/localtime", "a" * 300, "Europe/Lisbon\x00"]
)
def test_a_zone_that_nobody_knows_is_refused(name: str):
    with pytest.raises(NoSuchZone, match="is no time zone"):
        zone_named(name)


def test_a_week_is_spread_over_free_days_that_are_still_to_come():
    monday = date(2026, 11, 30)
    at = time(17, 0)
    assert [one.date().weekday() for one in spread(3, monday, at)] == [1, 3, 5]
    assert [one.date().weekday() for one in spread(7, monday, at)] == list(range(7))
    taken = [monday + timedelta(days=1), monday + timedelta(days=3)]
    assert not {one.date() for one in spread(3, monday, at, taken)} & set(taken)
    late = spread(2, monday, at, not_before=monday + timedelta(days=5))
    assert [one.date().weekday() for one in late] == [5, 6]
    assert spread(1, monday, at, not_before=monday + timedelta(days=7))[0].date() >= monday + timedelta(days=7)
    assert monday_of(date(2026, 12, 6)) == monday


def test_one_more_post_is_planned_for_the_next_day_that_has_none():
    today = date(2026, 12, 30)
    days = [today + timedelta(days=n) for n in range(1, 15)]
    assert next_free(today, time(17, 0), {today}) == datetime(2026, 12, 31, 17, 0)
    assert next_free(today, time(7, 45), days[:2]) == datetime(2027, 1, 2, 7, 45)
    assert next_free(today, time(7, 45), days) == datetime(2026, 12, 31, 7, 45), "all of them have one"


@given(st.integers(1, 20), st.sets(st.integers(0, 6)), st.integers(0, 9))
def test_every_post_of_a_week_gets_a_day(count: int, taken: set[int], after: int):
    monday = date(2026, 11, 30)
    days = [monday + timedelta(days=n) for n in taken]
    found = spread(count, monday, time(9), days, monday + timedelta(days=after))
    assert len(found) == count
    assert found == sorted(found)
    assert all(one.date() >= monday + timedelta(days=after) for one in found)


def test_what_was_written_for_a_destination_stands_before_what_was_for_all():
    posting = Posting(text=texts(), own={"tall-15": texts(title="Short")})
    assert posting.written("tall-15") == texts(title="Short")
    assert posting.written("tall-60") == texts()
    assert Posting().written("tall-60") is None


@pytest.mark.parametrize(
    ("method", "path", "scope"),
    [
        ("GET", "/api/quotes/3", "read"), ("HEAD", "/api/exports/3/clip", "read"), ("POST", "/api/quotes/3/edits", "write"),
        ("POST", "/api/quotes/3/exports", "export"), ("POST", "/api/exports", "export"), ("POST", "/api/work/3/stop", "export"),
        ("PUT", "/api/outbox/paused", "export"), ("POST", "/api/posts", "post"), ("PUT", "/api/posts/3/when", "post"),
        ("GET", "/api/tokens", None), ("POST", "/api/webhooks", None), ("PUT", "/api/house/posting", None),
        ("POST", "/api/posting/sign-in", None), ("DELETE", "/api/posting/accounts/3", None), ("POST", "/api/quotes/3/phone", None),
    ],
)  # fmt: skip
def test_a_request_needs_a_scope(method: str, path: str, scope: str | None):
    assert needed_scope(method, path) == scope
