"""Uploads that can be gone on with after anything breaks: the tus protocol 1.0, core with creation, expiration, termination.

The size of the file on disk is the only offset there is, so a killed server says the truth when it comes back.

uploads / <id>         what has come in so far
          <id>.json    its name, its whole length, and what its owner knows it by
"""

import asyncio
import hashlib
import json
import os
import re
import secrets
import time
from collections.abc import AsyncIterator
from dataclasses import asdict, dataclass
from pathlib import Path

from nimble_quote.core.refusal import Conflict, Refused
from nimble_quote.jobs.housekeeping import KEPT_S
from nimble_quote.jobs.intake import Brought, file_name_of
from nimble_quote.media.room import Room
from nimble_quote.store.database import NotFound

LARGEST_BYTES = 20 * 1024**3
_BLOCK = 1 << 20
_ID = re.compile(r"^[A-Za-z0-9_-]{20,40}$")


class UploadRefused(Refused):
    """An upload that can't be taken; the message says why."""

    code = "upload-refused"


class UploadBusy(Conflict):
    """Another connection is sending to this upload."""

    code = "upload-busy"


class UploadOffsetWrong(Conflict):
    """What is sent does not begin where the upload ends."""

    code = "upload-offset-wrong"


@dataclass(frozen=True, kw_only=True)
class Upload:
    """A file that is coming in or has come in."""

    id: str
    name: str
    length: int
    fingerprint: str
    begun_at: float
    content: str | None = None
    """Its SHA-256, where it came in whole while this server ran."""


class Uploads:
    """The uploads in a folder. One server at a time writes to it."""

    def __init__(self, folder: Path, room: Room) -> None:
        self._folder = folder
        self._room = room
        self._busy: set[str] = set()
        self._sums: dict[str, tuple[int, hashlib._Hash]] = {}

    def begin(self, name: str, length: int, fingerprint: str) -> Upload:
        """A new upload of a length. Raises `UploadRefused` where it is too large, and `DiskFull`."""
        shown = file_name_of(name)
        if length > LARGEST_BYTES:
            raise UploadRefused(f"{shown}: it is over {LARGEST_BYTES // 1024**3} GB.")
        self._folder.mkdir(parents=True, exist_ok=True)
        self._room.require(length)
        upload = Upload(
            id=secrets.token_urlsafe(20), name=shown, length=length, fingerprint=fingerprint[:300], begun_at=time.time()
        )
        (self._folder / upload.id).touch()
        self._write(upload)
        return upload

    def one(self, upload_id: str) -> Upload:
        """An upload. Raises `NotFound`."""
        if not _ID.match(upload_id):
            raise NotFound("There is no such upload.")
        try:
            return Upload(**json.loads((self._folder / f"{upload_id}.json").read_text()))
        except FileNotFoundError:
            raise NotFound("There is no such upload; it may have been dropped after a day.") from None

    def offset(self, upload: Upload) -> int:
        """How much of an upload has come in."""
        return (self._folder / upload.id).stat().st_size

    def expires_at(self, upload: Upload) -> float:
        """The second (Unix time) at which an upload that nobody goes on with is dropped."""
        return (self._folder / upload.id).stat().st_mtime + KEPT_S

    def unfinished(self) -> list[Upload]:
        """Uploads that were begun and are not whole, newest first."""
        found = [self.one(path.stem) for path in self._folder.glob("*.json") if _ID.match(path.stem)]
        return sorted((u for u in found if self.offset(u) < u.length), key=lambda u: -u.begun_at)

    async def append(self, upload: Upload, offset: int, body: AsyncIterator[bytes]) -> int:
        """Adds what comes to an upload, which must end at `offset`; where it ends then.

        What came before a connection broke stays. Raises `UploadBusy`, `UploadOffsetWrong` or `UploadRefused`.
        """
        if upload.id in self._busy:
            raise UploadBusy("This file is being sent already.")
        self._busy.add(upload.id)
        try:
            if offset != (here := self.offset(upload)):
                raise UploadOffsetWrong(f"{upload.name}: {here} bytes are here, so it can't resume at {offset}.")
            with (self._folder / upload.id).open("ab") as out:
                try:
                    await self._receive(upload, out.fileno(), offset, body)
                finally:
                    await asyncio.to_thread(os.fsync, out.fileno())
            return self.offset(upload)
        finally:
            self._busy.discard(upload.id)

    async def _receive(self, upload: Upload, out: int, offset: int, body: AsyncIterator[bytes]) -> None:
        pending = bytearray()
        try:
            async for block in body:
                if offset + len(pending) + len(block) > upload.length:
                    raise UploadRefused(f"{upload.name}: more was sent than the {upload.length} bytes it should have.")
                pending += block
                if len(pending) >= _BLOCK:
                    full, pending = bytes(pending), bytearray()
                    offset = await asyncio.to_thread(self._put, upload, out, offset, full)
        finally:
            # Also where the connection broke: all that came is kept.
            offset = await asyncio.to_thread(self._put, upload, out, offset, bytes(pending))
        if offset == upload.length:
            told, total = self._sums.pop(upload.id, (-1, hashlib.sha256()))
            if told == offset:
                self._write(Upload(**{**asdict(upload), "content": total.hexdigest()}))

    def _put(self, upload: Upload, out: int, offset: int, data: bytes) -> int:
        """Writes, and sums up as it comes, so that nobody waits for the sum of a large file at the end."""
        view = memoryview(data)
        while view:
            view = view[os.write(out, view) :]
        told, total = self._sums.get(upload.id, (0, hashlib.sha256()))
        if told == offset:
            total.update(data)
            self._sums[upload.id] = (offset + len(data), total)
        return offset + len(data)

    def drop(self, upload: Upload) -> None:
        """Forgets an upload."""
        self._sums.pop(upload.id, None)
        (self._folder / f"{upload.id}.json").unlink(missing_ok=True)
        (self._folder / upload.id).unlink(missing_ok=True)

    def brought(self, upload_id: str, name: str) -> Brought:
        """A whole upload, as what was brought in. Raises `UploadRefused` where it is not here whole."""
        try:
            upload = self.one(upload_id)
            whole = self.offset(upload) == upload.length
        except (NotFound, FileNotFoundError):
            raise UploadRefused(
                f"{file_name_of(name)}: its upload is not here any more. Choose the file again."
            ) from None
        if not whole:
            raise UploadRefused(f"{file_name_of(name)}: not all of it has come in yet.")
        return Brought(path=self._folder / upload.id, name=name, content=upload.content)

    def done_with(self, upload_id: str) -> None:
        """Forgets an upload whose file was taken."""
        self.drop(self.one(upload_id))

    def _write(self, upload: Upload) -> None:
        aside = self._folder / f"{upload.id}.json.part"
        aside.write_text(json.dumps(asdict(upload)))
        aside.replace(self._folder / f"{upload.id}.json")
