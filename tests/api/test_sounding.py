"""Music that is kept in memory for what is played."""

import asyncio
from pathlib import Path

import numpy as np

from nimble_quote.api.sounding import Sounds
from nimble_quote.core.assembly import assemble
from nimble_quote.core.document import Music
from nimble_quote.core.edits import AddOverlay, apply_edit, new_quote
from nimble_quote.store.house_sounds import SHIPPED
from tests.shipped import DESTINATIONS
from tests.talks import HD, context_of, talk_of


def test_a_piece_in_hand_is_not_lost_when_others_take_its_room():
    context = context_of(talk_of("Keep the wick short."))
    document = apply_edit(new_quote(context, 0, 3), AddOverlay(what=Music(sound=1)), context)
    assembly = assemble(document, context, HD, DESTINATIONS["tall-60"])
    others = [
        assembly.model_copy(
            update={
                "sound": assembly.sound.model_copy(
                    update={"music": (assembly.sound.music[0].model_copy(update={"revision": number}),)}
                )
            }
        )
        for number in range(2, 8)
    ]
    content = {1: Path(SHIPPED / "short-wick.opus").read_bytes()}
    sounds = Sounds()
    assert sounds.held(assembly) == {}
    first = asyncio.run(sounds.taken(assembly, content))
    held = sounds.held(assembly)
    for other in others:
        asyncio.run(sounds.taken(other, content))
    assert sounds.held(assembly) == {}, "its room was taken"
    assert np.array_equal(held[1], first[1])
