"""Related words out of a thesaurus on disk."""

from pathlib import Path

from nimble_quote.services.thesaurus import MOST, Thesaurus
from nimble_quote.settings import Settings


def small(folder: Path) -> Thesaurus:
    entries = {
        "mend": ["(noun)|patch|darn", "(verb)|repair|fix|doctor|furbish up|better (generic term)|break (antonym)"],
        "zinc": ["(noun)|Zn|" + "|".join(f"metal{'x' * i}" for i in range(20))],
    }
    data, index = b"UTF-8\n", ["UTF-8", str(len(entries))]
    for word, meanings in entries.items():
        index.append(f"{word}|{len(data)}")
        data += f"{word}|{len(meanings)}\n".encode() + b"".join(f"{line}\n".encode() for line in meanings)
    (folder / "small.dat").write_bytes(data)
    (folder / "small.idx").write_text("\n".join(index) + "\nbroken line\nodd|x\n")
    return Thesaurus(folder, "small")


def test_synonyms_are_given_without_phrases_opposites_and_wider_terms(tmp_path: Path):
    assert small(tmp_path).related("Mend") == ["patch", "darn", "repair", "fix", "doctor"]


def test_a_word_that_is_not_there_has_none_and_others_not_too_many(tmp_path: Path):
    thesaurus = small(tmp_path)
    assert thesaurus.related("mendx") == thesaurus.related("zzz") == thesaurus.related("") == []
    assert len(thesaurus.related("zinc")) == MOST


def test_where_none_is_installed_nothing_is_related(tmp_path: Path):
    assert not Thesaurus(tmp_path).there
    assert Thesaurus(tmp_path).related("mend") == []


def test_the_one_that_is_installed_knows_english():
    assert {"repair", "fix"} <= set(Thesaurus(Settings().thesaurus).related("mend"))
