"""Fetching a recording by its web address, from hosts that were allowed and nowhere else."""

import asyncio
import re
import time
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path, PurePosixPath
from urllib.parse import unquote, urljoin, urlsplit

import httpx

from nimble_quote.core.refusal import Refused
from nimble_quote.media.ffmpeg import Progress
from nimble_quote.media.room import Room

LARGEST_BYTES = 20 * 1024**3
MOST_REDIRECTS = 3
_LOOK_EVERY_S = 0.5
_SILENT_S = 30.0
"""A host that sends nothing for so long, or hardly anything, is given up."""
_LEAST_BYTES_S = 1000
_ALL = re.compile(r"bytes \*/(\d{1,15})")
_KINDS = ("video/", "audio/", "application/octet-stream", "application/mp4", "application/ogg")
_NAMED = re.compile(r"filename\*?=(?:UTF-8'')?\"?([^\";]+)", re.IGNORECASE)


class FetchRefused(Refused):
    """An address that can't be fetched; the message says why and what to do."""

    code = "fetch-refused"


@dataclass(frozen=True, kw_only=True)
class Fetched:
    """A file that was fetched, and the name it had there."""

    path: Path
    name: str


def checked(address: str, allowed: frozenset[str]) -> str:
    """An address that may be fetched. Raises `FetchRefused`."""
    try:
        parts = urlsplit(address.strip())
        port = parts.port
    except ValueError as odd:
        raise FetchRefused(f"“{address[:80]}” is not a web address ({odd}).") from odd
    host = (parts.hostname or "").lower()
    if parts.scheme not in ("http", "https") or not host:
        raise FetchRefused(f"“{address[:80]}” is not a web address that begins with http:// or https://.")
    if parts.username or parts.password:
        raise FetchRefused("An address with a name or password in it can't be fetched. Bring the file itself.")
    named = f"{host}:{port}" if port else host
    if named not in allowed:
        known = ", ".join(sorted(allowed)) or "none yet"
        raise FetchRefused(f"{named} is not among the hosts that recordings may be fetched from ({known}).")
    return parts.geturl()


async def fetch(
    address: str,
    allowed: frozenset[str],
    target: Path,
    progress: Progress,
    room: Room,
    transport: httpx.AsyncBaseTransport | None = None,
) -> Fetched:
    """Fetches a file into `target`, going on where an earlier try broke off.

    `progress` is called twice a second, also while nothing comes, so that a slow host can be given up. Redirects are
    followed only to allowed hosts. Raises `FetchRefused`, also where the host is away or breaks off, and `DiskFull`.
    """
    address = checked(address, allowed)
    try:
        async with httpx.AsyncClient(timeout=_SILENT_S, transport=transport, follow_redirects=False) as client:
            return await _watched(_Fetching(client, address, allowed, target, room), progress)
    except httpx.HTTPError as away:
        raise FetchRefused(
            f"{urlsplit(address).netloc} could not be read: {away or type(away).__name__}. Try again."
        ) from away


async def _watched(fetching: "_Fetching", progress: Progress) -> Fetched:
    """Has it fetched, telling how far it is, and gives it up where `progress` raises or hardly anything comes."""
    task = asyncio.create_task(fetching.run())
    came, since = 0, time.monotonic()
    try:
        while not (await asyncio.wait([task], timeout=_LOOK_EVERY_S))[0]:
            await progress(fetching.part)
            if time.monotonic() - since > _SILENT_S:
                if fetching.came - came < _LEAST_BYTES_S * _SILENT_S:
                    raise FetchRefused(
                        "The host is sending almost nothing. Try again later; the download continues where it stopped."
                    )
                came, since = fetching.came, time.monotonic()
        return task.result()
    finally:
        task.cancel()
        await asyncio.gather(task, return_exceptions=True)


@dataclass
class _Fetching:
    """A fetch: where it is going on, and how much of the file is here."""

    client: httpx.AsyncClient
    address: str
    allowed: frozenset[str]
    target: Path
    room: Room
    have: int = 0
    whole: int | None = None
    came: int = 0
    """What came since it was begun."""

    @property
    def part(self) -> float:
        return min(1.0, self.have / self.whole) if self.whole else 0.0

    async def run(self) -> Fetched:
        for _ in range(MOST_REDIRECTS + 1):
            self.have = self.target.stat().st_size if self.target.exists() else 0
            headers = {"Accept-Encoding": "identity", **({"Range": f"bytes={self.have}-"} if self.have else {})}
            async with self.client.stream("GET", self.address, headers=headers) as answer:
                if answer.is_redirect:
                    self.address = checked(urljoin(self.address, answer.headers.get("location", "")), self.allowed)
                    continue
                if answer.status_code == 416 and self.have and not self._is_whole(answer):
                    # What is here is of another file than the one that is there now.
                    self.target.unlink()
                    continue
                if answer.status_code != 416 or not self.have:
                    await self._receive(answer)
                return Fetched(path=self.target, name=_name(self.address, answer.headers))
        raise FetchRefused("The address leads from one place to another without end.")

    def _is_whole(self, answer: httpx.Response) -> bool:
        """Whether a host that has nothing after what is here says that this is all there is."""
        told = _ALL.fullmatch(answer.headers.get("content-range", ""))
        return told is None or int(told[1]) == self.have

    async def _receive(self, answer: httpx.Response) -> None:
        _refuse_other(answer)
        self.have = self.have if answer.status_code == 206 else 0
        length = answer.headers.get("content-length", "")
        self.whole = self.have + int(length) if length.isdigit() and len(length) < 16 else None
        if self.whole is not None and self.whole > LARGEST_BYTES:
            raise FetchRefused(
                f"The file is {self.whole / 1e9:.0f} GB; more than {LARGEST_BYTES // 1024**3} GB can't be fetched."
            )
        self.room.require((self.whole or self.have) - self.have)
        with self.target.open("ab" if self.have else "wb") as out:
            # As the pieces come, however small: what was gathered for a larger one would be lost at a break.
            async for piece in answer.aiter_raw():
                self.have += len(piece)
                self.came += len(piece)
                if self.have > LARGEST_BYTES:
                    raise FetchRefused(f"The file is over {LARGEST_BYTES // 1024**3} GB.")
                out.write(piece)
        if self.whole is not None and self.have < self.whole:
            raise FetchRefused("The host broke off before the file was whole. Try again; it goes on from there.")


def _refuse_other(answer: httpx.Response) -> None:
    if not answer.is_success:
        raise FetchRefused(f"{answer.url.host} answered {answer.status_code}. Check the address.")
    kind = answer.headers.get("content-type", "application/octet-stream").split(";")[0].strip().lower()
    if not kind.startswith(_KINDS):
        raise FetchRefused(
            f"What is there is “{kind[:60]}”, not a video or sound file. Find the address of the file itself."
        )
    if answer.headers.get("content-encoding", "identity") != "identity":
        raise FetchRefused(
            "The host sends the file compressed, which can't be used. Download it yourself and bring in the file."
        )


def _name(address: str, headers: Mapping[str, str]) -> str:
    """The name that the host gives the file, or else the last part of its address."""
    told = _NAMED.search(headers.get("content-disposition", ""))
    name = unquote(told[1]) if told else unquote(PurePosixPath(urlsplit(address).path).name)
    return name[-200:] or "recording"
