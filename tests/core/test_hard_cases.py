"""What once broke a run or bent a figure, each through the command line."""

from __future__ import annotations

import tracemalloc

import numpy as np
import pytest

from command import credit
from worlds import into_core
from yardstick.core.plan.plan import plan_of
from yardstick.core.report.weigh import weigh

PANEL = '[[yardstick]]\nname = "fair_share"\nrule = "fair_share"\n[[yardstick]]\nname = "linear"\nrule = "linear"\n'


def visit(number, tags="", at="2026-04-01T10:00:00Z", person="p", **more):
    return {"visit_id": f"v{number}", "occurred_at": at, "visitor_id": person, "url": f"/?{tags}", **more}


def sale(number, total="90.00", at="2026-04-10T10:00:00Z", person="p", **more):
    return {
        "conversion_id": f"c{number}",
        "occurred_at": at,
        "goal": "sale",
        "visitor_id": person,
        "total": total,
        **more,
    }


def tags(source, medium, campaign):
    return f"utm_source={source}&utm_medium={medium}&utm_campaign={campaign}"


THREE = {
    "visits": [
        visit(1, tags("zeta", "cpc", "A")),
        visit(2, "utm_source=list&utm_medium=email", "2026-04-02T10:00:00Z"),
        visit(3, "utm_source=site&utm_medium=banner", "2026-04-03T10:00:00Z"),
    ],
    "conversions": [sale(1)],
    "spend": [{"day": "2026-04-02", "platform": "Mailer", "campaign": "Letters", "cost": "7.00"}],
}
MAILER = '[[platform]]\nname = "Mailer"\nsource = "list"\nmedium = "email"\n'


@pytest.mark.parametrize("hidden", ["", 'hidden_channels = ["email", "Display"]\n'])
def test_a_hidden_channel_moves_no_credit(tmp_path, hidden):
    """R5: hidden channels are a matter of reports alone; players never change by it."""
    found = credit(tmp_path, THREE, hidden + PANEL)
    assert found.row("fair_share", "A")["value"] == "30.00"


def test_hidden_channels_stand_in_one_row_with_their_touches_credit_and_spend(tmp_path):
    settings = 'hidden_channels = ["Email", "Display"]\n' + PANEL.replace(
        '"fair_share"\n[[', '"fair_share"\nby = "channel"\n[['
    )
    found = credit(tmp_path, THREE, settings + MAILER, "--by", "channel")
    other = found.row("fair_share", "Other channels", "channel")
    assert (other["touches"], other["value"], other["spend"]) == ("2", "60.00", "7.00")
    assert found.row("fair_share", "Paid search", "channel")["value"] == "30.00"
    assert {r["channel"] for r in found.rows} == {"Other channels", "Paid search"}


def test_a_filter_sees_the_true_channel_of_what_is_hidden(tmp_path):
    found = credit(tmp_path, THREE, 'hidden_channels = ["Email", "Display"]\n' + PANEL, "--where", "channel is Email")
    assert [(r["value"], r["touches"]) for r in found.rows if r["yardstick"] == "linear"] == [
        ("30.00", "1"),
        ("60.00", "2"),
    ]


SPENT = {
    "visits": [visit(1, tags("quor", "cpc", "A"))],
    "conversions": [sale(1)],
    "spend": [{"day": "2026-04-01", "platform": "Quorrin", "campaign": "A", "cost": "10.00"}],
}
QUORRIN = '[[platform]]\nname = "Quorrin"\nsource = "quor"\nmedium = "cpc"\n'


@pytest.mark.parametrize(
    ("field", "old", "new"),
    [("source", "quor", "quorrin"), ("medium", "cpc", "paid"), ("channel", "Paid search", "Ads")],
)
def test_spend_follows_a_rename_as_touches_do(tmp_path, field, old, new):
    """R5: renames apply to spend as to touches, by its day."""
    settings = QUORRIN + f'[[rename]]\nfield = "{field}"\nold = "{old}"\nnew = "{new}"\nfrom = "2026-04-01"\n'
    found = credit(tmp_path, SPENT, settings + PANEL, "--by", field)
    row = found.row("linear", new, field)
    assert (row["touches"], row["value"], row["spend"]) == ("1", "90.00", "10.00")


def test_a_plain_name_moves_no_spend_to_another_channel(tmp_path):
    """R5: channel rules look at the raw campaign name of a spend row."""
    settings = QUORRIN + (
        '[[campaign]]\nname = "A"\nplain_name = "Whale season"\n'
        '[[channel]]\nname = "Whales"\nwhen = [{ field = "campaign", op = "contains", value = "whale" }]\n'
    )
    found = credit(tmp_path, SPENT, settings + PANEL, "--by", "channel")
    assert found.row("linear", "Paid search", "channel")["spend"] == "10.00"


def test_spend_alone_shows_its_channel_as_it_is_written(tmp_path):
    tested = visit(2, tags("quor", "cpc", "A"), is_test="true")
    world = {**SPENT, "visits": [visit(1, "utm_source=x"), tested]}
    found = credit(tmp_path, world, "fold = false\n" + QUORRIN + PANEL, "--by", "channel")
    assert found.row("linear", "Paid search", "channel", "no_touch_spend")["spend"] == "10.00"


FINE = {"visits": [visit(1, tags("zeta", "cpc", "A"))], "conversions": [sale(1)]}


@pytest.mark.parametrize(
    ("table", "row", "column"),
    [
        ("visits", visit(2, at="0001-01-01T00:30:00+05:00"), "occurred_at"),
        ("visits", visit(2, at="9999-12-31T23:30:00Z"), "occurred_at"),
        ("visits", visit(2, at="1899-12-31T23:59:59Z"), "occurred_at"),
        ("visits", visit(2, at="2200-01-01T00:00:00Z"), "occurred_at"),
        ("conversions", sale(2, "99999999999999999999.00"), "total"),
        ("conversions", sale(2, "1000000000000"), "total"),
        ("conversions", sale(2, "5", tax="1000000000000"), "tax"),
        ("spend", {"day": "2026-04-01", "platform": "Q", "campaign": "A", "clicks": "999999999999", "click_price": "999999999"}, "cost"),
        ("spend", {"day": "2026-04-01", "platform": "Q", "campaign": "A", "clicks": "1000000000000", "cost": "1"}, "clicks"),
        ("spend", {"day": "2026-04-01", "platform": "Q", "campaign": "A", "clicks": "1", "click_price": "1000000000"}, "click_price"),
        ("spend", {"day": "2200-01-01", "platform": "Q", "campaign": "A", "cost": "1"}, "day"),
        ("rates", {"day": "2026-04-01", "base": "NZD", "quote": "EUR", "rate": "1000000000"}, "rate"),
    ],
)  # fmt: skip
def test_a_row_beyond_the_limits_costs_only_itself(tmp_path, table, row, column):
    """R29, at the edge and far beyond it."""
    world = {**FINE, table: [*FINE.get(table, []), row]}
    found = credit(tmp_path, world, PANEL)
    assert found.code == 0
    assert [(r["file"], r["column"]) for r in found.rejected] == [(f"{table}.csv", column)]
    assert found.row("linear", "A")["value"] == "90.00"


def test_what_is_too_large_only_in_the_home_currency_is_rejected_too(tmp_path):
    rates = [{"day": "2026-04-10", "base": "NZD", "quote": "EUR", "rate": "999999999"}]
    world = {**FINE, "conversions": [sale(1), sale(2, "1001", currency="NZD")], "rates": rates}
    found = credit(tmp_path, world, PANEL)
    assert [(r["column"], "10^" in r["reason"] or "1,000,000,000,000" in r["reason"]) for r in found.rejected] == [
        ("total", True)
    ]
    assert found.row("linear", "A")["value"] == "90.00"


def test_sums_never_wrap(tmp_path):
    """R29: 1,200 sales of 10^12 less a cent, in a currency of four decimals, are beyond 64 bits together."""
    sales = [sale(i, "999999999999.9999") for i in range(1200)]
    found = credit(tmp_path, {"visits": FINE["visits"], "conversions": sales}, 'home_currency = "CLF"\n' + PANEL)
    row = found.row("linear", "A")
    assert row["value"] == "1199999999999999.8800"
    assert found.summary["totals"]["booked"]["value"] == row["value"]


def test_a_rejected_row_takes_no_good_one_away(tmp_path):
    """R20: of several rows with one id the last that is not rejected stands."""
    first, second, third = sale(1, "50.00"), sale(1, "80.00", currency="NZD"), sale(1, "60.00")
    found = credit(tmp_path / "a", {**FINE, "conversions": [first, second]}, PANEL)
    assert found.row("linear", "A")["value"] == "50.00"
    assert [f["code"] for f in found.findings] == ["passed_over"]
    assert [r["line"] for r in found.rejected] == ["3"]
    later = credit(tmp_path / "b", {**FINE, "conversions": [first, second, third]}, PANEL)
    assert later.row("linear", "A")["value"] == "60.00"
    assert sorted(f["code"] for f in later.findings) == ["passed_over", "replaced_row"]
    rates = [{"day": "2026-04-10", "base": "NZD", "quote": "EUR", "rate": "0.5"}]
    mended = credit(tmp_path / "c", {**FINE, "conversions": [first, second], "rates": rates}, PANEL)
    assert mended.row("linear", "A")["value"] == "40.00"
    assert mended.summary["files"]["conversions.csv"] == {
        "lines": 3, "header": 1, "skipped": 0, "read": 2, "accepted": 1, "rejected": 0, "repeated": 0, "replaced": 1, "spread": 0, "quarantined": 0,
    }  # fmt: skip


def test_a_mark_that_is_no_identifier_gives_way_to_the_column(tmp_path):
    """R6: `?gck=null&ckid=k7` and `?ckid=k7` are one person, and a null mark does not beat the column."""
    world = {
        "visits": [
            visit(1, tags("zeta", "cpc", "A") + "&gck=null&ckid=k7", person=""),
            visit(2, "ckid=null", "2026-04-02T10:00:00Z", person="", click_id="k7"),
        ],
        "conversions": [sale(1, person="", click_id="k7")],
    }
    found = credit(tmp_path, world, 'click_marks = ["gck", "ckid"]\n' + PANEL)
    assert [c["visit_id"] for c in found.credits if c["yardstick"] == "linear"] == ["v1", "v2"]


@pytest.mark.parametrize(("mark", "channel"), [("undefined", "Direct"), ("0", "Direct"), ("k1", "Paid, untagged")])
def test_a_mark_that_is_no_identifier_makes_no_paid_visit(tmp_path, mark, channel):
    """R5: a click mark whose value is no identifier is no mark."""
    found = credit(tmp_path, {"visits": [visit(1, f"ckid={mark}")]}, 'click_marks = ["ckid"]\n', "--by", "channel")
    assert {r["channel"] for r in found.rows} == {channel}


def test_an_extra_value_named_like_a_field_never_replaces_it(tmp_path):
    """R1: it is the breakdown `extra:source`."""
    world = {"visits": [visit(1, "utm_source=zeta&source=house")]}
    settings = 'extra_values = ["source"]\n' + PANEL
    assert {r["source"] for r in credit(tmp_path, world, settings, "--by", "source").rows} == {"zeta"}
    found = credit(tmp_path, world, settings, "--by", "extra:source")
    assert {r["extra:source"] for r in found.rows} == {"house"}


def test_whole_sums_are_whole(tmp_path):
    """R17: three thirds are one; credits have ten decimals where they are not whole."""
    visits = [visit(i, tags("z", "cpc", c), f"2026-04-0{i}T10:00:00Z") for i, c in enumerate("ABA", 1)]
    sales = [sale(i) for i in range(1, 4)]
    found = credit(tmp_path, {"visits": visits, "conversions": sales}, PANEL)
    assert found.row("linear", "B")["conversions"] == "1.0000000000"
    assert found.row("linear", "A")["conversions"] == "2.0000000000"
    assert found.row("fair_share", "A")["conversions"] == "1.5000000000"
    one = credit(tmp_path / "one", {"visits": visits[:1] + visits[2:], "conversions": sales}, PANEL)
    assert one.row("linear", "A")["conversions"] == "3"
    shares = [c["share"] for c in found.credits if c["yardstick"] == "linear" and c["conversion_id"] == "c1"]
    assert shares == ["0.3333333333"] * 3


def bot(touches, campaigns, others):
    """A person with very many touches, nine in ten of one campaign, among people with two each."""
    seconds = np.arange(touches) * 2
    texts = np.datetime_as_string(np.datetime64("2026-04-01T00:00:00") + seconds.astype("timedelta64[s]"))
    visits = [
        {"visit_id": f"b{i}", "occurred_at": f"{at}Z", "visitor_id": "bot", "url": f"/?utm_campaign=c{i % campaigns if i % 10 == 0 else 0}"}
        for i, at in enumerate(texts)
    ]  # fmt: skip
    sales = [sale("bot", person="bot", at="2026-04-20T00:00:00Z", total="1000.00")]
    for i in range(others):
        visits += [visit(f"{i}-{n}", f"utm_campaign=c{n}", f"2026-04-0{n}T10:00:00Z", f"p{i}") for n in (1, 2)]
        sales.append(sale(i, "0.03", person=f"p{i}"))
    return into_core({"visits": visits, "conversions": sales})


def test_one_very_long_trail_asks_for_no_more_memory_than_its_touches():
    """20,000 touches of 2,001 players once asked for 40 million counters; now for a fixed number of bytes a touch."""
    tables = bot(20_000, 2_001, 0)
    tracemalloc.start()
    result = weigh(tables, plan_of())
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    assert peak < 20_000 * 4_000
    fair = [r for r in result.rows if r.yardstick == "fair_share"]
    assert sum(r.sums.value for r in fair) == 100_000
    assert sum(r.sums.conversions for r in fair) == 1


def test_a_very_long_trail_among_short_ones_is_compared_as_fractions_alone(monkeypatch):
    """Only the kinds of the long trail go the exact slow way; the short ones stay with whole numbers."""
    from yardstick.core.rules import apportioning

    made = []
    monkeypatch.setattr(apportioning, "Fraction", lambda a, b: made.append(1) or a / b)
    monkeypatch.setattr(apportioning, "WIDEST_DIVISOR", 100)
    tables = bot(200, 11, 300)
    weigh(tables, plan_of())
    assert 0 < len(made) < 100
