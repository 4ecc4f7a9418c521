"""Rows that are in no figure for want of an exchange rate (R20, R30)."""

from __future__ import annotations

from collections.abc import Iterator
from decimal import Decimal

import numpy as np

from ...base.tables import Table
from ...report.unrated import Unrated, written_amount
from ..facts import Facts
from ..matter import FoundMatter, MatterKind, RowsOf


def _find(facts: Facts) -> Iterator[FoundMatter]:
    by_currency: dict[str, list[Unrated]] = {}
    for one in facts.prepared.unrated:
        by_currency.setdefault(one.currency, []).append(one)
    for currency, rows in sorted(by_currency.items()):
        days = sorted({one.day for one in rows})
        ends = [at for at, day in enumerate(days) if at + 1 == len(days) or days[at + 1] > day + 1]
        for first, last in zip([0, *(end + 1 for end in ends)], ends, strict=False):
            run = [one for one in rows if days[first] <= one.day <= days[last]]
            amount = sum((Decimal(one.units).scaleb(-one.decimals) for one in run), Decimal(0))
            said = f"{written_amount(currency, amount)} {currency}"
            yield FoundMatter((currency,), tuple(_parts(facts, run)), None, days[first], said)


def _parts(facts: Facts, run: list[Unrated]) -> Iterator[RowsOf]:
    given = facts.prepared.read.known.given
    tables: dict[str, Table] = {
        "spend": facts.prepared.spend, "leads": given.leads, "conversions": given.conversions,
    }  # fmt: skip
    for name, table in tables.items():
        mine = [one for one in run if one.table == name and one.row >= 0]
        if mine:
            rows = np.array([one.row for one in mine], np.int64)
            days, nothing = np.array([one.day for one in mine], np.int64), np.zeros(len(mine), np.int64)
            is_spend = name == "spend"
            yield RowsOf(table, rows, days, None if is_spend else nothing, nothing if is_spend else None)


KIND = MatterKind(
    name="missing_rate",
    station="gather",
    mendings=("load rates",),
    rule="rows whose currency has no exchange rate on their day or shortly before",
    find=_find,
)
