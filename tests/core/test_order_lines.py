"""Lines of orders: by product each touch's credit is shared by the totals of its order's lines (R10, R17)."""

from __future__ import annotations

import pytest

from worlds import into_core
from yardstick.core.plan.crediting_phase import Yardstick
from yardstick.core.plan.plan import plan_of
from yardstick.core.report.breakdown import Breakdown
from yardstick.core.report.filters import read_filter
from yardstick.core.report.trace import trace_row
from yardstick.core.report.weigh import weigh

BY_PRODUCT = Breakdown(("product",))
PLAN = plan_of(yardsticks=(Yardstick("linear", "linear"), Yardstick("removal", "removal")), home_currency="AUD")
VISITS = [
    {
        "visit_id": f"v{i}",
        "occurred_at": f"2026-04-0{i}T10:00:00Z",
        "visitor_id": "p",
        "url": f"/?utm_campaign={name}&utm_source=s",
    }
    for i, name in ((1, "Whale"), (2, "Card"), (3, "Whale"))
]
ORDERS = [
    {"conversion_id": "o1", "occurred_at": "2026-04-04T10:00:00Z", "goal": "sale", "visitor_id": "p", "total": "100"},
    {"conversion_id": "o2", "occurred_at": "2026-04-04T11:00:00Z", "goal": "sale", "visitor_id": "q", "total": "9"},
    {
        "conversion_id": "o3",
        "occurred_at": "2026-04-04T12:00:00Z",
        "goal": "sale",
        "visitor_id": "p",
        "total": "5",
        "product": "Ticket",
    },
]


def world(*lines):
    names = ("conversion_id", "line", "product", "total")
    rows = [dict(zip(names, line, strict=True)) for line in lines]
    return into_core({"visits": VISITS, "conversions": ORDERS, "order_lines": rows})


def values(tables, by="product", yardstick="linear", where=()):
    result = weigh(tables, PLAN, Breakdown.read(by), where=tuple(map(read_filter, where)))
    return {(r.bucket, *r.by): r.sums.value for r in result.rows if r.yardstick == yardstick and r.sums.value}


def test_each_touch_is_shared_by_the_totals_of_the_lines_to_the_cent():
    """100.00 on three touches: 33.34, 33.33, 33.33; of each 3 : 1: 25.005 -> 25.01 and 8.33 (the larger remainder,
    0.5 against 0.5, goes to the earlier line), 24.9975 -> 25.00 and 8.33, twice. The order without lines goes by its
    own product."""
    lines = ("o1", "2", "Seat", "15"), ("o1", "1", "Boat", "45")
    assert values(world(*lines)) == {
        ("named", "Boat"): 2501 + 2500 + 2500,
        ("named", "Seat"): 833 + 833 + 833,
        ("named", "Ticket"): 500,
        ("no_trail", ""): 900,
    }
    by_both = values(world(*lines), "campaign,product")
    assert by_both["named", "Whale", "Boat"] == 2501 + 2500
    assert by_both["named", "Card", "Seat"] == 833


@pytest.mark.parametrize(
    ("totals", "boat", "seat"), [(("0", "0"), 5001, 4999), (("7", "-1"), 5001, 4999), (("0", "3"), 0, 10_000)]
)
def test_lines_that_cannot_be_weighed_are_alike(totals, boat, seat):
    """33.34, 33.33, 33.33 in halves: 16.67 + 16.67, then twice 16.67 + 16.66."""
    found = values(world(("o1", "1", "Boat", totals[0]), ("o1", "2", "Seat", totals[1])))
    assert (found.get(("named", "Boat"), 0), found["named", "Seat"]) == (boat, seat)


def test_totals_beyond_64_bits_share_as_any_others():
    """Amounts below 10^12 with 9 decimals do not fit together into 64 bits."""
    large = "999999999999.999999999"
    found = values(world(*(("o1", str(i), f"P{i % 3}", large) for i in range(1, 13))))
    assert sum(found.values()) == 10_000 + 500 + 900
    assert all(abs(found["named", f"P{i}"] - 3_333) <= 6 for i in range(3))


def test_a_filter_shows_the_lines_that_fit_and_leaves_the_others_out():
    lines = ("o1", "1", "Boat", "45"), ("o1", "2", "Seat", "15"), ("o2", "1", "Seat", "9")
    found = values(world(*lines), "campaign", where=("product is Seat",))
    assert found == {("named", "Whale"): 1666, ("named", "Card"): 833, ("no_trail", ""): 900, ("left_out", ""): 8001}


def test_removal_is_shared_inside_its_states_by_line():
    lines = ("o1", "1", "Boat", "45"), ("o1", "2", "Seat", "15")
    found = values(world(*lines), yardstick="removal")
    assert sum(found.values()) == 11_400
    assert found["named", "Boat"] > found["named", "Seat"] > 0


def test_a_figure_opens_into_the_touches_with_the_part_of_each_that_is_of_the_product():
    result = weigh(world(("o1", "1", "Boat", "45"), ("o1", "2", "Seat", "15")), PLAN, BY_PRODUCT)
    found = trace_row(result, "linear", "named", ("Seat",), "value")
    (order,) = found.conversions
    assert (found.value, order.value_here) == (2499, 2499)
    assert [(t.visit_id, t.value) for t in order.touches if t.here] == [("v1", 833), ("v2", 833), ("v3", 833)]
    assert [t.value for t in order.touches if not t.here] == [2501, 2500, 2500]


def test_lines_say_what_is_wrong_with_them_and_the_order_holds():
    lines = ("o1", "1", "Boat", "45"), ("o9", "1", "Seat", "15"), ("o1", "1", "Seat", "60")
    tables = world(*lines)
    assert values(tables) == {("named", "Seat"): 10_000, ("named", "Ticket"): 500, ("no_trail", ""): 900}
    found = {(f.code, f.id) for f in weigh(tables, PLAN).findings if f.table == "order_lines"}
    assert found == {("lines_of_unknown_order", "o9"), ("replaced_row", "o1"), ("lines_differ_from_order", "o1")}
    assert values(tables, "campaign") == {("named", "Whale"): 7000, ("named", "Card"): 3500, ("no_trail", ""): 900}
