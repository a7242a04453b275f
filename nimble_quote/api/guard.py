"""Keeps other web pages out: the server listens on loopback, and a page elsewhere must not be able to use it.

The Host must be ours (a name that was pointed at loopback is not), and a request that could change something must come
from our own origin.
"""

from starlette.datastructures import MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from nimble_quote.api.problems import problem
from nimble_quote.api.tokens import bearer_of

_SAFE_METHODS = frozenset({"GET", "HEAD", "OPTIONS"})
STRICT_PAGE = "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'; base-uri 'none'"
"""The content security policy of pages that are written here: text and its style, nothing else."""
_HEADERS = {
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "X-Frame-Options": "DENY",
    "Cross-Origin-Resource-Policy": "same-origin",
}


class Guard:
    """Refuses requests with a foreign Host or Origin, and sets the headers that keep a browser strict."""

    def __init__(self, app: ASGIApp, port: int, public: str = "", pages: str = "") -> None:
        """`public` is the host under which only addresses that begin with `pages` are answered."""
        self._app = app
        self._hosts = {f"{name}:{port}" for name in ("127.0.0.1", "localhost")}
        self._public = public
        self._pages = pages

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Passes a request on, or answers it with 403."""
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        headers = {key.decode("latin-1"): value.decode("latin-1") for key, value in scope["headers"]}
        hosts = self._hosts
        # Programs that come with a token are answered there, too; whether it is good is looked at next.
        by_token = scope["path"].startswith("/api/") and bearer_of(scope) is not None
        if self._public and (by_token or (self._pages and scope["path"].startswith(self._pages))):
            hosts = hosts | {self._public}
        if headers.get("host", "").lower() not in hosts:
            await problem(403, "This server answers only under its own address.")(scope, receive, send)
            return
        origin = headers.get("origin")
        foreign = origin is not None and origin.removeprefix("https://").removeprefix("http://") not in hosts
        if scope["method"] not in _SAFE_METHODS and (foreign or headers.get("sec-fetch-site") == "cross-site"):
            await problem(403, "Changes can only be made from Nimble Quote's own pages.")(scope, receive, send)
            return

        async def send_strict(message: Message) -> None:
            if message["type"] == "http.response.start":
                MutableHeaders(scope=message).update(_HEADERS)
            await send(message)

        await self._app(scope, receive, send_strict)
