"""A stand-in for a service that clips are posted to: `python -m nimble_quote.standins.posting --port N FOLDER`.

It keeps what it is given in FOLDER, and has it after it was killed. `PUT /faults` has it be slow, fail, lose answers after the work
was done, turn callers away for a while, or forget the tokens it gave. `GET /` shows what was posted.
"""

import argparse
import asyncio
import base64
import hashlib
import html
import json
import random
import secrets
import sqlite3
import time
from pathlib import Path
from typing import Any
from urllib.parse import parse_qsl, urlencode, urlsplit

import uvicorn
from fastapi import FastAPI, HTTPException, Request
from fastapi.responses import FileResponse, HTMLResponse, JSONResponse, RedirectResponse, Response
from pydantic import BaseModel, Field

from nimble_quote.core.document.posting import PostText
from nimble_quote.core.posting.checking import text_faults
from nimble_quote.core.posting.counting import TextLimits

_TABLES = """
    create table if not exists code (code text primary key, challenge text, back text, account text, until real);
    create table if not exists token (token text primary key, kind text, account text, until real);
    create table if not exists post (id text primary key, key text unique, account text, body text, state text, shown_at real,
        published integer not null default 0);
"""
LIMITS = TextLimits(title=100, description=1500, tags=8, alt=800, link_length=24)
NAME, LARGEST_MB, LONGEST_MS = "The Lantern Board", 400, 180_000
_PROCESSING_S = 0.5
_TOKEN_S = 3600.0


class Faults(BaseModel):
    """What goes wrong, until it is set otherwise: `slow_s` before each answer; parts (0..1) of requests that fail, and of answers that are
    lost after the work was done; for how many requests, and seconds, callers are turned away; how long tokens are good."""

    slow_s: float = Field(default=0, ge=0, le=60)
    fail: float = Field(default=0, ge=0, le=1)
    lose: float = Field(default=0, ge=0, le=1)
    limited: int = Field(default=0, ge=0, le=1000)
    retry_after_s: int = Field(default=2, ge=0, le=3600)
    token_s: float = Field(default=_TOKEN_S, ge=0, le=_TOKEN_S)


class Wanted(PostText):
    """A post as it is asked for."""

    visibility: str
    bytes: int = Field(gt=0)
    length_ms: int = Field(gt=0)


class Board:
    """What the service keeps: accounts signed in, posts, and their files."""

    def __init__(self, folder: Path) -> None:
        folder.mkdir(parents=True, exist_ok=True)
        self.folder = folder
        self.db = sqlite3.connect(folder / "board.sqlite", isolation_level=None, check_same_thread=False)
        self.db.executescript(_TABLES)
        self.faults = Faults()

    def row(self, sql: str, *values: Any) -> tuple[Any, ...] | None:
        found: tuple[Any, ...] | None = self.db.execute(sql, values).fetchone()
        return found

    def new_tokens(self, account: str) -> dict[str, Any]:
        """A pair of tokens; the second is good until the first pair after it is asked for."""
        access, refresh = secrets.token_urlsafe(24), secrets.token_urlsafe(24)
        until = time.time() + self.faults.token_s
        self.db.execute("insert into token values (?, 'access', ?, ?), (?, 'refresh', ?, ?)",
                        [access, account, until, refresh, account, time.time() + 1e9])  # fmt: skip
        return {
            "access_token": access,
            "refresh_token": refresh,
            "token_type": "Bearer",
            "expires_in": self.faults.token_s,
        }

    def file(self, post_id: str) -> Path:
        return self.folder / f"{post_id}.mp4"

    def have(self, post_id: str) -> int:
        path = self.file(post_id)
        return path.stat().st_size if path.exists() else 0

    def view(self, row: tuple[Any, ...]) -> dict[str, Any]:
        """A post as the API tells it; (id, state, shown_at)."""
        post_id, state, shown_at = row
        if state == "processing" and time.time() > shown_at:
            state = "published"
        return {"id": post_id, "state": state, "upload": f"/v1/uploads/{post_id}",
                "address": f"/p/{post_id}" if state == "published" else None}  # fmt: skip


def make_board(folder: Path) -> FastAPI:
    """The service, with what is in a folder."""
    board = Board(folder)
    app = FastAPI(title=f"{NAME} (stand-in)")
    app.state.board = board
    _fail_on_demand(app, board)
    _sign_in(app, board)
    _posts(app, board)
    _uploads(app, board)
    _pages(app, board)
    return app


def _fail_on_demand(app: FastAPI, board: Board) -> None:
    @app.middleware("http")
    async def troubled(request: Request, call_next: Any) -> Response:
        if not request.url.path.startswith(("/v1/", "/oauth/token")):
            return await call_next(request)  # type: ignore[no-any-return]
        await asyncio.sleep(board.faults.slow_s)
        if board.faults.limited:
            board.faults.limited -= 1
            return JSONResponse({"detail": "Too many requests."}, 429, {"retry-after": str(board.faults.retry_after_s)})
        if random.random() < board.faults.fail:  # noqa: S311
            return JSONResponse({"detail": "Something went wrong."}, 500)
        answer: Response = await call_next(request)
        if random.random() < board.faults.lose:  # noqa: S311
            return JSONResponse({"detail": "The answer was lost."}, 502)
        return answer

    @app.put("/faults")
    async def set_faults(faults: Faults, signed_out: bool = False) -> Faults:
        """Sets what goes wrong; `signed_out` forgets every token that was given."""
        board.faults = faults
        if signed_out:
            board.db.execute("delete from token")
        return faults


def _sign_in(app: FastAPI, board: Board) -> None:
    @app.get("/oauth/authorize")
    async def ask(request: Request) -> Response:
        asked = request.query_params
        if (
            asked.get("response_type") != "code"
            or asked.get("code_challenge_method") != "S256"
            or not asked.get("code_challenge")
        ):
            raise HTTPException(400, "This sign-in is not asked for as it has to be.")
        _check_back(asked.get("redirect_uri", ""))
        hidden = "".join(
            f'<input type="hidden" name="{html.escape(name)}" value="{html.escape(value)}">'
            for name, value in asked.items()
        )
        page = f"""<!doctype html><meta charset="utf-8"><title>{NAME}</title><style>body{{font:17px/26px sans-serif;max-width:30em;margin:4em auto}}
            button{{font:inherit;padding:.4em 1em;margin-right:1em}}</style><h1>{NAME}</h1>
            <p>May <b>{html.escape(asked.get("client_id", ""))}</b> post clips in your name?</p>
            <form method="post">{hidden}<p><label>Account <input name="account" value="Kestrel House" required maxlength="60"></label></p>
            <button name="allow" value="yes">Allow</button><button name="allow" value="no">Refuse</button></form>"""
        return HTMLResponse(page)

    @app.post("/oauth/authorize")
    async def answer(request: Request) -> Response:
        said = await _form(request)
        back = _check_back(said.get("redirect_uri", ""))
        if said.get("allow") != "yes":
            return RedirectResponse(
                f"{back}?{urlencode({'error': 'access_denied', 'state': said.get('state', '')})}", 303
            )
        code = secrets.token_urlsafe(24)
        board.db.execute("insert into code values (?, ?, ?, ?, ?)",
                         [code, said["code_challenge"], back, said.get("account", "")[:60] or "Kestrel House", time.time() + 60])  # fmt: skip
        return RedirectResponse(f"{back}?{urlencode({'code': code, 'state': said.get('state', '')})}", 303)

    @app.post("/oauth/token")
    async def token(request: Request) -> Response:
        form = await _form(request)
        if form.get("grant_type") == "refresh_token":
            known = board.row(
                "select account from token where token = ? and kind = 'refresh'", form.get("refresh_token")
            )
            if known is None:
                return JSONResponse({"error": "invalid_grant", "detail": "This refresh token is not known."}, 400)
            return JSONResponse(board.new_tokens(known[0]))
        found = board.row("delete from code where code = ? returning challenge, back, account, until", form.get("code"))
        digest = hashlib.sha256(form.get("code_verifier", "").encode()).digest()
        proof = base64.urlsafe_b64encode(digest).rstrip(b"=").decode()
        if found is None or found[0] != proof or found[1] != form.get("redirect_uri") or found[3] < time.time():
            return JSONResponse({"error": "invalid_grant", "detail": "This code is not known."}, 400)
        return JSONResponse(board.new_tokens(found[2]))


async def _form(request: Request) -> dict[str, str]:
    return dict(parse_qsl((await request.body()).decode()))


def _check_back(back: str) -> str:
    parts = urlsplit(back)
    if parts.hostname not in ("127.0.0.1", "localhost") or parts.query:
        raise HTTPException(400, "This is not where callers may be sent back to.")
    return back


def _account(board: Board, request: Request) -> str:
    token = request.headers.get("authorization", "").removeprefix("Bearer ")
    found = board.row("select account from token where token = ? and kind = 'access' and until > ?", token, time.time())
    if found is None:
        raise HTTPException(401, "This token is not known.")
    return str(found[0])


def _posts(app: FastAPI, board: Board) -> None:
    chosen = "select id, state, shown_at from post where account = ? and "

    @app.get("/v1/service")
    async def service() -> dict[str, Any]:
        return {"name": NAME, "limits": LIMITS.model_dump(), "largest_mb": LARGEST_MB, "longest_ms": LONGEST_MS}

    @app.get("/v1/account")
    async def account(request: Request) -> dict[str, str]:
        name = _account(board, request)
        return {"id": hashlib.sha256(name.encode()).hexdigest()[:12], "name": name}

    @app.post("/v1/posts", status_code=201)
    async def begin(wanted: Wanted, request: Request) -> dict[str, Any]:
        account, key = _account(board, request), request.headers.get("idempotency-key", "")
        if not key:
            raise HTTPException(400, "An Idempotency-Key is wanted.")
        body = wanted.model_dump_json()
        known = board.row("select id, state, shown_at, body from post where key = ?", key)
        if known is not None:
            if known[3] != body:
                raise HTTPException(422, "This key was used for another post.")
            return board.view(known[:3])
        _refuse_beyond_limits(wanted)
        post_id = secrets.token_hex(6)
        board.db.execute(
            "insert into post (id, key, account, body, state, shown_at) values (?, ?, ?, ?, 'waiting', 0)",
            [post_id, key, account, body],
        )
        return board.view((post_id, "waiting", 0))

    @app.get("/v1/posts")
    async def by_key(key: str, request: Request) -> list[dict[str, Any]]:
        found = board.row(chosen + "key = ?", _account(board, request), key)
        return [board.view(found)] if found else []

    @app.get("/v1/posts/{post_id}")
    async def one(post_id: str, request: Request) -> dict[str, Any]:
        return board.view(known(post_id, request))

    @app.put("/v1/posts/{post_id}/published")
    async def publish(post_id: str, request: Request) -> dict[str, Any]:
        row = known(post_id, request)
        if row[1] == "waiting":
            body = json.loads((board.row("select body from post where id = ?", post_id) or ("{}",))[0])
            if board.have(post_id) != body["bytes"]:
                raise HTTPException(422, "The file is not whole yet.")
            board.db.execute("update post set state = 'processing', shown_at = ?, published = published + 1 where id = ? and state = 'waiting'",
                             [time.time() + _PROCESSING_S, post_id])  # fmt: skip
        return board.view(known(post_id, request))

    @app.delete("/v1/posts/{post_id}", status_code=204)
    async def delete(post_id: str, request: Request) -> None:
        known(post_id, request)
        board.db.execute("delete from post where id = ?", [post_id])
        board.file(post_id).unlink(missing_ok=True)

    def known(post_id: str, request: Request) -> tuple[Any, ...]:
        found = board.row(chosen + "id = ?", _account(board, request), post_id)
        if found is None:
            raise HTTPException(404, "There is no such post.")
        return found


def _refuse_beyond_limits(wanted: Wanted) -> None:
    faults = text_faults(wanted, LIMITS, NAME)
    if wanted.bytes > LARGEST_MB * 1_000_000:
        faults.append(f"The file is larger than {LARGEST_MB} MB.")
    if wanted.length_ms > LONGEST_MS:
        faults.append(f"The clip is longer than {LONGEST_MS // 1000} s.")
    if wanted.visibility not in ("public", "unlisted", "private"):
        faults.append("There is no such visibility.")
    if faults:
        raise HTTPException(422, " ".join(faults))


def _uploads(app: FastAPI, board: Board) -> None:
    @app.head("/v1/uploads/{post_id}")
    async def offset(post_id: str, request: Request) -> Response:
        _account(board, request)
        if board.row("select id from post where id = ?", post_id) is None:
            raise HTTPException(404)
        return Response(headers={"upload-offset": str(board.have(post_id)), "tus-resumable": "1.0.0"})

    @app.patch("/v1/uploads/{post_id}")
    async def piece(post_id: str, request: Request) -> Response:
        _account(board, request)
        if board.row("select id from post where id = ? and state = 'waiting'", post_id) is None:
            raise HTTPException(404)
        sent = await request.body()
        if request.headers.get("upload-offset") != str(board.have(post_id)):
            raise HTTPException(409, "The file is not there that far, or farther.")
        with board.file(post_id).open("ab") as file:
            file.write(sent)
        return Response(status_code=204, headers={"upload-offset": str(board.have(post_id)), "tus-resumable": "1.0.0"})


def _pages(app: FastAPI, board: Board) -> None:
    head = f"<!doctype html><meta charset=utf-8><title>{NAME}</title><style>body{{font:17px/26px sans-serif;max-width:34em;margin:2em auto}}video{{max-height:70vh}}p{{white-space:pre-wrap}}</style>"

    def shown(post_id: str) -> str:
        found = board.row("select account, body from post where id = ? and state = 'processing'", post_id)
        if found is None:
            raise HTTPException(404)
        body = json.loads(found[1])
        return (
            f'<h2><a href="/p/{html.escape(post_id)}">{html.escape(body["title"])}</a></h2><video controls src="/p/{html.escape(post_id)}/clip"></video>'
            f"<p>{html.escape(body['description'])}</p><p>{html.escape(found[0])}</p>"
        )

    @app.get("/")
    async def wall() -> Response:
        ids = [
            row[0]
            for row in board.db.execute(
                "select id from post where state = 'processing' order by shown_at desc limit 50"
            )
        ]
        return HTMLResponse(
            head + f"<h1>{NAME}</h1>" + ("".join(shown(one) for one in ids) or "<p>Nothing was posted yet.</p>")
        )

    @app.get("/p/{post_id}")
    async def page(post_id: str) -> Response:
        return HTMLResponse(head + shown(post_id))

    @app.get("/p/{post_id}/clip")
    async def clip(post_id: str) -> Response:
        shown(post_id)
        return FileResponse(board.file(post_id), media_type="video/mp4")


def main() -> None:
    """Serves on loopback."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, default=8323)
    parser.add_argument("folder", type=Path)
    options = parser.parse_args()
    uvicorn.run(make_board(options.folder), host="127.0.0.1", port=options.port, log_level="warning")


if __name__ == "__main__":
    main()
