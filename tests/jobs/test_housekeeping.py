"""What was removed for good leaves nothing behind: no rows, no originals, no clips."""

import os
import time
from pathlib import Path

import pytest

from nimble_quote.jobs.export import export_clip
from nimble_quote.jobs.housekeeping import tidy
from nimble_quote.jobs.workshop import Workshop
from nimble_quote.store import exports, quotes, recordings
from nimble_quote.store.database import NotFound
from tests.jobs.conftest import an_export, brought_in

pytestmark = pytest.mark.anyio

LONG_AGO = "now() - interval '25 hours'"


async def files(shop: Workshop) -> set[str]:
    return {path.relative_to(shop.media.folder).parts[0] for path in shop.media.folder.rglob("*") if path.is_file()}


async def removed(shop: Workshop, table: str, row_id: int, when: str) -> None:
    async with shop.pool.connection() as conn:
        await conn.execute(f"update {table} set removed_at = {when} where id = {row_id}")  # type: ignore[arg-type]


async def test_clips_go_with_their_recording_and_only_when_it_is_gone_for_good(
    shop: Workshop, clip: Path, tmp_path: Path
):
    recording_id = await brought_in(shop, clip, tmp_path)
    export_id = await an_export(shop, recording_id)
    await export_clip(shop, export_id)
    assert len(list(shop.media.clips(export_id).iterdir())) == 1
    await removed(shop, "recording", recording_id, "now()")
    await tidy(shop)
    assert len(list(shop.media.clips(export_id).iterdir())) == 1, "it can still be put back"
    await removed(shop, "recording", recording_id, LONG_AGO)
    await tidy(shop)
    assert await files(shop) == set()
    assert list((shop.media.folder / "exports").iterdir()) == []


async def test_a_removed_quote_goes_after_a_day_with_its_clips_and_no_others(
    shop: Workshop, clip: Path, tmp_path: Path
):
    recording_id = await brought_in(shop, clip, tmp_path)
    gone, kept = await an_export(shop, recording_id), await an_export(shop, recording_id)
    for export_id in (gone, kept):
        await export_clip(shop, export_id)
    async with shop.pool.connection() as conn:
        quote_id = (await exports.one(conn, gone)).quote_id
    await removed(shop, "quote", quote_id, "now() - interval '20 hours'")
    await tidy(shop)
    async with shop.pool.connection() as conn:
        assert (await quotes.one(conn, quote_id)).removed
    await removed(shop, "quote", quote_id, LONG_AGO)
    await tidy(shop)
    async with shop.pool.connection() as conn:
        with pytest.raises(NotFound):
            await quotes.one(conn, quote_id)
        assert (await recordings.one(conn, recording_id)).quotes == 1
    assert not shop.media.clips(gone).exists()
    assert shop.media.clips(kept).exists()


async def test_what_is_no_clip_of_ours_is_left_alone(shop: Workshop):
    other = shop.media.folder / "exports" / "from the camera"
    other.mkdir()
    stray = shop.media.folder / "exports" / "123"
    stray.mkdir()
    await tidy(shop)
    assert (other.exists(), stray.exists()) == (True, False)


async def test_uploads_that_nobody_went_on_with_go_after_a_day(shop: Workshop):
    folder = shop.media.folder / "uploads"
    folder.mkdir()
    for name, age in (("old", 25 * 3600), ("new", 60)):
        (folder / name).touch()
        os.utime(folder / name, (time.time() - age,) * 2)
    await tidy(shop)
    assert [path.name for path in folder.iterdir()] == ["new"]
