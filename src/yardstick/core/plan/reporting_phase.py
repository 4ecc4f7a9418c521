"""What a report shows and what it is held against (R5, R22-R25)."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from decimal import Decimal

CONVERSION, TOUCH, EVENT = "conversion", "touch", "event:"
"""Date bases (R22): whose day the range selects; after the last a word or stage follows."""

PAID_CHANNELS = (
    "Paid search", "Paid social", "Display", "Video", "Affiliate", "Paid, untagged", "Paid, kind unknown",
)  # fmt: skip
"""Channels whose touches are expected to have cost something (R30)."""


@dataclass(frozen=True)
class Thresholds:
    """The number of each kind of matter that has one, by the kind's name (R30).

    Attributes
    ----------
    arrivals_fell, capture_differs, levels_differ : shares
    order_twice : minutes
    price_idle : days
    """

    arrivals_fell: Decimal = Decimal("0.5")
    capture_differs: Decimal = Decimal("0.5")
    levels_differ: Decimal = Decimal("0.01")
    order_twice: Decimal = Decimal(30)
    price_idle: Decimal = Decimal(14)


@dataclass(frozen=True)
class Reporting:
    """What a report shows and what it is held against (R5, R22-R25); `as_of` is the instant, with its offset, that
    decides which days are over (R21), empty for the present one;
    `paid_channels` and `threshold` are of matters (R30)."""

    report_from: date | None = None
    report_to: date | None = None
    date_basis: str = "conversion"
    margin: Decimal = Decimal(1)
    target_roas: Decimal | None = None
    target_cost_per_lead: Decimal | None = None
    channel_order: tuple[str, ...] = ()
    hidden_channels: tuple[str, ...] = ()
    panel: tuple[str, ...] = ()
    verdict_minimum: int = 10
    mature_share: Decimal = Decimal("0.9")
    mature_minimum: int = 30
    as_of: str = ""
    paid_channels: tuple[str, ...] = PAID_CHANNELS
    threshold: Thresholds = Thresholds()
