"""The list of loads, each with its undo."""

from __future__ import annotations

import json
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select

from yardstick.core.base.notes import Rejected
from yardstick.formats.rows.intake import Counts
from yardstick.store.loading import lock, redo, undo
from yardstick.store.models import Change, RejectedRow
from yardstick.store.steps import reach
from yardstick.store.undone import STEPS_BACK, undone

from ..workspace.desk import Desk
from ..workspace.hold_addresses import hold_addresses
from ..workspace.refusals import NotFound


@dataclass(kw_only=True)
class Load(Counts):
    """One entry of the list of loads."""

    id: int
    subject: str
    source: str
    file: str
    made_at: datetime
    made_by: str
    answers: dict[str, str]
    undone: bool
    can_undo: bool
    can_redo: bool


def list_loads(desk: Desk) -> list[Load]:
    """All loads, the latest first. Rows can be undone and brought back in any order, settings the latest first."""
    with desk.engine.connect() as connection:
        changes = connection.execute(
            select(Change).where(Change.workspace_id == desk.workspace).order_by(Change.id.desc())
        ).all()
        out_now = set(connection.execute(undone(desk.workspace)).scalars())
    out = []
    settings_stand = False
    for c in changes:
        if c.kind in STEPS_BACK:
            continue
        is_undone = c.id in out_now
        can_undo = not is_undone and not (c.subject == "settings" and settings_stand)
        settings_stand |= c.subject == "settings" and not is_undone
        if c.kind != "load":
            continue
        out.append(
            Load(
                id=c.id,
                subject=c.subject,
                source=c.source,
                file=c.file,
                made_at=c.made_at,
                made_by=c.made_by,
                answers=_answers(c.reading),
                read=c.rows_read,
                new=c.rows_new,
                replaced=c.rows_replaced,
                unchanged=c.rows_unchanged,
                repeated=c.rows_repeated,
                rejected=c.rows_rejected,
                lines=c.lines,
                header=c.lines_header,
                skipped=c.lines_skipped,
                undone=is_undone,
                can_undo=can_undo,
                can_redo=is_undone and c.load_no is not None,
            )
        )
    return out


def _answers(reading: str) -> dict[str, str]:
    """The answers given when a load was rehearsed."""
    record = json.loads(reading).get("source") if reading else None
    return dict((record or {}).get("answers", {}))


def undo_load(desk: Desk, load: int) -> None:
    """Undo a load and work out what stands.

    Raises
    ------
    CannotUndo
        If it cannot be undone; says what to do first.
    """
    with desk.begin() as connection:
        lock(connection, desk.workspace)
        mine = (Change.id == load, Change.workspace_id == desk.workspace)
        if connection.execute(select(Change.subject).where(*mine)).scalar_one_or_none() == "settings":
            hold_addresses(desk, connection)
        undo(connection, desk.workspace, load)
        reach("undo recorded", desk.end_backends)
    reach("undo committed", desk.end_backends)
    desk.settle()


def redo_load(desk: Desk, load: int) -> None:
    """Bring an undone load of rows back and work out what stands.

    Raises
    ------
    CannotUndo
        If there is nothing to bring back.
    """
    with desk.begin() as connection:
        redo(connection, desk.workspace, load)
    desk.settle()


def rejected_of(desk: Desk, load: int) -> list[Rejected]:
    """The rejected rows of a load, in file order.

    Raises
    ------
    NotFound
        If there is no such load.
    """
    with desk.engine.connect() as connection:
        found = connection.execute(
            select(Change.subject, Change.load_no).where(Change.id == load, Change.workspace_id == desk.workspace)
        ).one_or_none()
        if found is None:
            raise NotFound("there is no such load: reload the list")
        rows = connection.execute(
            select(RejectedRow.file, RejectedRow.line, RejectedRow.column, RejectedRow.value, RejectedRow.reason)
            .where(RejectedRow.load_no == found.load_no)
            .order_by(RejectedRow.line, RejectedRow.id)
        ).all()
    return [Rejected(found.subject, r.file, r.line, r.column, r.value, r.reason) for r in rows]
