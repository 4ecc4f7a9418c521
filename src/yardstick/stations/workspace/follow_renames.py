"""Rows of the link sheet follow when what they name is called otherwise in the plan, and go back with it."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import Connection

from yardstick.core.base.words import fold
from yardstick.formats.plan.renaming import NAMED, Renamed
from yardstick.store.links import KeptLink, RowChange, change_rows, rows_before, tied_change
from yardstick.store.loading import CannotUndo, undo


def rows_that_follow(renamed: Sequence[Renamed], rows: Sequence[KeptLink]) -> list[RowChange]:
    """What is to happen to rows that name records as they were called before.

    Parameters
    ----------
    renamed : the records that are called otherwise
    rows : of the sheet, as they stand
    """
    out = []
    for row in rows:
        cells = {}
        for one in renamed:
            for column in NAMED[one.section].links:
                text = one.texts.get(fold(row.cells.get(column, "")))
                if text is not None:
                    cells[column] = text
        if cells:
            out.append(RowChange(row.key, cells))
    return out


def undo_following(connection: Connection, workspace: int, change: int, rows: Sequence[KeptLink]) -> None:
    """Let the rows that followed a change of the plan go back with it; edits that others made of them since then stay.

    Parameters
    ----------
    connection, workspace : the transaction in which the change is undone
    change : of the plan
    rows : of the sheet, as they stand
    """
    tied = tied_change(connection, workspace, change)
    if tied is None:
        return
    try:
        undo(connection, workspace, tied)
        return
    except CannotUndo:
        # Later edits of the sheet stand on it: only the cells that followed go back.
        was, made = rows_before(connection, workspace, tied)
    back = []
    for row in rows:
        old, new = was.get(row.key, {}), made.get(row.key, {})
        cells = {n: old.get(n, "") for n in new if new[n] != old.get(n, "") and row.cells.get(n) == new[n]}
        if cells:
            back.append(RowChange(row.key, cells))
    if back:
        change_rows(connection, workspace, rows, back, "names as they were before")
