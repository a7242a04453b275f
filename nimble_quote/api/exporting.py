"""Asking for the files of quotes: each version as it is wanted, and other kinds beside."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import UTC, datetime
from itertools import pairwise
from typing import Annotated, Literal
from uuid import uuid4

from pydantic import BaseModel, ConfigDict, Field

from nimble_quote.api.checking import checked, require_free
from nimble_quote.api.sources import sources_of
from nimble_quote.api.state import ServerState, loaded
from nimble_quote.core.assembly import Assembly, assemble
from nimble_quote.core.context import Context
from nimble_quote.core.destinations import FILE_NAME
from nimble_quote.core.edits import EditRefused
from nimble_quote.core.finding import Finding
from nimble_quote.core.making import QUALITIES, Codec, Making, Quality, expected_bytes, picture_kilobits
from nimble_quote.core.plain import plain_cut
from nimble_quote.core.sampling import sample_of
from nimble_quote.core.verdicts import overruled
from nimble_quote.jobs.export import ask_for_export, made_of, tags_of
from nimble_quote.media.render import probe
from nimble_quote.media.render.coders import codecs_there
from nimble_quote.media.render.command import NO_TAGS, key_frames
from nimble_quote.store import house
from nimble_quote.store.exports import NewExport
from nimble_quote.store.quotes import QuoteRow
from nimble_quote.store.recordings import RecordingRow

Also = Literal["cut", "m4a", "mp3", "still"]
_MOST_PROBED = 100
_KIND_NAMES: dict[Also, str] = {"cut": "Plain cut", "m4a": "Sound", "mp3": "Sound", "still": "Still"}


class ExportRequest(BaseModel):
    """Which versions to make; all of them where none is named. How they are coded, how large each is to be (in millions of bytes,
    by destination), and what else is made of the quote."""

    model_config = ConfigDict(
        json_schema_extra={"examples": [{"destinations": ["tall-60"], "quality": "usual", "also": ["mp3"]}]}
    )
    destinations: list[str] = Field(default=[], max_length=40)
    codec: Codec = "h264"
    quality: Quality = "usual"
    sizes_mb: dict[str, Annotated[float, Field(ge=0.05, le=100_000, allow_inf_nan=False)]] = Field(
        default={}, max_length=40
    )
    also: list[Also] = Field(default=[], max_length=4)


async def ask_for_all(server: ServerState, quote_id: int, request: ExportRequest) -> list[int]:
    """Asks for the files of a quote; the ids of their exports, those of files that are there already among them. Raises `Held`
    where something would spoil a post, and no reason was given why it may; `EditRefused`, `TooSmall` or `NoPicture`."""
    async with server.connection() as conn:
        quote, recording, context = await loaded(conn, server, quote_id)
    wanted = request.destinations or [version.destination for version in quote.document.versions]
    if any(quote.document.version(destination) is None for destination in wanted):
        raise EditRefused("This quote has no version for that destination.")
    if request.codec != "h264" and request.codec not in await codecs_there():
        raise EditRefused(f"This machine can't code as {request.codec.upper()}. Choose H.264.")
    found = await checked(server.contrasts, quote.document, recording, context, wanted)
    require_free(found, context)
    new = _versions(quote, recording, context, wanted, request, found)
    for kind in dict.fromkeys(request.also):
        # A still is of each version, in its shape; of the other kinds there is one.
        new += [_other(quote, recording, context, one, kind) for one in (wanted if kind == "still" else wanted[:1])]
    async with server.connection() as conn:
        return [asked for one in new if (asked := await ask_for_export(conn, one)) is not None]


def _versions(
    quote: QuoteRow, recording: RecordingRow, context: Context, wanted: Sequence[str], request: ExportRequest,
    found: Mapping[str, Sequence[Finding]],
) -> list[NewExport]:  # fmt: skip
    out = []
    for destination in wanted:
        place = context.catalogue.destination(destination)
        assembly = assemble(quote.document, context, recording.facts, place)
        size = request.sizes_mb.get(destination)
        if size is not None:
            # One that can't be met is told now, and not after it was tried.
            picture_kilobits(size * 1e6, assembly.length_ms, round(assembly.length_ms * 20), assembly.frames)
        making = Making(codec=request.codec, quality=request.quality, size_mb=size)
        new = _new(quote, recording, context, assembly, making, place.file_name)
        out.append(replace(new, overruled=overruled(found[destination])))
    return out


def _other(quote: QuoteRow, recording: RecordingRow, context: Context, destination: str, kind: Also) -> NewExport:
    """The plain cut, or the sound or the still of a version."""
    if kind == "cut":
        assembly = plain_cut(quote.document, context, recording.facts)
    else:
        place = context.catalogue.destination(destination)
        assembly = assemble(quote.document, context, recording.facts, place)
    name = f"{assembly.destination.name} still" if kind == "still" else _KIND_NAMES[kind]
    named = assembly.destination.model_copy(update={"name": name})
    assembly = assembly.model_copy(update={"destination": named})
    return _new(quote, recording, context, assembly, Making(kind=kind), FILE_NAME)


def _new(
    quote: QuoteRow, recording: RecordingRow, context: Context, assembly: Assembly, making: Making, pattern: str
) -> NewExport:
    tags = tags_of(quote.document, recording, context)
    return NewExport(
        quote_id=quote.id, revision=quote.revision, assembly=assembly, making=making,
        made_of=made_of(assembly, making, recording.content, tags), pattern=pattern,
        names={
            "recording": recording.title, "quote": quote.document.title, "shape": assembly.destination.shape,
            "date": (recording.held_on or datetime.now(UTC).date()).isoformat(),
        },
    )  # fmt: skip


class ExpectedSize(BaseModel):
    """How large a version is likely to come at a quality, in bytes."""

    quality: Quality
    bytes: int


async def expected_sizes(server: ServerState, quote_id: int, destination: str, codec: Codec) -> list[ExpectedSize]:
    """How large a version is likely to come at each quality, from a probe of short stretches of it. Raises `EditRefused`."""
    async with server.connection() as conn:
        quote, recording, context = await loaded(conn, server, quote_id)
        if quote.document.version(destination) is None:
            raise EditRefused("This quote has no version for that destination.")
        place = context.catalogue.destination(destination)
        whole = assemble(quote.document, context, recording.facts, place)
        sample = assemble(sample_of(quote.document, destination, context.catalogue), context, recording.facts, place)
        sources = await sources_of(conn, server, recording, sample)
        pictures = await house.pictures(conn, sample.house_pictures)
        faces = await server.contexts.lettering_now(conn)
    key = made_of(whole, Making(codec=codec), recording.content, NO_TAGS)
    if key not in server.probed:
        async with server.tools.turn():
            with server.media.scratch(f"probe-{uuid4().hex}") as scratch:
                server.probed[key] = await probe(sample, sources, faces, scratch, pictures, codec)
                if len(server.probed) > _MOST_PROBED:
                    server.probed.popitem(last=False)
    found = server.probed[key]
    keys = -(-whole.frames // key_frames(whole.rate)) + _cuts(whole)
    return [
        ExpectedSize(quality=name, bytes=expected_bytes(*found[name], whole.frames, keys, whole.length_ms))
        for name in QUALITIES
    ]


def _cuts(assembly: Assembly) -> int:
    """How often the picture leaps, which takes a key frame more."""
    return sum(not other.follows(one) for one, other in pairwise(assembly.picture))
