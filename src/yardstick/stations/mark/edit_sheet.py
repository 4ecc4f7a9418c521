"""Mark: the link sheet. One row a link; every change is one request and one undo."""

from __future__ import annotations

import re
import secrets
import threading
from collections import Counter
from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from sqlalchemy import Connection

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.words import collapse
from yardstick.core.links.addresses import LinkFinding, why_not_opened
from yardstick.core.links.checked_link import CheckUp
from yardstick.core.links.checkup import Checker
from yardstick.core.links.links import CELLS, HELD, OTHERWISE, Link, LinkMaker, between_rows
from yardstick.core.links.naming import next_name
from yardstick.core.links.nearness import Bearing
from yardstick.core.plan.plan import Plan
from yardstick.core.reading.tags import FIELDS
from yardstick.formats.files.raw import FileProblem
from yardstick.formats.results.sheets import read_table, write_table
from yardstick.store.links import KeptLink, RowChange, hold, keys_of, rows_after
from yardstick.store.loading import lock, undo
from yardstick.store.plans import Step, steps
from yardstick.store.states import last_change, last_change_of

from ..plan.plan_edits import see_tried
from ..plan.try_plan import PlanTrial, try_change
from ..weigh.weigh_board import Weighing
from ..workspace.deadline import CHECK_UP_S, Deadline, TooLong
from ..workspace.desk import Desk
from ..workspace.hold_addresses import PLACED, clicked_of, hold_addresses
from ..workspace.kept_plans import KeptPlan
from .put_rows import put_rows
from .sheet_columns import SheetAd, SheetColumn, columns_of

_KEY = re.compile(r"[A-Za-z0-9_-]{1,64}")
MOST_CHANGED = 100
"""Known values that may come or go before all links are rather made anew."""
MOST_CHANGES, LONGEST_CELL, MOST_STEPS = 5_000, 4_000, 20


@dataclass(frozen=True)
class RegisteredGroup:
    """A group of ads of the plan: its number or name as links carry it, and what it is called."""

    number: str
    name: str
    campaign: str


@dataclass(frozen=True)
class SheetRow:
    """A row with its address and findings, worst first. `made` is the address that the row gives now, where its link
    went out with another."""

    key: str
    cells: dict[str, str]
    url: str
    findings: tuple[LinkFinding, ...]
    made: str = ""


@dataclass(frozen=True)
class Sheet:
    """The sheet as it stands.

    Attributes
    ----------
    basis : what an edit must have been made on
    columns : in order
    rows : in order; after an edit only those that changed
    order : keys of all rows in order
    steps : changes, the latest first
    presets : named cells of the plan
    ads : ads of the plan, to pick a content from and to look at
    groups : groups of ads of the plan, to multiply over
    """

    basis: int
    columns: tuple[SheetColumn, ...]
    rows: list[SheetRow]
    order: list[str]
    steps: list[Step]
    presets: list[dict[str, str]]
    ads: tuple[SheetAd, ...]
    groups: tuple[RegisteredGroup, ...]


class Sheets:
    """The link sheet of one workspace. Addresses are made once per content of a row and state of the plan."""

    def __init__(self, desk: Desk) -> None:
        self._desk = desk
        self._lock = threading.Lock()
        # The plan may come in through Gather as well.
        desk.refreshed.append(self.changed)
        self._listeners: list[Callable[[], None]] = []
        self._learned: tuple[int, date, str] | None = None
        self._known: dict[str, frozenset[str]] = {}
        self._plan = Plan()
        self._maker = LinkMaker(Checker(), self._plan)
        self._columns: tuple[SheetColumn, ...] = ()
        self._presets: list[dict[str, str]] = []
        self._ads: tuple[SheetAd, ...] = ()
        self._groups: tuple[RegisteredGroup, ...] = ()
        self._made: dict[tuple[tuple[str, str], ...], tuple[Link, tuple[str, ...]]] = {}

    def when_changed(self, tell: Callable[[], None]) -> None:
        """Call this after every change of the sheet or the plan."""
        self._listeners.append(tell)

    def changed(self) -> None:
        """Tell everybody who wants to know."""
        for tell in self._listeners:
            tell()

    def read(self) -> Sheet:
        """The whole sheet."""
        with self._desk.engine.connect() as connection:
            rows = self._rows(connection)
            kept = self._desk.kept_plan(connection)
            basis, made = self._steps(connection)
        with self._lock:
            self._learn(kept)
            shown = self._shown(rows)
            return Sheet(
                basis, self._columns, shown, [r.key for r in rows], made, self._presets, self._ads, self._groups
            )

    def change(self, changes: Sequence[RowChange], basis: int, what: str, tried: str = "") -> Sheet:
        """Change rows as one change. Edits that others made of other cells meanwhile stay.

        Parameters
        ----------
        changes : what is to happen
        basis : `Sheet.basis` of the sheet the change was made on
        what : what was done, for the undo
        tried : `PlanTrial.state` of the trial that was looked at; empty = none was

        Returns
        -------
        Sheet
            With only the rows that look different now.

        Raises
        ------
        SettingsError
            If a change names an unknown column, is too large, or takes another workspace's short code.
        Overtaken
            If one of the cells was changed in the meantime; says what stands there. Or if by now something else would
            be kept than was tried.
        """
        self._check(changes)
        return self._change(changes, basis, what, tried)

    def attempt(self, weighing: Weighing, changes: Sequence[RowChange], basis: int, what: str) -> PlanTrial:
        """What a change of rows would move, with nothing kept: a price is a cost (R19, R33). See `change`."""
        self._check(changes)
        return try_change(
            self._desk, weighing, lambda connection: put_rows(self._desk, connection, changes, basis, what)
        )

    def _check(self, changes: Sequence[RowChange]) -> None:
        if len(changes) > MOST_CHANGES:
            raise SettingsError(f"at most {MOST_CHANGES} rows at once: paste in two steps")
        check_rows(changes, self._maker.extra_values)

    def _change(self, changes: Sequence[RowChange], basis: int, what: str, tried: str = "") -> Sheet:
        desk = self._desk
        with desk.begin() as connection:
            put = put_rows(self._desk, connection, changes, basis, what)
            see_tried(desk, connection, tried)
        self._settle(put.before, put.after)
        # What others changed meanwhile is news to this window too.
        return self._difference(put.seen, put.after)

    def place_anew(self, keys: Collection[str], basis: int) -> Sheet:
        """Give links that went out the address that their rows make now: somebody has put it where the old one
        was. See `change`.

        Raises
        ------
        SettingsError
            If a row gives no address; says which.
        """
        plan = self._desk.plan()
        maker = LinkMaker(Checker(plan), plan)
        with self._desk.engine.connect() as connection:
            rows = self._rows(connection)
        changes = []
        for number, row in enumerate(rows, 1):
            if row.key in keys and row.cells.get(HELD):
                made = maker.made(row.cells)
                if not made:
                    raise SettingsError(f"row {number} gives no address: fill it first, then place it again")
                if made != row.cells[HELD]:
                    changes.append(RowChange(row.key, {HELD: made}))
        what = "1 link" if len(changes) == 1 else f"{len(changes)} links"
        return self._change(changes, basis, f"{what} placed again")

    def undo(self) -> Sheet:
        """Undo the latest change of the sheet that stands. Raises `CannotUndo` if there is none."""
        desk = self._desk
        with desk.begin() as connection:
            lock(connection, desk.workspace)
            latest = next((s.id for s in steps(connection, desk.workspace, "links") if not s.undone), 0)
            before = hold_addresses(desk, connection, keys_of(connection, desk.workspace, latest))
            made = undo(connection, desk.workspace, latest)
            self._hold_on(connection, before)
            after = rows_after(connection, desk.workspace, made)
        self._settle(before, after)
        return self._difference(before, after)

    def _hold_on(self, connection: Connection, before: Sequence[KeptLink]) -> None:
        """Rows that were brought back stand as they went out, also where that was after them."""
        desk, was = self._desk, {row.key: row.cells.get(HELD, "") for row in before}
        loose = [row for row in self._rows(connection) if was.get(row.key) and not row.cells.get(HELD)]
        clicked = clicked_of(desk, connection, desk.kept_plan(connection).plan, loose)
        gone = [row.key for row in loose if row.cells.get(PLACED) or row.cells.get("short") in clicked]
        hold(connection, desk.workspace, {key: was[key] for key in gone})

    def _rows(self, connection: Connection) -> list[KeptLink]:
        return rows_after(connection, self._desk.workspace, last_change(connection, self._desk.workspace))

    def _steps(self, connection: Connection) -> tuple[int, list[Step]]:
        workspace = self._desk.workspace
        return last_change_of(connection, workspace, "links"), steps(connection, workspace, "links")[:MOST_STEPS]

    def file(self, kind: str) -> bytes:
        """The sheet as a file: every column, the address, the findings."""
        sheet = self.read()
        names = [c.name for c in sheet.columns]
        lines = [
            [*(row.cells.get(n, "") for n in names), row.url, "; ".join(f.message for f in row.findings)]
            for row in sheet.rows
        ]
        return write_table(kind, [*names, "address", "findings"], lines)

    def ingest(self, name: str, content: bytes, tried: str = "") -> Sheet:
        """Append the rows of a CSV or XLSX file, as one change; `tried` as in `change`.

        Raises
        ------
        FileProblem
            If it cannot be read, or has no column of the sheet.
        """
        # A file may be as long as a sheet: what was written out comes in again.
        return self._change(*self._rows_of(name, content), tried)

    def attempt_file(self, weighing: Weighing, name: str, content: bytes) -> PlanTrial:
        """What the rows of a file would move, with nothing kept; see `ingest`."""
        rows = self._rows_of(name, content)
        return try_change(self._desk, weighing, lambda connection: put_rows(self._desk, connection, *rows))

    def _rows_of(self, name: str, content: bytes) -> tuple[list[RowChange], int, str]:
        """The rows of a file as a change, the sheet it is made on, what it is."""
        sheet = self.read()
        header, lines = read_table(name, content)
        wanted = [c.name for c in sheet.columns if c.name in header]
        if not wanted:
            raise FileProblem(f"{name}: line 1: no column of the sheet is in the header; there are {', '.join(CELLS)}")
        changes = [RowChange(secrets.token_hex(8), {n: line[n] for n in wanted if line.get(n)}) for line in lines]
        check_rows(changes, self._maker.extra_values)
        changes = [_as_it_left(change, line) for change, line in zip(changes, lines, strict=True)]
        return changes, sheet.basis, f"{len(changes)} rows of {name} imported"

    def preview(self, cells: Mapping[str, str]) -> Link:
        """The address of a row that is being typed."""
        kept = self._desk.kept_plan()
        with self._lock:
            self._learn(kept)
            return self._maker.make(cells)

    def build_name(self, field: str, parts: Mapping[str, str]) -> str:
        """A value for a column by its naming pattern, counted on among the values of sheet and plan.

        Raises
        ------
        SettingsError
            If the column has no naming pattern, or a part does not fit it.
        """
        plan = self._desk.plan()
        naming = next((n for n in plan.reading.namings if n.field == field), None)
        if naming is None:
            raise SettingsError(f"{field} has no naming pattern: write one in Plan")
        with self._desk.engine.connect() as connection:
            known = list(_values_of(self._rows(connection)).get(field, ()))
        if field == "campaign":
            known += [value for c in plan.campaigns for value in (c.name, c.code) if value]
        book = self._desk.arrivals.under(plan.reading).book
        known += book.names().get(field, []) if book else []
        return next_name(naming, parts, known)

    def check_up(self, urls: Sequence[str], *, pattern: bool = False) -> list[CheckUp]:
        """Check addresses against the plan, the link sheet and what arrived.

        Parameters
        ----------
        urls : the addresses
        pattern : they are patterns, whose slots are left alone

        Raises
        ------
        TooLong
            If they take far longer than any list of links does.
        """
        with self._desk.engine.connect() as connection:
            known = _values_of(self._rows(connection))
        checker, deadline = self._checker(self._desk.plan(), known), Deadline(CHECK_UP_S)
        out: list[CheckUp] = []
        for url in urls:
            if deadline.passed:
                raise TooLong(f"{len(out):,} of {len(urls):,} addresses took too long: check the others separately")
            out.append(checker.check(url, pattern=pattern))
        return out

    def _settle(self, before: Sequence[KeptLink], after: Sequence[KeptLink]) -> None:
        """A price changes figures, so the state of the workspace is put on record anew; nothing else here does."""
        if _priced(before) != _priced(after):
            self._desk.settle()
        self.changed()

    def _difference(self, before: Sequence[KeptLink], after: Sequence[KeptLink]) -> Sheet:
        with self._desk.engine.connect() as connection:
            kept = self._desk.kept_plan(connection)
            basis, made = self._steps(connection)
        with self._lock:
            self._learn(kept)
            old = {row.key: row for row in self._shown(before)}
            fresh = [row for row in self._shown(after) if old.get(row.key) != row]
        return Sheet(basis, self._columns, fresh, [r.key for r in after], made, self._presets, self._ads, self._groups)

    def _shown(self, rows: Sequence[KeptLink]) -> list[SheetRow]:
        # What stands in one row alone may be its own mistake.
        known = _values_of(rows, least=2)
        if known != self._known:
            self._forget_what_depends_on(known)
            self._known = known
            self._maker = self._new_maker()
        links = [self._make(row.cells) for row in rows]
        others = between_rows([(link.url, row.cells) for link, row in zip(links, rows, strict=True)])
        return [
            SheetRow(
                row.key,
                {name: text for name, text in row.cells.items() if name != HELD},
                link.url,
                (*found, *link.findings),
                next((f.value for f in link.findings if f.code == OTHERWISE), ""),
            )
            for row, link, found in zip(rows, links, others, strict=True)
        ]

    def _make(self, cells: Mapping[str, str]) -> Link:
        key = tuple(sorted(cells.items()))
        if key not in self._made:
            self._made[key] = self._maker.make(cells), self._maker.tags(cells)
        return self._made[key][0]

    def _forget_what_depends_on(self, known: Mapping[str, frozenset[str]]) -> None:
        """Of the links made before, those that other known values bear on are made anew: in a long sheet few."""
        changed = {field: known[field] ^ self._known.get(field, frozenset()) for field in known}
        if sum(map(len, changed.values())) > MOST_CHANGED:
            self._made.clear()
            return
        bearing = {FIELDS.index(field): Bearing(values) for field, values in changed.items() if values}
        stale = [key for key, (_, tags) in self._made.items() if any(b.on(tags[at]) for at, b in bearing.items())]
        for key in stale:
            del self._made[key]

    def _new_maker(self) -> LinkMaker:
        return LinkMaker(self._checker(self._plan, self._known), self._plan)

    def _checker(self, plan: Plan, known: Mapping[str, Iterable[str]]) -> Checker:
        """What checks addresses, knowing the values of the sheet and those that came so often that they are names."""
        book = self._desk.arrivals.under(plan.reading).book
        today = self._desk.today(plan.reading.time_zone)
        return Checker(plan, known, today, arrived=book.names() if book else None)

    def _learn(self, kept: KeptPlan) -> None:
        """Take the plan in, if it or the day is another."""
        now = (kept.version, self._desk.today(kept.plan.reading.time_zone), self._desk.arrivals.state())
        if now == self._learned:
            return
        self._plan = plan = kept.plan
        self._maker = self._new_maker()
        self._ads = _ads(plan)
        self._groups = tuple(
            RegisteredGroup(v.id or v.name, v.name, v.campaign) for v in plan.levels if v.level == "group"
        )
        self._columns = columns_of(plan, self._ads)
        self._presets = [{"name": preset.name, **preset.cells} for preset in plan.linking.presets]
        self._made.clear()
        self._learned = now


def _as_it_left(change: RowChange, line: Mapping[str, str]) -> RowChange:
    """A row of a file with the address that it was placed with, if the file says both."""
    cells, address = change.cells or {}, line.get("address", "")
    if not cells.get(PLACED) or why_not_opened(address):
        return change
    return RowChange(change.key, {**cells, HELD: address}, change.after)


def _values_of(rows: Sequence[KeptLink], least: int = 1) -> dict[str, frozenset[str]]:
    """By tag field the values used in many rows of the sheet."""
    counted = {field: Counter(collapse(row.cells.get(field, "")) for row in rows) for field in FIELDS}
    return {
        field: frozenset(value for value, times in of_field.items() if value and times >= least)
        for field, of_field in counted.items()
    }


def _priced(rows: Sequence[KeptLink]) -> list[dict[str, str]]:
    return [row.cells for row in rows if row.cells.get("price")]


def _ads(plan: Plan) -> tuple[SheetAd, ...]:
    return tuple(
        SheetAd(number=v.id or v.name, name=v.name, campaign=v.campaign, text=v.text, picture=v.picture)
        for v in plan.levels
        if v.level == "ad"
    )


def check_rows(changes: Sequence[RowChange], extra_values: Iterable[str]) -> None:
    """Refuse rows that no sheet can hold.

    Parameters
    ----------
    changes : the rows
    extra_values : names that are columns besides

    Raises
    ------
    SettingsError
        If a key, a column or a cell is none that a sheet has; says which.
    """
    known = {*CELLS, *extra_values}
    for number, change in enumerate(changes, 1):
        if not _KEY.fullmatch(change.key):
            raise SettingsError(f"row {number}: a key is 1 to 64 letters, digits, - and _: {change.key[:64]!r}")
        for name, value in (change.cells or {}).items():
            if name not in known:
                raise SettingsError(f"row {number}: there is no column {name!r}; there are {', '.join(sorted(known))}")
            if len(value) > LONGEST_CELL:
                raise SettingsError(f"row {number}, {name}: longer than {LONGEST_CELL} characters: shorten it")
            if "\0" in value:
                raise SettingsError(f"row {number}, {name}: it contains a NUL: remove it")
