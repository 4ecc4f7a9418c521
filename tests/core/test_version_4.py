"""Worked cases of the fourth version of the rules: prices, levels, mended rows, removal. By hand; no outside source."""

from __future__ import annotations

import csv
import json

import pytest
from typer.testing import CliRunner

from yardstick.cli import app

VISITS = "visit_id,occurred_at,visitor_id,url\n"
PRICE = '[[click_price]]\ncampaign = "{}"\nprice = "{}"\n'


def weighed(folder, settings="", by="campaign", *words, **tables):
    for name, text in tables.items():
        (folder / f"{name}.csv").write_text(text)
    (folder / "settings.toml").write_text(settings)
    call = [
        "credit",
        str(folder),
        "--settings",
        str(folder / "settings.toml"),
        "--out",
        str(folder / "out"),
        "--by",
        by,
        *words,
    ]
    done = CliRunner().invoke(app, call)
    assert done.exit_code == 0, done.output
    return [r for r in csv.DictReader((folder / "out" / "result.csv").open()) if r["yardstick"] == "linear"]


def spent(rows, by="campaign"):
    return {(r["bucket"], r[by]): r["spend"] for r in rows if r["spend"] not in ("", "0.00")}


def findings(folder, code):
    return [r for r in csv.DictReader((folder / "out" / "findings.csv").open()) if r["code"] == code]


@pytest.mark.parametrize(("on", "wanted"), [("Beta", "10.35"), ("Foo", "10.00")])
def test_ids_come_before_prices(tmp_path, on, wanted):
    visits = VISITS + "a,2026-04-01T09:00:00Z,p,/?utm_campaign=Foo&utm_id=7\n"
    spend = "day,platform,campaign_id,campaign,cost\n2026-04-01,Q,7,Beta,10.00\n"
    assert spent(weighed(tmp_path, PRICE.format(on, "0.35"), visits=visits, spend=spend)) == {("named", "Beta"): wanted}


def arrivals(days=("01",) * 30):
    rows = (
        f"v{i},2026-04-{day}T09:{i:02d}:00Z,p{i},/?utm_source=harbour&utm_medium=cpc&utm_campaign=Autumn+Lift&utm_content={'ab'[i % 2]}\n"
        for i, day in enumerate(days)
    )
    return VISITS + "".join(rows)


LIFT = PRICE.format("Autumn Lift", "0.10") + 'source = "harbour"\n'


def test_a_click_costs_where_its_touch_stands(tmp_path):
    assert spent(weighed(tmp_path, LIFT, "ad", visits=arrivals()), "ad") == {
        ("named", "a"): "1.50",
        ("named", "b"): "1.50",
    }
    shown = weighed(tmp_path, LIFT, "ad", "--where", "source is harbour", visits=arrivals())
    assert sum(float(v) for v in spent(shown, "ad").values()) == 3.0
    assert not [r for r in shown if r["bucket"] in ("undivided", "left_out") and r["spend"] not in ("", "0.00")]
    assert spent(weighed(tmp_path, LIFT, "keyword", visits=arrivals()), "keyword") == {("undivided", ""): "3.00"}


def test_an_estimate_yields_on_days_that_a_platform_reports(tmp_path):
    platform = '[[platform]]\nname = "Ostrel"\nsource = "harbour"\nmedium = "cpc"\n'
    spend = "day,platform,campaign,cost\n2026-04-01,Ostrel,Autumn Lift,5.00\n"
    days = ["01"] * 12 + ["02"] * 18
    rows = weighed(tmp_path, LIFT + platform, visits=arrivals(days), spend=spend)
    assert spent(rows) == {("named", "Autumn Lift"): "6.80"}
    (found,) = findings(tmp_path, "price_yields")
    assert (found["amount"], found["currency"], found["value"]) == ("1.20", "EUR", "Autumn Lift, 2026-04-01")


def test_clicks_of_a_day_are_rounded_once_and_shared(tmp_path):
    visits = VISITS + "".join(f"v{i},2026-04-01T09:0{i}:00Z,p{i},/?utm_campaign=A&utm_content=c{i}\n" for i in range(3))
    found = spent(weighed(tmp_path, PRICE.format("A", "0.125"), "ad", visits=visits), "ad")
    assert found == {("named", "c0"): "0.13", ("named", "c1"): "0.13", ("named", "c2"): "0.12"}


def test_a_refund_is_held_against_the_row_that_stands(tmp_path):
    sales = "conversion_id,occurred_at,goal,total,currency\no1,2026-04-02T09:00:00Z,sale,100.00,EUR\no1,2026-04-02T09:00:00Z,sale,77.00,XAF\n"
    refunds = "refund_id,conversion_id,occurred_at,amount,currency\nr1,o1,2026-04-03T09:00:00Z,20.00,EUR\n"
    rows = weighed(tmp_path, visits=VISITS + "a,2026-04-01T09:00:00Z,p,/\n", conversions=sales, refunds=refunds)
    assert sum(float(r["value"]) for r in rows) == 80.0


def test_a_refund_without_a_currency_is_in_its_orders(tmp_path):
    sales = "conversion_id,occurred_at,goal,total,currency\no1,2026-04-02T09:00:00Z,sale,100.00,SEK\n"
    refunds = "refund_id,conversion_id,occurred_at,amount\nr1,o1,2026-04-03T09:00:00Z,30.00\n"
    rates = "day,base,quote,rate\n2026-04-01,SEK,EUR,0.10\n"
    rows = weighed(
        tmp_path, visits=VISITS + "a,2026-04-01T09:00:00Z,p,/\n", conversions=sales, refunds=refunds, rates=rates
    )
    assert sum(float(r["value"]) for r in rows) == 7.0


@pytest.mark.parametrize("whole", ["conversions", "refunds"])
def test_an_order_that_was_given_back_whole_needs_no_rate_wherever_that_is_said(tmp_path, whole):
    """By its own cell it was counted, by a row of refunds it was rejected for want of a rate."""
    said, given = ("12.00", "") if whole == "conversions" else ("", "r1,o1,2026-04-03T09:00:00Z,12.00\n")
    sales = "conversion_id,occurred_at,goal,total,refunded,currency\n"
    sales += f"o1,2026-04-02T09:00:00Z,sale,12.00,{said},SEK\no2,2026-04-02T09:00:00Z,sale,5.00,,EUR\n"
    refunds = f"refund_id,conversion_id,occurred_at,amount\nr2,o2,2026-04-03T09:00:00Z,1.00\n{given}"
    rows = weighed(tmp_path, visits=VISITS + "a,2026-04-01T09:00:00Z,p,/\n", conversions=sales, refunds=refunds)
    assert sum(float(r["conversions"]) for r in rows) == 2.0
    assert sum(float(r["value"]) for r in rows) == 4.0


GROUPS = "2026-04-01,Q,A,g1,,4.00\n2026-04-01,Q,A,g2,,4.00\n2026-04-01,Q,A,g3,,2.03\n"


@pytest.mark.parametrize(
    ("rows", "wanted"),
    [
        ("2026-04-01,Q,A,,,10.03\n" + GROUPS + "2026-04-01,Q,A,g1,x,10.00\n", "10.00"),
        ("2026-04-01,Q,A,,,10.03\n2026-04-01,Q,A,g1,x,10.00\n", "10.03"),
        ("2026-04-01,Q,A,,,10.02\n" + GROUPS + "2026-04-01,Q,A,g1,x,10.00\n", "10.00"),
    ],
)
def test_only_the_largest_level_is_compared(tmp_path, rows, wanted):
    spend = "day,platform,campaign,ad_group,ad,cost\n" + rows
    found = weighed(tmp_path, visits=VISITS + "a,2026-04-01T09:00:00Z,p,/?utm_campaign=A\n", spend=spend)
    assert spent(found) == {("named", "A"): wanted}


def test_identical_other_costs_count_once(tmp_path):
    costs = (
        "from,to,campaign,kind,cost\n"
        + "2026-04-01,2026-04-01,A,fee,10.00\n" * 2
        + "2026-04-01,2026-04-01,A,fee,5.00\n"
    )
    visits = VISITS + "a,2026-04-01T09:00:00Z,p,/?utm_campaign=A\n"
    assert spent(weighed(tmp_path, visits=visits, other_costs=costs)) == {("named", "A"): "15.00"}


REMOVAL_BY_CHANNEL = '[[yardstick]]\nname = "removal"\nrule = "removal"\nby = "channel"\n'


@pytest.mark.parametrize("by", ["campaign", "device", "device,campaign", "campaign,device", "channel", "day", "goal"])
def test_ads_only_under_removal_is_the_same_whatever_is_shown(tmp_path, by):
    """One sale of 0.01, five touches by email: X phone twice, Y phone, Y desk twice; X alone has spend. By device the
    cent would go to the phone, and there to X; by campaign X has 2/5 of it, so that Y gets the cent (R23)."""
    rows = [("X", "phone"), ("X", "phone"), ("Y", "phone"), ("Y", "desk"), ("Y", "desk")]
    visits = "visit_id,occurred_at,visitor_id,device,url\n" + "".join(
        f"v{i},2026-04-01T{8 + i:02d}:00:00Z,p,{device},/?utm_source=s&utm_medium=email&utm_campaign={name}\n"
        for i, (name, device) in enumerate(rows)
    )
    sales = "conversion_id,occurred_at,goal,visitor_id,total\no,2026-04-02T09:00:00Z,sale,p,0.01\n"
    spend = "day,platform,campaign,cost\n2026-04-01,Q,X,10.00\n"
    weighed(tmp_path, REMOVAL_BY_CHANNEL, by, visits=visits, conversions=sales, spend=spend)
    totals = json.loads((tmp_path / "out" / "summary.json").read_text())["totals"]
    assert totals["ads_only"]["removal"]["value"] == "0.00"
    assert totals["blended"]["removal"]["value"] == "0.01"


@pytest.mark.parametrize("turned", [False, True])
def test_of_clicks_at_one_instant_the_smaller_visit_id_takes_the_cent(tmp_path, turned):
    """Two clicks at 0.005 come to one cent, whose is the earlier click's; at one instant, whatever order rows come in,
    it goes by the visit's id as touches do (R7, R19)."""
    rows = [
        "v2,2026-04-01T09:00:00Z,a,/?utm_source=s&utm_campaign=Lift&utm_content=two\n",
        "v1,2026-04-01T09:00:00Z,b,/?utm_source=s&utm_campaign=Lift&utm_content=one\n",
    ]
    visits = VISITS + "".join(reversed(rows) if turned else rows)
    price = PRICE.format("Lift", "0.005")
    assert spent(weighed(tmp_path, price, "ad", visits=visits), "ad") == {("named", "one"): "0.01"}
