"""Posts: planned, due, being sent, posted. What is meant is kept before anything is asked of a service."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from typing import Any, Literal
from uuid import UUID

from psycopg.errors import UniqueViolation
from psycopg.rows import class_row, scalar_row
from psycopg.types.json import Jsonb

from nimble_quote.core.document.posting import PostText
from nimble_quote.core.posting.timing import Due
from nimble_quote.core.refusal import Conflict
from nimble_quote.services.posting import RemotePost, Visibility
from nimble_quote.store.database import Connection, NotFound
from nimble_quote.store.exports import UNSEEN

PostState = Literal["draft", "scheduled", "sending", "posted", "failed", "cancelled", "removing", "removed"]
LONGEST_WAIT = timedelta(minutes=15)
"""A post that can't be sent is tried again after 5, 10, 20 … seconds, and never waits longer than this."""


class PostedTwice(Conflict):
    """The same clip is on its way there already, or was posted there."""

    code = "posted-twice"


class PostUnderWay(Conflict):
    """A post that can't be changed any more, or can't be in this way."""

    code = "post-under-way"


@dataclass(frozen=True, kw_only=True)
class PostRow:
    """A post, and the names of what it is of and where it goes."""

    id: int
    quote_id: int
    quote_title: str
    quote_removed: bool
    recording_id: int
    recording_title: str
    destination: str
    destination_name: str
    shape: str
    account_id: int | None
    account_name: str | None
    service: str | None
    export_id: int | None
    export_current: bool | None
    export_state: str | None
    export_problem: str | None
    file_path: str | None
    planned_ms: float | None
    state: PostState
    wall: datetime
    zone: str
    due_at: datetime
    visibility: Visibility
    text: dict[str, Any] = field(repr=False)
    key: UUID
    remote_id: str | None
    remote_stale: bool
    address: str | None
    cancel_requested: bool
    tries: int
    not_before: datetime | None
    problem: str | None
    posted_at: datetime | None
    progress: float | None

    @property
    def texts(self) -> PostText:
        return PostText.model_validate(self.text)


_SELECT = """
    select p.id, p.quote_id, h.document->>'title' as quote_title, q.removed_at is not null or r.removed_at is not null as quote_removed, q.recording_id,
        r.title as recording_title, p.destination, d.name as destination_name, d.shape, p.account_id, a.name as account_name,
        a.limits->>'name' as service, p.export_id, e.file_path, w.state::text as export_state, w.problem as export_problem,
        e.planned_frames * 1000.0::double precision * e.rate_den / e.rate_num as planned_ms,
        v.document - %(unseen)s::text[] = h.document - %(unseen)s::text[] as export_current,
        p.state::text, p.wall, p.zone, p.due_at, p.visibility, p.text, p.key, p.remote_id, p.remote_stale, p.address, p.cancel_requested,
        p.tries, p.not_before, p.problem, p.posted_at,
        (select o.progress from work o where o.post_id = p.id and o.state = 'running' limit 1) as progress
    from post p
        join quote q on q.id = p.quote_id
        join quote_revision h on h.quote_id = q.id and h.number = q.head
        join recording r on r.id = q.recording_id
        join destination d on d.id = p.destination
        left join posting_account a on a.id = p.account_id
        left join export e on e.id = p.export_id and e.removed_at is null
        left join quote_revision v on v.quote_id = e.quote_id and v.number = e.revision
        left join work w on w.export_id = e.id
"""
_GIVEN: dict[str, Any] = {"unseen": UNSEEN}


@dataclass(frozen=True, kw_only=True)
class NewPost:
    """A post as it is planned."""

    quote_id: int
    destination: str
    account_id: int | None
    due: Due
    visibility: Visibility
    text: PostText


async def plan(conn: Connection, new: NewPost) -> int:
    """Plans a post, as a draft that nothing is sent of; its id."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """insert into post (quote_id, destination, account_id, wall, zone, due_at, visibility, text)
               values (%s, %s, %s, %s, %s, %s, %s, %s) returning id""",
            [new.quote_id, new.destination, new.account_id, new.due.wall, new.due.zone, new.due.at, new.visibility,
             Jsonb(new.text.model_dump(mode="json"))],
        )  # fmt: skip
        return int(await cursor.fetchone() or 0)


async def one(conn: Connection, post_id: int, *, lock: bool = False) -> PostRow:
    """A post, locked until the transaction ends where it is to be changed. Raises `NotFound`."""
    if lock:
        await conn.execute("select from post where id = %s for update", [post_id])
    async with conn.cursor(row_factory=class_row(PostRow)) as cursor:
        await cursor.execute(_SELECT + " where p.id = %(id)s", _GIVEN | {"id": post_id})
        row = await cursor.fetchone()
    if row is None:
        raise NotFound("There is no such post.")
    return row


async def between(conn: Connection, first: date, after: date) -> list[PostRow]:
    """The posts of some days, by the clocks of their zones; those that were given up are left out."""
    async with conn.cursor(row_factory=class_row(PostRow)) as cursor:
        await cursor.execute(
            _SELECT
            + """ where p.wall >= %(first)s and p.wall < %(after)s and p.state not in ('cancelled', 'removed')
                  and (q.removed_at is null or p.state <> 'draft') order by p.wall, p.id""",
            _GIVEN | {"first": first, "after": after},
        )
        return await cursor.fetchall()


async def newest(conn: Connection, most: int = 500) -> list[PostRow]:
    """The posts of all quotes, those that are due last first."""
    async with conn.cursor(row_factory=class_row(PostRow)) as cursor:
        await cursor.execute(
            _SELECT
            + """ where p.state not in ('cancelled', 'removed') and (q.removed_at is null or p.state <> 'draft')
                  order by p.due_at desc, p.id desc limit %(most)s""",
            _GIVEN | {"most": most},
        )
        return await cursor.fetchall()


async def of_quotes(conn: Connection, quote_ids: Sequence[int]) -> list[PostRow]:
    """The posts of some quotes, in the order in which they are due."""
    async with conn.cursor(row_factory=class_row(PostRow)) as cursor:
        await cursor.execute(
            _SELECT + " where p.quote_id = any(%(quotes)s) order by p.due_at, p.id",
            _GIVEN | {"quotes": list(quote_ids)},
        )
        return await cursor.fetchall()


async def move(conn: Connection, post_id: int, due: Due) -> None:
    """Has a post that nothing was sent of due at another time."""
    await conn.execute(
        "update post set wall = %s, zone = %s, due_at = %s, not_before = null where id = %s",
        [due.wall, due.zone, due.at, post_id],
    )


async def move_to_now(conn: Connection, post_id: int) -> None:
    """Has a post due at this moment."""
    await conn.execute(
        "update post set due_at = now(), wall = date_trunc('minute', now() at time zone zone), not_before = null where id = %s",
        [post_id],
    )


async def describe(
    conn: Connection, post_id: int, account_id: int | None, visibility: Visibility, text: PostText
) -> None:
    """Says where a post that nothing was sent of goes, who sees it, and what it says."""
    await conn.execute(
        """update post set account_id = %(account)s, visibility = %(visibility)s, text = %(text)s,
               remote_id = case when account_id = %(account)s then remote_id end where id = %(id)s""",
        {"account": account_id, "visibility": visibility, "text": Jsonb(text.model_dump(mode="json")), "id": post_id},
    )


async def schedule(conn: Connection, post_id: int, export_id: int, text: PostText) -> None:
    """Has a draft sent when it is due, as the clip and the text that it has now. Raises `PostedTwice`.

    What a service was shown is known by its id, so without one nothing was: then the key is a new one, since the old may be bound to
    other texts. With one the key stays, and what is there is looked at before anything is sent.
    """
    try:
        await conn.execute(
            """update post set state = 'scheduled', export_id = %s, text = %s, problem = null, tries = 0, not_before = null,
                   cancel_requested = false, remote_stale = remote_id is not null,
                   key = case when remote_id is null then gen_random_uuid() else key end
               where id = %s and state in ('draft', 'scheduled', 'failed', 'cancelled')""",
            [export_id, Jsonb(text.model_dump(mode="json")), post_id],
        )
    except UniqueViolation as twice:
        raise PostedTwice("This clip is scheduled for that account already. Move that post instead.") from twice


async def posted_before(conn: Connection, quote_id: int, destination: str, account_id: int) -> datetime | None:
    """When a version was posted to an account; None where it was not, or is there no more."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """select max(posted_at) from post
               where quote_id = %s and destination = %s and account_id = %s and state = 'posted'""",
            [quote_id, destination, account_id],
        )
        return await cursor.fetchone()


async def hold(conn: Connection, post_id: int) -> None:
    """Makes a draft of a post again that nothing was sent of."""
    await conn.execute("update post set state = 'draft' where id = %s and state in ('scheduled', 'failed')", [post_id])


async def cancel(conn: Connection, post_id: int) -> None:
    """Gives a post up. One that is being sent is taken back as far as it is there: its work sees to that."""
    await conn.execute(
        """update post set cancel_requested = state = 'sending',
               state = case when state = 'sending' then state else 'cancelled' end where id = %s
               and state in ('draft', 'scheduled', 'sending', 'failed')""",
        [post_id],
    )


async def take_down(conn: Connection, post_id: int) -> None:
    """Has a post taken away from where it was posted."""
    await conn.execute(
        "update post set state = 'removing', tries = 0, not_before = null, problem = null where id = %s and state = 'posted'",
        [post_id],
    )


async def due(conn: Connection) -> list[int]:
    """The posts that something is to be done about now, and that nobody does it about. One whose clip is still being made waits for
    that."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """select p.id from post p
               where (p.state = 'scheduled' and p.due_at <= now() or p.state in ('sending', 'removing'))
                   and coalesce(p.not_before, now()) <= now()
                   and not exists (select from work w where w.post_id = p.id and w.state in ('queued', 'running'))
                   and not exists (select from work w where w.export_id = p.export_id and p.state = 'scheduled'
                       and w.state in ('queued', 'running'))
               order by p.due_at limit 100"""
        )
        return await cursor.fetchall()


async def begin_sending(conn: Connection, post_id: int) -> None:
    """Says that a post is being sent, before anything is asked of its service: from here on tries are counted."""
    await conn.execute(
        "update post set state = 'sending', tries = 0, problem = null where id = %s and state = 'scheduled'", [post_id]
    )


async def note_remote(conn: Connection, post_id: int, remote_id: str) -> None:
    """Keeps what the service calls a post."""
    await conn.execute("update post set remote_id = %s where id = %s", [remote_id, post_id])


async def renew(conn: Connection, post_id: int) -> PostRow:
    """Gives a post that the service has nothing of any more a new key; as it is then."""
    await conn.execute(
        "update post set key = gen_random_uuid(), remote_id = null, remote_stale = false where id = %s", [post_id]
    )
    return await one(conn, post_id)


async def put_off(conn: Connection, post_id: int, problem: str, after_s: float | None) -> None:
    """Has a post tried again: after so long, or longer each time."""
    await conn.execute(
        """update post set tries = tries + 1, problem = %(problem)s, not_before = now() + coalesce(
               make_interval(secs => %(after)s), least(make_interval(secs => 5 * 2 ^ least(tries, 12)), %(longest)s))
           where id = %(id)s""",
        {"id": post_id, "problem": problem[:1000], "after": after_s, "longest": LONGEST_WAIT},
    )


async def leave_alone(conn: Connection, post_id: int, after_s: float) -> None:
    """Has nothing sent to the account of a post for so long, as its service asks for."""
    # In the order of their numbers: of two that do this at once, none waits for what the other holds.
    await conn.execute(
        """with theirs as (
               select id from post where account_id = (select account_id from post where id = %(id)s)
                   and state in ('scheduled', 'sending', 'removing') order by id for update)
           update post set not_before = greatest(not_before, now() + make_interval(secs => %(after)s))
           from theirs where post.id = theirs.id""",
        {"id": post_id, "after": after_s},
    )


async def end(
    conn: Connection, post_id: int, state: Literal["posted", "failed", "cancelled", "removed"], problem: str | None = None,
    remote: RemotePost | None = None, address: str | None = None,
) -> None:  # fmt: skip
    """Says what came of a post."""
    await conn.execute(
        """update post set state = %(state)s, problem = %(problem)s, not_before = null,
               remote_id = coalesce(%(remote)s, remote_id), address = coalesce(%(address)s, address),
               posted_at = case when %(state)s::post_state = 'posted' then coalesce(posted_at, now()) else posted_at end
           where id = %(id)s""",
        {"id": post_id, "state": state, "problem": problem and problem[:1000], "remote": remote.id if remote else None, "address": address},
    )  # fmt: skip
