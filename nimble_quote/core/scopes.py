"""What a token may be used for: which scope a request of the API needs."""

import re
from typing import Literal

Scope = Literal["read", "write", "export", "post"]
SCOPES: tuple[Scope, ...] = ("read", "write", "export", "post")
_EXPORTING = re.compile(r"/api/(exports|outbox|quotes/\d+/exports|work/\d+)(/|$)")
_POSTING = re.compile(r"/api/(posts|posting)(/|$)")
_OURS = re.compile(r"/api/(tokens|webhooks|house/posting|posting/(sign-in|signed-in|accounts)|quotes/\d+/phone)(/|$)")
"""What gives access or takes it: done by the house's own people, on its own pages, and never by a program."""


def needed_scope(method: str, path: str) -> Scope | None:
    """The scope that a request needs; None where no token is enough."""
    if _OURS.match(path):
        return None
    if method in ("GET", "HEAD", "OPTIONS"):
        return "read"
    if _EXPORTING.match(path):
        return "export"
    return "post" if _POSTING.match(path) else "write"
