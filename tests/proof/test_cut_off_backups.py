"""Backups and restores that are killed at any of their steps: the data are there or not, whole, and so is the file.

Each step once in `make test`; a kill is one process, so there is nothing to try many times.
"""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import psycopg
import pytest

import app_database
import backup
from cluster import reachable
from private_postgres import Cluster
from yardstick.stations.gather.keep_files import keep_now
from yardstick.stations.workspace.desk import Desk
from yardstick.store.clicks import Click, ClickRecorder, Spool
from yardstick.store.database import connect, connect_alone
from yardstick.store.steps import BACKUP_STEPS, RESTORE_STEPS

SCRIPT = Path(__file__).parents[2] / "scripts" / "backup.py"
VISIT = b"visit_id,occurred_at,visitor_id,url\nv1,2026-03-02T10:00:00Z,p,/?utm_campaign=a\n"


def script(home, *words, at=""):
    """Run it; with `at` it is killed at that step."""
    environment = os.environ | {"YARDSTICK_HOME": str(home)}
    environment |= {"YARDSTICK_CUT_AT": f"{at.replace(' ', '-')} app"} if at else {}
    done = subprocess.run(
        [sys.executable, str(SCRIPT), *map(str, words)], env=environment, capture_output=True, text=True, timeout=120
    )
    assert done.returncode == (-signal.SIGKILL if at else 0), done.stderr
    return done


@pytest.fixture(scope="module")
def filled():
    """A data folder with a visit, and two clicks that wait on disk; its fingerprint."""
    home = reachable("filled")
    cluster = Cluster(home)
    cluster.start()
    engine = connect(app_database.prepare(cluster))
    desk = Desk(engine, home, "own")
    keep_now(desk, [("visits.csv", VISIT)])
    engine.dispose()
    at = "2026-03-02T10:00:00+00:00"
    Spool(home / "clicks.jsonl").add(Click("a", at, "https://x.example/", workspace="own", uid=u) for u in ("u1", "u2"))
    cluster.stop()
    return home, desk.snapshots.current().data


def what_stands(home):
    """Fingerprint and clicks after a start; both empty where nothing is there."""
    cluster = Cluster(home)
    cluster.start()
    url = app_database.prepare(cluster)
    recorder = ClickRecorder(connect_alone(url), home / "clicks.jsonl")
    until = time.monotonic() + 30
    while (home / "clicks.jsonl").exists():
        assert time.monotonic() < until
        time.sleep(0.01)  # the recorder has no other way to say that it is done
    recorder.close()
    with psycopg.connect(app_database.plain(url)) as connection:
        uids = [row[0] for row in connection.execute("SELECT uid FROM short_click ORDER BY uid")]
        there = connection.execute("SELECT count(*) FROM change").fetchall()[0][0]
    data = ""
    if there:
        engine = connect(url)
        desk = Desk(engine, home, "own")
        desk.wake()
        data = desk.snapshots.current().data
        engine.dispose()
    cluster.stop()
    return data, uids


@pytest.mark.parametrize("step", BACKUP_STEPS)
def test_a_backup_that_is_killed_leaves_the_old_file_and_the_next_one_sweeps(filled, step):
    home, _ = filled
    file = reachable("file") / "yardstick.tar"
    file.write_bytes(b"the one before")
    script(home, file, at=step)
    assert file.read_bytes() == b"the one before"
    script(home, file)
    assert file.stat().st_size > 10_000
    assert [p.name for p in file.parent.iterdir()] == ["yardstick.tar"]
    # It ended what the killed one had left running.
    assert not Cluster(home).is_running()


@pytest.fixture(scope="module")
def kept(filled):
    file = reachable("kept") / "yardstick.tar"
    script(filled[0], file)
    return file


@pytest.mark.parametrize("step", RESTORE_STEPS)
def test_a_restore_that_is_killed_is_done_whole_or_not_at_all(filled, kept, step):
    home = reachable("other")
    script(home, "--restore", kept, at=step)
    data, uids = what_stands(home)
    assert (data, uids) in [("", []), (filled[1], ["u1", "u2"])]
    assert (data == "") == (step not in ("restored", "old database gone"))
    if not data:
        script(home, "--restore", kept)
        assert what_stands(home) == (filled[1], ["u1", "u2"])
    assert not list(home.glob(".restoring-*"))
    assert not (home / backup.WAITING_CLICKS).exists()
