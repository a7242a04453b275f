"""The files that an Assembly is seen and heard from."""

from nimble_quote.api.state import ServerState
from nimble_quote.core.assembly import RECORDING, Assembly
from nimble_quote.media.source import Source
from nimble_quote.store import recordings
from nimble_quote.store.database import Connection
from nimble_quote.store.recordings import RecordingRow


async def sources_of(
    conn: Connection, server: ServerState, recording: RecordingRow, assembly: Assembly
) -> dict[str, Source]:
    """By the ids that the Assembly names; other recordings as far as they are there."""
    others = await recordings.many(conn, sorted({one.recording for one in assembly.footage}))
    rows = {
        RECORDING: recording,
        **{one.source: others[one.recording] for one in assembly.footage if one.recording in others},
    }
    found = {name: (row, server.media.store.local(row.media_path)) for name, row in rows.items()}
    return {
        name: Source(path=path, sound_track=row.sound_track if row.sound_tracks else None)
        for name, (row, path) in found.items()
        if path.exists()
    }
