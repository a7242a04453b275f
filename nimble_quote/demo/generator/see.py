"""Looks at the demo recordings as preparing does, and ships what is seen: `python -m nimble_quote.demo.generator.see`.

To be run when looking finds more, or something else (`media/seen.py`, `VERSION`).
"""

import asyncio
import tempfile
from pathlib import Path

from nimble_quote.demo.generator.parts import ship
from nimble_quote.demo.load import DEMO, MEDIA, joined, sums
from nimble_quote.media.coding import coding_of
from nimble_quote.media.keys import PROXY, SEEN
from nimble_quote.media.probe import probe_source
from nimble_quote.media.scanning import PictureScan
from nimble_quote.media.seen import seen_by, write_seen
from nimble_quote.settings import settings


async def see(name: str, original: str, scratch: Path) -> None:
    """Looks at the proxy that ships of one recording."""
    facts = await probe_source(joined(name, original, scratch / original), original)
    source = joined(name, PROXY, scratch / PROXY)
    scan = PictureScan(
        source=source,
        facts=facts,
        model=settings().face_model,
        folder=scratch / "looking",
        proxied=True,
        coding=await coding_of(source),
    )

    async def unheard(part: float) -> None:
        pass

    await scan.scan(scratch, unheard)
    write_seen(seen_by(scan, facts.duration_ms), scratch / SEEN)
    ship(scratch / SEEN, MEDIA / name, SEEN)


def main() -> None:
    """Looks at every recording whose proxy ships: of others the proxy is made anyway, and they are looked at with it."""
    for one in DEMO:
        if PROXY in sums(one.name):
            with tempfile.TemporaryDirectory() as folder:
                asyncio.run(see(one.name, one.original, Path(folder)))


if __name__ == "__main__":
    main()
