"""Which changes are undone: an undoing may be undone itself (*redo*), that again, and so on."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from sqlalchemy import Connection, Select, func, select
from sqlalchemy.orm import aliased

from .models import Change

UNDO, REDO = "undo", "redo"
STEPS_BACK = (UNDO, REDO)
"""Kinds of change that say nothing but what becomes of another."""


def undone(workspace: int, until: int | None = None) -> Select[int]:
    """Ids of the changes that are undone; after a change, or now."""
    chain = _chains(workspace, until)
    # Undone, brought back, undone again: an odd number of steps takes it out.
    return select(chain.c.change).group_by(chain.c.change).having(func.count() % 2 == 1)


def latest_steps(connection: Connection, workspace: int) -> Mapping[int, int]:
    """By id of each change that was ever undone, the id of the latest step back or forth."""
    chain = _chains(workspace, None)
    found = connection.execute(select(chain.c.change, func.max(chain.c.step)).group_by(chain.c.change))
    return {int(change): int(step) for change, step in found}


def _chains(workspace: int, until: int | None) -> Any:
    """(change, step) of every step back or forth that was taken on a change."""
    mine = [Change.workspace_id == workspace, Change.undoes.is_not(None)]
    if until is not None:
        mine.append(Change.id <= until)
    of = aliased(Change)
    first = (
        select(Change.undoes.label("change"), Change.id.label("step"))
        .join(of, of.id == Change.undoes)
        .where(*mine, of.kind.not_in(STEPS_BACK))
        .cte("chains", recursive=True)
    )
    next_one = select(first.c.change, Change.id).join(first, Change.undoes == first.c.step).where(*mine)
    return first.union_all(next_one)
