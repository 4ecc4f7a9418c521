"""Sources as they stand: what really arrived of each, how fresh it is, and what is missing (R21)."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from enum import StrEnum
from typing import Any

import numpy as np
import numpy.typing as npt
import pyarrow as pa
import pyarrow.compute as pc
from sqlalchemy import select

from yardstick.core.base.columns import NO_DAY, NO_INSTANT
from yardstick.core.base.day_numbers import day_text
from yardstick.core.base.days import local_days
from yardstick.core.base.schema import SCHEMA, Kind
from yardstick.core.base.words import fold
from yardstick.core.costs.missing_days import missing_days
from yardstick.core.plan.gathering_phase import Source
from yardstick.formats.rows.gist import add_sums, sums_by, worth
from yardstick.formats.rows.keyed import GROUPED
from yardstick.formats.rows.worth import MONEY
from yardstick.store.models import Change
from yardstick.store.snapshots import TableState

from ..workspace.desk import Desk
from .rehearse_file import MoneySum

AMONG = "Rows of a file of {} that are refunds."
WEEKS = 13
NO_SOURCE = "Files whose columns have our names: nobody has said when they should arrive."
FORGOTTEN = "No longer among the sources: its files are no longer read automatically."
MOST_MISSING = 60
QUARTER_US = 900_000_000
DAILY = ("spend", "visits")
"""Tables of which a day without rows is missing: the others may have none of a day."""


class SourceState(StrEnum):
    """How what a source brings stands, by what arrived."""

    PLANNED = "planned"
    AWAITING = "none_yet"
    RECEIVING = "arriving"
    STALE = "quiet"
    ENDED = "ended"


SOURCE_STATE_WORDS = {
    SourceState.PLANNED: "planned",
    SourceState.AWAITING: "none yet",
    SourceState.RECEIVING: "arriving",
    SourceState.STALE: "quiet",
    SourceState.ENDED: "ended",
}
"""States of sources as they are shown."""


@dataclass
class SourceNow:
    """A source, and what of it stands.

    Attributes
    ----------
    name : what it is called; empty for files whose columns have our names
    table, kind, account, currency : as it says
    platforms : whose spend it brings
    zone : of its days
    state : by what arrived; None where nothing was said of when something should
    why : that in a sentence
    first_day, last_day : of its rows, in its zone; empty without any
    partial : whether its last day is not over yet
    missing, missing_days : the first days between them without a row, and how many there are
    late_days : how many days past its expected delay it is
    rows, rejected : that count; that could not be read
    money : what its rows come to
    loads : changes that brought them, the latest first
    file : of the latest of these
    days : one sign a day of the 13 weeks to its last day: `x` with rows, `.` without, a blank before its first day
    """

    name: str
    table: str
    kind: str
    account: str
    currency: str
    zone: str
    state: SourceState | None
    why: str
    platforms: list[str] = field(default_factory=list)
    first_day: str = ""
    last_day: str = ""
    partial: bool = False
    missing: list[str] = field(default_factory=list)
    missing_days: int = 0
    late_days: int = 0
    rows: int = 0
    rejected: int = 0
    money: list[MoneySum] = field(default_factory=list)
    loads: list[int] = field(default_factory=list)
    file: str = ""
    days: str = ""


@dataclass
class _Arrived:
    """Rows of one source in one table."""

    days: npt.NDArray[np.int64]
    rows: int
    money: dict[str, Decimal]
    platforms: list[str]


def list_sources(desk: Desk) -> list[SourceNow]:
    """The sources of the plan in their order, then by table what came by none of them."""
    plan = desk.plan()
    loads = {load.load: load for load in desk.loads()}
    states = desk.states()
    rejected, changes = _by_source(desk, set(loads))
    out = []
    sources = {fold(source.name): source for source in plan.gathering.sources}
    for key, source in sources.items():
        zone = source.time_zone or plan.reading.time_zone
        mine = {n for n, load in loads.items() if fold(load.source) == key}
        arrived = _arrived(states.get(source.table), source.table, mine, zone)
        now = SourceNow(source.name, source.table, source.kind, source.account, source.currency, zone, None, "")
        _fill(now, arrived, rejected.get((key, source.table), 0), changes.get((key, source.table), []))
        _say_state(now, source, desk.today(zone))
        out.append(now)
    known = {(key, source.table) for key, source in sources.items()}
    # By table, then by name: loads without a source, of one that was forgotten, or that brought another table then.
    others = sorted(
        {(load.table, load.source) for load in loads.values() if (fold(load.source), load.table) not in known}
    )
    for table, called in others:
        key, zone = fold(called), plan.reading.time_zone
        mine = {n for n, load in loads.items() if (fold(load.source), load.table) == (key, table)}
        why = AMONG.format(called) if key in sources else FORGOTTEN if called else NO_SOURCE
        now = SourceNow(called, table, "", "", "", zone, None, why)
        arrived = _arrived(states.get(table), table, mine, zone)
        _fill(now, arrived, rejected.get((key, table), 0), changes.get((key, table), []))
        out.append(now)
    return out


Changes = dict[tuple[str, str], list[tuple[int, str]]]


def _by_source(desk: Desk, standing: set[int]) -> tuple[dict[tuple[str, str], int], Changes]:
    """Rejected rows and changes, with their files, by (source, table), of loads that stand."""
    rejected: dict[tuple[str, str], int] = defaultdict(int)
    changes: Changes = defaultdict(list)
    with desk.engine.connect() as connection:
        found = connection.execute(
            select(Change.id, Change.load_no, Change.source, Change.subject, Change.rows_rejected, Change.file)
            .where(Change.workspace_id == desk.workspace, Change.load_no.is_not(None))
            .order_by(Change.id.desc())
        ).all()
    for row in found:
        if row.load_no in standing:
            rejected[fold(row.source), row.subject] += row.rows_rejected
            changes[fold(row.source), row.subject].append((row.id, row.file))
    return rejected, changes


def _arrived(state: TableState | None, table: str, loads: set[int], zone: str) -> _Arrived:
    dated = next((c for c in SCHEMA[table] if c.kind in (Kind.DAY, Kind.INSTANT, Kind.MONTH)), None)
    out = _Arrived(np.empty(0, np.int64), 0, {}, [])
    if state is None:
        return out
    days: list[npt.NDArray[np.int64]] = []
    latest, start = _latest(table, state), 0
    for part in state.parts:
        stop = start + part.facts.rows
        counts = latest[start:stop]
        start = stop
        if part.facts.load not in loads or not counts.any():
            continue
        rows = part.rows if counts.all() else part.rows.filter(pa.array(counts))
        out.rows += len(rows)
        if dated is not None:
            days.append(_days(_whole(rows[dated.name]).to_numpy(zero_copy_only=False), dated.kind, zone))
        if table in MONEY:
            columns = {n: _whole(rows[n]) for n in (MONEY[table], "clicks", "click_price") if n in rows.column_names}
            currency = rows["currency"] if "currency" in rows.column_names else pa.repeat(pa.scalar(""), len(rows))
            add_sums(out.money, sums_by(currency, worth(table, columns)))
        if table == "spend":
            out.platforms = sorted({*out.platforms, *pc.unique(rows["platform"]).to_pylist()})
    if days:
        out.days = np.unique(np.concatenate(days))
    return out


def _latest(table: str, state: TableState) -> npt.NDArray[np.bool_]:
    """(n,) bool, the rows that stand, of several with one key the last: an order that was sent again counts once."""
    counts = state.standing.counts
    if table in GROUPED or not state.standing.ordinal.any():
        return counts
    rows = np.flatnonzero(counts)
    key = state.keys.key[rows]
    order = np.lexsort((rows, key[:, 1], key[:, 0]))
    last = np.ones(len(rows), np.bool_)
    last[:-1] = (key[order][1:] != key[order][:-1]).any(axis=1)
    out = np.zeros(len(counts), np.bool_)
    out[rows[order[last]]] = True
    return out


def _whole(column: Any) -> Any:
    return column.combine_chunks() if isinstance(column, pa.ChunkedArray) else column


def _days(values: npt.NDArray[Any], kind: Kind, zone: str) -> npt.NDArray[np.int64]:
    """The days that rows are of, each once."""
    if kind is not Kind.INSTANT:
        return np.unique(values[values != NO_DAY]).astype(np.int64)
    known = values[values != NO_INSTANT]
    if not len(known):
        return np.empty(0, np.int64)
    # Quarters of an hour begin and end every day of every zone; marking them spares the sorting of all instants.
    quarter = known // QUARTER_US
    first = int(quarter.min())
    there = np.zeros(int(quarter.max()) - first + 1, np.bool_)
    there[quarter - first] = True
    return np.unique(local_days((np.flatnonzero(there) + first) * QUARTER_US, zone)).astype(np.int64)


def _fill(now: SourceNow, arrived: _Arrived, rejected: int, changes: list[tuple[int, str]]) -> None:
    now.rows, now.rejected, now.platforms = arrived.rows, rejected, arrived.platforms
    now.loads, now.file = [change for change, _ in changes], next((file for _, file in changes), "")
    now.money = [MoneySum(code, f"{total.normalize():f}") for code, total in sorted(arrived.money.items())]
    if len(arrived.days):
        first, last = int(arrived.days[0]), int(arrived.days[-1])
        now.first_day, now.last_day = day_text(first), day_text(last)
        now.days = _signs_of(arrived.days)
        if now.table in DAILY:
            gone = missing_days(dict.fromkeys(arrived.days.tolist(), 0), last)
            now.missing_days = len(gone)
            now.missing = [day_text(one.day) for one in gone[:MOST_MISSING]]


def _signs_of(days: npt.NDArray[np.int64]) -> str:
    """A sign for each day of the weeks, Monday to Sunday, up to the one of the last day."""
    last = int(days[-1])
    # The first of January 1970 was a Thursday.
    end = last + 6 - (last + 3) % 7
    there = set(days[days > end - 7 * WEEKS].tolist())
    span = range(end - 7 * WEEKS + 1, end + 1)
    return "".join("x" if d in there else "." if int(days[0]) < d < last else " " for d in span)


def _say_state(now: SourceNow, source: Source, today: date) -> None:
    """The state that follows from what arrived, and from the days between which something is expected."""
    if now.last_day:
        last = date.fromisoformat(now.last_day)
        now.partial = last >= today
        # The end of the source is the last day that anything can be late for.
        due = min(today, source.ends) if source.ends else today
        late = (due - last).days - source.expected_days - (1 if due == today else 0)
        now.late_days = max(0, late)
        if source.ends and source.ends < today and not now.late_days:
            now.state, now.why = SourceState.ENDED, f"Ended on {source.ends}; its last day is {now.last_day}."
        elif now.late_days:
            expected = f"expected {source.expected_days} {'day' if source.expected_days == 1 else 'days'} late at most"
            now.state, now.why = (
                SourceState.STALE,
                f"Nothing since {now.last_day}: {now.late_days} days past its time ({expected}).",
            )
        else:
            now.state, now.why = SourceState.RECEIVING, f"Up to {now.last_day}."
            if now.partial:
                now.why = f"Up to {now.last_day}, which is not over in {now.zone}."
    elif source.starts and source.starts > today:
        now.state, now.why = SourceState.PLANNED, f"Begins on {source.starts}."
    elif source.ends and source.ends < today:
        now.state, now.why = SourceState.ENDED, f"Ended on {source.ends}; nothing arrived."
    else:
        since = (today - source.starts).days - source.expected_days if source.starts else 0
        now.late_days = max(0, since)
        late_since = f" It is {since} days past its time." if since > 0 else ""
        now.state, now.why = SourceState.AWAITING, f"Nothing has arrived yet.{late_since}"
    if now.missing_days:
        now.why += f" {now.missing_days} {'day is' if now.missing_days == 1 else 'days are'} missing between."
