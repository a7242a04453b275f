"""Quotes kept and edited over the API, as the workbench does."""

from typing import Any
from urllib.parse import parse_qs, urlsplit

import httpx

from tests.conftest import find_words, words_of


def keep(client: httpx.Client, recording_id: int, text: str, until: str = "") -> dict[str, Any]:
    """Keeps a passage, by its words or by those it begins and ends with, as a quote."""
    words = words_of(client, recording_id)
    first, last = find_words(words, text)
    last = find_words(words, until)[1] if until else last
    kept = client.post(f"/api/recordings/{recording_id}/quotes", json={"first": first, "last": last})
    assert kept.status_code == 201, kept.text
    quote: dict[str, Any] = client.get(f"/api/quotes/{kept.json()['id']}").json()
    return quote


def edit(client: httpx.Client, quote: dict[str, Any], **change: object) -> httpx.Response:
    """Makes an edit on the revision that a quote was seen at."""
    return client.post(f"/api/quotes/{quote['id']}/edits", json={"on_revision": quote["revision"], "edit": change})


def resolved(client: httpx.Client, quote: dict[str, Any]) -> list[dict[str, Any]]:
    """What the versions of a quote look like, and what is wrong with them, as it is now."""
    told = client.get(f"/api/quotes/{quote['id']}/versions").json()
    assert told["revision"] == quote["revision"]
    versions: list[dict[str, Any]] = told["versions"]
    return versions


def connected(client: httpx.Client, name: str = "Kestrel House") -> dict[str, Any]:
    """An account with the stand-in for posting, connected as a person does it in the browser; as House lists it."""
    service = client.get("/api/house/posting").json()["services"][0]
    asked = urlsplit(client.post("/api/posting/sign-in", json={"service": service}).json()["address"])
    fields = {field: values[0] for field, values in parse_qs(asked.query).items()}
    there = f"{asked.scheme}://{asked.netloc}{asked.path}"
    back = httpx.post(there, data={**fields, "allow": "yes", "account": name}).headers["location"]
    shown = client.get(back)
    assert shown.status_code == 303, shown.text
    assert "connected=" in shown.headers["location"]
    accounts = client.get("/api/house/posting").json()["accounts"]
    return next(one for one in accounts if one["name"] == name)
