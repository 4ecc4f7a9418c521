"""Prices per click that stand back behind reported cost (R19, R30)."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date

import numpy as np

from ...base.day_numbers import day_number
from ..facts import Facts
from ..matter import AmountsOf, FoundMatter, MatterKind
from .price_idle import price_object


def _find(facts: Facts) -> Iterator[FoundMatter]:
    prices = facts.plan.costing.click_prices
    by_price: dict[int, list[tuple[int, int]]] = {}
    for finding in facts.prepared.findings:
        if finding.code == "price_yields":
            day = day_number(date.fromisoformat(finding.value.rpartition(", ")[2]))
            by_price.setdefault(finding.line - 1, []).append((day, finding.amount or 0))
    for number, some in sorted(by_price.items()):
        days, amounts = np.array(some, np.int64).T
        yield FoundMatter(price_object(prices[number]), (), AmountsOf(days, amounts), int(days.min()))


KIND = MatterKind(
    name="price_yields",
    station="plan",
    mendings=("link", "price"),
    rule="clicks at a price on days on which a platform reports their cost: the estimate is left out",
    find=_find,
)
