"""A service that clips are posted to, as a small port. What it must speak:

    GET  /v1/service                     what it is called, and the limits of what it takes
    GET  /oauth/authorize, POST /oauth/token    OAuth 2.0, code flow with PKCE (RFC 6749, RFC 7636), refresh tokens
    GET  /v1/account                     whose account a token is of
    POST /v1/posts                       a post, with an Idempotency-Key: asked for again it is the same one
    GET  /v1/posts?key=                  the posts of a key
    HEAD, PATCH of a post's `upload`     its file, in pieces (tus 1.0.0)
    PUT  /v1/posts/{id}/published        shows it, however often it is asked
    GET, DELETE /v1/posts/{id}           how it stands; takes it away

Another service gets a module of its own that offers what `PostingService` does.
"""

import asyncio
import base64
import hashlib
import secrets
from collections.abc import Awaitable, Callable
from datetime import UTC, datetime
from email.utils import parsedate_to_datetime
from pathlib import Path
from typing import Any, Literal, TypeVar
from urllib.parse import urlencode, urljoin, urlsplit
from uuid import UUID

import httpx
from pydantic import BaseModel, ValidationError

from nimble_quote.core.document.posting import PostText
from nimble_quote.core.posting.counting import TextLimits
from nimble_quote.core.refusal import Busy, Refused

CLIENT = "nimble-quote"
PIECE = 4 << 20
"""Bytes of a file that are sent in one request."""
_WAITS_S = 30.0
_LONGEST_WAIT_S = 6 * 3600.0
M = TypeVar("M", bound=BaseModel)
Visibility = Literal["public", "unlisted", "private"]


class PostingRefused(Refused):
    """The service takes it not, and would not if it were asked again."""

    code = "posting-refused"


class SignedOut(Refused):
    """The service knows the house's sign-in no more."""

    code = "signed-out"


class TokenExpired(Refused):
    """The token is good no more; a fresh one may be had."""

    code = "token-expired"


class PostingAway(Busy):
    """The service can't be reached, is busy, or its answer was lost: whether it did what was asked is not known.
    `after_s` is how long it wants to be left alone."""

    code = "posting-away"

    def __init__(self, message: str, after_s: float | None = None) -> None:
        super().__init__(message)
        self.after_s = after_s


class ServiceView(BaseModel):
    """What a service is called, and what it takes."""

    name: str
    limits: TextLimits
    largest_mb: int
    longest_ms: int


class Tokens(BaseModel):
    """The tokens of an account, and when the first is good no more (seconds since 1970)."""

    access_token: str
    refresh_token: str
    expires_at: float


class Account(BaseModel):
    """Whose account it is."""

    id: str
    name: str


class RemotePost(BaseModel):
    """A post as it stands with the service. `upload` is where its file is sent; `reason` why it was refused."""

    id: str
    state: Literal["waiting", "processing", "published", "refused"]
    upload: str
    address: str | None = None
    reason: str | None = None


class _TokenAnswer(BaseModel):
    access_token: str
    refresh_token: str
    expires_in: float


def new_verifier() -> str:
    """A code verifier (RFC 7636, 4.1)."""
    return secrets.token_urlsafe(48)


def challenge_of(verifier: str) -> str:
    """The S256 challenge of a verifier (RFC 7636, 4.2)."""
    return base64.urlsafe_b64encode(hashlib.sha256(verifier.encode()).digest()).rstrip(b"=").decode()


class PostingService:
    """A service at an address. Every call raises `PostingAway`, `PostingRefused` or `TokenExpired`."""

    def __init__(self, address: str, transport: httpx.AsyncBaseTransport | None = None) -> None:
        self.address = address.rstrip("/")
        self._transport = transport

    def sign_in_address(self, back: str, state: str, verifier: str) -> str:
        """Where a person lets us use an account, and is sent `back` from with a code."""
        asked = {
            "response_type": "code", "client_id": CLIENT, "redirect_uri": back, "state": state, "scope": "post",
            "code_challenge": challenge_of(verifier), "code_challenge_method": "S256",
        }  # fmt: skip
        return f"{self.address}/oauth/authorize?{urlencode(asked)}"

    async def described(self) -> ServiceView:
        """What the service is, and takes."""
        return await self._asked(ServiceView, "GET", "/v1/service")

    async def exchanged(self, code: str, verifier: str, back: str) -> Tokens:
        """The tokens for a code that a sign-in came back with."""
        return await self._tokens(
            grant_type="authorization_code", code=code, code_verifier=verifier, redirect_uri=back, client_id=CLIENT
        )

    async def refreshed(self, refresh_token: str) -> Tokens:
        """Fresh tokens. Raises `SignedOut` where the service gives none."""
        try:
            return await self._tokens(grant_type="refresh_token", refresh_token=refresh_token, client_id=CLIENT)
        except PostingRefused as refused:
            raise SignedOut(
                f"{urlsplit(self.address).netloc} has signed this account out. Connect it again in House, under Posting."
            ) from refused

    async def account(self, token: str) -> Account:
        """Whose account a token is of."""
        return await self._asked(Account, "GET", "/v1/account", token)

    async def found(self, token: str, key: UUID) -> RemotePost | None:
        """The post of a key, where there is one."""
        answer = await self._sent("GET", f"/v1/posts?key={key}", token)
        posts = answer.json()
        if not isinstance(posts, list):
            raise PostingAway("The service answered in a way that can't be read.")
        return _read(RemotePost, posts[0]) if posts else None

    async def begun(
        self, token: str, key: UUID, text: PostText, visibility: Visibility, size: int, length_ms: int
    ) -> RemotePost:
        """A post that its file is still to be sent for; asked for again by the same key it is the same."""
        body = {**text.model_dump(mode="json"), "visibility": visibility, "bytes": size, "length_ms": length_ms}
        headers = {"idempotency-key": str(key)}
        return await self._asked(RemotePost, "POST", "/v1/posts", token, json=body, headers=headers)

    async def upload(
        self, token: str, post: RemotePost, file: Path, progress: Callable[[float], Awaitable[None]]
    ) -> None:
        """Sends a file from where the service has it."""
        told = await self._sent("HEAD", self._inside(post.upload), token, headers={"tus-resumable": "1.0.0"})
        offset, size = _number(told, "upload-offset"), file.stat().st_size
        with file.open("rb") as opened:
            while offset < size:
                await progress(offset / size)
                opened.seek(offset)
                piece = await asyncio.to_thread(opened.read, PIECE)
                headers = {
                    "tus-resumable": "1.0.0",
                    "upload-offset": str(offset),
                    "content-type": "application/offset+octet-stream",
                }
                answer = await self._sent("PATCH", self._inside(post.upload), token, content=piece, headers=headers)
                now = _number(answer, "upload-offset")
                if now <= offset:
                    raise PostingAway("The service takes no more of the file.")
                offset = now

    def shown_at(self, post: RemotePost) -> str | None:
        """The web address where a post is seen; None where the service tells none that can be opened."""
        told = urljoin(self.address + "/", post.address or "")
        return told if post.address and urlsplit(told).scheme in ("http", "https") and len(told) <= 2000 else None

    async def published(self, token: str, post_id: str) -> RemotePost:
        """Shows a post whose file is there, as soon as the service has made it ready."""
        return await self._asked(RemotePost, "PUT", f"/v1/posts/{_part(post_id)}/published", token)

    async def state(self, token: str, post_id: str) -> RemotePost:
        """How a post stands."""
        return await self._asked(RemotePost, "GET", f"/v1/posts/{_part(post_id)}", token)

    async def deleted(self, token: str, post_id: str) -> None:
        """Takes a post away; one that is gone already is."""
        await self._sent("DELETE", f"/v1/posts/{_part(post_id)}", token, also=(404,))

    def _inside(self, place: str) -> str:
        """An address of the service itself: a token is never sent elsewhere."""
        whole = place if "://" in place else self.address + place
        if not whole.startswith(self.address + "/"):
            raise PostingRefused("The service wants the file sent to another host, which is not done.")
        return whole.removeprefix(self.address)

    async def _tokens(self, **form: str) -> Tokens:
        told = await self._asked(_TokenAnswer, "POST", "/oauth/token", data=form)
        at = datetime.now(UTC).timestamp() + told.expires_in
        return Tokens(access_token=told.access_token, refresh_token=told.refresh_token, expires_at=at)

    async def _asked(self, model: type[M], method: str, path: str, token: str | None = None, **request: Any) -> M:
        answer = await self._sent(method, path, token, **request)
        try:
            return _read(model, answer.json())
        except ValueError as odd:
            raise PostingAway("The service answered in a way that can't be read.") from odd

    async def _sent(
        self, method: str, path: str, token: str | None = None, also: tuple[int, ...] = (), **request: Any
    ) -> httpx.Response:
        headers = {**request.pop("headers", {}), **({"authorization": f"Bearer {token}"} if token else {})}
        host = urlsplit(self.address).netloc
        try:
            async with httpx.AsyncClient(timeout=_WAITS_S, transport=self._transport, follow_redirects=False) as client:
                answer = await client.request(method, self.address + path, headers=headers, **request)
        except (httpx.HTTPError, httpx.InvalidURL) as away:
            raise PostingAway(f"{host} can't be reached ({type(away).__name__}).") from away
        if answer.is_success or answer.status_code in also:
            return answer
        if answer.status_code == 401:
            raise TokenExpired(f"{host} does not know this sign-in.")
        if answer.status_code in (408, 409, 423, 425, 429) or answer.status_code >= 500:
            raise PostingAway(f"{host} is busy ({answer.status_code}).", _retry_after(answer))
        raise PostingRefused(f"{host} refused this: {_why(answer)}")


def _read(model: type[M], told: Any) -> M:
    try:
        return model.model_validate(told)
    except ValidationError as odd:
        raise PostingAway("The service answered in a way that can't be read.") from odd


def _number(answer: httpx.Response, header: str) -> int:
    value = answer.headers.get(header, "")
    if not (value.isascii() and value.isdigit() and len(value) < 16):
        raise PostingAway("The service does not say how much of the file it has.")
    return int(value)


def _retry_after(answer: httpx.Response) -> float | None:
    """How long to wait (RFC 9110, 10.2.3), in seconds: told as such, or as a date."""
    told = answer.headers.get("retry-after", "").strip()
    if told.isascii() and told.isdigit() and len(told) < 9:
        return min(float(told), _LONGEST_WAIT_S)
    try:
        until = parsedate_to_datetime(told)
    except ValueError:
        return None
    return min(max(0.0, (until - datetime.now(until.tzinfo)).total_seconds()), _LONGEST_WAIT_S)


def _why(answer: httpx.Response) -> str:
    try:
        told = answer.json()
    except ValueError:
        told = None
    said = told.get("detail") if isinstance(told, dict) else None
    return str(said)[:300] if said else f"it answered {answer.status_code}"


def _part(post_id: str) -> str:
    """An id as a part of an address."""
    if not post_id or not all(one.isalnum() or one in "-_" for one in post_id):
        raise PostingRefused("The service gave the post an id that can't be used.")
    return post_id
