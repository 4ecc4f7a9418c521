"""What things cost: the records of it, and their phase (R18-R20)."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from decimal import Decimal


@dataclass(frozen=True)
class Platform:
    """Where the spend of an ad platform stands in breakdowns, the zone of its account's days, what kind it is (R5):
    search, social, panels, video, or unknown; and whether its levels repeat each other or add up (R18)."""

    name: str
    source: str = ""
    medium: str = ""
    time_zone: str = ""
    kind: str = ""
    levels: str = "repeat"


@dataclass(frozen=True)
class OtherCost:
    """A cost that no platform reports, spread evenly over its days, both inclusive (R18)."""

    first: date
    last: date
    campaign: str
    kind: str
    cost: Decimal
    currency: str = ""


@dataclass(frozen=True)
class ClickPrice:
    """What a click on a link costs between two days, both inclusive. A tag left empty holds for any value (R18)."""

    campaign: str
    price: Decimal
    source: str = ""
    medium: str = ""
    term: str = ""
    content: str = ""
    currency: str = ""
    first: date | None = None
    last: date | None = None


@dataclass(frozen=True)
class Money:
    """The home currency, the decimals of its minor unit (ISO 4217), and how many days old a rate may be (R20)."""

    home_currency: str = "EUR"
    minor_digits: int = 2
    rate_days: int = 7


@dataclass(frozen=True)
class Costing:
    """What things cost (R18, R19): platforms, and costs that no platform reports."""

    platforms: tuple[Platform, ...] = ()
    other_costs: tuple[OtherCost, ...] = ()
    click_prices: tuple[ClickPrice, ...] = ()
