"""The totals under two names (R23): what the ads earned, and everything that was counted, through the command line."""

from __future__ import annotations

from command import credit
from core.test_hard_cases import sale, tags, visit

SPEND = [{"day": "2026-04-01", "platform": "Quorrin", "campaign": "A", "cost": "20.00", "clicks": "8"}]
OTHER = [{"from": "2026-04-01", "to": "2026-04-01", "campaign": "A", "kind": "print", "cost": "5.00"}]
WORLD = {
    "visits": [visit(1, tags("zeta", "cpc", "A"), person="a"), visit(2, tags("zeta", "cpc", "B"), person="b")],
    "conversions": [sale(1, "60.00", person="a"), sale(2, "40.00", person="a"), sale(3, "10.00", person="b")],
    "spend": SPEND,
    "other_costs": OTHER,
}


def test_what_a_campaign_without_spend_earned_is_not_put_down_to_the_ads(tmp_path):
    """A cost 25.00 and sold for 100.00, B cost nothing and sold for 10.00: 4 and 4.4."""
    totals = credit(tmp_path, WORLD).summary["totals"]
    ads, everything = totals["ads_only"]["linear"], totals["blended"]["linear"]
    assert (ads["value"], ads["spend"], ads["roas"], ads["conversions"]) == ("100.00", "25.00", "4", "2")
    assert (everything["value"], everything["spend"], everything["roas"]) == ("110.00", "25.00", "4.4")


def test_untagged_value_and_conversions_without_a_trail_are_only_in_the_blended_total(tmp_path):
    world = WORLD | {
        "visits": [*WORLD["visits"], visit(3, person="c")],
        "conversions": [*WORLD["conversions"], sale(4, "7.00", person="c"), sale(5, "3.00", person="nobody")],
    }
    totals = credit(tmp_path, world).summary["totals"]
    assert totals["ads_only"]["linear"]["value"] == "100.00"
    assert (totals["blended"]["linear"]["value"], totals["blended"]["linear"]["conversions"]) == ("120.00", "5")


def test_spend_that_met_no_touch_is_cost_of_the_ads_and_a_campaign_whose_spend_is_0_is_none(tmp_path):
    spend = [
        *SPEND,
        {"day": "2026-04-01", "platform": "Quorrin", "campaign": "B", "cost": "0.00"},
        {"day": "2026-04-01", "platform": "Quorrin", "campaign": "Nowhere", "cost": "25.00"},
    ]
    ads = credit(tmp_path, WORLD | {"spend": spend}).summary["totals"]["ads_only"]["linear"]
    assert (ads["value"], ads["spend"], ads["roas"]) == ("100.00", "50.00", "2")


def test_totals_are_the_same_under_every_breakdown_and_only_spend_of_the_range_makes_an_ad(tmp_path):
    first = credit(tmp_path / "a", WORLD).summary["totals"]
    for by in ("channel", "day", "goal", "campaign,day"):
        assert credit(tmp_path / by, WORLD, "", "--by", by).summary["totals"] == first
    late = 'report_from = "2026-04-05"\n'
    ads = credit(tmp_path / "late", WORLD, late).summary["totals"]["ads_only"]["linear"]
    assert (ads["value"], ads["spend"], ads["roas"]) == ("0.00", "0.00", "")


def test_a_filter_narrows_both_totals(tmp_path):
    totals = credit(tmp_path, WORLD, "", "--where", "campaign is B").summary["totals"]
    assert totals["ads_only"]["linear"]["value"] == "0.00"
    assert totals["blended"]["linear"]["value"] == "10.00"


def test_tagged_touches_without_a_campaign_stand_apart_from_those_without_any_tag(tmp_path):
    """R12: none; a source only; a tag of one's own; an unfilled slot alone is no tag; a campaign."""
    visits = [
        visit(1, "", person="a"),
        visit(2, "utm_source=zeta", person="b"),
        visit(3, "utm_shelf=low", person="c"),
        visit(4, "utm_shelf=%7Bx%7D", person="d"),
        visit(5, tags("zeta", "cpc", "A"), person="e"),
    ]
    sales = [sale(i, "10.00", person=p) for i, p in enumerate("abcde")]
    world = {"visits": visits, "conversions": sales}
    found = credit(tmp_path / "campaign", world)
    touches = {r["bucket"]: (r["touches"], r["value"], r["spend"]) for r in found.rows if r["yardstick"] == "linear"}
    assert touches == {"named": ("1", "10.00", "0.00"), "untagged": ("2", "20.00", ""), "no_value": ("2", "20.00", "")}
    totals = found.summary["totals"]
    assert (totals["untagged_value"]["linear"], totals["no_value_value"]["linear"]) == ("20.00", "20.00")
    by_source = credit(tmp_path / "source", world, "", "--by", "source")
    assert by_source.row("linear", "zeta", "source")["touches"] == "2"
    assert by_source.row("linear", "", "source", "no_value")["touches"] == "1"


def test_of_two_fields_the_first_decides_and_what_a_conversion_lacks_is_no_value(tmp_path):
    visits = [visit(1, "utm_source=zeta", person="a"), visit(2, "utm_campaign=A", person="b")]
    world = {"visits": visits, "conversions": [sale(1, person="a"), sale(2, person="b", product="Card")]}
    both = credit(tmp_path / "two", world, "", "--by", "source,campaign")
    places = {(r["bucket"], r["source"], r["campaign"]) for r in both.rows}
    assert places == {("named", "zeta", ""), ("no_value", "", "A")}
    products = credit(tmp_path / "product", world, "", "--by", "product")
    assert {(r["bucket"], r["product"]) for r in products.rows} == {("named", "Card"), ("no_value", "")}


def test_credits_name_their_table_and_stand_in_the_order_of_the_format(tmp_path):
    """A lead and a sale of one instant and one id are told apart; yardsticks in code point order."""
    same = {"occurred_at": "2026-04-10T10:00:00Z", "visitor_id": "p"}
    world = {
        "visits": [visit(1, tags("zeta", "cpc", "A"))],
        "leads": [{"lead_id": "x", **same}],
        "conversions": [{**sale(1), "conversion_id": "x"}],
    }
    found = credit(tmp_path, world)
    rows = [(r["yardstick"], r["table"], r["conversion_id"]) for r in found.credits]
    names = ["decay", "fair_share", "first", "last", "last_marked", "linear", "position"]
    assert rows == [(name, table, "x") for name in names for table in ("conversions", "leads")]


def test_every_figure_of_one_campaign_by_hand(tmp_path):
    """R23: bounce 1/2, conversion rate 2/3, cost per click 2.50 without other costs, average value 50, one new customer."""
    visits = [
        visit(1, tags("zeta", "cpc", "A"), "2026-04-01T01:00:00Z", "a"),
        visit(2, tags("zeta", "cpc", "A"), "2026-04-01T01:05:00Z", "a"),
        visit(3, tags("zeta", "cpc", "A"), "2026-04-01T01:00:00Z", "b"),
        visit(4, tags("zeta", "cpc", "A"), "2026-04-01T01:00:00Z", "c", kind="view"),
    ]
    world = WORLD | {"visits": [*visits, visit(5, tags("zeta", "cpc", "B"), person="d")]}
    world["conversions"] = [sale(1, "60.00", person="a"), sale(2, "40.00", person="a"), sale(3, "10.00", person="d")]
    found = credit(tmp_path, world)
    row = found.row("linear", "A")
    assert [row[name] for name in ("bounce_rate", "conversion_rate", "cost_per_click", "average_value")] == [
        "0.5", "0.666666666667", "2.5", "50",
    ]  # fmt: skip
    assert [row[name] for name in ("value_per_touch", "new_customers", "cost_per_new_customer")] == [
        "33.3333333333", "1", "25",
    ]  # fmt: skip
    totals = found.summary["totals"]
    assert (totals["ads_only"]["linear"]["roas"], totals["blended"]["linear"]["roas"]) == ("4", "4.4")
    assert totals["blended"]["linear"]["new_customers"] == "2"


def test_a_new_customer_is_told_by_all_the_data_and_only_by_sales_that_count(tmp_path):
    """A sale before the range makes the next one no first; a cancelled one does not; a lead is no sale."""
    world = {
        "visits": [visit(i, tags("zeta", "cpc", "A"), person=p) for i, p in enumerate("abc")],
        "leads": [{"lead_id": "l", "occurred_at": "2026-04-02T10:00:00Z", "visitor_id": "c"}],
        "conversions": [
            sale(1, at="2026-04-02T10:00:00Z", person="a"),
            sale(2, at="2026-04-09T10:00:00Z", person="a"),
            sale(3, at="2026-04-02T10:00:00Z", person="b", status="cancelled"),
            sale(4, at="2026-04-09T10:00:00Z", person="b"),
            sale(5, at="2026-04-09T10:00:00Z", person="c", goal="card"),
        ],
    }
    row = credit(tmp_path, world, 'report_from = "2026-04-05"\n').row("linear", "A")
    assert (row["conversions"], row["new_customers"]) == ("3", "2")


def test_figures_without_a_denominator_are_empty_and_rows_that_are_no_campaign_have_no_ratio(tmp_path):
    found = credit(tmp_path, {"visits": [visit(1, person="p")], "conversions": [sale(1)], "spend": SPEND})
    untagged = found.row("linear", "", bucket="untagged")
    assert [untagged[n] for n in ("conversion_rate", "bounce_rate", "value_per_touch", "average_value")] == [""] * 4
    assert untagged["new_customers"] == "1"
    alone = found.row("linear", "A", bucket="no_touch_spend")
    assert [alone[n] for n in ("conversion_rate", "average_value", "cost_per_new_customer")] == ["", "", ""]
    assert alone["cost_per_click"] == "2.5"
