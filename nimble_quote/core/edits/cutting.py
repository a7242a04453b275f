"""Edits of the cut: edges, joins, words, pauses, rules, and what makes a version fit."""

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from nimble_quote.core.context import Context
from nimble_quote.core.cutting.edges import cut_after, cut_before, instead_of_words
from nimble_quote.core.cutting.kept import kept_spans, struck_spans
from nimble_quote.core.cutting.pauses import LONGEST_MS, Pause, pauses, relaid
from nimble_quote.core.cutting.splitting import is_part_line, part_lines
from nimble_quote.core.cutting.strikes import Rule, RuleName, Strike, strikes
from nimble_quote.core.destinations import seconds
from nimble_quote.core.document import AcceptedNote, Fast, QuoteDocument, Speed, Times
from nimble_quote.core.document.overlays import free_number
from nimble_quote.core.edits.changing import (
    Edge,
    EditRefused,
    changed,
    in_version,
    inside,
    named,
    ordered,
    recut,
    with_edge,
    with_own_edge,
    with_version,
    words_said,
)
from nimble_quote.core.edits.touching import (
    CUT,
    Touches,
    pause_before,
    subject,
    version_of_cut,
    words_and_pauses,
)
from nimble_quote.core.model import Frozen
from nimble_quote.core.timebase import Span, merged, outside, total_ms, without

_LEAST_HOLE_MS = 10
NoteName = Annotated[str, StringConstraints(min_length=1, max_length=120)]


class MoveEdgeToWord(Frozen):
    """Starts the quote with a word, or ends it with one; in one version only, where a destination is named."""

    kind: Literal["move-edge-to-word"] = "move-edge-to-word"
    edge: Edge
    word: int = Field(ge=0)
    destination: str | None = None

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        to_ms = cut_before(context.talk, self.word) if self.edge == "in" else cut_after(context.talk, self.word)
        if self.destination is None:
            return with_edge(document, self.edge, to_ms, context)
        return with_own_edge(document, self.edge, to_ms, self.destination, context)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Moved the {self.edge} point to “{context.talk.word(self.word).text}”{in_version(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        return CUT


class NudgeEdge(Frozen):
    """Moves an edge of the quote by a few milliseconds, later (positive) or earlier; in one version only, where a
    destination is named."""

    kind: Literal["nudge-edge"] = "nudge-edge"
    edge: Edge
    by_ms: int = Field(ge=-10_000, le=10_000)
    destination: str | None = None

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        if self.destination is None:
            at = document.span.start_ms if self.edge == "in" else document.span.end_ms
            return with_edge(document, self.edge, at + self.by_ms, context)
        kept = kept_spans(document, self.destination)
        at = kept[0].start_ms if self.edge == "in" else kept[-1].end_ms
        return with_own_edge(document, self.edge, at + self.by_ms, self.destination, context)

    def said(self, document: QuoteDocument, context: Context) -> str:
        later = "later" if self.by_ms > 0 else "earlier"
        return f"Nudged the {self.edge} point {abs(self.by_ms)} ms {later}{in_version(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        return CUT


class NudgeJoin(Frozen):
    """Moves one side of a join: where the stretch `before` it ends, or the stretch after it begins.

    `at_ms` is where that side is now; `by_ms` moves it later (positive) or earlier.
    """

    kind: Literal["nudge-join"] = "nudge-join"
    side: Literal["before", "after"]
    at_ms: int = Field(ge=0)
    by_ms: int = Field(ge=-10_000, le=10_000)
    destination: str | None = None

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        holes = struck_spans(document, self.destination)
        hole = next((h for h in holes if self.at_ms == (h.start_ms if self.side == "before" else h.end_ms)), None)
        if hole is None:
            raise EditRefused("That join is not there any more. Look at the cut again.")
        start, end = hole.start_ms, hole.end_ms
        start, end = (start + self.by_ms, end) if self.side == "before" else (start, end + self.by_ms)
        start, end = max(start, document.span.start_ms), min(end, document.span.end_ms)
        if end - start < _LEAST_HOLE_MS:
            raise EditRefused("Nothing would be left out there. Put the words back instead.")
        return recut(
            document, self.destination, strike=(Span(start_ms=start, end_ms=end),), restore=(hole,), context=context
        )

    def said(self, document: QuoteDocument, context: Context) -> str:
        later = "later" if self.by_ms > 0 else "earlier"
        return f"Nudged a join {abs(self.by_ms)} ms {later}{in_version(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        return CUT


class StrikeWords(Frozen):
    """Leaves words out of the cut; they stay on the page, struck. In one version only, where a destination is named."""

    kind: Literal["strike-words"] = "strike-words"
    first: int = Field(ge=0)
    last: int = Field(ge=0)
    destination: str | None = None

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        hole = inside(document, instead_of_words(context.talk, *ordered(self.first, self.last, context)))
        return recut(document, self.destination, strike=(hole,), context=context)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Struck “{words_said(context, self.first, self.last)}”{in_version(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        return words_and_pauses(self.first, self.last)


class RestoreWords(Frozen):
    """Puts struck words back; in one version only, where a destination is named."""

    kind: Literal["restore-words"] = "restore-words"
    first: int = Field(ge=0)
    last: int = Field(ge=0)
    destination: str | None = None

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        back = instead_of_words(context.talk, *ordered(self.first, self.last, context))
        cut = recut(document, self.destination, restore=(back,), context=context)
        # What is left of a hole between words that are heard again would be a gap nobody asked for.
        crumbs = [
            piece
            for hole in struck_spans(document, self.destination)
            for piece in without(hole, (back,))
            if piece not in struck_spans(document, self.destination)
            and not context.talk.between(piece.start_ms, piece.end_ms)
        ]
        back_whole = changed(cut, hushed=outside(cut.hushed, (back,)))
        return recut(back_whole, self.destination, restore=crumbs, context=context)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Put back “{words_said(context, self.first, self.last)}”{in_version(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        return words_and_pauses(self.first, self.last)


class SetPause(Frozen):
    """Gives the pause before a word another length; None gives it back the length it was said with."""

    kind: Literal["set-pause"] = "set-pause"
    before: int = Field(ge=0)
    to_ms: int | None = Field(ge=0, le=LONGEST_MS)
    destination: str | None = None

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        pause = self._pause(document, context)
        if pause is None:
            raise EditRefused("There is no pause before that word in the cut.")
        made = relaid(
            pause, pause.said_ms if self.to_ms is None and not pause.join else self._length(pause), context.talk
        )
        hushed = (*outside(document.hushed, (made.between,)), *made.hushed)
        cut = recut(document, self.destination, strike=made.struck, restore=(made.between,), context=context)
        return changed(cut, hushed=merged(hushed))

    def _length(self, pause: Pause) -> int:
        return pause.kept_ms if self.to_ms is None else self.to_ms

    def _pause(self, document: QuoteDocument, context: Context) -> Pause | None:
        return next((p for p in pauses(document, context.talk, self.destination) if p.before == self.before), None)

    def said(self, document: QuoteDocument, context: Context) -> str:
        word = context.talk.word(self.before).text
        if self.to_ms is None:
            return f"Restored the pause before “{word}”{in_version(self.destination, context)}"
        return f"Made the pause before “{word}” {self.to_ms / 1000:.2f} s{in_version(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        return pause_before(self.before)


class StrikeByRule(Frozen):
    """Leaves out all that a rule finds in the cut, but for the places named in `but`."""

    kind: Literal["strike-by-rule"] = "strike-by-rule"
    rule: Rule
    but: tuple[str, ...] = Field(default=(), max_length=2000)
    destination: str | None = None

    def _found(self, document: QuoteDocument, context: Context) -> list[Strike]:
        return [one for one in strikes(document, context.talk, self.rule, self.destination) if one.id not in self.but]

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        found = self._found(document, context)
        if not found:
            raise EditRefused("There is nothing of that kind in the cut.")
        return recut(document, self.destination, strike=[one.span for one in found], context=context)

    def said(self, document: QuoteDocument, context: Context) -> str:
        found = self._found(document, context)
        gain = seconds(sum(one.gain_ms for one in found))
        return (
            f"Struck {_RULES_SAID[self.rule.name]} by rule: {len(found)}, {gain}{in_version(self.destination, context)}"
        )

    def touches(self, context: Context) -> Touches:
        return CUT


_RULES_SAID: dict[RuleName, str] = {
    "fillers": "fillers",
    "repeats": "false starts",
    "stammers": "stammers",
    "pauses": "long pauses",
    "interjections": "interjections",
}


class StrikeSpans(Frozen):
    """Leaves out stretches that were proposed to make a version fit, and sets its speed."""

    kind: Literal["strike-spans"] = "strike-spans"
    spans: tuple[Span, ...] = Field(max_length=2000)
    speed: Speed | None = None
    destination: str | None = None

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        holes = [inside(document, span) for span in self.spans]
        document = recut(document, self.destination, strike=holes, context=context)
        if self.speed is None or self.destination is None:
            return document
        return with_version(document, self.destination, speed=self.speed)

    def said(self, document: QuoteDocument, context: Context) -> str:
        kept = kept_spans(document, self.destination)
        gone = total_ms(kept) - total_ms(outside(kept, self.spans))
        faster = f", {self.speed:.2f} times as fast" if self.speed and self.speed != 1 else ""
        return f"Made it fit: {seconds(gone)} left out{faster}{in_version(self.destination, context)}"

    def touches(self, context: Context) -> Touches:
        return CUT if self.destination is None else (*CUT, *version_of_cut(self.destination))


class PlayFast(Frozen):
    """Plays a stretch in which something is shown and nothing is said faster, with its sound or silent, in every version; `times`
    None plays it as it was again."""

    kind: Literal["play-fast"] = "play-fast"
    span: Span
    times: Times | None
    silent: bool = False

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        span = inside(document, self.span)
        others = [
            Fast(span=left, times=one.times, silent=one.silent)
            for one in document.fast
            for left in without(one.span, (span,))
        ]
        if self.times is not None:
            others.append(Fast(span=span, times=self.times, silent=self.silent))
        return changed(document, fast=sorted(others, key=lambda one: one.span.start_ms))

    def said(self, document: QuoteDocument, context: Context) -> str:
        length = seconds(self.span.length_ms)
        if self.times is None:
            return f"Played {length} at the speed it was again"
        return f"Played {length} {self.times:g} times as fast{', silent' if self.silent else ''}"

    def touches(self, context: Context) -> Touches:
        return CUT


class CutAsBase(Frozen):
    """Drops what one version cuts differently: it is cut as all others again."""

    kind: Literal["cut-as-base"] = "cut-as-base"
    destination: str

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        return with_version(document, self.destination, struck=(), restored=(), speed=1.0)

    def said(self, document: QuoteDocument, context: Context) -> str:
        return f"Cut {named(self.destination, context)} as the others"

    def touches(self, context: Context) -> Touches:
        return (*CUT, *version_of_cut(self.destination))


class AcceptNote(Frozen):
    """Lets stand what a check found, for a reason; an empty reason takes that back. `also` is what else is found of the same kind."""

    kind: Literal["accept-note"] = "accept-note"
    what: NoteName
    also: tuple[NoteName, ...] = Field(default=(), max_length=500)
    reason: str = Field(max_length=500)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        about = dict.fromkeys((self.what, *self.also))
        others = tuple(one for one in document.accepted if one.what not in about)
        reason = self.reason.strip()
        kept = tuple(AcceptedNote(what=one, reason=reason) for one in about) if reason else ()
        return changed(document, accepted=(*others, *kept))

    def said(self, document: QuoteDocument, context: Context) -> str:
        rule = self.what.split(":")[0].replace("-", " ")
        return (
            f"Accepted a note on {rule}: {self.reason.strip()}" if self.reason.strip() else f"Reopened a note on {rule}"
        )

    def touches(self, context: Context) -> Touches:
        return tuple(touch for one in (self.what, *self.also) for touch in subject(f"note {one}"))


class SetPartLines(Frozen):
    """Sets the lines that a part begins and ends with."""

    kind: Literal["set-part-lines"] = "set-part-lines"
    recap: str = Field(max_length=120)
    end_line: str = Field(max_length=120)

    def applied(self, document: QuoteDocument, context: Context) -> QuoteDocument:
        if document.part is None:
            raise EditRefused("This quote is not a part of a longer one.")
        others = [one for one in document.overlays if not is_part_line(one)]
        lines = part_lines(self.recap, self.end_line, free_number(others))
        return changed(document, overlays=(*others, *lines))

    def said(self, document: QuoteDocument, context: Context) -> str:
        return "Set the lines of the part"

    def touches(self, context: Context) -> Touches:
        return subject("part lines")
