"""Our own database server: kept across starts, and never barred by one that was killed."""

import os
import signal
from pathlib import Path

import psycopg
import pytest

from nimble_quote.store import cluster as module
from nimble_quote.store.cluster import Cluster, ClusterFailed


def test_data_outlive_the_server_and_a_leftover_server_is_stopped(open_folder: Path):
    first = Cluster(open_folder / "kept", durable=False)
    with psycopg.connect(first.start()) as conn:
        conn.execute("create table kept (word text)")
        conn.execute("insert into kept values ('wick')")
    # As when the start command is killed: its server goes on, and holds the lock of the data.
    leftover = first._server
    assert leftover is not None
    second = Cluster(open_folder / "kept", durable=False)
    try:
        with psycopg.connect(second.start()) as conn:
            assert conn.execute("select word from kept").fetchall() == [("wick",)]
        assert leftover.wait(10) == 0
    finally:
        second.stop()
        second.stop()


def test_only_those_who_know_the_password_come_in(open_folder: Path):
    server = Cluster(open_folder / "closed", durable=False)
    url = server.start()
    try:
        guessed = url.replace(url.split(":")[2].split("@")[0], "guessed")
        with pytest.raises(psycopg.OperationalError, match="password authentication failed"):
            psycopg.connect(guessed)
        assert (open_folder / "closed" / "password").stat().st_mode & 0o077 == 0
        assert "127.0.0.1" in url
    finally:
        server.stop()


def test_what_bars_the_server_is_told_in_a_line(open_folder: Path, monkeypatch: pytest.MonkeyPatch):
    broken = Cluster(open_folder / "broken", durable=False)
    broken.start()
    broken.stop()
    (broken.folder / "data" / "postgresql.conf").write_text("no such setting here = 1\n")
    with pytest.raises(ClusterFailed, match=r"did not start; .*server\.log says why"):
        broken.start()
    monkeypatch.setattr(module, "_PROGRAMS", open_folder / "nowhere")
    with pytest.raises(ClusterFailed, match="install the Debian package postgresql"):
        Cluster(open_folder / "none").start()


@pytest.mark.skipif(os.geteuid() != 0, reason="only root hands the server to another user")
def test_a_folder_that_the_servers_user_cannot_reach_has_a_stand_in(open_folder: Path):
    closed = open_folder / "root-only"
    closed.mkdir(mode=0o700)
    assert Cluster(closed / "postgres").folder.parent == module._SHARED_HOME
    assert Cluster(open_folder / "postgres2").folder == (open_folder / "postgres2").resolve()


def test_a_server_that_is_killed_recovers_what_was_committed(open_folder: Path):
    server = Cluster(open_folder / "killed")
    with psycopg.connect(server.start()) as conn:
        conn.execute("create table kept as select 1 as number")
    assert server._server is not None
    os.kill(server._server.pid, signal.SIGQUIT)
    server._server.wait()
    try:
        with psycopg.connect(server.start()) as conn:
            assert conn.execute("select number from kept").fetchall() == [(1,)]
    finally:
        server.stop()
