"""Posting: what a quote is posted with, the accounts of the house, its posts, and the weeks they fall in."""

import secrets
from collections.abc import Sequence
from datetime import UTC, date, datetime, time, timedelta
from typing import Annotated, Literal
from urllib.parse import quote as quote_url
from zoneinfo import available_timezones

from fastapi import APIRouter, Query, Response
from fastapi.responses import RedirectResponse
from pydantic import AfterValidator, BaseModel, ConfigDict, Field, StringConstraints

from nimble_quote.api.numbers import RowId
from nimble_quote.api.posting import add_lacking_version, names_of, post_view, posting_of, schedule_post
from nimble_quote.api.routes.workbench import Person
from nimble_quote.api.state import ServerState, TheConnection, TheServer
from nimble_quote.api.views.posting import (
    AccountView,
    CalendarView,
    Clock,
    DayView,
    HousePostingView,
    PlannedView,
    PostingView,
    PostView,
    VersionText,
    WeekView,
)
from nimble_quote.core.document.posting import PostText
from nimble_quote.core.posting.filling import NAMES
from nimble_quote.core.posting.timing import SOON_DAYS, due, monday_of, next_free, spread, zone_named
from nimble_quote.core.refusal import Refusal, Refused
from nimble_quote.formats.calendar_file import MEDIA_TYPE, PlannedEvent, write_calendar
from nimble_quote.jobs.posting import ask_to_send
from nimble_quote.services.posting import PostingService, Visibility, new_verifier
from nimble_quote.store import accounts, house_posting, posts
from nimble_quote.store.accounts import AccountRow
from nimble_quote.store.database import Connection
from nimble_quote.store.house_posting import HousePosting
from nimble_quote.store.posts import NewPost, PostRow, PostUnderWay

router = APIRouter(prefix="/api")
BACK = "/api/posting/signed-in"
_MOST_WEEKS = 53


def _plain(at: datetime) -> datetime:
    if at.tzinfo is not None:
        raise ValueError("a time on the clock of a zone is told without an offset")
    if not 2000 <= at.year <= 2200:
        raise ValueError("a year between 2000 and 2200 is wanted")
    return at.replace(second=0, microsecond=0, fold=0)


Wall = Annotated[datetime, AfterValidator(_plain)]
Zone = Annotated[str, StringConstraints(max_length=80)]
Day = Annotated[date, Field(ge=date(2000, 1, 1), le=date(2200, 1, 1))]


class NoSuchService(Refused):
    """A service that this house does not know."""

    code = "no-such-service"


class Tried(BaseModel):
    """Texts to look at before they are written."""

    text: PostText
    destination: str = Field(max_length=80)


class HousePostingWanted(BaseModel):
    """How a house posts."""

    pattern: str = Field(max_length=2000)
    time_zone: Zone
    usual_time: Clock
    phones: bool


class SignIn(BaseModel):
    """The service that an account is to be connected of."""

    service: str = Field(max_length=300)


class SignInView(BaseModel):
    """Where the person lets us use the account."""

    address: str


class Planned(BaseModel):
    """A post: of a version of a quote, to an account, at a time on the clock of a zone (the house's where none is told). Where no
    account is told, it goes to the first that is signed in; where no time is told, at the usual time of the next day that has no
    post."""

    model_config = ConfigDict(
        json_schema_extra={
            "examples": [
                {
                    "quote_id": 3,
                    "destination": "tall-60",
                    "account_id": 1,
                    "wall": "2027-01-12T17:00",
                    "zone": "Europe/Lisbon",
                }
            ]
        }
    )
    quote_id: RowId
    destination: str = Field(max_length=80)
    account_id: RowId | None = None
    wall: Wall | None = None
    zone: Zone | None = None
    visibility: Visibility = "public"


class WeekOfPosts(BaseModel):
    """Versions of quotes to be spread over a week, as drafts. A quote gets the version that it lacks, as an edit of who asks."""

    week_of: Day
    posts: list[tuple[RowId, Annotated[str, Field(max_length=80)]]] = Field(min_length=1, max_length=60)
    account_id: RowId | None = None
    by: Person | None = None


class When(BaseModel):
    """When a post is due."""

    model_config = ConfigDict(json_schema_extra={"examples": [{"wall": "2027-01-13T07:45"}]})
    wall: Wall
    zone: Zone | None = None


class Described(BaseModel):
    """Where a post goes, and who sees it."""

    account_id: RowId | None
    visibility: Visibility


class Scheduling(BaseModel):
    """Whether a post is sent at once, and though the same was posted there before."""

    now: bool = False
    again: bool = False


@router.get("/quotes/{quote_id}/posting")
async def get_posting(quote_id: RowId, conn: TheConnection, server: TheServer) -> PostingView:
    """What a quote is posted with: as it was written or as a draft, and as it is sent for each destination."""
    of = await posting_of(conn, server, quote_id)
    first = [one.destination for one in of.document.versions]
    return PostingView(
        quote_id=quote_id, title=of.document.title, recording_id=of.recording.id, recording_title=of.recording.title,
        link=of.recording.link, revision=of.quote.revision, written=of.written(), drafted=of.document.posting.text is None,
        own=of.document.posting.own, tags=list(of.tags), values=names_of(of.values(first[0])) if first else {},
        versions=[of.version(destination) for destination in first],
    )  # fmt: skip


@router.post("/quotes/{quote_id}/posting/try")
async def try_posting(quote_id: RowId, tried: Tried, conn: TheConnection, server: TheServer) -> VersionText:
    """Texts as they would be sent for a destination, and what would be wrong with them. Nothing is kept."""
    return (await posting_of(conn, server, quote_id)).version(tried.destination, tried.text)


@router.get("/house/posting")
async def get_house_posting(conn: TheConnection, server: TheServer) -> HousePostingView:
    """How the house posts, and what it can choose from."""
    return await _house_view(conn, server)


@router.put("/house/posting")
async def set_house_posting(wanted: HousePostingWanted, server: TheServer) -> HousePostingView:
    """Sets how the house posts."""
    zone_named(wanted.time_zone)
    pattern = wanted.pattern.replace("\x00", "").replace("\r", "")
    usual = time.fromisoformat(wanted.usual_time)
    settings = HousePosting(pattern=pattern, time_zone=wanted.time_zone, usual_time=usual, phones=wanted.phones)
    async with server.connection() as conn:
        await house_posting.keep(conn, settings)
    await server.phones.look()
    async with server.connection() as conn:
        return await _house_view(conn, server)


@router.post("/posting/sign-in")
async def begin_sign_in(wanted: SignIn, server: TheServer) -> SignInView:
    """Begins to connect an account: the address where its owner lets us, and comes back from."""
    if wanted.service not in server.settings.services:
        raise NoSuchService("That service is not among those that can be posted to.")
    state, verifier = secrets.token_urlsafe(24), new_verifier()
    async with server.connection() as conn:
        await accounts.begin_sign_in(conn, server.sealing, wanted.service, state, verifier)
    return SignInView(address=PostingService(wanted.service).sign_in_address(_back(server), state, verifier))


@router.get("/posting/signed-in", response_class=RedirectResponse, status_code=303)
async def end_sign_in(
    server: TheServer,
    state: Annotated[str, Query(max_length=200)] = "",
    code: Annotated[str, Query(max_length=2000)] = "",
    error: Annotated[str, Query(max_length=200)] = "",
) -> RedirectResponse:
    """Where a person comes back to from a service, and is shown House."""
    try:
        async with server.connection() as conn:
            address, verifier = await accounts.end_sign_in(conn, server.sealing, state)
        if error or not code:
            raise NoSuchService("The account was not connected: the service was told not to let us.")
        service = PostingService(address)
        tokens = await service.exchanged(code, verifier, _back(server))
        account, taken = await service.account(tokens.access_token), await service.described()
        async with server.connection() as conn:
            await accounts.connect(conn, server.sealing, address, account, taken, tokens)
    except Refusal as refused:
        return RedirectResponse(f"/house?not-connected={quote_url(str(refused))}#posting", 303)
    return RedirectResponse(f"/house?connected={quote_url(account.name)}#posting", 303)


@router.delete("/posting/accounts/{account_id}", status_code=204)
async def remove_account(account_id: RowId, conn: TheConnection) -> None:
    """Disconnects an account; what was posted by it stays known."""
    await accounts.remove(conn, account_id)


@router.get("/quotes/{quote_id}/posts")
async def list_posts(quote_id: RowId, conn: TheConnection) -> list[PostView]:
    """The posts of a quote, in the order in which they are due."""
    return [post_view(row) for row in await posts.of_quotes(conn, [quote_id])]


@router.get("/posts")
async def list_every_post(conn: TheConnection) -> list[PostView]:
    """The newest posts of all quotes, those that are due last first."""
    return [post_view(row) for row in await posts.newest(conn)]


@router.post("/posts", status_code=201)
async def plan_post(wanted: Planned, conn: TheConnection, server: TheServer) -> PlannedView:
    """Plans a post as a draft."""
    of = await posting_of(conn, server, wanted.quote_id)
    if of.document.version(wanted.destination) is None:
        raise Refused("This quote has no version for that destination. Add one on the workbench.")
    account_id = await _account(conn, wanted)
    settings = await house_posting.now(conn)
    at = due(wanted.wall or await _next_free(conn, settings), wanted.zone or settings.time_zone)
    new = NewPost(
        quote_id=wanted.quote_id, destination=wanted.destination, account_id=account_id, due=at,
        visibility=wanted.visibility, text=of.version(wanted.destination).text,
    )  # fmt: skip
    return _planned([await posts.one(conn, await posts.plan(conn, new))], [at.note])


@router.post("/posts/week", status_code=201)
async def plan_week(week: WeekOfPosts, conn: TheConnection, server: TheServer) -> PlannedView:
    """Spreads versions of quotes over a week, as drafts at the usual time. Days that have a post already are used last. Where one
    of them can't be planned, none is."""
    settings = await house_posting.now(conn)
    monday = monday_of(week.week_of)
    taken = await _days_taken(conn, monday, 7)
    walls = spread(len(week.posts), monday, settings.usual_time, taken, _today(settings) + timedelta(days=1))
    account_id = await _account(conn, week)
    made, notes = [], []
    for (quote_id, destination), wall in zip(week.posts, walls, strict=True):
        await add_lacking_version(conn, server, quote_id, destination, week.by)
        planned = await plan_post(
            Planned(quote_id=quote_id, destination=destination, account_id=account_id, wall=wall), conn, server
        )
        made += planned.posts
        notes += planned.notes
    return PlannedView(posts=made, notes=notes)


async def _account(conn: Connection, wanted: Planned | WeekOfPosts) -> int | None:
    """The account that something is planned for: the one that was told, which may be none, else the first that is signed in.
    Raises `NotFound`."""
    if "account_id" not in wanted.model_fields_set:
        return await accounts.usual(conn)
    if wanted.account_id is not None:
        await accounts.one(conn, wanted.account_id)
    return wanted.account_id


def _today(settings: HousePosting) -> date:
    return datetime.now(zone_named(settings.time_zone)).date()


async def _days_taken(conn: Connection, first: date, days: int) -> set[date]:
    return {row.wall.date() for row in await posts.between(conn, first, first + timedelta(days=days))}


async def _next_free(conn: Connection, settings: HousePosting) -> datetime:
    today = _today(settings)
    return next_free(today, settings.usual_time, await _days_taken(conn, today, SOON_DAYS + 1))


@router.put("/posts/{post_id}/when")
async def move_post(post_id: RowId, wanted: When, conn: TheConnection) -> PlannedView:
    """Has a post due at another time. One that is scheduled stays so."""
    post = await _unsent(conn, post_id)
    at = due(wanted.wall, wanted.zone or post.zone)
    if post.state == "scheduled" and at.at < datetime.now(UTC):
        raise Refused("That time has passed. A scheduled post can be moved to a later one, or be posted now.")
    await posts.move(conn, post_id, at)
    return _planned([await posts.one(conn, post_id)], [at.note])


@router.put("/posts/{post_id}")
async def describe_post(post_id: RowId, wanted: Described, conn: TheConnection) -> PostView:
    """Says where a post goes, and who sees it. One that was scheduled is a draft again."""
    post = await _unsent(conn, post_id)
    if wanted.account_id is not None:
        await accounts.one(conn, wanted.account_id)
    await posts.hold(conn, post_id)
    await posts.describe(conn, post_id, wanted.account_id, wanted.visibility, post.texts)
    return post_view(await posts.one(conn, post_id))


@router.post("/posts/{post_id}/schedule")
async def schedule(post_id: RowId, wanted: Scheduling, server: TheServer) -> PostView:
    """Has a post sent when it is due, or now: with the clip, which is exported where it is not there, and the texts of its
    quote as they are at this moment."""
    return post_view(await schedule_post(server, post_id, again=wanted.again, now=wanted.now))


@router.post("/posts/{post_id}/hold")
async def hold_post(post_id: RowId, conn: TheConnection) -> PostView:
    """Makes a draft of a scheduled post again."""
    await _unsent(conn, post_id)
    await posts.hold(conn, post_id)
    return post_view(await posts.one(conn, post_id))


@router.post("/posts/{post_id}/cancel")
async def cancel_post(post_id: RowId, conn: TheConnection) -> PostView:
    """Gives a post up. One that is being sent is taken back, unless it is seen already."""
    post = await posts.one(conn, post_id, lock=True)
    if post.state not in ("draft", "scheduled", "sending", "failed"):
        raise PostUnderWay("This post is there already. Take it down instead.")
    await posts.cancel(conn, post_id)
    return post_view(await posts.one(conn, post_id))


@router.post("/posts/{post_id}/take-down")
async def take_post_down(post_id: RowId, conn: TheConnection) -> PostView:
    """Has a post taken away from where it was posted."""
    post = await posts.one(conn, post_id, lock=True)
    if post.state != "posted":
        raise PostUnderWay("Only what was posted can be taken down.")
    await posts.take_down(conn, post_id)
    await ask_to_send(conn, post_id)
    return post_view(await posts.one(conn, post_id))


@router.get("/calendar")
async def get_calendar(
    conn: TheConnection,
    first: Annotated[Day | None, Query()] = None,
    weeks: Annotated[int, Query(ge=1, le=_MOST_WEEKS)] = 5,
) -> CalendarView:
    """Weeks of posts from the one that `first` is in, or this one."""
    settings = await house_posting.now(conn)
    today = _today(settings)
    monday = monday_of(first or today)
    rows = await posts.between(conn, monday, monday + timedelta(weeks=weeks))
    return CalendarView(
        zone=settings.time_zone, today=today, usual_time=f"{settings.usual_time:%H:%M}",
        weeks=[_week(monday + timedelta(weeks=n), rows, settings.time_zone) for n in range(weeks)],
    )  # fmt: skip


@router.get("/calendar.ics", response_class=Response, responses={200: {"content": {MEDIA_TYPE: {}}}})
async def get_calendar_file(conn: TheConnection) -> Response:
    """The posts of the last four weeks and of the year to come, for any calendar program."""
    today = datetime.now(UTC).date()
    rows = await posts.between(conn, today - timedelta(weeks=4), today + timedelta(weeks=53))
    events = [
        PlannedEvent(
            uid=f"post-{row.id}@nimble-quote", wall=row.wall, zone=row.zone, address=row.address, tentative=row.state == "draft",
            title=f"{row.texts.title or row.quote_title} · {row.destination_name}{f' · {row.account_name}' if row.account_name else ''}",
            description=row.texts.description,
        )
        for row in rows
    ]  # fmt: skip
    kept = {"content-disposition": 'attachment; filename="posts.ics"'}
    return Response(write_calendar("Posts", events, datetime.now(UTC)), media_type=MEDIA_TYPE, headers=kept)


def _week(monday: date, rows: Sequence[PostRow], zone: str) -> WeekView:
    days = [monday + timedelta(days=n) for n in range(7)]
    return WeekView(
        monday=monday,
        days=[
            DayView(date=day, note=_clocks(day, zone), posts=[post_view(row) for row in rows if row.wall.date() == day])
            for day in days
        ],
    )


def _clocks(day: date, zone: str) -> str:
    """What is said of a day on which the clocks of a zone are changed."""
    there = zone_named(zone)
    start, end = (datetime.combine(day + timedelta(days=n), time(), there).utcoffset() for n in (0, 1))
    if start is None or end is None or start == end:
        return ""
    return "Clocks go forward" if end > start else "Clocks go back"


def _planned(rows: Sequence[PostRow], notes: Sequence[str]) -> PlannedView:
    return PlannedView(posts=[post_view(row) for row in rows], notes=[note for note in notes if note])


async def _unsent(conn: Connection, post_id: int) -> PostRow:
    """A post that nothing was sent of, locked. Raises `PostUnderWay`."""
    post = await posts.one(conn, post_id, lock=True)
    states: tuple[Literal["draft", "scheduled", "failed"], ...] = ("draft", "scheduled", "failed")
    if post.state not in states:
        raise PostUnderWay(f"This post is {post.state} already, and can't be changed.")
    return post


def _back(server: ServerState) -> str:
    return f"http://127.0.0.1:{server.settings.port}{BACK}"


async def _house_view(conn: Connection, server: ServerState) -> HousePostingView:
    settings = await house_posting.now(conn)
    return HousePostingView(
        pattern=settings.pattern, time_zone=settings.time_zone, usual_time=f"{settings.usual_time:%H:%M}", phones=settings.phones,
        names=list(NAMES), zones=sorted(available_timezones()), services=list(server.settings.services),
        accounts=[_account_view(row) for row in await accounts.every(conn)],
        phone_address=server.phones.where, phone_problem=server.phones.problem, next_week=monday_of(_today(settings)) + timedelta(days=7),
    )  # fmt: skip


def _account_view(row: AccountRow) -> AccountView:
    taken = row.taken
    return AccountView(
        id=row.id, service=taken.name, address=row.service, name=row.name, signed_in=row.signed_in, limits=taken.limits,
        longest_ms=taken.longest_ms, largest_mb=taken.largest_mb,
    )  # fmt: skip
