"""Backup and restore: one file, another folder, the same fingerprint."""

from __future__ import annotations

import hashlib
import io
import os
import subprocess
import sys
import tarfile
import time
from contextlib import suppress
from pathlib import Path

import psycopg
import pytest

import app_database
import backup
from cluster import reachable
from effort import much
from private_postgres import Cluster, SetupProblem
from week import week_files
from yardstick.stations.gather.keep_files import keep_now
from yardstick.stations.mark.edit_sheet import Sheets
from yardstick.stations.workspace.desk import Desk
from yardstick.store.clicks import Click, ClickRecorder, Spool
from yardstick.store.database import connect, connect_alone, migrate
from yardstick.store.folder_lock import FolderLock
from yardstick.store.links import RowChange
from yardstick.store.steps import BACKUP_STEPS

ROOT = Path(__file__).parents[2]


def script(home, *words):
    return subprocess.run(
        [sys.executable, str(ROOT / "scripts" / "backup.py"), *map(str, words)],
        env=os.environ | {"YARDSTICK_HOME": str(home)},
        capture_output=True,
        text=True,
        timeout=120,
    )


@pytest.fixture(scope="module")
def filled_once():
    """A data folder with the worked week, its cluster stopped, and its fingerprint."""
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


@pytest.fixture
def filled(filled_once):
    """The same folder, a copy for each test; its fingerprint."""
    home = reachable("filled")
    # With its owners: the database belongs to another user.
    subprocess.run(["cp", "-a", f"{filled_once[0]}/.", home], check=True)
    return home, filled_once[1]


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
    # A database that runs without an app, as after a kill, is no app; its data stay.
    again = script(other, "--restore", file)
    assert (again.returncode, "There is data in" in again.stderr) == (1, True)
    assert not cluster.is_running()
    lock = FolderLock(other, "http://127.0.0.1:1")
    again = script(other, "--restore", file)
    assert (again.returncode, f"in use: process {os.getpid()}, http://127.0.0.1:1" in again.stderr) == (1, True)
    lock.release()


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


def clicks_in(cluster, address=None):
    with psycopg.connect((address or cluster.url("yardstick")).replace("+psycopg", "")) as connection:
        return sorted(row[0] for row in connection.execute("SELECT uid FROM short_click"))


def spool_of(home, *uids):
    at = "2026-03-02T10:00:00+00:00"
    Spool(home / "clicks.jsonl").add(Click("pier", at, "https://x.example/", workspace="own", uid=uid) for uid in uids)


@pytest.mark.parametrize("step", much(["before", BACKUP_STEPS[len(BACKUP_STEPS) // 2]], [*BACKUP_STEPS, "before"]))
def test_a_backup_loses_no_click_whenever_those_on_disk_go_into_the_database(filled, monkeypatch, step):
    """3,000 of 3,000 were in neither the dump nor the file of those that wait."""
    home, _ = filled
    (home / "clicks.jsonl").unlink()
    spool_of(home, "u1", "u2", "u3")
    cluster, file = Cluster(home), reachable("file") / "yardstick.tar"
    cluster.start()

    def drain(reached):
        if reached == step:
            recorder = ClickRecorder(connect_alone(cluster.url("yardstick")), home / "clicks.jsonl")
            while (home / "clicks.jsonl").exists():
                time.sleep(0.01)  # the recorder has no other way to say that it is done
            recorder.close()

    monkeypatch.setattr(backup, "reach", drain)
    drain("before")
    backup.back_up(cluster, home, file)
    cluster.stop()
    other = reachable("other")
    assert script(other, "--restore", file).returncode == 0
    restored = Cluster(other)
    restored.start()
    recorder = ClickRecorder(connect_alone(app_database.prepare(restored)), other / "clicks.jsonl")
    while (other / "clicks.jsonl").exists():
        time.sleep(0.01)  # as above
    recorder.close()
    assert clicks_in(restored) == ["u1", "u2", "u3"]
    restored.stop()


def tar_of(file, **parts):
    """A tar archive of names and contents; `list` is the list."""
    with tarfile.open(file, "w") as archive:
        for name, content in parts.items():
            said = tarfile.TarInfo({"list": "backup.json", "dump": "database.dump"}.get(name, name))
            said.size = len(content)
            archive.addfile(said, io.BytesIO(content))


DAMAGED = {
    "no tar": lambda file: file.write_bytes(b"\x1f\x8b" + b"x" * 500),
    "empty": lambda file: file.write_bytes(b""),
    "a folder": lambda file: file.mkdir(),
    "no list": lambda file: tar_of(file, dump=b"x"),
    "a list of nothing": lambda file: tar_of(file, list=b"{}", dump=b"x"),
    "no sum": lambda file: tar_of(file, list=b'{"database.dump": {"bytes": 1}}', dump=b"x"),
    "a list that is none": lambda file: tar_of(file, list=b'["database.dump"]', dump=b"x"),
    "broken JSON": lambda file: tar_of(file, list=b"{", dump=b"x"),
    "deep JSON": lambda file: tar_of(file, list=b"[" * 100_000, dump=b"x"),
    "half a character": lambda file: tar_of(file, list=b"\xff\xfe{", dump=b"x"),
    "no dump": lambda file: tar_of(file, list=b'{"database.dump": {"sha256": "00"}}'),
    "a dump that is none": lambda file: tar_of(
        file, list=b'{"database.dump": {"sha256": "%s"}}' % hashlib.sha256(b"x").hexdigest().encode(), dump=b"x"
    ),
    "another part": lambda file: tar_of(file, list=b'{"../x": {"sha256": "00"}}', dump=b"x"),
}


@pytest.fixture(scope="module")
def nothing_there():
    """A data folder without data; every refused restore leaves it so."""
    home = reachable("nothing")
    Cluster(home).start()
    yield home
    Cluster(home).stop()


@pytest.mark.parametrize("harm", DAMAGED)
def test_what_is_no_whole_backup_gets_a_sentence(nothing_there, harm):
    file = reachable("file") / "yardstick.tar"
    DAMAGED[harm](file)
    done = script(nothing_there, "--restore", file)
    assert done.returncode == 1
    assert "Traceback" not in done.stderr
    assert len(done.stderr.strip().splitlines()) <= 3
    assert str(file) in done.stderr or "nothing was changed" in done.stderr
    assert not list(nothing_there.glob(".restoring-*"))


def test_a_prepared_backup_runs_nothing(filled):
    """What a dump holds is done as a role that may do nothing outside of its own database."""
    home, _ = filled
    cluster, trace = Cluster(home), reachable("trace") / "ran"
    trace.parent.chmod(0o777)
    cluster.start()
    with psycopg.connect(cluster.url("yardstick").replace("+psycopg", ""), autocommit=True) as connection:
        connection.execute(
            "CREATE FUNCTION public.once() RETURNS integer LANGUAGE plpgsql AS "
            f"$$ BEGIN COPY (SELECT 1) TO PROGRAM 'cat > {trace}'; RETURN 1; END $$"
        )
        connection.execute("CREATE MATERIALIZED VIEW public.seen AS SELECT public.once()")
    assert trace.exists()
    trace.unlink()
    file = reachable("file") / "yardstick.tar"
    assert script(home, file).returncode == 0
    done = script(reachable("other"), "--restore", file)
    assert (done.returncode, "nothing was changed" in done.stderr) == (1, True)
    assert not trace.exists()


def test_a_folder_of_the_version_before_is_handed_to_the_ordinary_role_with_all_it_holds(filled):
    """It made everything as the role that may do anything."""
    home, fingerprint = filled
    cluster = Cluster(home)
    cluster.start()
    for _ in range(2):
        url = app_database.prepare(cluster)
    engine = connect(url)
    with engine.connect() as connection:
        assert connection.exec_driver_sql("SELECT current_user").scalar_one() == app_database.ROLE
        assert (
            connection.exec_driver_sql("SELECT rolsuper FROM pg_roles WHERE rolname = current_user").scalar_one()
            is False
        )
    desk = Desk(engine, home, "own")
    desk.wake()
    assert desk.snapshots.current().data == fingerprint
    keep_now(desk, [("more.csv", b"visit_id,occurred_at,url,visitor_id\nz1,2026-03-02T10:00:00Z,/,p\n")])
    migrate(engine, "-1")
    migrate(engine)
    engine.dispose()
    cluster.stop()


def test_a_newer_database_is_left_alone_and_said(filled):
    home, _ = filled
    cluster = Cluster(home)
    cluster.start()
    with psycopg.connect(cluster.url("yardstick").replace("+psycopg", ""), autocommit=True) as connection:
        connection.execute("UPDATE alembic_version SET version_num = '9999'")
    with pytest.raises(SetupProblem, match="A newer version of the app made this database"):
        app_database.prepare(cluster)
    cluster.stop()


def test_a_backup_is_for_its_owner_alone_and_a_second_one_stands_beside_nothing(filled):
    home, _ = filled
    folder = reachable("file")
    left = folder / f"{backup.BEGUN}999999999-x"
    left.mkdir()
    assert script(home, folder / "yardstick.tar").returncode == 0
    assert script(home, folder / "yardstick.tar").returncode == 0
    assert [p.name for p in folder.iterdir()] == ["yardstick.tar"]
    assert (folder / "yardstick.tar").stat().st_mode & 0o077 == 0


def test_a_backup_that_is_told_to_end_ends_in_order(filled):
    home, _ = filled
    folder = reachable("file")
    held = Cluster(home)
    held.start()
    with suppress(psycopg.Error), psycopg.connect(held.url("yardstick").replace("+psycopg", "")) as connection:
        # What ends the backup ends the database, and this with it. The dump waits for this lock.
        connection.execute("LOCK TABLE change IN ACCESS EXCLUSIVE MODE")
        making = subprocess.Popen(
            [sys.executable, str(ROOT / "scripts" / "backup.py"), str(folder / "yardstick.tar")],
            env=os.environ | {"YARDSTICK_HOME": str(home)},
            stderr=subprocess.PIPE,
            text=True,
        )
        while not list(folder.glob(f"{backup.BEGUN}*/clicks.jsonl")):
            assert making.poll() is None
            time.sleep(0.02)  # it has no other way to say how far it is
        making.terminate()
        said = making.communicate(timeout=60)[1]
    assert (making.returncode, "nothing was changed" in said, "Traceback" in said) == (1, True, False)
    assert list(folder.iterdir()) == []
    assert not held.is_running()
    FolderLock(home, "a test").release()
