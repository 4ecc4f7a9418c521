"""Which column says what the rows of a table are worth."""

from __future__ import annotations

MONEY = {
    "spend": "cost",
    "other_costs": "cost",
    "conversions": "total",
    "refunds": "amount",
    "order_lines": "total",
    "invoices": "amount",
}
