"""How a framing is told in words: "Maren, close, still", "both, stacked", "follows Maren, 2 moves"."""

from collections.abc import Sequence

from nimble_quote.core.document import Choice, LayoutName
from nimble_quote.core.framing.composing import closeness_said


def framing_said(
    name: LayoutName, who: Sequence[str], moves: int, closeness: float, choice: Choice
) -> str:  # fmt: skip
    """What a framing is, in words; `who` as they are called."""
    how = _how(moves, choice)
    if name == "whole":
        return "whole picture"
    if name == "slide":
        return "slide above, speaker below" + (f", {how}" if moves or choice.placed else "")
    if name in ("stacked", "beside"):
        all_of = "both" if len(who) == 2 else listed(who) if who else "two windows"
        return f"{all_of}, {'stacked' if name == 'stacked' else 'side by side'}"
    if not who:
        return f"nobody followed, {how}"
    if moves and not choice.placed:
        return f"follows {listed(who)}, {how}"
    return f"{listed(who)}, {closeness_said(closeness) if name == 'one' else 'together'}, {how}"


def called(subject: int, names: dict[int, str], *, thing: bool, others: bool = True) -> str:
    """What a subject is called: by the first name where no other has it, else by all of it. One without a name is the speaker,
    or has a number where there are others."""
    if subject not in names:
        return (
            f"what you marked ({subject % 1000 + 1})" if thing else f"person {subject + 1}" if others else "the speaker"
        )
    name = names[subject]
    if thing:
        return name
    first = name.split()[0]
    alike = [one for who, one in names.items() if who != subject and one.split()[0] == first]
    return name if alike else first


def _how(moves: int, choice: Choice) -> str:
    by_hand = "placed by hand" if choice.placed else ""
    moving = "still" if not moves else "1 move" if moves == 1 else f"{moves} moves"
    return f"{by_hand}, {moving}" if by_hand and moves else by_hand or moving


def listed(who: Sequence[str]) -> str:
    """Several in a row of words."""
    return who[0] if len(who) == 1 else f"{', '.join(who[:-1])} and {who[-1]}"
