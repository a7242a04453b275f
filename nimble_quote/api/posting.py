"""What a quote is posted with, for each of its destinations; and planning and scheduling its posts."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime

from nimble_quote.api.editing import make_edit
from nimble_quote.api.exporting import ExportRequest, ask_for_all
from nimble_quote.api.state import ServerState, loaded
from nimble_quote.api.views.posting import ClipState, PostView, VersionText
from nimble_quote.core.assembly import assemble
from nimble_quote.core.assembly.captions import speakers_of
from nimble_quote.core.context import Context
from nimble_quote.core.credits import credits_owed
from nimble_quote.core.cutting.kept import kept_words, text_of
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.document.posting import PostText
from nimble_quote.core.edits import AddVersion
from nimble_quote.core.posting.checking import text_faults
from nimble_quote.core.posting.counting import TextLimits, counted, tighter
from nimble_quote.core.posting.drafting import drafted, excerpt, suggested_tags, written_out
from nimble_quote.core.posting.filling import filled
from nimble_quote.core.refusal import Refused
from nimble_quote.jobs.posting import ask_to_send
from nimble_quote.store import accounts, exports, house_posting, posts, quotes, recordings
from nimble_quote.store.database import Connection
from nimble_quote.store.posts import PostedTwice, PostRow, PostUnderWay
from nimble_quote.store.quotes import QuoteRow
from nimble_quote.store.recordings import RecordingRow

_WHOLE = 1_000_000
_MOST_TAGS = 8


class NotReady(Refused):
    """A post that can't be sent as it is; the message says what to change."""

    code = "post-not-ready"


@dataclass(frozen=True, kw_only=True)
class PostingOf:
    """A quote, and what its texts are made of."""

    quote: QuoteRow
    recording: RecordingRow
    context: Context
    draft: PostText
    tags: tuple[str, ...]

    @property
    def document(self) -> QuoteDocument:
        return self.quote.document

    def written(self, destination: str | None = None) -> PostText:
        """What was written for a destination, or for all; else the draft."""
        return self.document.posting.written(destination) or self.draft

    def values(self, destination: str) -> dict[str, str]:
        """What the names in braces stand for in the texts of a version."""
        place = self.context.catalogue.destination(destination)
        words = written_out(text_of(kept_words(self.document, self.context.talk, destination), most=_WHOLE))
        assembly = assemble(self.document, self.context, self.recording.facts, place)
        credits = credits_owed(assembly, self.context.catalogue)
        held = self.recording.held_on
        return {
            "words": excerpt(words), "quote": self.document.title, "speaker": self.speaker,
            "recording": self.recording.title, "series": self.recording.series or "",
            "date": f"{held.day} {held:%B %Y}" if held else "", "link": self.recording.link,
            "credits": "\n".join(f"{one.name}: {one.licence}" for one in credits), "destination": place.name,
        }  # fmt: skip

    @property
    def speaker(self) -> str:
        return _speaker(self.context, self.document)

    def version(self, destination: str, text: PostText | None = None, account: TextLimits | None = None) -> VersionText:
        """The texts of a version, or other ones in their place, as they would be sent; kept also to what an account takes."""
        place = self.context.catalogue.destination(destination)
        limits = tighter(place.texts, account) if account else place.texts
        sent = filled(text or self.written(destination), self.values(destination))
        return VersionText(
            destination=destination, name=place.name, text=sent, counted=list(counted(sent, limits)),
            faults=text_faults(sent, limits, place.name), limits=limits,
        )  # fmt: skip


async def posting_of(conn: Connection, server: ServerState, quote_id: int) -> PostingOf:
    """A quote with the draft of what it is posted with. Raises `NotFound`."""
    quote, recording, context = await loaded(conn, server, quote_id)
    settings = await house_posting.now(conn)
    words = written_out(text_of(kept_words(quote.document, context.talk), most=_WHOLE))
    phrases = await _phrases(conn, server, recording, quote.document, context) if words else []
    draft = drafted(
        words, quote.document.title, settings.pattern, phrases, _speaker(context, quote.document), recording.title
    )
    tags = suggested_tags(words, phrases, _MOST_TAGS)
    return PostingOf(quote=quote, recording=recording, context=context, draft=draft, tags=tags)


def _speaker(context: Context, document: QuoteDocument) -> str:
    return ", ".join(name for name in speakers_of(context.talk, document) if name)


async def _phrases(
    conn: Connection, server: ServerState, recording: RecordingRow, document: QuoteDocument, context: Context
) -> list[str]:
    """The key phrases of a talk, those of the topics that a quote lies in first."""
    finder = await server.finders.of(conn, recording)
    words = kept_words(document, context.talk)
    first, last = finder.sentences_of(words[0].index, words[-1].index)
    near = [one for one in finder.topics if one.first <= last and one.last >= first]
    return [phrase for one in (*near, *(far for far in finder.topics if far not in near)) for phrase in one.phrases]


async def add_lacking_version(
    conn: Connection, server: ServerState, quote_id: int, destination: str, by: str | None
) -> None:
    """Has a quote be for a destination, where it is not yet. Raises `NotFound`, or `EditRefused`."""
    quote = await quotes.one(conn, quote_id, lock=True)
    if quote.document.version(destination) is not None:
        return
    recording = await recordings.one(conn, quote.recording_id)
    context = await server.contexts.around(conn, recording, quote.document.span)
    await make_edit(conn, quote, AddVersion(destination=destination), context, by)


def post_view(row: PostRow) -> PostView:
    """A post as it stands."""
    return PostView(
        id=row.id, quote_id=row.quote_id, quote_title=row.quote_title, recording_id=row.recording_id,
        recording_title=row.recording_title, destination=row.destination, destination_name=row.destination_name, shape=row.shape,
        account_id=row.account_id, account=row.account_name, service=row.service, export_id=row.export_id, clip=_clip(row),
        state=row.state, wall=row.wall, zone=row.zone, due_at=row.due_at, visibility=row.visibility, text=row.texts,
        address=row.address, cancelling=row.cancel_requested and row.state == "sending", problem=row.problem,
        posted_at=row.posted_at, progress=row.progress,
    )  # fmt: skip


def _clip(row: PostRow) -> ClipState:
    if row.export_id is None or row.export_state is None:
        return "none"
    if row.file_path is None:
        return "failed" if row.export_state in ("failed", "stopped") else "making"
    return "ready" if row.export_current else "changed"


async def schedule_post(server: ServerState, post_id: int, *, again: bool = False, now: bool = False) -> PostRow:
    """Has a draft sent when it is due, or now, with the clip and the texts of its quote as they are at this moment.

    Raises `NotReady`, `PostedTwice` where that clip is there already and it was not asked for `again`, `PostUnderWay`, or `Held`.
    """
    async with server.connection() as conn:
        post = await posts.one(conn, post_id)
        _refuse_unfit(post)
        if not now and post.due_at < datetime.now(UTC):
            raise NotReady("That time has passed. Move the post to a later one, or post it now.")
        assert post.account_id is not None
        account = await accounts.one(conn, post.account_id)
        before = await posts.posted_before(conn, post.quote_id, post.destination, post.account_id)
        if before is not None and not again:
            raise PostedTwice(
                f"This clip was posted to {account.name} on {before.day} {before:%B %Y} already. Post it there once more?"
            )
        if not account.signed_in:
            raise NotReady(f"The account {account.name} is signed out. Connect it again in House, under Posting.")
        of = await posting_of(conn, server, post.quote_id)
        if of.document.version(post.destination) is None:
            raise NotReady(
                f"The quote has no version for {post.destination_name} any more. Add one, or cancel this post."
            )
        version = of.version(post.destination, account=account.texts)
        if version.faults:
            raise NotReady(" ".join(version.faults))
        _refuse_long(of, post.destination, account.taken.longest_ms, account.taken.name)
    export_id = await _clip_for(server, post)
    async with server.connection() as conn:
        _refuse_unfit(await posts.one(conn, post_id, lock=True))
        if now:
            await posts.move_to_now(conn, post_id)
        await posts.schedule(conn, post_id, export_id, version.text)
        if now:
            await ask_to_send(conn, post_id)
        return await posts.one(conn, post_id)


def _refuse_unfit(post: PostRow) -> None:
    if post.state not in ("draft", "scheduled", "failed", "cancelled"):
        raise PostUnderWay(f"This post is {post.state} already.")
    if post.account_id is None:
        raise NotReady("Choose the account that this goes to. Accounts are connected in House, under Posting.")


def _refuse_long(of: PostingOf, destination: str, longest_ms: int, service: str) -> None:
    place = of.context.catalogue.destination(destination)
    length = assemble(of.document, of.context, of.recording.facts, place).length_ms
    if length > longest_ms:
        raise NotReady(
            f"The clip is {(length - longest_ms) / 1000:.1f} s over what {service} takes. Shorten it in Trim."
        )


async def _clip_for(server: ServerState, post: PostRow) -> int:
    """The export that a post sends: the newest of its version as it is now, or one that is asked for."""
    async with server.connection() as conn:
        ready = await exports.ready(conn, post.quote_id, post.destination)
    if ready is not None:
        return ready
    asked = await ask_for_all(server, post.quote_id, ExportRequest(destinations=[post.destination]))
    if asked:
        return asked[0]
    async with server.connection() as conn:
        return await exports.under_way(conn, post.quote_id, post.destination)


def names_of(values: Mapping[str, str]) -> dict[str, str]:
    """What names in braces stand for, those that stand for something first."""
    return dict(sorted(values.items(), key=lambda item: not item[1]))
