"""A trial: what moves between two reports on the worked week, and the verdicts that turn (R33)."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

import pytest

from planned_week import planned_week_files
from yardstick.core.plan.campaign_records import Campaign, Rename
from yardstick.core.plan.costing_phase import OtherCost
from yardstick.core.plan.counting_phase import Goal
from yardstick.core.plan.crediting_phase import Yardstick
from yardstick.core.plan.plan import plan_of
from yardstick.core.plan.reading_phase import Condition, QuarantineRule, RecordState
from yardstick.core.report.breakdown import Breakdown
from yardstick.core.report.judged import judge_result
from yardstick.core.report.maturity import SALES
from yardstick.core.report.verdicts import VerdictCode
from yardstick.core.report.weigh import weigh
from yardstick.core.settling.trial import Turn, compare, turned
from yardstick.formats.files.csv_in import csv_of
from yardstick.formats.plan.settings_toml import read_settings
from yardstick.formats.rows.input_tables import read_file, tables_of

WHALE, NIGHT, FREIGHT = "Spring Whale Boats", "Midnight Boat", "Freight Fridays"


@pytest.fixture(scope="module")
def week():
    """Tables and plan of the worked week with a few rows more."""
    files = dict(planned_week_files())
    plan = read_settings(files.pop("settings.toml"))
    return tables_of([read_file(csv_of(*file), plan.reading.time_zone) for file in files.items()]).tables, plan


def tried(week, by="campaign", yardstick="linear", **changes):
    tables, plan = week
    results = [weigh(tables, one, Breakdown.read(by)) for one in (plan, plan.having(**changes))]
    return compare(results[0], results[1], yardstick), results


def test_the_same_plan_moves_nothing(week):
    trial, _ = tried(week)
    assert not trial.moves
    assert (trial.rows, trial.renamed, trial.value, trial.spend) == ([], [], 0, 0)


def test_a_further_cost_moves_spend_and_no_value(week):
    # 10.00 over the 7th to the 9th: 3.34 of the 7th and 3.33 of the 8th stand in the week.
    cost = OtherCost(date(2026, 3, 7), date(2026, 3, 9), FREIGHT, "fee", Decimal("10.00"))
    trial, _ = tried(week, other_costs=(cost,))
    assert (trial.value, trial.spend, trial.leads) == (0, 667, 0)
    assert [row.shown[1] for row in trial.rows] == [(FREIGHT,)]
    row = trial.rows[0]
    assert [side["linear"].sums.spend for side in (row.before, row.after)] == [3000, 3667]
    assert trial.moves


def test_a_merge_of_campaigns_moves_what_the_one_had(week):
    trial, _ = tried(week, renames=(Rename("campaign", NIGHT, WHALE),))
    # 33.33 by hand: see the worked week.
    assert trial.value == 3333
    moved = {row.shown[1][0]: row.moved("linear", lambda sums: sums.value) for row in trial.rows}
    assert {name: by for name, by in moved.items() if by} == {WHALE: 3333, NIGHT: -3333}
    gone = next(row for row in trial.rows if row.shown[1] == (NIGHT,))
    assert (gone.place_after, gone.after) == (None, {})


def test_another_name_moves_nothing_and_is_said(week):
    trial, results = tried(week, campaigns=(Campaign(WHALE, plain_name="Whale season"),))
    assert not trial.moves
    assert trial.renamed == [(("named", (WHALE,)), ("named", ("Whale season",)))]
    judged = [(result, judge_result(result.prepared.tables, result)) for result in results]
    assert turned(trial, judged[0], judged[1]) == []


def test_what_counts_no_more_is_told_apart_from_what_is_a_test(week):
    tests = (QuarantineRule((Condition("email_host", "is", ("freight.example",)),)),)
    trial, _ = tried(week, quarantine=(*week[1].reading.quarantine, *tests))
    assert (trial.quarantined, trial.records) == (2, -1)
    trial, _ = tried(week, records=(RecordState("conversions", "o7", "counted"),))
    assert (trial.quarantined, trial.records) == (-1, 1)
    # Of the freight customer's two leads both count.
    trial, _ = tried(week, goals=(Goal("lead", "lead", "every"), Goal("ticket", "sale", "every")))
    assert (trial.quarantined, trial.records) == (0, 1)


def test_of_two_reports_those_yardsticks_are_compared_that_both_have(week):
    _, plan = week
    others = tuple(y for y in plan.crediting.yardsticks if y.rule != "linear")
    trial, _ = tried(week, yardsticks=others)
    assert trial.yardstick == others[0].name
    assert (trial.rows, trial.yardsticks_gone, trial.yardsticks_come) == ([], ("linear",), ())
    assert trial.moves


def test_where_no_yardstick_stays_that_is_no_trial_without_a_move(week):
    trial, _ = tried(week, yardsticks=(Yardstick("own", "first"),))
    assert trial.yardsticks_come == ("own",)
    assert trial.moves


def test_another_margin_moves_figures_and_no_sums(week):
    trial, _ = tried(week, margin=Decimal("0.31"))
    assert (trial.value, trial.spend, trial.leads, trial.conversions) == (0, 0, 0, 0)
    assert trial.moves
    before, after = (side["linear"].figures.profit for side in (trial.rows[0].before, trial.rows[0].after))
    assert before != after


def test_in_another_home_currency_amounts_have_no_difference(week):
    trial, _ = tried(week, home_currency="NZD")
    assert trial.moves
    assert not trial.one_currency
    assert (trial.value, trial.spend) == (0, 0)


def test_rows_stand_in_the_order_of_what_moves(week):
    trial, _ = tried(week, direct="yield", click_prices=(), renames=(Rename("campaign", NIGHT, WHALE),))
    sizes = [abs(row.moved("linear", lambda sums: sums.value)) for row in trial.rows]
    assert sizes == sorted(sizes, reverse=True)


def test_what_comes_from_nowhere_moves_too(week):
    """The week's four counted leads, one of them without a trail, are worth 30.00 each from now on: 120.00 more."""
    plan = week[1]
    others = tuple(goal for goal in plan.goals if goal.name != "lead")
    trial, results = tried(week, goals=(*others, Goal("lead", "lead", "one", fixed_value=Decimal("30.00"))))
    assert trial.value == 12000
    booked = [sum(row.sums.value for row in result.rows if row.yardstick == "linear") for result in results]
    assert booked[1] - booked[0] == 12000


VISITS = "visit_id,occurred_at,visitor_id,url\n" + "".join(
    f"v{n},2026-03-02T09:{n:02d}:00Z,p{n},https://www.lunnick.example/?utm_source=quorrin&utm_campaign=Whales\n"
    for n in range(40)
)
ORDERS = "conversion_id,occurred_at,visitor_id,goal,total\n" + "".join(
    f"o{n},2026-03-02T10:{n:02d}:00Z,p{n},ticket,{9 + n % 3}.00\n" for n in range(40)
)
SPEND = "day,platform,campaign,cost\n2026-03-02,Quorrin,Whales,100.00\n"


@pytest.fixture(scope="module")
def forty_orders():
    """Forty orders of about 10.00 for 100.00 of spend: it pays, whoever is asked."""
    texts = {"visits": VISITS, "conversions": ORDERS, "spend": SPEND}
    given = tables_of([read_file(csv_of(f"{name}.csv", text.encode()), "UTC") for name, text in texts.items()])
    return given.tables, plan_of(home_currency="EUR", goals=(Goal("ticket", "sale", "every"),))


@pytest.mark.parametrize(
    ("changes", "after"),
    [
        ({"target_roas": Decimal(2)}, VerdictCode.GROW),
        ({"other_costs": (OtherCost(date(2026, 3, 2), date(2026, 3, 2), "Whales", "fee", Decimal(5000)),)}, VerdictCode.CUT),
        ({"quarantine": (QuarantineRule((Condition("email", "is empty", ()),)),)}, VerdictCode.FEW),
        ({"margin": Decimal("0.9")}, None),
    ],
)  # fmt: skip
def test_the_verdicts_that_turn(forty_orders, changes, after):
    tables, plan = forty_orders
    results = [weigh(tables, one) for one in (plan, plan.having(**changes))]
    judged = [(result, judge_result(tables, result)) for result in results]
    turns = turned(compare(results[0], results[1], "linear"), judged[0], judged[1])
    whales = ("named", ("Whales",))
    assert turns == ([Turn(whales, SALES, VerdictCode.KEEP, after)] if after else [])


def test_a_verdict_follows_its_row_under_another_name(forty_orders):
    tables, plan = forty_orders
    changed = plan.having(renames=(Rename("campaign", "Whales", "Whale boats"),), target_roas=Decimal(2))
    results = [weigh(tables, one) for one in (plan.having(target_roas=Decimal(1)), changed)]
    judged = [(result, judge_result(tables, result)) for result in results]
    trial = compare(results[0], results[1], "linear")
    assert not trial.moves
    assert trial.renamed == [(("named", ("Whales",)), ("named", ("Whale boats",)))]
    assert turned(trial, judged[0], judged[1]) == []


def test_a_row_that_goes_takes_its_verdict_along(forty_orders):
    tables, plan = forty_orders
    results = [weigh(tables, one) for one in (plan, plan.having(report_from=date(2026, 4, 1)))]
    judged = [(result, judge_result(tables, result)) for result in results]
    turns = turned(compare(results[0], results[1], "linear"), judged[0], judged[1])
    assert turns == [Turn(("named", ("Whales",)), SALES, VerdictCode.KEEP, None)]
