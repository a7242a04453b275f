"""Telling other programs what happened: signed, and told again until they take it."""

import asyncio

from nimble_quote.jobs.state import WorkerState
from nimble_quote.services.webhooks import NotTaken, deliver_to
from nimble_quote.store import webhooks
from nimble_quote.store.sealing import SealBroken
from nimble_quote.store.webhooks import DeliveryRow


async def deliver(worker: WorkerState) -> None:
    """Tells what waits. One that is slow keeps the others waiting no longer than its time-out."""
    async with worker.pool.connection() as conn:
        waiting = await webhooks.waiting(conn)
    await asyncio.gather(*(_told(worker, one) for one in waiting))


async def _told(worker: WorkerState, one: DeliveryRow) -> None:
    try:
        secret = worker.sealing.opened(one.secret)
        answered = await deliver_to(one.address, secret, str(one.id), one.event, one.created_at, one.body)
    except (NotTaken, SealBroken) as failed:
        async with worker.pool.connection() as conn:
            await webhooks.not_delivered(conn, one.id, getattr(failed, "answered", None), str(failed))
        return
    async with worker.pool.connection() as conn:
        await webhooks.delivered(conn, one.id, answered)
