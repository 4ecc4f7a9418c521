"""The ledger of troubles: what was done to the clean world."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal


@dataclass(frozen=True)
class Trouble:
    """One trouble of the ledger.

    Attributes
    ----------
    kind : what it is
    table : where its rows stand
    rows : ids of the rows; for spend `day platform campaign`
    money : what depends on it in the rows' own currency: spend that loses its touches, value refunded or out of place
    currency : of the money
    story : how it came about
    """

    kind: str
    table: str
    rows: tuple[str, ...]
    money: Decimal
    currency: str
    story: str
