"""Quotes as a package, as `docs/packages.md` tells it: a zip of JSON, captions, stills, clips, and what is the house's own in them.

manifest.json               what is in it: format, version, and of each file its size and SHA-256
quote.schema.json           the JSON Schema of a quote's document
house.json                  destinations, and what pictures and sounds are called
styles/ID.json              caption styles, as files of their own
pictures/N, sounds/N        by the numbers that documents name them by
quotes/N/quote.json         a quote: its recording, its document, the words it hangs on
quotes/N/…                  captions, words, stills and clips, for other programs
"""

import hashlib
import io
import json
import zipfile
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, TypeVar

from pydantic import BaseModel, Field, ValidationError

from nimble_quote.core.captions.styles import StyleWanted
from nimble_quote.core.destinations import Destination
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.model import Frozen
from nimble_quote.core.packages import TakenQuote
from nimble_quote.core.refusal import Refused
from nimble_quote.formats.archive import Packed
from nimble_quote.formats.finish_file import AssetInFile
from nimble_quote.formats.style_file import read_style

FORMAT, VERSION = "nimble-quote-package", 1
MOST_BYTES = 300_000_000
_MOST_FILES, _MOST_QUOTES = 3000, 200
_MOST_READ = 400_000_000
"""The most bytes that are unpacked of one package."""
M = TypeVar("M", bound=BaseModel)


class NoPackage(Refused):
    """A file is no package that can be taken in; says what of it."""

    code = "no-package"


class _Asset(Frozen):
    name: str = Field(max_length=80)
    licence: str = Field(default="", max_length=500)


class _House(Frozen):
    destinations: tuple[Destination, ...] = Field(default=(), max_length=200)
    pictures: dict[int, _Asset] = Field(default_factory=dict, max_length=200)
    sounds: dict[int, _Asset] = Field(default_factory=dict, max_length=200)


class _File(Frozen):
    bytes: int = Field(ge=0)
    sha256: str = Field(pattern=r"^[0-9a-f]{64}$")


class _Manifest(BaseModel):
    format: str
    version: int
    title: str = Field(default="", max_length=500)
    quotes: list[str] = Field(max_length=_MOST_QUOTES)
    files: dict[str, _File] = Field(max_length=_MOST_FILES)


@dataclass(frozen=True, kw_only=True)
class QuoteWithFiles:
    """A quote, and what goes along for other programs: texts, and files on the disk, by their names."""

    quote: TakenQuote
    texts: Mapping[str, bytes] = field(default_factory=dict)
    files: Mapping[str, Path] = field(default_factory=dict)


@dataclass(frozen=True, kw_only=True)
class Package:
    """What a package has: quotes, and all that they name of the house that it is from."""

    title: str
    quotes: Sequence[TakenQuote]
    destinations: Sequence[Destination]
    styles: Mapping[str, StyleWanted]
    pictures: Mapping[int, AssetInFile]
    sounds: Mapping[int, AssetInFile]


@dataclass(frozen=True, kw_only=True)
class ToPack:
    """What is to be a package; `styles` are files already."""

    title: str
    quotes: Sequence[QuoteWithFiles]
    destinations: Sequence[Destination]
    styles: Mapping[str, str]
    pictures: Mapping[int, AssetInFile]
    sounds: Mapping[int, AssetInFile]


def write_package(wanted: ToPack) -> Packed:
    """The files of a package, to be zipped. Those on the disk are read once for their sums."""
    texts: dict[str, bytes] = {"quote.schema.json": _json(QuoteDocument.model_json_schema())}
    files: dict[str, Path] = {}
    house = _House(
        destinations=tuple(wanted.destinations),
        pictures={number: _Asset(name=one.name, licence=one.licence) for number, one in wanted.pictures.items()},
        sounds={number: _Asset(name=one.name, licence=one.licence) for number, one in wanted.sounds.items()},
    )
    texts["house.json"] = _json(house.model_dump(mode="json"))
    texts |= {f"styles/{id_}.json": style.encode() for id_, style in wanted.styles.items()}
    texts |= {f"pictures/{number}": one.content for number, one in wanted.pictures.items()}
    texts |= {f"sounds/{number}": one.content for number, one in wanted.sounds.items()}
    names = []
    for number, one in enumerate(wanted.quotes, start=1):
        names.append(f"quotes/{number}/quote.json")
        texts[names[-1]] = _json(one.quote.model_dump(mode="json"))
        texts |= {f"quotes/{number}/{name}": content for name, content in one.texts.items()}
        files |= {f"quotes/{number}/{name}": path for name, path in one.files.items()}
    sums = {
        name: {"bytes": len(content), "sha256": hashlib.sha256(content).hexdigest()} for name, content in texts.items()
    }
    sums |= {name: {"bytes": path.stat().st_size, "sha256": _sum_of(path)} for name, path in files.items()}
    told = {
        "format": FORMAT,
        "version": VERSION,
        "title": wanted.title,
        "quotes": names,
        "files": dict(sorted(sums.items())),
    }
    return Packed(files=files, texts={"manifest.json": _json(told), **texts})


def read_package(data: bytes) -> Package:
    """The package in a zip file. Raises `NoPackage`, whatever it was made to look like."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            return _Reading(archive).package()
    except (zipfile.BadZipFile, NotImplementedError, RuntimeError, EOFError, OSError) as broken:
        raise NoPackage("This file can't be opened as a zip archive. Download it, or send it, once more.") from broken


class _Reading:
    """A package that is being read: never more of it than it may have."""

    def __init__(self, archive: zipfile.ZipFile) -> None:
        self._archive = archive
        self._left = _MOST_READ
        if len(archive.infolist()) > _MOST_FILES:
            raise NoPackage(f"There are more than {_MOST_FILES:,} files in this archive.")
        self._manifest = self._model(_Manifest, "manifest.json")
        if self._manifest.format != FORMAT:
            raise NoPackage("This zip is no package of quotes: its manifest does not say so.")
        if self._manifest.version != VERSION:
            raise NoPackage(
                f"This package is of version {self._manifest.version}, and only {VERSION} is known. Update Nimble Quote."
            )

    def package(self) -> Package:
        house = self._model(_House, "house.json")
        quotes = [self._model(TakenQuote, name) for name in self._manifest.quotes]
        if not quotes:
            raise NoPackage("There is no quote in this package.")
        styles = [name for name in self._manifest.files if name.startswith("styles/") and name.endswith(".json")]
        return Package(
            title=self._manifest.title, quotes=quotes, destinations=house.destinations,
            styles={name[len("styles/") : -len(".json")]: read_style(self._read(name)) for name in styles},
            pictures=self._assets("pictures", house.pictures), sounds=self._assets("sounds", house.sounds),
        )  # fmt: skip

    def _assets(self, kind: str, told: Mapping[int, _Asset]) -> dict[int, AssetInFile]:
        return {
            number: AssetInFile(name=one.name, licence=one.licence, content=self._read(f"{kind}/{number}"))
            for number, one in told.items()
        }

    def _model(self, model: type[M], name: str) -> M:
        try:
            told = json.loads((self._read(name) if name != "manifest.json" else self._bytes(name)).decode())
            return model.model_validate(told)
        except ValidationError as wrong:
            first = wrong.errors()[0]
            where = ".".join(str(part) for part in first["loc"])
            raise NoPackage(f"{name} can't be read: {where}: {first['msg']}.") from wrong
        except (ValueError, RecursionError) as wrong:
            raise NoPackage(f"{name} can't be read: it is no JSON in UTF-8.") from wrong

    def _read(self, name: str) -> bytes:
        """A file that the manifest tells, whole and as it was."""
        told = self._manifest.files.get(name)
        if told is None:
            raise NoPackage(f"{name} is missing from the package.")
        content = self._bytes(name)
        if len(content) != told.bytes or hashlib.sha256(content).hexdigest() != told.sha256:
            raise NoPackage(f"{name} is not as it was packed. Download the package once more.")
        return content

    def _bytes(self, name: str) -> bytes:
        try:
            with self._archive.open(name) as file:
                # What an archive says of its own sizes is not believed.
                content = file.read(self._left + 1)
        except KeyError as missing:
            raise NoPackage(f"{name} is missing from the package.") from missing
        self._left -= len(content)
        if self._left < 0:
            raise NoPackage(f"There is more than {_MOST_READ // 1_000_000} MB in this package besides its clips.")
        return content


def _sum_of(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def _json(told: Any) -> bytes:
    return (json.dumps(told, indent=1, ensure_ascii=False) + "\n").encode()
