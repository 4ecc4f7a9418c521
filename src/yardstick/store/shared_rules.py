"""Channel rules that workspaces share, version by version; the latest that was not withdrawn stands."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import Connection, func, insert, select, text, update

from .models import SharedRules, Workspace


@dataclass(frozen=True)
class SharedVersion:
    """The rules that stand, the workspace that shared them, and when."""

    id: int
    records: list[dict[str, Any]]
    by: str
    shared_at: datetime


def lock_shared(connection: Connection) -> None:
    """Let nobody else share or withdraw until the transaction ends."""
    connection.execute(text("LOCK TABLE shared_rules IN SHARE ROW EXCLUSIVE MODE"))


def standing(connection: Connection) -> SharedVersion | None:
    """The version that stands; None before anything was shared."""
    row = connection.execute(
        select(SharedRules.id, SharedRules.records, Workspace.name, SharedRules.shared_at)
        .join(Workspace, Workspace.id == SharedRules.workspace_id)
        .where(SharedRules.withdrawn_at.is_(None))
        .order_by(SharedRules.id.desc())
        .limit(1)
    ).first()
    return SharedVersion(*row) if row else None


def share(connection: Connection, workspace: int, records: Sequence[dict[str, Any]]) -> None:
    """Put a new version on top."""
    connection.execute(insert(SharedRules).values(workspace_id=workspace, records=list(records)))


def withdraw(connection: Connection, version: int) -> None:
    """Take a version away; the one before it stands again."""
    connection.execute(update(SharedRules).where(SharedRules.id == version).values(withdrawn_at=func.now()))
