"""Framings for tests, so that where a window stands can be read off."""

from nimble_quote.core.document import Choice, LayoutName, Placed, Rest, View


def held(x: float = 0.5, y: float = 0.5, zoom: float = 1.0) -> Choice:
    """One window that stands still where a person put it."""
    return Choice(layout="one", placed=(still(0, x, y, zoom),))


def still(panel: int, x: float = 0.5, y: float = 0.5, zoom: float = 1.0) -> Placed:
    """A camera that stands still."""
    return Placed(panel=panel, rests=(Rest(from_ms=0, to_ms=0, at=View(x=x, y=y, zoom=zoom)),))


def moving(*rests: tuple[int, int, float, float]) -> Placed:
    """A camera that goes from rest to rest, each from when to when, at which x, how close."""
    return Placed(rests=tuple(Rest(from_ms=a, to_ms=b, at=View(x=x, zoom=zoom)) for a, b, x, zoom in rests))


def tiled(layout: LayoutName, *xs: float, share: float = 0.5) -> Choice:
    """Tiles whose cameras stand still at some x."""
    return Choice(layout=layout, share=share, placed=tuple(still(number, x) for number, x in enumerate(xs)))
