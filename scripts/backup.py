"""Backs the whole instance up into one file, and restores it: `backup.py FILE`, `backup.py --restore FILE`.

The file is a tar archive: clicks that wait on disk, the database as pg_dump writes it, and a list of both with their
sums. What the app can make anew (parts, snapshots) is not in it. A backup can be made while the app runs.
"""

from __future__ import annotations

import hashlib
import json
import os
import shutil
import signal
import subprocess
import sys
import tarfile
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from types import FrameType
from typing import Any

import psycopg

import app_database
from app_database import CLICKS, DATABASE, RESTORED, RESTORING, WAITING_CLICKS, as_first_role, exists, plain
from private_postgres import Cluster, SetupProblem, data_home, make_home, server_programs
from yardstick.store.folder_lock import FolderHeld, FolderLock
from yardstick.store.steps import reach

ROOT = Path(__file__).resolve().parent.parent
DUMP, UNREAD, LIST = "database.dump", f"{CLICKS}.unread", "backup.json"
KNOWN = (DUMP, CLICKS, UNREAD)
BEGUN = ".yardstick-backup-"
"""What a backup that is being made is called, with the number of its process."""


def main() -> int:
    """Back up or restore; returns the exit code."""
    words = sys.argv[1:]
    restoring = words[:1] == ["--restore"]
    names = words[1:] if restoring else words
    if len(names) != 1 or not names[0]:
        print("Say which file: make backup FILE=/path/to/yardstick.tar (or make restore FILE=...)", file=sys.stderr)
        return 2
    # Ended from outside it tidies up like after any other problem.
    for number in (signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, _interrupt)
    os.umask(0o077)
    try:
        file, home = Path(names[0]).resolve(), data_home(ROOT)
        if restoring:
            with _alone(home, "a restore") as cluster:
                restore(cluster, home, file)
        else:
            if not (home / "postgres" / "PG_VERSION").exists():
                raise SetupProblem(f"There is no data in {home}: nothing to back up.")
            with _beside_the_app(home) as cluster:
                back_up(cluster, home, file)
    except (SetupProblem, FolderHeld, OSError, tarfile.TarError, psycopg.Error) as problem:
        print(str(problem).strip(), file=sys.stderr)
        return 1
    except KeyboardInterrupt:
        print("Ended before its time: nothing was changed.", file=sys.stderr)
        return 1
    print(f"Restored {file} into {home}." if restoring else f"Backed up {home} into {file}.")
    return 0


@contextmanager
def _alone(home: Path, doing: str) -> Iterator[Cluster]:
    """The cluster of a folder in which nobody else works, running until this is done."""
    make_home(home)
    lock = FolderLock(home, doing)
    cluster = Cluster(home)
    try:
        cluster.start()
        yield cluster
    finally:
        # Also one that a killed app left running: nobody is there who needs it.
        cluster.stop()
        lock.release()


@contextmanager
def _beside_the_app(home: Path) -> Iterator[Cluster]:
    """The cluster of a folder, whether the app works in it or not."""
    try:
        with _alone(home, "a backup") as cluster:
            yield cluster
    except FolderHeld:
        cluster = Cluster(home)
        if not cluster.is_running():
            raise
        cluster.start()
        yield cluster


def back_up(cluster: Cluster, home: Path, file: Path) -> None:
    """Write the archive beside its place, and give it its name once it is whole and on disk."""
    _sweep(file.parent)
    folder = Path(tempfile.mkdtemp(prefix=f"{BEGUN}{os.getpid()}-", dir=file.parent))
    try:
        # Clicks first: one that goes from disk into the database meanwhile is in both, and is known by its uid.
        parts = [Path(shutil.copy(home / name, folder)) for name in (CLICKS, UNREAD) if (home / name).exists()]
        reach("clicks copied")
        dump = folder / DUMP
        _client(cluster, cluster.url(DATABASE), "pg_dump", "--format=custom", "--no-owner", f"--file={dump}", DATABASE)
        reach("database dumped")
        parts.append(dump)
        said = {path.name: {"bytes": path.stat().st_size, "sha256": _sum(path)} for path in parts}
        (folder / LIST).write_text(json.dumps(said, indent=2))
        part = folder / "archive"
        with tarfile.open(part, "w") as archive:
            for path in [folder / LIST, *parts]:
                archive.add(path, path.name)
        with part.open("rb") as done:
            os.fsync(done.fileno())
        reach("archive written")
        os.replace(part, file)
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def restore(cluster: Cluster, home: Path, file: Path) -> None:
    """Check the archive, restore into a database beside the one there is, and put it in its place in one step."""
    with as_first_role(cluster) as connection:
        app_database.make_role(cluster, connection)
        app_database.settle_restore(home, connection)
        if exists(connection, DATABASE) and _has_data(cluster):
            raise SetupProblem(f"There is data in {home} already: restore into another folder (YARDSTICK_HOME=...).")
        folder = Path(tempfile.mkdtemp(prefix=".restoring-", dir=home))
        try:
            said = _unpack(file, folder)
            reach("archive unpacked")
            app_database.make_database(connection, RESTORING)
            # As a role that may do nothing outside its database: who made the file may have put anything into it.
            _client(
                cluster, app_database.address(cluster, RESTORING), "pg_restore", "--no-owner", "--no-privileges",
                "--exit-on-error", f"--dbname={RESTORING}", str(folder / DUMP),
            )  # fmt: skip
            reach("database restored")
            if UNREAD in said:
                os.replace(folder / UNREAD, home / UNREAD)
            if CLICKS in said:
                os.replace(folder / CLICKS, home / WAITING_CLICKS)
            reach("clicks restored")
            # From here on it is whole, and whoever comes first puts it in its place.
            connection.execute(f"ALTER DATABASE {RESTORING} RENAME TO {RESTORED}")
            reach("restored")
        finally:
            shutil.rmtree(folder, ignore_errors=True)
            app_database.settle_restore(home, connection)


def _unpack(file: Path, folder: Path) -> dict[str, Any]:
    """Take the known parts out of an archive, each held to its sum; what the list says of them.

    Raises
    ------
    SetupProblem
        If it is no whole backup.
    """
    damaged = f"{file} is no whole backup, or is damaged ({{}}): nothing was restored."
    try:
        with tarfile.open(file) as archive:
            for member in archive:
                if member.name in (LIST, *KNOWN) and member.isfile():
                    archive.extract(member, folder, filter="data")
        said = json.loads((folder / LIST).read_text())
    except FileNotFoundError as missing:
        where = Path(str(missing.filename or ""))
        raise SetupProblem(f"There is no file {file}." if where == file else damaged.format(f"no {LIST}")) from None
    except (tarfile.TarError, EOFError, ValueError, RecursionError) as problem:
        first = (str(problem) or type(problem).__name__).splitlines()[0]
        raise SetupProblem(damaged.format(first[:200])) from None
    if not isinstance(said, dict) or DUMP not in said:
        raise SetupProblem(damaged.format(f"{LIST} does not name {DUMP}"))
    for name, facts in said.items():
        sum_ = facts.get("sha256") if isinstance(facts, dict) else None
        if name not in KNOWN or not (folder / name).is_file() or _sum(folder / name) != sum_:
            raise SetupProblem(damaged.format(name[:100]))
    return said


def _sweep(folder: Path) -> None:
    """Take away what backups left there whose process is gone."""
    for left in folder.glob(f"{BEGUN}*"):
        number = left.name.removeprefix(BEGUN).partition("-")[0]
        if number.isdigit() and not Path(f"/proc/{number}").exists():
            shutil.rmtree(left, ignore_errors=True)


def _has_data(cluster: Cluster) -> bool:
    with psycopg.connect(plain(cluster.url(DATABASE))) as connection:
        named = connection.execute("SELECT to_regclass('public.change')").fetchone()
        if not named or named[0] is None:
            return False
        return bool(connection.execute("SELECT 1 FROM change LIMIT 1").fetchone())


def _client(cluster: Cluster, url: str, program: str, *words: str) -> None:
    user, _, password = url.split("//", 1)[1].split("@", 1)[0].partition(":")
    environment = os.environ | {
        "PGPASSWORD": password,
        "PGHOST": "127.0.0.1",
        "PGPORT": str(cluster.port),
        "PGUSER": user,
    }
    command = [str(server_programs() / program), *words]
    done = subprocess.run(command, env=environment, capture_output=True, text=True)
    if done.returncode:
        raise SetupProblem(f"{program} did not work, and nothing was changed: {done.stderr.strip()[-800:]}")


def _sum(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def _interrupt(number: int, frame: FrameType | None) -> None:
    raise KeyboardInterrupt


if __name__ == "__main__":
    sys.exit(main())
