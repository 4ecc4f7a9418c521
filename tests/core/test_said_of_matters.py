"""What was said of matters (R30): accepted until a day or until its rows double, whose it is. By hand; no outside source."""

from __future__ import annotations

from datetime import date

import pytest

from core.test_snags import ORDERS, Q_ISLE, SPEND, missing_world, on, order, visits, weeks_of, weighed
from yardstick.core.base.day_numbers import day_number
from yardstick.core.plan.campaign_records import Campaign
from yardstick.core.plan.gathering_phase import SaidOfMatter
from yardstick.core.settling.matters import find_matters

ISLA = {
    "visits": visits(("a", on(1), Q_ISLE), ("b", on(20), Q_ISLE)),
    "spend": SPEND + f"{on(1)},Quorrin,q-main,Isla,10.00,\n{on(2)},Quorrin,q-main,Isla,5.00,\n",
    "conversions": ORDERS + order("a", on(4), "25.00"),
}


def states(texts, *said, kind="spend_alone", today=None, **more):
    found = find_matters(weighed(texts, said_of_matters=said, **more), today)
    return [one.is_accepted for one in found if one.kind.name == kind]


def said(**more):
    return SaidOfMatter("spend_alone", "isla", date(2026, 4, 1), **more)


def test_it_may_stay_for_a_reason_until_its_day_or_until_its_rows_double():
    assert states(ISLA) == [False]
    assert states(ISLA, said(note="asked")) == [False]
    assert states(ISLA, said(accepted_reason="begins in May")) == [True]
    until = said(accepted_reason="begins in May", accepted_until=date(2026, 4, 25))
    assert states(ISLA, until, today=day_number(date(2026, 4, 25))) == [True]
    assert states(ISLA, until, today=day_number(date(2026, 4, 26))) == [False]
    # Without a clock the last visit says what day it is.
    past = said(accepted_reason="begins in May", accepted_until=date(2026, 4, 19))
    assert states(ISLA, past) == [False]
    assert states(ISLA, said(accepted_reason="x", accepted_rows=2)) == [True]
    assert states(ISLA, said(accepted_reason="x", accepted_rows=1)) == [False]
    assert states(ISLA, SaidOfMatter("spend_alone", "Other", accepted_reason="x")) == [False]


def test_figures_and_fingerprint_do_not_move():
    plain, accepted = (weighed(ISLA, said_of_matters=said) for said in ((), (said(accepted_reason="x"),)))
    assert plain.fingerprint == accepted.fingerprint
    # A result that was weighed before it was said takes it from the plan of now.
    (one,) = [m for m in find_matters(plain, plan=accepted.plan) if m.kind.name == "spend_alone"]
    assert one.is_accepted


def test_of_several_of_one_object_each_is_said_by_itself():
    first, second = (SaidOfMatter("missing_day", "Quorrin / q-main", day, accepted_reason="x") for day in (
        date(2026, 5, 4), date(2026, 5, 5)))  # fmt: skip
    assert states(missing_world(), first, kind="missing_day") == [True, False]
    assert states(missing_world(), second, kind="missing_day") == [False, False]


@pytest.mark.parametrize(("day", "wanted"), [(date(2026, 4, 8), True), (date(2026, 3, 27), False)])
def test_of_weeks_it_is_the_one_that_shares_a_week(day, wanted):
    came, spend = weeks_of((20,) * 4 + (2,) * 3)
    kept = SaidOfMatter("arrivals_fell", "Quorrin", day, accepted_reason="x")
    assert states({"visits": visits(*came), "spend": spend}, kept, kind="arrivals_fell") == [wanted]


def test_whose_it_is_is_said_or_the_owner_of_its_campaign():
    planned = (Campaign("Isle"), Campaign("Isla", owner="Maren"))
    for kept, wanted in (((), "Maren"), ((said(whose="Sten"),), "Sten")):
        found = find_matters(weighed(ISLA, campaigns=planned, said_of_matters=kept))
        assert [one.whose for one in found if one.kind.name == "spend_alone"] == [wanted]
