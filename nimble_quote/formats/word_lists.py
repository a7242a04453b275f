"""Open word lists of languages, as they are installed: English from SCOWL, British and American spelling alike."""

from functools import cache
from pathlib import Path

from nimble_quote.core.captions.spelling import WordList

FOLDER = Path("/usr/share/dict")
_FILES = {"en": ("british-english", "american-english")}


@cache
def word_list(language: str) -> WordList | None:
    """The words of a language; None where no list of it is installed."""
    files = [FOLDER / name for name in _FILES.get(language.split("-")[0], ())]
    there = [one for one in files if one.exists()]
    if not there:
        return None
    return WordList(frozenset(word.lower() for one in there for word in one.read_text("utf-8").split()))
