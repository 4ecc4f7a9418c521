"""Filters drop nothing and change no credit, on random small worlds."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from worlds import choices, into_core, worlds
from yardstick.core.report.breakdown import LEFT_OUT, Breakdown
from yardstick.core.report.filters import Filter
from yardstick.core.report.trace import trace_row
from yardstick.core.report.weigh import weigh

SHOWN = ("named", "untagged", "no_value")
FILTERS = st.builds(
    Filter,
    st.sampled_from(["campaign", "channel", "source", "medium", "day", "group", "customer"]),
    st.sampled_from(["is", "is not", "contains", "begins with"]),
    st.sampled_from([("a",), ("Email",), ("cpc",), ("2026-03-02",), ("e",), ("new",)]),
)


def sums_of(rows, yardstick):
    mine = [r.sums for r in rows if r.yardstick == yardstick]
    return [sum(getattr(s, n) or 0 for s in mine) for n in ("value", "leads", "conversions", "spend", "touches")]


@given(
    worlds(),
    choices(),
    st.sampled_from(["campaign", "channel", "day,campaign"]).map(Breakdown.read),
    st.lists(FILTERS, min_size=1, max_size=2),
)
def test_shown_and_left_out_are_the_whole_report(world, both, by, where):
    tables, chosen = into_core(world), both[1]
    whole, part = weigh(tables, chosen, by), weigh(tables, chosen, by, where=tuple(where))
    assert part.fingerprint != whole.fingerprint
    for yardstick in chosen.crediting.yardsticks:
        assert sums_of(part.rows, yardstick.name) == pytest.approx(sums_of(whole.rows, yardstick.name), abs=1e-9)
        left = [r for r in part.rows if (r.yardstick, r.bucket) == (yardstick.name, LEFT_OUT)]
        assert len(left) == 1


@given(
    worlds(),
    choices(),
    st.sampled_from(["campaign,channel", "source,medium", "day,campaign", "channel,product", "channel,customer"]).map(
        Breakdown.read
    ),
)
def test_a_filter_shows_what_a_second_breakdown_shows(world, both, by):
    """Rows by two fields with one value of the second are the rows by the first, filtered by that value.

    But for removal, which shares what a state has by the filter first (R16): there minor units may fall otherwise.
    """
    kept = tuple(y for y in both[1].crediting.yardsticks if y.rule != "removal")
    tables, chosen = into_core(world), both[1].having(yardsticks=kept)
    crossed = [r for r in weigh(tables, chosen, by).rows if r.bucket in SHOWN]
    for value in sorted({r.by[1] for r in crossed} - {""})[:3]:
        part = weigh(tables, chosen, Breakdown(by[:1]), where=(Filter(by[1], "is", (value,)),))
        got = {(r.yardstick, r.bucket, r.by[0]): r.sums for r in part.rows if r.bucket in SHOWN}
        for row in crossed:
            if row.by[1] == value:
                found = got.pop((row.yardstick, row.bucket, row.by[0]))
                assert found.value == row.sums.value
                assert found.conversions == pytest.approx(row.sums.conversions, abs=1e-9)
                # What only conversions have a value of (a product) leaves touches whole, and has none of its own.
                assert by[1] == "product" or found.touches == row.sums.touches
        assert all(s.value == 0 and (by[1] == "product" or not s.touches) for s in got.values())


@given(worlds(), choices(), st.lists(FILTERS, min_size=1, max_size=2))
def test_the_trace_of_every_row_adds_up_under_a_filter(world, both, where):
    tables, chosen = into_core(world), both[1]
    part = weigh(tables, chosen, where=tuple(where))
    name = chosen.crediting.yardsticks[0].name
    shown = 0
    for row in (r for r in part.rows if r.yardstick == name):
        found = trace_row(part, name, row.bucket, row.by, "value")
        assert found.value == row.sums.value, row.bucket
        assert trace_row(part, name, row.bucket, row.by, "spend").spend == (row.sums.spend or 0)
        shown += 0 if row.bucket == LEFT_OUT else row.sums.value
    assert trace_row(part, name, "total", (), "value").value == shown
