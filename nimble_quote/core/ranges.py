"""How far what a person sets may go. Edits are checked against these, and the interface offers no more than they allow."""

from nimble_quote.core.model import Frozen


class Range(Frozen):
    """The least and the most of a number, both allowed."""

    least: float
    most: float


class Ranges(Frozen):
    """The ranges of what is set by hand."""

    zoom: Range = Range(least=1, most=8)
    """How many times the picture is enlarged over filling its frame: beyond 8 a face is a few blurred pixels."""
    closeness: Range = Range(least=0.4, most=3)
    """How large a face is shown, against a medium shot of the shape."""
    share: Range = Range(least=0.2, most=0.8)
    """The part of the length that the first of two tiles has."""
    size: Range = Range(least=0.3, most=4)
    """How large the whole picture is, against fitting the frame."""
    blur: Range = Range(least=1, most=20)
    """How blurred the copy behind a whole picture is: the spread of the blur, in 136ths of the frame's short side."""
    exposure: Range = Range(least=-2, most=2)
    """How much lighter or darker, in stops of the middle tones."""
    contrast: Range = Range(least=-1, most=1)
    """How much steeper or flatter the middle tones are: 1 is twice as steep."""
    warmth: Range = Range(least=-1, most=1)
    """From cold to warm; 0 leaves it."""
    saturation: Range = Range(least=0, most=2)
    """How much colour: 0 is grey, 1 leaves it."""
    lift: Range = Range(least=0, most=1)
    """How much light there is on the face that is followed; 0 leaves it."""
    speed: Range = Range(least=0.95, most=1.15)
    """How fast a version plays. Beyond these a listener hears that it was changed."""
    fast: Range = Range(least=1.25, most=4)
    """How many times as fast a stretch may be played in which something is shown and nothing is said."""
    pause_over_ms: Range = Range(least=100, most=5000)
    """The shortest pause that the rule about pauses touches."""
    pause_to_ms: Range = Range(least=0, most=5000)
    """What it leaves of one."""
    join_pause_ms: Range = Range(least=0, most=1000)
    """The pause that is offered at a join, where none was said; an edit may set any that `pause_to_ms` allows."""
    posts: Range = Range(least=1, most=50)
    """The posts of a suggested week."""


RANGES = Ranges()
