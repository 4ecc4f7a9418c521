"""Names by example and by definition: near misses, allowed words, patterns, spelling, renames."""

from __future__ import annotations

from datetime import date, timedelta
from functools import cache

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yardstick.core.base.columns import Text
from yardstick.core.base.errors import SettingsError
from yardstick.core.base.words import fold
from yardstick.core.links.nearness import Bearing, How, KnownValues, Near, bare, distance
from yardstick.core.plan.campaign_records import Campaign, Level, Rename
from yardstick.core.plan.name_rules import NameRules, why_not_named
from yardstick.core.plan.plan import plan_of
from yardstick.core.plan.reading_phase import Naming
from yardstick.core.plan.renamed_rows import rename_rows

SHORT = st.text("abc", max_size=6)


def by_definition(a: str, b: str) -> int:
    """Optimal string alignment distance, written straight from its recurrence (Damerau, CACM 7(3), 1964)."""

    @cache
    def d(i: int, j: int) -> int:
        if not i or not j:
            return i + j
        ways = [d(i - 1, j) + 1, d(i, j - 1) + 1, d(i - 1, j - 1) + (a[i - 1] != b[j - 1])]
        if i > 1 and j > 1 and a[i - 1] == b[j - 2] and a[i - 2] == b[j - 1]:
            ways.append(d(i - 2, j - 2) + 1)
        return min(ways)

    return d(len(a), len(b))


@given(SHORT, SHORT, st.integers(0, 4))
def test_the_distance_is_that_of_its_definition_up_to_where_it_gives_up(a, b, most):
    assert distance(a, b, most) == min(by_definition(a, b), most + 1)
    assert distance(a, b, most) == distance(b, a, most)


@pytest.mark.parametrize(
    ("value", "near"),
    [
        ("quorrin", None),  # it is one itself
        ("Quorrin", Near("quorrin", How.SPELLING)),
        ("QUOR-RIN", Near("quorrin", How.SPELLING)),
        ("quorin", Near("quorrin", How.MISTYPED)),
        ("quorrni", Near("quorrin", How.MISTYPED)),
        ("quorrinxx", None),
        ("Spring Whale Boat", Near("spring-whale-boats", How.MISTYPED)),
        ("spring whale boats", Near("spring-whale-boats", How.SPELLING)),
        ("spring whale boats 26", None),  # a name with another number is another name
        ("smm", None),  # short words are too easily another word
        ("", None),
    ],
)
def test_near_misses(value, near):
    assert KnownValues(["quorrin", "spring-whale-boats", "sms"]).near(value) == near


@given(st.text(max_size=8))
def test_bare_words_are_one_whatever_their_case_and_punctuation(text):
    assert bare(text) == bare(text.upper().lower()) or fold(text) != fold(text.upper().lower())
    assert bare(f" {text}-") == bare(text)


RULES = NameRules(
    plan_of(
        allowed=(("source", ("quorrin", "Ostrel Feed")),),
        namings=(Naming("content", "_", ("audience", "age", "offer"), ((), ("18", "30"), ("card", "boat"))),),
        value_case="lower",
        value_spaces="none",
    ).reading
)


@pytest.mark.parametrize(
    ("field", "value", "codes", "mended"),
    [
        ("source", "quorrin", [], None),
        ("source", "QUORRIN", ["value_spelling"], "quorrin"),
        ("source", "Ostrel Feed", [], None),  # an allowed word is right as it is written
        ("source", "harnock", ["not_allowed"], None),
        ("source", "Har nock", ["not_allowed", "value_spelling"], "har-nock"),
        ("content", "families_30_card", [], None),
        ("content", "families_31_card", ["naming_pattern"], None),
        ("content", "families_30", ["naming_pattern"], None),
        ("content", "_30_card", ["naming_pattern"], None),
        ("medium", "Paid Social", ["value_spelling"], "paid-social"),
        ("medium", "", [], None),
    ],
)
def test_blemishes(field, value, codes, mended):
    found = RULES.blemishes({field: value})
    assert [b.code for b in found] == codes
    assert next((b.mended for b in found if b.mended), None) == mended
    assert all(value in b.message for b in found)


def test_why_a_name_does_not_follow_its_pattern():
    naming = Naming("content", "-", ("theme", "picture"), (("whale", "card"), ()))
    assert why_not_named(naming, "WHALE-a") == ""
    assert why_not_named(naming, "whale-a-b") == "it has 3 parts, the pattern theme-picture has 2"
    assert why_not_named(naming, "whale- ") == "its part picture is empty"
    assert why_not_named(naming, "night-a") == "its part theme is 'night'; it may be whale, card"


FIRST = date(2026, 3, 1)


def renamed(value: str, day: int, *renames: Rename) -> str:
    text = Text.of([value])
    names = plan_of(renames=renames).reading.names
    return rename_rows(names, "source", text, np.array([(FIRST - date(1970, 1, 1)).days + day]))[0]


def rename(old: str, new: str, day: int | None = None) -> Rename:
    return Rename("source", old, new, None if day is None else FIRST + timedelta(day))


def test_a_rename_holds_from_its_day_and_a_later_one_takes_its_place():
    both = (rename("a", "b", 3), rename("a", "c", 6))
    assert [renamed("A", day, *both) for day in (2, 3, 5, 6, 9)] == ["A", "b", "b", "c", "c"]
    assert renamed("x", 5, *both) == "x"


def test_new_names_are_looked_up_again_on_the_same_day():
    chain = (rename("a", "b"), rename("b", "c", 4))
    assert [renamed("a", day, *chain) for day in (3, 4)] == ["b", "c"]


@given(
    st.lists(st.tuples(st.sampled_from("abcd"), st.sampled_from("wxyz"), st.none() | st.integers(0, 6)), max_size=5),
    st.integers(-1, 8),
)
def test_the_latest_rename_that_has_begun_holds_whatever_their_order(renames, day):
    """Against a reading of the rule one value at a time."""
    distinct = {(old, start): (old, new, start) for old, new, start in renames}.values()
    made = [rename(*r) for r in distinct]
    for value in "abcd":
        begun = [
            (-1 if start is None else start, new)
            for old, new, start in distinct
            if old == value and (start is None or start <= day)
        ]
        wanted = max(begun)[1] if begun else value
        assert renamed(value, day, *made) == wanted == renamed(value, day, *reversed(made))


@pytest.mark.parametrize(
    "plan",
    [
        plan_of(renames=(rename("a", "b"), rename("B", "A"))),
        plan_of(renames=(rename("a", "b"), rename("b", "c", 3), rename("c", "a", 9))),
        plan_of(renames=(Rename("campaign", "Night", "n"),), campaigns=(Campaign("Night", code="n"),)),
    ],
)
def test_a_circle_is_refused(plan):
    with pytest.raises(SettingsError, match="renamed in a circle"):
        plan.reading.names.check()


def test_two_names_from_one_day_are_refused_and_two_days_are_not():
    with pytest.raises(SettingsError, match="two names from one day on"):
        plan_of(renames=(rename("a", "b", 1), rename("A", "c", 1))).reading.names.check()
    with pytest.raises(SettingsError, match="two names from one day on"):
        plan_of(levels=(Level("ad", "7", "x"), Level("ad", "7", "y"))).reading.names.check()
    plan_of(renames=(rename("a", "b", 1), rename("a", "c", 2), rename("a", "A"))).reading.names.check()


NAMES = st.lists(st.sampled_from(["night", "nigth", "late", "lat", "de", "nl", "26", "a"]), min_size=1, max_size=3)


@given(st.lists(NAMES.map("-".join), max_size=6), NAMES.map("-".join), NAMES.map("_".join))
def test_what_does_not_bear_on_a_value_changes_nothing_that_is_said_of_it(known, came, value):
    """So that of a long sheet only those links are made anew which a new known value bears on."""
    before, after = KnownValues([], used=known), KnownValues([], used=[*known, came])
    if not Bearing([came]).on(value):
        assert before.near(value) == after.near(value)
