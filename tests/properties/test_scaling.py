"""Money does not decide who earns credit: with all of it multiplied, shares stay and their values grow as it does."""

from __future__ import annotations

from collections import defaultdict
from decimal import Decimal

from hypothesis import event, given
from hypothesis import strategies as st

from worlds import buyers, choices, into_core, worlds
from yardstick.core.report.weigh import weigh
from yardstick.formats.results.csv_out import credit_rows

MONEY = ("total", "tax", "shipping", "refunded", "amount", "value", "cost")


def multiplied(world, by):
    """Every amount of every row."""
    return {
        table: [
            {name: str(Decimal(cell) * by) if name in MONEY and cell else cell for name, cell in row.items()}
            for row in rows
        ]
        for table, rows in world.items()
    }


def read(world, plan):
    """By yardstick and conversion: its touches with their share, and with their value in minor units."""
    shares, values = defaultdict(dict), defaultdict(dict)
    for yardstick, table, conversion, goal, visit, when, share, worth in credit_rows(weigh(into_core(world), plan)):
        of, touch = (yardstick, table, conversion, goal), (visit, when)
        # Touches that a captured set gives have no visit; two at one moment are told apart by their order.
        touch = next((*touch, n) for n in range(99) if (*touch, n) not in shares[of])
        shares[of][touch], values[of][touch] = share, int(Decimal(worth).scaleb(2))
    return shares, values


@given(worlds(), buyers(), choices(), st.sampled_from([2, 3, 10, 1000]))
def test_scaling_values_scales_shares(world, more, both, by):
    for table, rows in zip(("visits", "conversions"), more, strict=True):
        world[table] = world[table] + rows
    # A rule that keeps amounts of one height out would see other rows.
    plan = both[1].having(quarantine=(), goals=(), date_basis="conversion")
    shares, values = read(world, plan)
    many_shares, many_values = read(multiplied(world, by), plan)
    assert many_shares == shares
    assert values
    for of, each in values.items():
        # An amount that was rounded, or comes from the plan, does not grow by just that.
        if sum(many_values[of].values()) == by * sum(each.values()) != 0:
            event("scaled")
            for touch, worth in each.items():
                # Both are less than one unit from their share of the money.
                assert abs(many_values[of][touch] - by * worth) < by + 1
