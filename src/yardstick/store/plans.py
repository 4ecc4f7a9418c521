"""Settings, version by version: each change closes the one before it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import Connection, insert, select, update

from .loading import lock
from .models import Change, SettingsVersion
from .undone import STEPS_BACK, undone


@dataclass(frozen=True)
class KeptSettings:
    """What keeping settings did."""

    change: int
    was_set: bool
    same: bool


def keep_settings(
    connection: Connection, workspace: int, toml: str, kind: str, what: str, batch_number: int | None = None
) -> KeptSettings:
    """Make a text the workspace's settings, in the transaction of `connection`.

    Parameters
    ----------
    kind : "load" for a file, "plan" for an edit
    what : name of the file, or what was edited
    batch_number : number that it has in common with the change of the link sheet that follows it
    """
    lock(connection, workspace)
    version = SettingsVersion
    mine = (version.workspace_id == workspace, version.closed_by.is_(None))
    before = connection.execute(select(version.toml).where(*mine)).scalar_one_or_none()
    same = before == toml
    counts = {
        "rows_read": 1,
        "rows_new": int(before is None),
        "rows_replaced": int(before is not None and not same),
        "rows_unchanged": int(same),
    }
    change = connection.execute(
        insert(Change)
        .values(workspace_id=workspace, kind=kind, subject="settings", file=what, batch_number=batch_number, **counts)
        .returning(Change.id)
    ).scalar_one()
    if not same:
        connection.execute(update(version).where(*mine).values(closed_by=change))
        connection.execute(insert(version).values(workspace_id=workspace, toml=toml, load_id=change, opened_by=change))
    return KeptSettings(change, before is not None, same)


@dataclass(frozen=True)
class Step:
    """One change."""

    id: int
    what: str
    made_at: datetime
    made_by: str
    undone: bool


def steps(connection: Connection, workspace: int, subject: str = "settings") -> list[Step]:
    """Changes of the settings or the links, the latest first; undoings stand with what they undid."""
    out = set(connection.execute(undone(workspace)).scalars())
    found = connection.execute(
        select(Change.id, Change.file, Change.made_at, Change.made_by)
        .where(Change.workspace_id == workspace, Change.subject == subject, Change.kind.not_in(STEPS_BACK))
        .order_by(Change.id.desc())
    )
    return [Step(row.id, row.file, row.made_at, row.made_by, row.id in out) for row in found]


def texts_with(connection: Connection, workspace: int, words: Sequence[str]) -> Iterator[str]:
    """The settings that ever stood and have all of some words in them, the latest first."""
    version = SettingsVersion
    has = [version.toml.contains(word, autoescape=True) for word in words]
    found = select(version.toml).where(version.workspace_id == workspace, *has).order_by(version.id.desc())
    yield from connection.execute(found).scalars()
