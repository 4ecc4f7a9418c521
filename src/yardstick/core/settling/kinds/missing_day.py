"""Days on which an account has no rows though it usually has (R21, R30)."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import groupby

import numpy as np

from ...costs.missing_days import missing_days
from ...report.account_days import account_days
from ..facts import Facts
from ..matter import AmountsOf, FoundMatter, MatterKind, RowsOf


def _find(facts: Facts) -> Iterator[FoundMatter]:
    for account in account_days(facts.prepared):
        gone = missing_days(account.by_day, facts.last_visit_day)
        for _, run in groupby(enumerate(gone), lambda pair: pair[1].day - pair[0]):
            some = [one for _, one in run]
            days = np.array([one.day for one in some], np.int64)
            amounts = AmountsOf(days, np.array([one.usual for one in some], np.int64))
            # Its rows are days: no table has them.
            rows = RowsOf(facts.prepared.spend, np.full(len(days), NO_ROW), days)
            yield FoundMatter((account.platform, account.account), (rows,), amounts)


NO_ROW = -1
"""In place of a row where a table has none."""


KIND = MatterKind(
    name="missing_day",
    station="gather",
    mendings=("load",),
    rule="no rows, though the same weekday of at least 3 of the 4 weeks before has some",
    find=_find,
)
