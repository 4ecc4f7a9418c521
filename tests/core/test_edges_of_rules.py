"""Edges that small changes of the program (`scripts/mutate.py`) showed nobody was watching."""

from __future__ import annotations

from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction

import numpy as np
import pyarrow as pa
import pytest
from hypothesis import given
from hypothesis import strategies as st

from worlds import into_core
from yardstick.core.base.columns import Text, narrow, product, total
from yardstick.core.base.errors import SettingsError
from yardstick.core.base.expressions import steps_of
from yardstick.core.base.limits import AMOUNT_BELOW
from yardstick.core.base.values import Values
from yardstick.core.costs.further_costs import LONGEST_DAYS, with_further_costs
from yardstick.core.credit.credit import WHOLE
from yardstick.core.links.checkup import Checker
from yardstick.core.links.naming import next_name
from yardstick.core.links.nearness import KnownValues
from yardstick.core.plan.costing_phase import ClickPrice
from yardstick.core.plan.crediting_phase import Yardstick
from yardstick.core.plan.plan import plan_of
from yardstick.core.plan.reading_phase import ChannelRule, Condition, Legend, Naming
from yardstick.core.reading.legends import check_legends
from yardstick.core.report.breakdown import BY_CAMPAIGN, Breakdown
from yardstick.core.report.invoices import Against, patterns
from yardstick.core.report.totals import totals
from yardstick.core.report.trace import trace_row
from yardstick.core.report.weigh import weigh
from yardstick.core.rules.apportioning import Kinds, apportion
from yardstick.core.rules.built import fair_share
from yardstick.core.rules.trail_context import TrailContext
from yardstick.core.trails.trails import Trails
from yardstick.formats.rows.keyed import Keys, all_new, contributed, sum_of


@given(st.lists(st.lists(st.integers(0, 4), max_size=7), min_size=1, max_size=6), st.sampled_from([1, 2**40, 2**57]))
def test_fair_share_is_one_rule_for_few_players_and_for_very_many(paths, scale):
    """Players are counted in a table, by sorting packed keys, or by sorting columns where these pass 64 bits."""
    lengths = [len(path) for path in paths]
    offsets = np.concatenate([[0], np.cumsum(lengths)]).astype(np.int64)
    trails = Trails(np.arange(len(paths)), offsets, np.arange(offsets[-1]))
    totals_of = np.full(len(paths), WHOLE)

    def shared(players):
        asked = TrailContext(
            Yardstick("f", "fair_share"), trails, np.zeros(len(players), np.bool_), players, lambda by: players,
            lambda: Text.blank(len(players)), lambda: players, lambda: players,
        )  # fmt: skip
        given = fair_share.fair_share(asked)
        out = np.zeros(len(players), np.int64)
        out[given.element] = given.share(totals_of)
        return out.tolist()

    players = np.array([player for path in paths for player in path], np.int64)
    wanted = []
    for path in paths:
        exact = [Fraction(int(WHOLE), len(set(path)) * path.count(player)) for player in path]
        wanted += exact
    few = shared(players)
    assert all(abs(got - exact) <= 1 for got, exact in zip(few, wanted, strict=True))
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(fair_share, "WIDEST_TABLE", 0)
        assert shared(players) == few
        assert shared(players * scale) == few


def keys(*numbers: int) -> Keys:
    out = Keys.empty(len(numbers))
    out.key[:, 0] = numbers
    return out


@pytest.mark.parametrize(
    ("there", "more", "new"),
    [((1, 2), (3, 4), True), ((1, 2), (2, 3), False), ((), (3, 3), False), ((), (3, 4), True), ((7,), (), True)],
)
def test_keys_are_new_if_they_differ_from_each_other_and_from_those_there(there, more, new):
    assert all_new(keys(*there), keys(*more)) is new


def test_a_fingerprint_knows_each_further_version_of_a_row_from_the_first():
    digest = np.arange(12, dtype=np.uint64).reshape(3, 4)
    first, second, third = (contributed(digest, np.full(3, n, np.int64)) for n in (0, 1, 2))
    assert (first == digest).all()
    assert not (second == first).any()
    assert not (third == second).any()
    assert (contributed(digest, np.array([0, 1, 0])) == [first[0], second[1], first[2]]).all()
    assert sum_of(first[::-1].copy()) == sum_of(first) != sum_of(second)


def test_of_two_names_that_are_near_the_nearer_is_meant():
    near = KnownValues(["midnightboatsearch", "midnightboatsteach"]).near("midnightboatsearh")
    assert near is not None
    assert near.known == "midnightboatsearch"


VISITS = [
    {"visit_id": f"v{i}", "occurred_at": f"2026-03-0{i}T10:00:00Z", "visitor_id": "p", "url": url}
    for i, url in enumerate(
        [
            "https://s.example/?utm_source=a&utm_medium=cpc&utm_campaign=Paid&size=wide",
            "https://s.example/?utm_source=b&utm_medium=cpc&utm_campaign=Free",
            "https://s.example/?utm_source=b&utm_medium=cpc&utm_campaign=Free&size=",
        ],
        start=1,
    )
]
BOUGHT = {"conversion_id": "c", "occurred_at": "2026-03-05T10:00:00Z", "goal": "g", "visitor_id": "p", "total": "9.00"}
SPENT = {"day": "2026-03-01", "platform": "Q", "account": "q", "campaign": "Paid", "cost": "3.00"}


def test_totals_of_ads_alone_count_touches_of_campaigns_with_spend_alone():
    result = weigh(into_core({"visits": VISITS, "conversions": [BOUGHT], "spend": [SPENT]}), plan_of(), BY_CAMPAIGN)
    assert [totals(result, ads)["linear"][0].touches for ads in (True, False)] == [1, 3]


@pytest.mark.parametrize(
    ("op", "values", "channels"),
    [
        ("is", ("wide",), ["Mine", "other", "other"]),
        ("is there", (), ["Mine", "other", "Mine"]),
        ("is empty", (), ["other", "Mine", "Mine"]),
    ],
)
def test_a_parameter_is_its_text_is_there_or_is_empty(op, values, channels):
    rules = (ChannelRule("Mine", (Condition("parameter:size", op, values),)),)
    result = weigh(into_core({"visits": VISITS}), plan_of(channels=rules), Breakdown(("channel",)))
    field = result.prepared.touches.fields["channel"]
    assert ["Mine" if field.shown[code] == "Mine" else "other" for code in field.codes] == channels


def legend(since: date | None, role: str, *values: str) -> Legend:
    return Legend((Condition("source", "in list", values),), since, (("term", role),))


def test_legends_whose_lists_say_the_same_are_versions_of_one():
    """The later one holds from its day on, in whatever order its list is written; the earlier one no more."""
    visits = [v | {"url": v["url"] + "&utm_term=boat"} for v in VISITS]
    plan = plan_of(legends=(legend(None, "keyword", "a", "b"), legend(date(2026, 3, 2), "audience", "b", "a")))
    result = weigh(into_core({"visits": visits}), plan, Breakdown(("keyword",)))
    shown = {
        name: [field.shown[code] for code in field.codes]
        for name in ("keyword", "audience")
        for field in [result.prepared.touches.fields[name]]
    }
    assert shown == {"keyword": ["boat", "", ""], "audience": ["", "boat", "boat"]}


@pytest.mark.parametrize("field", ["parameter:", "nonsense"])
def test_a_legend_cannot_say_what_an_unknown_name_carries(field):
    stated = Legend((Condition("source", "is", ("a",)),), None, ((field, "keyword"),))
    with pytest.raises(SettingsError, match=field):
        check_legends(plan_of(legends=(stated,)).reading)
    known = Legend((Condition("source", "is", ("a",)),), None, (("parameter:size", "keyword"),))
    check_legends(plan_of(legends=(known,)).reading)


def test_an_estimate_beyond_the_largest_amount_counts_for_nothing():
    row = {"day": "2026-03-01", "platform": "Q", "account": "q", "campaign": "Paid", "clicks": "1000000000"}
    given = into_core({"visits": VISITS, "spend": [row | {"click_price": "999999.99"}]})
    result = weigh(given, plan_of(click_prices=(ClickPrice("Nobody", Decimal("0.10")),)), BY_CAMPAIGN)
    assert not result.prepared.costs.counts.any()


def further(**cells: str) -> tuple[int, list[str]]:
    """Rows of spend that a further cost becomes, and why it becomes none."""
    row = {"campaign": "Paid", "kind": "fee", "from": "2020-01-01"} | cells
    given = into_core({"visits": VISITS, "other_costs": [row]})
    spend, rejected = with_further_costs(given.spend, given.other_costs, plan_of().costing, "EUR")
    return len(spend), [one.reason for one in rejected]


@pytest.mark.parametrize(
    ("last", "days"),
    [("2020-01-01", 1), ("2020-01-02", 2), ("2019-12-31", 0), ("longest", LONGEST_DAYS), ("longer", 0)],
)
def test_a_further_cost_runs_from_a_day_to_ten_years(last, days):
    ends = {"longest": LONGEST_DAYS - 1, "longer": LONGEST_DAYS}
    to = (date(2020, 1, 1) + timedelta(days=ends[last])).isoformat() if last in ends else last
    rows, reasons = further(to=to, cost="10.00")
    assert (rows, bool(reasons)) == (days, not days)


@pytest.mark.parametrize(("price", "fits"), [("999999999.99", True), ("1000000.00", False)])
def test_quantity_times_price_is_below_the_largest_amount(price, fits):
    quantity = "1" if fits else str(AMOUNT_BELOW // 1_000_000)
    rows, reasons = further(to="2020-01-01", quantity=quantity, price=price)
    assert (rows, bool(reasons)) == (int(fits), not fits)


def test_of_two_shares_that_differ_little_the_larger_gets_the_unit():
    """500 touches have 1/1000 each, 501 that came before them 1/1002: the unit goes to the first of the 500."""
    number = np.concatenate([np.zeros(501, np.int64), np.ones(500, np.int64)])
    kinds = Kinds.of(np.array([0, 1001]), number)
    shares = apportion(np.array([1]), kinds, np.array([1002, 1000]))
    assert np.flatnonzero(shares).tolist() == [501]


@pytest.mark.parametrize("values", [3, 30_000])
def test_a_column_with_another_in_its_gaps_has_what_either_says(values):
    """However many values it has: a gap that the other fills is filled, one that it leaves stays empty."""
    names = [f"v{i}" for i in range(values)]
    own = Text(np.arange(values + 1, dtype=np.int32), Values(pa.array(["", *names])))
    use = np.ones(values + 1, np.bool_)
    use[1] = False
    for said, found in (("other", "other"), ("", "")):
        other = Text.of([said if not kept else "" for kept in use])
        assert own.where(use, other).strings() == ["", found, *names[1:]]


def test_an_order_of_channels_says_nothing_of_other_rows():
    plan = plan_of(channel_order=("Zebra", "Anything"))
    rows = [row.by[0] for row in weigh(into_core({"visits": VISITS}), plan).rows if row.yardstick == "linear"]
    assert rows == ["Free", "Paid"]


@given(st.lists(st.integers(-(2**63), 2**63 - 1), max_size=4), st.integers(-(2**40), 2**40))
def test_a_column_times_a_number_is_exact_however_large(units, factor):
    assert [int(unit) for unit in product(narrow(units), factor)] == [unit * factor for unit in units]


@pytest.mark.parametrize(
    ("url", "mended"),
    [
        (
            "https://lunnick.example/night#utm_source=a&utm_medium=b&utm_campaign=c",
            "https://lunnick.example/night?utm_source=a&utm_medium=b&utm_campaign=c",
        ),
        (
            "https://lunnick.example/?x=1#utm_source=a&utm_medium=b&utm_campaign=c",
            "https://lunnick.example/?x=1&utm_source=a&utm_medium=b&utm_campaign=c",
        ),
    ],
)
def test_tags_behind_a_fragment_come_before_it_in_one_query(url, mended):
    found = Checker().check(url)
    assert (found.mended, [f.code for f in found.findings if f.level == "error"]) == (mended, ["tags_after_fragment"])


@pytest.mark.parametrize(
    ("less", "more"), [("[a]", "[abcdef]"), ("a", "."), ("(ab)", "(ab){4}"), ("w", r"\W"), ("(a|b)", "((a|b){3}){3}")]
)
def test_an_expression_that_can_be_more_counts_more(less, more):
    assert steps_of(less) < steps_of(more)


def test_a_repetition_counts_as_what_it_repeats_written_out():
    assert steps_of("(ab){4}x") - steps_of("x") == 4 * (steps_of("(ab)x") - steps_of("x"))


@given(st.lists(st.integers(-(2**63), 2**63 - 1), max_size=6), st.integers(1, 3))
def test_a_sum_is_exact_however_large(values, times):
    assert total(np.array(values * times, np.int64)) == times * sum(values)


@pytest.mark.parametrize(("stated", "said"), [(15_149, True), (15_150, False), (14_851, True), (14_850, False)])
def test_an_invoice_in_another_currency_is_within_one_per_cent_of_its_rate(stated, said):
    found = patterns(stated, Against(rows=10_000), {}, 1, 0, (), {"EUR in AUD": Fraction(3, 2)}, "AUD", "UTC")
    assert any("about the rate of EUR in AUD" in text for text in found) == said


def test_one_part_of_a_name_is_counted_and_no_more():
    naming = Naming("content", "-", ("offer", "n"))
    assert next_name(naming, {"offer": "half", "n": "#"}, ["half-09"]) == "half-10"
    with pytest.raises(SettingsError, match="one part of a name is counted"):
        next_name(naming, {"offer": "#", "n": "#"}, [])


def test_where_untagged_touches_came_from_is_counted_touch_by_touch():
    visits = [
        {
            "visit_id": f"v{i}",
            "occurred_at": f"2026-03-0{i}T10:00:00Z",
            "visitor_id": "p",
            "url": f"https://s.example/{page}",
        }
        for i, page in enumerate(("a", "a", "b"), 1)
    ]
    result = weigh(into_core({"visits": visits, "conversions": [BOUGHT]}), plan_of())
    found = trace_row(result, "linear", "untagged", ("",), "value")
    assert [(one.landing_page, one.touches, one.value) for one in found.openings] == [
        ("https://s.example/a", 2, 600),
        ("https://s.example/b", 1, 300),
    ]
