"""What is told of many at once is what is told of each alone: click marks, identifiers, distinct columns."""

from __future__ import annotations

import numpy as np
import pyarrow as pa
from hypothesis import given
from hypothesis import strategies as st

from worlds import into_core
from yardstick.core.base import identifier_columns
from yardstick.core.base.columns import Text
from yardstick.core.base.distinct import distinct_columns
from yardstick.core.base.identifiers import email_id, plain_id
from yardstick.core.base.values import Values
from yardstick.core.base.words import Slots
from yardstick.core.plan.reading_phase import Reading
from yardstick.core.reading import arrivals, marks

NAMES = st.sampled_from(
    ["ckid", "CKID", "%63kid", "ck+id", "\uff43kid", "tail", "utm_source", "utm_id", "ckid2", "x", "a?ckid", ""]
)
VALUES = st.one_of(
    st.sampled_from(
        ["A1", "a1b2", "12", "7", "0", "null", "{id}", "__A1__", "%41%31", "A+1", "ytmark0ytmark", "", "a?ckid=B2"]
    ),
    st.text(alphabet="aA10_-.%{}", max_size=5),
)
PAIRS = st.lists(st.tuples(NAMES, VALUES).map("=".join), max_size=4).map("&".join)
FRONTS = st.sampled_from(
    ["https://lunnick.example/p", "/p", "/p&ckid=C3", "https://lunnick.example/p#x", "/p?", "http://h.example/"]
)
ENDS = st.sampled_from(["", "#ckid=D4", "#&ckid=D4", "&", "?ckid=E5"])
ADDRESSES = st.tuples(FRONTS, PAIRS, ENDS).map(lambda t: f"{t[0]}?{t[1]}{t[2]}")
PLANS = st.sampled_from(
    [
        Reading(click_marks=("ckid",)),
        Reading(click_marks=("tail", "CKID")),
        Reading(click_marks=("ckid", "utm_id"), extra_values=("x",)),
        Reading(click_marks=("ckid",), slot_pairs=(("__", "__"),)),
    ]
)


@given(st.lists(ADDRESSES, min_size=1, max_size=30), PLANS)
def test_marks_taken_out_change_nothing(addresses, reading):
    rows = [{"visit_id": f"v{i}", "url": a, "occurred_at": "2026-03-02T10:00:00Z"} for i, a in enumerate(addresses)]
    visits = into_core({"visits": rows}).visits
    whole = arrivals.read_arrivals(visits, reading)
    before = marks.LARGE
    try:
        marks.LARGE = 1
        apart = arrivals.read_arrivals(visits, reading)
    finally:
        marks.LARGE = before
    assert apart.mark.strings() == whole.mark.strings()
    for row, url in enumerate(addresses):
        one, other = apart.readings[apart.url[row]], whole.readings[whole.url[row]]
        assert (one.tags, one.extras, one.named, one.page, one.notes) == (
            other.tags,
            other.extras,
            other.named,
            other.page,
            other.notes,
        ), url
    same = [whole.signature[i] == whole.signature[j] for i in range(len(rows)) for j in range(len(rows))]
    assert same == [apart.signature[i] == apart.signature[j] for i in range(len(rows)) for j in range(len(rows))]


@given(
    st.lists(VALUES, min_size=1, max_size=8),
    st.sampled_from([plain_id, email_id]),
    st.sampled_from([Slots(), Slots([("__", "__")]), Slots([("%", "A")])]),
)
def test_identifiers_told_by_one_expression_are_those_told_one_by_one(values, normal, slots):
    held = pa.array(values, pa.string()).dictionary_encode()
    codes = held.indices.to_numpy().astype(np.int32)
    before = identifier_columns.LARGE
    try:
        identifier_columns.LARGE = 1
        at_once = identifier_columns.normalised(Text(codes, Values(held.dictionary)), normal, slots)
    finally:
        identifier_columns.LARGE = before
    one_by_one = identifier_columns.normalised(Text(codes, held.dictionary.to_pylist()), normal, slots)
    assert at_once.strings() == one_by_one.strings()


@given(st.integers(1, 4), st.integers(0, 12), st.data())
def test_distinct_columns_are_those_numpy_finds(rows, columns, data):
    numbers = st.sampled_from([0, 1, 2, -1, 2**40, -(2**62)])
    flat = data.draw(st.lists(numbers, min_size=rows * columns, max_size=rows * columns))
    codes = np.array(flat, np.int64).reshape(rows, columns)
    distinct, which = distinct_columns(codes)
    if columns:
        np.testing.assert_array_equal(distinct, np.unique(codes, axis=1))
        np.testing.assert_array_equal(distinct[:, which], codes)
