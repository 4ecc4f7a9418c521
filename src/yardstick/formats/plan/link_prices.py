"""Prices per click that stand in the link sheet, as prices of the plan (R18)."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from pydantic import ValidationError

from yardstick.core.links.links import HELD, tags_of
from yardstick.core.plan.plan import Plan

from .costing_parts import ClickPricePart

_CELLS = {
    "campaign": "campaign",
    "price": "price",
    "source": "source",
    "medium": "medium",
    "term": "term",
    "content": "content",
    "from": "price_from",
    "to": "price_to",
}
"""Field of a price -> cell of the sheet."""
_TAGS = ("campaign", "source", "medium", "term", "content")


def price_records(rows: Iterable[Mapping[str, str]]) -> list[dict[str, Any]]:
    """A record of the plan's prices for every row of the link sheet that states one that can be used.

    Parameters
    ----------
    rows : cells of the link sheet; a price that is none, or whose days are, is left out: the sheet says so
    """
    records = [{name: row[cell] for name, cell in _CELLS.items() if row.get(cell)} for row in map(_as_placed, rows)]
    return [record for record in records if _price(record) is not None]


def _as_placed(row: Mapping[str, str]) -> Mapping[str, str]:
    """A row with what the address carries that went out: its clicks are those that cost."""
    held = row.get(HELD, "")
    return {**row, **dict.fromkeys(_TAGS, ""), **tags_of(held)} if held else row


def with_link_prices(plan: Plan, rows: Iterable[Mapping[str, str]]) -> Plan:
    """The plan with the prices of the link sheet; the same plan where no row has one. See `price_records`."""
    parts = [part for record in price_records(rows) if (part := _price(record)) is not None]
    if not parts:
        return plan
    return plan.having(click_prices=(*plan.costing.click_prices, *(part.plain() for part in parts)))


def _price(record: Mapping[str, Any]) -> ClickPricePart | None:
    try:
        part = ClickPricePart.model_validate(record)
    except ValidationError:
        return None
    return None if part.first and part.last and part.last < part.first else part
