"""What a version of a quote says, for the files that tell it to other programs."""

from nimble_quote.core.assembly import Assembly
from nimble_quote.core.assembly.captions import caption_words, speakers_of
from nimble_quote.core.context import Context
from nimble_quote.core.document import QuoteDocument
from nimble_quote.formats.said import SaidInClip
from nimble_quote.store.recordings import RecordingRow


def said_in(document: QuoteDocument, context: Context, recording: RecordingRow, assembly: Assembly) -> SaidInClip:
    """The words of an assembled version, by the clip's time, and who says them."""
    return SaidInClip(
        title=document.title, recording=recording.title, destination=assembly.destination.name, length_ms=assembly.length_ms,
        words=caption_words(document, context.talk, assembly.sound.played), speakers=speakers_of(context.talk, document),
    )  # fmt: skip
