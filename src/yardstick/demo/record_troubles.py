"""Troubles of single records: orders that came twice, a test by staff, a word nobody knows, a desk's own address."""

from __future__ import annotations

import random
from collections import Counter
from collections.abc import Callable
from datetime import datetime, timedelta
from decimal import Decimal

from .ledger import Trouble
from .lives import DEAL
from .places import SITE
from .world import Row, World

STAFF = {"visitor_id": "sten-laptop", "email": "sten@lunnick.example"}
DESK = "desk@harbourhall.example"


def doubled_orders(world: World, chance: random.Random) -> Trouble:
    """The till was slow, and somebody pressed twice: the same order again, under another number."""
    seen = Counter(row["conversion_id"] for row in world.conversions)
    tickets = (r for r in world.conversions if r["goal"] == "ticket" and not r["status"] and not r["refunded"])
    once = [row for row in tickets if row["visitor_id"] and seen[row["conversion_id"]] == 1]
    twins = []
    for number, row in enumerate(chance.sample(once, 2)):
        at = datetime.fromisoformat(row["occurred_at"]) + timedelta(minutes=3)
        twins.append(row | {"conversion_id": f"twice{number}", "occurred_at": at.isoformat(timespec="seconds")})
    world.conversions += twins
    story = "The till was slow, and two orders were sent a second time under another number."
    return Trouble("doubled_orders", "conversions", _ids(twins), _net(twins), "AUD", story)


def staff_visit(world: World, chance: random.Random) -> Trouble:
    """Somebody of the line clicked on an ad to see whether the new till works."""
    tags = "utm_source=quorrin&utm_medium=cpc&utm_campaign=Spring+Whale+Boats+26&utm_id=q-102"
    came = {"occurred_at": "2026-10-20T08:50:00+10:30", "url": f"{SITE}/boats?{tags}"}
    world.visits.append({"visit_id": "staff0", "referrer": "", "kind": "", "device": "desktop", **came, **STAFF})
    story = "On 20 October 2026 Sten clicked on an ad of the line's own."
    return Trouble("staff_visit", "visits", ("staff0",), Decimal(0), "AUD", story)


def staff_order(world: World, chance: random.Random) -> Trouble:
    """And bought with their own address, and nobody marked it as a test."""
    order = {"conversion_id": "staff0", "occurred_at": "2026-10-20T09:00:00+10:30", "goal": "ticket", **STAFF}
    order |= {"total": "1480.00", "tax": "0.00", "shipping": "0.00", "product": "Crossing"}
    world.conversions.append({"refunded": "", "status": "", "lead_id": "", **order})
    story = "On 20 October 2026 Sten tried the new till; the order was not marked as a test."
    return Trouble("staff_order", "conversions", ("staff0",), Decimal("1480.00"), "AUD", story)


def unknown_word(world: World, chance: random.Random) -> Trouble:
    """A clerk wrote a word of their own for deals that wait: the plan gives it no meaning, so they count."""
    ended = {row["record_id"] for row in world.statuses}
    deals = (row for row in world.conversions if row["product"] == DEAL and row["status"] == "open")
    rows = [row for row in deals if row["conversion_id"] not in ended][:3]
    for row in rows:
        row["status"] = "parked"
    story = "Three deals that wait were called parked, a word the plan does not have."
    return Trouble("unknown_word", "conversions", _ids(rows), _net(rows), "AUD", story)


def refund_alone(world: World, chance: random.Random) -> Trouble:
    """Money paid back for an order of the year before, which was never loaded."""
    row = {"refund_id": "r900", "conversion_id": "o-2024-118", "amount": "186.40"}
    world.refunds.append({**row, "occurred_at": "2025-09-02T10:00:00+09:30"})
    story = "An order of the year before was paid back; it is in no export."
    return Trouble("refund_alone", "refunds", ("r900",), Decimal("186.40"), "AUD", story)


def shared_address(world: World, chance: random.Random) -> Trouble:
    """At the harbour hall the clerk typed the desk's own address into every enquiry by telephone."""
    rows = [row for row in world.leads if row["phone"] and not row["email"]][:70]
    for row in rows:
        row["email"] = DESK
    story = "At the harbour hall 70 enquiries by telephone got the desk's own address: nobody is joined by it."
    return Trouble("shared_address", "leads", tuple(row["lead_id"] for row in rows), Decimal(0), "AUD", story)


def _ids(orders: list[Row]) -> tuple[str, ...]:
    return tuple(row["conversion_id"] for row in orders)


def _net(orders: list[Row]) -> Decimal:
    """What orders are worth, less tax and shipping."""
    return sum((Decimal(r["total"]) - Decimal(r["tax"]) - Decimal(r["shipping"]) for r in orders), Decimal(0))


RECORD_TROUBLES: tuple[Callable[[World, random.Random], Trouble], ...] = (
    doubled_orders,
    staff_visit,
    staff_order,
    unknown_word,
    refund_alone,
    shared_address,
)
