"""Backs the whole instance up into one file, and restores it: `backup.py FILE`, `backup.py --restore FILE`.

The file is a tar archive: the database as pg_dump writes it, clicks that wait on disk, and a list of both with their
sums. What the app can make anew (parts, snapshots) is not in it. A backup can be made while the app runs.
"""

from __future__ import annotations

import hashlib
import json
import os
import shutil
import subprocess
import sys
import tarfile
import tempfile
from pathlib import Path

import psycopg

from private_postgres import Cluster, SetupProblem, data_home, server_programs

ROOT = Path(__file__).resolve().parent.parent
DATABASE, RESTORING = "yardstick", "yardstick_restoring"
DUMP, CLICKS, LIST = "database.dump", "clicks.jsonl", "backup.json"


def main() -> int:
    """Back up or restore; returns the exit code."""
    words = sys.argv[1:]
    restoring = words[:1] == ["--restore"]
    names = words[1:] if restoring else words
    if len(names) != 1 or not names[0]:
        print("Say which file: make backup FILE=/path/to/yardstick.tar (or make restore FILE=...)", file=sys.stderr)
        return 2
    file, home = Path(names[0]).resolve(), data_home(ROOT)
    try:
        cluster = Cluster(home)
        ran = cluster.is_running()
        if restoring and ran:
            raise SetupProblem(f"The app runs on the data in {home}: end it first.")
        if not restoring and not (cluster.data / "PG_VERSION").exists():
            raise SetupProblem(f"There is no data in {home}: nothing to back up.")
        cluster.start()
        try:
            restore(cluster, home, file) if restoring else back_up(cluster, home, file)
        finally:
            if not ran:
                cluster.stop()
    except (SetupProblem, OSError, tarfile.TarError) as problem:
        print(problem, file=sys.stderr)
        return 1
    print(f"Restored {file} into {home}." if restoring else f"Backed up {home} into {file}.")
    return 0


def back_up(cluster: Cluster, home: Path, file: Path) -> None:
    """Write the archive beside its place, and give it its name once it is whole and on disk."""
    part = file.with_name(file.name + ".part")
    with tempfile.TemporaryDirectory(dir=file.parent) as folder:
        dump = Path(folder) / DUMP
        _client(cluster, "pg_dump", "--format=custom", "--no-owner", f"--file={dump}", DATABASE)
        parts = [dump]
        if (home / CLICKS).exists():
            parts.append(Path(shutil.copy(home / CLICKS, folder)))
        said = {path.name: {"bytes": path.stat().st_size, "sha256": _sum(path)} for path in parts}
        (Path(folder) / LIST).write_text(json.dumps(said, indent=2))
        with tarfile.open(part, "w") as archive:
            for path in [Path(folder) / LIST, *parts]:
                archive.add(path, path.name)
    with part.open("rb") as done:
        os.fsync(done.fileno())
    os.replace(part, file)


def restore(cluster: Cluster, home: Path, file: Path) -> None:
    """Check the archive, restore into a database beside the one there is, and put it in its place in one step."""
    with tempfile.TemporaryDirectory(dir=home) as folder:
        with tarfile.open(file) as archive:
            for name in (LIST, DUMP, CLICKS):
                if name in archive.getnames():
                    archive.extract(name, folder, filter="data")
        said = json.loads((Path(folder) / LIST).read_text())
        for name, facts in said.items():
            if name not in (DUMP, CLICKS) or _sum(Path(folder) / name) != facts["sha256"]:
                raise SetupProblem(f"{file} is damaged ({name}): nothing was restored.")
        with psycopg.connect(_plain(cluster.url("postgres")), autocommit=True) as connection:
            there = connection.execute("SELECT 1 FROM pg_database WHERE datname = %s", (DATABASE,)).fetchone()
            if there and _has_data(cluster):
                raise SetupProblem(
                    f"There is data in {home} already: restore into another folder (YARDSTICK_HOME=...)."
                )
            connection.execute(f"DROP DATABASE IF EXISTS {RESTORING}")
            connection.execute(f"CREATE DATABASE {RESTORING}")
            dump = str(Path(folder) / DUMP)
            _client(cluster, "pg_restore", "--no-owner", "--exit-on-error", f"--dbname={RESTORING}", dump)
            # What was made from other data goes first, so that it can never stand beside these.
            for name in ("snapshots", "short-links", "uploads"):
                shutil.rmtree(home / name, ignore_errors=True)
            if CLICKS in said:
                os.replace(Path(folder) / CLICKS, home / CLICKS)
            connection.execute(f"DROP DATABASE IF EXISTS {DATABASE}")
            connection.execute(f"ALTER DATABASE {RESTORING} RENAME TO {DATABASE}")


def _has_data(cluster: Cluster) -> bool:
    with psycopg.connect(_plain(cluster.url(DATABASE))) as connection:
        named = connection.execute("SELECT to_regclass('public.change')").fetchone()
        if not named or named[0] is None:
            return False
        return bool(connection.execute("SELECT 1 FROM change LIMIT 1").fetchone())


def _client(cluster: Cluster, program: str, *words: str) -> None:
    environment = os.environ | {
        "PGPASSWORD": cluster.password_file.read_text().strip(),
        "PGHOST": "127.0.0.1",
        "PGPORT": str(cluster.port),
        "PGUSER": "yardstick",
    }
    command = [str(server_programs() / program), *words]
    done = subprocess.run(command, env=environment, capture_output=True, text=True)
    if done.returncode:
        raise SetupProblem(f"{program} did not work, and nothing was changed: {done.stderr.strip()[-800:]}")


def _plain(url: str) -> str:
    return url.replace("+psycopg", "")


def _sum(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


if __name__ == "__main__":
    sys.exit(main())
