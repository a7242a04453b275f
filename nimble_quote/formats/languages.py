"""Reads what the finder knows of each language, and its weights, from the data files that ship."""

import tomllib
from functools import cache
from importlib import resources

from nimble_quote.core.language import Language
from nimble_quote.core.soundbites.learned import FinderModel
from nimble_quote.core.transcript.ends import EndModel
from nimble_quote.formats.spoken import name_of

_FILES = resources.files("nimble_quote.languages")
LANGUAGES = ("en", "de", "es", "fr", "pt")


@cache
def language(code: str) -> Language:
    """The word lists of a language; empty ones where it has none here."""
    if code not in LANGUAGES:
        return Language(code=code, name=name_of(code))
    return Language.model_validate(tomllib.loads(_FILES.joinpath(f"{code}.toml").read_text("utf-8")))


@cache
def finder_model(code: str) -> FinderModel:
    """What the finder learned of a language; where nothing was, what it learned of English, whose signs it looks for in the
    word lists of the other."""
    file = _FILES.joinpath(f"{code}.finder.json")
    if not file.is_file():
        return finder_model("en")
    return FinderModel.model_validate_json(file.read_text("utf-8"))


@cache
def end_model(code: str) -> EndModel | None:
    """What was learned of where sentences end in a language; None where nothing was."""
    file = _FILES.joinpath(f"{code}.ends.json")
    return EndModel.model_validate_json(file.read_text("utf-8")) if file.is_file() else None
