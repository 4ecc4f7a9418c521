"""Prices per click that stand back behind reported cost (R19, R30)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..facts import Facts
from ..matter import AmountsOf, FoundMatter, MatterKind
from .price_idle import price_object


def _find(facts: Facts) -> Iterator[FoundMatter]:
    prices = facts.plan.costing.click_prices
    by_object: dict[tuple[str, ...], list[tuple[int, int]]] = {}
    for number, some in facts.yielded.items():
        by_object.setdefault(price_object(prices[number]), []).extend(some)
    for called, some in sorted(by_object.items()):
        days, amounts = np.array(some, np.int64).T
        yield FoundMatter(called, (), AmountsOf(days, amounts), int(days.min()))


KIND = MatterKind(
    name="price_yields",
    station="plan",
    mendings=("link", "price"),
    rule="clicks at a price on days on which a platform reports their cost: the estimate is left out",
    find=_find,
)
