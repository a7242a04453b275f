import itertools
import json
import random
import string
import time

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nimble_quote.core.transcript.cues import Reading, timed_words
from nimble_quote.core.transcript.document import transcript_of
from nimble_quote.formats.transcripts import READERS, TranscriptUnreadable, read_transcript


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
        "1 cue overlaps the one before; its words follow one another.",
    )


def test_old_western_text_and_utf16_are_read():
    cue = "1\n00:00:01,000 --> 00:00:02,000\ncafé “quoted”\n"
    for encoding in ("cp1252", "utf-16", "utf-8-sig"):
        assert said(read_transcript("a.SRT", cue.encode(encoding))) == ["café “quoted”"]


@pytest.mark.parametrize(
    ("name", "data", "why"),
    [
        ("talk.docx", b"PK", "Bring one of .ass, .ctm"),
        ("talk.vtt", b"hello", "not “WEBVTT”"),
        ("talk.srt", b"hello\n\nthere", "no cue with times"),
        ("talk.vtt", b"WEBVTT\n\nNOTE nothing", "no cue with times"),
        ("talk.srt", b"x" * 20_000_001, "over 20 MB"),
        ("talk.ttml", b"<tt", "not well-formed XML"),
        ("talk.xml", b"<feed/>", "outermost element is not “tt”"),
        ("talk.ttml", b'<!DOCTYPE tt [<!ENTITY a "ha"><!ENTITY b "&a;&a;&a;">]><tt>&b;</tt>', "declares entities"),
        ("talk.ttml", b"<tt>" + b"<div>" * 100_000, "nested more than 60 deep"),
        ("talk.json", b"[" * 1_000_000, "nested too deep"),
        ("talk.json", b"{", "not JSON"),
        ("talk.json", b'{"a": 1}', "no segments or words"),
        ("talk.ass", b"Dialogue: 0,0:00:01.00,0:00:02.00,,,0,0,0,,Hi", r"no \[Events\] part"),
        ("talk.ctm", b"one two three", "no cue with times"),
        ("talk.txt", b" \n \n", "no cue with times"),
        ("talk.srt.gz", b"\x1f\x8b", "can't be read"),
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


def timed(reading: Reading, duration_ms: int | None = None) -> list[tuple[str, int, int, str | None]]:
    """Every word with its times and its speaker."""
    return [(w.word.text, w.word.start_ms, w.word.end_ms, w.speaker) for w in timed_words(reading.cues, duration_ms)]


def test_several_speakers_in_one_cue_each_keep_their_words():
    reading = read("WEBVTT\n\n00:01.000 --> 00:02.000\n<v Ann>Late?</v> <v Bo>No, early.</v>\n")
    assert [(word, who) for word, _, _, who in timed(reading)] == [("Late?", "Ann"), ("No,", "Bo"), ("early.", "Bo")]


def test_srt_without_blank_lines_between_its_cues():
    reading = read("1\n00:00:01,000 --> 00:00:02,000\nOne.\n2\n00:00:02,000 --> 00:00:03,000\nTwo.\n", "a.srt")
    assert said(reading) == ["One.", "Two."]


TTML = """<?xml version="1.0" encoding="UTF-8"?>
<tt xmlns="http://www.w3.org/ns/ttml" xmlns:ttp="http://www.w3.org/ns/ttml#parameter"
    xmlns:ttm="http://www.w3.org/ns/ttml#metadata" ttp:frameRate="25" ttp:tickRate="1000" xml:lang="en">
 <head><metadata><ttm:agent xml:id="a1" type="person"><ttm:name type="full">Maren  Tolley</ttm:name></ttm:agent></metadata>
  <layout><region xml:id="r"/></layout></head>
 <body ttm:agent="a1"><div begin="10s">
  <p begin="00:00:01:05" end="00:00:03.000">Keep the<br/>wick <span begin="1s" end="1.5s">short</span>.</p>
  <p begin="5000t" dur="2s" ttm:agent="nobody">Good <metadata>not said</metadata>evening</p>
  <p begin="9s" end="8s">Backwards</p>
  <p>Never timed</p>
 </div></body></tt>"""


def test_ttml_with_agents_shifted_times_frames_ticks_and_timed_spans():
    reading = read(TTML, "talk.ttml")
    assert timed(reading) == [
        ("Keep", 11200, 11557, "Maren Tolley"),
        ("the", 11557, 11843, "Maren Tolley"),
        ("wick", 11843, 12200, "Maren Tolley"),
        ("short.", 12200, 12700, "Maren Tolley"),
        ("Good", 15000, 15769, None),
        ("evening", 15769, 17000, None),
    ]
    assert reading.left_out == ("“Backwards” ends before it starts.", "“Never timed” has no time of its own.")


ASS = """[Script Info]
Title: never shown
[V4+ Styles]
Format: Name, Fontname
[Events]
Format: Layer, Start, End, Style, Name, MarginL, MarginR, MarginV, Effect, Text
Comment: 0,0:00:00.00,0:00:09.00,Default,,0,0,0,,nobody says this
Dialogue: 0,0:00:01.00,0:00:03.00,Default,Ann,0,0,0,,{\\an8}Keep, {\\b1}the{\\b0}\\Nwick
Dialogue: 0,0:00:04.00,0:00:06.00,Default,,0,0,0,,{\\k50}Good {\\k25}eve{\\k25}ning{\\k30} all
Dialogue: 0,0:00:05.00,0:00:06.00,Default,,0,0,0,,{\\p1}m 0 0 l 9 9{\\p0}
Dialogue: 0,nonsense,0:00:06.00,Default,,0,0,0,,lost
"""


def test_ass_with_overrides_karaoke_and_drawings():
    reading = read(ASS, "talk.ass")
    assert said(reading) == ["Keep, the wick", "Good evening all"]
    assert reading.cues[0].speaker == "Ann"
    assert [(t.text, t.start_ms) for t in reading.cues[1].tokens] == [("Good", 4000), ("evening", 4500), ("all", 5000)]
    assert len(reading.left_out) == 1


def test_ctm_with_confidence_alternatives_and_noise():
    reading = read(
        ";; made by hand\ntalk 1 0.50 0.30 Keep 0.98 lex Ann\ntalk 1 1.00 0.00 <ALT_BEGIN>\n"
        "talk 1 1.00 0.20 the 0.40\ntalk 1 1.00 0.00 <ALT>\ntalk 1 1.00 0.20 a\ntalk 1 1.20 0.00 <ALT_END>\n"
        "talk 1 1.30 0.40 [cough] 0.9 non-speech\ntalk 1 soon 0.40 wick\n",
        "talk.ctm",
    )
    assert timed(reading) == [("Keep", 500, 800, "Ann"), ("the", 1000, 1200, None)]
    assert [t.sure for cue in reading.cues for t in cue.tokens] == [0.98, 0.4]
    assert reading.left_out == ("Line 9: “talk 1 soon 0.40 wick” is no word with a time.",)


@pytest.mark.parametrize(
    "text",
    [
        """{"language": "en", "segments": [{"start": 0.5, "end": 2.0, "text": " Keep it.", "speaker": "Ann", "words":
           [{"word": " Keep", "start": 0.5, "end": 0.9, "probability": 0.31}, {"word": " it.", "start": 1.2, "end": 1.5}]}]}""",
        """[{"start": "0.5", "end": 2, "speaker": "Ann", "words": [{"text": "Keep", "start": 0.5, "end": 0.9, "score": 0.31},
           {"text": "it.", "start": 1.2, "end": 1.5, "confidence": 7}]}]""",
        """{"words": [{"word": "Keep", "start": 0.5, "end": 0.9, "confidence": 0.31, "speaker": "Ann"},
           {"word": "it.", "start": 1.2, "end": 1.5, "speaker": "Ann"}, {"word": "NaN", "start": NaN}]}""",
    ],
)
def test_the_json_of_recognisers_in_its_common_forms(text: str):
    reading = read(text, "talk.json")
    assert timed(reading) == [("Keep", 500, 900, "Ann"), ("it.", 1200, 1500, "Ann")]
    assert [t.sure for cue in reading.cues for t in cue.tokens] == [0.31, None]


def test_plain_text_with_stamps_and_names():
    reading = read(
        "[0:00:02] Ann Lee: Good evening.\nAnd welcome.\n\nBo (0:10)\nMy rule is this: open it.\n[0:05] Slip of the hand.\n",
        "talk.txt",
    )
    assert [(said, cue.speaker, cue.start_ms) for said, cue in zip(said(reading), reading.cues, strict=True)] == [
        ("Good evening.", "Ann Lee", 2000),
        ("And welcome.", "Ann Lee", None),
        ("My rule is this: open it.", "Bo", 10000),
        ("Slip of the hand.", "Bo", None),
    ]
    assert reading.mended == ("“Slip of the hand.” has a time before the one above it.",)
    words = timed(reading, duration_ms=20_000)
    assert words[0][1] == 2000
    assert words[4][1] == 10_000
    assert words[-1][2] == 20_000


def test_plain_text_without_times_is_spread_over_the_whole_recording():
    words = timed_words(read("Nothing here has a time. It is said all the same.", "a.txt").cues, 60_000)
    assert (words[0].word.start_ms, words[-1].word.end_ms) == (0, 60_000)
    assert {word.timing for word in words} == {"estimated"}


def test_a_cue_format_under_a_plain_name_is_known_by_its_content():
    assert said(read("WEBVTT\n\n00:01.000 --> 00:02.000\nHi.", "a.txt")) == ["Hi."]
    assert read("1\n00:00:01,000 --> 00:00:02,000\nHi.", "a.txt").cues[0].start_ms == 1000


PIECES = st.sampled_from(
    ["WEBVTT", "\n", "\n\n", "00:01.000", " --> ", "00:00:02,5", "<00:00:01.500>", "<v Ann>", "</v>", "<", ">", "{\\an8}",
     "&amp;", "&#0;", "\ufeff", "\r", "1", "NOTE", "STYLE", "word ", "-->", "99:99:99.999", "\x00", "\u202e",
     "[Events]\n", "Dialogue: ", "0:00:01.00,", "{\\k20}", "{\\p1}", "Format: Text", ",", "Ann: ", "[0:12] ", "0:12",
     '{"segments": [', '{"words": [', '"start": 1.5', '"word": "hi"', "}", "]", ";; ", "f 1 0.5 0.3 word 0.9\n", "<ALT_BEGIN>",
     '<tt xmlns="http://www.w3.org/ns/ttml"><body><div>', '<p begin="1s" end="2s">', "<span begin='1s'>", "</p>",
     "</div></body></tt>", "<br/>", "<!DOCTYPE", "NaN", "1e999", "-5"]
)  # fmt: skip
JUNK = st.lists(st.one_of(PIECES, st.text(string.printable, max_size=4), st.text(max_size=3)), max_size=60).map("".join)
OPENINGS = {
    ".vtt": "WEBVTT\n\n00:01.000 --> 00:02.000\nword\n\n",
    ".ass": "[Events]\nDialogue: 0,0:00:01.00,0:00:02.00,,,0,0,0,,word",
    ".ttml": '<tt xmlns="http://www.w3.org/ns/ttml"><body><div><p begin="1s" end="2s">word',
    ".json": '{"segments": [{"start": 1, "end": 2, "words": [{"word": "word", "start": 1, ',
}


@settings(max_examples=1000)
@given(JUNK, st.sampled_from(sorted(READERS)), st.booleans())
def test_no_file_crashes_the_readers(junk: str, ending: str, proper: bool):
    text = OPENINGS.get(ending, "") + junk if proper else junk
    try:
        reading = read_transcript(f"a{ending}", text.encode("utf-8", "surrogatepass"))
    except TranscriptUnreadable:
        return
    words = timed_words(reading.cues, 60_000)
    assert all(w.word.text and not any(c.isspace() for c in w.word.text) for w in words)
    assert all(a.word.end_ms <= b.word.start_ms for a, b in itertools.pairwise(words))


@st.composite
def json_values(draw: st.DrawFn) -> object:
    """What might stand where a recogniser's JSON has words: right keys, wrong values."""
    value = st.one_of(st.none(), st.booleans(), st.floats(), st.integers(), st.text(max_size=8), st.just([]))
    word = st.dictionaries(st.sampled_from(["word", "text", "start", "end", "probability", "speaker"]), value)
    segment = st.dictionaries(
        st.sampled_from(["words", "start", "end", "text", "speaker"]), st.one_of(value, st.lists(word))
    )
    return draw(st.one_of(value, st.lists(segment), st.dictionaries(st.just("segments"), st.lists(segment))))


@given(json_values())
def test_no_json_crashes_its_reader(found: object):
    try:
        timed_words(read_transcript("a.json", json.dumps(found).encode()).cues)
    except TranscriptUnreadable:
        pass


@given(st.binary(max_size=300), st.sampled_from(sorted(READERS)))
def test_no_bytes_crash_the_readers(data: bytes, ending: str):
    try:
        read_transcript(f"a{ending}", data)
    except TranscriptUnreadable:
        pass


@pytest.mark.parametrize("ending", sorted(READERS))
def test_large_files_are_read_in_time_that_grows_with_them_only(ending: str):
    """Each pattern is one that a careless expression would take for ever to match."""
    patterns = ("0:", "<", "{\\k1", "a:", "[0:1", "1 ", "--> ", "<v ", "&amp;", "\n", "- ", "a a", "a<b>", "word\n\n")
    for pattern in patterns:
        data = (OPENINGS.get(ending, "") + pattern * (60_000 // len(pattern))).encode()
        assert seconds_to_read(f"a{ending}", data) < 2.5, pattern


def seconds_to_read(name: str, data: bytes) -> float:
    """The processor time that a file takes until its words are sentences."""
    started = time.process_time()
    try:
        transcript_of(timed_words(read_transcript(name, data).cues, 10 * 3600_000))
    except TranscriptUnreadable:
        pass
    return time.process_time() - started


ONE_CUE = "WEBVTT\n\n00:00.000 --> 09:00.000\n"


@pytest.mark.parametrize(
    ("name", "text"),
    [
        ("a.vtt", ONE_CUE + "lamp " * 40_000),
        ("a.vtt", ONE_CUE + "lamp " + "\n\noil".join(["wick"] * 20_000)),
        ("a.vtt", ONE_CUE + "a<c>" * 100_000),
        ("a.txt", "lamp " * 40_000),
        ("a.txt", "lamp\n" * 40_000),
        ("a.txt", "\n".join(f"{i // 60}:{i % 60:02} lamp" for i in range(40_000))),
        ("a.txt", " " * 300_000 + "lamp"),
        ("a.txt", "lamp 12:30" + " " * 300_000 + "oil"),
        ("a.txt", "\n" + " \n" * 100_000 + "1\n" * 50_000),
        ("a.json", json.dumps([{"start": 0.0, "end": 9000.0, "text": "lamp " * 40_000}])),
    ],
    ids=lambda value: value[:12].replace("\n", " ") if len(value) > 6 else value,
)
def test_a_file_made_to_take_for_ever_does_not(name: str, text: str):
    assert seconds_to_read(name, text.encode()) < 5


@pytest.mark.parametrize("data", [random.Random(7).randbytes(50_000), b"\x7fELF\x02\x01" + bytes(range(1, 32)) * 90])
def test_what_is_no_text_is_refused_whatever_it_is_called(data: bytes):
    with pytest.raises(TranscriptUnreadable, match="this is not text, whatever its name says"):
        read_transcript("talk.txt", data)


def test_a_ttml_time_beyond_all_measure_leaves_out_its_cue_and_says_so():
    reading = read(
        '<tt xmlns="http://www.w3.org/ns/ttml"><body><div>'
        f'<p begin="{"9" * 300}:00:00" end="00:00:02">lost</p><p begin="{"9" * 300}s" end="2s">lost too</p>'
        '<p begin="00:00:03" end="00:00:04">kept</p></div></body></tt>',
        "talk.ttml",
    )
    assert said(reading) == ["kept"]
    assert [note[:24] for note in reading.left_out] == ["“lost” was left out: “99", "“lost too” was left out:"]
