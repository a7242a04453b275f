from nimble_quote.core.transcript.cues import TimedCue, Token, timed_words
from nimble_quote.core.transcript.document import transcript_of
from nimble_quote.core.transcript.names import sound_code, suggest_names


def suggested(text: str, *names: str) -> list[tuple[str, str]]:
    cue = TimedCue(start_ms=0, end_ms=100_000, tokens=tuple(Token(text=word) for word in text.split()))
    return [(one.place.text, one.name) for one in suggest_names(transcript_of(timed_words([cue])), names)]


def test_what_sounds_like_a_name_is_suggested_with_the_words_it_stands_for():
    text = "My name is Maren Tully, and the lamps in Scary Sound were lit. Sanna Quell came to the castle light."
    names = ("Maren Tolley", "Skerry Sound", "Sanna Quill", "Kessel light")
    assert suggested(text, *names) == [
        ("Maren Tully,", "Maren Tolley"), ("Scary Sound", "Skerry Sound"), ("Sanna Quell", "Sanna Quill"),
        ("castle light.", "Kessel light"),
    ]  # fmt: skip


def test_a_name_that_is_written_as_it_should_be_is_left_alone():
    assert suggested("Maren Tolley spoke, and Maren Tolley's lamp burned.", "Maren Tolley") == []


def test_common_words_are_not_taken_for_short_names():
    assert suggested("It is low water, and the law is the law, so lay it low.", "Lowe", "Ida") == []


def test_codes_leave_vowels_out():
    assert sound_code("skerry") == sound_code("scary") == "SKR"
