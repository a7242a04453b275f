"""A hundred kills, of whatever is killed, while clips are made and posted: nothing half made is shown, nothing posted twice, nothing
lost. Beside it the same without kills."""

import os
import random
import signal
import sqlite3
import time
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx

from nimble_quote.store.cluster import Cluster
from tests.bench.table import Row
from tests.conftest import Board, RunningApp, answers, free_port, put_demo, start_app, wait_for
from tests.helpers import connected, keep

KILLS = 100
WHO = ("server", "worker", "stand-in", "server", "worker", "stand-in", "database")
SAID = ("Keep the wick short.", "It blackens the glass,", "A long wick looks brighter for an hour, and then it smokes.")


def measure(scratch: Path) -> Iterator[Row]:
    """Starts a house with a database that keeps what it was told, and kills its parts; each is started again as it is killed."""
    cluster = Cluster(scratch / "killed-postgres")
    cluster.start()
    board = Board(scratch / "killed-board", free_port())
    board.start()
    running = start_app(cluster, scratch / "killed", "killed", posting_services=board.url)
    try:
        yield from _House(running, board, cluster).measured()
    finally:
        running.kill(running.workers)
        running.kill(running.servers)
        board.kill()
        cluster.stop()


class _House:
    """A house that posts, and is killed."""

    def __init__(self, running: RunningApp, board: Board, cluster: Cluster) -> None:
        self.running, self.board, self.cluster = running, board, cluster
        self.client = httpx.Client(base_url=running.url, timeout=20)
        talk = put_demo(running, "keep-the-wick-short")
        self.quotes = [keep(self.client, talk, text) for text in SAID]
        self.account = connected(self.client)["id"]
        self.posts: list[int] = []
        self.half: list[str] = []
        self.random = random.Random(15)

    def measured(self) -> Iterator[Row]:
        began = time.monotonic()
        self._post_all()
        self._settled()
        quiet = time.monotonic() - began
        began, killed = time.monotonic(), Counter[str]()
        while sum(killed.values()) < KILLS:
            self._patiently(self._post_one)
            time.sleep(self.random.uniform(0.2, 2.5))
            who = self.random.choice(WHO)
            self._kill(who)
            killed[who] += 1
            self._patiently(self._look_at_what_is_shown)
        self._settled()
        told_of = [one for one in self.posts if self._state(one) == "failed"]
        for one in told_of:
            # As a person does who is told: sent once more.
            self.client.post(f"/api/posts/{one}/schedule", json={"now": True, "again": True}).raise_for_status()
        self._settled()
        took = time.monotonic() - began
        self.posts = [one["id"] for one in self._get("/api/posts") if one["state"] != "draft"]
        states = Counter(self._state(one) for one in self.posts)
        with sqlite3.connect(self.board.folder / "board.sqlite") as kept:
            published = Counter(count for (count,) in kept.execute("select published from post"))
            shown = kept.execute("select count(*) from post where state = 'processing'").fetchone()[0]
        lost = len(self.posts) - states["posted"]
        twice = sum(count for often, count in published.items() if often > 1) + max(0, shown - states["posted"])
        told = ", ".join(f"{count} {who}" for who, count in killed.most_common())
        yield Row(
            what=f"{KILLS} kills ({told}) while {len(self.posts)} posts were made and sent",
            measured=f"{len(self.half)} half made and shown, {twice} posted twice, {lost} lost; {len(told_of)} told as failed and sent again; all there after {took:.0f} s",
            baseline=f"without kills {len(self.quotes)} in {quiet:.0f} s", aim="0, 0, 0", met=not (self.half or twice or lost),
        )  # fmt: skip

    def _post_all(self) -> None:
        for quote in self.quotes:
            self._post(quote)

    def _post_one(self) -> None:
        live = sum(self._state(one) not in ("posted",) for one in self.posts[-8:])
        if live < 4:
            self._post(self.random.choice(self.quotes), quality=self.random.choice(("small", "usual", "crisp")))

    def _post(self, quote: dict, quality: str = "usual") -> None:  # type: ignore[type-arg]
        place = quote["document"]["versions"][0]["destination"]
        # A clip of its own each time: the quote is called otherwise.
        now = self._get(f"/api/quotes/{quote['id']}")
        title = f"Post {len(self.posts)} {self.random.random()}"
        body = {"on_revision": now["revision"], "edit": {"kind": "rename", "title": title}}
        self.client.post(f"/api/quotes/{quote['id']}/edits", json=body).raise_for_status()
        self.client.post(
            f"/api/quotes/{quote['id']}/exports", json={"destinations": [place], "quality": quality}
        ).raise_for_status()
        planned = self.client.post(
            "/api/posts",
            json={
                "quote_id": quote["id"],
                "destination": place,
                "account_id": self.account,
                "wall": "2030-01-01T10:00",
            },
        )
        planned.raise_for_status()
        post = planned.json()["posts"][0]["id"]
        asked = self.client.post(f"/api/posts/{post}/schedule", json={"now": True, "again": True})
        if asked.is_success:
            self.posts.append(post)
        elif asked.status_code < 500:
            # Another of this quote is on its way: this one was never asked for.
            self.client.post(f"/api/posts/{post}/cancel")

    def _get(self, path: str) -> Any:
        answer = self.client.get(path)
        answer.raise_for_status()
        return answer.json()

    def _patiently(self, what) -> None:  # type: ignore[no-untyped-def]
        """Does something that a part which was just killed may refuse."""
        try:
            what()
        except (httpx.HTTPError, ValueError, KeyError):
            time.sleep(0.3)

    def _look_at_what_is_shown(self) -> None:
        for one in self._get("/api/exports")[:12]:
            if one["state"] == "done":
                sent = self.client.get(f"/api/exports/{one['id']}/clip")
                if sent.is_success and len(sent.content) != one["facts"]["size_bytes"]:
                    self.half.append(one["file_name"])

    def _kill(self, who: str) -> None:
        """Kills a part as if the power had gone, and starts it again."""
        if who == "server":
            self.running.kill(self.running.servers)
            self.running.start_server()
        elif who == "worker":
            self.running.kill(self.running.workers)
            self.running.start_worker()
        elif who == "stand-in":
            self.board.kill()
            self.board.start()
        else:
            os.kill(int((self.cluster.folder / "data" / "postmaster.pid").read_text().split()[0]), signal.SIGKILL)
            time.sleep(0.2)
            self.cluster.start()
        wait_for(lambda: answers(f"{self.running.url}/api/catalogue"), "all to be up again", 120)
        self._keep_going()

    def _keep_going(self) -> None:
        """A worker ends where its database does: it is started again, as whoever started it does."""
        if any(one.poll() is not None for one in self.running.workers):
            self.running.kill(self.running.workers)
            self.running.start_worker()

    def _state(self, post: int) -> str:
        for quote in self.quotes:
            for one in self._get(f"/api/quotes/{quote['id']}/posts"):
                if one["id"] == post:
                    return str(one["state"])
        return "lost"

    def _settled(self) -> None:
        def done() -> bool:
            self._keep_going()
            try:
                return all(self._state(one) in ("posted", "failed") for one in self.posts)
            except (httpx.HTTPError, ValueError):
                return False

        wait_for(done, "all posts to come to an end", 1800)
