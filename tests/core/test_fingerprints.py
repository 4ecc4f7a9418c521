"""The fingerprint of a result (R27) goes by what somebody chose, not by what a plan could say."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from decimal import Decimal

import pytest

from yardstick.core.plan.campaign_records import Campaign
from yardstick.core.plan.costing_phase import Money
from yardstick.core.plan.counting_phase import Goal
from yardstick.core.plan.crediting_phase import Crediting, Yardstick
from yardstick.core.plan.plan import Plan, plan_of
from yardstick.core.plan.reading_phase import Reading
from yardstick.core.report.breakdown import BY_CAMPAIGN
from yardstick.core.report.fingerprint import fingerprint_of


def name(plan, by=BY_CAMPAIGN):
    return fingerprint_of(plan, by, "data")


@dataclass(frozen=True)
class LaterMoney(Money):
    """Money as it may be one day, with a field more."""

    smallest_coin: int = 1


@dataclass(frozen=True)
class LaterGoal(Goal):
    """A goal as it may be one day."""

    weight: Decimal = Decimal(1)


@dataclass(frozen=True)
class LaterCrediting(Crediting):
    """Yardsticks as they may be one day, with a rule more among those that are there without any in the settings."""

    yardsticks: tuple[Yardstick, ...] = (*Crediting().yardsticks, Yardstick("newest", "newest"))


GOAL = {f.name: getattr(Goal("ticket", "sale", "every"), f.name) for f in fields(Goal)}


@pytest.mark.parametrize(
    ("before", "later"),
    [
        (Plan(), Plan(money=LaterMoney())),
        (Plan(money=Money("AUD")), Plan(money=LaterMoney("AUD"))),
        (plan_of(goals=(Goal("ticket", "sale", "every"),)), plan_of(goals=(LaterGoal(**GOAL),))),
        (Plan(), Plan(crediting=LaterCrediting())),
    ],
)
def test_a_field_or_a_rule_that_is_new_renames_no_result(before, later):
    assert name(later) == name(before)


def test_what_is_chosen_from_it_does():
    assert name(Plan(money=LaterMoney(smallest_coin=5))) != name(Plan())
    assert name(plan_of(goals=(replace(LaterGoal(**GOAL), weight=Decimal(2)),))) != name(
        plan_of(goals=(Goal("ticket", "sale", "every"),))
    )


def test_a_default_that_somebody_wrote_down_is_the_default():
    written = plan_of(home_currency="EUR", time_zone="UTC", yardsticks=Crediting().yardsticks)
    assert name(written) == name(Plan())


@pytest.mark.parametrize(
    "other",
    [
        plan_of(required_tags=()),
        plan_of(yardsticks=Crediting().yardsticks[:3]),
        plan_of(fold=False),
        plan_of(goals=(Goal("ticket", "sale", "every"),)),
        plan_of(campaigns=(Campaign("A"),)),
        plan_of(campaigns=(Campaign("A", target_roas=Decimal(2)),)),
        plan_of(campaigns=(Campaign("A", code="a"),)),
        Plan(reading=Reading(own_hosts=("lunnick.example",))),
    ],
)
def test_what_differs_from_a_default_counts_also_where_it_is_empty(other):
    every = [Plan(), plan_of(campaigns=(Campaign("B"),))]
    assert name(other) not in {name(one) for one in every}
    assert len(name(other)) == 16
