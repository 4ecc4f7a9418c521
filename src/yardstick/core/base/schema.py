"""Which columns each table has and what is in them. It loads nothing, so that whoever only names them is quick."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import Enum


class Kind(Enum):
    """What a column holds, and so how its cells are read."""

    TEXT = "text"
    ADDRESS = "address"
    INSTANT = "instant"
    DAY = "day"
    MONTH = "month"
    FLAG = "flag"
    VISIT_KIND = "visit kind"
    COUNT = "count"
    AMOUNT = "amount"
    COST = "cost"
    PRICE = "price"
    RATE = "rate"
    CURRENCY = "currency"


VISIT_KINDS = ("click", "view", "watch")
CLICK, VIEW, WATCH = range(3)
CALLED = {"line_number": "line"}
"""Columns that files call otherwise: in here, beside every row stands the line of its file."""
YES = frozenset(("1", "true", "yes", "y", "t"))
"""Words that say yes, folded."""


def is_yes(text: str) -> bool:
    """Whether a cell says yes."""
    return text.strip().casefold() in YES


CANCELLED, TEST = "cancelled", "test"
"""Status words that are not the settings' to give a meaning."""


@dataclass(frozen=True)
class Column:
    """One column of a table: its name, what it holds, whether a row must fill it."""

    name: str
    kind: Kind
    required: bool = False

    @property
    def called(self) -> str:
        """What files call it."""
        return CALLED.get(self.name, self.name)


def _columns(text: str) -> tuple[Column, ...]:
    out = []
    for word in text.split():
        name, _, kind = word.rstrip("*").partition(":")
        out.append(Column(name, Kind(kind.replace("_", " ") or "text"), word.endswith("*")))
    return tuple(out)


SCHEMA: Mapping[str, tuple[Column, ...]] = {
    "visits": _columns(
        "visit_id* occurred_at:instant* visitor_id url:address* referrer kind:visit_kind "
        "email click_id device is_test:flag"
    ),
    "leads": _columns(
        "lead_id* occurred_at:instant* visitor_id email phone click_id form first_seen_at:instant "
        "first_source first_medium first_campaign first_term first_content first_id "
        "last_source last_medium last_campaign last_term last_content last_id "
        "code name self_reported stage status owner updated_at:instant consent consent_at:instant consent_base "
        "is_good:flag is_test:flag"
    ),
    "conversions": _columns(
        "conversion_id* occurred_at:instant* goal* visitor_id email phone lead_id click_id code "
        "total:amount tax:cost shipping:cost refunded:amount currency:currency product status"
    ),
    "spend": _columns(
        "day:day* platform* account campaign_id campaign* ad_group ad keyword placement impressions:count clicks:count "
        "cost:amount click_price:price currency:currency claimed_conversions:cost claimed_value:cost"
    ),
    "other_costs": _columns("from:day* to:day* campaign* kind cost:cost quantity:cost price:price currency:currency"),
    "refunds": _columns("refund_id* conversion_id* occurred_at:instant* amount:amount* currency:currency"),
    "statuses": _columns("record_id* occurred_at:instant* status stage owner pipeline value:amount"),
    "deal_contacts": _columns("deal_id* lead_id email role"),
    "order_lines": _columns("conversion_id* line_number* product* quantity:amount total:amount* tax:amount"),
    "rates": _columns("day:day* base:currency* quote:currency* rate:rate*"),
    "invoices": _columns("platform* account month:month* amount:amount* currency:currency"),
    "ads": _columns("platform* account campaign campaign_id ad_group ad level pattern address state spend:cost"),
}
"""Every table, with its columns in their canonical order. No figure depends on `invoices` and `ads`."""

ROW_ID = {"visits": "visit_id", "leads": "lead_id", "conversions": "conversion_id", "refunds": "refund_id"}
"""Tables whose rows carry an id of their own, and that id's column."""
