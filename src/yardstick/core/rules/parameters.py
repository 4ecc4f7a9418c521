"""Parameters of rules as whole numbers in their ratios."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from decimal import Decimal
from math import gcd

DECIMALS = 4
"""Parameters have no more decimals (R14)."""


def whole(params: Sequence[tuple[str, Decimal]], defaults: Mapping[str, str], *more: str) -> list[int]:
    """The parameters in the order of the defaults, then some further numbers, as the smallest whole numbers that stand
    to each other as they do.

    Examples
    --------
    >>> whole([("first", Decimal("0.3"))], {"first": "0.4", "last": "0.4"}, "1")
    [3, 4, 10]
    """
    stated = dict(params)
    values = [stated.get(name, Decimal(usual)) for name, usual in defaults.items()] + [Decimal(v) for v in more]
    units = [int(value.scaleb(DECIMALS)) for value in values]
    common = gcd(*units) or 1
    return [unit // common for unit in units]
