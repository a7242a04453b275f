"""The plain cut: what a quote keeps, whole and in the recording's shape, without anything over it."""

from nimble_quote.core.assembly import Assembly, RecordingFacts, assemble
from nimble_quote.core.context import Context
from nimble_quote.core.destinations import Destination
from nimble_quote.core.document import Captions, Choice, Framing, QuoteDocument
from nimble_quote.core.refusal import Refused

PLAIN = "plain"
_LONGEST_MS, _LARGEST_MB = 6 * 3_600_000, 100_000


class NoPicture(Refused):
    """A picture is asked for of a recording that has none."""

    code = "nothing-to-show"


def plain_cut(document: QuoteDocument, context: Context, facts: RecordingFacts) -> Assembly:
    """The cut that all versions share, as large as the recording, with its own colours and sound. Raises `NoPicture`."""
    if not facts.has_picture:
        raise NoPicture("This recording has no picture. Export its sound instead.")
    place = Destination(
        id=PLAIN, name="Plain cut", shape="source", width=facts.width // 2 * 2, height=facts.height // 2 * 2,
        limit_ms=_LONGEST_MS, largest_mb=_LARGEST_MB,
    )  # fmt: skip
    bare = document.model_copy(
        update={
            "captions": Captions(shown=False), "overlays": (), "finish": None, "finish_held": None,
            "framing": Framing(usual=Choice(layout="whole")), "treatments": {}, "versions": (),
        }
    )  # fmt: skip
    return assemble(bare, context, facts, place)
