"""Programs that come with a token may do what it is for, and nothing else."""

from starlette.types import ASGIApp, Receive, Scope, Send

from nimble_quote.api.problems import problem
from nimble_quote.api.state import ServerState
from nimble_quote.core.refusal import Busy
from nimble_quote.core.scopes import needed_scope
from nimble_quote.store import tokens

BEARER = "Bearer "


class Tokens:
    """Looks at the token of a request that has one, before it is answered."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Passes a request on, or answers it with 401 or 403."""
        token = bearer_of(scope)
        if scope["type"] != "http" or token is None:
            return await self._app(scope, receive, send)
        server: ServerState = scope["app"].state.server
        try:
            async with server.connection() as conn:
                row = await tokens.used(conn, token)
        except Busy as busy:
            return await problem(503, str(busy), code=busy.code)(scope, receive, send)
        if row is None:
            refused = problem(401, "This token is not known, or was revoked.", {"www-authenticate": "Bearer"})
            return await refused(scope, receive, send)
        needed = needed_scope(scope["method"], scope["path"])
        if needed is None:
            return await problem(403, "This is done on Nimble Quote's own pages, and by no token.")(
                scope, receive, send
            )
        if needed not in row.scopes:
            says = f"The token “{row.name}” may not do this: it needs the scope “{needed}”."
            return await problem(403, says)(scope, receive, send)
        return await self._app(scope, receive, send)


def bearer_of(scope: Scope) -> str | None:
    """The token that a request comes with, where it does."""
    told = next((value.decode("latin-1") for key, value in scope.get("headers", ()) if key == b"authorization"), "")
    return told[len(BEARER) :].strip() if told.startswith(BEARER) else None
