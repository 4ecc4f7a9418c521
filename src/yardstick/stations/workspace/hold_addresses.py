"""Links that have gone out keep their address: one that was placed or clicked is out of our hands."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from dataclasses import replace

from sqlalchemy import Connection

from yardstick.core.links.checkup import Checker
from yardstick.core.links.links import HELD, LinkMaker
from yardstick.core.plan.plan import Plan
from yardstick.core.reading.arrivals import reader_of
from yardstick.store.clicks import clicked_codes
from yardstick.store.links import KeptLink, RowChange, hold, rows_after
from yardstick.store.states import last_change

from .desk import Desk
from .kept_plans import UnreadablePlan

PLACED = "placed_on"


def hold_addresses(desk: Desk, connection: Connection, among: Collection[str] | None = None) -> list[KeptLink]:
    """Write down the address of every link that has gone out, before anything makes another of it.

    Parameters
    ----------
    desk, connection : the workspace, and the transaction of the change that is about to be made
    among : keys of the rows that it will change; None before a change of the plan, which may change any. Then links
        with arrivals have left too, whether anybody wrote down where they are or not

    Returns
    -------
    list of all rows as they stand then
    """
    rows = rows_after(connection, desk.workspace, last_change(connection, desk.workspace))
    loose = [row for row in rows if not row.cells.get(HELD) and (among is None or row.key in among)]
    if not loose:
        return rows
    try:
        plan = desk.kept_plan(connection).plan
    except UnreadablePlan:
        # It makes no address; what brought it is about to be undone.
        return rows
    clicked = clicked_of(desk, connection, plan, loose)
    gone = [row for row in loose if row.cells.get(PLACED) or row.cells.get("short") in clicked]
    maker = LinkMaker(Checker(plan), plan)
    made = {row.key: maker.address(row.cells) for row in (loose if among is None else gone)}
    held = {row.key: made[row.key] for row in gone}
    book = desk.arrivals.under(plan.reading).book if among is None and len(gone) < len(loose) else None
    if book is not None:
        read = reader_of(plan.reading)
        held |= {key: url for key, url in made.items() if url and book.seen(read(url))}
    held = {key: url for key, url in held.items() if url}
    hold(connection, desk.workspace, held)
    return [replace(row, cells={**row.cells, HELD: held[row.key]}) if row.key in held else row for row in rows]


def clicked_of(desk: Desk, connection: Connection, plan: Plan, rows: Iterable[KeptLink]) -> set[str]:
    """The short codes of rows on which somebody clicked; a test is no click (R9)."""
    codes = {row.cells["short"] for row in rows if row.cells.get("short")}
    return clicked_codes(connection, desk.workspace, codes, plan.reading.test_parameter)


def as_held(
    maker: LinkMaker, before: Sequence[KeptLink], changes: Sequence[RowChange], clicked: Collection[str]
) -> list[RowChange]:
    """Changes of rows with what becomes of the addresses of their links.

    A link that is placed now is held as its row gives it. One that is edited after it left stays as it left, unless it
    is placed no longer, and nobody clicked on it: then it never left.

    Parameters
    ----------
    maker : of the plan
    before : the rows as they stand
    changes : in order
    clicked : short codes that somebody clicked on
    """
    now = {row.key: row.cells for row in before}
    out = []
    for change in changes:
        if change.cells is None:
            out.append(change)
            continue
        old = now.get(change.key, {})
        cells = {**old, **change.cells}
        said = change.cells.get(HELD)
        held = cells.get(HELD, "") if said is None else said
        if held and said is None and not cells.get(PLACED) and old.get("short", "") not in clicked:
            held = held if old.get(PLACED, "") == "" and maker.made(old) == maker.made(cells) else ""
        if not held and cells.get(PLACED):
            held = maker.made(cells)
        now[change.key] = {**cells, HELD: held}
        out.append(RowChange(change.key, {**change.cells, HELD: held}, change.after))
    return out
