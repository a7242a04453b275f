"""Asking the running application from the command line."""

import os
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import httpx

_TIMEOUT_S = 120
_VARIABLE = "NIMBLE_QUOTE_TOKEN"
"""The variable of the environment that a token is told in; on the machine of the application none is needed."""


class NotDone(RuntimeError):
    """Something that was refused, or could not be asked; the message says why, the code tells programs."""

    def __init__(self, message: str, code: str = "") -> None:
        super().__init__(message)
        self.code = code


@dataclass(frozen=True, kw_only=True)
class Door:
    """The running application, at an address (`http://127.0.0.1:8320`)."""

    address: str

    def ask(self, method: str, path: str, **more: Any) -> httpx.Response:
        """The answer of the application. Raises `NotDone` with what it said where it refused."""
        headers = {**more.pop("headers", {}), **_token()}
        try:
            answer = httpx.request(method, self.address + path, timeout=_TIMEOUT_S, headers=headers, **more)
        except (httpx.HTTPError, httpx.InvalidURL) as away:
            raise NotDone(f"Nimble Quote does not answer at {self.address} ({away}). Is ./run going?") from away
        if not answer.is_success:
            raise NotDone(*_why(answer))
        return answer

    def save(self, path: str, into: Path) -> None:
        """Saves what is at a path as a file. Raises `NotDone`."""
        try:
            with (
                httpx.stream("GET", self.address + path, timeout=_TIMEOUT_S, headers=_token()) as answer,
                into.open("wb") as file,
            ):
                if not answer.is_success:
                    answer.read()
                    raise NotDone(*_why(answer))
                for block in answer.iter_bytes():
                    file.write(block)
        except httpx.HTTPError as away:
            raise NotDone(f"Nimble Quote does not answer at {self.address} ({away}).") from away
        except OSError as refused:
            raise NotDone(f"{into} can't be written ({refused.strerror}).") from refused


def _token() -> dict[str, str]:
    token = os.environ.get(_VARIABLE, "")
    return {"authorization": f"Bearer {token}"} if token else {}


def _why(answer: httpx.Response) -> tuple[str, str]:
    """What a refusal says, and its code."""
    try:
        problem = answer.json()
        return str(problem["detail"]), str(problem.get("code", ""))
    except (ValueError, KeyError):
        return f"The application answered {answer.status_code}.", ""
