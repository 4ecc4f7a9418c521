"""Whose each short code is: one workspace of the instance has it, for good."""

from __future__ import annotations

from collections.abc import Collection

from sqlalchemy import Connection, select
from sqlalchemy.dialects.postgresql import insert

from .models import ShortCode, Workspace


def claim_codes(connection: Connection, workspace: int, codes: Collection[str]) -> dict[str, str]:
    """Take short codes for a workspace, in the transaction of `connection`.

    Returns
    -------
    dict from code to the name of the workspace that has it, for those that another one has
    """
    if not codes:
        return {}
    # In one order everywhere, so that two workspaces that want the same codes cannot wait for each other.
    rows = [{"code": code, "workspace_id": workspace} for code in sorted(codes)]
    connection.execute(insert(ShortCode).on_conflict_do_nothing(), rows)
    taken = (
        select(ShortCode.code, Workspace.name)
        .join(Workspace, Workspace.id == ShortCode.workspace_id)
        .where(ShortCode.code.in_(list(codes)), ShortCode.workspace_id != workspace)
    )
    return {row.code: row.name for row in connection.execute(taken)}


def owner_of(connection: Connection, code: str) -> str | None:
    """Name of the workspace that has a code; None if nobody does."""
    return connection.execute(
        select(Workspace.name).join(ShortCode, ShortCode.workspace_id == Workspace.id).where(ShortCode.code == code)
    ).scalar_one_or_none()
