"""Sending a post: never twice and never lost, whatever is killed when.

What is meant is kept first. Each step then asks the service how the post stands, known by a key that goes along with all that is
asked; so a step that was done, and whose answer was lost, is found done. What can't be told now is tried again later, as long as it
takes; what is refused is told to the person.
"""

import asyncio
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path

from nimble_quote.jobs.state import WorkerState
from nimble_quote.jobs.working import Attempt, ask_for
from nimble_quote.services.posting import (
    PostingAway,
    PostingRefused,
    PostingService,
    RemotePost,
    SignedOut,
    TokenExpired,
    Tokens,
)
from nimble_quote.store import accounts, posts, webhooks
from nimble_quote.store.accounts import AccountRow
from nimble_quote.store.database import Connection
from nimble_quote.store.posts import PostRow
from nimble_quote.store.work import AttemptLost, StopRequested, Target

_FRESH_S = 60
"""A token that is good for less than this is renewed before it is used."""
_READY_EVERY_S, _READY_WITHIN_S = 0.5, 20.0
_CLIP_LATER_S = 5.0
_LATEST = timedelta(hours=12)
"""A post that nobody sent for so long is not sent by itself any more: news of Sunday is none on Wednesday."""


async def ask_for_due(conn: Connection) -> None:
    """Has the posts sent that are due, and gone on with that were left."""
    for post_id in await posts.due(conn):
        await ask_to_send(conn, post_id)


async def ask_to_send(conn: Connection, post_id: int) -> None:
    """Has a post sent, in the connection's transaction."""
    await ask_for(conn, "post", Target(name=f"post {post_id}", post_id=post_id))


async def send_post(attempt: Attempt) -> None:
    """Sends a post, or takes it down, as far as it is not done yet."""
    sending = _Sending(attempt, attempt.worker)
    try:
        await sending.run()
    except PostingAway as away:
        async with attempt.ending() as conn:
            if away.after_s is not None:
                await posts.leave_alone(conn, attempt.post_id, away.after_s)
            await posts.put_off(conn, attempt.post_id, f"{away} It is tried again.", away.after_s)
    except SignedOut as out:
        async with attempt.ending() as conn:
            await posts.put_off(conn, attempt.post_id, str(out), posts.LONGEST_WAIT.total_seconds())
    except (PostingRefused, TokenExpired) as refused:
        async with attempt.ending() as conn:
            await posts.end(conn, attempt.post_id, "failed", str(refused))
    except (AttemptLost, StopRequested):
        raise
    except Exception:
        # A mistake of ours: not again at once, and not for ever unseen.
        async with attempt.worker.pool.connection() as conn:
            await posts.put_off(
                conn, attempt.post_id, "Something unforeseen went wrong; what is in the worker's log.", None
            )
        raise


class _Sending:
    """One attempt to bring a post where it is meant to be."""

    def __init__(self, attempt: Attempt, worker: WorkerState) -> None:
        self._attempt = attempt
        self._worker = worker
        self._post_id = attempt.post_id

    async def run(self) -> None:
        post = await self._begun()
        if post is None or post.account_id is None:
            return
        service = PostingService((await self._account(post.account_id)).service)
        token = await self._token(service, post.account_id)
        try:
            await self._done(service, token, post)
        except TokenExpired:
            fresh = await self._token(service, post.account_id, stale=token)
            # Read again: it may have been given another key meanwhile, and by the old one it would be another post.
            await self._done(service, fresh, await self._now())

    async def _account(self, account_id: int) -> AccountRow:
        async with self._worker.pool.connection() as conn:
            return await accounts.one(conn, account_id)

    async def _now(self) -> PostRow:
        async with self._worker.pool.connection() as conn:
            return await posts.one(conn, self._post_id)

    async def _begun(self) -> PostRow | None:
        """The post, said to be under way; None where there is nothing to do yet or any more."""
        async with self._worker.pool.connection() as conn:
            post = await posts.one(conn, self._post_id, lock=True)
            if post.state == "scheduled":
                hindered = _hindered(post)
                if hindered is None and post.file_path is None:
                    await posts.put_off(conn, post.id, "The clip is still being made.", _CLIP_LATER_S)
                elif hindered is not None:
                    await posts.end(conn, post.id, "failed", hindered)
                else:
                    await posts.begin_sending(conn, post.id)
                    return post
            return post if post.state in ("sending", "removing") else None

    async def _done(self, service: PostingService, token: str, post: PostRow) -> None:
        if post.state == "removing":
            return await self._taken_down(service, token, post)
        await self._attempt.stage("Asking how it stands", 0.0)
        remote = await self._there(service, token, post)
        if await self._unwanted():
            return await self._given_up(service, token, post, remote)
        if remote is not None and remote.state == "waiting" and post.remote_stale:
            await service.deleted(token, remote.id)
            async with self._worker.pool.connection() as conn:
                post, remote = await posts.renew(conn, post.id), None
        if remote is None:
            remote = await self._created(service, token, post)
        if remote.state == "waiting":
            await self._sent(service, token, post, remote)
            if await self._unwanted():
                return await self._given_up(service, token, post, remote)
            remote = await service.published(token, remote.id)
        remote = await self._ready(service, token, remote)
        if remote.state == "refused":
            raise PostingRefused(
                f"{post.service or 'The service'} refused the clip: {remote.reason or 'it does not say why'}."
            )
        async with self._attempt.ending() as conn:
            await posts.end(conn, post.id, "posted", remote=remote, address=service.shown_at(remote))
            await webhooks.tell_posted(conn, await posts.one(conn, post.id))

    async def _there(self, service: PostingService, token: str, post: PostRow) -> RemotePost | None:
        """The post as the service has it, by its key: what was asked and not answered is found, and never asked blind."""
        found = await service.found(token, post.key)
        if found is not None and found.id != post.remote_id:
            await self._note(found)
        return found

    def _file(self, post: PostRow) -> Path:
        """The clip of a post. Raises `PostingRefused` where it is gone."""
        file = self._worker.media.store.local(post.file_path or "")
        if not post.file_path or not file.exists():
            raise PostingRefused(
                "The clip of this post is gone from the disk. Export it again, then schedule the post anew."
            )
        return file

    async def _created(self, service: PostingService, token: str, post: PostRow) -> RemotePost:
        file = self._file(post)
        remote = await service.begun(
            token, post.key, post.texts, post.visibility, file.stat().st_size, round(post.planned_ms or 1)
        )
        await self._note(remote)
        return remote

    async def _note(self, remote: RemotePost) -> None:
        async with self._worker.pool.connection() as conn:
            await posts.note_remote(conn, self._post_id, remote.id)

    async def _sent(self, service: PostingService, token: str, post: PostRow, remote: RemotePost) -> None:
        progress = await self._attempt.stage("Sending the clip", 0.05, 0.9)
        file = self._file(post)
        await service.upload(token, remote, file, progress)

    async def _ready(self, service: PostingService, token: str, remote: RemotePost) -> RemotePost:
        """The post once the service has made it ready to be seen. Raises `PostingAway` where that takes long."""
        await self._attempt.stage("Waiting until it is shown", 0.92)
        until = time.monotonic() + _READY_WITHIN_S
        while remote.state not in ("published", "refused"):
            if time.monotonic() > until:
                raise PostingAway("The clip is there, and not shown yet.")
            await asyncio.sleep(_READY_EVERY_S)
            remote = await service.state(token, remote.id)
        return remote

    async def _unwanted(self) -> bool:
        return (await self._now()).cancel_requested

    async def _given_up(self, service: PostingService, token: str, post: PostRow, remote: RemotePost | None) -> None:
        """Takes back what is there of a post that is not wanted any more."""
        if remote is not None:
            await service.deleted(token, remote.id)
        async with self._attempt.ending() as conn:
            await posts.end(conn, post.id, "cancelled")

    async def _taken_down(self, service: PostingService, token: str, post: PostRow) -> None:
        await self._attempt.stage("Taking the post down", 0.0)
        if post.remote_id:
            await service.deleted(token, post.remote_id)
        async with self._attempt.ending() as conn:
            await posts.end(conn, post.id, "removed")

    async def _token(self, service: PostingService, account_id: int, stale: str | None = None) -> str:
        """A token that is good: renewed where it ends soon, or was refused. Of two that renew, the second takes what the first got.
        Raises `SignedOut`."""
        sealing = self._worker.sealing
        try:
            async with self._worker.pool.connection() as conn:
                kept = await accounts.tokens(conn, sealing, account_id, lock=True)
                if kept is None:
                    raise SignedOut("The account of this post is signed out. Connect it again in House, under Posting.")
                if kept.access_token != stale and kept.expires_at > time.time() + _FRESH_S:
                    return kept.access_token
                fresh: Tokens = await service.refreshed(kept.refresh_token)
                await accounts.keep_tokens(conn, sealing, account_id, fresh)
                return fresh.access_token
        except SignedOut:
            async with self._worker.pool.connection() as conn:
                await accounts.keep_tokens(conn, sealing, account_id, None)
            raise


def _hindered(post: PostRow) -> str | None:
    """Why a post can't be sent at all."""
    if post.due_at < datetime.now(UTC) - _LATEST:
        return "Its time passed while Nimble Quote was not running. Post it now, or move it to another day."
    if post.quote_removed:
        return "The quote of this post was removed. Put it back, or cancel the post."
    if post.export_id is None or post.export_state is None:
        return "The clip of this post was removed from the Outbox. Schedule it anew to have it made again."
    if post.export_state in ("failed", "stopped"):
        return f"The clip was not made: {post.export_problem or 'its export was cancelled'} Export it again, then schedule the post anew."
    return None
