"""A stand-in for a transcription service: `python -m nimble_quote.standins.transcription --port N`.

It answers as `services/transcription.py` says, with the words that the offline recogniser hears. `POST /knobs` makes it slow
(`delay_s` before each work is begun) or failing (`fail_next`: so many requests are answered with 503; `give_up`: works end as
failed; `garble`: words come back as nonsense).
"""

import argparse
import asyncio
import contextlib
import tempfile
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from uuid import uuid4

import uvicorn
from fastapi import FastAPI, HTTPException, Request, Response
from pydantic import BaseModel

from nimble_quote.core.timebase import Span
from nimble_quote.core.transcript.cues import TimedCue
from nimble_quote.media.listening import samples_of
from nimble_quote.media.recogniser import model_folder, recognise

_DAY_MS = 24 * 3600 * 1000


class Knobs(BaseModel):
    """How the service misbehaves."""

    delay_s: float = 0
    fail_next: int = 0
    give_up: bool = False
    garble: bool = False


@dataclass
class _Work:
    state: str = "queued"
    progress: float = 0.0
    problem: str | None = None
    segments: list[dict[str, Any]] = field(default_factory=list)
    task: "asyncio.Task[None] | None" = None


def make_service() -> FastAPI:
    """The service, with no work yet and every knob off."""
    app = FastAPI(title="Transcription stand-in")
    works: dict[str, _Work] = {}
    app.state.knobs = Knobs()

    @app.middleware("http")
    async def misbehave(request: Request, call_next: Any) -> Any:
        if request.url.path != "/knobs" and app.state.knobs.fail_next > 0:
            app.state.knobs.fail_next -= 1
            return Response(status_code=503)
        return await call_next(request)

    @app.post("/knobs")
    async def turn(knobs: Knobs) -> Knobs:
        app.state.knobs = knobs
        return knobs

    @app.post("/transcriptions", status_code=202)
    async def begin(request: Request) -> dict[str, str]:
        name = str(uuid4())
        folder = Path(tempfile.mkdtemp(prefix="transcription-"))
        with (folder / "sound").open("wb") as out:
            async for block in request.stream():
                out.write(block)
        works[name] = _Work()
        works[name].task = asyncio.create_task(_do(works[name], folder, app.state.knobs))
        return {"id": name}

    @app.get("/transcriptions/{name}")
    async def state(name: str) -> dict[str, Any]:
        work = _known(works, name)
        return {"state": work.state, "progress": work.progress, "problem": work.problem}

    @app.get("/transcriptions/{name}/words")
    async def words(name: str) -> Any:
        work = _known(works, name)
        if work.state != "done":
            raise HTTPException(409, "not done yet")
        return "nonsense" if app.state.knobs.garble else {"language": "en", "segments": work.segments}

    @app.delete("/transcriptions/{name}", status_code=204)
    async def drop(name: str) -> None:
        work = works.pop(name, None)
        if work and work.task:
            work.task.cancel()

    return app


def _known(works: dict[str, _Work], name: str) -> _Work:
    if name not in works:
        raise HTTPException(404, "no such work")
    return works[name]


async def _do(work: _Work, folder: Path, knobs: Knobs) -> None:
    with contextlib.suppress(asyncio.CancelledError):
        work.state = "running"
        for step in range(10):
            work.progress = step / 20
            await asyncio.sleep(knobs.delay_s / 10)
        if knobs.give_up:
            work.state, work.problem = "failed", "the sound could not be understood"
            return
        samples = await samples_of(folder / "sound", Span(start_ms=0, end_ms=_DAY_MS))
        cues = await asyncio.to_thread(recognise, samples, model_folder(None), "en")
        work.segments = [_segment(cue) for cue in cues]
        work.state, work.progress = "done", 1.0


def _segment(cue: TimedCue) -> dict[str, Any]:
    words = [
        {
            "word": token.text,
            "start": (token.start_ms or 0) / 1000,
            "end": (token.end_ms or 0) / 1000,
            "probability": token.sure,
        }
        for token in cue.tokens
    ]
    return {"start": (cue.start_ms or 0) / 1000, "end": (cue.end_ms or 0) / 1000, "words": words}


def main() -> None:
    """Serves on loopback."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, default=8321)
    options = parser.parse_args()
    uvicorn.run(make_service(), host="127.0.0.1", port=options.port, log_level="warning")


if __name__ == "__main__":
    main()
