"""Reading a state back: what stands now, or stood after any earlier change."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import Connection, func, or_, select
from sqlalchemy.dialects.postgresql import insert

from .models import Change, DataState, RejectedRow, SettingsVersion
from .undone import undone


@dataclass(frozen=True)
class LoadThere:
    """A load that stands: its number, the number of the files it was given together with, its table and file, what
    sets its days apart (`keyed.finer_columns`), how many lines, the zone of its times without offset where that is not
    the workspace's, and its source."""

    load: int
    batch_number: int
    table: str
    file: str
    detail_columns: str
    lines: int = 0
    zone: str = ""
    source: str = ""


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


def loads_after(connection: Connection, workspace: int, after: int) -> list[LoadThere]:
    """The loads of rows that stood after a change, in the order in which rows count (R20): by load, then file."""
    found = connection.execute(
        select(
            Change.id,
            Change.load_no,
            Change.batch_number,
            Change.subject,
            Change.file,
            Change.detail_columns,
            Change.lines,
            Change.zone,
            Change.source,
        ).where(
            Change.workspace_id == workspace,
            Change.load_no.is_not(None),
            Change.id <= after,
            Change.id.not_in(undone(workspace, after)),
        )
    ).all()
    # Of files given together the name decides, then the number; sets of files stand by their first commit.
    first: dict[int, int] = {}
    for row in found:
        first[row.batch_number] = min(first.get(row.batch_number, row.id), row.id)
    ordered = sorted(found, key=lambda r: (first[r.batch_number], r.file, r.load_no))
    return [
        LoadThere(
            int(r.load_no), int(r.batch_number), r.subject, r.file, r.detail_columns, int(r.lines), r.zone, r.source
        )
        for r in ordered
    ]


def all_loads(connection: Connection, workspace: int) -> set[int]:
    """Numbers of every load that ever came to be, undone ones too."""
    found = select(Change.load_no).where(Change.workspace_id == workspace, Change.load_no.is_not(None))
    return {int(n) for n in connection.execute(found).scalars() if n is not None}


@dataclass(frozen=True)
class LoadCame:
    """When a load came, and the number of the files it was given together with."""

    at: datetime
    batch_number: int


def loads_came(connection: Connection, workspace: int, loads: Collection[int]) -> dict[int, LoadCame]:
    """When loads came, by their numbers."""
    mine = (Change.workspace_id == workspace, Change.load_no.in_(loads))
    found = connection.execute(select(Change.load_no, Change.made_at, Change.batch_number).where(*mine))
    return {int(row.load_no): LoadCame(row.made_at, int(row.batch_number)) for row in found}


def rejected_rows(connection: Connection, workspace: int, loads: list[int]) -> list[tuple[str, int, str]]:
    """(file, line, digest) of the rejected rows of loads (R27)."""
    row = RejectedRow
    found = select(row.file, row.line, row.digest).where(
        row.workspace_id == workspace, row.load_no.in_(loads), row.digest != ""
    )
    return [(r.file, r.line, r.digest) for r in connection.execute(found)]


def settings_version(connection: Connection, workspace: int, after: int) -> int:
    """Number of the version of the settings that stood after a change; 0 if none were set."""
    found = connection.execute(select(SettingsVersion.id).where(*_settings_at(workspace, after))).scalar_one_or_none()
    return int(found or 0)


def settings_text(connection: Connection, workspace: int, after: int) -> str:
    """The settings as TOML as they stood after a change; empty if none were set."""
    found = connection.execute(select(SettingsVersion.toml).where(*_settings_at(workspace, after))).scalar_one_or_none()
    return found or ""


def _settings_at(workspace: int, after: int):  # type: ignore[no-untyped-def]
    version = SettingsVersion
    return (
        version.workspace_id == workspace,
        version.opened_by <= after,
        or_(version.closed_by.is_(None), version.closed_by > after),
    )


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
