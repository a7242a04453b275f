"""Lanes of work: clips are made in turn and in the order asked, and keep no other work from being begun."""

from collections.abc import Iterator
from pathlib import Path

import pytest

from nimble_quote.jobs.queue import LANE_OF
from nimble_quote.jobs.tasks import DOING
from nimble_quote.jobs.worker import places
from nimble_quote.settings import Settings
from nimble_quote.store.cluster import Cluster
from tests.conftest import CODED, House, bring_in, make_media, start_house, wait_for, wait_until_prepared
from tests.helpers import edit, keep


@pytest.fixture
def own_house(cluster: Cluster, tmp_path: Path) -> Iterator[House]:
    running = start_house(cluster, tmp_path, "lanes", exports_at_once=1)
    yield running
    running.kill(running.workers)
    running.kill(running.servers)


def test_every_kind_of_work_has_a_lane_that_is_worked_on():
    lanes = places(Settings(exports_at_once=3))
    assert set(LANE_OF) == set(DOING)
    assert set(LANE_OF.values()) < set(lanes)
    assert lanes["render"] == 3
    assert all(lanes.values())


def test_clips_are_made_in_turn_and_a_recording_is_begun_meanwhile(own_house: House, tmp_path: Path):
    long = make_media(tmp_path / "long.mp4", "testsrc2=s=1280x720:r=25:d=10", "sine=d=10", options=CODED)
    other = make_media(tmp_path / "other.mp4", "testsrc2=s=320x180:r=25:d=3", "sine=f=500:d=3", options=CODED)
    with own_house.client as client:
        talk = bring_in(client, long).json()["id"]
        wait_until_prepared(client, talk)
        quote = keep(client, talk, "Sentence number 1 is here.", until="Sentence number 3 is here.")
        for destination in ("square-60", "portrait-60"):
            quote = edit(client, quote, kind="add-version", destination=destination).json()
        asked = [one["id"] for one in client.post(f"/api/quotes/{quote['id']}/exports", json={}).json()]
        assert len(asked) == 3

        def states() -> list[str]:
            found = {one["id"]: one["state"] for one in client.get("/api/exports").json()}
            return [found[export_id] for export_id in asked]

        wait_for(lambda: states()[0] == "running", "the first clip to be begun")
        # Taken up while clips wait: nothing stands behind them.
        second = bring_in(client, other).json()["id"]
        seen: list[list[str]] = []
        begun_at: int | None = None
        while not all(state == "done" for state in states()):
            seen.append(states())
            works = client.get(f"/api/recordings/{second}").json()["work"]
            if begun_at is None and any(one["state"] != "queued" for one in works):
                begun_at = seen[-1].count("done")
        assert max(one.count("running") for one in seen) == 1
        assert all(one == sorted(one, key=["done", "running", "queued"].index) for one in seen), "in the order asked"
        assert begun_at is not None
        assert begun_at < 2, "it does not wait until the clips are made"
