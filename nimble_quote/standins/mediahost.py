"""A stand-in for a host of recordings: `python -m nimble_quote.standins.mediahost --port N FOLDER`.

It serves the files of a folder. `/slow/NAME` sends a little at a time, `/broken/NAME` breaks off half way, `/elsewhere/NAME`
leads to another host, `/page/NAME` says it is a web page, and `/round/NAME` leads back to itself.
"""

import argparse
import asyncio
from collections.abc import AsyncIterator
from pathlib import Path

import uvicorn
from fastapi import FastAPI, HTTPException
from fastapi.responses import FileResponse, HTMLResponse, RedirectResponse, Response, StreamingResponse

_BLOCK = 1 << 15


def make_host(folder: Path) -> FastAPI:
    """The host of a folder's files."""
    app = FastAPI(title="Media host stand-in")

    def known(name: str) -> Path:
        path = folder / name
        if "/" in name or name.startswith(".") or not path.is_file():
            raise HTTPException(404)
        return path

    @app.get("/slow/{name}")
    async def slow(name: str) -> Response:
        path = known(name)
        return StreamingResponse(
            _dripping(path), headers={"content-length": str(path.stat().st_size)}, media_type="video/mp4"
        )

    @app.get("/broken/{name}")
    async def broken(name: str) -> Response:
        data = known(name).read_bytes()
        return StreamingResponse(
            iter([data[: len(data) // 2]]), headers={"content-length": str(len(data))}, media_type="video/mp4"
        )

    @app.get("/elsewhere/{name}")
    async def elsewhere(name: str) -> Response:
        return RedirectResponse(f"http://elsewhere.invalid/{name}")

    @app.get("/round/{name}")
    async def round_and_round(name: str) -> Response:
        return RedirectResponse(f"/round/{name}")

    @app.get("/page/{name}")
    async def page(name: str) -> Response:
        return HTMLResponse("<p>Here you may download it.</p>")

    @app.get("/{name}")
    async def file(name: str) -> Response:
        return FileResponse(known(name))

    return app


async def _dripping(path: Path) -> AsyncIterator[bytes]:
    with path.open("rb") as file:
        while block := file.read(_BLOCK):
            yield block
            await asyncio.sleep(0.2)


def main() -> None:
    """Serves on loopback."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, default=8322)
    parser.add_argument("folder", type=Path)
    options = parser.parse_args()
    uvicorn.run(make_host(options.folder), host="127.0.0.1", port=options.port, log_level="warning")


if __name__ == "__main__":
    main()
