"""What of a framing a person should look at: only there does looking pay."""

from collections.abc import Sequence

from nimble_quote.core.destinations import seconds
from nimble_quote.core.document import Choice
from nimble_quote.core.framing.camera import Watched
from nimble_quote.core.framing.composing import MOST_ENLARGED
from nimble_quote.core.framing.framed import Doubt
from nimble_quote.core.framing.scenes import Scene

OUTSIDE_MS = 300
"""A head that is outside for longer is seen to be."""
FASTEST = 0.8
"""A window that moves by so much of its width in a second is seen to rush."""
_NO_FURTHER = 1.02


def doubts_of(
    scene: Scene,
    seen: Sequence[Watched],
    widest: Sequence[float],
    choice: Choice,
    *,
    all_of_it: bool,
    graphic_ms: int | None,
) -> tuple[Doubt, ...]:
    """All that is doubtful about a framing and was not found good; `widest` tells how often each panel's widest window is
    enlarged: what a shape makes of the whole recording is no matter of one shot. A shape that shows `all_of_it` loses nothing where nobody
    is found. `graphic_ms` is when a graphic is cut through, if one is."""
    at = scene.pieces[0].start_ms
    found: list[Doubt] = []
    if not scene.tracks and not all_of_it:
        found.append(
            Doubt(code="nothing", at_ms=at, says="nobody was found", do="Place the window, or choose another layout.")
        )
    elif scene.tracks and choice.subjects and not any(who in scene.tracks for who in choice.subjects):
        found.append(Doubt(code="nothing", at_ms=at, says="who was chosen is not seen", do="Choose somebody who is."))
    for one in seen:
        if one.out_ms > OUTSIDE_MS:
            says = f"leaves the window for {seconds(one.out_ms)}"
            found.append(
                Doubt(
                    code="outside",
                    at_ms=int(one.out_from_ms),
                    says=says,
                    do="Drag the window there, or show less closely.",
                )
            )
            break
    if scene.unsure and choice.subjects is None:
        says = f"{_people(len(scene.people))}, who speaks is unsure"
        found.append(Doubt(code="who-speaks", at_ms=at, says=says, do="Click who is to be seen, or name them in Find."))
    enlarged = max(
        (one.enlarged for one, least in zip(seen, widest, strict=True) if one.enlarged > least * _NO_FURTHER),
        default=0.0,
    )
    if enlarged > MOST_ENLARGED + 0.005:
        found.append(
            Doubt(
                code="enlarged",
                at_ms=at,
                says=f"enlarged {enlarged:.1f} times",
                do="Show less closely, or fit the whole picture.",
            )
        )
    fastest = max((one.fastest for one in seen), default=0.0)
    if fastest > FASTEST:
        says = f"moves {fastest:.1f} widths a second"
        found.append(Doubt(code="fast", at_ms=at, says=says, do="Choose steady moves, or show less closely."))
    if graphic_ms is not None:
        says = "cuts through a graphic that stands still"
        found.append(
            Doubt(
                code="graphic",
                at_ms=max(at, graphic_ms),
                says=says,
                do="Drag the window clear of it, or fit the whole picture.",
            )
        )
    return tuple(one for one in found if one.code not in (choice.fine or ()))


def _people(count: int) -> str:
    return {2: "two people", 3: "three people"}.get(count, f"{count} people")
