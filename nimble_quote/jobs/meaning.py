"""Reading talks for what they mean, so that they can be searched by it: in the background, whenever their words are new."""

import time

from nimble_quote.core.search.meaning import packed, thoughts
from nimble_quote.jobs.state import WorkerState
from nimble_quote.media.vectors import MODEL, MeaningMissing, vectors_of, weights
from nimble_quote.store import meanings
from nimble_quote.store.meanings import Thought, sum_of

_AT_MOST_S = 30.0
"""After so long other work of the background has its turn."""


async def read_for_meaning(worker: WorkerState) -> None:
    """Reads the talks that wait for it, as many as there is time for; none where there are no weights."""
    if not worker.settings.search_by_meaning:
        return
    try:
        weights()
    except MeaningMissing:
        return
    until = time.monotonic() + _AT_MOST_S
    async with worker.pool.connection() as conn:
        waiting = await meanings.waiting(conn, MODEL)
    for recording_id in waiting:
        await _read(worker, recording_id)
        if time.monotonic() > until:
            return


async def _read(worker: WorkerState, recording_id: int) -> None:
    """Reads one talk. What is said as before keeps its vector: a corrected word costs one thought."""
    async with worker.pool.connection() as conn:
        said = await meanings.said(conn, recording_id)
        known = await meanings.known(conn, recording_id, MODEL)
    if said is None:
        return
    runs = thoughts([len(one) for one in said.sentences])
    texts = [" ".join(word for one in said.sentences[first:end] for word in one) for first, end in runs]
    new = [text for text in dict.fromkeys(texts) if sum_of(text) not in known]
    found = packed(await worker.computing.compute(vectors_of, new)) if new else ()
    known |= {sum_of(text): vector for text, vector in zip(new, found, strict=True)}
    made = [
        Thought(
            first=first, end=end, words=sum(map(len, said.sentences[first:end])), sum=sum_of(text),
            vector=known[sum_of(text)],
        )
        for (first, end), text in zip(runs, texts, strict=True)
    ]  # fmt: skip
    async with worker.pool.connection() as conn:
        await meanings.keep(conn, recording_id, said.words_version, MODEL, made)
