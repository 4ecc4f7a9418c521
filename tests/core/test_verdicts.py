"""Verdicts, intervals, maturity and what flips a verdict (R24, R25, R28, R34) by hand, through the command line and at each boundary."""

from __future__ import annotations

import csv
from datetime import date, timedelta
from fractions import Fraction
from typing import Any

import pytest

from command import credit
from core.test_hard_cases import sale, tags, visit
from yardstick.core.report.certainty import Interval
from yardstick.core.report.verdicts import VerdictCode, verdict_of

A, B = tags("zeta", "cpc", "A"), tags("zeta", "cpc", "B")


def spend(cost, day="2026-04-01", campaign="A"):
    return {"day": day, "platform": "Zeta", "campaign": campaign, "cost": cost}


def written(folder, name):
    return list(csv.DictReader((folder / "out" / name).open(newline="")))


def test_a_campaign_that_pays_under_first_and_loses_under_last_depends_on_the_yardstick(tmp_path):
    """The worked case: 20 people, A then B, 10.00 each, A cost 150.00: 200, 100, 0 against 150."""
    people = [f"p{i}" for i in range(20)]
    visits = [visit(2 * i, A, "2026-04-01T09:00:00Z", p) for i, p in enumerate(people)]
    visits += [visit(2 * i + 1, B, "2026-04-02T09:00:00Z", p) for i, p in enumerate(people)]
    sales = [sale(i, "10.00", "2026-04-03T09:00:00Z", p) for i, p in enumerate(people)]
    world = {"visits": visits, "conversions": sales, "spend": [spend("150.00")]}
    credit(tmp_path, world, 'panel = ["first", "linear", "last"]\n', "--certainty")
    (verdict,) = written(tmp_path, "verdicts.csv")
    assert (verdict["campaign"], verdict["kind"], verdict["verdict"]) == ("A", "sale", VerdictCode.DEPENDS)
    assert verdict["reason"] == "it pays under first and does not under linear, last"
    assert (verdict["conversions"], verdict["spend"], verdict["break_even"]) == ("10", "150.00", "1")
    assert (verdict["lowest_yardstick"], verdict["lowest"]) == ("last", "0")
    assert (verdict["highest_yardstick"], verdict["highest"]) == ("first", "1.33333333333")
    lines = {(r["yardstick"], r["campaign"], r["figure"]): r for r in written(tmp_path, "intervals.csv")}
    linear = lines["linear", "A", "conversions"]
    assert linear["point"] == "10"
    assert float(linear["low"]) < 10 < float(linear["high"])
    # Everyone is credited alike, so that value and conversions are drawn alike: 10.00 a sale, 150.00 spent.
    roas = lines["linear", "A", "roas"]
    assert float(roas["low"]) == pytest.approx(float(linear["low"]) * 10 / 150)
    # Nobody credits A under last, so nothing varies there.
    assert (lines["last", "A", "roas"]["low"], lines["last", "A", "roas"]["high"]) == ("0", "0")
    assert (lines["first", "A", "cost_per_lead"]["point"], lines["first", "A", "cost_per_lead"]["high"]) == ("", "")


def late(first="2026-01-05", settings="", spends=("2026-01-05", "2026-03-30")):
    """40 sales, 36 of them 2 days after their touch and 4 of them 8 days after it; data until the end of March."""
    touched = date.fromisoformat(first)
    visits, sales = [visit(99, "", "2026-03-31T09:00:00Z", "passer")], [sale(99, "1.00", "2026-03-31T09:00:00Z", "x")]
    for i in range(40):
        visits.append(visit(i, A, f"{touched}T09:00:00Z", f"p{i}"))
        sales.append(sale(i, "10.00", f"{touched + timedelta(days=2 if i < 36 else 8)}T09:00:00Z", f"p{i}"))
    return {"visits": visits, "conversions": sales, "spend": [spend("10.00", day) for day in spends]}


def test_a_range_whose_spend_is_young_is_too_early(tmp_path):
    credit(tmp_path, late(), "", "--certainty")
    come = {r["days"]: r for r in written(tmp_path, "maturity.csv") if r["kind"] == "sale"}
    assert [come[n]["share"] for n in ("0", "1", "2", "7", "8")] == ["0", "0", "0.9", "0.9", "1"]
    assert (come["2"]["credits"], come["8"]["credits"]) == ("36", "40")
    (verdict,) = written(tmp_path, "verdicts.csv")
    assert (verdict["verdict"], verdict["maturity"]) == (VerdictCode.EARLY, "0.5")
    assert verdict["reason"] == "50 % of the sales of its days have come; at least 90 % are needed"


def test_a_campaign_whose_days_are_old_enough_is_judged(tmp_path):
    credit(tmp_path, late(spends=("2026-01-05", "2026-01-06")), 'target_roas = "2"\n', "--certainty")
    (verdict,) = written(tmp_path, "verdicts.csv")
    assert (verdict["verdict"], verdict["maturity"]) == (VerdictCode.GROW, "1")
    # The mean of M is 0.9 and not below it: one day is whole, of the other 80 % has come.
    one = late(spends=("2026-01-05", "2026-03-29"))
    credit(tmp_path / "b", one, "", "--certainty")
    (verdict,) = written(tmp_path / "b", "verdicts.csv")
    assert (verdict["verdict"], verdict["maturity"]) == (VerdictCode.KEEP, "0.95")


def test_too_few_to_tell_how_late_they_come_blocks_no_verdict(tmp_path):
    world = late()
    settings = "mature_minimum = 41\n"
    credit(tmp_path, world, settings, "--certainty")
    kinds = {r["kind"]: r for r in written(tmp_path, "maturity.csv")}
    assert (kinds["sale"]["days"], kinds["sale"]["share"], kinds["sale"]["credits"]) == ("", "", "40")
    (verdict,) = written(tmp_path, "verdicts.csv")
    assert (verdict["verdict"], verdict["maturity"]) == (VerdictCode.KEEP, "")


def test_touch_days_younger_than_the_longest_look_back_do_not_count(tmp_path):
    """Data end on 31 March; with 30 days 28 February is old enough and 1 March is not."""
    credit(tmp_path / "a", late("2026-02-28"), "", "--certainty")
    credit(tmp_path / "b", late("2026-03-01"), "", "--certainty")
    shares = [{r["share"] for r in written(tmp_path / x, "maturity.csv") if r["kind"] == "sale"} for x in "ab"]
    assert "0.9" in shares[0]
    assert shares[1] == {""}


def test_with_a_filter_the_verdict_is_on_what_is_shown_and_it_is_by_what_the_figures_are_by(tmp_path):
    world = late(spends=("2026-01-05",))
    credit(tmp_path, world, "", "--certainty", "--by", "source")
    (verdict,) = written(tmp_path, "verdicts.csv")
    assert (verdict["source"], "campaign" in verdict) == ("zeta", False)
    assert {r["source"] for r in written(tmp_path, "intervals.csv")} == {"zeta"}
    credit(tmp_path / "b", world, "", "--certainty", "--where", "campaign is B")
    assert written(tmp_path / "b", "verdicts.csv") == []


def test_by_source_a_row_is_judged_by_what_its_ads_earned(tmp_path):
    """Forty sales of 10.00 of the source: twenty by A, which cost 210.00, twenty by B, for which nothing was paid."""
    visits = [visit(i, A if i < 20 else B, "2026-04-01T09:00:00Z", f"p{i}") for i in range(40)]
    sales = [sale(i, "10.00", "2026-04-02T09:00:00Z", f"p{i}") for i in range(40)]
    world = {"visits": visits, "conversions": sales, "spend": [spend("210.00")]}
    answer = credit(tmp_path, world, 'panel = ["linear"]\n', "--certainty", "--by", "source")
    assert answer.row("linear", "zeta", "source")["value"] == "400.00"
    (verdict,) = written(tmp_path, "verdicts.csv")
    assert (verdict["verdict"], verdict["conversions"], verdict["spend"]) == (VerdictCode.UNSURE, "20", "210.00")
    assert verdict["lowest"] == verdict["highest"] == "0.952380952381"
    (roas,) = [r for r in written(tmp_path, "intervals.csv") if (r["yardstick"], r["figure"]) == ("linear", "roas")]
    assert roas["point"] == "1.90476190476"
    by_campaign = tmp_path / "campaign"
    credit(by_campaign, world, 'panel = ["linear"]\n', "--certainty")
    (same,) = written(by_campaign, "verdicts.csv")
    beside = ("campaign", "source")
    assert {k: v for k, v in same.items() if k not in beside} == {k: v for k, v in verdict.items() if k not in beside}


def test_leads_are_judged_only_against_a_target_cost(tmp_path):
    visits = [visit(i, A, person=f"p{i}") for i in range(20)]
    leads = [{"lead_id": f"l{i}", "occurred_at": "2026-04-02T09:00:00Z", "visitor_id": f"p{i}"} for i in range(20)]
    world = {"visits": visits, "leads": leads, "spend": [spend("100.00")]}
    credit(tmp_path / "a", world, "", "--certainty")
    assert [r["kind"] for r in written(tmp_path / "a", "verdicts.csv")] == ["sale"]
    for cost, word in (("9.00", VerdictCode.GROW), ("1.00", VerdictCode.CUT), ("5.01", VerdictCode.UNSURE)):
        credit(tmp_path / cost, world, f'target_cost_per_lead = "{cost}"\n', "--certainty")
        of_leads = [r for r in written(tmp_path / cost, "verdicts.csv") if r["kind"] == "lead"]
        assert [(r["verdict"], r["lowest"], r["target"]) for r in of_leads] == [
            (word, "5", cost.rstrip("0").rstrip("."))
        ]


F = Fraction


def asked(points, bounds, **more):
    """A verdict on ROAS with break-even at 1 and a target of 2, and why."""
    usual: dict[str, Any] = {
        "kind": "sale",
        "credited": F(10),
        "minimum": 10,
        "break_even": F(1),
        "target": F(2),
        "come": F(9, 10),
        "mature": F(9, 10),
    }
    named = [(f"y{i}", None if p is None else F(p)) for i, p in enumerate(points)]
    ranges = [None if b is None else Interval(p, *b) for (_, p), b in zip(named, bounds, strict=True)]
    return verdict_of(points=named, bounds=ranges, **usual | more)


@pytest.mark.parametrize(
    ("points", "bounds", "more", "word"),
    [
        # Too few, or too early: one on either side of each boundary.
        ([3], [(F(5, 2), 4)], {"credited": F(10) - F(1, 2**60)}, VerdictCode.FEW),
        ([3], [(F(5, 2), 4)], {"come": F(9, 10) - F(1, 10**9)}, VerdictCode.EARLY),
        ([3], [(F(5, 2), 4)], {"come": None}, VerdictCode.GROW),
        ([3], [(F(5, 2), 4)], {"credited": F(9), "come": F(0)}, VerdictCode.FEW),
        # Point figures on both sides of break-even; one on it pays.
        (["0.99", "1.01"], [(0, 2), (0, 2)], {}, VerdictCode.DEPENDS),
        (["1", "1.01"], [(1, 2), (1, 2)], {}, VerdictCode.KEEP),
        (["1", "0.99"], [(0, 2), (0, 2)], {}, VerdictCode.DEPENDS),
        # Every lower bound has to beat the target, and no target lets nothing grow.
        ([3, 4], [(F(201, 100), 4), (3, 5)], {}, VerdictCode.GROW),
        ([3, 4], [(2, 4), (3, 5)], {}, VerdictCode.KEEP),
        ([3, 4], [(F(201, 100), 4), (3, 5)], {"target": None}, VerdictCode.KEEP),
        # Every upper bound below break-even.
        (["0.5"], [(0, F(99, 100))], {}, VerdictCode.CUT),
        (["0.5"], [(0, 1)], {}, VerdictCode.UNSURE),
        # An interval that straddles break-even, and one that ends on it.
        (["1.5"], [(F(99, 100), 2)], {}, VerdictCode.UNSURE),
        (["1.5"], [(1, 2)], {}, VerdictCode.KEEP),
        # A yardstick without an interval stands by its point alone.
        ([3], [None], {}, VerdictCode.GROW),
        (["0.9"], [None], {}, VerdictCode.CUT),
        # Cost per lead: less is better, no leads are above every target, an infinite bound is.
        ([30], [(20, 39)], {"kind": "lead", "break_even": F(40), "target": F(40)}, VerdictCode.GROW),
        ([30], [(20, 40)], {"kind": "lead", "break_even": F(40), "target": F(40)}, VerdictCode.KEEP),
        ([30], [(20, None)], {"kind": "lead", "break_even": F(40), "target": F(40)}, VerdictCode.UNSURE),
        ([50], [(41, 60)], {"kind": "lead", "break_even": F(40), "target": F(40)}, VerdictCode.CUT),
        ([50], [(40, 60)], {"kind": "lead", "break_even": F(40), "target": F(40)}, VerdictCode.UNSURE),
        ([None], [(None, None)], {"kind": "lead", "break_even": F(40), "target": F(40)}, VerdictCode.CUT),
        (
            [30, None],
            [(20, 39), (None, None)],
            {"kind": "lead", "break_even": F(40), "target": F(40)},
            VerdictCode.DEPENDS,
        ),
    ],
)
def test_each_verdict_and_the_other_side_of_its_boundary(points, bounds, more, word):
    assert asked(points, bounds, **more)[0] == word


def test_the_reason_names_the_yardstick_that_is_nearest_to_another_verdict():
    """Nothing earned is a figure as any other: 0 is below 0.5."""
    code, why = asked(["0", "0.5"], [None, None])
    assert (code, why) == (VerdictCode.CUT, "even the better bound, 0.50 under y1, misses break-even at 1")
    code, why = asked(["3", "2.5"], [None, None])
    assert (code, why) == (VerdictCode.GROW, "even the worse bound, 2.5 under y1, beats the target of 2")
