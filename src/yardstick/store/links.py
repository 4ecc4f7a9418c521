"""The rows of the link sheet: closed by the change that replaced them, never overwritten."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal

from sqlalchemy import Connection, Text, bindparam, func, insert, or_, select, update

from yardstick.core.links.links import HELD

from .loading import lock
from .models import Change, LinkRow
from .undone import STEPS_BACK, undone

FIRST, STEP = 1_000, 1_000


@dataclass(frozen=True)
class KeptLink:
    """A row of the sheet."""

    key: str
    place: str
    cells: dict[str, str]


@dataclass(frozen=True)
class RowChange:
    """What is to happen to one row.

    Attributes
    ----------
    key : of the row; an unknown one makes a new row
    cells : cells that change; None takes the row out
    after : a new row stands after the row of this key; empty = at the end
    """

    key: str
    cells: Mapping[str, str] | None
    after: str = ""


def rows_after(connection: Connection, workspace: int, after: int) -> list[KeptLink]:
    """The rows as they stood after a change, in their order."""
    found = connection.execute(
        select(LinkRow.key, LinkRow.place, LinkRow.cells)
        .where(
            LinkRow.workspace_id == workspace,
            LinkRow.opened_by <= after,
            or_(LinkRow.closed_by.is_(None), LinkRow.closed_by > after),
        )
        .order_by(LinkRow.place.collate("C"), LinkRow.key.collate("C"))
    )
    return [KeptLink(key, place, cells) for key, place, cells in found]


def keys_of(connection: Connection, workspace: int, change: int) -> set[str]:
    """Keys of the rows that a change made or closed."""
    of_it = or_(LinkRow.load_id == change, LinkRow.closed_by == change)
    return set(connection.execute(select(LinkRow.key).where(LinkRow.workspace_id == workspace, of_it)).scalars())


def tied_change(connection: Connection, workspace: int, change: int) -> int | None:
    """The change of the sheet that was made together with one of the plan; None if there is none that stands."""
    mine = (Change.workspace_id == workspace, Change.subject == "links", Change.kind.not_in(STEPS_BACK))
    number = select(Change.batch_number).where(Change.id == change).scalar_subquery()
    return connection.execute(
        select(Change.id).where(*mine, Change.batch_number == number, Change.id.not_in(undone(workspace)))
    ).scalar_one_or_none()


def rows_before(
    connection: Connection, workspace: int, change: int
) -> tuple[dict[str, dict[str, str]], dict[str, dict[str, str]]]:
    """Cells by key of the rows that a change closed, and of those that it made."""
    closed, made = (
        connection.execute(select(LinkRow.key, LinkRow.cells).where(LinkRow.workspace_id == workspace, of_it))
        for of_it in (LinkRow.closed_by == change, LinkRow.opened_by == change)
    )
    return {row.key: row.cells for row in closed}, {row.key: row.cells for row in made}


def change_rows(
    connection: Connection,
    workspace: int,
    before: Sequence[KeptLink],
    changes: Sequence[RowChange],
    what: str,
    batch_number: int | None = None,
) -> int:
    """Change rows as one change with one undo, in the transaction of `connection`.

    Parameters
    ----------
    before : the rows as they stand
    changes : what is to happen, in order
    what : what was done, for the list of changes
    batch_number : number that it has in common with the change of the plan that it follows

    Returns
    -------
    int
        Id of the change.
    """
    lock(connection, workspace)
    now = {row.key: row for row in before}
    order = [row.key for row in before]
    touched: dict[str, KeptLink | None] = {}
    for change in changes:
        if change.cells is None:
            touched[change.key] = None
            continue
        old = touched.get(change.key) or now.get(change.key)
        cells = {**(old.cells if old else {}), **change.cells}
        if old is None and change.key not in order:
            order.insert(order.index(change.after) + 1 if change.after in order else len(order), change.key)
        kept = {name: value for name, value in cells.items() if value}
        touched[change.key] = KeptLink(change.key, old.place if old else "", kept)
    places = _places(order, {row.key: row.place for row in before})
    made = connection.execute(
        insert(Change)
        .values(
            workspace_id=workspace,
            kind="mark",
            subject="links",
            file=what,
            rows_read=len(touched),
            batch_number=batch_number,
        )
        .returning(Change.id)
    ).scalar_one()
    connection.execute(
        update(LinkRow)
        .where(LinkRow.workspace_id == workspace, LinkRow.closed_by.is_(None), LinkRow.key.in_(list(touched)))
        .values(closed_by=made)
    )
    fresh = [row for row in touched.values() if row is not None]
    if fresh:
        connection.execute(
            insert(LinkRow),
            [
                {
                    "workspace_id": workspace,
                    "key": row.key,
                    "place": places[row.key],
                    "cells": row.cells,
                    "load_id": made,
                    "opened_by": made,
                }
                for row in fresh
            ],
        )
    return int(made)


def hold(connection: Connection, workspace: int, addresses: Mapping[str, str]) -> None:
    """Write down in rows that stand the address their links went out with. It is no change of a row: whatever is
    undone, it stays so.

    Parameters
    ----------
    addresses : by key of the row
    """
    if addresses:
        connection.execute(
            update(LinkRow)
            .where(LinkRow.workspace_id == workspace, LinkRow.closed_by.is_(None), LinkRow.key == bindparam("held_row"))
            .values(cells=LinkRow.cells.op("||")(func.jsonb_build_object(HELD, bindparam("held_address", type_=Text)))),
            [{"held_row": key, "held_address": address} for key, address in addresses.items()],
        )


def _places(order: Sequence[str], known: Mapping[str, str]) -> dict[str, str]:
    """Places of all rows: those that have one keep it, new ones stand between their neighbours."""
    out: dict[str, str] = {}
    last = Decimal(0)
    waiting: list[str] = []
    for key in [*order, ""]:
        if key and key not in known:
            waiting.append(key)
            continue
        following = Decimal(known[key]) if key else None
        if waiting:
            out |= dict(zip(waiting, _between(last, following, len(waiting)), strict=True))
            waiting = []
        if key:
            out[key] = known[key]
            last = Decimal(known[key])
    return out


def _between(low: Decimal, high: Decimal | None, number: int) -> list[str]:
    if high is None:
        return [_text(low + STEP * i) for i in range(1, number + 1)]
    # Halving ends in exact decimals, so that there is always room for one more.
    parts = 1 << number.bit_length()
    return [_text(low + (high - low) * i / parts) for i in range(1, number + 1)]


def _text(place: Decimal) -> str:
    """Written so that code point order is the order of numbers."""
    whole, dot, rest = format(place, "f").partition(".")
    rest = rest.rstrip("0")
    return whole.zfill(14) + (dot + rest if rest else "")
