"""The way to the database: engine, migrations, whether it answers."""

from __future__ import annotations

import errno
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import psycopg
from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from alembic.util import CommandError
from sqlalchemy import Connection, Engine, create_engine, text
from sqlalchemy.exc import DBAPIError, InterfaceError, OperationalError
from sqlalchemy.exc import TimeoutError as NoConnection

WAIT_S = 20
"""How long a change waits for a connection, or for another change of the same workspace."""
MIGRATIONS = Path(__file__).parent / "migrations"
AWAY = (OperationalError, InterfaceError, NoConnection)
"""What is raised when the database cannot be reached, or broke off."""


def is_full(error: BaseException) -> bool:
    """Whether an error says that a disk is full: ours, or the database's (SQLSTATE class 53)."""
    if isinstance(error, OSError):
        return error.errno in (errno.ENOSPC, errno.EDQUOT)
    state = getattr(getattr(error, "orig", None), "sqlstate", None) or ""
    return state in ("53100", "58030")


def is_busy(error: BaseException) -> bool:
    """Whether an error says that all connections are in use, or that another change held a lock for long."""
    return isinstance(error, NoConnection) or getattr(getattr(error, "orig", None), "sqlstate", None) == "55P03"


def is_locked(error: BaseException) -> bool:
    """Whether an error says that a folder or file may not be written."""
    return isinstance(error, OSError) and error.errno in (errno.EACCES, errno.EROFS, errno.EPERM)


@contextmanager
def copying(connection: Connection, statement: str) -> Iterator[Any]:
    """A COPY through the driver, which SQLAlchemy has no words for; what goes wrong is raised as SQLAlchemy would.

    Raises
    ------
    sqlalchemy.exc.DBAPIError
        Of the kind that any other statement would have raised.
    """
    driver: Any = connection.connection.driver_connection
    try:
        with driver.cursor() as cursor, cursor.copy(statement) as copy:
            yield copy
    except psycopg.Error as error:
        raise DBAPIError.instance(statement, None, error, psycopg.Error) from error


def connect(url: str) -> Engine:
    """An engine that notices when the server went away, and does not wait long for one that is away, nor for others."""
    return create_engine(
        url,
        pool_pre_ping=True,
        pool_size=4,
        max_overflow=4,
        pool_timeout=WAIT_S,
        connect_args={"connect_timeout": 5, "options": f"-c lock_timeout={WAIT_S}s"},
    )


def connect_alone(url: str) -> Engine:
    """An engine for one user of the database who must not wait for others: a connection of its own, short limits."""
    limits = {"connect_timeout": 2, "options": "-c statement_timeout=10000"}
    return create_engine(url, pool_pre_ping=True, pool_size=1, max_overflow=0, pool_timeout=2, connect_args=limits)


@dataclass
class Outcome:
    """What became of the changes that a request asked for, as far as is known while it is answered."""

    unsure: bool = False
    kept: bool = False


outcome: ContextVar[Outcome | None] = ContextVar("outcome", default=None)
"""Of the request at hand; whoever answers it puts an empty one here before."""


@contextmanager
def begin(engine: Engine, user: str) -> Iterator[Connection]:
    """A transaction whose changes are put down to a user. The request's outcome is told of it."""
    told = outcome.get() or Outcome()
    with engine.begin() as connection:
        connection.execute(text("SELECT set_config('yardstick.user', :user, true)"), {"user": user})
        yield connection
        # From here on the answer to the commit may be lost while the commit is not.
        told.unsure = not told.kept
    told.unsure, told.kept = False, True


def end_backends(engine: Engine) -> None:
    """End every other connection to the database, as an administrator would."""
    with engine.connect() as connection:
        connection.execute(
            text(
                "SELECT pg_terminate_backend(pid) FROM pg_stat_activity "
                "WHERE datname = current_database() AND pid <> pg_backend_pid()"
            )
        )


class NewerLayout(RuntimeError):
    """The database was made by a version of the app that this one does not know."""


def migrate(engine: Engine, to: str = "head") -> None:
    """Bring the database to a version, up or down.

    Raises
    ------
    NewerLayout
        If a newer version of the app made it.
    """
    with engine.begin() as connection:
        config = Config()
        config.set_main_option("script_location", str(MIGRATIONS))
        config.attributes["connection"] = connection
        known = ScriptDirectory.from_config(config)
        for layout in MigrationContext.configure(connection).get_current_heads():
            try:
                known.get_revision(layout)
            except CommandError:
                said = f"A newer version of the app made this database (layout {layout}): start that version."
                raise NewerLayout(said) from None
        if to == "base" or to.startswith("-"):
            command.downgrade(config, to)
        else:
            command.upgrade(config, to)


def version(engine: Engine) -> dict[str, Any]:
    """Version of the server and of the database's layout.

    Raises
    ------
    sqlalchemy.exc.OperationalError
        If the database is away.
    """
    with engine.connect() as connection:
        server = connection.execute(text("SHOW server_version")).scalar_one()
        layout = connection.execute(text("SELECT version_num FROM alembic_version")).scalar_one_or_none()
    return {"server": server, "layout": layout}
