"""Backup and restore: one file, another folder, the same fingerprint."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest

from cluster import reachable
from private_postgres import Cluster
from week import week_files
from yardstick.stations.desk import Desk
from yardstick.stations.gather import keep_now
from yardstick.stations.mark import Sheets
from yardstick.store.database import connect, migrate
from yardstick.store.links import RowChange

ROOT = Path(__file__).parents[2]


def script(home, *words):
    return subprocess.run(
        [sys.executable, str(ROOT / "scripts" / "backup.py"), *map(str, words)],
        env=os.environ | {"YARDSTICK_HOME": str(home)},
        capture_output=True,
        text=True,
        timeout=120,
    )


@pytest.fixture
def filled():
    """A data folder with the worked week, its cluster stopped; its fingerprint and links."""
    home = reachable("filled")
    cluster = Cluster(home)
    cluster.start()
    with connect(cluster.url("postgres")).connect().execution_options(isolation_level="AUTOCOMMIT") as connection:
        connection.exec_driver_sql("CREATE DATABASE yardstick")
    engine = connect(cluster.url("yardstick"))
    migrate(engine)
    desk = Desk(engine, home, "own")
    keep_now(desk, week_files())
    sheets = Sheets(desk)
    sheets.change([RowChange("k", {"page": "/boats", "short": "pier"})], sheets.read().basis, "one")
    (home / "clicks.jsonl").write_text("00000000 {}\n")
    engine.dispose()
    cluster.stop()
    return home, desk.snapshots.current().data


def test_a_restore_in_another_folder_gives_the_same_fingerprint(filled):
    home, fingerprint = filled
    file = reachable("file") / "yardstick.tar"
    done = script(home, file)
    assert done.returncode == 0, done.stderr
    other = reachable("other")
    done = script(other, "--restore", file)
    assert done.returncode == 0, done.stderr
    cluster = Cluster(other)
    cluster.start()
    engine = connect(cluster.url("yardstick"))
    desk = Desk(engine, other, "own")
    desk.wake()
    assert desk.snapshots.current().data == fingerprint
    assert [row.cells["short"] for row in Sheets(desk).read().rows] == ["pier"]
    assert (other / "clicks.jsonl").exists()
    engine.dispose()
    again = script(other, "--restore", file)
    assert (again.returncode, "end it first" in again.stderr) == (1, True)
    cluster.stop()
    again = script(other, "--restore", file)
    assert (again.returncode, "There is data in" in again.stderr) == (1, True)


def test_a_damaged_file_restores_nothing(filled):
    home, _ = filled
    file = reachable("file") / "yardstick.tar"
    assert script(home, file).returncode == 0
    content = bytearray(file.read_bytes())
    content[len(content) // 2] ^= 255
    file.write_bytes(content)
    other = reachable("other")
    done = script(other, "--restore", file)
    assert (done.returncode, "damaged" in done.stderr) == (1, True)
    assert script(home, "").returncode == 2
    assert script(other, "--restore", "/nowhere.tar").returncode == 1
