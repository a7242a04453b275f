"""The tasks of the queue, each a thin declaration."""

from procrastinate import JobContext

from nimble_quote.jobs import export
from nimble_quote.jobs.align import align_words
from nimble_quote.jobs.fetch import fetch_recording
from nimble_quote.jobs.housekeeping import tidy
from nimble_quote.jobs.inbox import take_from_inbox
from nimble_quote.jobs.prepare import prepare
from nimble_quote.jobs.queue import EXPORT, WORK, enqueue_export, enqueue_work, queue
from nimble_quote.jobs.transcribe import transcribe
from nimble_quote.jobs.working import Doing, do_work
from nimble_quote.jobs.workshop import Workshop
from nimble_quote.store import exports, work
from nimble_quote.store.database import NotFound
from nimble_quote.store.work import WorkKind

STALLED_AFTER_S = 8.0

DOING: dict[WorkKind, Doing] = {
    "prepare": prepare,
    "align": align_words,
    "transcribe": transcribe,
    "fetch": fetch_recording,
}
"""What each kind of work does. To add one: its name in the schema, a module, a line here."""


def _shop(context: JobContext) -> Workshop:
    shop = context.additional_context["workshop"]
    assert isinstance(shop, Workshop)
    return shop


@queue.task(name=WORK, pass_context=True)
async def work_on(context: JobContext, work_id: int) -> None:
    """See `working.do_work`."""
    try:
        await do_work(_shop(context), work_id, DOING)
    except NotFound:
        return


@queue.task(name=EXPORT, pass_context=True)
async def export_clip(context: JobContext, export_id: int) -> None:
    """See `export.export_clip`."""
    try:
        await export.export_clip(_shop(context), export_id)
    except NotFound:
        return


@queue.periodic(cron="* * * * * */5")
@queue.task(name="take-up-stalled", pass_context=True, queue="upkeep", queueing_lock="take-up-stalled", priority=20)
async def take_up_stalled(context: JobContext, timestamp: int) -> None:
    """Queues again what nobody does any more. The queue leaves a job of a killed worker as being done for ever, and one
    of a worker that was stopped as aborted: what stands as waiting or going on must have a job that is neither."""
    for job in await queue.job_manager.get_stalled_jobs(seconds_since_heartbeat=STALLED_AFTER_S):
        await queue.job_manager.retry_job(job)
    async with _shop(context).pool.connection() as conn:
        for work_id, kind in await work.unattended(conn):
            await enqueue_work(conn, work_id, kind)
        for export_id in await exports.unattended(conn):
            await enqueue_export(conn, export_id)


@queue.periodic(cron="* * * * * */5")
@queue.task(name="look-into-inbox", pass_context=True, queue="upkeep", queueing_lock="look-into-inbox", lock="inbox")
async def look_into_inbox(context: JobContext, timestamp: int) -> None:
    """See `inbox.take_from_inbox`."""
    await take_from_inbox(_shop(context))


@queue.periodic(cron="17 * * * *")
@queue.task(name="tidy", pass_context=True, queue="upkeep", queueing_lock="tidy")
async def tidy_up(context: JobContext, timestamp: int) -> None:
    """See `housekeeping.tidy`."""
    await tidy(_shop(context))
