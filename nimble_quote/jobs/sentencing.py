"""Cutting the words of a talk into sentences anew, when more is known of where they end: pauses, marks, the language."""

import asyncio

from nimble_quote.core.transcript.document import Transcript, resentenced
from nimble_quote.formats.languages import language
from nimble_quote.media.likelihoods import ends_by_wording
from nimble_quote.store import recordings, transcripts
from nimble_quote.store.database import Connection


async def keep_in_sentences(conn: Connection, recording_id: int, words: Transcript, marks_by_ear: bool = False) -> bool:
    """Keeps the words of a talk, with the times and marks that they have now, in the sentences that these tell of; False where
    those are the ones it has, and nothing was kept. Call with the transcript locked.

    Where somebody corrected the words it is one correction more, which can be undone, and ends that were set by hand stay.
    """
    spoken = (await recordings.one(conn, recording_id)).language
    by_hand = await transcripts.ends_set_by_hand(conn, recording_id)
    known = (language(spoken), ends_by_wording(spoken))
    anew = await asyncio.to_thread(resentenced, words, *known, marks_by_ear, by_hand)
    if anew.sentences == words.sentences:
        return False
    if await transcripts.was_corrected(conn, recording_id):
        await transcripts.retime(conn, recording_id, words)
        head, before = await transcripts.head(conn, recording_id), await transcripts.load(conn, recording_id)
        await transcripts.revise(conn, recording_id, head.revision, before, anew, transcripts.ENDS_FOUND)
    else:
        await transcripts.resentence(conn, recording_id, anew)
    return True
