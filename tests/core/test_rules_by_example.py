"""Single rules by example, through the one path from rows to figures."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

import pytest

from worlds import into_core
from yardstick.core.base.conditions import condition
from yardstick.core.base.errors import SettingsError
from yardstick.core.base.words import fold, is_slot
from yardstick.core.plan.plan import plan_of
from yardstick.core.plan.reading_phase import ChannelRule, Condition
from yardstick.core.reading.asking import Arrival
from yardstick.core.reading.channels import ChannelRules
from yardstick.core.reading.tags import reader, why_not_an_address
from yardstick.core.report.breakdown import Breakdown
from yardstick.core.report.weigh import weigh


def visit(number: int, at: str, **more: str) -> dict[str, str]:
    return {"visit_id": f"v{number}", "occurred_at": at, "url": "/?utm_campaign=a", **more}


@pytest.mark.parametrize(
    "value", ["{x}", "{{x y}}", "<x>", "[x]", "[[x]]", "%x%", "%%x%%", "~x~", "(:group-name:)", "{}"]
)
def test_a_value_that_is_one_pair_is_an_unfilled_slot(value):
    assert is_slot(value)


@pytest.mark.parametrize("value", ["a{x}", "{x}b", "{a}{b}", "{{x}", "<x", "50%", "(x)", "~", "[x}", "%a%b%"])
def test_other_values_are_none(value):
    assert not is_slot(value)


@pytest.mark.parametrize(
    ("query", "value"),
    [
        ("utm_campaign=%campaign%", ""),  # looked for in the undecoded text: decoding makes it unrecognisable
        ("utm_campaign={x}&utm_campaign=Whale", "Whale"),  # the first value that is not empty after R4
        ("UTM_Campaign=Whale", "Whale"),
        ("utm_campaign=++Spring++Whale+", "Spring Whale"),
        ("utm_campaign=pre-{x}", "pre-{x}"),
        ("a=b#utm_campaign=late", ""),
    ],
)
def test_campaign_is_read_from_the_query(query, value):
    assert reader([])("https://lunnick.example/?" + query).tags[2] == value


def test_findings_of_an_address_say_what_was_wrong():
    notes = reader(["ckid"])("/?UTM_Source=a&utm_source=b&utm_medium=%7Bm%7D&utm_term=x{y}&CKID=1").notes
    assert [n[:2] for n in notes] == [
        ("wrong_case_name", "utm_source"),
        ("repeated_name", "utm_source"),
        ("unfilled_slot", "utm_medium"),
        ("slot_inside", "utm_term"),
        ("wrong_case_name", "ckid"),
    ]


@pytest.mark.parametrize(
    "url", ["https://a.example", "HTTP://a.example:80/x", "/", "/x?y", "https://u@a.example/", "http://[::1]/"]
)
def test_addresses_that_are_accepted(url):
    assert why_not_an_address(url) == ""


@pytest.mark.parametrize(
    "url",
    [
        "",
        "a.example/x",
        "ftp://a.example",
        "https://",
        "https:///x",
        "http://:80/",
        "http://[x/",
        "http://a b/",
        "mailto:a@b.example",
    ],
)
def test_addresses_that_are_not(url):
    assert why_not_an_address(url)


@pytest.mark.parametrize(
    ("one", "other"), [("Straße", "STRASSE"), (" a  b ", "A\tB"), ("ﬁnd", "FIND"), ("Ａ", "a"), ("é", "é")]
)
def test_spellings_with_the_same_fold_are_one_value(one, other):
    assert fold(one) == fold(other)


def test_shown_is_the_most_frequent_spelling_and_then_the_first_in_code_point_order():
    rows = [
        visit(i, f"2026-03-0{i}T10:00:00Z", visitor_id=str(i), url=f"/?utm_campaign={c}")
        for i, c in enumerate(["whale", "Whale", "WHALE", "whale"], 1)
    ]
    assert {r.by for r in weigh(into_core({"visits": rows}), plan_of()).rows} == {("whale",)}
    assert {r.by for r in weigh(into_core({"visits": rows[:3]}), plan_of()).rows} == {("WHALE",)}


def arrival(source: str = "", **more: object) -> Arrival:
    return replace(Arrival((source, "", "", "", "", ""), False, False), **more)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("op", "value", "fits", "misses"),
    [
        ("is", ("P-One",), "p-one", "p-on"),
        ("is one of", ("a", "b"), "B", "c"),
        ("in list", ("a", "b"), "B", "c"),
        ("between", ("10", "20"), "20.0", "20.1"),
        ("between", ("b", "d"), "Cc", "e"),
        ("is there", (), "a", ""),
        ("contains", ("lunn",), "the Lunnick", "the"),
        ("begins with", ("p-",), "P-x", "xp-"),
        ("ends with", ("-au",), "x-AU", "au-x"),
        ("matches", ("^p-[0-9]+$",), "P-12", "p-x"),
        ("is empty", (), "", "a"),
        ("is not", ("a",), "b", "A"),
        ("is none of", ("a", "b"), "c", "a"),
        ("not in list", ("a", "b"), "c", "a"),
        ("is not between", ("10", "20"), "9", "10"),
        ("is not there", (), "", "a"),
        ("does not contain", ("x",), "a", "axa"),
        ("does not begin with", ("x",), "ax", "xa"),
        ("does not end with", ("x",), "xa", "ax"),
        ("does not match", ("x+",), "a", "xx"),
        ("is not empty", (), "a", ""),
    ],
)
def test_operators_of_channel_rules(op, value, fits, misses):
    rules = ChannelRules(plan_of(channels=(ChannelRule("Own", (Condition("source", op, value),)),)).reading)
    assert rules.classify(arrival(source=fits, tagged=True)).name == "Own"
    missed = rules.classify(arrival(source=misses, tagged=True))
    assert missed.name == "Tagged, no rule"
    assert "own rule 1" in rules.classify(arrival(source=fits, tagged=True)).why


def test_conditions_on_hosts_and_click_marks():
    when = (Condition("referrer host", "is", ("News.example",)), Condition("click_mark", "is", ("true",)))
    rules = ChannelRules(plan_of(channels=(ChannelRule("Press", when),)).reading)
    assert rules.classify(arrival(marked=True, referrer_host="news.example")).name == "Press"
    assert rules.classify(arrival(referrer_host="news.example")).name == "Referral"


def test_an_expression_that_could_run_away_does_not():
    rules = ChannelRules(plan_of(channels=(ChannelRule("x", (Condition("source", "matches", ("(a+)+$",)),)),)).reading)
    assert rules.classify(arrival(source="a" * 5000 + "!", tagged=True)).name == "Tagged, no rule"


@pytest.mark.parametrize("pattern", [r"\p{L}{200}x", "(a{100}){50}", "a" * 1001, "[^x]{900}"])
def test_an_expression_that_would_make_every_text_long_is_refused(pattern):
    """By what it becomes, not by what it looks like; what people write is none of these."""
    with pytest.raises(SettingsError, match=r"the expression .* cannot be read: .") as refused:
        condition("channel rule 'x'", "matches", (pattern,), fold)
    assert len(str(refused.value)) < 250


@pytest.mark.parametrize(
    ("pattern", "text", "fits"),
    [
        (r"^\p{L}{3}[0-9]+$", "äöü12", True),
        (r"^(summer|winter)_\d{4}", "Winter_2026_x", True),
        (r".{200}", "x" * 199, False),
        ("STRASSE", "strasse", True),
        ("x", "half \ud800 a character", False),
        ("a", "half \ud800 a character", True),
        (r"\bübung", "eine übung", False),
        ("", "", True),
    ],
)
def test_an_expression_is_read_as_re2_reads_it(pattern, text, fits):
    """RE2's word boundary knows ASCII letters only, as its syntax page says; everything else is Unicode."""
    assert condition("here", "matches", (pattern,), fold)(text) is fits


def test_a_rule_that_cannot_be_understood_is_refused():
    with pytest.raises(SettingsError, match="begins near"):
        ChannelRules(plan_of(channels=(ChannelRule("x", (Condition("source", "begins near", ("a",)),)),)).reading)


def sale(number: int, at: str, **more: str) -> dict[str, str]:
    return {"conversion_id": f"c{number}", "occurred_at": at, "goal": "sale", "total": "10.00", **more}


def test_an_identifier_seen_with_more_than_fifty_others_joins_nothing():
    """A front desk's address on 51 visitors' rows: a finding, and nobody is joined through it."""
    visits = [visit(i, "2026-03-01T10:00:00Z", visitor_id=f"p{i}", email="desk@lunnick.example") for i in range(51)]
    world = {"visits": visits, "conversions": [sale(1, "2026-03-02T10:00:00Z", email="desk@lunnick.example")]}
    result = weigh(into_core(world), plan_of())
    assert [(f.code, f.id, f.value) for f in result.findings] == [("shared_identifier", "desk@lunnick.example", "51")]
    assert {r.bucket for r in result.rows if r.sums.conversions} == {"no_trail"}
    fifty = weigh(into_core({**world, "visits": visits[:50]}), plan_of())
    assert fifty.findings == []
    assert {r.bucket for r in fifty.rows if r.sums.conversions} == {"named"}


def spend(day: str, cost: str, **more: str) -> dict[str, str]:
    return {"day": day, "platform": "Quorrin", "campaign": "a", "cost": cost, **more}


def test_an_id_names_the_campaign_of_touches_and_of_all_its_spend_rows():
    rows = [
        spend("2026-03-02", "1.00", campaign="New name", campaign_id="7"),
        spend("2026-03-01", "2.00", campaign="Old name", campaign_id=" 7 "),
    ]
    visits = [visit(1, "2026-03-01T10:00:00Z", url="/?utm_campaign=other&utm_id=7")]
    result = weigh(into_core({"visits": visits, "spend": rows}), plan_of())
    assert [(r.bucket, r.by, r.sums.spend) for r in result.rows if r.yardstick == "first"] == [
        ("named", ("New name",), 300)
    ]


def test_a_rate_older_than_seven_days_rejects_the_row():
    rates = [{"day": "2026-03-01", "base": "NZD", "quote": "EUR", "rate": "0.5"}]
    rows = [
        spend("2026-03-08", "4.00", currency="NZD"),
        spend("2026-03-09", "4.00", currency="NZD"),
        spend("2026-03-09", "0", currency="NZD"),
    ]
    result = weigh(into_core({"visits": [visit(1, "2026-03-01T10:00:00Z")], "spend": rows, "rates": rates}), plan_of())
    assert [r.sums.spend for r in result.rows if r.yardstick == "first"] == [200]
    assert [(r.line, r.column, r.value) for r in result.rejected] == [(3, "currency", "NZD")]


def test_windows_of_a_goal_and_both_ends_inclusive():
    visits = [visit(1, "2026-03-01T10:00:00Z", visitor_id="p")]
    for at, bucket in (
        ("2026-03-31T10:00:00Z", "named"),
        ("2026-03-31T10:00:00.000001Z", "no_trail"),
        ("2026-03-01T10:00:00Z", "named"),
    ):
        result = weigh(into_core({"visits": visits, "conversions": [sale(1, at, visitor_id="p")]}), plan_of())
        assert {r.bucket for r in result.rows if r.sums.conversions} == {bucket}


def test_the_margin_decides_profit_to_the_cent():
    world = {
        "visits": [visit(1, "2026-03-01T10:00:00Z", visitor_id="p")],
        "conversions": [sale(1, "2026-03-01T11:00:00Z", visitor_id="p", total="0.05")],
    }
    result = weigh(into_core(world), plan_of(margin=Decimal("0.5")))
    assert result.rows[0].figures.profit == 2  # 2.5 cents, half-even


def test_captured_sets_agree_or_not_with_the_visits():
    lead = {
        "lead_id": "l",
        "occurred_at": "2026-03-02T10:00:00Z",
        "visitor_id": "p",
        "first_campaign": "A",
        "last_campaign": "b",
    }
    result = weigh(
        into_core({"visits": [visit(1, "2026-03-01T10:00:00Z", visitor_id="p")], "leads": [lead]}), plan_of()
    )
    assert result.ledger.captured == {"first_compared": 1, "first_agree": 1, "last_compared": 1, "last_agree": 0}


def test_the_fingerprint_names_data_settings_and_question():
    tables = into_core({"visits": [visit(1, "2026-03-01T10:00:00Z")]})
    other = into_core({"visits": [visit(1, "2026-03-01T10:00:01Z")]})
    names = {
        weigh(tables, plan_of()).fingerprint,
        weigh(other, plan_of()).fingerprint,
        weigh(tables, plan_of(margin=Decimal("0.5"))).fingerprint,
        weigh(tables, plan_of(), Breakdown(("day",))).fingerprint,
    }
    assert len(names) == 4
    assert weigh(into_core({"visits": [visit(1, "2026-03-01T10:00:00Z")]}), plan_of()).fingerprint in names
