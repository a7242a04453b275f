"""Captions written as sidecars, and hostile ones in every format."""

import re

import pytest

from nimble_quote.core.captions.cues import WrittenCue
from nimble_quote.formats.ass import write_ass
from nimble_quote.formats.sidecar import WRITERS, WrittenCaptions, write_srt, write_webvtt
from nimble_quote.formats.transcripts import read_transcript
from tests.formats.test_ass import assembly_of
from tests.shipped import LETTERING, STYLES


def test_hostile_captions_stay_text_in_every_format():
    nasty = "{\\p1}m 0 0 l 9 9{\\p0}\\N <b>hi</b> 00:00:01.000 --> 00:00:02.000 & [Events]"
    assembly = assembly_of("one two three four five six seven eight nine ten", caption=nasty)
    script = write_ass(assembly, LETTERING)
    texts = [line.split("}", 1)[1] for line in script.splitlines() if line.startswith("Dialogue:")]
    assert texts
    bare = [re.sub(r"\{\\fn[A-Za-z ]+\\fs[\d.]+\}", "", text) for text in texts]
    assert not any(mark in text for text in bare for mark in "{}\\")
    assert script.splitlines().count("[Events]") == 1
    cues = [WrittenCue.of(cue) for cue in assembly.cue_tracks[0].cues]
    for kind, write in WRITERS.items():
        back = read_transcript(f"a.{kind}", write(WrittenCaptions(cues=cues, rate=assembly.rate)).encode())
        assert len(back.cues) == len(cues) or kind == "txt", kind
        assert back.left_out == ()


@pytest.mark.parametrize("kind", WRITERS)
@pytest.mark.parametrize("known", [True, False])
def test_captions_are_read_back_as_they_were_written(kind: str, known: bool):
    assembly = assembly_of("Keep the wick short, & there will be “light”. | And go <round> again, für Łódź.")
    (track,) = assembly.cue_tracks
    cues = [WrittenCue.of(cue) for cue in track.cues]
    captions = WrittenCaptions(
        cues=cues, rate=assembly.rate, language="en", **({"look": track.look, "height": track.height} if known else {})
    )
    back = read_transcript(f"a.{kind}", WRITERS[kind](captions).encode())
    said = [" ".join(token.text for token in cue.tokens) for cue in back.cues]
    told = [" ".join(cue.lines) for cue in cues]
    if kind == "srt":
        # SubRip has no escape: what could be read as a tag is set apart.
        told = [text.replace("<", "‹").replace(">", "›") for text in told]
    assert " ".join(said) == " ".join(told)
    if kind != "txt":
        assert said == told
        times = [(cue.first_frame * 40, cue.end_frame * 40) for cue in cues]
        assert [(cue.start_ms, cue.end_ms) for cue in back.cues] == times


def test_sidecars_are_as_players_read_them():
    assembly = assembly_of("Keep the wick short. | And go <round> again.")
    cues = [WrittenCue.of(cue) for cue in assembly.cue_tracks[0].cues]
    captions = WrittenCaptions(cues=cues, rate=assembly.rate)
    assert write_srt(captions) == (
        "1\n00:00:00,000 --> 00:00:01,840\nKeep the wick short.\n\n"
        "2\n00:00:02,600 --> 00:00:04,320\nAnd go ‹round› again.\n"
    )
    assert write_webvtt(captions).startswith("WEBVTT\n\n00:00:00.000 --> 00:00:01.840\nKeep the wick short.\n")
    assert "And go &lt;round&gt; again." in write_webvtt(captions)


def test_all_styles_name_faces_that_ship():
    assert {style.look.face for style in STYLES.values()} == {
        "Lexend Bold", "Atkinson Hyperlegible Bold", "Nimble Serif SemiBold",
    }  # fmt: skip
