"""Levels of spend (R18): platforms report one day of a campaign at several levels, which mostly repeat each other."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from ..base.columns import Flags, Ints, Text, sums_by
from ..base.distinct import distinct_columns
from ..base.tables import Table

LEVELS = ("ad_group", "ad", "keyword", "placement")
"""Columns below the campaign; which of them a row fills is its level."""
RANKED = np.array([bin(v).count("1") for v in range(16)], np.int64)


@dataclass(frozen=True)
class Stated:
    """What spend rows state of one quantity.

    Attributes
    ----------
    amount : (n,) whole units
    known : (n,) bool, rows that state it
    surely : (n,) bool, rows whose word goes before that of others: levels without any such count only where no level
        has one; None = all rows
    rounded : whether each row may be off by a unit
    """

    amount: npt.NDArray[Any]
    known: Flags
    surely: Flags | None = None
    rounded: bool = False


@dataclass(frozen=True)
class Rest:
    """What a day's largest level reports beyond the one whose rows count.

    Attributes
    ----------
    row : the first row of the largest level
    amounts : by quantity
    """

    row: int
    amounts: Mapping[str, int]


@dataclass(frozen=True)
class Less:
    """A level that reports less than the one whose rows count: its first row, the quantity and the difference."""

    row: int
    quantity: str
    amount: int


@dataclass(frozen=True)
class Levelled:
    """Each quantity of each campaign's day counted once.

    Attributes
    ----------
    counts : by quantity (n,) bool, rows that count
    rests : in the order of the days' first rows
    less : see `Less`
    """

    counts: Mapping[str, Flags]
    rests: tuple[Rest, ...]
    less: tuple[Less, ...]


def level_of(table: Table) -> Ints:
    """(n,) int64: which columns of `LEVELS` each row fills, the first as 1, then 2, 4, 8."""
    level = np.zeros(len(table), np.int64)
    for bit, name in enumerate(LEVELS):
        level |= table.text(name).test(lambda v: bool(v.strip())).astype(np.int64) << bit
    return level


def days_of_campaigns(table: Table, platform: Text, account: Text, key: Text) -> Ints:
    """(n,) int64: one number per day, platform, account and campaign."""
    parts: list[npt.NDArray[np.int64]] = [
        table.ints("day"),
        *(column.codes.astype(np.int64) for column in (platform, account, key)),
    ]
    return distinct_columns(np.stack(parts))[1]


def count_levels(level: Ints, groups: Callable[[], Ints], repeats: Flags, quantities: Mapping[str, Stated]) -> Levelled:
    """Which rows count, and what is left over, of days that are given at several levels.

    Parameters
    ----------
    level : (n,) int64, see `level_of`
    groups : gives (n,) int64, see `days_of_campaigns`; asked only where rows are at several levels
    repeats : (n,) bool, rows whose levels repeat each other; those of platforms whose levels add up all count
    quantities : what rows that were accepted state

    Notes
    -----
    The deepest level counts: the one with most fields, then the larger total, then the one filled furthest to the
    right. What the largest level reports beyond it counts too.
    """
    counts = {name: stated.known.copy() for name, stated in quantities.items()}
    if not len(level) or (level == level[0]).all():
        return Levelled(counts, (), ())
    group = groups()
    several = at_several_levels(level, group, repeats)
    if not len(several):
        return Levelled(counts, (), ())
    cells, first, cell = np.unique(group[several] * 16 + level[several], return_index=True, return_inverse=True)
    first = several[first]
    rests: dict[int, Rest] = {}
    less: list[Less] = []
    for name, stated in quantities.items():
        known = stated.known[several]
        totals = sums_by(cell[known], stated.amount[several][known], len(cells))
        rows = np.bincount(cell[known], minlength=len(cells)).tolist()
        certain = known if stated.surely is None else known & stated.surely[several]
        sure = np.bincount(cell[certain], minlength=len(cells)).tolist()
        chosen = np.zeros(len(cells), np.bool_)
        for mine in cells_by_group(cells):
            asked = [c for c in mine if sure[c]] or [c for c in mine if rows[c]]
            if not asked:
                continue
            deepest = max(asked, key=lambda c: (RANKED[cells[c] % 16], totals[c], cells[c] % 16))
            chosen[deepest] = True
            most = max(asked, key=lambda c: (totals[c], RANKED[cells[c] % 16], cells[c] % 16))
            for other in asked:
                slack = max(rows[other], rows[deepest]) if stated.rounded else 0
                gap = totals[other] - totals[deepest]
                if other == most and gap > slack:
                    at = int(cells[other] // 16)
                    held = rests.get(at) or Rest(int(first[other]), {})
                    rests[at] = Rest(held.row, {**held.amounts, name: gap})
                elif -gap > slack:
                    less.append(Less(int(first[other]), name, -gap))
        counts[name][several] = known & chosen[cell]
    return Levelled(counts, tuple(rests[at] for at in sorted(rests)), tuple(less))


def at_several_levels(level: Ints, group: Ints, repeats: Flags) -> Ints:
    """Rows of days that are given at more than one level."""
    size = int(group.max()) + 1
    low, high = np.full(size, 16, np.int64), np.full(size, -1, np.int64)
    np.minimum.at(low, group[repeats], level[repeats])
    np.maximum.at(high, group[repeats], level[repeats])
    return np.flatnonzero(repeats & (low < high)[group])


def cells_by_group(cells: Ints) -> list[list[int]]:
    ends = np.flatnonzero(np.diff(np.append(cells // 16, -1))) + 1
    return [list(range(a, b)) for a, b in zip([0, *ends[:-1].tolist()], ends.tolist(), strict=True)]
