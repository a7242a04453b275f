"""The port to a service that clips are posted to, against the stand-in: sign-in, limits, keys, uploads that go on, and faults."""

from collections.abc import Callable
from pathlib import Path
from urllib.parse import parse_qs, urlsplit
from uuid import UUID, uuid4

import httpx
import pytest

from nimble_quote.core.document.posting import PostText
from nimble_quote.services.posting import (
    PIECE,
    PostingAway,
    PostingRefused,
    PostingService,
    RemotePost,
    SignedOut,
    TokenExpired,
    Tokens,
    challenge_of,
    new_verifier,
)
from nimble_quote.standins.posting import Faults, make_board

pytestmark = pytest.mark.anyio
BACK = "http://127.0.0.1:8320/api/posting/signed-in"
TEXT = PostText(title="Keep the wick short", description="It smokes.", tags=("wick",))
ADDRESS = "http://board.test"


class Asked:
    """The stand-in in this process, and the port to it."""

    def __init__(self, folder: Path) -> None:
        self.app = make_board(folder)
        self.transport = httpx.ASGITransport(app=self.app)
        self.service = PostingService(ADDRESS, self.transport)

    def faults(self, **faults: float) -> None:
        self.app.state.board.faults = Faults.model_validate(faults)

    async def code(self, verifier: str, back: str = BACK, allow: str = "yes") -> dict[str, str]:
        """What a person who was asked at the service comes back with."""
        asked = urlsplit(self.service.sign_in_address(back, "a-state", verifier))
        fields = {name: values[0] for name, values in parse_qs(asked.query).items()}
        async with httpx.AsyncClient(transport=self.transport, base_url=ADDRESS) as client:
            page = await client.get(f"{asked.path}?{asked.query}")
            assert "nimble-quote" in page.text
            answer = await client.post(asked.path, data={**fields, "allow": allow, "account": "Kestrel House"})
        told = parse_qs(urlsplit(answer.headers["location"]).query)
        assert answer.headers["location"].startswith(back)
        return {name: values[0] for name, values in told.items()}

    async def signed_in(self) -> Tokens:
        verifier = new_verifier()
        return await self.service.exchanged((await self.code(verifier))["code"], verifier, BACK)


@pytest.fixture
def asked(tmp_path: Path) -> Asked:
    return Asked(tmp_path / "board")


@pytest.fixture
def file(tmp_path: Path) -> Path:
    made = tmp_path / "clip.mp4"
    made.write_bytes(bytes(range(256)) * (PIECE // 256 * 2 + 3))
    return made


async def none(part: float) -> None:
    """A progress that nobody looks at."""


async def begun(asked: Asked, token: str, key: UUID, file: Path, text: PostText = TEXT) -> RemotePost:
    return await asked.service.begun(token, key, text, "public", file.stat().st_size, 12_000)


def test_a_challenge_is_that_of_the_standard():
    # RFC 7636, appendix B.
    assert challenge_of("dBjftJeZ4CVP-mB92K27uhbUJU1p1r_wW1gFWFOEjXk") == "E9Melhoa2OwvFrEMTJguCHaoeK1t8URWbuGJSstw-cM"
    assert 43 <= len(new_verifier()) <= 128


async def test_an_account_is_connected_by_a_code_and_its_verifier_once(asked: Asked):
    verifier = new_verifier()
    told = await asked.code(verifier)
    assert told["state"] == "a-state"
    for code, proof, back in ((told["code"], new_verifier(), BACK), ("made-up", verifier, BACK)):
        with pytest.raises(PostingRefused, match="not known"):
            await asked.service.exchanged(code, proof, back)
    # A code that was tried wrongly is good no more.
    told = await asked.code(verifier)
    with pytest.raises(PostingRefused):
        await asked.service.exchanged(told["code"], verifier, "http://127.0.0.1:1/elsewhere")
    told = await asked.code(verifier)
    tokens = await asked.service.exchanged(told["code"], verifier, BACK)
    with pytest.raises(PostingRefused):
        await asked.service.exchanged(told["code"], verifier, BACK)
    assert (await asked.service.account(tokens.access_token)).name == "Kestrel House"
    assert (await asked.service.described()).limits.link_length == 24
    assert (await asked.code(verifier, allow="no"))["error"] == "access_denied"


async def test_tokens_end_are_renewed_and_are_refused_once_signed_out(asked: Asked):
    asked.faults(token_s=0)
    tokens = await asked.signed_in()
    with pytest.raises(TokenExpired):
        await asked.service.account(tokens.access_token)
    asked.faults()
    fresh = await asked.service.refreshed(tokens.refresh_token)
    assert (await asked.service.account(fresh.access_token)).name == "Kestrel House"
    with pytest.raises(SignedOut, match="Connect it again"):
        await asked.service.refreshed("made-up")


async def test_a_post_is_one_however_often_it_is_asked_for(asked: Asked, file: Path):
    token, key = (await asked.signed_in()).access_token, uuid4()
    assert await asked.service.found(token, key) is None
    post = await begun(asked, token, key, file)
    assert (await begun(asked, token, key, file)).id == post.id
    with pytest.raises(PostingRefused, match="used for another post"):
        await begun(asked, token, key, file, PostText(title="Other words"))
    assert (await asked.service.found(token, key)) == post
    with pytest.raises(PostingRefused, match="not whole yet"):
        await asked.service.published(token, post.id)
    await asked.service.upload(token, post, file, none)
    assert asked.app.state.board.file(post.id).read_bytes() == file.read_bytes()
    first = await asked.service.published(token, post.id)
    assert first.state == "processing"
    await asked.service.published(token, post.id)
    assert asked.app.state.board.row("select published from post")[0] == 1
    await asked.service.deleted(token, post.id)
    await asked.service.deleted(token, post.id)
    assert await asked.service.found(token, key) is None


async def test_an_upload_goes_on_where_it_was_broken_off(asked: Asked, file: Path):
    token = (await asked.signed_in()).access_token
    post = await begun(asked, token, uuid4(), file)
    sent: list[float] = []

    async def until_half(part: float) -> None:
        sent.append(part)
        if part > 0.3:
            raise InterruptedError

    with pytest.raises(InterruptedError):
        await asked.service.upload(token, post, file, until_half)
    assert 0 < asked.app.state.board.have(post.id) < file.stat().st_size
    again: list[float] = []

    async def note(part: float) -> None:
        again.append(part)

    await asked.service.upload(token, post, file, note)
    assert again[0] == sent[-1]
    assert asked.app.state.board.file(post.id).read_bytes() == file.read_bytes()


@pytest.mark.parametrize(
    ("text", "says"),
    [
        (PostText(title="x" * 101), "The title is 1 over the 100"),
        (PostText(title="t", description="x" * 1501), "over the 1500"),
        (PostText(title="t", tags=tuple("abcdefghi")), "9 tags"),
        (PostText(), "neither a title nor a description"),
    ],
)
async def test_a_post_beyond_the_limits_is_refused_in_words(asked: Asked, file: Path, text: PostText, says: str):
    token = (await asked.signed_in()).access_token
    with pytest.raises(PostingRefused, match=says):
        await begun(asked, token, uuid4(), file, text)


async def test_an_answer_that_was_lost_is_not_known_and_is_found_by_its_key(asked: Asked, file: Path):
    token, key = (await asked.signed_in()).access_token, uuid4()
    asked.faults(lose=1)
    with pytest.raises(PostingAway, match="502"):
        await begun(asked, token, key, file)
    asked.faults()
    found = await asked.service.found(token, key)
    assert found is not None
    assert found.state == "waiting"


async def test_a_service_that_wants_to_be_left_alone_says_for_how_long(asked: Asked):
    asked.faults(limited=1, retry_after_s=7)
    with pytest.raises(PostingAway) as away:
        await asked.service.described()
    assert away.value.after_s == 7
    assert (await asked.service.described()).name


Answer = Callable[[httpx.Request], httpx.Response]


def answering(answer: Answer) -> PostingService:
    return PostingService(ADDRESS, httpx.MockTransport(answer))


@pytest.mark.parametrize(
    ("body", "headers"),
    [(b"[]", {}), (b"not json", {}), (b'{"name": 3}', {}), (b"\xff\xfe", {"content-type": "text/html"})],
)
async def test_an_answer_that_makes_no_sense_is_not_taken_for_one(body: bytes, headers: dict[str, str]):
    service = answering(lambda request: httpx.Response(200, content=body, headers=headers))
    with pytest.raises(PostingAway):
        await service.described()


@pytest.mark.parametrize(
    ("header", "least", "most"),
    [("12", 12, 12), ("Fri, 31 Dec 1999 23:59:59 GMT", 0, 0), ("soon", None, None), ("", None, None),
     ("999999999999", None, None), ("99999999", 6 * 3600, 6 * 3600)],
)  # fmt: skip
async def test_retry_after_is_read_in_both_of_its_ways(header: str, least: float | None, most: float | None):
    service = answering(lambda request: httpx.Response(503, headers={"retry-after": header}))
    with pytest.raises(PostingAway) as away:
        await service.described()
    assert away.value.after_s is least if least is None else least <= (away.value.after_s or 0) <= (most or 0)


async def test_a_token_is_never_sent_to_another_host(file: Path):
    seen: list[str] = []

    def answer(request: httpx.Request) -> httpx.Response:
        seen.append(request.url.host)
        return httpx.Response(200, headers={"upload-offset": "0"})

    for upload in ("http://elsewhere.test/u", "http://board.test.elsewhere.test/u", "//elsewhere.test/u"):
        post = RemotePost(id="a", state="waiting", upload=upload)
        with pytest.raises((PostingRefused, PostingAway)):
            await answering(answer).upload("secret", post, file, none)
    assert set(seen) <= {"board.test"}
    with pytest.raises(PostingRefused, match="can't be used"):
        await answering(answer).state("secret", "../account")


def test_an_address_that_a_post_is_seen_at_is_one_that_can_be_opened():
    service = PostingService(ADDRESS)
    for told, shown in (
        ("/p/1", f"{ADDRESS}/p/1"),
        ("https://x.test/1", "https://x.test/1"),
        ("javascript:alert(1)", None),
        (None, None),
    ):
        assert service.shown_at(RemotePost(id="a", state="published", upload="/u", address=told)) == shown
