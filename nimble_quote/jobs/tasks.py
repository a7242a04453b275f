"""The tasks of the queue, each a thin declaration."""

from procrastinate import JobContext
from procrastinate.exceptions import UniqueViolation
from procrastinate.jobs import Status

from nimble_quote.jobs.align import align_words
from nimble_quote.jobs.export import export_clip
from nimble_quote.jobs.fetch import fetch_recording
from nimble_quote.jobs.follow import follow_thing
from nimble_quote.jobs.housekeeping import tidy
from nimble_quote.jobs.inbox import take_from_inbox
from nimble_quote.jobs.meaning import read_for_meaning
from nimble_quote.jobs.posting import ask_for_due, send_post
from nimble_quote.jobs.prepare import prepare
from nimble_quote.jobs.queue import WORK, enqueue, queue
from nimble_quote.jobs.state import WorkerState
from nimble_quote.jobs.transcribe import transcribe
from nimble_quote.jobs.webhooks import deliver
from nimble_quote.jobs.working import Doing, do_work
from nimble_quote.store import work
from nimble_quote.store.database import NotFound
from nimble_quote.store.work import WorkKind

STALLED_AFTER_S = 8.0

DOING: dict[WorkKind, Doing] = {
    "prepare": prepare,
    "align": align_words,
    "transcribe": transcribe,
    "fetch": fetch_recording,
    "export": export_clip,
    "follow": follow_thing,
    "post": send_post,
}
"""What each kind of work does. To add one: its name in the schema, a module, a line here."""


def _worker(context: JobContext) -> WorkerState:
    worker = context.additional_context["worker"]
    assert isinstance(worker, WorkerState)
    return worker


@queue.task(name=WORK, pass_context=True)
async def work_on(context: JobContext, work_id: int) -> None:
    """See `working.do_work`."""
    try:
        await do_work(_worker(context), work_id, DOING)
    except NotFound:
        return


@queue.periodic(cron="* * * * * */5")
@queue.task(name="take-up-stalled", pass_context=True, queue="upkeep", queueing_lock="take-up-stalled", priority=20)
async def take_up_stalled(context: JobContext, timestamp: int) -> None:
    """Queues again what nobody does any more. The queue leaves a job of a killed worker as being done for ever, and one
    of a worker that was stopped as aborted: what stands as waiting or going on must have a job that is neither."""
    for job in await queue.job_manager.get_stalled_jobs(seconds_since_heartbeat=STALLED_AFTER_S):
        try:
            await queue.job_manager.retry_job(job)
        except UniqueViolation:
            # The next of its kind is queued already: that one does it.
            await queue.job_manager.finish_job(job, Status.FAILED, delete_job=True)
    async with _worker(context).pool.connection() as conn:
        for row in await work.unattended(conn):
            await enqueue(conn, row)


@queue.periodic(cron="* * * * * */5")
@queue.task(name="send-due", pass_context=True, queue="upkeep", queueing_lock="send-due", lock="send-due")
async def send_due(context: JobContext, timestamp: int) -> None:
    """See `posting.ask_for_due`."""
    async with _worker(context).pool.connection() as conn:
        await ask_for_due(conn)


@queue.periodic(cron="* * * * * */5")
@queue.task(
    name="deliver-webhooks", pass_context=True, queue="upkeep", queueing_lock="deliver-webhooks", lock="webhooks"
)
async def deliver_webhooks(context: JobContext, timestamp: int) -> None:
    """See `webhooks.deliver`."""
    await deliver(_worker(context))


@queue.periodic(cron="* * * * * */5")
@queue.task(name="look-into-inbox", pass_context=True, queue="upkeep", queueing_lock="look-into-inbox", lock="inbox")
async def look_into_inbox(context: JobContext, timestamp: int) -> None:
    """See `inbox.take_from_inbox`."""
    await take_from_inbox(_worker(context))


@queue.periodic(cron="* * * * * */5")
@queue.task(name="read-for-meaning", pass_context=True, queue="background", queueing_lock="meaning", lock="meaning")
async def read_talks_for_meaning(context: JobContext, timestamp: int) -> None:
    """See `meaning.read_for_meaning`."""
    await read_for_meaning(_worker(context))


@queue.periodic(cron="17 * * * *")
@queue.task(name="tidy", pass_context=True, queue="upkeep", queueing_lock="tidy")
async def tidy_up(context: JobContext, timestamp: int) -> None:
    """See `housekeeping.tidy`."""
    await tidy(_worker(context))
