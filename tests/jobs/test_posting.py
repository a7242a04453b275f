"""What is posted of, or is about to be, is not tidied away; and of two who renew a sign-in one does."""

import asyncio
from datetime import UTC, datetime, timedelta
from pathlib import Path
from types import SimpleNamespace
from typing import Any
from uuid import uuid4

import httpx
import pytest

from nimble_quote.core.document.posting import PostText
from nimble_quote.core.edits import new_quote
from nimble_quote.core.posting.timing import due
from nimble_quote.jobs.posting import _Sending
from nimble_quote.services.posting import Account, PostingService, ServiceView, TokenExpired, Tokens
from nimble_quote.standins.posting import LARGEST_MB, LIMITS, LONGEST_MS, NAME, make_board
from nimble_quote.store import accounts, posts, quotes, work
from nimble_quote.store.database import Connection, NotFound
from nimble_quote.store.posts import NewPost, PostedTwice
from nimble_quote.store.sealing import SealBroken, Sealing
from nimble_quote.store.work import Target
from tests.talks import context_of, talk_of

pytestmark = pytest.mark.anyio
TAKEN = ServiceView(name=NAME, limits=LIMITS, largest_mb=LARGEST_MB, longest_ms=LONGEST_MS)


async def account(conn: Connection, sealing: Sealing) -> int:
    tokens = Tokens(access_token="a", refresh_token="r", expires_at=0)
    return await accounts.connect(
        conn, sealing, "http://board.test", Account(id=str(uuid4()), name="Kestrel"), TAKEN, tokens
    )


async def quote(conn: Connection) -> int:
    cursor = await conn.execute(
        """insert into recording (title, file_name, content, media_path, duration_ms, width, height, rate_num, rate_den, size_bytes, video_codec)
           values ('Lamps', 'lamps.mp4', %s, 'x', 60000, 1920, 1080, 25, 1, 1, 'h264') returning id""",
        [uuid4().hex * 2],
    )
    (recording_id,) = await cursor.fetchone() or (0,)
    context = context_of(talk_of("Keep the wick short"))
    return await quotes.keep(conn, int(str(recording_id)), new_quote(context, 0, 3))


async def planned(conn: Connection, quote_id: int, account_id: int) -> int:
    at = due(datetime.now(UTC).replace(tzinfo=None) + timedelta(days=1), "Etc/UTC")
    new = NewPost(
        quote_id=quote_id,
        destination="tall-60",
        account_id=account_id,
        due=at,
        visibility="public",
        text=PostText(title="Wicks"),
    )
    return await posts.plan(conn, new)


async def exported(conn: Connection, quote_id: int) -> int:
    cursor = await conn.execute(
        """insert into export (quote_id, revision, destination, destination_name, width, height, limit_ms, largest_mb, rate_num, rate_den,
               planned_frames) values (%s, 1, 'tall-60', 'Tall 60', 2, 2, 1000, 1, 25, 1, 25) returning id""",
        [quote_id],
    )
    return int(str((await cursor.fetchone() or (0,))[0]))


@pytest.fixture
def sealing(tmp_path: Path) -> Sealing:
    return Sealing(tmp_path / "secret.key")


async def test_quotes_that_are_posted_or_about_to_be_outlive_their_removal(conn: Connection, sealing: Sealing):
    by = await account(conn, sealing)
    of = {}
    for state in ("draft", "scheduled", "posted", "cancelled"):
        of[state] = quote_id = await quote(conn)
        post = await planned(conn, quote_id, by)
        if state in ("scheduled", "posted"):
            await posts.schedule(conn, post, await exported(conn, quote_id), PostText(title="Wicks"))
        if state == "posted":
            await posts.note_remote(conn, post, "r1")
            await posts.end(conn, post, "posted")
        if state == "cancelled":
            await posts.cancel(conn, post)
        await conn.execute("update quote set removed_at = now() - interval '2 days' where id = %s", [quote_id])
    await quotes.purge(conn)
    for state, quote_id in of.items():
        if state in ("scheduled", "posted"):
            assert (await quotes.one(conn, quote_id)).removed
        else:
            with pytest.raises(NotFound):
                await quotes.one(conn, quote_id)


async def test_the_same_clip_is_scheduled_for_one_account_once(conn: Connection, sealing: Sealing):
    by, quote_id = await account(conn, sealing), await quote(conn)
    first, second = await planned(conn, quote_id, by), await planned(conn, quote_id, by)
    export = await exported(conn, quote_id)
    await posts.schedule(conn, first, export, PostText(title="Wicks"))
    with pytest.raises(PostedTwice):
        async with conn.transaction():
            await posts.schedule(conn, second, export, PostText(title="Wicks"))
    key = (await posts.one(conn, first)).key
    await posts.schedule(conn, first, export, PostText(title="Other words"))
    assert (await posts.one(conn, first)).key != key, "the service may have bound the old key to the old words"
    await posts.note_remote(conn, first, "r1")
    known = (await posts.one(conn, first)).key
    await posts.end(conn, first, "failed", "It was refused.")
    await posts.schedule(conn, first, export, PostText(title="Third words"))
    again = await posts.one(conn, first)
    assert (again.key, again.remote_stale) == (known, True), "what the service has is looked at first"


async def test_a_post_that_is_put_off_waits_as_long_as_is_asked_or_longer_each_time(conn: Connection, sealing: Sealing):
    post = await planned(conn, await quote(conn), await account(conn, sealing))
    waits = []
    for after in (7.0, None, None, None):
        await posts.put_off(conn, post, "busy", after)
        cursor = await conn.execute(
            "select extract(epoch from not_before - now())::float from post where id = %s", [post]
        )
        waits.append(round(float(str((await cursor.fetchone() or (0,))[0]))))
    assert waits == [7, 10, 20, 40]


async def test_a_service_that_wants_to_be_left_alone_is_by_all_that_goes_to_the_account(
    conn: Connection, sealing: Sealing
):
    by, other = await account(conn, sealing), await account(conn, sealing)
    made = []
    for where in (by, by, other):
        quote_id = await quote(conn)
        made.append(await planned(conn, quote_id, where))
        await posts.schedule(conn, made[-1], await exported(conn, quote_id), PostText(title="Wicks"))
        await posts.move_to_now(conn, made[-1])
    assert set(made) <= set(await posts.due(conn))
    await posts.put_off(conn, made[1], "The clip is still being made.", 5.0)
    assert made[0] in await posts.due(conn), "that is of one post alone"
    await posts.leave_alone(conn, made[0], 60.0)
    due_now = set(await posts.due(conn))
    assert made[2] in due_now
    assert not {made[0], made[1]} & due_now


async def test_secrets_are_read_by_their_key_alone(conn: Connection, sealing: Sealing, tmp_path: Path):
    kept = sealing.seal("a token")
    assert b"token" not in kept
    assert sealing.opened(kept) == Sealing(tmp_path / "secret.key").opened(kept) == "a token"
    assert (tmp_path / "secret.key").stat().st_mode & 0o777 == 0o600
    other = Sealing(tmp_path / "other.key")
    with pytest.raises(SealBroken):
        other.opened(kept)
    by = await account(conn, sealing)
    assert await accounts.tokens(conn, other, by) is None, "as good as signed out"
    assert await accounts.tokens(conn, sealing, by) is not None
    await accounts.remove(conn, by)
    assert await accounts.tokens(conn, sealing, by) is None


async def test_a_sign_in_is_good_once_and_for_ten_minutes(conn: Connection, sealing: Sealing):
    await accounts.begin_sign_in(conn, sealing, "http://board.test", "state", "verifier")
    assert await accounts.end_sign_in(conn, sealing, "state") == ("http://board.test", "verifier")
    with pytest.raises(NotFound):
        await accounts.end_sign_in(conn, sealing, "state")
    await accounts.begin_sign_in(conn, sealing, "http://board.test", "late", "verifier")
    await conn.execute("update posting_sign_in set created_at = now() - interval '11 minutes'")
    with pytest.raises(NotFound, match="too long ago"):
        await accounts.end_sign_in(conn, sealing, "late")


async def test_the_stand_in_keeps_one_post_of_a_key_also_where_it_is_asked_at_once(tmp_path: Path):
    app = make_board(tmp_path / "board")
    app.state.board.db.execute("insert into token values ('t', 'access', 'Kestrel', 1e12)")
    service, key = PostingService("http://board.test", httpx.ASGITransport(app=app)), uuid4()
    made = await asyncio.gather(
        *(service.begun("t", key, PostText(title="Wicks"), "public", 10, 1000) for _ in range(8))
    )
    assert len({one.id for one in made}) == 1


async def test_a_post_whose_clip_is_being_made_waits_for_it_and_counts_no_tries(conn: Connection, sealing: Sealing):
    quote_id = await quote(conn)
    post, export = await planned(conn, quote_id, await account(conn, sealing)), await exported(conn, quote_id)
    asked = await work.ask(conn, "export", Target(name=f"export {export}", export_id=export))
    await posts.schedule(conn, post, export, PostText(title="Wicks"))
    await posts.move_to_now(conn, post)
    assert post not in await posts.due(conn)
    await conn.execute("update work set state = 'done', finished_at = now() where id = %s", [asked.id])
    assert post in await posts.due(conn)
    await posts.put_off(conn, post, "The clip is still being made.", 5.0)
    await posts.begin_sending(conn, post)
    begun = await posts.one(conn, post)
    assert (begun.state, begun.tries, begun.problem) == ("sending", 0, None), (
        "what is waited for then is waited for briefly"
    )


async def test_a_post_that_was_given_another_key_goes_on_with_it_when_its_token_ended():
    seen: list[object] = []

    class Sending(_Sending):
        def __init__(self) -> None:
            self._post_id = 1

        async def _begun(self) -> Any:
            return SimpleNamespace(account_id=1, key="old")

        async def _now(self) -> Any:
            return SimpleNamespace(account_id=1, key="new")

        async def _account(self, account_id: int) -> Any:
            return SimpleNamespace(service="http://board.test")

        async def _token(self, service: object, account_id: int, stale: str | None = None) -> str:
            return "fresh" if stale else "stale"

        async def _done(self, service: object, token: str, post: Any) -> None:
            seen.append((token, post.key))
            if token == "stale":
                raise TokenExpired("ended")

    await Sending().run()
    assert seen == [("stale", "old"), ("fresh", "new")]
