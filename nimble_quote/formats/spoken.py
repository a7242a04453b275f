"""Which language some words are in, and how languages are called."""

from collections.abc import Sequence
from functools import cache
from typing import Any

from nimble_quote.core.language import bare

ASSUMED = "en"
"""Taken where words are too few, or too odd, to tell."""
_LOOKED_AT = 3_000
_FEWEST = 12
_SURE = 0.9

NAMES = {
    "ar": "Arabic", "bg": "Bulgarian", "ca": "Catalan", "cs": "Czech", "cy": "Welsh", "da": "Danish", "de": "German",
    "el": "Greek", "en": "English", "es": "Spanish", "et": "Estonian", "eu": "Basque", "fa": "Persian", "fi": "Finnish",
    "fr": "French", "ga": "Irish", "he": "Hebrew", "hi": "Hindi", "hr": "Croatian", "hu": "Hungarian", "id": "Indonesian",
    "is": "Icelandic", "it": "Italian", "ja": "Japanese", "ko": "Korean", "lt": "Lithuanian", "lv": "Latvian",
    "ms": "Malay", "nl": "Dutch", "no": "Norwegian", "pl": "Polish", "pt": "Portuguese", "ro": "Romanian",
    "ru": "Russian", "sk": "Slovak", "sl": "Slovenian", "sr": "Serbian", "sv": "Swedish", "sw": "Swahili", "ta": "Tamil",
    "th": "Thai", "tl": "Tagalog", "tr": "Turkish", "uk": "Ukrainian", "ur": "Urdu", "vi": "Vietnamese", "zh": "Chinese",
}  # fmt: skip
"""Languages that a recording can be set to (ISO 639-1), as they are called in English."""
_LONG = {
    "eng": "en", "ger": "de", "deu": "de", "spa": "es", "por": "pt", "fre": "fr", "fra": "fr", "ita": "it", "dut": "nl",
    "nld": "nl", "dan": "da", "nor": "no", "swe": "sv", "fin": "fi", "pol": "pl", "rus": "ru", "ukr": "uk", "jpn": "ja",
    "kor": "ko", "chi": "zh", "zho": "zh", "ara": "ar", "heb": "he", "hin": "hi", "gre": "el", "ell": "el", "tur": "tr",
    "cze": "cs", "ces": "cs", "hun": "hu", "rum": "ro", "ron": "ro",
}  # fmt: skip
"""The codes of three letters (ISO 639-2) that media files name the language of a sound track with."""


def name_of(code: str) -> str:
    """How a language is called."""
    return NAMES.get(code, code)


def code_of_track(tag: str | None) -> str | None:
    """The language that a sound track names; None where it names none that is known."""
    return _LONG.get((tag or "").lower())


def language_of(texts: Sequence[str]) -> str:
    """The language of some words, by their letters (a model of byte sequences: Lui and Baldwin, *langid.py*, 2012);
    `ASSUMED` where that is not sure."""
    words = [word for word in (bare(text) for text in texts[:_LOOKED_AT]) if word]
    spaced = sum(len(word) for word in words) < 40 * len(words)
    if spaced and len(set(words)) < _FEWEST:
        return ASSUMED
    code, sure = _identifier().classify(" ".join(words))
    return str(code) if sure >= _SURE and code in NAMES else ASSUMED


@cache
def _identifier() -> Any:
    from py3langid.langid import MODEL_FILE, LanguageIdentifier

    return LanguageIdentifier.from_model_file(MODEL_FILE, norm_probs=True)
