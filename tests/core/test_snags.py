"""Snags of traffic and spend (R30): found over all days, staked in the range.

The cases marked *worked* are the worked cases of version 4 of the rules, by hand; the others are by hand, too.
"""

from __future__ import annotations

from datetime import date, timedelta
from decimal import Decimal

import pytest

from yardstick.core.base.day_numbers import day_text
from yardstick.core.plan.campaign_records import Campaign, Rename
from yardstick.core.plan.costing_phase import ClickPrice, OtherCost, Platform
from yardstick.core.plan.plan import plan_of
from yardstick.core.plan.reading_phase import Condition, Legend
from yardstick.core.plan.reporting_phase import Thresholds
from yardstick.core.report.weigh import weigh
from yardstick.core.settling.facts import Besides, WatchedLink
from yardstick.core.settling.matters import find_matters
from yardstick.formats.files.csv_in import csv_of
from yardstick.formats.rows.input_tables import read_file, tables_of

QUORRIN = Platform("Quorrin", "quorrin", "cpc")
OSTREL = Platform("Ostrel", "ostrel", "cpc")
PLATFORMS = (QUORRIN, OSTREL)
Q_ISLE = "?utm_source=quorrin&utm_medium=cpc&utm_campaign=Isle"
O_FJORD = "?utm_source=ostrel&utm_medium=cpc&utm_campaign=Fjord"
ORDERS = "conversion_id,occurred_at,goal,visitor_id,total\n"
SPEND = "day,platform,account,campaign,cost,clicks\n"


def on(day, month=4):
    return f"2026-{month:02d}-{day:02d}"


def visits(*rows, page="https://ferry.test/isle"):
    """Visits of (person, day, query): one a person and day, at nine."""
    said = [f"v{n},{day}T09:00:00Z,{who},{page}{query}\n" for n, (who, day, query) in enumerate(rows)]
    return "visit_id,occurred_at,visitor_id,url\n" + "".join(said)


def order(who, day, total, number=1):
    return f"o{number}{who},{day}T10:00:00Z,ticket,{who},{total}\n"


def weighed(texts, **more):
    tables = tables_of([read_file(csv_of(f"{n}.csv", text.encode()), "UTC") for n, text in texts.items()]).tables
    return weigh(tables, plan_of(**{"home_currency": "EUR", "platforms": PLATFORMS} | more))


def found(kind, texts, today=None, **more):
    """(object, first day, rows, spend, value) of the matters of a kind."""
    return [
        (one.object, one.first_day and day_text(one.first_day), one.rows, one.spend, one.value)
        for one in find_matters(weighed(texts, **more), today)
        if one.kind.name == kind
    ]


MONDAY = date(2026, 3, 2)


def weeks_of(touches, clicks=40, cost="40.00"):
    """Visits and spend of weeks: so many arrivals of Quorrin a week, on its clicks."""
    came, spent = [], []
    for number, count in enumerate(touches):
        first = MONDAY + timedelta(7 * number)
        spent.append(f"{first},Quorrin,q-main,Isle,{cost},{clicks}\n")
        came += [(f"p{number}.{n}", str(first + timedelta(n % 7)), Q_ISLE) for n in range(count)]
    last = MONDAY + timedelta(7 * len(touches))
    # A visit before the first and after the last week: whole weeks lie between.
    came += [("before", str(MONDAY), "?utm_source=moth"), ("after", str(last), "?utm_source=moth")]
    return came, SPEND + "".join(spent)


@pytest.mark.parametrize(
    ("touches", "wanted"),
    [
        ((20, 20, 22, 24, 10), [("2026-03-30", 0, 4000)]),
        ((20, 20, 20, 20, 10), []),
        ((20, 20, 20, 1), []),
    ],
)
def test_arrivals_that_fell_below_half_the_median_of_the_weeks_before(touches, wanted):  # worked
    came, spend = weeks_of(touches)
    rows = found("arrivals_fell", {"visits": visits(*came), "spend": spend})
    assert [(first, n, cost) for _, first, n, cost, _ in rows] == wanted
    assert all(object == ("Quorrin",) for object, *_ in rows)


def test_weeks_that_touch_are_one_matter_with_what_arrived_untagged_on_its_pages():  # worked
    came, spend = weeks_of((20,) * 4 + (2,) * 12)
    texts = {"visits": visits(*came), "spend": spend, "conversions": ORDERS + order("u1", "2026-04-02", "70.00")}
    lost = [("u1", "2026-04-01"), ("u2", "2026-04-20"), ("u3", "2026-06-14")]
    texts["visits"] += "".join(f"{who},{day}T09:00:00Z,{who},https://ferry.test/isle\n" for who, day in lost)
    texts["visits"] += "u4,2026-04-01T09:00:00Z,u4,https://ferry.test/other\n"
    assert found("arrivals_fell", texts) == [(("Quorrin",), "2026-03-30", 3, 48000, 7000)]
    # The range cuts the stake, and nothing else.
    cut = found("arrivals_fell", texts, report_from=date(2026, 4, 6), report_to=date(2026, 4, 20))
    assert cut == [(("Quorrin",), "2026-03-30", 1, 12000, 0)]
    # Read by a legend of their page they are its campaign's again: of all but the rest nothing is open.
    page = (Condition("landing_page", "is", ("ferry.test/isle",)), Condition("source", "is empty"))
    isle = Legend(page, None, (), (("source", "quorrin"), ("campaign", "Isle")))
    assert [one[2:] for one in found("arrivals_fell", texts, legends=(isle,))] == [(0, 48000, 0)]
    # Platforms of one source are one.
    both = (QUORRIN, Platform("Quorrin Plus", "Quorrin", "cpc"))
    assert found("arrivals_fell", texts, platforms=both)[0][0] == ("Quorrin, Quorrin Plus",)


def test_a_mark_without_a_tag_puts_the_spend_of_its_days_at_stake():  # worked
    texts = {
        "visits": visits(
            ("a", on(1), "?qid=q1"), ("b", on(3), "?qid=q2"), ("c", on(1), Q_ISLE + "&qid=q3"), ("d", on(2), "?oid=1a")
        ),
        "spend": SPEND + "".join(f"{on(d)},Quorrin,q-main,Isle,10.00,\n" for d in (1, 2, 3)),
        "conversions": ORDERS + order("a", on(4), "25.00"),
    }
    rows = found("untagged_mark", texts, click_marks=("qid", "oid"))
    assert rows == [
        (("qid", "ferry.test/isle"), on(1), 2, 2000, 2500),
        (("oid", "ferry.test/isle"), on(2), 1, 0, 0),
    ]
    assert found("untagged_mark", texts, click_marks=()) == []
    # What a legend gives a campaign is mended.
    page = (Condition("landing_page", "is", ("ferry.test/isle",)), Condition("source", "is empty"))
    isle = Legend(page, None, (), (("campaign", "Isle"),))
    assert found("untagged_mark", texts, click_marks=("qid", "oid"), legends=(isle,)) == []


def test_spend_and_touches_alone():  # worked
    texts = {
        "visits": visits(
            ("a", on(1), Q_ISLE),
            ("b", on(1), O_FJORD),
            ("c", on(1), "?utm_source=moth&utm_medium=email&utm_campaign=Mail"),
        ),
        "spend": SPEND
        + "".join(
            f"{on(d)},Quorrin,q-main,{name},{cost},\n"
            for d, name, cost in [(1, "Isla", "10.00"), (2, "Isla", "5.00"), (1, "Isle", "7.00"), (1, "Nil", "0.00")]
        ),
        "conversions": ORDERS + order("b", on(4), "25.00"),
    }
    assert found("spend_alone", texts) == [(("Isla",), on(1), 2, 1500, None)]
    assert found("touches_alone", texts) == [(("Fjord",), on(1), 1, None, 2500)]
    # Which channels are paid is the plan's to say; other costs are a cost.
    assert [one[0] for one in found("touches_alone", texts, paid_channels=("Email",))] == [("Mail",)]
    other = (OtherCost(date(2026, 4, 1), date(2026, 4, 2), "Fjord", "production", Decimal(3)),)
    assert found("touches_alone", texts, other_costs=other) == []
    # What is the same as a campaign that arrives is its spend.
    assert found("spend_alone", texts, renames=(Rename("campaign", "Isla", "Isle"),)) == []


def test_a_captured_source_is_a_touch_of_its_campaign():
    texts = {
        "visits": visits(("a", on(1), Q_ISLE)),
        "leads": f"lead_id,occurred_at,last_source,last_campaign\nl1,{on(2)}T09:00:00Z,quorrin,Isla\n",
        "spend": SPEND + f"{on(1)},Quorrin,q-main,Isla,10.00,\n",
    }
    assert found("spend_alone", texts) == []
    known = found("unknown_campaign", texts, campaigns=(Campaign("Isle"),))
    # A lead has no value unless its goal gives it one.
    assert known == [(("Isla",), on(2), 1, 1000, 0)]


def missing_world():
    first = date(2026, 4, 1)
    gone = {date(2026, 4, 29), date(2026, 5, 4), date(2026, 5, 5)}
    days = [first + timedelta(n) for n in range(40)]
    rows = "".join(
        f"{day},Quorrin,q-main,Isle,{10 + n // 7}.00,\n"
        for n, day in enumerate(days)
        if day.isoweekday() != 7 and day not in gone
    )
    return {"visits": visits(("a", str(days[-1]), Q_ISLE)), "spend": SPEND + rows}


def test_days_are_missing_where_such_days_usually_have_rows():  # worked
    assert found("missing_day", missing_world()) == [
        (("Quorrin", "q-main"), "2026-05-04", 2, 2300, None),
        (("Quorrin", "q-main"), "2026-04-29", 1, 1150, None),
    ]


def test_money_without_a_rate_stands_beside_in_its_own_currency():  # worked
    texts = {
        "conversions": "conversion_id,occurred_at,goal,total,currency\n"
        + "".join(f"o{n},{on(d)}T09:00:00Z,ticket,{t},SEK\n" for n, (d, t) in enumerate([(4, 25), (4, 0), (20, 9)])),
        "spend": f"day,platform,campaign,cost,currency\n{on(4)},Quorrin,Isle,7,SEK\n",
        "rates": f"day,base,quote,rate\n{on(13)},SEK,EUR,0.1\n",
    }
    assert found("missing_rate", texts) == [(("SEK",), on(4), 2, 0, 0)]
    (one,) = [m for m in find_matters(weighed(texts)) if m.kind.name == "missing_rate"]
    assert one.said == "32.00 SEK"
    assert [(part.table.name, part.rows.tolist()) for part in one.parts] == [("spend", [0]), ("conversions", [0])]


@pytest.mark.parametrize(("last", "wanted"), [("98.00", []), ("97.99", [(("Quorrin", "q-main", "Isle"), 3, 201)])])
def test_levels_that_differ_by_more_than_a_hundredth(last, wanted):  # worked
    head = "day,platform,account,campaign,ad_group,cost\n"
    rows = [(1, "x", "60.00"), (1, "y", "40.00"), (1, "", last), (2, "x", "100.00"), (2, "", "99.99")]
    spend = head + "".join(f"{on(d)},Quorrin,q-main,Isle,{group},{cost}\n" for d, group, cost in rows)
    texts = {"visits": visits(("a", on(1), Q_ISLE)), "spend": spend}
    assert [(o, n, cost) for o, _, n, cost, _ in found("levels_differ", texts)] == wanted
    adding = (Platform("Quorrin", "quorrin", "cpc", levels="add"),)
    assert found("levels_differ", texts, platforms=adding) == []
    # The account is called as it is written, and a row without it is of the platform's only one.
    texts["spend"] = spend.replace("q-main,Isle,x", "Q-Main,Isle,x").replace("q-main,Isle,,", ",Isle,,")
    again = [(o, n, cost) for o, _, n, cost, _ in found("levels_differ", texts)]
    assert again == [((o[0], "Q-Main", o[2]), n, cost) for o, n, cost in wanted]


@pytest.mark.parametrize(("billed", "wanted"), [("20.02", []), ("20.03", [3]), ("15.00", [500])])
def test_an_invoice_that_differs_by_more_than_a_minor_unit_a_row(billed, wanted):  # worked
    texts = {
        "spend": SPEND + "".join(f"{on(d)},Quorrin,q-main,Isle,10.00,\n" for d in (1, 2)),
        "invoices": f"platform,account,month,amount,currency\nQuorrin,q-main,2026-04,{billed},EUR\n",
    }
    rows = found("invoice_differs", texts)
    assert [cost for *_, cost, _ in rows] == wanted
    assert all(one[:3] == (("Quorrin", "q-main", "2026-04"), on(1), 2) for one in rows)
    # A month that is not over yet says nothing.
    assert found("invoice_differs", texts, as_of="2026-04-30T12:00:00Z") == []
    assert [cost for *_, cost, _ in found("invoice_differs", texts, as_of="2026-05-01T12:00:00Z")] == wanted


def test_values_that_are_almost_a_known_one():
    texts = {
        "visits": visits(
            ("a", on(1), Q_ISLE),
            ("b", on(2), "?utm_source=quorin&utm_medium=cpc&utm_campaign=Autumn+Lfit"),
            ("c", on(3), "?utm_source=Quorrin&utm_medium=cpc&utm_campaign=Summer"),
        ),
        "conversions": ORDERS + order("b", on(4), "25.00"),
        "spend": SPEND + f"{on(1)},Quorrin,q-main,Autumn Lfit,3.00,\n",
    }
    planned = (Campaign("Isle"), Campaign("Autumn Lift"))
    rows = found("near_value", texts, campaigns=planned)
    assert rows == [
        (("campaign", "Autumn Lfit"), on(2), 1, 300, 2500),
        (("source", "quorin"), on(2), 1, None, 2500),
    ]
    said = [one.said for one in find_matters(weighed(texts, campaigns=planned)) if one.kind.name == "near_value"]
    assert said == ["Autumn Lift", "quorrin"]
    # Renamed they are what they were meant as; what is none of the plan's stays a question of its own.
    meant = (Rename("campaign", "Autumn Lfit", "Autumn Lift"), Rename("source", "quorin", "quorrin"))
    assert found("near_value", texts, campaigns=planned, renames=meant) == []
    assert [one[0] for one in found("unknown_campaign", texts, campaigns=planned, renames=meant)] == [("Summer",)]
    assert found("unknown_campaign", texts) == []


def test_a_value_is_held_against_what_often_arrives():
    often = [(f"p{n}", on(1), "?utm_source=lanternfish&utm_medium=email") for n in range(20)]
    few = [("q", on(1), "?utm_source=lanternfihs&utm_medium=email")]
    assert [one[0] for one in found("near_value", {"visits": visits(*often, *few)})] == [("source", "lanternfihs")]
    # Of what the plan knows nothing near is a name, however often it arrives.
    many = [(f"p{n}", on(1), "?utm_source=quorrim&utm_medium=cpc") for n in range(30)]
    assert [one[0] for one in found("near_value", {"visits": visits(*many)})] == [("source", "quorrim")]


def test_tags_that_nothing_reads_or_two_legends_read_differently():
    texts = {
        "visits": visits(
            ("a", on(1), "?utm_source=moth&utm_medium=airship"), ("b", on(2), Q_ISLE), ("c", on(3), "?utm_source=gull")
        ),
        "conversions": ORDERS + order("a", on(4), "25.00"),
    }
    assert found("unread_tags", texts) == [
        (("moth",), on(1), 1, None, 2500),
        (("gull",), on(3), 1, None, 0),
    ]
    allowed = (("medium", ("airship",)),)
    assert [one[0] for one in found("unread_tags", texts, allowed=allowed)] == [("gull",)]
    moth = Legend((Condition("source", "is", ("moth",)),), None, (), (("channel", "Email"),))
    page = Legend((Condition("landing_page", "is", ("/isle",)),), None, (("campaign", "item"),))
    isle = Legend((Condition("landing_page", "is", ("ferry.test/isle",)),), None, (("campaign", "item"),))
    assert [one[0] for one in found("unread_tags", texts, legends=(moth, page))] == [("gull",)]
    # `gull` is read by the second legend alone; on `moth` both fit, and they differ.
    assert [one[0] for one in found("unread_tags", texts, legends=(moth, isle))] == [("moth",)]
    ended = Legend(isle.when, None, isle.roles, until=date(2026, 3, 31))
    assert [one[0] for one in found("unread_tags", texts, legends=(moth, ended))] == [("gull",)]


def test_slots_that_were_never_filled():
    slot = "&utm_content={ad}"
    texts = {
        "visits": visits(("a", on(1), Q_ISLE + slot), ("b", on(2), Q_ISLE + "&utm_content=a1"), ("c", on(3), slot)),
        "spend": SPEND + "".join(f"{on(d)},Quorrin,q-main,Isle,10.00,\n" for d in (1, 2, 3)),
        "conversions": ORDERS + order("a", on(4), "25.00"),
    }
    texts["visits"] = texts["visits"].replace("isle&utm", "isle?utm")
    assert found("unfilled_slots", texts) == [
        (("quorrin", "content"), on(1), 1, 1000, 2500),
        (("", "content"), on(3), 1, 0, 0),
    ]
    fills = Legend((Condition("source", "is", ("quorrin",)),), None, (), (("ad", "whale card"),))
    assert [one[0] for one in found("unfilled_slots", texts, legends=(fills,))] == [("", "content")]


def test_an_account_of_another_zone_puts_its_edges_at_stake():
    texts = {
        "visits": visits(("a", on(1), Q_ISLE)),
        "spend": SPEND + "".join(f"{on(d)},Quorrin,q-main,Isle,{d}.00,\n" for d in (1, 2, 3, 4)),
    }
    far = (Platform("Quorrin", "quorrin", "cpc", time_zone="Asia/Tokyo"),)
    assert found("zone_differs", texts, platforms=far) == [(("Quorrin", "q-main"), on(1), 2, 500, None)]
    cut = found("zone_differs", texts, platforms=far, report_from=date(2026, 4, 2), report_to=date(2026, 4, 3))
    assert cut == [(("Quorrin", "q-main"), on(1), 2, 500, None)]
    assert found("zone_differs", texts, platforms=far, time_zone="Asia/Tokyo") == []
    # A row without account is of the platform's only one.
    texts["spend"] = texts["spend"].replace("04,Quorrin,q-main", "04,quorrin,")
    assert found("zone_differs", texts, platforms=far) == [(("Quorrin", "q-main"), on(1), 2, 500, None)]


@pytest.mark.parametrize(("differ", "wanted"), [(5, []), (6, [6])])
def test_a_form_that_captures_another_source_in_most_of_a_week(differ, wanted):
    came = [(f"p{n}", on(6), Q_ISLE) for n in range(10)]
    said = ["ostrel" if n < differ else "quorrin" for n in range(10)]
    leads = "lead_id,occurred_at,visitor_id,form,last_source\n" + "".join(
        f"l{n},{on(7)}T09:00:00Z,p{n},desk,{source}\n" for n, source in enumerate(said)
    )
    rows = found("capture_differs", {"visits": visits(*came), "leads": leads})
    assert [n for _, _, n, *_ in rows] == wanted
    assert all(one[:2] == (("desk",), on(7)) for one in rows)
    # In a week with fewer than ten nothing is said.
    fewer = leads.replace("l9,2026-04-07", "l9,2026-04-14")
    assert found("capture_differs", {"visits": visits(*came), "leads": fewer}) == []


def test_a_price_that_fits_nothing_and_one_that_stands_back():
    lift = ClickPrice("Isle", Decimal("0.10"), source="quorrin")
    days = [("p", on(1), Q_ISLE), *((f"q{n}", on(n), O_FJORD) for n in range(2, 17))]
    texts = {"visits": visits(*days)}
    assert found("price_idle", texts, click_prices=(lift,)) == [(("Isle", "quorrin"), on(2), 0, None, None)]
    assert found("price_idle", {"visits": visits(*days[:-2])}, click_prices=(lift,)) == []
    stopped = (Campaign("Isle", state="stopped"),)
    assert found("price_idle", texts, click_prices=(lift,), campaigns=stopped) == []
    ended = ClickPrice("Isle", Decimal("0.10"), source="quorrin", last=date(2026, 4, 10))
    assert found("price_idle", texts, click_prices=(ended,)) == []
    texts["spend"] = SPEND + f"{on(1)},Quorrin,q-main,Isle,5.00,\n"
    assert found("price_yields", texts, click_prices=(lift,)) == [(("Isle", "quorrin"), on(1), 0, 10, None)]
    # It fitted the click of the first day, though it stood back: it is idle since the day after.
    assert found("price_idle", texts, click_prices=(lift,)) == [(("Isle", "quorrin"), on(2), 0, None, None)]
    # Of two versions of one price there is one matter.
    twice = (lift, ClickPrice("Isle", Decimal("0.20"), source="quorrin"))
    assert len(found("price_idle", texts, click_prices=twice)) == 1


def test_ads_without_tags_and_wrong_ones():
    ads = "platform,campaign,ad_group,ad,level,pattern,address,state\n" + "".join(
        f"Quorrin,Isle,g,{ad},,{pattern},https://ferry.test/isle,{state}\n"
        for ad, pattern, state in [
            ("bare", "", "on"),
            ("half", "utm_source=quorrin", "on"),
            ("whole", Q_ISLE[1:], "on"),
            ("asleep", "", "paused"),
        ]
    )
    head = "day,platform,campaign,ad_group,ad,cost\n"
    spend = head + "".join(f"{on(2)},Quorrin,Isle,g,{ad},{cost}\n" for ad, cost in [("bare", 4), ("half", 3)])
    texts = {"visits": visits(("a", on(1), Q_ISLE)), "ads": ads, "spend": spend}
    assert found("ad_untagged", texts) == [(("Quorrin", "Isle", "g", "bare"), on(2), 1, 400, None)]
    assert found("ad_wrong", texts) == [(("Quorrin", "Isle", "g", "half"), on(2), 1, 300, None)]


def test_a_clean_world_has_none():
    texts = {
        "visits": visits(("a", on(1), Q_ISLE), ("b", on(2), Q_ISLE)),
        "spend": SPEND + "".join(f"{on(d)},Quorrin,q-main,Isle,{d}.00,2\n" for d in (1, 2)),
        "conversions": ORDERS + order("a", on(4), "25.00"),
    }
    assert find_matters(weighed(texts, campaigns=(Campaign("Isle"),))) == []


def test_a_threshold_of_the_settings_holds_and_is_said():
    came, spend = weeks_of((20, 20, 20, 20, 10))
    texts = {"visits": visits(*came), "spend": spend}
    looser = Thresholds(arrivals_fell=Decimal("0.6"))
    (one,) = [m for m in find_matters(weighed(texts, threshold=looser)) if m.kind.name == "arrivals_fell"]
    assert "below 0.6 of the median" in one.rule


def test_a_placed_link_that_is_wrong_or_arrives_otherwise():
    texts = {
        "visits": visits(("a", on(1), Q_ISLE), ("b", on(2), Q_ISLE.replace("cpc", "CPM")), ("c", on(3), O_FJORD)),
        "conversions": ORDERS + order("a", on(4), "25.00") + order("b", on(4), "7.00"),
    }
    url = "https://ferry.test/isle" + Q_ISLE
    result = weighed(texts)

    def wrong(*links):
        found = find_matters(result, besides=Besides(links))
        return [(one.object, one.rows, one.value) for one in found if one.kind.name == "link_wrong"]

    assert wrong() == []
    assert wrong(WatchedLink(url, False)) == []
    assert wrong(WatchedLink(url, True)) == [((url,), 1, 2500)]
    assert wrong(WatchedLink(url, False, (("medium", "cpm"),))) == [((url,), 1, 700)]
    assert wrong(WatchedLink(url, True, (("medium", "cpm"),))) == [((url,), 2, 3200)]
    # In two places it is one link, of whoever mends it.
    twice = (WatchedLink(url, True, mender="Tove"), WatchedLink(url, False, (("medium", "cpm"),)))
    assert wrong(*twice) == [((url,), 2, 3200)]
    assert [one.whose for one in find_matters(result, besides=Besides(twice)) if one.kind.name == "link_wrong"] == [
        "Tove"
    ]
