"""Frames that are offered for a cover: those of a quote that show a face best, looked at once."""

from collections import OrderedDict
from dataclasses import dataclass, field
from pathlib import Path

from nimble_quote.core.context import Context
from nimble_quote.core.covers import CoverLook, cover_moments, in_order
from nimble_quote.core.cutting.kept import kept_spans
from nimble_quote.core.document import QuoteDocument
from nimble_quote.media.covering import looks_of
from nimble_quote.media.files import MediaRoot
from nimble_quote.store.recordings import RecordingRow

_LOOKED_AT, _OFFERED = 12, 8
_KEPT = 400


@dataclass(frozen=True, kw_only=True)
class CoverFrame:
    """A frame that is offered: when in the recording, how sharp the face is against the sharpest of those looked at (0 to 1), and how
    far its eyes are open, in widths of them, where they can be seen."""

    at_ms: int
    sharpness: float
    eyes: float | None


@dataclass
class Covers:
    """What was seen at moments that were looked at last."""

    media: MediaRoot
    mesh: Path
    _seen: "OrderedDict[tuple[str, int], CoverLook]" = field(default_factory=OrderedDict)

    async def offered(
        self, document: QuoteDocument, recording: RecordingRow, context: Context, destination: str
    ) -> list[CoverFrame]:
        """The frames of a version that show a face best, best first. Raises `MediaFailed`."""
        moments = cover_moments(context.sight, kept_spans(document, destination), _LOOKED_AT)
        keys = [(recording.content, one.at_ms) for one in moments]
        known = {key: self._seen[key] for key in keys if key in self._seen}
        new = [one for one, key in zip(moments, keys, strict=True) if key not in known]
        source, size = self.media.store.local(recording.plays), (recording.width, recording.height)
        for one, look in zip(new, await looks_of(source, size, new, self.mesh) if new else (), strict=True):
            known[recording.content, one.at_ms] = look
        self._seen.update(known)
        looks = [known[key] for key in keys]
        while len(self._seen) > _KEPT:
            self._seen.popitem(last=False)
        sharpest = max((look.sharpness for look in looks), default=0.0) or 1.0
        return [
            CoverFrame(
                at_ms=one.at_ms, sharpness=round(look.sharpness / sharpest, 3), eyes=look.eyes and round(look.eyes, 3)
            )
            for one, look in in_order(moments, looks)[:_OFFERED]
        ]
