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
from nimble_quote.core.transcript.sentences import into_sentences
from nimble_quote.formats.encodings import ENCODINGS
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
    assert said(reading) == ["Good evening.", "Second line after a blank one.", "Overlapping.", "backwards"]
    assert reading.cues[1].start_ms == 3500
    assert reading.left_out == ("“00:99:09,000 --> 00:00:08,000” has a time that can't be read.",)
    assert reading.mended == (
        "“after a blank one.” followed a blank line and was joined to the cue before it.",
        "“00:00:09,000 --> 00:00:08,000” ends before it starts: its end was worked out from its words.",
        "Cues were not in order of time and were sorted.",
        "1 cue overlaps the one before; its words follow one another.",
    )


def test_srt_times_may_be_in_whole_seconds():
    reading = read(
        "1\n00:00:13 --> 00:00:16\nKeep the wick short.\n\n2\n00:16 --> 00:18\nNo hour, no time.\n", "talk.srt"
    )
    assert [(cue.start_ms, cue.end_ms) for cue in reading.cues] == [(13_000, 16_000)]
    assert reading.left_out == ("“00:16 --> 00:18” has a time that can't be read.",)


def test_webvtt_cues_need_no_blank_line_between_them_and_standard_headers_are_no_faults():
    reading = read("""WEBVTT
Kind: captions
Language: en
X-TIMESTAMP-MAP=LOCAL:00:00:00.000,MPEGTS:900000

00:01.000 --> 00:02.000
First of all.
00:02.000 --> 00:03.000
Then this.

second name
00:03.000 --> 00:04.000
And that.
""")
    assert said(reading) == ["First of all.", "Then this.", "And that."]
    assert reading.mended == reading.left_out == ()
    crowded = read("WEBVTT\nKind: captions\n00:01.000 --> 00:02.000\nAt once.\n")
    assert (said(crowded), crowded.left_out) == (["At once."], ())


def test_cues_that_can_not_end_where_they_say_keep_their_words():
    reading = read(
        "1\n00:00:01,000 --> 00:00:01,000\nNo length\n\n2\n00:00:05,000 --> 00:30:00,000\nfar too long\n\n"
        "3\n00:00:08,000 --> 00:00:09,000\nand on.\n", "talk.srt",
    )  # fmt: skip
    words = timed_words(reading.cues)
    assert [w.word.text for w in words] == ["No", "length", "far", "too", "long", "and", "on."]
    assert words[1].word.end_ms < 3000
    assert words[4].word.end_ms <= 8000
    assert [line.split("” ")[1] for line in reading.mended] == [
        "has no length: its end was worked out from its words.",
        "is over ten minutes long: its end was worked out from its words.",
    ]


def test_what_roll_up_captions_repeat_is_said_once():
    rolled = read("""WEBVTT
Kind: captions

00:00:01.000 --> 00:00:03.000
so<00:00:01.400><c> people</c><00:00:01.800><c> ask</c><00:00:02.200><c> me</c>

00:00:03.000 --> 00:00:03.010
so people ask me

00:00:03.010 --> 00:00:05.500
so people ask me
no<00:00:03.400><c> no</c><00:00:04.000><c> secret</c>

00:00:05.500 --> 00:00:05.510
no no secret

00:00:05.510 --> 00:00:08.000
no no secret
keep<00:00:06.000><c> it</c><00:00:06.300><c> short</c>
""")
    words = timed_words(rolled.cues)
    assert " ".join(w.word.text for w in words) == "so people ask me no no secret keep it short"
    assert [w.word.start_ms for w in words if w.word.text in ("secret", "short")] == [4000, 6300]
    assert rolled.mended == ("Each cue repeats the one before (roll-up captions): what is repeated was read once.",)


def test_lines_that_scroll_up_are_said_once_and_what_somebody_repeats_stays():
    block = "{n}\n00:00:0{n},000 --> 00:00:0{n},900\n{text}\n\n"

    def srt(*cues: str) -> Reading:
        return read("".join(block.format(n=n, text=text) for n, text in enumerate(cues, start=1)), "talk.srt")

    scrolled = srt(
        "the lamp is low", "the lamp is low\nand the tide", "and the tide\nis lower still", "is lower still\nthan that"
    )
    assert " ".join(said(scrolled)) == "the lamp is low and the tide is lower still than that"
    repeated = srt("No.", "No.", "No, I said.", "Who said?", "Nobody.", "Well then.", "Well then, go.")
    assert said(repeated) == ["No.", "No.", "No, I said.", "Who said?", "Nobody.", "Well then.", "Well then, go."]
    assert repeated.mended == ()
    assert said(srt(*["Amen."] * 6)) == ["Amen."] * 6, "a refrain is said as often as it stands there"


def test_what_is_said_again_a_minute_later_did_not_scroll_up():
    texts = ("No.", "No.", "No.", "No. No.")
    apart = "".join(f"{n}\n00:0{n}:00,000 --> 00:0{n}:01,000\n{text}\n\n" for n, text in enumerate(texts, start=1))
    assert said(read(apart, "talk.srt")) == list(texts)


def test_digits_inside_a_cue_are_words_and_between_cues_its_number():
    reading = read(
        "1\n00:00:01,000 --> 00:00:02,000\nIt was in\n1984\n\n2\n00:00:02,000 --> 00:00:03,000\nthat is\n\n1985\n\n"
        "3\n\n00:00:03,000 --> 00:00:04,000\nno more.\n", "talk.srt",
    )  # fmt: skip
    assert said(reading) == ["It was in 1984", "that is 1985", "no more."]


def test_names_turns_and_music_before_the_words_of_cues_are_no_words():
    reading = read(
        "1\n00:00:01,000 --> 00:00:02,000\nMAREN TOLLEY: Good evening.\n\n"
        "2\n00:00:02,000 --> 00:00:03,000\nMy rule is this: wait.\n\n"
        "3\n00:00:03,000 --> 00:00:04,000\n>> IVO: And then?\n>> Nothing.\n\n"
        "4\n00:00:04,000 --> 00:00:05,000\n- Really?\n- At -5 degrees.\n\n"
        "5\n00:00:05,000 --> 00:00:06,000\n♪ Low is the lamp ♪\n\n"
        "6\n00:00:06,000 --> 00:00:07,000\n♪ low is the tide ♪\n", "talk.srt",
    )  # fmt: skip
    words = timed_words(reading.cues)
    sentences = [
        (words[one.first].speaker, " ".join(w.word.text for w in words[one.first : one.end]))
        for one in into_sentences(words)
    ]
    assert sentences == [
        ("MAREN TOLLEY", "Good evening."),
        ("MAREN TOLLEY", "My rule is this: wait."),
        ("IVO", "And then?"),
        (None, "Nothing."),
        (None, "Really?"),
        (None, "At -5 degrees."),
        (None, "[music] Low is the lamp low is the tide"),
    ]


def test_names_not_in_capitals_are_names_where_they_come_again():
    cue = "{n}\n00:00:0{n},000 --> 00:00:0{n},900\n{text}\n\n"
    texts = ["Ann: Hello there.", "Not so fast: wait.", "Ann: Well."]
    reading = read("".join(cue.format(n=n, text=text) for n, text in enumerate(texts, start=1)), "talk.srt")
    assert said(reading) == ["Hello there.", "Not so fast: wait.", "Well."]
    assert {w.speaker for w in timed_words(reading.cues)} == {"Ann"}


def test_sbv_is_read():
    reading = read("0:00:01.000,0:00:02.500\nGood evening.\n\n0:00:02.500,0:00:04.000\nTwo\nlines.\n", "talk.sbv")
    assert said(reading) == ["Good evening.", "Two lines."]
    assert [(cue.start_ms, cue.end_ms) for cue in reading.cues] == [(1000, 2500), (2500, 4000)]


SPOKEN = {
    "cp1252": ("À l’été, près de la forêt,", "on chantait à côté du château."),
    "cp1250": ("Zażółć gęślą jaźń,", "powiedział wczoraj mój przyjaciel."),
    "cp1251": ("Добрый вечер,", "дорогие друзья."),
    "koi8_r": ("Сегодня мы поговорим", "о лампах и о море."),
    "cp1253": ("Σήμερα θα μιλήσουμε", "για τη θάλασσα."),
    "cp1254": ("Bugün ışık ve deniz", "hakkında konuşacağız."),
    "cp1255": ("היום נדבר", "על הים."),
    "cp932": ("こんばんは、皆さん。", "今日はランプと海について話します。"),
    "cp949": ("안녕하세요 여러분.", "바다에 대해 이야기합니다."),
    "gb18030": ("大家晚上好。", "今天我们来谈谈灯和海。"),
}


def as_srt(lines: tuple[str, ...]) -> str:
    return "".join(f"{n}\n00:00:0{n},000 --> 00:00:0{n},900\n{line}\n\n" for n, line in enumerate(lines, start=1))


@pytest.mark.parametrize("encoding", SPOKEN)
def test_old_encodings_are_guessed_and_the_guess_is_said(encoding: str):
    reading = read_transcript("a.SRT", as_srt(SPOKEN[encoding]).encode(encoding))
    assert said(reading) == list(SPOKEN[encoding])
    (note,) = reading.mended
    assert note.startswith(f"Its letters were read as {ENCODINGS[encoding]}, which is a guess.")


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "utf-16-le", "utf-16-be"])
@pytest.mark.parametrize("of", ["cp1252", "cp1251", "cp932"])
def test_unicode_is_known_with_and_without_its_mark(encoding: str, of: str):
    reading = read_transcript("a.srt", as_srt(SPOKEN[of]).encode(encoding))
    assert (said(reading), reading.mended) == (list(SPOKEN[of]), ())


def test_a_wrong_guess_is_set_right_by_hand():
    lines = ("Můj dům je u řeky.",)
    data = as_srt(lines).encode("cp1250")
    assert said(read_transcript("a.srt", data)) != list(lines)
    chosen = read_transcript("a.srt", data, "cp1250")
    assert (said(chosen), chosen.mended) == (list(lines), ())


def test_marks_of_direction_stay_and_other_format_characters_go():
    reading = read("WEBVTT\n\n00:01.000 --> 00:02.000\n\u200fשלום\u200f \u202bעולם\u202c\u00ad\n")
    assert said(reading) == ["\u200fשלום\u200f עולם"]


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


@settings(max_examples=500)
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


def test_ttml_cues_may_have_no_end_one_digit_hours_and_a_plain_document_type():
    reading = read(
        '<?xml version="1.0"?>\n<!DOCTYPE tt PUBLIC "-//W3C//DTD TTML" "http://example.org/tt.dtd">\n'
        '<tt xmlns="http://www.w3.org/ns/ttml"><body><div><p begin="0:00:01">First of all.</p>'
        '<p begin="0:00:04.5">Then that.</p><p begin="soon">Never.</p></div></body></tt>',
        "talk.ttml",
    )
    assert said(reading) == ["First of all.", "Then that."]
    words = timed_words(reading.cues, 8000)
    assert [(w.word.text, w.word.start_ms) for w in words if w.word.text in ("First", "Then")] == [
        ("First", 1000),
        ("Then", 4500),
    ]
    assert words[2].word.end_ms < 3000, "no longer than saying it takes"
    assert reading.left_out == ("“Never.” was left out: “soon” isn't a time that can be read.",)


def test_ttml_of_times_that_can_not_be_read_alone_is_refused_with_the_first_of_them():
    text = '<tt xmlns="http://www.w3.org/ns/ttml"><body><div><p begin="19.764" end="21.9">Lamps burn.</p></div></body></tt>'
    with pytest.raises(TranscriptUnreadable, match=r"“Lamps burn\.” was left out: “19\.764” isn't a time"):
        read(text, "talk.ttml")


def test_a_ttml_time_beyond_all_measure_leaves_out_its_cue_and_says_so():
    reading = read(
        '<tt xmlns="http://www.w3.org/ns/ttml"><body><div>'
        f'<p begin="{"9" * 300}:00:00" end="00:00:02">lost</p><p begin="{"9" * 300}s" end="2s">lost too</p>'
        '<p begin="00:00:03" end="00:00:04">kept</p></div></body></tt>',
        "talk.ttml",
    )
    assert said(reading) == ["kept"]
    assert [note[:24] for note in reading.left_out] == ["“lost” was left out: “99", "“lost too” was left out:"]
