"""What things cost, as written in settings.toml: platforms, other costs, prices per click."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.words import fold
from yardstick.core.costs.further_costs import LONGEST_DAYS
from yardstick.core.plan.costing_phase import ClickPrice, OtherCost, Platform

from .part_fields import CostDay, Currency, Day, Name, NotNegative, Price, Word, check_zone, described_field
from .section import GATHER, RecordPart, Section


class OtherCostPart(RecordPart):
    """A cost that no platform reports, spread evenly over its days."""

    core = OtherCost

    campaign: Name = described_field("The campaign that bears it.", "Spring Whale Boats")
    kind: Word = described_field("fee, production, hours, messages, or a word of your own.", "production", default="")
    cost: NotNegative = described_field("The whole cost.", "900.00")
    currency: Currency = described_field("Empty for the home currency.", "AUD", default="")
    first: CostDay = described_field("First day it is spread over.", "2026-03-01", alias="from")
    last: CostDay = described_field("Last day it is spread over.", "2026-03-31", alias="to")


class ClickPricePart(RecordPart):
    """What a click on a link costs; arrivals through the link times the price are its estimated cost."""

    core = ClickPrice

    campaign: Name = described_field("The campaign in the link.", "Pier Posters")
    source: Word = described_field("Source in the link; empty for any.", "islandnotes", default="")
    medium: Word = described_field("Medium in the link; empty for any.", "banner", default="")
    term: Word = described_field("Term in the link; empty for any.", "island boat", default="")
    content: Word = described_field("Content in the link; empty for any.", "spring", default="")
    price: Price = described_field("Price of one click.", "0.35")
    currency: Currency = described_field("Empty for the home currency.", "AUD", default="")
    first: Day | None = described_field(
        "First day it holds; empty for always.", "2026-03-01", default=None, alias="from"
    )
    last: Day | None = described_field("Last day it holds; empty for always.", "2026-03-31", default=None, alias="to")


class PlatformPart(RecordPart):
    """Where the spend of an ad platform stands in breakdowns, and the zone of its account's days."""

    core = Platform

    name: Name = described_field("The platform, as spend files have it.", "Quorrin")
    source: Word = described_field("Source its spend stands under.", "quorrin", default="")
    medium: Word = described_field("Medium its spend stands under.", "cpc", default="")
    time_zone: Word = described_field("Zone of its days; empty for the workspace's.", "Asia/Tokyo", default="")
    kind: Literal["", "search", "social", "panels", "video"] = described_field(
        "What its cpc, ppc and paid arrivals are.", "search", default=""
    )

    levels: Literal["repeat", "add"] = described_field(
        "Rows of a campaign beside those of its groups: repeat them, or add to them.", "add", default=Platform.levels
    )


def _check_costs(parts: Sequence[OtherCostPart], _: Sequence[str]) -> None:
    for cost in parts:
        if cost.last < cost.first:
            raise SettingsError(f"other cost of {cost.campaign}: it ends before it begins: swap from and to")
        if (cost.last - cost.first).days >= LONGEST_DAYS:
            raise SettingsError(f"other cost of {cost.campaign}: it runs for more than ten years: shorten it")


OTHER_COST = Section(
    "other_cost",
    OtherCostPart,
    plan_field="other_costs",
    title="Other costs",
    one="cost",
    purpose="Fees, production, hours, messages: spread evenly over their days.",
    columns=("campaign", "kind", "cost", "currency", "from", "to"),
    check=_check_costs,
)


def _check_prices(parts: Sequence[ClickPricePart], _: Sequence[str]) -> None:
    for price in parts:
        if price.first and price.last and price.last < price.first:
            raise SettingsError(f"price per click of {price.campaign}: it ends before it begins: swap from and to")


CLICK_PRICE = Section(
    "click_price",
    ClickPricePart,
    plan_field="click_prices",
    title="Prices per click",
    one="price",
    purpose="Clicks that arrive through a link times its price are its estimated cost.",
    columns=("campaign", "source", "medium", "content", "price", "currency", "from", "to"),
    check=_check_prices,
)


def _check_platforms(parts: Sequence[PlatformPart], _: Sequence[str]) -> None:
    for part in parts:
        if part.time_zone:
            check_zone(f"platform {part.name!r}", part.time_zone)


PLATFORM = Section(
    "platform",
    PlatformPart,
    plan_field="platforms",
    title="Platforms",
    one="platform",
    purpose="Where the spend of an ad platform stands in breakdowns, what its paid arrivals are, and the zone of "
    "its days.",
    columns=("name", "source", "medium", "kind", "levels", "time_zone"),
    place=GATHER,
    once=(("platform", lambda part: [fold(part.name)]),),
    check=_check_platforms,
)
