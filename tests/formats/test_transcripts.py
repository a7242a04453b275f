import itertools
import string

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nimble_quote.core.transcript.cues import Reading, timed_words
from nimble_quote.formats.transcripts import TranscriptUnreadable, read_transcript


def read(text: str, name: str = "talk.vtt") -> Reading:
    return read_transcript(name, text.encode())


def said(reading: Reading) -> list[str]:
    return [" ".join(token.text for token in cue.tokens) for cue in reading.cues]


def test_webvtt_with_word_times_speakers_and_blocks_to_pass_over():
    reading = read("""WEBVTT - a talk

STYLE
::cue { color: red }

NOTE
nobody reads this

one
00:01.000 --> 00:04.000 align:start position:10%
<v.loud Maren Tolley><00:01.000>Keep <00:01.400>the<00:01.600> <00:02.000><b>wick</b> <c.yellow>short.</c></v>

01:00:00.000 --> 01:00:02.500
&lt;Not a tag&gt; &amp; plain
""")
    words = [(w.word.text, w.word.start_ms, w.word.end_ms, w.speaker) for w in timed_words(reading.cues)]
    assert words[:3] == [
        ("Keep", 1000, 1400, "Maren Tolley"),
        ("the", 1400, 1600, "Maren Tolley"),
        ("wick", 2000, 2833, "Maren Tolley"),
    ]
    assert said(reading) == ["Keep the wick short.", "<Not a tag> & plain"]
    assert reading.mended == reading.left_out == ()


def test_srt_with_the_faults_found_in_the_wild():
    reading = read(
        "\ufeff1\r\n00:00:01,000 --> 00:00:02,000\r\n{\\an8}<i>Good</i> evening.\r\n\r\n"
        "7\r\n00:00:03.5 --> 00:00:04.000\r\nSecond line\r\n\r\nafter a blank one.\r\n\r\n"
        "3\r\n00:00:09,000 --> 00:00:08,000\r\nbackwards\r\n\r\n"
        "4\r\n00:99:09,000 --> 00:00:08,000\r\nno time\r\n\r\n"
        "5\r\n00:00:03,900 --> 00:00:05,000\r\nOverlapping.\r\n",
        "talk.srt",
    )
    assert said(reading) == ["Good evening.", "Second line after a blank one.", "Overlapping."]
    assert reading.cues[1].start_ms == 3500
    assert reading.left_out == (
        "“00:00:09,000 --> 00:00:08,000” ends before it starts.",
        "“00:99:09,000 --> 00:00:08,000” has a time that can't be read.",
    )
    assert reading.mended == (
        "“after a blank one.” followed a blank line and was joined to the cue before it.",
        "1 cues overlap the one before; their words follow one another.",
    )


def test_old_western_text_and_utf16_are_read():
    cue = "1\n00:00:01,000 --> 00:00:02,000\ncafé “quoted”\n"
    for encoding in ("cp1252", "utf-16", "utf-8-sig"):
        assert said(read_transcript("a.SRT", cue.encode(encoding))) == ["café “quoted”"]


@pytest.mark.parametrize(
    ("name", "data", "why"),
    [
        ("talk.docx", b"PK", "Bring a .srt or .vtt file"),
        ("talk.vtt", b"hello", "not “WEBVTT”"),
        ("talk.srt", b"hello\n\nthere", "no cue with times"),
        ("talk.vtt", b"WEBVTT\n\nNOTE nothing", "no cue with times"),
        ("talk.srt", b"x" * 20_000_001, "over 20 MB"),
    ],
)
def test_what_is_no_transcript_is_refused_with_the_reason(name: str, data: bytes, why: str):
    with pytest.raises(TranscriptUnreadable, match=why):
        read_transcript(name, data)


def test_hostile_text_stays_text():
    reading = read(
        "WEBVTT\n\n00:01.000 --> 00:02.000\n&lt;script&gt;alert(1)&lt;/script&gt; '; drop table quote; -- \u202e{\\p1}\x07\n"
    )
    assert said(reading) == ["<script>alert(1)</script> '; drop table quote; --"]


PIECES = st.sampled_from(
    ["WEBVTT", "\n", "\n\n", "00:01.000", " --> ", "00:00:02,5", "<00:00:01.500>", "<v Ann>", "</v>", "<", ">", "{\\an8}",
     "&amp;", "&#0;", "\ufeff", "\r", "1", "NOTE", "STYLE", "word ", "-->", "99:99:99.999", "\x00", "\u202e"]
)  # fmt: skip
JUNK = st.lists(st.one_of(PIECES, st.text(string.printable, max_size=4), st.text(max_size=3)), max_size=60).map("".join)


@settings(max_examples=400)
@given(JUNK, st.sampled_from(["a.vtt", "a.srt"]), st.booleans())
def test_no_file_crashes_the_readers(junk: str, name: str, proper: bool):
    text = f"WEBVTT\n\n00:01.000 --> 00:02.000\nword\n\n{junk}" if proper else junk
    try:
        reading = read_transcript(name, text.encode("utf-8", "surrogatepass"))
    except TranscriptUnreadable:
        return
    words = timed_words(reading.cues)
    assert all(w.word.text and not w.word.text.isspace() for w in words)
    assert all(a.word.end_ms <= b.word.start_ms for a, b in itertools.pairwise(words))


@given(st.binary(max_size=300))
def test_no_bytes_crash_the_readers(data: bytes):
    try:
        read_transcript("a.srt", data)
    except TranscriptUnreadable:
        pass
