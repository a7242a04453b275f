"""Other programs are told signed, and only what they took counts as told."""

import base64
import hashlib
import hmac
import json
from datetime import UTC, datetime

import httpx
import pytest

from nimble_quote.services.webhooks import NotTaken, WebhookRefused, checked_address, deliver_to, new_secret, signature

pytestmark = pytest.mark.anyio
AT = datetime(2026, 11, 28, 12, tzinfo=UTC)


async def test_what_is_told_can_be_checked_by_the_secret_alone():
    secret, seen = new_secret(), list[httpx.Request]()

    def answer(request: httpx.Request) -> httpx.Response:
        seen.append(request)
        return httpx.Response(204)

    told = await deliver_to(
        "http://hook.test/", secret, "msg-1", "clip.ready", AT, {"export": 7}, httpx.MockTransport(answer)
    )
    assert told == 204
    (request,) = seen
    headers = request.headers
    key = base64.b64decode(secret.removeprefix("whsec_"))
    signed = f"{headers['webhook-id']}.{headers['webhook-timestamp']}.".encode() + request.content
    proof = base64.b64encode(hmac.new(key, signed, hashlib.sha256).digest()).decode()
    assert headers["webhook-signature"] == f"v1,{proof}"
    assert json.loads(request.content) == {"type": "clip.ready", "timestamp": AT.isoformat(), "data": {"export": 7}}
    assert signature(secret, "msg-1", 1, b"{}") != signature(new_secret(), "msg-1", 1, b"{}")


@pytest.mark.parametrize("status", [301, 400, 410, 500])
async def test_any_other_answer_is_not_taking_it(status: int):
    transport = httpx.MockTransport(
        lambda request: httpx.Response(status, headers={"location": "http://elsewhere.test"})
    )
    with pytest.raises(NotTaken, match=str(status)) as failed:
        await deliver_to("http://hook.test/", new_secret(), "m", "clip.ready", AT, {}, transport)
    assert failed.value.answered == status


@pytest.mark.parametrize(
    "address", ["ftp://a.test", "hook.test/x", "http://", "http://u:p@hook.test", "http://[", "javascript:alert(1)"]
)
def test_an_address_that_nothing_can_be_told_to_is_refused(address: str):
    with pytest.raises(WebhookRefused, match="is not a web address"):
        checked_address(address)
    assert checked_address(" https://hook.test/x?y=1 ") == "https://hook.test/x?y=1"
