"""Faces for every script: which draws what, how wide it is, where it may break; and files that are no faces."""

from io import BytesIO
from pathlib import Path

import pytest
from fontTools.ttLib import TTFont
from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.lettering.fitting import UnfitFace, check, fitted, name_of
from nimble_quote.lettering.shipped import CHAIN
from nimble_quote.settings import Settings
from tests.lettering.texts import TEXTS
from tests.shipped import CATALOGUE, LETTERING

ATKINSON = "Atkinson Hyperlegible Bold"
FONTS = Settings().fonts


@pytest.mark.parametrize("script", TEXTS)
def test_every_character_of_every_script_is_drawn_by_a_face(script: str):
    language, texts = TEXTS[script]
    assert len(texts) == 20
    for text in texts:
        for face in (ATKINSON, "Lexend Bold", "Nimble Serif SemiBold"):
            assert LETTERING.missing(text, face, language) == "", text
            runs = LETTERING.runs(text, face, language)
            assert "".join(run.text for run in runs) == text
            assert LETTERING.width(text, face, language=language) > 0


def test_what_no_face_has_is_told():
    assert LETTERING.missing("ok \U000f0001 ok \u2fff0", ATKINSON) in ("\U000f0001", "\U000f0001\u2fff")


def test_chinese_japanese_and_korean_have_the_face_of_their_language():
    faces = {code: LETTERING.runs("今日", ATKINSON, code)[0].face for code in ("zh", "ja", "ko")}
    assert faces == {"zh": "Noto Sans SC Bold", "ja": "Noto Sans JP Bold", "ko": "Noto Sans KR Bold"}


def test_a_word_is_drawn_by_one_face_where_one_has_all_of_it():
    assert [run.face for run in LETTERING.runs("Việt Nam", ATKINSON, "vi")] == ["Noto Sans Bold", ATKINSON]


def test_widths_are_kerned_and_of_a_plain_face_what_its_file_says():
    font = TTFont(FONTS / "AtkinsonHyperlegible_700Bold.ttf")
    advances, em = font["hmtx"], font["head"].unitsPerEm
    alone = {one: advances[font.getBestCmap()[ord(one)]][0] / em for one in "AVTo"}
    assert LETTERING.width("A", ATKINSON) == pytest.approx(alone["A"])
    assert LETTERING.width("AVAVA To", ATKINSON) < sum(alone.get(one, 0) for one in "AVAVATo") + LETTERING.width(
        " ", ATKINSON
    )


def test_spaced_letters_are_not_kerned_and_the_last_has_no_space_after_it():
    plain = sum(LETTERING.width(one, ATKINSON) for one in "AVA")
    assert LETTERING.width("AVA", ATKINSON, 0.1) == pytest.approx(plain + 0.2)


@pytest.mark.parametrize(
    ("text", "language", "pieces"),
    [
        ("สวัสดีชาวโลก", "th", ("สวัสดี", "ชาว", "โลก")),
        ("今日はとてもいい天気ですね。", "ja", ("今日は", "とてもいい", "天気ですね。")),
        ("안녕하세요", "ko", ("안녕하세요",)),
        ("lighthouse-keeper", "en", ("lighthouse-keeper",)),
    ],
)
def test_words_written_together_are_parted(text: str, language: str, pieces: tuple[str, ...]):
    assert LETTERING.pieces(text, language) == pieces


@given(st.text(max_size=40))
def test_any_text_has_a_width_and_loses_nothing(text: str):
    assert LETTERING.width(text, ATKINSON) >= 0
    assert "".join(run.text for run in LETTERING.runs(text, ATKINSON)) == text
    assert "".join(LETTERING.pieces(text, "ja")) == text


def test_the_faces_that_ship_are_as_the_renderers_look_them_up():
    for face in CATALOGUE.faces:
        data = (FONTS / face.file).read_bytes()
        assert name_of(data) == face.name
        check(data)
    for one in CHAIN:
        font = TTFont(FONTS / one.file)
        assert "prep" not in font
        encodings = {(table.platformID, table.platEncID) for table in font["cmap"].tables if table.platformID == 3}
        assert len(encodings) == 1


def changed(**tables: object) -> bytes:
    font = TTFont(FONTS / "AtkinsonHyperlegible_700Bold.ttf")
    for name, value in tables.items():
        if value is None:
            del font[name]
        else:
            font[name].fsType = value
    out = BytesIO()
    font.save(out)
    return out.getvalue()


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "no TTF or OTF"),
        (b"hello" * 100, "no TTF or OTF"),
        (b"ttcf" + b"\0" * 100, "collection"),
        (b"\x00\x01\x00\x00" + b"\xff" * 400, "damaged"),
        ((FONTS / "AtkinsonHyperlegible_700Bold.ttf").read_bytes()[:9000], "damaged"),
    ],
)
def test_what_is_no_face_says_why(data: bytes, says: str):
    with pytest.raises(UnfitFace, match=says):
        check(data)


def test_faces_without_outlines_or_that_forbid_embedding_are_refused():
    with pytest.raises(UnfitFace, match="outlines"):
        check(changed(glyf=None, loca=None))
    with pytest.raises(UnfitFace, match="forbids"):
        check(changed(**{"OS/2": 2}))


def test_a_face_made_fit_keeps_its_letters(tmp_path: Path):
    data = fitted((FONTS / "AtkinsonHyperlegible_700Bold.ttf").read_bytes())
    assert name_of(data) == ATKINSON
    assert (
        TTFont(BytesIO(data)).getBestCmap().keys()
        == TTFont(FONTS / "AtkinsonHyperlegible_700Bold.ttf").getBestCmap().keys()
    )
