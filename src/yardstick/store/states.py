"""Reading a state back: the rows that stand now, or that stood after any earlier change."""

from __future__ import annotations

import csv
import io
from typing import Any

from sqlalchemy import Connection, func, or_, select
from sqlalchemy.dialects.postgresql import insert

from yardstick.core.base.tables import SCHEMA, Table, Tables
from yardstick.formats.columns import parse
from yardstick.formats.csv_in import RawTable

from .models import RAW, Change, DataState, SettingsVersion


def last_change(connection: Connection, workspace: int) -> int:
    """Id of the workspace's latest change, 0 if nothing was loaded yet."""
    return int(
        connection.execute(
            select(func.coalesce(func.max(Change.id), 0)).where(Change.workspace_id == workspace)
        ).scalar_one()
    )


def last_change_of(connection: Connection, workspace: int, subject: str) -> int:
    """Id of the latest change of one subject, an undoing among them; 0 if there is none."""
    found = select(func.coalesce(func.max(Change.id), 0)).where(
        Change.workspace_id == workspace, Change.subject == subject
    )
    return int(connection.execute(found).scalar_one())


def subjects_between(connection: Connection, workspace: int, after: int, until: int) -> set[str]:
    """What changed after one change and until another: names of tables, and `settings`."""
    found = connection.execute(
        select(Change.subject).where(Change.workspace_id == workspace, Change.id > after, Change.id <= until).distinct()
    )
    return set(found.scalars())


def settings_version(connection: Connection, workspace: int, after: int) -> int:
    """Number of the version of the settings that stood after a change; 0 if none were set."""
    version = SettingsVersion
    found = connection.execute(
        select(version.id).where(
            version.workspace_id == workspace,
            version.opened_by <= after,
            or_(version.closed_by.is_(None), version.closed_by > after),
        )
    ).scalar_one_or_none()
    return int(found or 0)


def settings_text(connection: Connection, workspace: int, after: int) -> str:
    """The settings as TOML as they stood after a change; empty if none were set."""
    version = SettingsVersion
    found = connection.execute(
        select(version.toml).where(
            version.workspace_id == workspace,
            version.opened_by <= after,
            or_(version.closed_by.is_(None), version.closed_by > after),
        )
    ).scalar_one_or_none()
    return found or ""


def tables_after(connection: Connection, workspace: int, after: int, zone: str) -> Tables:
    """Every table as it stood after a change, in the order in which its rows were first loaded.

    Parameters
    ----------
    connection, workspace : where to read
    after : id of the change
    zone : time zone of times that carry no offset
    """
    return Tables(**{name: _table_after(connection, workspace, name, after, zone) for name in SCHEMA})


def _table_after(connection: Connection, workspace: int, name: str, after: int, zone: str) -> Table:
    columns = [c.name for c in SCHEMA[name]]
    quoted = ", ".join(f'r."{c}"' for c in columns)
    query = (
        f"COPY (SELECT r.line, c.file, {quoted} FROM {RAW[name].__tablename__} r JOIN change c ON c.id = r.load_id "
        f"WHERE r.workspace_id = {int(workspace)} AND r.opened_by <= {int(after)} "
        f"AND (r.closed_by IS NULL OR r.closed_by > {int(after)}) ORDER BY r.load_id, r.line) TO STDOUT (FORMAT csv)"
    )
    driver: Any = connection.connection.driver_connection
    with driver.cursor() as cursor, cursor.copy(query) as copy:
        content = b"".join(bytes(block) for block in copy)
    rows = list(csv.reader(io.StringIO(content.decode(), newline="")))
    raw = RawTable(
        name,
        "",
        columns,
        [],
        [row[2:] for row in rows],
        [int(row[0]) for row in rows],
        files=[row[1] for row in rows],
        read=len(rows),
    )
    return parse(raw, zone).table


def remember_state(connection: Connection, workspace: int, change: int, fingerprint: str) -> None:
    """Note which change a data fingerprint was taken after."""
    connection.execute(
        insert(DataState)
        .values(workspace_id=workspace, change_id=change, fingerprint=fingerprint)
        .on_conflict_do_nothing()
    )


def change_behind(connection: Connection, workspace: int, fingerprint: str) -> int | None:
    """The latest change after which the data had a fingerprint, None if it never had."""
    return connection.execute(
        select(func.max(DataState.change_id)).where(
            DataState.workspace_id == workspace, DataState.fingerprint == fingerprint
        )
    ).scalar_one()
