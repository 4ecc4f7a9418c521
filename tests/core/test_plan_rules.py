"""What the plan changes, by example: each rule alone, with figures that can be checked by hand."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

import iso4217
import numpy as np
import pytest

from worlds import into_core
from yardstick.core.base.errors import SettingsError
from yardstick.core.costs.further_costs import currency_digits
from yardstick.core.credit.touch_fields import page_key
from yardstick.core.plan.campaign_records import Campaign, Level, Rename
from yardstick.core.plan.costing_phase import ClickPrice, OtherCost
from yardstick.core.plan.counting_phase import Goal
from yardstick.core.plan.plan import plan_of
from yardstick.core.plan.reading_phase import Condition, Legend, Page
from yardstick.core.reading.legends import LegendBook
from yardstick.core.report.breakdown import Breakdown
from yardstick.core.report.weigh import weigh

PAGE = "https://shop.example/a"


def visit(number, url, at="2026-03-02T10:00:00Z", person="p", **more):
    return {"visit_id": f"v{number}", "occurred_at": at, "visitor_id": person, "url": url} | more


def sale(number, at="2026-03-03T10:00:00Z", person="p", total="10.00", **more):
    row = {"conversion_id": f"c{number}", "occurred_at": at, "goal": "sale", "visitor_id": person, "total": total}
    return row | more


def rows(world, by="campaign", **settings):
    base = {"visits": [visit(0, PAGE, person="nobody")], "leads": [], "conversions": [], "spend": [], "rates": []}
    result = weigh(into_core(base | world), plan_of(**settings), Breakdown.read(by))
    linear = {r.by[0] or r.bucket: r.sums for r in result.rows if r.yardstick == "linear"}
    return linear, result


@pytest.mark.parametrize(
    ("cost", "currency", "days", "shares"),
    [
        # Published with the rules: 100.00 over three days.
        ("100.00", "", 3, ["33.34", "33.33", "33.33"]),
        ("0.02", "", 3, ["0.01", "0.01", "0.00"]),
        ("1", "", 1, ["1.00"]),
        # Yen have no minor unit (ISO 4217): 100 over three days at 0.01 = 34, 33, 33 yen.
        ("100", "JPY", 3, ["0.34", "0.33", "0.33"]),
        # An amount finer than its currency keeps its decimals and is rounded by day.
        ("0.005", "", 1, ["0.00"]),
    ],
)
def test_other_costs_are_spread_by_day_the_rest_to_the_earlier_days(cost, currency, days, shares):
    typed = OtherCost(date(2026, 3, 2), date(2026, 3, 1 + days), "A", "fee", Decimal(cost), currency)
    world = {"rates": [{"day": "2026-03-02", "base": "JPY", "quote": "EUR", "rate": "0.01"}]}
    found, _ = rows(world, "day", other_costs=(typed,))
    assert [f"{found[f'2026-03-0{2 + i}'].spend / 100:.2f}" for i in range(days)] == shares


def test_a_further_cost_without_a_rate_is_rejected_day_by_day():
    typed = OtherCost(date(2026, 3, 2), date(2026, 3, 3), "A", "fee", Decimal(5), "NZD")
    _, result = rows({}, other_costs=(typed,))
    assert [(r.file, r.line) for r in result.rejected] == [("plan: other costs", 1)] * 2


def test_minor_units_are_those_of_the_standard():
    """ISO 4217, by the package of that name; funds and metals without a minor unit are left out."""
    for currency in iso4217.Currency:
        if currency.exponent is not None:
            assert currency_digits(currency.code) == currency.exponent, currency.code


def test_clicks_at_a_price_count_touches_once_and_the_first_price_written_holds():
    tags = "?utm_source=s&utm_medium=m&utm_campaign=A"
    world = {
        "visits": [
            visit(1, PAGE + tags),
            visit(2, PAGE + tags, "2026-03-02T10:05:00Z"),  # the same touch
            visit(3, PAGE + tags, "2026-03-03T10:00:00Z"),
            visit(4, PAGE + tags + "&utm_content=x", "2026-03-04T10:00:00Z"),
            visit(5, PAGE + tags, "2026-03-05T10:00:00Z", kind="view"),
            visit(6, PAGE + tags.replace("=s", "=other"), "2026-03-06T10:00:00Z"),
        ]
    }
    prices = (
        ClickPrice("a", Decimal("0.50"), source="S", content="x"),
        ClickPrice("A", Decimal("0.105"), source="s", first=date(2026, 3, 3)),
    )
    found, result = rows(world, click_prices=prices)
    # One click at 0.50 on the 4th, one at 0.105 on the 3rd; half-even gives 0.10.
    assert found["A"].spend == 50 + 10
    assert found["A"].clicks == 2
    assert result.prepared.costs.estimated.all()


S = (Condition("source", "is", ("s",)),)


def test_legends_take_default_roles_away_and_give_new_ones():
    values = {"source": "s", "medium": "m", "campaign": "c", "term": "t", "content": "k", "id": "7", "size": "wide"}
    none = LegendBook(plan_of().reading).roles(values, 0)
    assert none == {
        "source": "s",
        "medium": "m",
        "campaign": "c",
        "keyword": "t",
        "ad": "k",
        "id": "7",
        "extra:size": "wide",
    }
    swapped = Legend(S, None, (("term", "campaign"), ("campaign", "keyword")))
    roles = LegendBook(plan_of(legends=(swapped,)).reading).roles(values, 1)
    assert (roles["campaign"], roles["keyword"]) == ("t", "c")
    # The campaign loses its default field to the term; the campaign field then carries nothing.
    moved = LegendBook(plan_of(legends=(Legend(S, None, (("term", "campaign"),)),)).reading).roles(values, 1)
    assert moved["campaign"] == "t"
    assert "keyword" not in moved
    freed = LegendBook(plan_of(legends=(Legend(S, None, (("id", "audience"),)),)).reading).roles(values, 1)
    assert (freed["audience"], freed["id"]) == ("7", "")


def test_the_legend_of_the_day_holds_as_a_whole():
    book = LegendBook(
        plan_of(
            legends=(
                Legend((Condition("source", "is", ("S",)),), None, (("term", "group"),)),
                Legend(S, date(2026, 3, 2), (("content", "item"),)),
            )
        ).reading
    )
    day = (date(2026, 3, 2) - date(1970, 1, 1)).days
    mine, others = book.fitting([{"source": "s "}, {"source": "other"}])
    assert book.numbers_at(mine, np.array([day - 1, day, day + 1])).tolist() == [1, 2, 2]
    assert book.numbers_at(others, np.array([day])).tolist() == [0]


def test_a_channel_role_wins_over_the_rules_and_says_so():
    tags = "?utm_source=s&utm_medium=cpc&utm_campaign=A&utm_term=Harbour+boards"
    legend = Legend(S, None, (("term", "channel"),))
    found, result = rows({"visits": [visit(1, PAGE + tags)], "conversions": [sale(1)]}, "channel", legends=(legend,))
    assert found["Harbour boards"].value == 1_000
    assert "legend" in result.prepared.touches.why[0]


def test_ids_of_the_level_tree_are_shown_by_name_and_spend_joins_them():
    tags = "?utm_source=s&utm_medium=cpc&utm_campaign=A&utm_content=83015"
    spend = {"day": "2026-03-02", "platform": "Q", "campaign": "A", "ad": "83015", "cost": "4.00"}
    world = {"visits": [visit(1, PAGE + tags)], "conversions": [sale(1)], "spend": [spend]}
    found, _ = rows(world, "ad", levels=(Level("ad", "83015", "Humpback"),))
    assert (found["Humpback"].value, found["Humpback"].spend) == (1_000, 400)
    assert "83015" not in found


def test_a_typed_id_beats_the_name_of_the_spend_rows():
    spend = {"day": "2026-03-02", "platform": "Q", "campaign_id": "7", "campaign": "theirs", "cost": "4.00"}
    world = {"visits": [visit(1, PAGE + "?utm_id=7")], "conversions": [sale(1)], "spend": [spend]}
    assert set(rows(world)[0]) >= {"theirs"}
    found, _ = rows(world, campaigns=(Campaign("Ours", ids=("7",)),))
    assert (found["Ours"].value, found["Ours"].spend) == (1_000, 400)
    assert "theirs" not in found


def test_a_plain_name_is_shown_and_a_code_is_its_campaign():
    world = {
        "visits": [visit(1, PAGE + "?utm_campaign=SWB"), visit(2, PAGE + "?utm_campaign=Whale", person="q")],
        "conversions": [sale(1), sale(2, person="q")],
    }
    found, _ = rows(world, campaigns=(Campaign("Whale", "swb", "Whale season"),))
    assert found["Whale season"].value == 2_000
    assert set(found) == {"Whale season"}


def test_a_version_of_a_goal_reads_the_conversions_of_its_days():
    goals = (
        Goal("sale", "sale", "every", "total"),
        Goal("sale", "sale", "one", "total", fixed_value=Decimal("7.00"), since=date(2026, 3, 5)),
    )
    world = {
        "visits": [visit(1, PAGE + "?utm_campaign=A")],
        "conversions": [sale(1), sale(2, "2026-03-04T10:00:00Z"), sale(3, "2026-03-06T10:00:00Z")],
    }
    found, _ = rows(world, goals=goals)
    # The first two count each at 10.00; the third is no longer the person's earliest.
    assert (found["A"].conversions, found["A"].value) == (2, 2_000)
    others = {**world, "conversions": [sale(3, "2026-03-06T10:00:00Z"), sale(4, "2026-03-07T10:00:00Z")]}
    found, _ = rows(others, goals=goals)
    assert (found["A"].conversions, found["A"].value) == (1, 700)


def test_a_goals_own_value_may_be_in_another_currency_at_the_rate_of_the_day():
    goals = (
        Goal("sale", "sale", "every", "total", default_value=Decimal("10.00"), currency="NZD"),
        Goal("lead", "lead", "every", fixed_value=Decimal("100"), currency="JPY"),
    )
    lead = {"lead_id": "l1", "occurred_at": "2026-03-03T10:00:00Z", "visitor_id": "p"}
    world = {
        "visits": [visit(1, PAGE + "?utm_campaign=A")],
        "conversions": [sale(1, total=""), sale(2, total="3.00"), sale(3, "2026-03-20T10:00:00Z", total="")],
        "leads": [lead],
        "rates": [
            {"day": "2026-03-02", "base": "NZD", "quote": "EUR", "rate": "0.55"},
            {"day": "2026-03-02", "base": "JPY", "quote": "EUR", "rate": "0.0061"},
        ],
    }
    found, result = rows(world, goals=goals)
    # 10.00 x 0.55 + 3.00 + 100 x 0.0061; the order of the 20th finds no rate within 7 days.
    assert found["A"].value == 550 + 300 + 61
    assert [(r.table, r.line, r.value) for r in result.rejected] == [("conversions", 4, "NZD")]
    found, result = rows(world | {"rates": []}, goals=goals)
    assert found["A"].value == 300
    assert {r.table for r in result.rejected} == {"conversions", "leads"}


def test_leads_in_a_good_stage_are_good():
    lead = {"lead_id": "l1", "occurred_at": "2026-03-03T10:00:00Z", "visitor_id": "p", "stage": " Quoted"}
    world = {"visits": [visit(1, PAGE + "?utm_campaign=A")], "leads": [lead]}
    assert rows(world)[0]["A"].good_leads == 0
    assert rows(world, goals=(Goal("lead", "lead", "one", good_stages=("quoted",)),))[0]["A"].good_leads == 1


def test_pages_are_known_by_host_and_path():
    assert (
        page_key("HTTPS://Shop.example/a/?x=1#y")
        == page_key("http://shop.example/a")
        == page_key("https://shop.example/A")
        != page_key("https://shop.example/ab")
    )
    world = {
        "visits": [
            visit(1, PAGE + "/?utm_campaign=A"),
            visit(2, "/a?utm_campaign=A", person="q"),
            visit(3, PAGE + "/b", person="r"),
        ]
    }
    found, _ = rows(
        world | {"conversions": [sale(1), sale(2, person="q")]}, "landing_page", pages=(Page("Offer", PAGE),)
    )
    assert found["Offer"].value == 2_000
    assert found["Offer"].touches == 2
    assert found[page_key(PAGE + "/b")].touches == 1


def test_weeks_are_those_of_the_standard():
    """ISO 8601, as in the published examples: 2005-01-01 is in 2004-W53, 2008-12-29 in 2009-W01, 2027-01-03 in 2026-W53."""
    days = {"2005-01-01": "2004-W53", "2008-12-29": "2009-W01", "2027-01-03": "2026-W53"}
    spend = [{"day": day, "platform": "Q", "campaign": "A", "cost": "1"} for day in days]
    found, _ = rows({"spend": spend}, "week")
    assert set(days.values()) <= set(found)
    assert {"2005-01", "2008-12", "2027-01"} <= set(rows({"spend": spend}, "month")[0])


def test_an_extra_value_is_a_breakdown_only_if_something_speaks_of_it():
    world = {"visits": [visit(1, PAGE + "?utm_campaign=A&Size=Wide&utm_creative=n1")], "conversions": [sale(1)]}
    assert rows(world, "extra:size", extra_values=("size",))[0]["Wide"].value == 1_000
    assert rows(world, "extra:utm_creative")[0]["n1"].value == 1_000
    with pytest.raises(SettingsError, match="colour"):
        rows(world, "extra:colour", extra_values=("size",))


def test_a_rename_changes_neither_touches_nor_channels():
    world = {
        "visits": [
            visit(1, PAGE + "?utm_source=a&utm_medium=cpc&utm_campaign=A"),
            visit(2, PAGE + "?utm_source=b&utm_medium=cpc&utm_campaign=A", "2026-03-02T10:05:00Z"),
        ],
        "conversions": [sale(1)],
    }
    merged = (Rename("source", "b", "a"),)
    before, after = rows(world, "source")[0], rows(world, "source", renames=merged)[0]
    assert (before["a"].touches, before["b"].touches, after["a"].touches) == (1, 1, 2)
    assert rows(world, "channel")[0] == rows(world, "channel", renames=merged)[0]
    result = rows(world, "source", renames=merged)[1]
    assert result.plan.having(renames=()) == plan_of()


@pytest.mark.parametrize("weak", ["view", "watch"])
@pytest.mark.parametrize(("views", "given"), [("keep", {"Seen": 500, "Clicked": 500}), ("yield", {"Clicked": 1_000})])
def test_what_was_only_seen_yields_to_clicks_where_that_is_set(weak, views, given):
    """R13: an ad that was viewed or watched gives way in a trail that has a click; alone it keeps the credit."""
    seen = visit(1, PAGE + "?utm_campaign=Seen", at="2026-03-02T12:00:00Z", kind=weak)
    clicked = visit(2, PAGE + "?utm_campaign=Clicked", at="2026-03-02T14:00:00Z")
    found, _ = rows({"visits": [seen, clicked], "conversions": [sale(1)]}, views=views)
    assert {name: sums.value for name, sums in found.items() if sums.value} == given
    found, _ = rows({"visits": [seen], "conversions": [sale(1)]}, views=views)
    assert found["Seen"].value == 1_000


@pytest.mark.parametrize(("seen", "whose"), [("2026-02-01T10:00:00Z", "A"), ("2026-02-01T09:59:59Z", "no_trail")])
def test_a_captured_source_counts_to_the_end_of_the_window_and_no_longer(seen, whose):
    """R8: thirty days to the second, both ends inclusive; a second earlier it stands outside."""
    lead = {
        "lead_id": "l1", "occurred_at": "2026-03-03T10:00:00Z", "email": "a@mail.example",
        "first_seen_at": seen, "first_source": "s", "first_medium": "m", "first_campaign": "A",
    }  # fmt: skip
    found, _ = rows({"leads": [lead]})
    assert found[whose].leads == 1
