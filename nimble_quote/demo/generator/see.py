"""Looks at the demo recordings as preparing does, and ships what is seen: `python -m nimble_quote.demo.generator.see`.

To be run when looking finds more, or something else (`media/seen.py`, `VERSION`).
"""

import asyncio
import tempfile
from pathlib import Path

from nimble_quote.core.talk import LEVEL_MS
from nimble_quote.demo.generator.parts import ship
from nimble_quote.demo.load import DEMO, MEDIA, joined, sums
from nimble_quote.media.coding import coding_of
from nimble_quote.media.keys import PROXY, SEEN
from nimble_quote.media.listening import listen, peaks_name
from nimble_quote.media.probe import probe_source
from nimble_quote.media.scanning import PictureScan
from nimble_quote.media.seen import Heard, seen_by, watched, write_seen
from nimble_quote.settings import settings


async def see(name: str, original: str, scratch: Path) -> None:
    """Looks at one recording: at its proxy, where one ships."""
    facts = await probe_source(joined(name, original, scratch / original), original)
    source = joined(name, PROXY, scratch / PROXY) if PROXY in sums(name) else scratch / original
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
    sound = await listen(source, 0, facts.duration_ms, scratch, unheard)
    heard = Heard(speech=tuple(sound.speech), peaks=(scratch / peaks_name(LEVEL_MS)).read_bytes())
    seen = seen_by(scan, facts.duration_ms)
    seen = await watched(seen, facts.duration_ms, heard, source, facts, settings().face_mesh, unheard)
    write_seen(seen, scratch / SEEN)
    ship(scratch / SEEN, MEDIA / name, SEEN)


def main() -> None:
    """Looks at every recording with a picture that plays as it ships."""
    for one in DEMO:
        if one.original.endswith(".mp4"):
            with tempfile.TemporaryDirectory() as folder:
                asyncio.run(see(one.name, one.original, Path(folder)))


if __name__ == "__main__":
    main()
