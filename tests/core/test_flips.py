"""What a verdict depends on (R34), by hand: worked examples, and the command on twenty people."""

from __future__ import annotations

import csv
from decimal import Decimal
from fractions import Fraction

import numpy as np
import pytest

from command import credit
from core.test_hard_cases import sale, tags, visit
from yardstick.core.report.certainty import Interval
from yardstick.core.report.flips import conversions_needed, cost_of_a_click, flipping_yardstick, redraws_on_each_side
from yardstick.core.report.verdicts import verdict_of

F = Fraction


def test_redraws_count_on_a_side_when_every_yardstick_is_there():
    one = np.array([100_00, 100_00, 100_00] + [0] * 397)
    two = np.array([100_00, 150_00, 99_00] + [0] * 397)
    assert redraws_on_each_side([one, two], F(1), 100_00) == (2, 397)


def test_amounts_above_sixty_four_bits_are_still_compared():
    """Value of nearly 2^63 at a margin of 0.999999999 against a spend as large."""
    amount = 2**63 - 1
    at = F(Decimal("0.999999999"))
    spend = -(-amount * 999_999_999 // 10**9)
    earned = np.array([amount, amount - 2])
    assert redraws_on_each_side([earned], at, spend - 3) == (2, 0)
    assert redraws_on_each_side([earned], at, spend - 1) == (1, 1)
    assert redraws_on_each_side([earned], at, spend + 1) == (0, 2)


@pytest.mark.parametrize(
    ("worth", "chosen", "wanted"),
    [
        ({"first": 180, "linear": 120, "last": 90}, "linear", "last"),
        ({"first": 180, "linear": 120, "last": 90}, "last", "linear"),
        ({"first": 180, "linear": 120}, "linear", ""),
        # On break-even it pays.
        ({"first": 100, "linear": 120, "last": 99}, "linear", "last"),
    ],
)
def test_the_yardstick_that_flips_it_is_the_nearest_on_the_other_side(worth, chosen, wanted):
    assert flipping_yardstick({name: F(100 * x) for name, x in worth.items()}, 100_00, chosen) == wanted


def test_a_click_may_cost_what_is_left_after_other_costs():
    assert cost_of_a_click(F(1200_00) * F(1, 2), 100_00, 200, 2) == F(5, 2)
    assert cost_of_a_click(F(99_99), 100_00, 200, 2) is None
    assert cost_of_a_click(F(100_00), 100_00, 200, 2) == 0
    assert cost_of_a_click(F(1200_00), 100_00, 0, 2) is None


@pytest.mark.parametrize(
    ("now", "point", "low", "high", "wanted"),
    [
        (16, "1.1", "0.6", "1.6", "400"),
        (10, "1.05", "0.5", "1.6", "none"),
        (16, "1", "0.6", "1.6", "none"),
        (16, "1.1", "0.6", None, "none"),
        # A hundred times as many are still said, and not one part more; what is between two numbers is the higher.
        (10, "1.05", "0.55", "1.55", "1000"),
        (3, "1.3", "0.9", "1.5", "3"),
        (4, "1.3", "0.9", "1.5", "4"),
        (5, "1.3", "0.99", "1.7", "8"),
    ],
)
def test_how_many_conversions_would_settle_it(now, point, low, high, wanted):
    bound = Interval(F(point), F(low), None if high is None else F(high))
    assert conversions_needed([(F(point), bound), (F(5), None)], F(1), F(now)) == wanted


def test_the_yardstick_that_needs_most_counts():
    wide = F("1.1"), Interval(F("1.1"), F("0.6"), F("1.6"))
    tight = F("1.5"), Interval(F("1.5"), F("1.4"), F("1.6"))
    assert conversions_needed([tight, wide], F(1), F(16)) == conversions_needed([wide, tight], F(1), F(16)) == "400"


@pytest.mark.parametrize(
    ("bounds", "more", "wanted"),
    [
        ([("0.9", "1.5")], {"credited": F(300)}, "unsure"),
        ([("0.5", "1")], {}, "unsure"),
        ([("0.5", "0.99")], {}, "cut"),
        ([("1", "2")], {}, "keep"),
        ([("1", "2"), ("0.99", "2")], {}, "unsure"),
        ([("3.1", "5"), ("3.01", "4")], {}, "grow"),
        ([("0.9", "0.9"), ("1.1", "1.1")], {}, "depends"),
        ([("0.9", "1.5")], {"credited": F(9)}, "too_few"),
    ],
)
def test_the_worked_verdicts_on_value(bounds, more, wanted):
    """A point in the middle of its interval; where that is on the other side of break-even, the bound that is not."""
    assert _word(bounds, {"kind": "sale", "break_even": F(1), "target": F(3)} | more) == wanted


@pytest.mark.parametrize(
    ("bound", "wanted"),
    [(("15", None), "unsure"), (("20.01", None), "cut"), (("15", "19.99"), "grow"), (("15", "20"), "keep")],
)
def test_the_worked_verdicts_on_leads(bound, wanted):
    assert _word([bound], {"kind": "lead", "break_even": F(20), "target": F(20)}) == wanted


def _word(bounds, more):
    ends = [(F(low), None if high is None else F(high)) for low, high in bounds]
    points = [(f"y{i}", low if high is None else (low + high) / 2) for i, (low, high) in enumerate(ends)]
    intervals = [Interval(p, low, high) for (_, p), (low, high) in zip(points, ends, strict=True)]
    usual = {"credited": F(10), "minimum": 10, "come": None, "mature": F(9, 10)}
    return verdict_of(points=points, bounds=intervals, **usual | more)[0]


@pytest.mark.parametrize(
    ("people", "cost", "wanted"),
    [
        (20, "20.00", ("keep", "400", "0", "")),
        (20, "190.00", ("unsure", "241", "159", "1280")),
        (9, "20.00", ("too_few", "", "", "")),
    ],
)
def test_twenty_people_pay_in_so_many_of_the_redraws(tmp_path, people, cost, wanted):
    """A sale of 10.00 each after one touch of A; the redraws were worked out with PCG64."""
    tagged = tags("zeta", "cpc", "A")
    visits = [visit(i, tagged, "2026-04-01T09:00:00Z", f"p{i}") for i in range(people)]
    sales = [sale(i, "10.00", "2026-04-02T09:00:00Z", f"p{i}") for i in range(people)]
    spend = [{"day": "2026-04-01", "platform": "Zeta", "campaign": "A", "cost": cost, "clicks": "100"}]
    credit(tmp_path, {"visits": visits, "conversions": sales, "spend": spend}, 'panel = ["linear"]\n', "--certainty")
    (row,) = csv.DictReader((tmp_path / "out" / "verdicts.csv").open(newline=""))
    # Between 12 and 28 people in nine redraws of ten: half of it is 80.00, eight times what is between 200.00 and the spend.
    assert (row["verdict"], row["pays"], row["loses"], row["conversions_needed"]) == wanted
    assert row["flips_under"] == ""
    assert row["pays_up_to_click"] == ("2" if people == 20 else "0.9")
