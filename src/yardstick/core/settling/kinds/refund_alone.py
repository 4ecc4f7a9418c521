"""A refund of an order that is not there (R10, R30)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ...base.columns import Amounts
from ...base.days import local_days
from ...base.money import to_home
from ..facts import Facts
from ..matter import FoundMatter, MatterKind, RowsOf


def _find(facts: Facts) -> Iterator[FoundMatter]:
    refunds, money = facts.prepared.tables.refunds, facts.plan.money
    alone = {(f.file, f.line) for f in facts.prepared.read.findings if f.code == "refund_of_unknown_order"}
    if not alone:
        return
    places = zip((refunds.file[row] for row in range(len(refunds))), refunds.line.tolist(), strict=True)
    rows = np.array([row for row, place in enumerate(places) if place in alone], np.int64)
    some = refunds.take(rows)
    amounts = some.amounts("amount")
    given = Amounts(abs(amounts.units), amounts.decimals, amounts.known)
    days = local_days(some.ints("occurred_at"), facts.plan.reading.time_zone)
    rates = facts.prepared.read.rates
    # Without a rate it is worth nothing here: no figure holds it, either.
    values, _ = to_home(given, some.text("currency"), days, rates, money.home_currency, money.minor_digits)
    ids = some.text("refund_id")
    for at, row in enumerate(rows.tolist()):
        yield FoundMatter(
            (ids[at].strip(),), (RowsOf(refunds, np.array([row]), days[at : at + 1], values[at : at + 1]),)
        )


KIND = MatterKind(
    name="refund_alone",
    station="gather",
    mendings=("load",),
    rule="a refund of an order that is not loaded",
    find=_find,
)
