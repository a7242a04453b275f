"""What stands over the picture: what burning all of it in costs, whether free places are found and how fast, and whether what stands at
words stays there."""

import random
import time
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

from nimble_quote.core.assembly import PlacedLines, assemble
from nimble_quote.core.assembly.overlays.places import AIR, Obstacle, Wanted, clear, stands
from nimble_quote.core.context import Context
from nimble_quote.core.cutting.kept import kept_spans, kept_words
from nimble_quote.core.destinations import Area
from nimble_quote.core.document import (
    At,
    Mark,
    NameStrap,
    Progress,
    QuoteDocument,
    SoundWave,
    TimeLeft,
    TitleLines,
    What,
)
from nimble_quote.core.edits import (
    AddOverlay,
    EditRefused,
    RestoreWords,
    Shows,
    StrikeWords,
    apply_edit,
    new_quote,
)
from nimble_quote.core.talk import Levels
from nimble_quote.demo.load import joined
from nimble_quote.media.render import Source
from tests.bench.export import ROUNDS, assembly_of, bare_of, ours_of, timed
from tests.bench.table import Row
from tests.shipped import DESTINATIONS
from tests.talks import HD, context_of, talk_of

EVERYTHING: tuple[What, ...] = (
    TitleLines(text="Keep the wick short", second="Lamp-oil talk"),
    NameStrap(name="Maren Tolley", role="Lamp keeper", look={"entrance": "slide", "exit": "fade"}),
    Progress(edge="around", colour="#F2C14E"),
    TimeLeft(),
    SoundWave(form="bars", height=0.06),
    Mark(form="ring", points=(At(x=0.45, y=0.3), At(x=0.55, y=0.5))),
)
_SETS, _EDITS = 500, 1000


def measure(scratch: Path) -> Iterator[Row]:
    """Each figure of what stands over the picture."""
    yield _places()
    yield _solving()
    yield _at_their_words()
    yield _export(scratch)


def _export(scratch: Path) -> Row:
    media = joined("keep-the-wick-short", "original.mp4", scratch / "finish.mp4")
    source = Source(path=media)
    full = assembly_of(media, *(AddOverlay(what=one) for one in EVERYTHING))
    used = {"full": 0.0, "bare": 0.0}
    for number in range(ROUNDS):
        for name, work in (("bare", bare_of), ("full", ours_of)):
            folder = scratch / f"finish-{name}-{number}"
            folder.mkdir()
            used[name] += timed(lambda folder=folder, work=work: work(full, source, folder))[1]
    times = used["full"] / used["bare"]
    return Row(
        what=f"export of {full.length_ms / 1000:.1f} s as Tall 60 with captions and {len(EVERYTHING)} kinds of overlay",
        measured=f"{times:.2f} x the processor's work", baseline="bare ffmpeg, the same windows", aim="1.15 x", met=times <= 1.15,
    )  # fmt: skip


def _places() -> Row:
    """Random sets of what is in the way: where any place is free on a fine grid, one is found."""
    dice = random.Random(11)
    missed = free = 0
    for _ in range(_SETS):
        wanted = Wanted(width=dice.uniform(0.1, 0.7), height=dice.uniform(0.04, 0.3), x=dice.random(), y=dice.random())
        taken = [_box(dice) for _ in range(dice.randint(1, 8))]
        obstacles = [Obstacle(area=one) for one in taken]
        found = stands(wanted, obstacles)
        there = clear(found.area, obstacles)
        possible = there or _any_free(wanted, taken)
        free += possible
        missed += possible and not there
    return Row(
        what=f"places on {_SETS} random sets, against a grid of 1 %",
        measured=f"{missed} overlaps of {free} that have a free place", baseline="", aim="none", met=missed == 0,
    )  # fmt: skip


def _any_free(wanted: Wanted, taken: list[Area]) -> bool:
    wide = [(one.x - AIR, one.y - AIR, one.x + one.width + AIR, one.y + one.height + AIR) for one in taken]
    across = [0.04 + n / 100 for n in range(93) if 0.04 + n / 100 + wanted.width <= 0.96]
    down = [0.04 + n / 100 for n in range(93) if 0.04 + n / 100 + wanted.height <= 0.96]
    return any(
        all(x + wanted.width <= a or x >= c or y + wanted.height <= b or y >= d for a, b, c, d in wide)
        for x in across
        for y in down
    )


def _box(dice: random.Random) -> Area:
    width, height = dice.uniform(0.05, 0.6), dice.uniform(0.05, 0.4)
    return Area(x=dice.uniform(0, 1 - width), y=dice.uniform(0, 1 - height), width=width, height=height, name="face")


def _solving() -> Row:
    """How much longer a version of a minute takes to resolve with everything over it."""
    context = _context(200)
    document = new_quote(context, 0, 150)
    full = document
    for one in EVERYTHING:
        full = apply_edit(full, AddOverlay(what=one), context)

    def spent(of: QuoteDocument) -> float:
        began = time.perf_counter()
        for _ in range(10):
            assemble(of, context, HD, DESTINATIONS["tall-60"])
        return (time.perf_counter() - began) * 100

    spent(full)
    without, with_all = spent(document), spent(full)
    more = with_all - without
    return Row(
        what=f"{len(EVERYTHING)} kinds of overlay resolved and placed in a quote of a minute",
        measured=f"{more:.0f} ms", baseline=f"{without:.0f} ms without", aim="100 ms", met=more <= 100,
    )  # fmt: skip


def _context(words: int) -> Context:
    context = context_of(talk_of(" ".join(f"word{n}{'.' if n % 9 == 8 else ''}" for n in range(words))))
    levels = Levels(from_ms=0, values=bytes(random.Random(2).randbytes(20_000)))
    return replace(context, talk=replace(context.talk, levels=levels))


def _at_their_words() -> Row:
    dice = random.Random(6)
    context = _context(200)
    document = new_quote(context, 0, 199)
    spans = [(first, first + 4) for first in range(10, 190, 30)]
    for first, last in spans:
        shows = Shows(kind="words", first=first, last=last)
        document = apply_edit(document, AddOverlay(what=TitleLines(text="Here"), shows=shows), context)
    right = looked = 0
    for number in range(_EDITS):
        first = dice.randrange(0, 199)
        kind = StrikeWords if dice.random() < 0.5 else RestoreWords
        try:
            document = apply_edit(document, kind(first=first, last=min(199, first + dice.randrange(8))), context)
        except EditRefused:
            continue
        if number % 10 == 0:
            placed = assemble(document, context, HD, DESTINATIONS["wide-140"])
            shown = {one.item: one for one in placed.overlays if isinstance(one, PlacedLines)}
            frames = _frames_of_words(document, context)
            for item, (low, high) in enumerate(spans, start=1):
                said = [frames[index] for index in range(low, high + 1) if index in frames]
                looked += 1
                if not said:
                    right += item not in shown
                elif item in shown:
                    right += (
                        abs(shown[item].first_frame - said[0][0]) <= 1 and abs(shown[item].end_frame - said[-1][1]) <= 1
                    )
    return Row(
        what=f"overlays at words after {_EDITS:,} random edits of the cut",
        measured=f"{right:,} of {looked:,} at their words", baseline="", aim="all", met=right == looked,
    )  # fmt: skip


def _frames_of_words(document: QuoteDocument, context: Context) -> dict[int, tuple[int, int]]:
    """When each kept word is heard, in frames of the output, worked out from the cut alone."""
    out, at = {}, 0.0
    heard = {word.index for word in kept_words(document, context.talk)}
    for span in kept_spans(document, "wide-140"):
        for word in context.talk.between(span.start_ms, span.end_ms):
            if word.index in heard:
                first, end = max(word.start_ms, span.start_ms), min(word.end_ms, span.end_ms)
                out[word.index] = (round((at + first - span.start_ms) / 40), round((at + end - span.start_ms) / 40))
        at += span.length_ms
    return out
