"""Quotes packed for another house, and packages looked at and taken in."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path

from pydantic import ValidationError

from nimble_quote.api.saying import said_in
from nimble_quote.api.state import ServerState, loaded
from nimble_quote.api.views.packages import PackageView, TakenInView, TakenQuoteView
from nimble_quote.core.assembly import assemble
from nimble_quote.core.captions.cues import WrittenCue
from nimble_quote.core.catalogue import Catalogue
from nimble_quote.core.chapters import chapters_of
from nimble_quote.core.destinations import Destination, Wanted, shape_for
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.document.upgrades import read_document, stored
from nimble_quote.core.edits import EditRefused
from nimble_quote.core.packages import (
    TakenQuote,
    TakenRecording,
    named,
    renumbered,
    standing_alone,
    without_footage,
    without_words,
    words_apart,
    words_of,
)
from nimble_quote.formats.archive import Packed
from nimble_quote.formats.finish_file import AssetInFile, assets_of
from nimble_quote.formats.package import NoPackage, Package, QuoteWithFiles, ToPack, write_package
from nimble_quote.formats.said import write_chapters_webvtt, write_words
from nimble_quote.formats.sidecar import WrittenCaptions, write_srt, write_webvtt
from nimble_quote.formats.style_file import write_style
from nimble_quote.media.house_pictures import HousePicture, house_picture
from nimble_quote.media.house_sounds import MadeSound, house_sound
from nimble_quote.media.keys import clip_still_key
from nimble_quote.store import catalogue as catalogues
from nimble_quote.store import exports, house, house_sounds, quotes, recordings, styles
from nimble_quote.store.database import Connection
from nimble_quote.store.recordings import RecordingRow


@dataclass(frozen=True, kw_only=True)
class _Packing:
    """A quote as it is packed, and what it names of the house."""

    quote: QuoteWithFiles
    document: QuoteDocument


async def packed(conn: Connection, server: ServerState, quote_ids: Sequence[int], title: str, *, clips: bool) -> Packed:
    """Quotes as the files of a package; with the newest clip of each version where `clips`. Raises `NotFound`."""
    found = [await _packing(conn, server, one, clips=clips) for one in dict.fromkeys(quote_ids)]
    now = await server.contexts.catalogues.now(conn)
    documents = [one.document for one in found]
    shown = {number for one in documents for number in named(stored(one), "picture")}
    heard = {number for one in documents for number in named(stored(one), "sound")}
    pictures, sounds = await house.pictures(conn, shown), await house_sounds.contents(conn, heard)
    places = {version.destination for one in documents for version in one.versions}
    looks = {(one.captions.style, one.captions.held) for one in documents}
    return write_package(ToPack(
        title=title, quotes=[one.quote for one in found], destinations=[now.destination(one) for one in sorted(places)],
        styles={style: write_style(now.style(style, held)) for style, held in sorted(looks, key=str)},
        pictures=assets_of(pictures, now.picture), sounds=assets_of(sounds, now.sound),
    ))  # fmt: skip


async def _packing(conn: Connection, server: ServerState, quote_id: int, *, clips: bool) -> _Packing:
    row, recording, context = await loaded(conn, server, quote_id)
    document = standing_alone(row.document, context.catalogue)
    taken = TakenQuote(
        recording=TakenRecording(
            content=recording.content, file_name=recording.file_name, title=recording.title, series=recording.series,
            duration_ms=recording.duration_ms,
        ),
        document=stored(document), words=words_of(document, context.talk),
    )  # fmt: skip
    texts: dict[str, bytes] = {}
    for version in row.document.versions:
        place = context.catalogue.destination(version.destination)
        assembly = assemble(row.document, context, recording.facts, place)
        cues = [WrittenCue.of(cue) for track in assembly.cue_tracks for cue in track.cues]
        written = WrittenCaptions(cues=cues, rate=assembly.rate, size=place.size)
        said = said_in(row.document, context, recording, assembly)
        chapters = chapters_of(said.words, context.talk, assembly.length_ms)
        texts |= {
            f"{place.id}.srt": write_srt(written).encode(), f"{place.id}.vtt": write_webvtt(written).encode(),
            f"{place.id}.words.json": write_words(said, context.talk).encode(),
            f"{place.id}.chapters.vtt": write_chapters_webvtt(chapters).encode(),
        }  # fmt: skip
    files = await _files_of(conn, server, quote_id, clips=clips)
    return _Packing(quote=QuoteWithFiles(quote=taken, texts=texts, files=files), document=document)


async def _files_of(conn: Connection, server: ServerState, quote_id: int, *, clips: bool) -> dict[str, Path]:
    """The stills of the newest clips of a quote that are there, and the clips."""
    found: dict[str, Path] = {}
    for row in await exports.clips_of(conn, quote_id):
        key = row.file_path or ""
        found[f"{row.destination}.jpg"] = server.media.store.local(clip_still_key(key))
        if clips:
            found[f"{row.destination}.mp4"] = server.media.store.local(key)
    return {name: path for name, path in found.items() if path.exists()}


@dataclass(frozen=True, kw_only=True)
class _Fitted:
    """A quote of a package as it would be here: its document, whatever it names still by the numbers of where it is from."""

    recording: RecordingRow | None
    document: QuoteDocument
    notes: list[str]


async def looked_at(conn: Connection, server: ServerState, package: Package) -> PackageView:
    """What a package would become here, and what is missing for it. Nothing is kept."""
    now = await server.contexts.catalogues.now(conn)
    fitted = [await _fitted(conn, server, one) for one in package.quotes]
    shown = []
    for one, taken in zip(fitted, package.quotes, strict=True):
        shown.append(TakenQuoteView(
            title=one.document.title, recording=taken.recording.title, recording_id=one.recording.id if one.recording else None,
            versions=[_place_name(package, version.destination) for version in one.document.versions],
            here_already=await _same_here(conn, one), notes=one.notes,
        ))  # fmt: skip
    missing = sorted({
        f"The recording “{taken.recording.title}” ({taken.recording.file_name}) is not here. Bring it in, then take the package in."
        for one, taken in zip(fitted, package.quotes, strict=True) if one.recording is None
    })  # fmt: skip
    brings = [f"Destination “{one.name}”" for one in package.destinations if _place_here(one, now) is None]
    brings += [f"Caption style “{one.name}”" for one in package.styles.values() if _style_here(one.look, now) is None]
    known = await _known_assets(conn, package)
    brings += [f"Picture “{one.name}”" for number, one in package.pictures.items() if number not in known["picture"]]
    brings += [f"Sound “{one.name}”" for number, one in package.sounds.items() if number not in known["sound"]]
    return PackageView(title=package.title, quotes=shown, missing=missing, brings=brings)


def _place_name(package: Package, id_: str) -> str:
    return next((one.name for one in package.destinations if one.id == id_), id_)


async def _fitted(conn: Connection, server: ServerState, taken: TakenQuote) -> _Fitted:
    try:
        document = read_document(dict(taken.document))
    except (ValueError, KeyError, TypeError, AttributeError) as broken:
        raise NoPackage(
            "A quote in this package can't be read: it was made by a newer version, or is damaged."
        ) from broken
    notes: list[str] = []
    document, footage = without_footage(document)
    if footage:
        notes.append(
            f"{footage} piece{'s' * (footage > 1)} of footage of other recordings {'are' if footage > 1 else 'is'} left out."
        )
    row = await _recording_here(conn, taken.recording)
    if row is None:
        return _Fitted(recording=None, document=document, notes=notes)
    if row.content != taken.recording.content:
        notes.append(f"“{row.title}” here is another file of that name: check the cut and the framing.")
    if document.span.end_ms > row.duration_ms:
        raise NoPackage(f"“{document.title}” lies beyond the end of “{row.title}”.")
    context = await server.contexts.around(conn, row, document.span)
    apart = words_apart(taken.words, context.talk)
    if apart or (context.talk.words and not taken.words):
        document = without_words(document)
        notes.append(
            f"{apart} of its {len(taken.words)} words are otherwise here, so fixes of captions and what shows at words are left out."
        )
    return _Fitted(recording=row, document=document, notes=notes)


async def _recording_here(conn: Connection, taken: TakenRecording) -> RecordingRow | None:
    """The recording of the same file; else one as long whose file is called the same."""
    same = await recordings.with_content(conn, taken.content)
    if same is not None:
        row = await recordings.one(conn, same[0])
        return row if row.removed_at is None else None
    found = await recordings.called(conn, taken.file_name, taken.duration_ms)
    return await recordings.one(conn, found) if found is not None else None


async def _same_here(conn: Connection, one: _Fitted) -> int | None:
    if one.recording is None:
        return None
    for row in await quotes.of_recording(conn, one.recording.id):
        if (
            row.document.span == one.document.span
            and row.document.struck == one.document.struck
            and row.document.title == one.document.title
        ):
            return row.id
    return None


def _place_here(wanted: Destination, now: Catalogue) -> Destination | None:
    """The destination here that is just this: by its id, or its name, and as large and as long."""
    alike = [one for one in now.destinations if one.size == wanted.size and one.limit_ms == wanted.limit_ms]
    return next((one for one in alike if one.id == wanted.id), None) or next(
        (one for one in alike if one.name.casefold() == wanted.name.casefold()), None
    )


def _style_here(look: object, now: Catalogue) -> str | None:
    return next((one.id for one in now.styles if one.look == look and not one.retired), None)


async def taken_in(server: ServerState, package: Package) -> TakenInView:
    """Keeps the quotes of a package whose recordings are here, and what of the house they name. Raises `NoPackage`."""
    async with server.tools.turn():
        pictures = {number: await house_picture(one.content) for number, one in package.pictures.items()}
    async with server.tools.turn():
        sounds = {number: await house_sound(one.content) for number, one in package.sounds.items()}
    async with server.connection() as conn:
        fitted = [await _fitted(conn, server, one) for one in package.quotes]
        here = [one for one in fitted if one.recording is not None]
        if not here:
            raise NoPackage("None of the recordings of this package is here. Bring one in first.")
        numbers = await _numbers(conn, package, pictures, sounds)
        places = await _places(conn, package)
        looks = await _styles(conn, package)
        made = []
        for one in here:
            assert one.recording is not None
            document = _renamed(one.document, numbers, places, looks)
            made.append(
                await quotes.keep(conn, one.recording.id, document, f"Taken from the package “{package.title}”"[:200])
            )
    left = [f"“{one.document.title}”: its recording is not here" for one in fitted if one.recording is None]
    return TakenInView(quotes=made, left_out=[*left, *(note for one in here for note in one.notes)])


async def _numbers(
    conn: Connection, package: Package, pictures: Mapping[int, HousePicture], sounds: Mapping[int, MadeSound]
) -> dict[str, dict[int, int]]:
    """What pictures and sounds of a package are known by here; those that the house has already are those."""
    known = await _known_assets(conn, package)
    for number, picture in pictures.items():
        if number not in known["picture"]:
            one = package.pictures[number]
            known["picture"][number] = (await house.add_picture(conn, one.name, picture, one.licence)).id
    for number, sound in sounds.items():
        if number not in known["sound"]:
            one = package.sounds[number]
            known["sound"][number] = (await house_sounds.add(conn, one.name, sound, one.licence)).id
    return known


async def _known_assets(conn: Connection, package: Package) -> dict[str, dict[int, int]]:
    """The pictures and sounds of a package that the house has already, byte for byte under the same name."""
    pictures = {one.id: one.name for one in await house.all_pictures(conn)}
    sounds = {one.id: one.name for one in await house_sounds.every(conn)}
    shown = await house.pictures(conn, _called_alike(pictures, package.pictures))
    heard = await house_sounds.contents(conn, _called_alike(sounds, package.sounds))
    return {"picture": _same(package.pictures, shown), "sound": _same(package.sounds, heard)}


def _called_alike(here: Mapping[int, str], there: Mapping[int, AssetInFile]) -> set[int]:
    names = {one.name for one in there.values()}
    return {number for number, name in here.items() if name in names}


def _same(there: Mapping[int, AssetInFile], here: Mapping[int, bytes]) -> dict[int, int]:
    by_content = {content: number for number, content in here.items()}
    return {number: by_content[one.content] for number, one in there.items() if one.content in by_content}


async def _places(conn: Connection, package: Package) -> dict[str, str]:
    """What the destinations of a package are known by here; one that is not here is added, under a name that is free."""
    out = {}
    for one in package.destinations:
        now = await catalogues.whole(conn)
        same = _place_here(one, now)
        if same is None:
            name = _free_name(one.name, [other.name for other in now.destinations])
            wanted = Wanted(
                name=name, width=one.width, height=one.height, limit_ms=one.limit_ms, largest_mb=one.largest_mb, covered=one.covered,
                rate=str(one.rate) if one.rate else None, file_name=one.file_name, texts=one.texts,
            )  # fmt: skip
            wanted.checked(now.destinations)
            out[one.id] = await catalogues.add_destination(
                conn, wanted, shape_for(one.width, one.height, now.destinations)
            )
        else:
            out[one.id] = same.id
    return out


async def _styles(conn: Connection, package: Package) -> dict[str, str]:
    """What the caption styles of a package are known by here; one that looks otherwise than all here is added."""
    out = {}
    for id_, wanted in package.styles.items():
        now = await catalogues.whole(conn)
        same = _style_here(wanted.look, now)
        if same is None:
            name = _free_name(wanted.name, [other.name for other in now.styles])
            same = await styles.add(conn, wanted.model_copy(update={"name": name}), None)
        out[id_] = same
    return out


def _free_name(name: str, taken: Sequence[str]) -> str:
    """A name, with a number where another has it."""
    known = {one.casefold() for one in taken}
    return next(one for one in (name, *(f"{name[:50]} {n}" for n in range(2, 10_000))) if one.casefold() not in known)


def _renamed(
    document: QuoteDocument,
    numbers: Mapping[str, Mapping[int, int]],
    places: Mapping[str, str],
    looks: Mapping[str, str],
) -> QuoteDocument:
    """A document with what it names by what that is known by here. Raises `NoPackage` where something did not come along."""
    try:
        told = renumbered(stored(document), numbers)
        told["versions"] = [{**one, "destination": places[one["destination"]]} for one in told["versions"]]
        told["posting"]["own"] = {places[name]: text for name, text in told["posting"]["own"].items() if name in places}
        told["captions"] = {**told["captions"], "style": looks[document.captions.style], "held": None}
        return read_document(told)
    except KeyError as missing:
        raise NoPackage(f"“{document.title}” names {missing}, which did not come along in the package.") from missing
    except (ValidationError, EditRefused) as impossible:
        raise NoPackage(f"“{document.title}” can't be kept here: {impossible}") from impossible
