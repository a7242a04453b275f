"""Related words out of an open thesaurus in the MyThes format, as office suites and Debian's `mythes-*` packages have it.

The index (`th_en_US_v2.idx`) has a line `word|offset` for each entry, in order; at that byte of the data file stand

    mend|4
    (noun)|repair|fix|fixing|improvement (generic term)
    (verb)|heal|better (generic term)|break (antonym)

that is, the number of meanings and one line for each. Words with a remark in brackets are not synonyms.
"""

import threading
from bisect import bisect_left
from dataclasses import dataclass, field
from pathlib import Path

MOST = 8


@dataclass
class Thesaurus:
    """A thesaurus on disk; its index is read when it is first asked for."""

    folder: Path
    name: str = "th_en_US_v2"
    _words: list[str] = field(default_factory=list)
    _offsets: list[int] = field(default_factory=list)
    _reading: threading.Lock = field(default_factory=threading.Lock)

    @property
    def there(self) -> bool:
        """Whether it is installed."""
        return self._file("idx").is_file() and self._file("dat").is_file()

    def related(self, word: str) -> list[str]:
        """The single words that mean nearly the same, those of a word's first meanings first; at most `MOST`."""
        if not self.there:
            return []
        with self._reading:
            if not self._words:
                self._read_index()
        wanted = word.lower()
        at = bisect_left(self._words, wanted)
        if at == len(self._words) or self._words[at] != wanted:
            return []
        found = dict.fromkeys(one for meaning in self._meanings(self._offsets[at]) for one in meaning)
        return [one for one in found if one != wanted][:MOST]

    def _read_index(self) -> None:
        pairs = []
        with self._file("idx").open(encoding="utf-8", errors="replace") as lines:
            for line in lines:
                word, bar, offset = line.rstrip("\n").rpartition("|")
                if bar and offset.isdigit():
                    pairs.append((word, int(offset)))
        pairs.sort()
        self._words, self._offsets = [word for word, _ in pairs], [offset for _, offset in pairs]

    def _meanings(self, offset: int) -> list[list[str]]:
        with self._file("dat").open("rb") as data:
            data.seek(offset)
            count = data.readline().decode("utf-8", "replace").strip().rpartition("|")[2]
            lines = [
                data.readline().decode("utf-8", "replace").strip() for _ in range(int(count) if count.isdigit() else 0)
            ]
        return [
            [one.lower() for one in line.split("|")[1:] if one.replace("-", "").isalpha() and one.islower()]
            for line in lines
        ]

    def _file(self, kind: str) -> Path:
        return self.folder / f"{self.name}.{kind}"
