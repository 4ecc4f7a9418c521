"""Levels of spend, credit notes, and the ids that rows take (R18, R19), through the command line."""

from __future__ import annotations

import pytest

from command import credit
from core.test_hard_cases import tags, visit

WORLD = {"visits": [visit(1, tags("zeta", "cpc", "A"))]}


def ad(cost="", group="", day="2026-04-01", campaign="A", **more):
    return {"day": day, "platform": "Quorrin", "campaign": campaign, "ad_group": group, "cost": cost, **more}


def weighed(folder, rows, settings="", by="campaign"):
    return credit(folder, WORLD | {"spend": rows}, settings, "--by", by)


def spent(answer, value="A"):
    return answer.row("linear", value)["spend"]


GROUPS = [ad("60.00", "g1"), ad("40.00", "g2")]


def test_what_the_campaign_reports_beyond_its_groups_counts_as_not_itemised(tmp_path):
    answer = weighed(tmp_path, [*GROUPS, ad("120.00")])
    assert spent(answer) == "120.00"
    assert not answer.findings
    groups = credit(tmp_path / "by", WORLD | {"spend": [*GROUPS, ad("120.00")]}, "", "--by", "group").rows
    found = {(r["bucket"], r["group"]): r["spend"] for r in groups if r["yardstick"] == "linear" and r["spend"]}
    assert found == {
        ("no_touch_spend", "g1"): "60.00",
        ("no_touch_spend", "g2"): "40.00",
        ("undivided", ""): "20.00",
    }


def test_a_campaign_row_that_reports_less_than_its_groups_is_a_finding(tmp_path):
    answer = weighed(tmp_path, [*GROUPS, ad("90.00")])
    assert spent(answer) == "100.00"
    (found,) = answer.findings
    assert (found["code"], found["field"], found["amount"]) == ("several_levels", "cost", "10.00")


def test_levels_of_a_platform_that_adds_them_up_all_count(tmp_path):
    adds = '[[platform]]\nname = "quorrin"\nlevels = "add"\n'
    answer = weighed(tmp_path, [*GROUPS, ad("120.00")], adds)
    assert spent(answer) == "220.00"
    assert not answer.findings


def test_each_quantity_is_levelled_alone_over_the_levels_that_state_it(tmp_path):
    rows = [ad("10.00", clicks="9", impressions="100"), ad("10.00", "g1", clicks="4")]
    row = weighed(tmp_path, rows).row("linear", "A")
    assert (row["spend"], row["clicks"], row["impressions"]) == ("10.00", "9", "100")


@pytest.mark.parametrize(
    ("rows", "wanted"),
    [
        ([ad("10.00"), ad("10.01", "g1")], "10.01"),
        ([ad("10.01"), ad("10.00", "g1")], "10.00"),
        ([ad("10.02"), ad("10.00", "g1")], "10.02"),
        ([ad("10.00"), ad("", "g1", clicks="100", click_price="0.50")], "10.00"),
        ([ad("10.00"), ad("-4.00", campaign_id="", clicks="1")], "6.00"),
        ([ad("0.00", "g1"), ad("5.00", "g1", ad="x"), ad("5.00", "g1", keyword="k")], "5.00"),
    ],
    ids=["a unit more is rounding", "a unit less too", "two units are not", "an estimate gives way", "a credit note",
         "two levels of one depth"],
)  # fmt: skip
def test_days_at_several_levels(tmp_path, rows, wanted):
    answer = weighed(tmp_path, rows)
    assert spent(answer) == wanted
    assert [f["amount"] for f in answer.findings if f["field"] == "cost"] == (["5.00"] if len(rows) == 3 else [])


def test_of_two_levels_of_one_depth_and_total_the_one_filled_furthest_to_the_right_counts(tmp_path):
    rows = [ad("5.00", "g1", ad="x"), ad("5.00", "g1", keyword="k")]
    answer = weighed(tmp_path, rows, by="keyword")
    assert answer.row("linear", "k", "keyword", "no_touch_spend")["spend"] == "5.00"


def test_rows_without_id_or_account_take_the_only_one_there_is(tmp_path):
    rows = [
        ad("10.0", campaign_id="7", account="m"),
        ad("10.00", campaign_id="7", account="m"),
        ad("5.00", account="m"),
        ad("1.00", day="2026-04-02", campaign="a"),
    ]
    answer = credit(tmp_path, {"visits": [visit(1, "utm_id=7")], "spend": rows})
    assert spent(answer) == "16.00"


def test_an_account_left_out_at_one_level_is_still_the_same_day(tmp_path):
    assert spent(weighed(tmp_path, [ad("10.00"), ad("10.00", "g1", account="m")])) == "10.00"
    rows = [ad("10.00"), ad("10.00", "g1", account="m"), ad("7.00", account="n", day="2026-04-02")]
    assert spent(weighed(tmp_path / "two", rows)) == "27.00"


def test_an_id_with_several_names_on_its_latest_day_takes_the_first_of_them(tmp_path):
    rows = [
        ad("1.00", campaign="Beta", campaign_id="x7"),
        ad("2.00", campaign="Alpha", campaign_id="x7"),
        ad("4.00", campaign="Aaa", campaign_id="x7", day="2026-03-01"),
    ]
    answer = credit(tmp_path, {"visits": [visit(1, "utm_id=x7")], "spend": rows})
    assert spent(answer, "Alpha") == "7.00"


def test_a_row_that_took_its_id_by_its_name_gives_the_id_no_name(tmp_path):
    rows = [ad("1.00", campaign="B", campaign_id="7"), ad("1.00", campaign="b", day="2026-04-09")]
    assert spent(credit(tmp_path, {"visits": [visit(1, "utm_id=7")], "spend": rows}), "B") == "2.00"
