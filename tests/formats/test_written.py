import re
from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.assembly import Assembly, assemble
from nimble_quote.core.captions.timing import WrittenCue
from nimble_quote.core.edits import ChooseCaptionStyle, CorrectCaption, apply_edit, new_quote
from nimble_quote.formats.ass import plain, write_ass
from nimble_quote.formats.sidecar import write_srt, write_webvtt
from nimble_quote.formats.transcripts import read_transcript
from tests.shipped import DESTINATIONS, STYLES
from tests.talks import HD, context_of, talk_of


def assembly_of(text: str = "Keep the wick short.", style: str = "lamplight", caption: str | None = None) -> Assembly:
    talk = talk_of(text)
    document = apply_edit(
        new_quote(context_of(talk), 0, len(talk.words) - 1), ChooseCaptionStyle(style=style), context_of(talk)
    )
    if caption is not None:
        document = apply_edit(
            document, CorrectCaption(first=0, last=len(talk.words) - 1, text=caption), context_of(talk)
        )
    return assemble(document, context_of(talk), HD, DESTINATIONS["story-15"])


def events(script: str) -> list[str]:
    return [line for line in script.splitlines() if line.startswith("Dialogue:")]


def test_the_spoken_word_is_lit_in_turn():
    assert events(write_ass(assembly_of("Keep it short."))) == [
        "Dialogue: 0,0:00:00.06,0:00:00.46,Cue,,0,0,0,,{\\pos(540,1344)}{\\1c&H0029B4F0&}Keep{\\1c&H00FFFFFF&} it short.",
        "Dialogue: 0,0:00:00.46,0:00:00.86,Cue,,0,0,0,,{\\pos(540,1344)}Keep {\\1c&H0029B4F0&}it{\\1c&H00FFFFFF&} short.",
        "Dialogue: 0,0:00:00.86,0:00:01.30,Cue,,0,0,0,,{\\pos(540,1344)}Keep it {\\1c&H0029B4F0&}short.{\\1c&H00FFFFFF&}",
    ]


def test_a_bar_goes_along_under_the_spoken_word():
    script = write_ass(assembly_of("Keep it short.", "quay"))
    assert [re.findall(r"{\\u1}(\S+?){\\u0}", line) for line in events(script)] == [["Keep"], ["it"], ["short."]]
    assert "\\1c" not in script


def test_a_calm_style_has_one_event_a_line():
    script = write_ass(assembly_of("Keep the wick short, and there will be a light on.", "slate"))
    assert [line.split(",,", 1)[1] for line in events(script)] == [
        "0,0,0,,{\\pos(540,1304)}Keep the wick short, and",
        "0,0,0,,{\\pos(540,1384)}there will be a light on.",
    ]
    assert "Style: Cue,Atkinson Hyperlegible Bold,78,&H00F0F7FA" in script


@given(st.text(max_size=60))
def test_no_caption_text_is_markup(text: str):
    assert not re.search(r"[{}\\\n\r]", plain(text))


def test_hostile_captions_stay_text_in_every_format():
    nasty = "{\\p1}m 0 0 l 9 9{\\p0}\\N <b>hi</b> 00:00:01.000 --> 00:00:02.000 & [Events]"
    assembly = assembly_of("one two three four five six seven eight nine ten", caption=nasty)
    script = write_ass(assembly)
    texts = [re.sub(r"\{\\(pos\([0-9,]+\)|1c&H[0-9A-F]{8}&)\}", "", line) for line in events(script)]
    assert texts
    assert not any(mark in text for text in texts for mark in "{}\\")
    assert script.splitlines().count("[Events]") == 1
    cues = [WrittenCue.of(cue) for cue in assembly.cue_tracks[0].cues]
    for name, written in (("a.srt", write_srt(cues, assembly.rate)), ("a.vtt", write_webvtt(cues, assembly.rate))):
        back = read_transcript(name, written.encode())
        assert len(back.cues) == len(cues), name
        assert back.left_out == ()


def test_a_script_without_captions_is_empty():
    assembly = assembly_of().model_copy(update={"cue_tracks": ()})
    assert write_ass(assembly) == ""


def test_every_event_begins_and_ends_half_a_frame_before_its_frames():
    for rate in (Fraction(24000, 1001), Fraction(25), Fraction(60)):
        assembly = assembly_of("Keep the wick short, and there will be a light on when they come.")
        script = write_ass(assembly.model_copy(update={"rate": rate}))
        stamps = re.findall(r"Dialogue: 0,(\d):(\d\d):(\d\d\.\d\d),", script)
        firsts = sorted({w.first_frame for cue in assembly.cue_tracks[0].cues for w in cue.words})
        times = sorted({int(h) * 3600 + int(m) * 60 + float(s) for h, m, s in stamps})
        for frame, time in zip(firsts, times, strict=True):
            assert float((frame - 1) / rate) < time <= float(frame / rate) or frame == 0


def test_sidecars_are_as_players_read_them():
    assembly = assembly_of("Keep the wick short. | And go <round> again.", "slate")
    cues = [WrittenCue.of(cue) for cue in assembly.cue_tracks[0].cues]
    assert write_srt(cues, assembly.rate) == (
        "1\n00:00:00,080 --> 00:00:01,840\nKeep the wick short.\n\n"
        "2\n00:00:02,680 --> 00:00:04,320\nAnd go ‹round› again.\n"
    )
    assert write_webvtt(cues, assembly.rate).startswith(
        "WEBVTT\n\n00:00:00.080 --> 00:00:01.840\nKeep the wick short.\n"
    )
    assert "And go &lt;round&gt; again." in write_webvtt(cues, assembly.rate)


def test_all_styles_name_faces_and_limits():
    assert {style.font for style in STYLES.values()} == {
        "Lexend Bold", "Atkinson Hyperlegible Bold", "Nimble Serif SemiBold",
    }  # fmt: skip
