"""A transcription service over HTTP: a sound file goes there, timed words come back.

POST   /transcriptions              the sound as the body     -> 202 {"id": "…"}
GET    /transcriptions/{id}         -> {"state": "queued" | "running" | "done" | "failed", "progress": 0..1, "problem": …}
GET    /transcriptions/{id}/words   -> the JSON of segments that recognisers write (see `formats.reading.recogniser`)
DELETE /transcriptions/{id}         it is wanted no more
"""

import asyncio
from collections.abc import AsyncIterator, Awaitable, Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import httpx

from nimble_quote.core.transcript.cues import Reading
from nimble_quote.formats.transcripts import TranscriptUnreadable, read_transcript
from nimble_quote.media.ffmpeg import Progress

TRIES = 5
_LARGEST_ANSWER = 20_000_000
_BLOCK = 1 << 20


class ServiceFailed(RuntimeError):
    """A service could not be used; the message says what happened and what to do."""


@dataclass(frozen=True, kw_only=True)
class TranscriptionService:
    """The service at an address. `wait_s` is the first wait between tries and polls; tests shorten it."""

    url: str
    key: str = ""
    wait_s: float = 1.0
    timeout_s: float = 30.0
    transport: httpx.AsyncBaseTransport | None = field(default=None, repr=False)

    async def begin(self, sound: Path) -> str:
        """Sends a sound file; the id that the service gives the work. Raises `ServiceFailed`."""

        async def send(client: httpx.AsyncClient) -> httpx.Response:
            headers = {"Content-Type": "audio/mp4", "Content-Length": str(sound.stat().st_size)}
            return await client.post("/transcriptions", content=_body(sound), headers=headers)

        told = _json(await self._tried(send))
        if not isinstance(told.get("id"), str) or not told["id"].replace("-", "").isalnum():
            raise ServiceFailed("The transcription service answered without an id for the work.")
        return str(told["id"])

    async def follow(self, work: str, progress: Progress) -> Reading:
        """Waits until work is done, and reads its words. Cancelled, it tells the service to stop."""
        try:
            while True:
                told = _json(await self._tried(lambda client: client.get(f"/transcriptions/{work}")))
                if told.get("state") == "failed":
                    raise ServiceFailed(f"The transcription service gave up: {str(told.get('problem'))[:200]}")
                if told.get("state") == "done":
                    break
                part = told.get("progress")
                await progress(min(1.0, max(0.0, float(part))) if isinstance(part, int | float) else 0.0)
                await asyncio.sleep(self.wait_s)
        except BaseException as ended:
            if not isinstance(ended, ServiceFailed):
                await self._drop(work)
            raise
        answer = await self._tried(lambda client: client.get(f"/transcriptions/{work}/words"))
        try:
            return read_transcript("words.json", answer.content)
        except TranscriptUnreadable as odd:
            raise ServiceFailed(f"The transcription service sent words that can't be read ({odd}).") from odd

    async def _drop(self, work: str) -> None:
        try:
            async with self._client() as client:
                await client.delete(f"/transcriptions/{work}")
        except httpx.HTTPError:
            return

    async def _tried(self, call: Callable[[httpx.AsyncClient], Awaitable[httpx.Response]]) -> httpx.Response:
        """The answer of a call, which is tried again where the service is away or busy, with growing waits."""
        problem = ""
        for number in range(TRIES):
            if number:
                await asyncio.sleep(self.wait_s * 2 ** (number - 1))
            try:
                async with self._client() as client:
                    answer = await call(client)
            except httpx.HTTPError as away:
                problem = str(away) or type(away).__name__
                continue
            if answer.status_code in (429, 500, 502, 503, 504):
                problem = f"it answered {answer.status_code}"
                continue
            if answer.status_code in (401, 403):
                raise ServiceFailed("The transcription service refused the key. Check NIMBLE_QUOTE_TRANSCRIPTION_KEY.")
            if not answer.is_success:
                raise ServiceFailed(f"The transcription service refused the work ({answer.status_code}).")
            if len(answer.content) > _LARGEST_ANSWER:
                raise ServiceFailed("The transcription service sent more than any transcript holds.")
            return answer
        raise ServiceFailed(
            f"The transcription service at {self.url} could not be reached: {problem}. Try again later."
        )

    def _client(self) -> httpx.AsyncClient:
        headers = {"Authorization": f"Bearer {self.key}"} if self.key else {}
        return httpx.AsyncClient(base_url=self.url, timeout=self.timeout_s, headers=headers, transport=self.transport)


def _json(answer: httpx.Response) -> dict[str, Any]:
    try:
        told = answer.json()
    except ValueError:
        told = None
    if not isinstance(told, dict):
        raise ServiceFailed("The transcription service sent an answer that is no JSON object.")
    return told


async def _body(sound: Path) -> AsyncIterator[bytes]:
    with sound.open("rb") as file:
        while block := await asyncio.to_thread(file.read, _BLOCK):
            yield block
