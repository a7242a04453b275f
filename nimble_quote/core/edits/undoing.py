"""One change of a quote undone where others have changed it since.

What the change made different (`before` to `after`) is undone in the document as it is `now`, piece by piece. A piece that
somebody has changed again is theirs, and can't be undone by itself:

        struck   before   ----------------
                 after    ---[mine]-------
                 now      ---[mine]--[x]--
                 undone   -----------[x]--

Documents are compared and not edits made again: words have other places in a talk that was corrected meanwhile.
"""

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from pydantic import ValidationError

from nimble_quote.core.catalogue import Catalogue
from nimble_quote.core.document import QuoteDocument, Treatment
from nimble_quote.core.refusal import Conflict
from nimble_quote.core.timebase import Span, merged, outside

_KEYS = {
    "versions": "destination", "overlays": "id", "corrections": "word", "accepted": "what", "pins": "first",
    "shots": "span", "placed": "panel", "rests": "from_ms", "fast": "span",
}  # fmt: skip
"""Lists whose entries have a name of their own, and what it is."""
_SPANS = ("struck", "restored", "hushed")
_GONE = object()


class BuiltOn(Conflict):
    """A change can't be undone by itself: what it changed was changed again."""

    code = "built-on"


def without_change(
    before: QuoteDocument, after: QuoteDocument, now: QuoteDocument, catalogue: Catalogue
) -> QuoteDocument:
    """The document as it is now, without one change of it. Raises `BuiltOn`."""
    shapes = {*before.treatments, *after.treatments, *now.treatments}
    undone = _undone(_with_all(before, shapes), _with_all(after, shapes), _with_all(now, shapes))
    first = Treatment().model_dump(mode="json")
    undone["treatments"] = {
        shape: one
        for shape, one in undone["treatments"].items()
        if one != first or (shape in before.treatments and shape in now.treatments)
    }
    undone["versions"].sort(key=lambda version: catalogue.position(version["destination"]))
    try:
        return QuoteDocument.model_validate(undone)
    except ValidationError as impossible:
        raise BuiltOn("What was changed since needs it.") from impossible


def _with_all(document: QuoteDocument, shapes: Iterable[str]) -> dict[str, Any]:
    """A document with the treatment told of every shape, also where it is that which a new one begins with."""
    told = document.model_dump(mode="json")
    first = Treatment().model_dump(mode="json")
    return {**told, "treatments": {shape: told["treatments"].get(shape, first) for shape in sorted(shapes)}}


def _undone(before: Any, after: Any, now: Any, name: str = "") -> Any:
    if before == after:
        return now
    if now == after:
        return before
    if name in _SPANS:
        return _spans_undone(before, after, now)
    if name in _KEYS and isinstance(before, Sequence) and isinstance(after, Sequence) and isinstance(now, Sequence):
        key = _KEYS[name]
        was, became, there = ({_named(one[key]): one for one in several} for several in (before, after, now))
        left = list(_undone(was, became, there).values())
        return sorted(left, key=_time) if name in ("shots", "fast") else left
    if isinstance(now, Mapping) and isinstance(before, Mapping) and isinstance(after, Mapping):
        keys = [*now, *(key for key in before if key not in now)]
        made = {
            key: _undone(before.get(key, _GONE), after.get(key, _GONE), now.get(key, _GONE), str(key)) for key in keys
        }
        return {key: value for key, value in made.items() if value is not _GONE}
    raise BuiltOn("It was changed again since.")


def _named(value: Any) -> Any:
    return tuple(sorted(value.items())) if isinstance(value, Mapping) else value


def _time(shot: Any) -> tuple[int, int]:
    return shot["span"]["start_ms"], shot["span"]["end_ms"]


def _spans_undone(before: Sequence[Any], after: Sequence[Any], now: Sequence[Any]) -> list[Any]:
    """Stretches without those that were added, and with those that were taken away."""
    was, became, there = (tuple(Span.model_validate(one) for one in several) for several in (before, after, now))
    added, taken = outside(became, was), outside(was, became)
    if outside(added, there) or outside(taken, there) != taken:
        raise BuiltOn("It was changed again since.")
    return [span.model_dump() for span in merged((*outside(there, added), *taken))]
