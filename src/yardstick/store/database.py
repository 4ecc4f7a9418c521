"""The way to the database: engine, migrations, whether it answers."""

from __future__ import annotations

import errno
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import psycopg
from alembic import command
from alembic.config import Config
from sqlalchemy import Connection, Engine, create_engine, text
from sqlalchemy.exc import DBAPIError, InterfaceError, OperationalError
from sqlalchemy.exc import TimeoutError as NoConnection

MIGRATIONS = Path(__file__).parent / "migrations"
AWAY = (OperationalError, InterfaceError, NoConnection)
"""What is raised when the database cannot be reached, or broke off."""


def is_full(error: BaseException) -> bool:
    """Whether an error says that a disk is full: ours, or the database's (SQLSTATE class 53)."""
    if isinstance(error, OSError):
        return error.errno in (errno.ENOSPC, errno.EDQUOT)
    state = getattr(getattr(error, "orig", None), "sqlstate", None) or ""
    return state in ("53100", "58030")


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
    """An engine that notices when the server went away, and does not wait long for one that is away."""
    return create_engine(url, pool_pre_ping=True, pool_size=4, max_overflow=4, connect_args={"connect_timeout": 5})


def connect_alone(url: str) -> Engine:
    """An engine for one user of the database who must not wait for others: a connection of its own, short limits."""
    limits = {"connect_timeout": 2, "options": "-c statement_timeout=10000"}
    return create_engine(url, pool_pre_ping=True, pool_size=1, max_overflow=0, pool_timeout=2, connect_args=limits)


@contextmanager
def begin(engine: Engine, user: str) -> Iterator[Connection]:
    """A transaction whose changes are put down to a user."""
    with engine.begin() as connection:
        connection.execute(text("SELECT set_config('yardstick.user', :user, true)"), {"user": user})
        yield connection


def end_backends(engine: Engine) -> None:
    """End every other connection to the database, as an administrator would."""
    with engine.connect() as connection:
        connection.execute(
            text(
                "SELECT pg_terminate_backend(pid) FROM pg_stat_activity "
                "WHERE datname = current_database() AND pid <> pg_backend_pid()"
            )
        )


def migrate(engine: Engine, to: str = "head") -> None:
    """Bring the database to a version, up or down."""
    with engine.begin() as connection:
        config = Config()
        config.set_main_option("script_location", str(MIGRATIONS))
        config.attributes["connection"] = connection
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
