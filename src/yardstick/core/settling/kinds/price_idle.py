"""Prices per click that no click fits any more (R19, R30)."""

from __future__ import annotations

from collections.abc import Iterator

from ...base.day_numbers import day_number
from ...costs.clicks import FILE
from ...plan.campaign_records import DRAFT
from ...plan.costing_phase import ClickPrice
from ..facts import Facts
from ..matter import FoundMatter, MatterKind


def price_object(price: ClickPrice) -> tuple[str, ...]:
    """What a price is called: its campaign, then what else it asks for."""
    return (price.campaign, *(text for text in (price.source, price.medium, price.term, price.content) if text))


def _find(facts: Facts) -> Iterator[FoundMatter]:
    prices, last = facts.plan.costing.click_prices, facts.last_visit_day
    if not prices or last is None or facts.first_visit_day is None:
        return
    spend, needed = facts.prepared.spend, int(facts.threshold(KIND.name))
    latest: dict[int, int] = {}
    of_prices = spend.file.test(FILE.__eq__)
    for line, day in zip(spend.line[of_prices].tolist(), facts.spend_days[of_prices].tolist(), strict=True):
        latest[line - 1] = max(latest.get(line - 1, day), day)
    for number, stood_back in facts.yielded.items():
        latest[number] = max([latest.get(number, -(10**9)), *(day for day, _ in stood_back)])
    said = set[tuple[str, ...]]()
    for number, price in enumerate(prices):
        planned = facts.plan.campaign_of(price.campaign)
        if price_object(price) in said or (planned is not None and planned.state in (DRAFT, "stopped")):
            continue
        starts = [facts.first_visit_day, *(day_number(day) for day in (price.first,) if day)]
        ends = [last, *(day_number(day) for day in (price.last,) if day)]
        if planned is not None:
            starts += [day_number(planned.starts)] if planned.starts else []
            ends += [day_number(planned.ends)] if planned.ends else []
        since = max(*starts, latest.get(number, -(10**9)) + 1)
        if min(ends) == last and last - since + 1 >= needed:
            said.add(price_object(price))
            yield FoundMatter(price_object(price), (), None, since)


KIND = MatterKind(
    name="price_idle",
    station="mark",
    mendings=("link", "price"),
    rule="a price that has fitted no click for {} days of a running campaign",
    find=_find,
)
