"""Other programs: a token does what it is for and nothing else, and what happens is told, signed, until it is taken."""

import base64
import hashlib
import hmac
import json
import threading
from collections.abc import Iterator
from http.server import BaseHTTPRequestHandler, HTTPServer
from typing import Any

import httpx
import psycopg
import pytest

from nimble_quote.core.scopes import SCOPES
from nimble_quote.store.cluster import Cluster
from tests.conftest import RunningApp, bring_in, start_app, wait_for
from tests.helpers import keep

Told = dict[str, Any]
PUBLIC = "clips.example.org"


@pytest.fixture(scope="module")
def house(cluster: Cluster, tmp_path_factory: pytest.TempPathFactory) -> Iterator[RunningApp]:
    """A house with a public address."""
    own = start_app(cluster, tmp_path_factory.mktemp("programs"), "house_programs", public_url=f"https://{PUBLIC}")
    yield own
    own.kill(own.workers)
    own.kill(own.servers)


def token_for(client: httpx.Client, *scopes: str) -> dict[str, str]:
    made = client.post("/api/tokens", json={"name": " ".join(scopes), "scopes": list(scopes)})
    assert made.status_code == 201, made.text
    return {"authorization": f"Bearer {made.json()['token']}"}


def test_a_token_does_what_its_scopes_say(house: RunningApp):
    with house.client as client:
        tokens = {scope: token_for(client, scope) for scope in SCOPES}
        asked = {
            "read": ("GET", "/api/recordings"), "write": ("POST", f"/api/quotes/{10**9}/undo"),
            "export": ("POST", f"/api/quotes/{10**9}/exports"), "post": ("POST", f"/api/posts/{10**9}/cancel"),
        }  # fmt: skip
        for needed, (method, path) in asked.items():
            for scope, headers in tokens.items():
                answer = client.request(
                    method, path, headers=headers, json=None if method == "GET" else {"on_revision": 1}
                )
                assert (answer.status_code == 403) == (scope != needed), (needed, scope, answer.text)
                if scope != needed:
                    assert f"needs the scope “{needed}”" in answer.json()["detail"]
        every = token_for(client, *SCOPES)
        for path in ("/api/tokens", "/api/webhooks", "/api/house/posting", "/api/quotes/1/phone"):
            assert client.get(path, headers=every).status_code == 403, path
        assert client.get("/api/recordings", headers={"authorization": "Bearer nq_made-up"}).status_code == 401
        listed = client.get("/api/tokens").json()
        assert all("token" not in one for one in listed)
        used = next(one for one in listed if one["name"] == "read")
        assert used["last_used_at"]
        client.delete(f"/api/tokens/{used['id']}").raise_for_status()
        assert client.get("/api/recordings", headers=tokens["read"]).status_code == 401
        assert client.delete(f"/api/tokens/{used['id']}").status_code == 404
        with psycopg.connect(house.settings.database_url) as conn:
            kept = conn.execute("select token_hash from api_token").fetchall()
        assert all(b"nq_" not in bytes(one[0]) for one in kept)


def test_under_the_public_address_the_api_answers_tokens_only(house: RunningApp):
    with house.client as client:
        headers = {"host": PUBLIC}
        assert client.get("/api/recordings", headers=headers).status_code == 403
        assert client.get("/api/recordings", headers={**headers, "authorization": "Bearer nq_no"}).status_code == 401
        assert client.get("/api/recordings", headers={**headers, **token_for(client, "read")}).status_code == 200
        assert client.get("/", headers={**headers, **token_for(client, "read")}).status_code == 403
        elsewhere = {"host": "evil.example", **token_for(client, "read")}
        assert client.get("/api/recordings", headers=elsewhere).status_code == 403


@pytest.mark.parametrize(
    "body",
    [
        {"name": "", "scopes": ["read"]},
        {"name": "x", "scopes": []},
        {"name": "x", "scopes": ["root"]},
        {"name": "x" * 81, "scopes": ["read"]},
    ],
)
def test_a_token_for_nothing_is_refused(house: RunningApp, body: Told):
    with house.client as client:
        assert client.post("/api/tokens", json=body).status_code == 422


class Listening:
    """A program that is told: what it was told, and what it answers."""

    def __init__(self) -> None:
        self.told: list[tuple[dict[str, str], bytes]] = []
        self.answers: list[int] = []
        listening = self

        class Handler(BaseHTTPRequestHandler):
            def do_POST(self) -> None:
                body = self.rfile.read(int(self.headers["content-length"]))
                listening.told.append(({name.lower(): value for name, value in self.headers.items()}, body))
                self.send_response(listening.answers.pop(0) if listening.answers else 204)
                self.end_headers()

            def log_message(self, *_: object) -> None:
                pass

        self.server = HTTPServer(("127.0.0.1", 0), Handler)
        threading.Thread(target=self.server.serve_forever, daemon=True).start()

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.server.server_port}/clips"


@pytest.fixture
def listening() -> Iterator[Listening]:
    made = Listening()
    yield made
    made.server.shutdown()
    made.server.server_close()


def test_a_clip_that_is_ready_is_told_signed_and_again_until_it_is_taken(
    house: RunningApp, listening: Listening, clip: Any
):
    with house.client as client:
        listening.answers = [500, 302]
        made = client.post("/api/webhooks", json={"address": listening.address, "events": ["clip.ready"]})
        assert made.status_code == 201, made.text
        secret = made.json()["secret"]
        quote = keep(client, bring_in(client, clip).json()["id"], "Sentence number 1 is here.")
        (asked,) = client.post(f"/api/quotes/{quote['id']}/exports", json={"quality": "small"}).json()
        wait_for(lambda: len(listening.told) >= 1, "the first try", 120)
        problem = wait_for(lambda: client.get("/api/webhooks").json()[0]["problem"], "what is wrong")
        assert problem == "It answered 500."
        with psycopg.connect(house.settings.database_url, autocommit=True) as conn:
            conn.execute("update webhook_delivery set not_before = now()")
        wait_for(lambda: len(listening.told) >= 2, "the second try")
        with psycopg.connect(house.settings.database_url, autocommit=True) as conn:
            wait_for(lambda: conn.execute("select tries from webhook_delivery").fetchone() == (2,), "the second answer")
            conn.execute("update webhook_delivery set not_before = now()")
        wait_for(lambda: client.get("/api/webhooks").json()[0]["last_delivered_at"], "it to be taken")
        (row,) = client.get("/api/webhooks").json()
        assert (row["waiting"], row["problem"]) == (0, None)

        assert len({headers["webhook-id"] for headers, _ in listening.told}) == 1, "it can tell that it was told before"
        headers, body = listening.told[-1]
        signed = f"{headers['webhook-id']}.{headers['webhook-timestamp']}.".encode() + body
        key = base64.b64decode(secret.removeprefix("whsec_"))
        assert (
            headers["webhook-signature"]
            == f"v1,{base64.b64encode(hmac.new(key, signed, hashlib.sha256).digest()).decode()}"
        )
        told = json.loads(body)
        assert (told["type"], told["data"]["export"], told["data"]["quote"]) == ("clip.ready", asked["id"], quote["id"])
        assert client.get(told["data"]["clip"]).status_code == 200
        client.delete(f"/api/webhooks/{row['id']}").raise_for_status()
        assert client.get("/api/webhooks").json() == []
        refused = client.post("/api/webhooks", json={"address": "ftp://x", "events": ["clip.ready"]})
        assert (refused.status_code, refused.json()["code"]) == (422, "webhook-refused")
