"""Days whose levels of spend do not agree (R18, R30)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..base.columns import Ints, sums_by
from ..base.money import RateTable, to_home
from ..base.tables import Table
from ..base.words import fold, same_as
from ..plan.costing_phase import Costing, Money
from ..plan.reading_phase import Reading
from .levels import at_several_levels, cells_by_group, days_of_campaigns, level_of
from .spend import Costs, campaign_keys, original_cost


@dataclass(frozen=True)
class LevelGap:
    """A campaign's day on which one level reports more than another.

    Attributes
    ----------
    day : its number
    rows : (k,) int64, rows of the day
    amount : the largest level less the smallest, minor units of the home currency; a difference of at most one a row,
        of the level with more rows, is none
    """

    day: int
    rows: Ints
    amount: int


def level_gaps(
    table: Table, costs: Costs, rates: RateTable, reading: Reading, money: Money, costing: Costing
) -> list[LevelGap]:
    """The days whose levels differ by more than rounding; platforms whose levels add up have none.

    Parameters
    ----------
    table, costs : spend as read, see `read_spend`
    rates, reading, money, costing : as it was read with
    """
    rows = np.flatnonzero(costs.accepted & ~costs.rest)
    level = level_of(table)[rows]
    if not len(rows) or (level == level[0]).all():
        return []
    some, same = table.take(rows), same_as(reading.fold)
    accepted = np.ones(len(rows), np.bool_)
    platform, account, _, key = campaign_keys(some, accepted, same)
    group = days_of_campaigns(some, platform, account, key)
    adding = {fold(p.name) for p in costing.platforms if p.levels == "add"}
    repeats = some.text("platform").test(lambda v: fold(v) not in adding)
    several = at_several_levels(level, group, repeats)
    if not len(several):
        return []
    cost, estimated, _ = original_cost(some.take(several))
    days = some.ints("day")[several]
    currency = some.text("currency").take(several)
    minor, _ = to_home(cost, currency, days, rates, money.home_currency, money.minor_digits)
    cells, cell = np.unique(group[several] * 16 + level[several], return_inverse=True)
    known = cost.known
    totals = sums_by(cell[known], minor[known], len(cells))
    count = np.bincount(cell[known], minlength=len(cells)).tolist()
    sure = np.bincount(cell[known & ~estimated], minlength=len(cells)).tolist()
    out = []
    for mine in cells_by_group(cells):
        asked = [c for c in mine if sure[c]] or [c for c in mine if count[c]]
        if len(asked) < 2:
            continue
        most, least = max(asked, key=lambda c: totals[c]), min(asked, key=lambda c: totals[c])
        gap = totals[most] - totals[least]
        if gap > max(count[most], count[least]):
            found = np.flatnonzero(np.isin(cell, asked))
            out.append(LevelGap(int(days[found[0]]), rows[several[found]].astype(np.int64), gap))
    return out
