"""What re-sent days of spend change: days are replaced whole, so what they were worth and what is gone is said."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

import numpy as np
import numpy.typing as npt
import pyarrow as pa
import pyarrow.compute as pc

from yardstick.core.base.day_numbers import day_text
from yardstick.core.base.words import fold
from yardstick.formats.rows.gist import Account, Gist, accounts_of, worth
from yardstick.store.snapshots import TableState
from yardstick.store.states import LoadThere

MOST_DAYS = 60


@dataclass
class DayCorrected:
    """A day whose rows change: in a currency, what it was worth and will be, and how many rows it has."""

    day: str
    currency: str
    before: str
    after: str
    rows_before: int
    rows_after: int


@dataclass
class Correction:
    """What replacing days changes.

    Attributes
    ----------
    days : those that change, the first of them
    days_changed, days_losing : how many change, and how many have fewer rows than before
    """

    days: list[DayCorrected]
    days_changed: int
    days_losing: int


Sums = dict[tuple[int, str], tuple[Decimal, int]]


def correction_of(gist: Gist, repeated: npt.NDArray[np.bool_], state: TableState | None) -> Correction | None:
    """What the days of a file of spend change of those that stand; None if nothing is replaced.

    Parameters
    ----------
    gist : of the file
    repeated : its rows that count once with another (R18)
    state : the rows of spend that stand
    """
    if state is None or not gist.days:
        return None
    groups = np.unique(np.concatenate([group for group, _, _, _ in gist.days]))
    here = np.isin(state.keys.group, groups) & state.standing.counts
    if not here.any():
        return None
    rows = _rows(state, here)
    before = _by_day(rows["day"], rows["currency"], worth("spend", {n: rows[n] for n in _WORTH}))
    # Only days that stand are replaced; others of the file are new.
    replaced = np.unique(state.keys.group[here])
    after: Sums = defaultdict(lambda: (Decimal(0), 0))
    start = 0
    for group, day, currency, cost in gist.days:
        once = ~repeated[start : start + len(group)]
        start += len(group)
        mask = pa.array(np.isin(group, replaced) & once)
        for key, (total, count) in _by_day(day.filter(mask), currency.filter(mask), cost.filter(mask)).items():
            after[key] = (after[key][0] + total, after[key][1] + count)
    days = []
    for key in sorted({*before, *after}):
        (was, rows_was), (will, rows_will) = before.get(key, (Decimal(0), 0)), after.get(key, (Decimal(0), 0))
        if was != will or rows_was != rows_will:
            money = (f"{was.normalize():f}", f"{will.normalize():f}")
            days.append(DayCorrected(day_text(key[0]), key[1], *money, rows_was, rows_will))
    losing = sum(d.rows_after < d.rows_before for d in days)
    return Correction(days[:MOST_DAYS], len(days), losing) if days else None


_WORTH = ("cost", "clicks", "click_price")


def _rows(state: TableState, which: Any) -> Any:
    whole = pa.concat_tables([part.rows for part in state.parts])
    return whole.filter(pa.array(which)).combine_chunks()


def _with_accounts(rows: set[Account], state: TableState) -> set[Account]:
    """Rows of spend, an empty account being the platform's only one (R18)."""
    known: dict[str, set[str]] = defaultdict(set)
    for part in state.parts:
        both = part.rows.select(["platform", "account"]).group_by(["platform", "account"]).aggregate([])
        for platform, account in zip(both["platform"].to_pylist(), both["account"].to_pylist(), strict=True):
            if account:
                known[fold(platform)].add(fold(account))
    for platform, account, _, _ in rows:
        if account:
            known[platform].add(account)
    only = {platform: next(iter(accounts)) for platform, accounts in known.items() if len(accounts) == 1}
    return {(platform, account or only.get(platform, ""), day, level) for platform, account, day, level in rows}


def _by_day(day: Any, currency: Any, cost: Any) -> Sums:
    table = pa.table({"day": day, "currency": currency, "cost": cost})
    summed = table.group_by(["day", "currency"]).aggregate([("cost", "sum"), ("cost", "count")])
    columns = (summed[n].to_pylist() for n in ("day", "currency", "cost_sum", "cost_count"))
    return {(d, code): (total or Decimal(0), count) for d, code, total, count in zip(*columns, strict=True)}


def strangers(gist: Gist, state: TableState | None) -> str:
    """Why a file of spend looks as if it came from elsewhere: it replaces days and has none of their campaigns; empty
    where it does not.

    Parameters
    ----------
    gist : of the file
    state : the rows of spend that stand
    """
    if state is None or not gist.days:
        return ""
    groups = np.unique(np.concatenate([group for group, _, _, _ in gist.days]))
    here = np.isin(state.keys.group, groups) & state.standing.counts
    if not here.any():
        return ""
    rows = _rows(state, here)
    there = {fold(name) for name in pc.unique(rows["campaign"]).to_pylist()}
    replaced = int(np.isin(groups, state.keys.group[here]).sum())
    if there & gist.campaigns or replaced < MANY_DAYS or 2 * replaced < len(groups):
        return ""
    return f"It would replace {replaced} days, and none of the campaigns on them is in it."


MANY_DAYS = 2


def overlaps(gist: Gist, state: TableState | None, loads: Sequence[LoadThere], source: str) -> list[str]:
    """Days of accounts that other files or sources cover already at the same level: both would count.

    Parameters
    ----------
    gist : of the file
    state : the rows of spend that stand
    loads : those that stand
    source : by which the file is read
    """
    if state is None or not gist.days:
        return []
    groups = np.unique(np.concatenate([group for group, _, _, _ in gist.days]))
    others = ~np.isin(state.keys.group, groups) & state.standing.counts
    if not others.any():
        return []
    here = _with_accounts(gist.accounts, state)
    found: dict[tuple[str, str, str], set[int]] = defaultdict(set)
    by_load = {load.load: load for load in loads}
    start = 0
    for part in state.parts:
        stop = start + part.facts.rows
        chosen = others[start:stop]
        start = stop
        if chosen.any():
            load = by_load.get(part.facts.load)
            called = (load.source if load else "") or part.facts.file
            rows = part.rows.filter(pa.array(chosen))
            for platform, account, day, _ in _with_accounts(accounts_of(rows), state) & here:
                found[called, platform, account].add(day)
    shown = Counter({key: len(days) for key, days in found.items()})
    out = []
    for (called, platform, account), days in shown.most_common(5):
        where = f"{platform}, {account}" if account else platform
        some = found[called, platform, account]
        span = f"{day_text(min(some))} to {day_text(max(some))}" if days > 1 else day_text(min(some))
        said = f"{called} stands for {where} on {days} {'day' if days == 1 else 'days'} ({span}) already"
        what = "Load it by the same source, or undo the other load" if source else "Undo the other load, or leave this"
        out.append(f"{said}: both would count. {what}")
    return out
