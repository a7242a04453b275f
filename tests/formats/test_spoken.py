"""Which language words are in, and how languages are called."""

import pytest

from nimble_quote.formats.languages import language
from nimble_quote.formats.spoken import ASSUMED, NAMES, code_of_track, language_of, name_of

TEXTS = {
    "de": "Die Lampen brennen die ganze Nacht hindurch, und wir warten am Hafen, bis der Morgen kommt, weil niemand allein sein will",
    "es": "Las lámparas arden toda la noche y nosotros esperamos en el puerto hasta que llega la mañana porque nadie quiere estar solo",
    "pt": "As lâmpadas queimam a noite toda e nós esperamos no porto até que chegue a manhã porque ninguém quer ficar sozinho aqui",
    "fr": "Les lampes brûlent toute la nuit et nous attendons au port jusqu'à ce que le matin vienne car personne ne veut rester seul",
    "en": "um the lamps burn all night and we wait down at the harbour until the morning comes because nobody wants to be on their own",
}


@pytest.mark.parametrize("code", TEXTS)
def test_a_language_is_told_from_its_words_with_and_without_marks(code: str):
    assert language_of(TEXTS[code].split()) == code
    assert language_of(TEXTS[code].lower().replace(",", "").split()) == code


@pytest.mark.parametrize("text", ["", "lamp wick oil", "♪ ♪", "word " * 500, "xq zv " * 50])
def test_what_tells_too_little_is_taken_for_english(text: str):
    assert language_of(text.split()) == ASSUMED


def test_scripts_without_spaces_are_told():
    assert (
        language_of(["ランプは一晩中燃えて、私たちは港で朝が来るまで待っています。誰も一人でいたくないからです。"])
        == "ja"
    )


def test_languages_have_names_and_sound_tracks_name_them_by_three_letters():
    assert code_of_track("ger") == code_of_track("DEU") == "de"
    assert code_of_track("und") is None
    assert code_of_track(None) is None
    assert name_of("fi") == "Finnish"
    assert all(len(code) == 2 for code in NAMES)


def test_a_language_without_lists_is_named_and_finds_nothing():
    finnish = language("fi")
    assert finnish.name == "Finnish"
    assert finnish.within(["um", "lamppu"], "fillers") == []
    assert finnish.tally(["um"], ("general",)) == [0]
