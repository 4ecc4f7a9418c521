"""A private PostgreSQL for the tests: one cluster per worker, a template database, a fresh copy per test."""

from __future__ import annotations

import itertools
import shutil
import tempfile
from pathlib import Path

import psycopg

from private_postgres import Cluster
from yardstick.store.database import connect, migrate

TEMPLATE = "yardstick_template"
_MADE: list[Path] = []


def reachable(name: str) -> Path:
    """A new folder that the database's own user can reach, gone at the end of the session.

    It does not stand among pytest's own: another run of pytest closes those to everybody else while ours goes on.
    """
    made = Path(tempfile.mkdtemp(prefix=f"yardstick-test-{name}-"))
    made.chmod(0o755)
    _MADE.append(made)
    return made


def sweep() -> None:
    """Remove the folders that were made."""
    while _MADE:
        shutil.rmtree(_MADE.pop(), ignore_errors=True)


class Databases:
    """Hands out migrated, empty databases."""

    def __init__(self, home: Path, durable: bool = False) -> None:
        self.cluster = Cluster(home, durable=durable)
        self.cluster.start()
        self._numbers = itertools.count(1)
        self._sql(f"CREATE DATABASE {TEMPLATE}")
        engine = connect(self.cluster.url(TEMPLATE))
        migrate(engine)
        engine.dispose()

    def fresh(self, like: str = "") -> str:
        """SQLAlchemy address of a new database: an empty one, or a copy of that at another address, which is closed."""
        name, template = f"yardstick_{next(self._numbers)}", like.rpartition("/")[2].partition("?")[0] or TEMPLATE
        self._sql(f"CREATE DATABASE {name} TEMPLATE {template}")
        return self.cluster.url(name)

    def empty(self) -> str:
        """SQLAlchemy address of a new database without tables."""
        name = f"bare_{next(self._numbers)}"
        self._sql(f"CREATE DATABASE {name}")
        return self.cluster.url(name)

    def _sql(self, statement: str) -> None:
        url = self.cluster.url("postgres").replace("+psycopg", "")
        with psycopg.connect(url, autocommit=True) as connection:
            connection.execute(statement)
