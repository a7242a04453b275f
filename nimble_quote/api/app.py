"""The application: routes, guards, and the built front end."""

import asyncio
import contextlib
import gc
from collections.abc import AsyncIterator
from pathlib import Path
from typing import Any

from fastapi import FastAPI, Request
from fastapi.responses import FileResponse, Response
from fastapi.staticfiles import StaticFiles
from starlette.routing import Match
from starlette.types import Scope

from nimble_quote.api.changes import Changes
from nimble_quote.api.contrasts import Contrasts
from nimble_quote.api.covering import Covers
from nimble_quote.api.doors import PhoneDoor
from nimble_quote.api.finding import Finders
from nimble_quote.api.guard import Guard
from nimble_quote.api.meanings import Meanings
from nimble_quote.api.phones import phone_pages
from nimble_quote.api.problems import install_problems, problem, with_problems
from nimble_quote.api.routes import (
    approvals,
    captions,
    corrections,
    covers,
    exchange,
    find,
    finishes,
    framing,
    history,
    house,
    intake,
    outbox,
    packages,
    phones,
    pictures,
    posting,
    programs,
    search,
    shelf,
    shortlist,
    soundbites,
    sounds,
    styles,
    trimming,
    work,
    workbench,
)
from nimble_quote.api.searching import Library
from nimble_quote.api.sounding import Sounds
from nimble_quote.api.state import ServerState
from nimble_quote.api.tokens import Tokens
from nimble_quote.api.uploads import Uploads
from nimble_quote.media.files import MediaRoot
from nimble_quote.media.room import Room
from nimble_quote.processes import computing_in
from nimble_quote.services.thesaurus import Thesaurus
from nimble_quote.settings import Settings
from nimble_quote.store import house_posting
from nimble_quote.store.contexts import Contexts
from nimble_quote.store.database import Pool, open_pool


def make_app(settings: Settings) -> FastAPI:
    """The application for some settings."""

    @contextlib.asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        media = MediaRoot(settings.media_root, settings.reserve_bytes)
        media.prepare()
        async with open_pool(settings.database_url) as pool, computing_in(1) as computing:
            changes = Changes(settings.database_url, pool)
            app.state.server = ServerState(
                settings=settings, pool=pool, media=media, changes=changes,
                uploads=Uploads(media.folder / "uploads", media.room), library=Library(Thesaurus(settings.thesaurus), Meanings(on=settings.search_by_meaning)),
                finders=Finders(media), contexts=Contexts(media, settings.fonts.resolve()), sounds=Sounds(), contrasts=Contrasts(media), covers=Covers(media, settings.face_mesh), computing=computing,
                phones=PhoneDoor(settings, lambda: _phones_wanted(pool), lambda: phone_pages(app.state.server)),
            )  # fmt: skip
            beside = [
                asyncio.create_task(one)
                for one in (changes.run(), app.state.server.library.meanings.warm(pool), app.state.server.phones.run())
            ]
            _leave_what_stays()
            yield
            for task in beside:
                task.cancel()
            await asyncio.gather(*beside, return_exceptions=True)

    app = FastAPI(
        title="Nimble Quote", lifespan=lifespan, generate_unique_id_function=lambda route: route.name, docs_url=None,
        redoc_url=None, openapi_url="/api/openapi.json",
    )  # fmt: skip
    app.add_middleware(Tokens)
    app.add_middleware(Guard, port=settings.port, public=settings.public_host, pages=approvals.PAGES)
    install_problems(app, Room(folder=settings.media_root, reserve_bytes=settings.reserve_bytes))
    for module in (
        shelf,
        intake,
        work,
        corrections,
        pictures,
        find,
        soundbites,
        shortlist,
        search,
        workbench,
        framing,
        trimming,
        history,
        approvals,
        posting,
        phones,
        programs,
        exchange,
        packages,
        outbox,
        captions,
        styles,
        finishes,
        covers,
        sounds,
        house,
    ):
        app.include_router(module.router)
    _describe_problems(app)
    _serve_front_end(app, settings.web_build)
    return app


async def _phones_wanted(pool: Pool) -> bool:
    async with pool.connection() as conn:
        return (await house_posting.now(conn)).phones


def _describe_problems(app: FastAPI) -> None:
    describe = app.openapi

    def described() -> dict[str, Any]:
        return app.openapi_schema if app.openapi_schema else with_problems(describe())

    app.openapi = described  # type: ignore[method-assign]


def _leave_what_stays() -> None:
    """Has the collector leave alone all that lives as long as the server, and look less often at the rest: looking
    through everything takes longer than most answers."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 20, 50)


def _methods_at(app: FastAPI, scope: Scope) -> list[str]:
    """The methods that routes of an address take, where it is one of the API."""
    methods = ("GET", "POST", "PUT", "PATCH", "DELETE")
    routes = [route for route in app.routes if getattr(route, "name", "") != "page"]
    return [one for one in methods if any(r.matches({**scope, "method": one})[0] is Match.FULL for r in routes)]


def _serve_front_end(app: FastAPI, build: Path) -> None:
    if (build / "_app").is_dir():
        app.mount("/_app", StaticFiles(directory=build / "_app"))
    if (build / "fonts").is_dir():
        app.mount("/fonts", StaticFiles(directory=build / "fonts"))

    @app.get("/{path:path}", include_in_schema=False)
    async def page(path: str, request: Request) -> Response:
        """The one page of the front end, which reads the address itself; unknown API paths are no pages."""
        if path.startswith("api/"):
            allowed = _methods_at(app, request.scope)
            if allowed:
                return problem(405, f"This address takes {' or '.join(allowed)} only.", {"allow": ", ".join(allowed)})
            return problem(404, "There is no such address.")
        if path == "favicon.svg":
            return FileResponse(build / "favicon.svg")
        return FileResponse(build / "index.html", headers={"cache-control": "no-cache"})
