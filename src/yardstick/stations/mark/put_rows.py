"""Changes of the link sheet on record: the one way, for keeping and for trying."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import Connection

from yardstick.core.base.errors import SettingsError
from yardstick.core.links.checkup import Checker
from yardstick.core.links.links import LinkMaker
from yardstick.store.links import KeptLink, RowChange, change_rows, rows_after
from yardstick.store.loading import lock
from yardstick.store.short_codes import claim_codes
from yardstick.store.states import last_change_of

from ..workspace.desk import Desk
from ..workspace.hold_addresses import as_held, clicked_of, hold_addresses
from ..workspace.refusals import Overtaken

MOST_ROWS = 20_000


@dataclass(frozen=True)
class PutRows:
    """Rows of the sheet around a change: as who made it saw them, as they stood before it, as they stand after it."""

    seen: Sequence[KeptLink]
    before: Sequence[KeptLink]
    after: Sequence[KeptLink]


def put_rows(desk: Desk, connection: Connection, changes: Sequence[RowChange], basis: int, what: str) -> PutRows:
    """Put a change of rows on record.

    Parameters
    ----------
    desk, connection : the workspace, and the transaction: committed to keep the change, rolled back after trying it
    changes, basis, what : see `Sheets.change`, also for what is refused
    """
    lock(connection, desk.workspace)
    before = seen = hold_addresses(desk, connection, {change.key for change in changes})
    last = last_change_of(connection, desk.workspace, "links")
    if basis > last:
        raise Overtaken("the sheet has changed since you opened it; nothing was saved. Reload and repeat")
    if basis != last:
        seen = rows_after(connection, desk.workspace, basis)
        _refuse_overtaken(changes, seen, before)
    if len(before) + len(changes) > MOST_ROWS:
        raise SettingsError(f"a sheet has at most {MOST_ROWS} rows: start another workspace")
    codes = {c.cells["short"] for c in changes if c.cells and c.cells.get("short")}
    for code, owner in claim_codes(connection, desk.workspace, codes).items():
        raise SettingsError(f"short: {code!r} belongs to the workspace {owner}: choose another ending")
    plan = desk.kept_plan(connection).plan
    clicked = clicked_of(desk, connection, plan, before)
    held = as_held(LinkMaker(Checker(plan), plan), before, changes, clicked)
    made = change_rows(connection, desk.workspace, before, held, what)
    return PutRows(seen, before, rows_after(connection, desk.workspace, made))


def _refuse_overtaken(changes: Sequence[RowChange], seen: Sequence[KeptLink], now: Sequence[KeptLink]) -> None:
    """Refuse edits of cells that are no longer what the person saw."""
    was, stands = {r.key: r for r in seen}, {r.key: r for r in now}
    order = [r.key for r in now]
    for change in changes:
        old, new = was.get(change.key), stands.get(change.key)
        if old == new:
            continue
        if new is None:
            raise Overtaken("the row was removed in another window; nothing was saved. Reload and repeat")
        here = f"row {order.index(change.key) + 1}"
        before = old.cells if old else {}
        if change.cells is None:
            raise Overtaken(f"{here} was changed in another window: it was not removed. Reload and repeat")
        for name, value in change.cells.items():
            mine, theirs = before.get(name, ""), new.cells.get(name, "")
            if mine != theirs and theirs != value:
                raise Overtaken(
                    f"{here}, {name} was changed in another window: {theirs!r} stands there now, and nothing was kept"
                )
