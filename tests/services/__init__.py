"""Stand-ins run inside a test, reached without a network."""

import httpx
from fastapi import FastAPI


def transport(app: FastAPI) -> httpx.ASGITransport:
    """What a client is given so that its calls go to an application in this process."""
    return httpx.ASGITransport(app=app)
