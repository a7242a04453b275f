"""The transcription service's client against the stand-in: words, waits, failures, and being stopped."""

import asyncio
from pathlib import Path

import httpx
import pytest
from fastapi import FastAPI

from nimble_quote.demo.load import joined
from nimble_quote.services.transcription import ServiceFailed, TranscriptionService
from nimble_quote.standins.transcription import Knobs, make_service
from tests.conftest import TONE, make_media
from tests.services import transport

pytestmark = pytest.mark.anyio


async def no_progress(part: float) -> None:
    assert 0 <= part <= 1


def client_of(app: FastAPI) -> TranscriptionService:
    return TranscriptionService(url="http://service", wait_s=0.02, transport=transport(app))


async def test_the_words_come_back_with_times_and_how_sure_it_is(tmp_path: Path):
    service = client_of(make_service())
    work = await service.begin(joined("night-ferry-notes", "original.m4a", tmp_path / "f.m4a"))
    reading = await service.follow(work, no_progress)
    said = " ".join(token.text for cue in reading.cues for token in cue.tokens).lower()
    assert "i am the only one on the upper deck" in said
    assert reading.cues[0].tokens[0].start_ms is not None


async def test_a_service_that_fails_for_a_while_is_asked_again(tmp_path: Path):
    app = make_service()
    app.state.knobs = Knobs(fail_next=3)
    work = await client_of(app).begin(make_media(tmp_path / "t.m4a", TONE))
    assert app.state.knobs.fail_next == 0
    assert work


async def test_a_service_that_stays_away_is_told_with_its_address(tmp_path: Path):
    app = make_service()
    app.state.knobs = Knobs(fail_next=99)
    with pytest.raises(
        ServiceFailed, match=r"at http://service could not be reached: it answered 503\. Try again later"
    ):
        await client_of(app).begin(make_media(tmp_path / "t.m4a", TONE))
    nowhere = TranscriptionService(url="http://127.0.0.1:9", wait_s=0.01)
    with pytest.raises(ServiceFailed, match=r"could not be reached"):
        await nowhere.begin(tmp_path / "t.m4a")


@pytest.mark.parametrize(
    ("knobs", "why"),
    [
        (Knobs(give_up=True), "gave up: the sound could not be understood"),
        (Knobs(garble=True), "words that can't be read"),
    ],
)
async def test_what_it_gives_up_or_garbles_is_told(knobs: Knobs, why: str, tmp_path: Path):
    app = make_service()
    app.state.knobs = knobs
    service = client_of(app)
    work = await service.begin(make_media(tmp_path / "t.m4a", TONE))
    with pytest.raises(ServiceFailed, match=why):
        await service.follow(work, no_progress)


async def test_stopping_tells_the_service(tmp_path: Path):
    app = make_service()
    app.state.knobs = Knobs(delay_s=30)
    service = client_of(app)
    work = await service.begin(make_media(tmp_path / "t.m4a", TONE))

    async def stop(part: float) -> None:
        raise asyncio.CancelledError

    with pytest.raises(asyncio.CancelledError):
        await service.follow(work, stop)
    async with httpx.AsyncClient(transport=transport(app), base_url="http://service") as client:
        assert (await client.get(f"/transcriptions/{work}")).status_code == 404


@pytest.mark.parametrize("status", [401, 403])
async def test_a_refused_key_is_told_at_once(status: int, tmp_path: Path):
    app = FastAPI()

    @app.post("/transcriptions", status_code=status)
    async def refuse() -> dict[str, str]:
        return {}

    with pytest.raises(ServiceFailed, match="refused the key"):
        await client_of(app).begin(make_media(tmp_path / "t.m4a", TONE))


@pytest.mark.parametrize("answer", [[], {}, {"id": "../../etc"}, {"id": 7}])
async def test_an_answer_that_makes_no_sense_is_told(answer: object, tmp_path: Path):
    app = FastAPI()

    @app.post("/transcriptions")
    async def odd() -> object:
        return answer

    with pytest.raises(ServiceFailed, match=r"without an id|no JSON object"):
        await client_of(app).begin(make_media(tmp_path / "t.m4a", TONE))
