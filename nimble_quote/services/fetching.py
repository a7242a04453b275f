"""Fetching a recording by its web address, from hosts that were allowed and nowhere else."""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path, PurePosixPath
from urllib.parse import unquote, urljoin, urlsplit

import httpx

from nimble_quote.media.ffmpeg import Progress

LARGEST_BYTES = 20 * 1024**3
MOST_REDIRECTS = 3
_KINDS = ("video/", "audio/", "application/octet-stream", "application/mp4", "application/ogg")
_NAMED = re.compile(r"filename\*?=(?:UTF-8'')?\"?([^\";]+)", re.IGNORECASE)


class FetchRefused(ValueError):
    """An address that can't be fetched; the message says why and what to do."""


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
    transport: httpx.AsyncBaseTransport | None = None,
) -> Fetched:
    """Fetches a file into `target`, going on where an earlier try broke off.

    Redirects are followed only to allowed hosts. Raises `FetchRefused`, also where the host is away or breaks off.
    """
    address = checked(address, allowed)
    try:
        async with httpx.AsyncClient(timeout=30, transport=transport, follow_redirects=False) as client:
            for _ in range(MOST_REDIRECTS + 1):
                have = target.stat().st_size if target.exists() else 0
                headers = {"Range": f"bytes={have}-"} if have else {}
                async with client.stream("GET", address, headers=headers) as answer:
                    if answer.is_redirect:
                        address = checked(urljoin(address, answer.headers.get("location", "")), allowed)
                        continue
                    await _receive(answer, target, have, progress)
                    return Fetched(path=target, name=_name(address, answer.headers))
    except httpx.HTTPError as away:
        raise FetchRefused(
            f"{urlsplit(address).netloc} could not be read: {away or type(away).__name__}. Try again."
        ) from away
    raise FetchRefused("The address leads from one place to another without end.")


async def _receive(answer: httpx.Response, target: Path, have: int, progress: Progress) -> None:
    if answer.status_code == 416:
        return
    if not answer.is_success:
        raise FetchRefused(f"{answer.url.host} answered {answer.status_code}. Check the address.")
    kind = answer.headers.get("content-type", "application/octet-stream").split(";")[0].strip().lower()
    if not kind.startswith(_KINDS):
        raise FetchRefused(
            f"What is there is “{kind[:60]}”, not a video or sound file. Find the address of the file itself."
        )
    start = have if answer.status_code == 206 else 0
    length = answer.headers.get("content-length", "")
    whole = start + int(length) if length.isdigit() else None
    if whole is not None and whole > LARGEST_BYTES:
        raise FetchRefused(
            f"The file is {whole / 1e9:.0f} GB; more than {LARGEST_BYTES // 1024**3} GB can't be fetched."
        )
    with target.open("ab" if start else "wb") as out:
        async for block in answer.aiter_bytes(1 << 18):
            start += len(block)
            if start > LARGEST_BYTES:
                raise FetchRefused(f"The file is over {LARGEST_BYTES // 1024**3} GB.")
            out.write(block)
            await progress(start / whole if whole else 0.0)
    if whole is not None and start < whole:
        raise FetchRefused("The host broke off before the file was whole. Try again; it goes on from there.")


def _name(address: str, headers: Mapping[str, str]) -> str:
    """The name that the host gives the file, or else the last part of its address."""
    told = _NAMED.search(headers.get("content-disposition", ""))
    name = unquote(told[1]) if told else unquote(PurePosixPath(urlsplit(address).path).name)
    return name[-200:] or "recording"
