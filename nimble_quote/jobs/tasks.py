"""The tasks of the queue, each a thin declaration."""

from procrastinate import JobContext

from nimble_quote.jobs import export, prepare
from nimble_quote.jobs.queue import EXPORT, PREPARE, queue
from nimble_quote.jobs.workshop import Workshop
from nimble_quote.store.database import NotFound

STALLED_AFTER_S = 8.0


def _shop(context: JobContext) -> Workshop:
    shop = context.additional_context["workshop"]
    assert isinstance(shop, Workshop)
    return shop


@queue.task(name=PREPARE, pass_context=True)
async def prepare_recording(context: JobContext, recording_id: int) -> None:
    """See `prepare.prepare_recording`."""
    try:
        await prepare.prepare_recording(_shop(context), recording_id)
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
@queue.task(name="take-up-stalled", pass_context=True, queueing_lock="take-up-stalled")
async def take_up_stalled(context: JobContext, timestamp: int) -> None:
    """Queues again what a killed worker left undone: the queue itself leaves such a job as being done for ever."""
    for job in await queue.job_manager.get_stalled_jobs(seconds_since_heartbeat=STALLED_AFTER_S):
        await queue.job_manager.retry_job(job)
