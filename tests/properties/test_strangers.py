"""Somebody whom nobody knows changes the figures of what they came by, and no other."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from worlds import START, buyers, choices, into_core, worlds
from yardstick.core.report.breakdown import BY_CAMPAIGN
from yardstick.core.report.weigh import weigh
from yardstick.formats.results.csv_out import credit_rows

FIGURES = (
    "touches",
    "click_touches",
    "bounces",
    "value",
    "leads",
    "conversions",
    "sales_value",
    "new_customers",
    "spend",
)
REMOVING = ("removal", "removal by channel")
"""Of these the chain is learned from everyone."""


def with_stranger(world, visits, total):
    """The world, and rows of one more person: they came so often and bought, and have nothing in common with anybody."""
    came = [
        {"visit_id": f"z{n}", "visitor_id": "z", "url": f"/?utm_source=z&utm_medium=z&utm_campaign={campaign}"}
        | {"occurred_at": START.replace(hour=13 + n).isoformat()}
        for n, campaign in enumerate(visits)
    ]
    bought = {"conversion_id": "z", "goal": "sale", "visitor_id": "z", "total": total}
    bought["occurred_at"] = START.replace(hour=20).isoformat()
    return world | {"visits": [*world["visits"], *came], "conversions": [*world["conversions"], bought]}


def read(world, plan):
    """Credits of everybody but the stranger; rows of everything but what the stranger came by and the rest."""
    result = weigh(into_core(world), plan, BY_CAMPAIGN)
    credits = [row for row in credit_rows(result) if row[2] != "z"]
    rows = {
        (row.yardstick, row.by): [getattr(row.sums, name) for name in FIGURES]
        for row in result.rows
        if row.bucket == "named" and row.by[0] not in ("Strange", "Odd") and row.yardstick not in REMOVING
    }
    return credits, rows


@given(
    worlds(),
    buyers(),
    choices(),
    st.lists(st.sampled_from(["Strange", "Odd", "Strange"]), max_size=4),
    st.sampled_from(["10", "0.01"]),
)
def test_a_stranger_changes_nothing_else(world, more, both, visits, total):
    for table, rows in zip(("visits", "conversions"), more, strict=True):
        world[table] = world[table] + rows
    plan = both[1]
    assert read(with_stranger(world, visits, total), plan) == read(world, plan)
